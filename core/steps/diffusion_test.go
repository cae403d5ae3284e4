package steps

import (
	"fmt"
	"math"
	"testing"

	"gonum.org/v1/gonum/dsp/fourier"

	"velours/core/frame"
	"velours/core/look"
)

// exactly takes a picture's green channel through a transfer function of horizontal and vertical contrast, in cycles across the
// width, its edges going on as they end: a Fourier transform in double precision.
func exactly(f *frame.Frame) func(transfer func(u, v float64) float64) [][]float64 {
	pad := f.W * 3 / 2
	w, h := f.W+2*pad, f.H+2*pad
	across, down := fourier.NewCmplxFFT(w), fourier.NewCmplxFFT(h)
	both := func(data []complex128, one func(*fourier.CmplxFFT, []complex128)) {
		column := make([]complex128, h)
		for y := range h {
			one(across, data[y*w:(y+1)*w])
		}
		for x := range w {
			for y := range h {
				column[y] = data[y*w+x]
			}
			one(down, column)
			for y := range h {
				data[y*w+x] = column[y]
			}
		}
	}
	data := make([]complex128, w*h)
	for y := range h {
		row := f.Row(1, min(max(y-pad, 0), f.H-1))
		for x := range w {
			data[y*w+x] = complex(float64(row[min(max(x-pad, 0), f.W-1)]), 0)
		}
	}
	both(data, func(f *fourier.CmplxFFT, s []complex128) { f.Coefficients(s, s) })
	return func(transfer func(u, v float64) float64) [][]float64 {
		through := make([]complex128, w*h)
		for y := range h {
			for x := range w {
				through[y*w+x] = data[y*w+x] * complex(transfer(across.Freq(x)*float64(f.W), down.Freq(y)*float64(f.W))/float64(w*h), 0)
			}
		}
		both(through, func(f *fourier.CmplxFFT, s []complex128) { f.Sequence(s, s) })
		out := make([][]float64, f.H)
		for y := range out {
			out[y] = make([]float64, f.W)
			for x := range out[y] {
				out[y][x] = real(through[(y+pad)*w+x+pad])
			}
		}
		return out
	}
}

// drift is by how many stops mid tones are raised, weighted by a bell of 1.5 stops about mid grey (the design's part B4).
func drift(before, after func(x, y int) float64, w, h int) float64 {
	sum, weight := 0.0, 0.0
	for y := range h {
		for x := range w {
			b := before(x, y)
			k := math.Exp(-math.Pow(math.Log2(b/0.18), 2) / (2 * 1.5 * 1.5))
			sum += k * math.Log2(after(x, y)/b)
			weight += k
		}
	}
	return sum / weight
}

// What a filter does to a black patch beside a card and to mid grey is, within 3 %, what the exact transfer does, computed
// apart; compensated, mid grey stays within a hundredth of a stop. Constants as in the design's part B2.
func TestDiffusionLiftsAsTheExactTransferDoes(t *testing.T) {
	const w = 320
	s := stage(w)
	src, err := s.Frame(ctx, 0)
	if err != nil {
		t.Fatal(err)
	}
	through := exactly(src)
	patch := func(at func(x, y int) float64) float64 { return at(w/4, w*3/10) }
	was := func(x, y int) float64 { return float64(src.Row(1, y)[x]) }
	for _, f := range []struct {
		name   string
		tau    float64
		sigma  []float64
		weight []float64
	}{
		{"mist", .22, []float64{.004, .012, .035}, []float64{.55, .30, .15}},
		{"fog", .45, []float64{.006, .025, .09, .28}, []float64{.20, .25, .25, .30}},
		{"net", .16, []float64{.003, .012}, []float64{.5, .5}},
		{"veil", .30, []float64{.0015, .02, .35}, []float64{.15, .25, .60}},
		{"silk", .24, []float64{.005, .016, .05}, []float64{.45, .35, .20}},
	} {
		for _, q := range []float64{0.25, 1, 2} {
			arm := func(c float64) float64 {
				if f.name != "net" {
					return 1
				}
				a := math.Pow(.9, q)
				return a + (1-a)*max(0, 1-math.Abs(c)*.54e-3*50/(24.9*.1))
			}
			exact := through(func(u, v float64) float64 {
				k := 0.0
				for i, sigma := range f.sigma {
					k += f.weight[i] * math.Exp(-2*math.Pi*math.Pi*sigma*sigma*(u*u+v*v))
				}
				return math.Exp(-f.tau*q*(1-k)) * arm(u) * arm(v)
			})
			want := func(x, y int) float64 { return exact[y][x] }
			sets := []string{"lens.diffusion.family=" + f.name, fmt.Sprint("lens.diffusion.grade=", q)}
			out := s.frames(t, lookOf(t, append(sets, "lens.diffusion.compensate=0")...), 0)[0]
			got := func(x, y int) float64 { return float64(out.Row(1, y)[x]) }
			lift, wanted := patch(got)/patch(was), patch(want)/patch(was)
			d, e := drift(was, got, w, src.H), drift(was, want, w, src.H)
			t.Logf("%s %g: patch × %.3f, exactly %.3f; mid grey %+.4f stops, exactly %+.4f", f.name, q, lift, wanted, d, e)
			if math.Abs(lift/wanted-1) > 0.03 || math.Abs(d-e) > max(0.03*math.Abs(e), 0.002) {
				t.Errorf("%s %g: patch × %.3f, exactly %.3f; mid grey %+.4f stops, exactly %+.4f", f.name, q, lift, wanted, d, e)
			}
			out = s.frames(t, lookOf(t, sets...), 0)[0]
			if d := drift(was, got, w, src.H); math.Abs(d) > 0.01 {
				t.Errorf("%s %g compensated: mid grey drifts by %+.4f stops", f.name, q, d)
			}
		}
	}
}

