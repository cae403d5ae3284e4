package scatter

import (
	"context"
	"math"
	"testing"

	"velours/core/frame"
)

var ctx = context.Background()

// One bounce of a bare base against figures of an independent computation (design notes, A1, A2).
func TestReturnedLight(t *testing.T) {
	bare := Removed(0.13, 1.49)
	for _, c := range []struct{ r, want float64 }{
		{0, 0.16630}, {0.1, 0.13218}, {0.2, 0.20033}, {0.2353, 1.12134}, {0.25, 1.11880}, {0.4, 0.35080}, {0.8, 0.03190},
	} {
		if got := bare.Return(c.r); math.Abs(got/c.want-1) > 3e-3 {
			t.Errorf("at %.4f mm: %.5f, want %.5f", c.r, got, c.want)
		}
	}
	for _, c := range []struct {
		name      string
		got, want float64
	}{
		{"bare, one bounce", bare.Single(), 0.4752},
		{"bare, all bounces", bare.Total(), 0.570},
		{"intact, one bounce", Intact(0.13, 1.49).Single(), 0.0184},
		{"intact, all bounces", Intact(0.13, 1.49).Total(), 0.0185},
		{"ring", bare.Ring(), 0.2354},
	} {
		if math.Abs(c.got/c.want-1) > 6e-3 {
			t.Errorf("%s: %.5f, want %.5f", c.name, c.got, c.want)
		}
	}
}

func fill(w, h int, f func(x, y int) float64) *frame.Frame {
	g := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			row := g.Row(p, y)
			for x := range row {
				row[x] = float32(f(x, y))
			}
		}
	}
	return g
}

func sum(f *frame.Frame, p int) float64 {
	s := 0.0
	for y := range f.H {
		for _, v := range f.Row(p, y) {
			s += float64(v)
		}
	}
	return s
}

func stock(backing float64) Halo {
	return Halo{Thickness: 0.13, Index: 1.49, Backing: backing, Held: [3]float64{.30, .14, .02}, Back: [3]float64{.90, .35, .05}, Amount: 1}.Plain()
}

func on(h Halo, perMM float64) Halo {
	h.PerMM = perMM
	return h
}

func TestHalationGains(t *testing.T) {
	for _, c := range []struct {
		backing float64
		want    [3]float64
	}{{1, [3]float64{.00499, .00091, .00002}}, {0, [3]float64{.1539, .0279, .00057}}} {
		g := stock(c.backing).Gains()
		for i := range g {
			if math.Abs(g[i]/c.want[i]-1) > 0.08 {
				t.Errorf("backing %g, layer %d: %.5f, want %.5f", c.backing, i, g[i], c.want[i])
			}
		}
		if !(g[0] > g[1] && g[1] > g[2]) {
			t.Errorf("red must get most: %v", g)
		}
	}
}

var bloom = Cloud{0.3, []Gaussian{{0.004, 0.7}, {0.02, 0.3}}}

func TestEvenLightStaysAndPatchesKeepTheirEnergy(t *testing.T) {
	flat := fill(203, 117, func(int, int) float64 { return 0.42 })
	patch := fill(420, 380, func(x, y int) float64 {
		if abs(x-205) < 5 && abs(y-190) < 4 {
			return 60
		}
		return 0
	})
	for _, c := range []struct {
		name string
		run  func(f *frame.Frame) (*frame.Frame, error)
	}{
		{"bloom", func(f *frame.Frame) (*frame.Frame, error) { return Diffuse(ctx, f, bloom) }},
		{"intact", func(f *frame.Frame) (*frame.Frame, error) { return Halate(ctx, f, on(stock(1), 30)) }},
		{"removed", func(f *frame.Frame) (*frame.Frame, error) { return Halate(ctx, f, on(stock(0), 30)) }},
		{"thin", func(f *frame.Frame) (*frame.Frame, error) { return Halate(ctx, f, on(stock(0.8), 77)) }},
	} {
		out, err := c.run(flat)
		if err != nil {
			t.Fatal(err)
		}
		for p := range 3 {
			for y := range out.H {
				for x, v := range out.Row(p, y) {
					if math.Abs(float64(v)-0.42) > 0.42e-4 {
						t.Fatalf("%s: even light becomes %g at %d, %d", c.name, v, x, y)
					}
				}
			}
		}
		if out, err = c.run(patch); err != nil {
			t.Fatal(err)
		}
		for p := range 3 {
			in, got := sum(patch, p), sum(out, p)
			if c.name != "bloom" {
				// every layer keeps what it had: gain and loss balance for light that stays inside
				if math.Abs(got/in-1) > 0.01 {
					t.Errorf("%s: layer %d holds %.4f of its light", c.name, p, got/in)
				}
			} else if math.Abs(got/in-1) > 0.01 {
				t.Errorf("bloom: channel %d holds %.4f of its light", p, got/in)
			}
		}
	}
}

