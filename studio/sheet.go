package studio

import (
	"fmt"
	"image"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"velours/core/frame"
)

// sheet is a still of pictures in columns and rows, each of them w×h with a line of words under it.
type sheet struct {
	*frame.Frame
	pen             *pen
	w, h, gap, head int
}

// newSheet is an empty sheet; a title stands over its pictures, if there is one.
func newSheet(columns, rows, w, h int, title string) (*sheet, error) {
	pen, err := newPen(float64(w) / 26)
	if err != nil {
		return nil, err
	}
	s := &sheet{pen: pen, w: w, h: h, gap: max(4, w/60)}
	if title != "" {
		s.head = pen.line + s.gap
	}
	s.Frame = frame.New(columns*(w+s.gap)+s.gap, s.head+rows*(h+pen.line+s.gap)+s.gap, 3)
	for c := range 3 {
		for y := range s.H {
			row := s.Row(c, y)
			for x := range row {
				row[x] = codeOfSheet
			}
		}
	}
	if title != "" {
		pen.write(s.Frame, title, s.gap, s.gap, s.W-2*s.gap)
	}
	return s, nil
}

// put lays a picture, of the place's size or smaller, into the middle of a place, and its words under that.
func (s *sheet) put(column, row int, f *frame.Frame, words string) {
	x0, y0 := s.gap+column*(s.w+s.gap), s.head+s.gap+row*(s.h+s.pen.line+s.gap)
	x, y := x0+(s.w-f.W)/2, y0+(s.h-f.H)/2
	for c := range 3 {
		for i := range f.H {
			copy(s.Row(c, y+i)[x:x+f.W], f.Row(c, i)[:f.W])
		}
	}
	s.pen.write(s.Frame, words, x0, y0+s.h, s.w)
}

// A sheet's pictures are this wide, its ground this dark, its letters this light, in code values; and
// this much of what its pictures share is kept.
const (
	sheetWidth   = 480
	codeOfSheet  = 0.09
	codeOfLetter = 0.78
	sheetBudget  = 512 << 20
)

// pen writes labels.
type pen struct {
	face font.Face
	line int // height of a line with its air
	rise int // from the top of the line to the base of the letters
}

func newPen(size float64) (*pen, error) {
	f, err := opentype.Parse(goregular.TTF)
	if err != nil {
		return nil, fmt.Errorf("the typeface of labels: %w", err)
	}
	size = max(size, 9)
	face, err := opentype.NewFace(f, &opentype.FaceOptions{Size: size, DPI: 72, Hinting: font.HintingFull})
	if err != nil {
		return nil, fmt.Errorf("the typeface of labels: %w", err)
	}
	return &pen{face, int(size * 1.7), int(size * 1.2)}, nil
}

// write puts text under a picture, cut off with dots where it is too wide.
func (p *pen) write(f *frame.Frame, text string, x0, y0, width int) {
	letters := []rune(text)
	for font.MeasureString(p.face, text).Ceil() > width && len(letters) > 1 {
		letters = letters[:len(letters)-1]
		text = string(letters) + "…"
	}
	mask := image.NewAlpha(image.Rect(0, 0, width, p.line))
	(&font.Drawer{Dst: mask, Src: image.Opaque, Face: p.face, Dot: fixed.P(0, p.rise)}).DrawString(text)
	for y := range min(p.line, f.H-y0) {
		for x := range width {
			if a := float32(mask.AlphaAt(x, y).A) / 255; a > 0 {
				for c := range 3 {
					row := f.Row(c, y0+y)
					row[x0+x] += (codeOfLetter - row[x0+x]) * a
				}
			}
		}
	}
}
