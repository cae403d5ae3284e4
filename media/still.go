package media

import (
	"bufio"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"math"
	"os"
	"path/filepath"
	"strings"

	"golang.org/x/image/tiff"

	"velours/core/dither"
	"velours/core/frame"
	"velours/core/vec"
)

func float32FromBytes(b []byte) float32 { return math.Float32frombits(binary.LittleEndian.Uint32(b)) }

func extension(path string) string { return strings.ToLower(filepath.Ext(path)) }

// isStill tells the formats that Go reads by itself.
func isStill(path string) bool {
	switch extension(path) {
	case ".png", ".tif", ".tiff", ".jpg", ".jpeg":
		return true
	}
	return false
}

func notReadable(path string, err error) error {
	return &FileError{path, "cannot be read as " + strings.TrimPrefix(extension(path), ".") + " (" + err.Error() + ")", "check that it is what its name says, or copy it again"}
}

// decodeStill reads a picture whose size has been found to be within the limit.
func decodeStill(path string) (image.Image, error) {
	if _, err := stillConfig(path); err != nil {
		return nil, err
	}
	f, err := openStill(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	var im image.Image
	switch extension(path) {
	case ".png":
		im, err = png.Decode(bufio.NewReaderSize(f, 1<<20))
	case ".jpg", ".jpeg":
		im, err = jpeg.Decode(bufio.NewReaderSize(f, 1<<20))
	default:
		im, err = tiff.Decode(f)
	}
	if err != nil {
		return nil, notReadable(path, err)
	}
	return im, nil
}

// probeStill looks a still over by its head alone: one that has an alpha channel may be transparent.
func probeStill(path string) (*Info, error) {
	in := &Info{Path: path, Kind: "still", Codec: strings.TrimPrefix(extension(path), "."), Frames: 1, Depth: 8, Full: true, Transfer: "srgb"}
	if ok, err := withTIFF(path, func(t *tiffFile, _ *os.File) error {
		in.W, in.H, in.Depth, in.Alpha = t.w, t.h, t.bits, t.samples > 3
		return nil
	}); ok {
		if in.Depth == 32 {
			in.Transfer, in.Codec = "", "tiff"
		}
		return in, err
	}
	c, err := stillConfig(path)
	if err != nil {
		return nil, err
	}
	in.W, in.H = c.Width, c.Height
	switch c.ColorModel {
	case color.NRGBA64Model, color.RGBA64Model, color.Gray16Model:
		in.Depth = 16
	}
	in.Alpha = c.ColorModel == color.NRGBAModel || c.ColorModel == color.NRGBA64Model
	return in, nil
}

func opaque(im image.Image) bool {
	o, ok := im.(interface{ Opaque() bool })
	return !ok || o.Opaque()
}

func readStill(path string) (f *frame.Frame, err error) {
	if ok, err := withTIFF(path, func(t *tiffFile, file *os.File) (err error) {
		f, err = t.read(file)
		return err
	}); ok {
		return f, err
	}
	im, err := decodeStill(path)
	if err != nil {
		return nil, err
	}
	b := im.Bounds()
	planes := 4
	if opaque(im) {
		planes = 3
	}
	f = frame.Get(b.Dx(), b.Dy(), planes)
	bands(f.H, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			var to [4][]float32
			for p := range planes {
				to[p] = f.Row(p, y)
			}
			imageRow(to, im, b.Min.X, b.Min.Y+y, planes)
		}
	})
	return f, nil
}

// imageRow turns a row of a picture, from x0 on, into code values of 16 bits, not multiplied by alpha.
func imageRow(to [4][]float32, im image.Image, x0, y, planes int) {
	switch m := im.(type) {
	case *image.NRGBA64:
		row := m.Pix[m.PixOffset(x0, y):]
		for p := range planes {
			words16(to[p], row, 4, p)
		}
	case *image.RGBA64:
		row := m.Pix[m.PixOffset(x0, y):]
		for p := range planes {
			words16(to[p], row, 4, p)
		}
		if planes > 3 {
			divide(to)
		}
	case *image.Gray16:
		for p := range planes {
			words16(to[p], m.Pix[m.PixOffset(x0, y):], 1, 0)
		}
	case *image.NRGBA:
		row := m.Pix[m.PixOffset(x0, y):]
		for p := range planes {
			bytes8(to[p], row[p:], 4)
		}
	case *image.RGBA:
		row := m.Pix[m.PixOffset(x0, y):]
		for p := range planes {
			bytes8(to[p], row[p:], 4)
		}
		if planes > 3 {
			divide(to)
		}
	case *image.Gray:
		for p := range planes {
			bytes8(to[p], m.Pix[m.PixOffset(x0, y):], 1)
		}
	case *image.YCbCr:
		yCbCrRow(to, m, x0, y)
	default:
		for x := range to[0] {
			c := color.NRGBA64Model.Convert(im.At(x0+x, y)).(color.NRGBA64)
			for p, v := range [4]uint16{c.R, c.G, c.B, c.A} {
				if p < planes {
					to[p][x] = float32(v) / 65535
				}
			}
		}
	}
}