func abs(i int) int { return max(i, -i) }

// The pyramid against the transfer function of a Gaussian, through the second moment and the peak.
func TestPyramidIsGaussian(t *testing.T) {
	for _, sigma := range []float64{0.8, 2.2, 2.4, 2.7, 3, 3.5, 4.8, 7, 13, 24} {
		src := fill(401, 401, func(x, y int) float64 {
			if x == 200 && y == 200 {
				return 1
			}
			return 0
		})
		out, err := Blur(ctx, src, []Gaussian{{sigma, 1}})
		if err != nil {
			t.Fatal(err)
		}
		var m0, m2, err2, ref2 float64
		for y := range out.H {
			for x, v := range out.Row(1, y) {
				r2 := float64((x-200)*(x-200) + (y-200)*(y-200))
				g := math.Exp(-r2/2/sigma/sigma) / (2 * math.Pi * sigma * sigma)
				m0 += float64(v)
				m2 += float64(v) * r2
				err2 += (float64(v) - g) * (float64(v) - g)
				ref2 += g * g
			}
		}
		s := math.Sqrt(m2 / m0 / 2)
		l2 := math.Sqrt(err2 / ref2)
		t.Logf("σ %g: measured %.3f, energy %.5f, L2 %.4f", sigma, s, m0, l2)
		if math.Abs(m0-1) > 2e-3 || math.Abs(s/sigma-1) > 0.01 || l2 > 0.02 {
			t.Errorf("σ %g: measured %.3f, energy %.5f, L2 %.4f", sigma, s, m0, l2)
		}
	}
}

func TestTwoHalfCloudsMakeOne(t *testing.T) {
	src := fill(300, 200, func(x, y int) float64 {
		if (x/20+y/20)%5 == 0 {
			return 8
		}
		return 0.1
	})
	half := Cloud{bloom.Depth / 2, bloom.Lobes}
	a, err := Diffuse(ctx, src, bloom)
	if err != nil {
		t.Fatal(err)
	}
	b, err := Diffuse(ctx, src, half)
	if err != nil {
		t.Fatal(err)
	}
	if b, err = Diffuse(ctx, b, half); err != nil {
		t.Fatal(err)
	}
	var e, n float64
	for y := 20; y < 180; y++ {
		for x := 20; x < 280; x++ {
			u, v := float64(a.Row(0, y)[x]), float64(b.Row(0, y)[x])
			e += (u - v) * (u - v)
			n += u * u
		}
	}
	if l2 := math.Sqrt(e / n); l2 > 2e-3 {
		t.Errorf("relative L2 %.5f", l2)
	}
}

