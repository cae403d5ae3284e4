package media

import (
	"bytes"
	"image"
	"image/color"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"golang.org/x/image/tiff"
)

// pixelByPixel is what the library's own conversion makes of a picture: code values of 16 bits, not multiplied by alpha.
func pixelByPixel(im image.Image) (planes int, at func(p, x, y int) float32) {
	planes = 4
	if opaque(im) {
		planes = 3
	}
	b := im.Bounds()
	return planes, func(p, x, y int) float32 {
		if c, ok := im.At(b.Min.X+x, b.Min.Y+y).(color.NRGBA); ok { // Convert multiplies by alpha on its way, and rounds
			return float32(uint16([4]uint8{c.R, c.G, c.B, c.A}[p])*257) / 65535
		}
		c := color.NRGBA64Model.Convert(im.At(b.Min.X+x, b.Min.Y+y)).(color.NRGBA64)
		return float32([4]uint16{c.R, c.G, c.B, c.A}[p]) / 65535
	}
}

// TIFFs of many kinds, of another program and of the library's, read in strips by us and pixel by pixel by the library: the same numbers to the
// bit.
func TestTIFFsAreReadAsTheLibraryDoes(t *testing.T) {
	need(t)
	dir := t.TempDir()
	var files []string
	for _, pix := range []string{"rgb24", "rgb48le", "rgb48be", "gray", "gray16le", "rgba", "rgba64le"} {
		for _, compression := range []string{"raw", "lzw", "deflate", "packbits"} {
			name := filepath.Join(dir, pix+"-"+compression+".tif")
			if out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=s=123x77,format=rgba,colorchannelmixer=aa=0.6", "-frames:v", "1", "-pix_fmt", pix, "-compression_algo", compression, name).CombinedOutput(); err != nil {
				t.Fatalf("%s: %v: %s", name, err, out)
			}
			files = append(files, name)
		}
	}
	r := rand.New(rand.NewPCG(2, 2))
	pictures := map[string]image.Image{
		"nrgba64": image.NewNRGBA64(image.Rect(0, 0, 61, 40)), "rgba64": image.NewRGBA64(image.Rect(0, 0, 61, 40)),
		"nrgba": image.NewNRGBA(image.Rect(0, 0, 61, 40)), "rgba": image.NewRGBA(image.Rect(0, 0, 61, 40)), "gray16": image.NewGray16(image.Rect(0, 0, 61, 40)),
	}
	for name, im := range pictures {
		set := im.(interface{ Set(x, y int, c color.Color) })
		for y := range 40 {
			for x := range 61 {
				set.Set(x, y, color.NRGBA64{uint16(r.Uint32()), uint16(x * 1000), uint16(r.Uint32()), uint16(r.Uint32()) | uint16(y)<<11})
			}
		}
		for _, o := range []tiff.Options{{Compression: tiff.Uncompressed}, {Compression: tiff.Deflate}, {Compression: tiff.Deflate, Predictor: true}} {
			var b bytes.Buffer
			if err := tiff.Encode(&b, im, &o); err != nil {
				t.Fatal(err)
			}
			file := filepath.Join(dir, name+map[bool]string{true: "-differences"}[o.Predictor]+map[tiff.CompressionType]string{tiff.Deflate: "-packed"}[o.Compression]+".tif")
			if err := os.WriteFile(file, b.Bytes(), 0o644); err != nil {
				t.Fatal(err)
			}
			files = append(files, file)
		}
	}
	own := 0
	for _, file := range files {
		name := filepath.Base(file)
		f, err := readStill(file)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if ok, _ := withTIFF(file, func(*tiffFile, *os.File) error { return nil }); ok {
			own++
		}
		data, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		im, err := tiff.Decode(bytes.NewReader(data))
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		planes, at := pixelByPixel(im)
		if b := im.Bounds(); f.W != b.Dx() || f.H != b.Dy() || f.Planes != planes {
			t.Errorf("%s: %d×%d×%d, not %v of %d", name, f.W, f.H, f.Planes, b, planes)
			continue
		}
	compare:
		for p := range f.Planes {
			for y := range f.H {
				for x, v := range f.Row(p, y) {
					if v != at(p, x, y) {
						t.Errorf("%s: plane %d at %d, %d is %g, not %g", name, p, x, y, v, at(p, x, y))
						break compare
					}
				}
			}
		}
		in, err := Probe(ctx, file)
		if err != nil || in.W != f.W || in.H != f.H || in.Alpha != (f.Planes > 3) {
			t.Errorf("%s: looked over as %+v, %v", name, in, err)
		}
	}
	if own < 30 {
		t.Errorf("only %d of %d files are read by us", own, len(files))
	}
}

// A TIFF that is cut off anywhere, or whose compressed strips are damaged, is an error that names it.
func TestDamagedTIFFs(t *testing.T) {
	im := image.NewNRGBA64(image.Rect(0, 0, 40, 30))
	for i := range im.Pix {
		im.Pix[i] = byte(i * 7)
	}
	for _, o := range []tiff.Options{{Compression: tiff.Uncompressed}, {Compression: tiff.Deflate}} {
		var b bytes.Buffer
		if err := tiff.Encode(&b, im, &o); err != nil {
			t.Fatal(err)
		}
		path := filepath.Join(t.TempDir(), "a.tif")
		for at := 1; at < b.Len(); at += 97 {
			if err := os.WriteFile(path, b.Bytes()[:at], 0o644); err != nil {
				t.Fatal(err)
			}
			if _, err := readStill(path); err == nil {
				t.Fatalf("cut after %d of %d bytes, and read", at, b.Len())
			}
		}
	}
}
