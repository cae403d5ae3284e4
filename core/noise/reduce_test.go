package noise

import (
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/frame"
	"velours/core/noise/scenes"
)

// photo is one of the pictures of scenes.
func photo(t testing.TB, name string) *scenes.Photo {
	p, err := scenes.Load(name)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// gained is how much nearer the truth a scene is without its noise, in decibels, taken out by what was measured of it.
func gained(t *testing.T, s scenes.Scene, photo, front *scenes.Photo, r Reduction) float64 {
	t.Helper()
	noisy, clean := s.Make(photo, front)
	m, err := Measure(t.Context(), noisy, Options{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	out, err := m.Reduce(t.Context(), r, noisy[s.Frames/2], Row(noisy, s.Frames/2))
	if err != nil {
		t.Fatal(err)
	}
	return scenes.PSNR(out, clean) - scenes.PSNR(noisy[s.Frames/2], clean)
}

// usual is a reduction as it is at first.
var usual = Reduction{Bright: 1, Colour: 1, Larger: 1, Over: 1, Within: 1, Frames: 2, Texture: 0.5}

// Scenes of part D3 gain at most 0.7 dB less than the last column of its table, whose pictures are others.
func TestReductionGains(t *testing.T) {
	pictures := [2]*scenes.Photo{photo(t, "courtyard"), photo(t, "workbench")}
	pan, thing := [2]float64{1.3, 2.1}, [2]float64{3.4, -5.2}
	for _, c := range []struct {
		name    string
		picture int
		scene   scenes.Scene
		want    float64
	}{
		{"static", 0, scenes.Scene{Sigma: 0.02, Frames: 5}, 8.6},
		{"static, spots", 0, scenes.Scene{Sigma: 0.08, Spot: 0.8, Frames: 5}, 11.3},
		{"pan, spots", 0, scenes.Scene{Pan: pan, Sigma: 0.02, Spot: 0.8, Frames: 5}, 7.5},
		{"pan", 1, scenes.Scene{Pan: pan, Sigma: 0.08, Frames: 5}, 12.6},
		{"pan and a thing", 1, scenes.Scene{Pan: pan, Thing: &thing, Sigma: 0.04, Frames: 5}, 7.9},
		{"pan and a thing, spots", 1, scenes.Scene{Pan: pan, Thing: &thing, Sigma: 0.08, Spot: 0.8, Frames: 5}, 8.2},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := gained(t, c.scene, pictures[c.picture], pictures[1-c.picture], usual)
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
	out, err := m.Reduce(t.Context(), usual, frames[at], Row(frames, at))
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
		if scenes.PSNR(out, clean[at])-scenes.PSNR(noisy[at], clean[at]) < 6 {
			t.Errorf("frame %d gains %.1f dB", at, scenes.PSNR(out, clean[at])-scenes.PSNR(noisy[at], clean[at]))
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

// A frame that is shown twice is not taken for two of independent noise: what is left of it is not taken for less than it is.
func TestReductionOfRepeatedFrames(t *testing.T) {
	noisy, clean := made(3, 0.04, func(_, c, x, y int) float64 { return 0.4 + 0.2*lattice(4, float64(x)/20, float64(y)/20) })
	m := measured(t, noisy)
	twice := []*frame.Frame{noisy[0], noisy[0], noisy[1], noisy[1], noisy[2], noisy[2]}
	once, again := reduced(t, m, noisy, 1), reduced(t, m, twice, 2)
	a, b := scenes.PSNR(once, clean[1]), scenes.PSNR(again, clean[1])
	t.Logf("%.1f dB of three frames, %.1f of frames shown twice", a, b)
	if b < a-1.5 {
		t.Errorf("%.1f dB of three frames, %.1f of frames shown twice", a, b)
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
		out, err := m.Reduce(t.Context(), r, f, Row([]*frame.Frame{noisy[0], f, noisy[2]}, 1))
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

// A large frame that is cleaned strip by strip is that which is cleaned whole.
func TestReductionInStrips(t *testing.T) {
	noisy, _ := made(2, 0.04, func(_, c, x, y int) float64 { return 0.4 + 0.2*lattice(4, float64(x)/20, float64(y)/20) })
	m := measured(t, noisy)
	whole, err := m.Reduce(t.Context(), usual, noisy[0], nil)
	if err != nil {
		t.Fatal(err)
	}
	strips, err := m.inStrips(t.Context(), usual, noisy[0], 64)
	if err != nil {
		t.Fatal(err)
	}
	for p := range 3 {
		for y := range whole.H {
			a, b := whole.Row(p, y), strips.Row(p, y)
			for x := range a {
				if a[x] != b[x] {
					t.Fatalf("plane %d at %d, %d is %g whole and %g in strips", p, x, y, a[x], b[x])
				}
			}
		}
	}
}
