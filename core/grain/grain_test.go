package grain

import (
	"fmt"
	"math"
	"slices"
	"testing"
)

func TestHashVectors(t *testing.T) {
	for _, c := range []struct{ got, want uint64 }{
		{mix64(1), 0x5692161d100b05e5},
		{Key(7, 0, 0), 0x0c30c296287daa27},
		{Key(7, 1, 0), 0x748dc2ed08987306},
		{Key(7, 0, 1), 0x3d324e76bc615c72},
		{Key(12345, 2, 1000), 0x74ac1099bc3dd070},
		{raw(Key(7, 0, 0), Key(7, 0, 0), 0, 0), 0xac6c9378394cb9e2},
		{raw(Key(7, 0, 0), Key(7, 0, 0), 1, 0), 0x192f87ba2e2ef148},
		{raw(Key(7, 0, 0), Key(7, 0, 0), 0, 1), 0x76dd6cacb397f957},
		{raw(Key(7, 0, 5), Key(7, 0, 5), 100, 50), 0xd9c4ac952d30eca3},
		{raw(Key(7, 0, 0), Key(7, 0, 0), -1, -2), 0x6d81c1f6902e1ca8},
	} {
		if c.got != c.want {
			t.Errorf("%016x, want %016x", c.got, c.want)
		}
	}
	one := fields(7, 0, 3, -2, 0)
	if math.Abs(float64(one[0][2])-0.339678) > 1e-6 {
		t.Errorf("first number %g, want 0.339678", one[0][2])
	}
}

// fields is a row of noise of the three layers.
func fields(seed uint64, frame, n, x0, y int) [3][]float32 {
	row := func() []float32 { return make([]float32, n, n+32) }
	f := [3][]float32{row(), row(), row()}
	fill(f, &[3]uint64{Key(seed, 0, frame), Key(seed, 1, frame), Key(seed, 2, frame)}, x0, y)
	return f
}

// Fields of different layers, frames and seeds, and neighbours in one field, know nothing of each
// other: correlations over n = 2²⁰ numbers stay within 4.5 times their deviation, 1/√n.
func TestFieldsAreIndependent(t *testing.T) {
	const w, h = 1024, 1024
	sums := map[string]float64{}
	square := 0.0
	above := fields(3, 0, w, 0, -1)
	for y := range h {
		f, next, other := fields(3, 0, w, 0, y), fields(3, 1, w, 0, y), fields(4, 0, w, 0, y)
		for x := range w {
			a := float64(f[0][x])
			square += a * a
			for name, b := range map[string]float32{
				"layer 1": f[1][x], "layer 2": f[2][x], "the frame after": next[0][x], "its layer 1": next[1][x],
				"seed": other[0][x], "row above": above[0][x], "layer 1 above": above[1][x], "column": f[0][(x+w-1)%w],
			} {
				sums[name] += a * float64(b)
			}
			sums["layers 1 and 2"] += float64(f[1][x]) * float64(f[2][x])
		}
		above = f
	}
	if v := square / w / h; math.Abs(v-1) > 0.005 {
		t.Errorf("variance %g", v)
	}
	for name, s := range sums {
		if c := s / w / h; math.Abs(c) > 4.5/1024 {
			t.Errorf("%s: correlation %g", name, c)
		}
	}
}

