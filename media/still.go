package media

import (
	"bufio"
	"encoding/binary"
	"errors"
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
	w, h, err := stillSize(path)
	if err != nil {
		return nil, err
	}
	if err := checkArea(path, w, h); err != nil {
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
		im, err = png.Decode(bufio.NewReader(f))
	case ".jpg", ".jpeg":
		im, err = jpeg.Decode(bufio.NewReader(f))
	default:
		im, err = tiff.Decode(f)
	}
	if err != nil {
		return nil, notReadable(path, err)
	}
	return im, nil
}

// floatTIFF reads a file as a TIFF of floats; ok is false for all other files.
func floatTIFF(path string, headOnly bool) (f *frame.Frame, ok bool, err error) {
	if ext := extension(path); ext != ".tif" && ext != ".tiff" {
		return nil, false, nil
	}
	if st, err := os.Stat(path); err != nil || st.Size() > 2*bytesPerPixel*Limit() {
		return nil, false, nil // the other reader names the cause
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, false, nil // as above
	}
	f, err = readFloatTIFF(data, headOnly)
	if errors.Is(err, errNoFloat) {
		return nil, false, nil
	}
	if err != nil {
		err = &FileError{path, err.Error(), "write it as 16 bits or as uncompressed 32-bit floats, or copy it again"}
	}
	return f, true, err
}

func probeStill(path string) (*Info, error) {
	if f, ok, err := floatTIFF(path, true); ok {
		if err != nil {
			return nil, err
		}
		return &Info{Path: path, Kind: "still", Codec: "tiff", W: f.W, H: f.H, Frames: 1, Depth: 32, Full: true, Alpha: f.Planes > 3}, nil
	}
	im, err := decodeStill(path)
	if err != nil {
		return nil, err
	}
	b := im.Bounds()
	in := &Info{Path: path, Kind: "still", Codec: strings.TrimPrefix(extension(path), "."), W: b.Dx(), H: b.Dy(), Frames: 1, Depth: 8, Full: true, Transfer: "srgb"}
	switch im.(type) {
	case *image.NRGBA64, *image.RGBA64, *image.Gray16:
		in.Depth = 16
	}
	in.Alpha = !opaque(im)
	return in, nil
}

func opaque(im image.Image) bool {
	o, ok := im.(interface{ Opaque() bool })
	return !ok || o.Opaque()
}

func readStill(path string) (*frame.Frame, error) {
	if f, ok, err := floatTIFF(path, false); ok {
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
	f := frame.New(b.Dx(), b.Dy(), planes)
	for y := range f.H {
		for x := range f.W {
			c := color.NRGBA64Model.Convert(im.At(b.Min.X+x, b.Min.Y+y)).(color.NRGBA64)
			for p, v := range []uint16{c.R, c.G, c.B, c.A}[:planes] {
				f.Row(p, y)[x] = float32(v) / 65535
			}
		}
	}
	return f, nil
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

// writeStill writes a picture with depth bits, 0 for the usual, in full range or the legal one.
func writeStill(w io.Writer, ext string, depth int, legal bool, f *frame.Frame) error {
	switch ext {
	case ".jpg", ".jpeg":
		return jpeg.Encode(w, image8(f, legal), &jpeg.Options{Quality: 96})
	case ".tif", ".tiff":
		if depth == 32 {
			return writeFloatTIFF(w, f)
		}
	}
	var im image.Image
	if depth == 8 {
		im = image8(f, legal)
	} else {
		im = image16(f, legal)
	}
	if ext == ".png" {
		e := png.Encoder{CompressionLevel: png.BestSpeed}
		return e.Encode(w, im)
	}
	return tiff.Encode(w, im, &tiff.Options{Compression: tiff.Deflate, Predictor: true})
}