// Compensation is found once a shot: while a lamp comes and goes, it changes nothing from frame to frame.
func TestCompensationDoesNotPump(t *testing.T) {
	const n = 48
	still := stage(192)
	s := shot{name: "lamp that comes and goes", n: n, w: still.w, h: still.h, draw: func(n, x, y int) [3]float64 {
		c := still.draw(0, x, y)
		k := math.Pow(math.Sin(math.Pi*float64(n)/24), 2)
		d := math.Hypot(float64(x)-40, float64(y)-80) / 3
		v := 400 * k * math.Exp(-d*d*d*d)
		return [3]float64{c[0] + v, c[1] + v, c[2] + v}
	}}
	var numbers []int
	for i := range n {
		numbers = append(numbers, i)
	}
	with := s.frames(t, lookOf(t, "lens.diffusion.grade=2", "lens.diffusion.family=fog"), numbers...)
	without := s.frames(t, lookOf(t, "lens.diffusion.grade=2", "lens.diffusion.family=fog", "lens.diffusion.compensate=0"), numbers...)
	last := math.NaN()
	for i := range with {
		sum := 0.0
		for y := range s.h {
			for x := range s.w {
				sum += math.Log2(float64(with[i].Row(1, y)[x] / without[i].Row(1, y)[x]))
			}
		}
		stops := sum / float64(s.w*s.h)
		if i == 0 && stops > -0.1 {
			t.Errorf("compensation takes back %+.3f stops: there is nothing to pump", stops)
		}
		if i > 0 && math.Abs(stops-last) > 0.002 {
			t.Errorf("frame %d: it changes by %+.4f stops", i, stops-last)
		}
		last = stops
	}
}

// Frames that are missing do not keep a shot from being compensated by those that are there.
func TestCompensationOfAShotWithAGap(t *testing.T) {
	whole := stage(160)
	torn := whole
	torn.name, torn.n, torn.gap = "torn", 12, 3
	l := lookOf(t, "lens.diffusion.grade=2", "lens.diffusion.family=fog")
	if !equal(torn.frames(t, l, 0)[0], whole.frames(t, l, 0)[0]) {
		t.Error("a shot with a gap is compensated otherwise than its own frames")
	}
}

// Two halves of a grade are one, and even light stays even, channel by channel, warm filters' too.
func TestGradesAddAndEvenLightStays(t *testing.T) {
	s := stage(480)
	even := shot{name: "even", n: 1, w: 200, h: 120, draw: func(_, _, _ int) [3]float64 { return [3]float64{0.4, 0.2, 0.05} }}
	for _, f := range diffusionFamilies {
		family := "lens.diffusion.family=" + f.id
		l := lookOf(t, family, "lens.diffusion.grade=0.5")
		p, err := l.Add(look.Lens, "diffusion", -1)
		if err != nil {
			t.Fatal(err)
		}
		p.Settings["family"], p.Settings["grade"] = f.id, 0.5
		l1 := lookOf(t, family, "lens.diffusion.grade=1", "lens.diffusion.compensate=0")
		for _, q := range []string{"diffusion", "diffusion-2"} {
			l.Step(look.Lens, q).Settings["compensate"] = 0.0
		}
		one := s.frames(t, l1, 0)[0]
		two := s.frames(t, l, 0)[0]
		var e, n float64
		for y := range s.h {
			for x := range s.w {
				a, b := one.At(x, y), two.At(x, y)
				for c := range a {
					e += (a[c] - b[c]) * (a[c] - b[c])
					n += a[c] * a[c]
				}
			}
		}
		if l2 := math.Sqrt(e / n); l2 > 0.002 {
			t.Errorf("%s: two halves are one but for %.5f", f.id, l2)
		}
		out := even.frames(t, lookOf(t, family, "lens.diffusion.grade=2", "lens.diffusion.warmth=100", "lens.diffusion.turn=30", "lens.diffusion.aspect=2"), 0)[0]
		for y := range even.h {
			for x := range even.w {
				for c, v := range out.At(x, y) {
					if want := even.draw(0, x, y)[c]; math.Abs(v/want-1) > 1e-4 {
						t.Fatalf("%s: even light of %g becomes %g", f.id, want, v)
					}
				}
			}
		}
	}
}