// Closed forms computed apart from this code (scatter-and-grain, part C).
func TestClosedForms(t *testing.T) {
	for _, c := range []struct{ got, want, tol float64 }{
		{Selwyn(6, 1.5), 0.264729, 2e-5},
		{Selwyn(14, 3), 0.642376, 3e-4},
		{Autocovariance(12.97, 1.5, 0), 0.0670394, 1e-6},
		{Autocovariance(12.97, 1.5, 1), 0.0050308, 1e-6},
		{Autocovariance(6.48, 1.5, 0), 0.1140443, 1e-6},
		{Autocovariance(3.02, 2.5, 3), 0.0056995, 1e-6},
		{Deviation(Selwyn(6, 1.5), 13, 1.5, 1), 0.01771, 2e-5},
		{Deviation(Selwyn(10, 2), 3.25, 2, 1), 0.05691, 2e-5},
	} {
		if math.Abs(c.got-c.want) > c.tol {
			t.Errorf("%.7f, want %.7f", c.got, c.want)
		}
	}
	law := Law(1.5)
	for i, d := range []float64{0, .05, .1, .2, .4, .6, .8, 1, 1.3, 1.6, 1.8} {
		want := []float64{2.32, 3.63, 4.45, 5.45, 6.09, 5.98, 5.95, 6.00, 5.97, 6.06, 6.11}[i]
		if got := 6 * law(d); math.Abs(got-want) > 0.02*want {
			t.Errorf("granularity at density %.2f: %.3f, want %.2f", d, got, want)
		}
	}
}

// patch renders a flat patch with grain and returns the red record.
func patch(s Setting, frame, w, h int, density float32, tile int) [][]float32 {
	g := New(s)
	out := make([][]float32, h)
	for y := range out {
		out[y] = make([]float32, w, w+64)
	}
	for x := 0; x < w; x += tile {
		n := min(tile, w-x)
		strip := g.Columns(frame, x, n, 0)
		for y := range h {
			var d [3][]float32
			for i := range d {
				d[i] = make([]float32, n, n+64)
				for k := range d[i] {
					d[i][k] = density
				}
			}
			strip.Add(y, d)
			copy(out[y][x:], d[0])
		}
	}
	return out
}

// Three rasters of the same 1.66 × 1.66 mm of film: k×k blocks against the closed form.
func TestDeviationAtThreeRasters(t *testing.T) {
	for _, c := range []struct {
		g, cloud, pitch float64
		n, k            int
	}{
		{6, 1.5, 13, 128, 1}, {6, 1.5, 13, 128, 3}, {6, 1.5, 6.5, 256, 1}, {6, 1.5, 6.5, 256, 7}, {6, 1.5, 3.25, 512, 1}, {6, 1.5, 3.25, 512, 13},
		{14, 3, 13, 128, 3}, {14, 3, 6.5, 256, 7}, {14, 3, 3.25, 512, 1}, {4, .75, 6.5, 256, 1},
	} {
		t.Run(fmt.Sprintf("G%g-%gum-block%d", c.g, c.pitch, c.k), func(t *testing.T) {
			s := Selwyn(c.g, c.cloud)
			set := Setting{Pitch: c.pitch, Cloud: [3]float64{c.cloud, c.cloud, c.cloud}, S: [3]float64{s, s, s}, Seed: 5, Top: 2.5, Link: 0.8}
			var sum, sq float64
			var n int
			frames := 24 * 128 / c.n
			if c.k > 1 {
				frames *= c.k
			}
			for f := range min(frames, 36) {
				p := patch(set, f, c.n, c.n, 1, c.n)
				for y := 0; y+c.k <= c.n; y += c.k {
					for x := 0; x+c.k <= c.n; x += c.k {
						v := 0.0
						for j := range c.k {
							for i := range c.k {
								v += float64(p[y+j][x+i])
							}
						}
						v = v/float64(c.k*c.k) - 1
						sum += v
						sq += v * v
						n++
					}
				}
			}
			mean := sum / float64(n)
			got, want := math.Sqrt(sq/float64(n)-mean*mean), Deviation(s, c.pitch, c.cloud, c.k)
			if math.Abs(got/want-1) > 0.03 {
				t.Errorf("deviation %.5f, closed form %.5f (%+.1f %%)", got, want, 100*(got/want-1))
			}
			if math.Abs(mean) > 0.002 {
				t.Errorf("mean moves by %.4f", mean)
			}
		})
	}
}

