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
			words16(to[p], row[2*p:], 8)
		}
	case *image.RGBA64:
		row := m.Pix[m.PixOffset(x0, y):]
		for p := range planes {
			words16(to[p], row[2*p:], 8)
		}
		if planes > 3 {
			divide(to)
		}
	case *image.Gray16:
		for p := range planes {
			words16(to[p], m.Pix[m.PixOffset(x0, y):], 2)
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
		for x := range to[0] {
			r, g, b, _ := m.YCbCrAt(x0+x, y).RGBA()
			to[0][x], to[1][x], to[2][x] = float32(r)/65535, float32(g)/65535, float32(b)/65535
		}
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

// words16 turns every step-th number of two bytes, the higher first, into code values.
func words16(dst []float32, src []byte, step int) {
	for x, i := 0, 0; x < len(dst); x, i = x+1, i+step {
		dst[x] = float32(uint16(src[i])<<8|uint16(src[i+1])) / 65535
	}
}

func bytes8(dst []float32, src []byte, step int) {
	for x, i := 0, 0; x < len(dst); x, i = x+1, i+step {
		dst[x] = of8[src[i]]
	}
}

// image16 rounds a picture of code values to 16 bits.
func image16(f *frame.Frame, legal bool) image.Image {
	im := image.NewNRGBA64(image.Rect(0, 0, f.W, f.H))
	bands(f.H, func(y0, y1 int) {
		line, words, round := row(f.W), make([]byte, 2*f.W), dither.Round(f.W)
		for y := y0; y < y1; y++ {
			to := im.Pix[y*im.Stride:]
			for c := range 4 {
				codes(line, f, c, y, 65535, legal)
				vec.ToWords(words, line, round, 0, 65535)
				for x := range f.W {
					to[8*x+2*c], to[8*x+2*c+1] = words[2*x+1], words[2*x]
				}
			}
		}
	})
	return im
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

// image8 dithers a picture of code values to 8 bits.
func image8(f *frame.Frame, legal bool) *image.NRGBA {
	im := image.NewNRGBA(image.Rect(0, 0, f.W, f.H))
	bands(f.H, func(y0, y1 int) {
		line, words := row(f.W), make([]byte, 2*f.W)
		for c := range 4 {
			limits := dither.NewRows(c, f.W)
			for y := y0; y < y1; y++ {
				codes(line, f, c, y, 255, legal)
				vec.ToWords(words, line, limits.Row(y), 0, 255)
				to := im.Pix[y*im.Stride:]
				for x := range f.W {
					to[4*x+c] = words[2*x]
				}
			}
		}
	})
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
	var im image.Image
	if depth == 8 || jpg {
		im = image8(f, legal)
	} else {
		im = image16(f, legal)
	}
	switch {
	case jpg:
		return func(w io.Writer) error { return jpeg.Encode(w, im, &jpeg.Options{Quality: 96}) }
	case ext == ".png":
		e := png.Encoder{CompressionLevel: png.BestSpeed}
		return func(w io.Writer) error { return e.Encode(w, im) }
	}
	return func(w io.Writer) error {
		return tiff.Encode(w, im, &tiff.Options{Compression: tiff.Deflate, Predictor: true})
	}
}
