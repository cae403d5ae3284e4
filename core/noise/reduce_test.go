package noise

import (
	"fmt"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"testing"

	"velours/core/frame"
)

// scene is a clip of scatter-and-grain, part D3: 384 × 300 pixels, noise of one deviation in all channels, independent between them, white or through
// a Gaussian.
type scene struct {
	pan       Shift
	thing     *Shift
	sigma, sk float64
	frames    int
}

const sceneW, sceneH = 384, 300

// photo reads a picture of 640 × 360 pixels.
func photo(t *testing.T, name string) *plane3 {
	f, err := os.Open("testdata/" + name + ".png")
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	im, err := png.Decode(f)
	if err != nil {
		t.Fatal(err)
	}
	p := &plane3{w: im.Bounds().Dx(), h: im.Bounds().Dy()}
	for c := range p.v {
		p.v[c] = make([]float64, p.w*p.h)
	}
	for y := range p.h {
		for x := range p.w {
			r, g, b, _ := im.At(x, y).RGBA()
			for c, v := range [3]uint32{r, g, b} {
				p.v[c][y*p.w+x] = float64(v) / 65535
			}
		}
	}
	return p
}

// make gives the frames with noise, and the middle one without.
func (s scene) make(photo, front *plane3) (noisy []*frame.Frame, clean *frame.Frame) {
	r := rand.New(rand.NewPCG(5, uint64(1000*s.sigma)))
	for n := range s.frames {
		f := frame.New(sceneW, sceneH, 3)
		t := float64(n - s.frames/2)
		each(sceneH, func(y int) {
			for x := range sceneW {
				px, py := float64(x)+128-s.pan.X*t, float64(y)+30-s.pan.Y*t
				from := photo
				if s.thing != nil { // 17.6 % of the frame
					qx, qy := float64(x)-s.thing.X*t, float64(y)-s.thing.Y*t
					if qx > 110 && qx < 110+145 && qy > 80 && qy < 80+140 {
						from, px, py = front, qx+120, qy+100
					}
				}
				for c := range 3 {
					f.Row(c, y)[x] = float32(from.read(c, px, py))
				}
			}
		})
		if n == s.frames/2 {
			clean = f.Clone()
		}
		for c := range 3 {
			noise := spotted(r, sceneW, sceneH, s.sk)
			for y := range sceneH {
				row := f.Row(c, y)
				for x := range row {
					row[x] += float32(s.sigma * noise[y*sceneW+x])
				}
			}
		}
		noisy = append(noisy, f)
	}
	return noisy, clean
}

// psnr is the ratio of the whole range to what two frames differ by, in decibels.
func psnr(a, b *frame.Frame) float64 {
	sum := 0.0
	for c := range 3 {
		for y := range a.H {
			p, q := a.Row(c, y), b.Row(c, y)
			for x := range p {
				d := float64(p[x] - q[x])
				sum += d * d
			}
		}
	}
	return -10 * math.Log10(sum/float64(3*a.W*a.H))
}

func TestReductionGains(t *testing.T) {
	pictures := []*plane3{photo(t, "courtyard"), photo(t, "workbench")}
	for which, picture := range pictures {
		for _, kind := range []struct {
			name  string
			pan   Shift
			thing *Shift
			want  [2][3]float64
		}{
			{"static", Shift{}, nil, [2][3]float64{{8.6, 10.9, 13.6}, {7.6, 9.6, 11.3}}},
			{"pan", Shift{1.3, 2.1}, nil, [2][3]float64{{8.4, 10.9, 13.6}, {7.5, 9.6, 11.3}}},
			{"pan and a thing", Shift{1.3, 2.1}, &Shift{3.4, -5.2}, [2][3]float64{{5, 7.9, 11}, {3.8, 6.4, 8.8}}},
		} {
			for k, sk := range []float64{0, 0.8} {
				for i, sigma := range []float64{0.02, 0.04, 0.08} {
					noisy, clean := scene{kind.pan, kind.thing, sigma, sk, 5}.make(picture, pictures[1-which])
					m, err := Measure(t.Context(), noisy, Options{}, nil)
					if err != nil {
						t.Fatal(err)
					}
					line := ""
					for _, r := range []Reduction{
						{Bright: 1, Colour: 1, Larger: 1, Within: 1},
						{Bright: 1, Colour: 1, Larger: 1, Over: 1, Frames: 2},
						{Bright: 1, Colour: 1, Larger: 1, Over: 1, Within: 1, Frames: 2},
						{Bright: 1, Colour: 1, Larger: 1, Over: 1, Within: 1, Frames: 2, Texture: 0.5},
					} {
						out, err := m.Reduce(t.Context(), r, noisy, 2)
						if err != nil {
							t.Fatal(err)
						}
						line += fmt.Sprintf(" %5.2f", psnr(out, clean)-psnr(noisy[2], clean))
					}
					t.Logf("%d %-16s %.1f %.2f  in %.1f: %s  (%.1f)  est %.4f", which, kind.name, sk, sigma, psnr(noisy[2], clean), line, kind.want[k][i], m.Own[1].Deviation(0.4)/sigma)
				}
			}
		}
	}
}