func TestNewOnEachFrameSameOnRepeatAndInTiles(t *testing.T) {
	set := Setting{Pitch: 6.5, Cloud: [3]float64{2, 2, 2}, S: [3]float64{.3, .3, .3}, Seed: 1, Top: 2.5}
	a, b, c := patch(set, 3, 100, 40, 1, 100), patch(set, 3, 100, 40, 1, 37), patch(set, 4, 100, 40, 1, 100)
	same := 0
	var ac, aa float64
	for y := range a {
		for x := range a[y] {
			if a[y][x] != b[y][x] {
				t.Fatalf("tiles differ at %d, %d", x, y)
			}
			if a[y][x] == c[y][x] {
				same++
			}
			ac += float64((a[y][x] - 1) * (c[y][x] - 1))
			aa += float64((a[y][x] - 1) * (a[y][x] - 1))
		}
	}
	if same > 40 || math.Abs(ac/aa) > 0.08 {
		t.Errorf("frames 3 and 4 are alike: %d equal pixels, correlation %.3f", same, ac/aa)
	}
}

// Linked layers share their grain, unlinked ones do not, and the deviation is the same either way.
func TestLinkMixesTowardsOneField(t *testing.T) {
	for _, c := range []struct{ link, low, high float64 }{{0, -0.04, 0.04}, {0.8, 0.76, 0.84}, {1, 0.999, 1.001}} {
		set := Setting{Pitch: 6.5, Cloud: [3]float64{1.5, 1.5, 1.5}, S: [3]float64{.3, .3, .3}, Seed: 3, Top: 2.5, Link: c.link}
		strip := New(set).Columns(0, 0, 300, 0)
		var rg, rr, gg float64
		for y := range 120 {
			var d [3][]float32
			for i := range d {
				d[i] = make([]float32, 300, 364)
				for k := range d[i] {
					d[i][k] = 1
				}
			}
			strip.Add(y, d)
			for x := range 300 {
				r, g := float64(d[0][x]-1), float64(d[1][x]-1)
				rg, rr, gg = rg+r*g, rr+r*r, gg+g*g
			}
		}
		if rho := rg / math.Sqrt(rr*gg); rho < c.low || rho > c.high {
			t.Errorf("link %g: correlation %.3f", c.link, rho)
		}
		if k := rr / gg; k < 0.93 || k > 1.07 {
			t.Errorf("link %g: the red record varies %.3f as much as the green", c.link, k)
		}
	}
}

// Neighbouring pixels are as alike as the clouds make them.
func TestCorrelationOfNeighbours(t *testing.T) {
	for _, pitch := range []float64{3.25, 6.5, 13} {
		s := Selwyn(6, 1.5)
		set := Setting{Pitch: pitch, Cloud: [3]float64{1.5, 1.5, 1.5}, S: [3]float64{s, s, s}, Seed: 9, Top: 2.5}
		var near, same float64
		for f := range 4 {
			p := patch(set, f, 200, 200, 1, 200)
			for y := range p {
				for x := 1; x < len(p[y]); x++ {
					near += float64((p[y][x] - 1) * (p[y][x-1] - 1))
					same += float64((p[y][x] - 1) * (p[y][x] - 1))
				}
			}
		}
		want := Autocovariance(pitch, 1.5, 1) / Autocovariance(pitch, 1.5, 0)
		if got := near / same; math.Abs(got-want) > 0.03 {
			t.Errorf("pitch %g µm: neighbours correlate %.3f, closed form %.3f", pitch, got, want)
		}
	}
}

