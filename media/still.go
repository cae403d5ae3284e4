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

	"velours/core/frame"
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

func decodeStill(path string) (image.Image, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, &FileError{path, "cannot be opened: " + cause(err), ""}
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
		return nil, &FileError{path, "cannot be read as " + strings.TrimPrefix(extension(path), ".") + " (" + err.Error() + ")", "check that it is what its name says, or copy it again"}
	}
	return im, nil
}

func probeStill(path string) (*Info, error) {
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

func code16(v float32) uint16 {
	if !(v > 0) {
		return 0
	}
	return uint16(min(v, 1)*65535 + 0.5)
}

// image16 rounds a picture of code values to 16 bits.
func image16(f *frame.Frame) image.Image {
	im := image.NewNRGBA64(image.Rect(0, 0, f.W, f.H))
	for y := range f.H {
		row := im.Pix[y*im.Stride:]
		for x := range f.W {
			p := row[8*x : 8*x+8]
			for c := range 3 {
				binary.BigEndian.PutUint16(p[2*c:], code16(f.Row(c, y)[x]))
			}
			a := uint16(65535)
			if f.Planes > 3 {
				a = code16(f.Row(3, y)[x])
			}
			binary.BigEndian.PutUint16(p[6:], a)
		}
	}
	return im
}

func writeStill(w io.Writer, ext string, f *frame.Frame) error {
	switch ext {
	case ".png":
		e := png.Encoder{CompressionLevel: png.BestSpeed}
		return e.Encode(w, image16(f))
	case ".tif", ".tiff":
		return tiff.Encode(w, image16(f), &tiff.Options{Compression: tiff.Deflate, Predictor: true})
	}
	im := image.NewNRGBA(image.Rect(0, 0, f.W, f.H))
	for y := range f.H {
		for x := range f.W {
			p := im.Pix[y*im.Stride+4*x:]
			for c := range 3 {
				p[c] = uint8(code16(f.Row(c, y)[x]) / 257)
			}
			p[3] = 255
		}
	}
	return jpeg.Encode(w, im, &jpeg.Options{Quality: 96})
}