// The halo layer of a disc against the spread convolved directly, cell by cell.
func TestHaloOfADiscAgainstTheExactSpread(t *testing.T) {
	const perMM, n = 77.11, 420
	radius := 0.012 * 1920 / 1.0 // 1.2 % of a 1920 raster
	src := fill(n, n, func(x, y int) float64 {
		if math.Hypot(float64(x)-209.5, float64(y)-209.5) < radius {
			return 1
		}
		return 0
	})
	for _, backing := range []float64{0, 1} {
		got := frame.New(n, n, 3)
		b := Removed(0.13, 1.49)
		var err error
		if backing == 0 {
			err = addRing(ctx, got, src, b, perMM, ringPitch, 1, [3]float32{1, 1, 1}, [3]float32{1, 1, 1})
		} else {
			b = Intact(0.13, 1.49)
			var terms []Gaussian
			for _, g := range intactTerms {
				terms = append(terms, Gaussian{g.Sigma * perMM, g.Weight})
			}
			got, err = Blur(ctx, src, terms)
		}
		if err != nil {
			t.Fatal(err)
		}
		pitch := 1 / perMM
		r := int(ringReach / pitch)
		grid := bounces(b, cells(b, pitch, r), pitch, r)
		w := 2*r + 1
		if backing == 1 {
			addDiffuse(b, grid, pitch, r)
		}
		total := 0.0
		for _, v := range grid {
			total += v
		}
		if backing == 1 {
			total = b.Total() // a twentieth of it lies beyond the grid
		}
		var e2, n2, worst, peak float64
		for y := 20; y < n-20; y += 13 {
			for x := 20; x < n-20; x += 13 {
				want := 0.0
				for v := 180; v < 240; v++ {
					for u := 180; u < 240; u++ {
						if s := src.Row(0, v)[u]; s != 0 && abs(y-v) <= r && abs(x-u) <= r {
							want += grid[(y-v+r)*w+x-u+r]
						}
					}
				}
				want /= total
				d := float64(got.Row(0, y)[x]) - want
				e2 += d * d
				n2 += want * want
				worst, peak = max(worst, math.Abs(d)), max(peak, want)
			}
		}
		l2 := math.Sqrt(e2 / n2)
		t.Logf("backing %g: L2 %.4f, worst %.4f of the peak", backing, l2, worst/peak)
		if limit := 0.02; l2 > limit || worst/peak > 0.03 {
			t.Errorf("backing %g: L2 %.4f, worst %.4f of the peak", backing, l2, worst/peak)
		}
	}
}

// addDiffuse adds the backing's own diffuse reflection, two Lambertian legs through the base, to a grid.
func addDiffuse(b Base, grid []float64, pitch float64, r int) {
	// one leg: cos⁴/(π t²) over the distance t·tan θ; two legs are its square in the Fourier plane
	leg := make([]float64, len(grid))
	w := 2*r + 1
	for i := range w {
		for j := range w {
			const sub = 6
			s := 0.0
			for a := range sub {
				for c := range sub {
					x := (float64(i-r) + (float64(a)+0.5)/sub - 0.5) * pitch
					y := (float64(j-r) + (float64(c)+0.5)/sub - 0.5) * pitch
					th := math.Atan(math.Hypot(x, y) / b.Thickness)
					k := math.Cos(th)
					s += math.Pow(10, -b.Density/k) * k * k * k * k / (math.Pi * b.Thickness * b.Thickness)
				}
			}
			leg[i*w+j] = s * pitch * pitch / sub / sub
		}
	}
	// the square by the same transform that serves the bounces: K/(1−K) − K ≈ K² for weak K
	weak := make([]float64, len(leg))
	const k = 1e-4
	for i := range leg {
		weak[i] = leg[i] * k
	}
	two := bounces(Base{Emulsion: 1}, append([]float64(nil), weak...), pitch, r)
	for i := range grid {
		grid[i] += b.Diffuse * (two[i] - weak[i]) / k / k
	}
}