// yCbCrRow turns a row of luma and differences into code values: the sums of color.YCbCr's RGBA.
func yCbCrRow(to [4][]float32, m *image.YCbCr, x0, y int) {
	luma := m.Y[m.YOffset(x0, y):]
	each := 1 // columns to a difference
	switch m.SubsampleRatio {
	case image.YCbCrSubsampleRatio422, image.YCbCrSubsampleRatio420:
		each = 2
	case image.YCbCrSubsampleRatio411, image.YCbCrSubsampleRatio410:
		each = 4
	}
	// as many from the picture's own left on as the first column has behind it
	first := m.COffset(m.Rect.Min.X, y)
	behind := m.Rect.Min.X % each
	cbs, crs := m.Cb[first:], m.Cr[first:]
	hold := func(v int32) float32 { return float32(min(max(v>>8, 0), 0xffff)) }
	r, g, b := to[0], to[1][:len(to[0])], to[2][:len(to[0])]
	for x := range r {
		c := (x + x0 - m.Rect.Min.X + behind) / each
		l, cb, cr := int32(luma[x])*0x10101, int32(cbs[c])-128, int32(crs[c])-128
		r[x], g[x], b[x] = hold(l+91881*cr)/65535, hold(l-22554*cb-46802*cr)/65535, hold(l+116130*cb)/65535
	}
}

// words16 turns the words of channel p of n, the higher byte first, into code values.
func words16(dst []float32, src []byte, n, p int) {
	words := make([]byte, 2*len(dst))
	vec.WordsOf(words, src, n, p, true)
	vec.Shares(dst, words, 65535)
}

func bytes8(dst []float32, src []byte, step int) {
	for x, i := 0, 0; x < len(dst); x, i = x+1, i+step {
		dst[x] = of8[src[i]]
	}
}

// codes brings a row to codes up to top; a plane that is not there is opaque.
func codes(line []float32, f *frame.Frame, p, y int, top float32, legal bool) {
	if p >= f.Planes {
		for x := range line {
			line[x] = top
		}
		return
	}
	s := f.Row(p, y)
	k := [4]float32{top}
	if legal && p < 3 {
		k = [4]float32{top * 876 / 1023, 0, 0, top * 64 / 1023}
	}
	vec.Sum(line, s, s, s, &k)
}

// samplesOf rounds a picture of code values to 16 bits, or dithers it to 8. Where all of it is opaque there is no alpha.
func samplesOf(f *frame.Frame, bits int, legal bool) *samples {
	s := &samples{w: f.W, h: f.H, channels: 3, bytes: bits / 8}
	if f.Planes > 3 && !covered(f) {
		s.channels = 4
	}
	s.data = make([]byte, s.h*s.stride())
	top := float32(65535)
	if bits == 8 {
		top = 255
	}
	bands(f.H, func(y0, y1 int) {
		line, words, round := row(f.W), make([]byte, 2*f.W), dither.Round(f.W)
		step := s.channels * s.bytes
		for c := range s.channels {
			var limits *dither.Rows
			if bits == 8 {
				limits = dither.NewRows(c, f.W)
			}
			for y := y0; y < y1; y++ {
				codes(line, f, c, y, top, legal)
				to := s.row(y)[c*s.bytes:]
				if bits == 8 {
					vec.ToWords(words, line, limits.Row(y), 0, top)
					for x := range f.W {
						to[step*x] = words[2*x]
					}
					continue
				}
				vec.ToWords(words, line, round, 0, top)
				for x := range f.W {
					to[step*x], to[step*x+1] = words[2*x+1], words[2*x]
				}
			}
		}
	})
	return s
}

// covered tells that all of a picture is opaque.
func covered(f *frame.Frame) bool {
	for y := range f.H {
		for _, v := range f.Row(3, y) {
			if v < 1 {
				return false
			}
		}
	}
	return true
}

// image is a picture of 8 bits as the library has it.
func (s *samples) image() image.Image {
	im := image.NewNRGBA(image.Rect(0, 0, s.w, s.h))
	for y := range s.h {
		from, to := s.row(y), im.Pix[y*im.Stride:]
		for x := range s.w {
			copy(to[4*x:4*x+3], from[s.channels*x:])
			to[4*x+3] = 255
			if s.channels > 3 {
				to[4*x+3] = from[s.channels*x+3]
			}
		}
	}
	return im
}

// encodeStill prepares a picture to be written with depth bits, 0 for the usual, in full range or the legal one; the picture itself is not needed
// any more then.
func encodeStill(ext string, depth int, legal bool, f *frame.Frame) func(w io.Writer) error {
	if (ext == ".tif" || ext == ".tiff") && depth == 32 {
		f = f.Clone()
		return func(w io.Writer) error { return writeFloatTIFF(w, f) }
	}
	jpg := ext == ".jpg" || ext == ".jpeg"
	bits := 16
	if depth == 8 || jpg {
		bits = 8
	}
	s := samplesOf(f, bits, legal)
	switch {
	case jpg:
		return func(w io.Writer) error { return jpeg.Encode(w, s.image(), &jpeg.Options{Quality: 96}) }
	case ext == ".png":
		return func(w io.Writer) error { return writePNG(w, s) }
	}
	return func(w io.Writer) error { return writeTIFF(w, s) }
}