// In a squeezed picture a pixel is twice as high on the film as it is wide: its deviation, and how far it goes with its neighbours, are
// those of such pixels.
func TestSqueezedGrainLiesDown(t *testing.T) {
	const pitch, cloud = 4.0, 2.5
	s := Selwyn(6, cloud)
	set := Setting{Pitch: pitch, Squeeze: 2, Cloud: [3]float64{cloud, cloud, cloud}, S: [3]float64{s, s, s}, Seed: 5, Top: 2.5}
	var across, down, same, n float64
	for f := range 4 {
		p := patch(set, f, 200, 200, 1, 200)
		for y := 1; y < len(p); y++ {
			for x := 1; x < len(p[y]); x++ {
				v := float64(p[y][x] - 1)
				across += v * float64(p[y][x-1]-1)
				down += v * float64(p[y-1][x]-1)
				same, n = same+v*v, n+1
			}
		}
	}
	cov := func(pitch float64, k int) float64 { return Autocovariance(pitch, cloud, k) }
	for _, c := range []struct {
		what      string
		got, want float64
	}{
		{"neighbours across", across / same, cov(pitch, 1) / cov(pitch, 0)},
		{"neighbours down", down / same, cov(2*pitch, 1) / cov(2*pitch, 0)},
		{"deviation", math.Sqrt(same/n) / s, math.Sqrt(cov(pitch, 0) * cov(2*pitch, 0))},
	} {
		t.Logf("%s: %.3f, closed form %.3f", c.what, c.got, c.want)
		if math.Abs(c.got-c.want) > 0.03 {
			t.Errorf("%s: %.3f, closed form %.3f", c.what, c.got, c.want)
		}
	}
}

// Held grain stays for its frames, frozen grain for all, and flowing grain turns into another with the same deviation throughout. Each frame
// alone is what it is in a row of them: it follows from its number.
func TestMotionOfGrain(t *testing.T) {
	base := Setting{Pitch: 6.5, Cloud: [3]float64{1.5, 1.5, 1.5}, S: [3]float64{.3, .3, .3}, Seed: 4, Top: 2.5, Link: 1}
	field := func(m Motion, frame int) [][]float32 {
		s := base
		s.Motion = m
		return patch(s, frame, 256, 128, 1, 256)
	}
	like := func(a, b [][]float32) float64 {
		var ab, aa, bb float64
		for y := range a {
			for x := range a[y][:256] {
				p, q := float64(a[y][x]-1), float64(b[y][x]-1)
				ab, aa, bb = ab+p*q, aa+p*p, bb+q*q
			}
		}
		return ab / math.Sqrt(aa*bb)
	}
	same := func(a, b [][]float32) bool {
		return slices.EqualFunc(a, b, func(p, q []float32) bool { return slices.Equal(p[:256], q[:256]) })
	}
	for _, n := range []int{0, 7, 12, 100, 1001} {
		if held := (Motion{Hold: 3}); same(field(held, n), field(held, n+1)) != (n%3 < 2) {
			t.Errorf("frames %d and %d of grain held on threes", n, n+1)
		}
		if !same(field(Motion{Frozen: true}, n), field(Motion{Frozen: true}, 3)) {
			t.Errorf("frozen grain moved by frame %d", n)
		}
		flow := Motion{Every: 8}
		a := field(flow, n)
		if c := like(a, field(flow, n+1)); math.Abs(c-math.Cos(math.Pi/16)) > 0.05 {
			t.Errorf("frames %d and %d of flowing grain correlate by %.3f", n, n+1, c)
		}
		if c := like(a, field(flow, n+16)); math.Abs(c) > 0.05 {
			t.Errorf("frames %d and %d of flowing grain correlate by %.3f", n, n+16, c)
		}
		sum := 0.0
		for y := range a {
			for _, v := range a[y][:256] {
				sum += float64(v-1) * float64(v-1)
			}
		}
		if got, want := math.Sqrt(sum/256/128), Deviation(.3, 6.5, 1.5, 1); math.Abs(got/want-1) > 0.03 {
			t.Errorf("frame %d of flowing grain deviates by %.4f, closed form %.4f", n, got, want)
		}
	}
}