// A point's halo: a ring for bare base, a blob for backed, at the same place on the film at two rasters.
func TestRingOfAPoint(t *testing.T) {
	ring := Removed(0.13, 1.49).Ring()
	for _, perMM := range []float64{77.11, 154.2} {
		n := int(1.6 * perMM)
		src := fill(n, n, func(x, y int) float64 {
			if x == n/2 && y == n/2 {
				return perMM * perMM
			}
			return 0
		})
		for _, backing := range []float64{0, 1} {
			out, err := Halate(ctx, src, on(stock(backing), perMM))
			if err != nil {
				t.Fatal(err)
			}
			// mean over a ring of radii, in steps of 13 µm
			step := 0.013
			profile, count := make([]float64, 45), make([]float64, 45)
			for y := range n {
				for x, v := range out.Row(0, y) {
					if x == n/2 && y == n/2 {
						continue
					}
					if i := int(math.Hypot(float64(x-n/2), float64(y-n/2)) / perMM / step); i < len(profile) {
						profile[i] += float64(v)
						count[i]++
					}
				}
			}
			best := 1
			for i := range profile {
				if count[i] > 0 {
					profile[i] /= count[i]
				}
				if profile[i] > profile[best] {
					best = i
				}
			}
			at := (float64(best) + 0.5) * step
			if backing == 0 {
				centre := profile[2] / profile[best]
				t.Logf("%g px/mm: ring at %.3f mm, centre %.2f of it", perMM, at, centre)
				if at < ring-step/2 || at > 1.15*ring || centre > 0.35 {
					t.Errorf("%g px/mm: ring at %.3f mm (critical %.3f), centre %.2f of it", perMM, at, ring, centre)
				}
			} else if best > 3 {
				t.Errorf("%g px/mm: backed halo peaks at %.3f mm", perMM, at)
			}
		}
	}
}

// The Gaussians that a cloud is drawn with transfer every frequency as the cloud does, e^−τ(1−K̂),
// within 2e-3.
func TestCloudTransfer(t *testing.T) {
	for _, depth := range []float64{0.02, 0.27, 1.5} {
		c := Cloud{Depth: depth, Lobes: []Gaussian{{0.004, 0.72}, {0.02, 0.28}}}
		direct, terms := c.terms()
		for f := 0.5; f < 200; f *= 1.1 { // cycles across the picture
			got, lobes := direct, 0.0
			for _, g := range terms {
				got += g.Weight * math.Exp(-2*math.Pow(math.Pi*f*g.Sigma, 2))
			}
			for _, g := range c.Lobes {
				lobes += g.Weight * math.Exp(-2*math.Pow(math.Pi*f*g.Sigma, 2))
			}
			if want := math.Exp(-depth * (1 - lobes)); math.Abs(got-want) > 2e-3 {
				t.Errorf("depth %g, %d terms, %.1f cycles: %.5f, want %.5f", depth, len(terms), f, got, want)
			}
		}
		t.Logf("depth %g: %d terms", depth, len(terms))
	}
}

// A quick halo returns the same light to nearly the same places as the full one.
func TestQuickHaloIsNear(t *testing.T) {
	const n, perMM = 270, 19.3 // a draft's raster
	src := fill(n, n, func(x, y int) float64 {
		if math.Hypot(float64(x)-134.5, float64(y)-134.5) < 6 {
			return 40
		}
		return 0.1
	})
	full, quick := stock(0.3), stock(0.3)
	quick.Quick = true
	a, err := Halate(ctx, src, on(full, perMM))
	if err != nil {
		t.Fatal(err)
	}
	b, err := Halate(ctx, src, on(quick, perMM))
	if err != nil {
		t.Fatal(err)
	}
	var sa, sb, e2, n2 float64
	for y := range n {
		for x := range n {
			v, w, s := float64(a.Row(0, y)[x]), float64(b.Row(0, y)[x]), float64(src.Row(0, y)[x])
			sa, sb = sa+v, sb+w
			e2 += (v - w) * (v - w)
			if s < 1 { // the glow itself, not the lamp
				n2 += (v - 0.1) * (v - 0.1)
			}
		}
	}
	l2 := math.Sqrt(e2 / n2)
	t.Logf("light %.5f of the full halo's, L2 %.3f of its glow", sb/sa, l2)
	if math.Abs(sb/sa-1) > 1e-3 || l2 > 0.15 {
		t.Errorf("light %.5f of the full halo's, L2 %.3f of its glow", sb/sa, l2)
	}
}
