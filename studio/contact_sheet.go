package studio

import (
	"context"
	"fmt"
	"image"
	"math"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/media"
)

// ContactSheet renders one frame of a job under every value of one or two brackets, side by side with their
// labels, into one still. W, the width of one picture, is sheetWidth if it is 0.
func (j Job) ContactSheet(ctx context.Context, brackets []*look.Bracket) error {
	if len(brackets) == 0 || len(brackets) > 2 {
		return Bad("a sheet is of one bracket, or of two crossed, not of %d", len(brackets))
	}
	src, err := media.Open(ctx, j.In)
	if err != nil {
		return wrapInput(err)
	}
	defer src.Close()
	if err := j.settle(src.Info); err != nil {
		return err
	}
	if j.First >= src.Info.Frames {
		return Bad("%s has frames 0 to %d, not %d", j.In, src.Info.Frames-1, j.First)
	}
	variants, err := look.Variants(j.Look, brackets...)
	if err != nil {
		return BadInput{err}
	}
	w, h := j.W, j.H
	if w == 0 {
		sw, sh := src.Info.Shape()
		w = min(sw, sheetWidth)
		h = max(1, int(math.Round(float64(sh)*float64(w)/float64(sw))))
	}
	columns := len(brackets[len(brackets)-1].Values)
	if len(brackets) == 1 {
		columns = int(math.Ceil(math.Sqrt(float64(len(variants)))))
	}
	rows := (len(variants) + columns - 1) / columns
	pen, err := newPen(float64(w) / 26)
	if err != nil {
		return err
	}
	gap, line := max(4, w/60), pen.line
	sheet := frame.New(columns*(w+gap)+gap, rows*(h+line+gap)+gap, 3)
	renderer := render.NewRenderer(sheetBudget)
	for c := range 3 {
		for y := range sheet.H {
			row := sheet.Row(c, y)
			for x := range row {
				row[x] = codeOfSheet
			}
		}
	}
	var opt media.Options
	for i, v := range variants {
		plan, err := render.Compile(ctx, v.Look, j.encoding, render.Raster{W: w, H: h}, look.Finish)
		if err != nil {
			return err
		}
		opt = j.options(src.Info, plan.Display)
		f, err := renderer.Render(ctx, plan, src, j.First)
		if err != nil {
			return wrapInput(err)
		}
		x0, y0 := gap+(i%columns)*(w+gap), gap+(i/columns)*(h+line+gap)
		for c := range 3 {
			for y := range h {
				copy(sheet.Row(c, y0+y)[x0:x0+w], f.Row(c, y))
			}
		}
		pen.write(sheet, v.Label, x0, y0+h, w)
	}
	out, err := media.Create(j.Out, 0, opt)
	if err != nil {
		return wrapInput(err)
	}
	err = out.Write(ctx, sheet)
	if err == nil {
		err = out.Close()
	}
	if err != nil {
		out.Abort()
	}
	return err
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
