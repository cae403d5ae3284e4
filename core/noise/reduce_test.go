package noise

import (
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
func photo(t testing.TB, name string) *plane3 {
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

// gained is how much nearer the truth a scene is without its noise, in decibels, taken out by what was measured of it.
func (s scene) gained(t *testing.T, photo, front *plane3, r Reduction) float64 {
	t.Helper()
	noisy, clean := s.make(photo, front)
	m, err := Measure(t.Context(), noisy, Options{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	out, err := m.Reduce(t.Context(), r, noisy, s.frames/2)
	if err != nil {
		t.Fatal(err)
	}
	return psnr(out, clean) - psnr(noisy[s.frames/2], clean)
}

// usual is a reduction as it is at first.
var usual = Reduction{Bright: 1, Colour: 1, Larger: 1, Over: 1, Within: 1, Frames: 2, Texture: 0.5}

// Scenes of part D3 gain at most 0.7 dB less than the last column of its table, whose pictures are others.
func TestReductionGains(t *testing.T) {
	pictures := [2]*plane3{photo(t, "courtyard"), photo(t, "workbench")}
	pan, thing := Shift{1.3, 2.1}, Shift{3.4, -5.2}
	for _, c := range []struct {
		name    string
		picture int
		scene   scene
		want    float64
	}{
		{"static", 0, scene{sigma: 0.02, frames: 5}, 8.6},
		{"static, spots", 0, scene{sigma: 0.08, sk: 0.8, frames: 5}, 11.3},
		{"pan, spots", 0, scene{pan: pan, sigma: 0.02, sk: 0.8, frames: 5}, 7.5},
		{"pan", 1, scene{pan: pan, sigma: 0.08, frames: 5}, 12.6},
		{"pan and a thing", 1, scene{pan: pan, thing: &thing, sigma: 0.04, frames: 5}, 7.9},
		{"pan and a thing, spots", 1, scene{pan: pan, thing: &thing, sigma: 0.08, sk: 0.8, frames: 5}, 8.2},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := c.scene.gained(t, pictures[c.picture], pictures[1-c.picture], usual)
			t.Logf("%.2f dB gained; %.1f in the table", got, c.want)
			if got < c.want-0.7 {
				t.Errorf("%.2f dB gained, more than 0.7 less than %.1f", got, c.want)
			}
		})
	}
}

// made is a clip of frames that are drawn, with white noise.
func made(n int, sigma float64, draw func(n, c, x, y int) float64) (noisy []*frame.Frame, clean []*frame.Frame) {
	r := rand.New(rand.NewPCG(3, 4))
	for k := range n {
		f, g := frame.New(320, 240, 3), frame.New(320, 240, 3)
		for c := range 3 {
			for y := range f.H {
				for x := range f.W {
					v := draw(k, c, x, y)
					g.Row(c, y)[x], f.Row(c, y)[x] = float32(v), float32(v+sigma*r.NormFloat64())
				}
			}
		}
		noisy, clean = append(noisy, f), append(clean, g)
	}
	return noisy, clean
}

func reduced(t *testing.T, m *Measured, frames []*frame.Frame, at int) *frame.Frame {
	t.Helper()
	out, err := m.Reduce(t.Context(), usual, frames, at)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func measured(t *testing.T, frames []*frame.Frame) *Measured {
	t.Helper()
	m, err := Measure(t.Context(), frames, Options{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// A slow ramp stays one: over areas of some pixels it is where it was, everywhere, and no steps come into it.
func TestReductionLeavesARamp(t *testing.T) {
	const sigma = 0.03
	noisy, clean := made(5, sigma, func(_, _, x, y int) float64 { return 0.3 + 0.1*float64(x)/320 + 0.05*float64(y)/240 })
	out := reduced(t, measured(t, noisy), noisy, 2)
	const box = 16
	worst, rough := 0.0, 0.0
	for y := 0; y+box <= out.H; y += box {
		for x := 0; x+box <= out.W; x += box {
			sum := 0.0
			for j := range box {
				for i := range box {
					sum += float64(out.Row(1, y+j)[x+i] - clean[2].Row(1, y+j)[x+i])
				}
			}
			worst = max(worst, math.Abs(sum/(box*box)))
		}
	}
	for y := range out.H {
		row, want := out.Row(1, y), clean[2].Row(1, y)
		for x := 1; x < out.W; x++ {
			d := float64((row[x] - row[x-1]) - (want[x] - want[x-1]))
			rough += d * d / float64(out.H*(out.W-1))
		}
	}
	rough = math.Sqrt(rough)
	t.Logf("areas of %d × %d off by %.5f at most, neighbours by %.5f rms", box, box, worst, rough)
	// the mean of an area of five frames is known to sigma/(16·√5), and there are 300 of them
	if limit := 3.6 * sigma / box / math.Sqrt(5); worst > limit {
		t.Errorf("areas are off by %.5f, above %.5f", worst, limit)
	}
	if rough > sigma/10 {
		t.Errorf("neighbours part by %.5f rms, above a tenth of the noise", rough)
	}
}

// Where a cut lies between frames, nothing of the other side comes in.
func TestReductionEndsAtACut(t *testing.T) {
	noisy, clean := made(5, 0.03, func(n, c, x, y int) float64 {
		if n < 3 {
			return 0.3 + 0.1*lattice(1, float64(x)/20, float64(y)/20)
		}
		return 0.5 + 0.1*lattice(9, float64(x)/25, float64(y)/15)
	})
	m := measured(t, noisy[:3])
	for _, at := range []int{2, 3} {
		out := reduced(t, m, noisy, at)
		other := 5 - at // a frame of the other side
		// how much of the other side is in what is left, by least squares
		dot, square := 0.0, 0.0
		for y := range out.H {
			for x := range out.W {
				d := float64(clean[other].Row(1, y)[x] - clean[at].Row(1, y)[x])
				dot, square = dot+d*float64(out.Row(1, y)[x]-clean[at].Row(1, y)[x]), square+d*d
			}
		}
		t.Logf("frame %d holds %.4f %% of the other side", at, 100*dot/square)
		if math.Abs(dot/square) > 0.002 {
			t.Errorf("frame %d holds %.3f %% of the other side", at, 100*dot/square)
		}
		if psnr(out, clean[at])-psnr(noisy[at], clean[at]) < 6 {
			t.Errorf("frame %d gains %.1f dB", at, psnr(out, clean[at])-psnr(noisy[at], clean[at]))
		}
	}
}

// A fast thing, faint or not, leaves no trail where it was and shows no hole where it is.
func TestReductionLeavesNoTrail(t *testing.T) {
	const sigma = 0.03
	for _, bright := range []float64{0.09, 0.3} {
		at := func(n int) int { return 100 + 37*n }
		noisy, clean := made(5, sigma, func(n, _, x, y int) float64 {
			v := 0.35 + 0.05*float64(x)/320
			if math.Hypot(float64(x-at(n)), float64(y-120)) < 14 {
				v += bright
			}
			return v
		})
		out := reduced(t, measured(t, noisy), noisy, 2)
		for n := range 5 {
			sum, count := 0.0, 0.0
			for y := 110; y < 130; y++ {
				for x := at(n) - 10; x < at(n)+10; x++ {
					sum, count = sum+float64(out.Row(1, y)[x]-clean[2].Row(1, y)[x]), count+1
				}
			}
			t.Logf("brighter by %.2f: off by %.4f where it is in frame %d", bright, sum/count, n-2)
			if math.Abs(sum/count) > 0.1*sigma+0.02*bright {
				t.Errorf("brighter by %.2f: off by %.4f where it is in frame %d", bright, sum/count, n-2)
			}
		}
	}
}

// What nothing is taken out of stays bit for bit, whatever is beyond the range or no number; alpha always does.
func TestReductionOfNothing(t *testing.T) {
	noisy, _ := made(3, 0.03, func(_, c, x, y int) float64 { return 0.4 + 0.2*lattice(4, float64(x)/20, float64(y)/20) })
	m := measured(t, noisy)
	f := frame.New(320, 240, 4)
	for p := range 4 {
		for y := range f.H {
			copy(f.Row(p, y), noisy[1].Row(p%3, y))
		}
	}
	f.Row(0, 10)[20], f.Row(1, 30)[40] = -3, 70
	for _, r := range []Reduction{{Larger: 1, Over: 1, Within: 1, Frames: 2}, {Bright: 1, Colour: 1, Larger: 1}} {
		out, err := m.Reduce(t.Context(), r, []*frame.Frame{noisy[0], f, noisy[2]}, 1)
		if err != nil {
			t.Fatal(err)
		}
		for p := range 4 {
			for y := range f.H {
				a, b := f.Row(p, y), out.Row(p, y)
				for x := range a {
					if a[x] != b[x] {
						t.Fatalf("plane %d at %d, %d is %g, not %g", p, x, y, b[x], a[x])
					}
				}
			}
		}
	}
	broken := noisy[1].Clone()
	broken.Row(1, 50)[60] = float32(math.NaN())
	out := reduced(t, m, []*frame.Frame{noisy[0], broken, noisy[2]}, 1)
	bad := 0
	for p := range 3 {
		for y := range out.H {
			for _, v := range out.Row(p, y) {
				if v != v {
					bad++
				}
			}
		}
	}
	if bad > 1 {
		t.Errorf("a sample that is no number makes %d of them", bad)
	}
}