// A scan changes pixels and not areas: a soft one lets neighbours go together more and deviate less, a hard one the reverse, and blocks of eight
// deviate as ever. A stretch lets neighbours across go together more than those down, at the same deviation.
func TestScansOfGrain(t *testing.T) {
	base := Setting{Pitch: 6.5, Cloud: [3]float64{2, 2, 2}, S: [3]float64{.3, .3, .3}, Seed: 4, Top: 2.5, Link: 1}
	figures := func(s Setting) (pixel, across, down, block float64) {
		n, blocks := 0.0, 0.0
		for f := range 6 {
			p := patch(s, f, 256, 256, 1, 256)
			for y := 1; y < 256; y++ {
				for x := 1; x < 256; x++ {
					v := float64(p[y][x] - 1)
					pixel, across, down, n = pixel+v*v, across+v*float64(p[y][x-1]-1), down+v*float64(p[y-1][x]-1), n+1
				}
			}
			for y := 0; y < 256; y += 8 {
				for x := 0; x < 256; x += 8 {
					sum := 0.0
					for j := range 8 {
						for i := range 8 {
							sum += float64(p[y+j][x+i]-1) / 64
						}
					}
					block, blocks = block+sum*sum, blocks+1
				}
			}
		}
		return math.Sqrt(pixel / n), across / pixel, down / pixel, math.Sqrt(block / blocks)
	}
	with := func(change func(*Setting)) Setting { s := base; change(&s); return s }
	pixel, across, _, block := figures(base)
	soft, softly, _, softBlock := figures(with(func(s *Setting) { s.Crisp = -1 }))
	hard, hardly, _, hardBlock := figures(with(func(s *Setting) { s.Crisp = 1 }))
	if soft > 0.75*pixel || softly < across+0.2 || hard < 1.2*pixel || hardly > across-0.1 {
		t.Errorf("pixels deviate by %.4f and correlate by %.2f; softly scanned %.4f and %.2f, hard %.4f and %.2f", pixel, across, soft, softly, hard, hardly)
	}
	for _, b := range []float64{softBlock, hardBlock} {
		if math.Abs(b/block-1) > 0.12 {
			t.Errorf("blocks deviate by %.5f, scanned otherwise by %.5f", block, b)
		}
	}
	lying, along, over, _ := figures(with(func(s *Setting) { s.Stretch = 2 }))
	if along < over+0.2 || math.Abs(lying/pixel-1) > 0.1 {
		t.Errorf("stretched pixels deviate by %.4f, round ones by %.4f; they correlate by %.2f across and %.2f down", lying, pixel, along, over)
	}
}

// Layers of clouds of one size that share all of their grain are the same field; of other sizes, they are the same noise seen through other clouds.
func TestSharedFields(t *testing.T) {
	set := Setting{Pitch: 4, Cloud: [3]float64{1.5, 1.5, 3}, S: [3]float64{.3, .3, .3}, Seed: 4, Top: 2.5, Link: 1}
	c := New(set).Columns(3, 0, 256, 0)
	var rg, gb, rr, gg, bb float64
	for y := range 128 {
		var d [3][]float32
		for i := range d {
			d[i] = make([]float32, 256, 320)
			for k := range d[i] {
				d[i][k] = 1
			}
		}
		c.Add(y, d)
		for x := range d[0] {
			r, g, b := float64(d[0][x]-1), float64(d[1][x]-1), float64(d[2][x]-1)
			rg, gb, rr, gg, bb = rg+r*g, gb+g*b, rr+r*r, gg+g*g, bb+b*b
		}
	}
	if c := rg / math.Sqrt(rr*gg); c < 0.9999 {
		t.Errorf("layers of one size correlate by %.4f", c)
	}
	if c := gb / math.Sqrt(gg*bb); c < 0.6 || c > 0.97 {
		t.Errorf("layers of two sizes correlate by %.4f", c)
	}
}

// NewGains and At agree with the factors they were made of.
func TestGainsFollowTheirFactors(t *testing.T) {
	of := func(d float64) float64 { return 1 + 0.5*math.Sin(3*d) }
	g := NewGains(2.5, of)
	for d := 0.0; d <= 2.5; d += 0.013 {
		if got := g.At(2.5, d); math.Abs(got-of(d)) > 4e-3 {
			t.Fatalf("%.3f at a density of %.3f, want %.3f", got, d, of(d))
		}
	}
	if g.At(2.5, -1) != of(0) || g.At(2.5, 9) != g.At(2.5, 2.5) {
		t.Error("beyond its ends it does not stay")
	}
}
