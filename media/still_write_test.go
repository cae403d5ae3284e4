package media

import (
	"bytes"
	"hash/adler32"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"golang.org/x/image/tiff"
)

// madeUp is a picture of samples, smooth in part and noise in part.
func madeUp(w, h, channels, width int) *samples {
	s := &samples{w: w, h: h, channels: channels, bytes: width}
	s.data = make([]byte, h*s.stride())
	r := rand.New(rand.NewPCG(uint64(w), uint64(h)))
	for i := range s.data {
		s.data[i] = byte(i / 50)
		if i%7 == 0 {
			s.data[i] = byte(r.Uint32())
		}
	}
	return s
}

// Stills of every kind and of several bands are what went in: to the library's readers and to ffmpeg.
func TestStillsAreWritten(t *testing.T) {
	need(t)
	was := bandBytes
	bandBytes = 8 << 10
	defer func() { bandBytes = was }()
	dir := t.TempDir()
	for _, of := range []*samples{madeUp(1, 1, 3, 1), madeUp(7, 5, 4, 2), madeUp(333, 70, 3, 2), madeUp(123, 456, 4, 1)} {
		for _, ending := range []string{".png", ".tif"} {
			var b bytes.Buffer
			write, read := writePNG, png.Decode
			if ending == ".tif" {
				write, read = writeTIFF, tiff.Decode
			}
			if err := write(&b, of); err != nil {
				t.Fatal(err)
			}
			im, err := read(bytes.NewReader(b.Bytes()))
			if err != nil {
				t.Errorf("%d×%d, %d channels of %d bytes as %s: %v", of.w, of.h, of.channels, of.bytes, ending, err)
				continue
			}
			if im.Bounds() != image.Rect(0, 0, of.w, of.h) {
				t.Errorf("%s of %d×%d is %v", ending, of.w, of.h, im.Bounds())
			}
			for y := 0; y < of.h; y += 1 + of.h/200 {
				for x := 0; x < of.w; x += 1 + of.w/100 {
					if got, want := rawSamples(im, x, y, of), of.row(y)[x*of.channels*of.bytes:][:of.channels*of.bytes]; !bytes.Equal(got, want) {
						t.Fatalf("%s at %d, %d: %v, want %v", ending, x, y, got, want)
					}
				}
			}
			file := filepath.Join(dir, "still"+ending)
			if err := os.WriteFile(file, b.Bytes(), 0o644); err != nil {
				t.Fatal(err)
			}
			pix := map[[2]int]string{{3, 1}: "rgb24", {4, 1}: "rgba", {3, 2}: "rgb48be", {4, 2}: "rgba64be"}[[2]int{of.channels, of.bytes}]
			check := "crccheck+explode"
			if ending == ".tif" { // it explodes at the tag of alpha, which it does not know
				check = "crccheck"
			}
			raw, err := exec.Command("ffmpeg", "-v", "error", "-xerror", "-err_detect", check, "-i", file, "-f", "rawvideo", "-pix_fmt", pix, "-").Output()
			if err != nil || !bytes.Equal(raw, of.data) {
				t.Errorf("%s of %d×%d, %d channels of %d bytes: ffmpeg reads another picture (%v)", ending, of.w, of.h, of.channels, of.bytes, err)
			}
		}
	}
}

// rawSamples is a pixel as a file has it.
func rawSamples(im image.Image, x, y int, as *samples) (b []byte) {
	var c [4]uint16
	switch v := im.At(x, y).(type) {
	case color.NRGBA:
		c = [4]uint16{uint16(v.R), uint16(v.G), uint16(v.B), uint16(v.A)}
	case color.RGBA:
		c = [4]uint16{uint16(v.R), uint16(v.G), uint16(v.B), uint16(v.A)}
	case color.NRGBA64:
		c = [4]uint16{v.R, v.G, v.B, v.A}
	case color.RGBA64:
		c = [4]uint16{v.R, v.G, v.B, v.A}
	}
	for _, v := range c[:as.channels] {
		if as.bytes == 2 {
			b = append(b, byte(v>>8))
		}
		b = append(b, byte(v))
	}
	return b
}

// Checksums of parts make that of the whole, whatever the parts.
func TestJoinAdler(t *testing.T) {
	data := madeUp(100, 500, 3, 1).data
	for _, cut := range []int{0, 1, 5552, 70000, len(data) - 1, len(data)} {
		if got, want := joinAdler(adler32.Checksum(data[:cut]), adler32.Checksum(data[cut:]), len(data)-cut), adler32.Checksum(data); got != want {
			t.Errorf("cut at %d: %x, want %x", cut, got, want)
		}
	}
}

// Differences are taken byte by byte, without borrowing from the next.
func TestDifferences(t *testing.T) {
	a, b := make([]byte, 259), make([]byte, 259)
	for i := range a {
		a[i], b[i] = byte(i*37), byte(i*i)
	}
	got := make([]byte, len(a))
	differences(got, a, b)
	for i := range got {
		if got[i] != a[i]-b[i] {
			t.Fatalf("at %d: %d − %d is %d", i, a[i], b[i], got[i])
		}
	}
}

// Rows of luma and differences are what the library makes of them pixel by pixel, whatever the differences are shared by.
func TestYCbCrRows(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	for _, ratio := range []image.YCbCrSubsampleRatio{image.YCbCrSubsampleRatio444, image.YCbCrSubsampleRatio422, image.YCbCrSubsampleRatio420, image.YCbCrSubsampleRatio440, image.YCbCrSubsampleRatio411, image.YCbCrSubsampleRatio410} {
		for _, corner := range []int{0, 3} {
			im := image.NewYCbCr(image.Rect(corner, corner, 40, 31), ratio)
			for _, list := range [][]byte{im.Y, im.Cb, im.Cr} {
				for i := range list {
					list[i] = byte(r.Uint32())
				}
			}
			n := im.Rect.Dx()
			to := [4][]float32{make([]float32, n), make([]float32, n), make([]float32, n)}
			for y := im.Rect.Min.Y; y < im.Rect.Max.Y; y++ {
				imageRow(to, im, im.Rect.Min.X, y, 3)
				for x := range n {
					a, b, c, _ := im.YCbCrAt(im.Rect.Min.X+x, y).RGBA()
					for p, v := range []uint32{a, b, c} {
						if want := float32(v) / 65535; to[p][x] != want {
							t.Fatalf("%v from %d, plane %d at %d, %d: %g, want %g", ratio, corner, p, x, y, to[p][x], want)
						}
					}
				}
			}
		}
	}
}
