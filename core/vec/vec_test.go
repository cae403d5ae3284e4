package vec

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// wide returns a row of n samples with room to overrun on both sides.
func wide(n int, f func(i int) float32) []float32 {
	s := make([]float32, n+96)
	for i := range s {
		s[i] = f(i - 32)
	}
	return s[32 : 32+n : 32+n+64]
}

func random(n int, lo, hi float64, seed uint64) []float32 {
	r := rand.New(rand.NewPCG(seed, 7))
	return wide(n, func(int) float32 { return float32(lo + (hi-lo)*r.Float64()) })
}

// each runs a test body under every back end of this machine.
func each(t *testing.T, body func(t *testing.T)) {
	was := Backend()
	defer Use(was)
	for _, name := range Backends() {
		Use(name)
		t.Run(name, body)
	}
}

func TestLog2AgainstMath(t *testing.T) {
	each(t, func(t *testing.T) {
		src := random(4096, -20, 20, 1)
		for i := range src {
			src[i] = float32(math.Exp2(float64(src[i])))
		}
		dst := wide(len(src), func(int) float32 { return 0 })
		Log2(dst, src, 1e-9)
		for i, x := range src {
			if e := math.Abs(float64(dst[i]) - math.Log2(float64(x))); e > 3e-7+1.3e-7*math.Abs(math.Log2(float64(x))) {
				t.Fatalf("log2(%g) = %g, off by %g", x, dst[i], e)
			}
		}
	})
}

func TestExp2AgainstMath(t *testing.T) {
	each(t, func(t *testing.T) {
		src := random(4096, -30, 30, 2)
		dst := wide(len(src), func(int) float32 { return 0 })
		Exp2(dst, src)
		for i, x := range src {
			want := math.Exp2(float64(x))
			if e := math.Abs(float64(dst[i])/want - 1); e > 3e-7 {
				t.Fatalf("exp2(%g) = %g, relative error %g", x, dst[i], e)
			}
		}
	})
}

func TestCurveFollowsItsFunction(t *testing.T) {
	soft := func(x float64) float64 { return math.Log1p(math.Exp(2*x)) / 2 }
	c := NewCurve(-4, 4, soft)
	each(t, func(t *testing.T) {
		src := random(4096, -5, 6, 3)
		dst := wide(len(src), func(int) float32 { return 0 })
		ApplyCurve(dst, src, c)
		for i, x := range src {
			if e := math.Abs(float64(dst[i]) - soft(float64(x))); e > 5e-5 && x > -4 && x < 4 {
				t.Fatalf("curve(%g) = %g, off by %g", x, dst[i], e)
			}
		}
	})
}

func TestTableIsExactForAffineColours(t *testing.T) {
	table := NewTable3(9)
	f := func(r, g, b float64) (float32, float32, float32) {
		return float32(.2*r + .5*g - .1*b + .1), float32(r - g), float32(b*.7 + .1*g)
	}
	for k := range 9 {
		for j := range 9 {
			for i := range 9 {
				r, g, b := f(float64(i)/8, float64(j)/8, float64(k)/8)
				table.Set(i, j, k, r, g, b)
			}
		}
	}
	each(t, func(t *testing.T) {
		r, g, b := random(999, 0, 1, 4), random(999, 0, 1, 5), random(999, 0, 1, 6)
		r[0], g[0], b[0] = 0, 0, 0
		r[1], g[1], b[1] = 1, 1, 1
		r[2], g[2], b[2] = .5, .5, .5
		r0, g0, b0 := append([]float32(nil), r...), append([]float32(nil), g...), append([]float32(nil), b...)
		Apply3(r, g, b, table)
		for i := range r {
			x, y, z := f(float64(r0[i]), float64(g0[i]), float64(b0[i]))
			if math.Abs(float64(r[i]-x)) > 1e-6 || math.Abs(float64(g[i]-y)) > 1e-6 || math.Abs(float64(b[i]-z)) > 1e-6 {
				t.Fatalf("colour %d: got %g %g %g, want %g %g %g", i, r[i], g[i], b[i], x, y, z)
			}
		}
	})
}

// A parabola through a symmetric kernel stays a parabola, raised by the kernel's variance.
func TestTapsSumNeighbours(t *testing.T) {
	each(t, func(t *testing.T) {
		for _, h := range [][]float32{{2}, {.5, .25}, {.4, .2, .1}, {.4, .15, .1, .05}} {
			r := len(h) - 1
			sum, variance := float64(h[0]), 0.0
			for k := 1; k <= r; k++ {
				sum += 2 * float64(h[k])
				variance += 2 * float64(h[k]) * float64(k*k)
			}
			around := wide(100+2*r, func(i int) float32 { return float32((i - r) * (i - r)) })
			dst := wide(100, func(int) float32 { return 0 })
			Taps(dst, around, NewSymmetric(h))
			for i := range dst {
				want := sum*float64(i*i) + variance
				if math.Abs(float64(dst[i])-want) > 1e-6*want+1e-5 {
					t.Fatalf("%d taps at %d: %g, want %g", len(h), i, dst[i], want)
				}
			}
		}
	})
}

func TestModulateScalesByTheLaw(t *testing.T) {
	law := NewShort(0, 2, false, func(x float64) float64 { return 3 - x })
	each(t, func(t *testing.T) {
		d := random(300, -0.5, 2.5, 41)
		a, b := random(300, -1, 1, 42), random(300, -1, 1, 43)
		got := wide(300, func(int) float32 { return 0 })
		copy(got, d)
		Modulate(got, a, b, 0.8, -0.6, law)
		for i := range got {
			// beyond its range the law keeps its end values
			want := d[i] + (3-min(max(d[i], 0), 2))*(0.8*a[i]-0.6*b[i])
			if math.Abs(float64(got[i]-want)) > 2e-6 {
				t.Fatalf("at %d: %g, want %g", i, got[i], want)
			}
		}
	})
}

// The vector widths must give the same bits, and the plain form the same numbers to rounding.
func TestBackendsAgree(t *testing.T) {
	table := NewTable3(17)
	r := rand.New(rand.NewPCG(9, 9))
	for i := range table.Data {
		table.Data[i] = r.Float32()
	}
	curve := NewCurve(-3, 3, math.Sin)
	law := NewShort(0, 2, true, math.Sqrt)
	logs := &Log{Cut: .15, A: .2, B: -.02, C: .18, D: 13.6, E: -5.3, F: -.009}
	run := func() [][]float32 {
		a, b, c := random(777, 0, 1, 11), random(777, 0, 1, 12), random(777, -2, 4, 13)
		d := wide(777, func(int) float32 { return 0 })
		var out [][]float32
		keep := func(s []float32) { out = append(out, append([]float32(nil), s...)) }
		Decode(d, a, logs)
		keep(d)
		ApplyCurve(d, c, curve)
		keep(d)
		Mix(d, a, b, .3, .7)
		keep(d)
		Columns(d, [][]float32{a, b, c, c, a, b, a}, NewSymmetric([]float32{.4, .15, .1, .05}), .7)
		keep(d)
		Modulate(d, b, c, .6, .2, law)
		keep(d)
		ApplyShort(d, c, law)
		keep(d)
		for _, h := range [][]float32{{1}, {.5, .25}, {.4, .2, .1}, {.4, .15, .1, .05}} {
			r := len(h) - 1
			Taps(d[:777-2*r], a, NewSymmetric(h))
			keep(d)
		}
		Weigh(d, a, b, c, a, &[4]float32{.1, .2, .3, .4})
		keep(d)
		Matrix(a, b, c, &[12]float32{.5, .3, .2, 0, .1, .8, .1, .01, 0, .2, .8, -.02})
		keep(a)
		keep(c)
		Apply3(a, b, c, table)
		keep(a)
		keep(b)
		Bound(c, 0.7)
		keep(c)
		u, v := wide(777, func(int) float32 { return 0.1 }), wide(777, func(int) float32 { return 0.2 })
		OneSided(u, v, random(777, -1, 1, 21), random(777, -1, 1, 22), 0.7, -0.4, NewShort(0, 1.2, false, func(x float64) float64 { return x * x * x / (x*x + 0.01) }))
		keep(u)
		keep(v)
		at := make([]int32, 600)
		for i := range at {
			at[i] = int32(i % 150)
		}
		Cubic(d[:599], a, at, 200, b, c)
		keep(d[:599])
		return out
	}
	was := Backend()
	defer Use(was)
	var first, vector [][]float32
	for _, name := range Backends() {
		Use(name)
		got := run()
		switch {
		case name == "plain":
			first = got
			continue
		case vector == nil:
			vector = got
		}
		for i := range got {
			for j := range got[i] {
				if got[i][j] != vector[i][j] {
					t.Fatalf("%s, output %d, sample %d: %g against %g", name, i, j, got[i][j], vector[i][j])
				}
				if e := math.Abs(float64(got[i][j] - first[i][j])); e > 2e-5*(1+math.Abs(float64(first[i][j]))) {
					t.Fatalf("%s, output %d, sample %d: %g, plain %g", name, i, j, got[i][j], first[i][j])
				}
			}
		}
	}
}

// A cubic through four samples is exact for a slope, and at a sample is that sample.
func TestCubicDrawsASlope(t *testing.T) {
	const pitch = 40
	data := make([]float32, 8*pitch)
	for i := range data {
		data[i] = float32(i%pitch)*3 + float32(i/pitch)*7
	}
	was := Backend()
	defer Use(was)
	for _, name := range Backends() {
		Use(name)
		n := 33
		dst, at, tx, ty := make([]float32, n), make([]int32, n), make([]float32, n), make([]float32, n)
		for i := range at {
			at[i] = int32(i%4*pitch + i)
			tx[i], ty[i] = float32(i%8)/8, float32(i%5)/5
		}
		Cubic(dst, data, at, pitch, tx, ty)
		for i, v := range dst {
			want := 3*(float64(i)+1+float64(tx[i])) + 7*(float64(i%4)+1+float64(ty[i]))
			if math.Abs(float64(v)-want) > 1e-4 {
				t.Fatalf("%s, %d: %g, want %g", name, i, v, want)
			}
		}
		// past an edge nothing rings
		step := []float32{0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1, 1}
		Cubic(dst[:1], step, []int32{0}, 4, []float32{0.1}, []float32{0.5})
		if dst[0] < 0 || dst[0] > 0.1 {
			t.Errorf("%s: %g beside an edge", name, dst[0])
		}
	}
}

func BenchmarkKernels(b *testing.B) {
	n := 3840
	x, y, z := random(n, 0, 1, 1), random(n, 0, 1, 2), random(n, 0, 1, 3)
	table, curve := NewTable3(33), NewCurve(-3, 3, math.Sin)
	short, logs := NewShort(0, 3, true, math.Sin), &Log{Cut: .15, A: .2, C: .18, D: 13.6, E: -5.3}
	was := Backend()
	defer Use(was)
	for _, name := range Backends() {
		Use(name)
		for _, k := range []struct {
			name string
			f    func()
		}{
			{"matrix", func() { Matrix(x, y, z, &[12]float32{1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0}) }},
			{"log2", func() { Log2(y, x, 1e-6) }},
			{"curve", func() { ApplyCurve(y, x, curve) }},
			{"table", func() { Apply3(x, y, z, table) }},
			{"short", func() { ApplyShort(y, x, short) }},
			{"noise", func() { Noise([3][]float32{x, y, z}, 12345, &[3]uint64{678, 679, 680}) }},
			{"decode", func() { Decode(y, x, logs) }},
		} {
			b.Run(name+"/"+k.name, func(b *testing.B) {
				for b.Loop() {
					k.f()
				}
				b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/float64(n), "ns/sample")
			})
		}
	}
}

func TestHalveAndDouble(t *testing.T) {
	each(t, func(t *testing.T) {
		src := random(240, 0, 1, 21)
		dst := wide(100, func(int) float32 { return 0 })
		Halve(dst, src)
		for x := range dst {
			want := (src[2*x] + 3*src[2*x+1] + 3*src[2*x+2] + src[2*x+3]) / 8
			if math.Abs(float64(dst[x]-want)) > 1e-6 {
				t.Fatalf("half %d: %g, want %g", x, dst[x], want)
			}
		}
		line, base := random(140, 0, 1, 22), random(200, 0, 1, 23)
		out := wide(200, func(int) float32 { return 0 })
		Double(out, base, line, 0.5, 2)
		for x := range out {
			far := line[x/2]
			if x&1 == 1 {
				far = line[x/2+2]
			}
			want := 0.5*base[x] + 2*(0.75*line[x/2+1]+0.25*far)
			if math.Abs(float64(out[x]-want)) > 1e-6 {
				t.Fatalf("double %d: %g, want %g", x, out[x], want)
			}
		}
	})
}

// The noise is the same bits in every form.
func TestNoiseIsTheSameEverywhere(t *testing.T) {
	was := Backend()
	defer Use(was)
	row := func() []float32 { return wide(1000, func(int) float32 { return 0 }) }
	var want [3][]float32
	for _, name := range Backends() {
		Use(name)
		got := [3][]float32{row(), row(), row()}
		Noise(got, 0x1234567890abcdef, &[3]uint64{0xfedcba, 0, 0xfedcba9876543210})
		if want[0] == nil {
			want = got
		}
		for l := range got {
			for i := range got[l] {
				if got[l][i] != want[l][i] {
					t.Fatalf("%s differs at %d of row %d: %g against %g", name, i, l, got[l][i], want[l][i])
				}
			}
			one := row()
			NoiseRow(one, 0x1234567890abcdef, [3]uint64{0xfedcba, 0, 0xfedcba9876543210}[l])
			if !slices.Equal(one[:1000], want[l][:1000]) {
				t.Fatalf("%s: row %d made alone is another", name, l)
			}
		}
	}
}

func TestShortFollowsItsFunction(t *testing.T) {
	for _, root := range []bool{false, true} {
		f := func(x float64) float64 { return math.Sqrt(0.1 + x) }
		c := NewShort(0, 2, root, f)
		each(t, func(t *testing.T) {
			src := random(2000, -0.2, 2.4, 31)
			dst := wide(len(src), func(int) float32 { return 0 })
			ApplyShort(dst, src, c)
			for i, x := range src {
				if math.Abs(float64(dst[i]-c.At(x))) > 2e-6 {
					t.Fatalf("root %v: at %g %g, plain %g", root, x, dst[i], c.At(x))
				}
				if x > 0 && x < 2 && math.Abs(float64(dst[i])-f(float64(x))) > 3e-3 {
					t.Fatalf("root %v: at %g %g, function %g", root, x, dst[i], f(float64(x)))
				}
			}
		})
	}
}

// Bound leaves sound samples alone to the bit, at every width.
func TestBoundMendsWhatIsUnsound(t *testing.T) {
	nan, inf := float32(math.NaN()), float32(math.Inf(1))
	in := []float32{nan, inf, -inf, 3e38, -3e38, 1e-42, -0.25, 0, 7, 8, -8, 8.5, -nan}
	want := []float32{0, 8, -8, 8, -8, 1e-42, -0.25, 0, 7, 8, -8, 8, 0}
	was := Backend()
	defer Use(was)
	for _, name := range Backends() {
		Use(name)
		row := wide(len(in), func(i int) float32 { return in[min(max(i, 0), len(in)-1)] })
		Bound(row, 8)
		for i, v := range row {
			if v != want[i] {
				t.Errorf("%s: %g became %g, want %g", name, in[i], v, want[i])
			}
		}
	}
}

// Bytes and words become the numbers that they are, and nothing is read or written beyond what was asked for, whatever the length.
func TestSamplesAndCodes(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	var mask [Cell]int32
	for i := range mask {
		mask[i] = int32(r.IntN(Ranks))
	}
	was := Backend()
	defer Use(was)
	for _, n := range []int{1, 15, 16, 17, 63, 64, 65, 200, 1001} {
		src := make([]byte, 2*n)
		for i := range src {
			src[i] = byte(r.Uint32())
		}
		values := random(n, -3, 300, uint64(n))
		values[0] = float32(math.NaN())
		turns := make([][8]int32, (n+Cell-1)/Cell)
		for i := range turns {
			v := int32(r.IntN(Ranks))
			turns[i] = [8]int32{v, v, v, v, v, v, v, v}
		}
		th := &Thresholds{Ranks: &mask, Turns: turns, First: 0.01, Unit: 0.98 / Ranks}
		for _, name := range Backends() {
			Use(name)
			a, b := wide(n, func(int) float32 { return 0 }), wide(n, func(int) float32 { return 0 })
			FromBytes(a, src[:n:n], 2, -1)
			FromWords(b, src, 0.5, 3)
			codes := make([]byte, 2*n+2)
			codes[2*n], codes[2*n+1] = 77, 78
			ToWords(codes[:2*n], values, th, 4, 250)
			for i := range n {
				if want := float32(src[i])*2 - 1; a[i] != want {
					t.Fatalf("%s: byte %d is %g, not %g", name, i, a[i], want)
				}
				if want := float32(uint16(src[2*i])|uint16(src[2*i+1])<<8)*0.5 + 3; b[i] != want {
					t.Fatalf("%s: word %d is %g, not %g", name, i, b[i], want)
				}
				v := float64(max(min(values[i], 250), 4))
				if values[i] != values[i] {
					v = 4
				}
				rank := (mask[i%Cell] + turns[i/Cell][0]) % Ranks
				// to a hair, as sums may be fused
				at := v + 0.01 + 0.98/Ranks*float64(rank)
				if got := float64(uint16(codes[2*i]) | uint16(codes[2*i+1])<<8); math.Abs(at-1e-4-0.5-got) > 0.5001 && math.Abs(at+1e-4-0.5-got) > 0.5001 {
					t.Fatalf("%s: %g with %g is %g", name, v, at, got)
				}
			}
			if codes[2*n] != 77 || codes[2*n+1] != 78 {
				t.Fatalf("%s: written beyond %d codes", name, n)
			}
		}
	}
}

func TestHalfAndBetween(t *testing.T) {
	each(t, func(t *testing.T) {
		src := random(260, 0, 1, 51)
		half := wide(100, func(int) float32 { return 0 })
		Every2(half, src)
		for x, v := range half {
			if want := (src[2*x] + 2*src[2*x+1] + src[2*x+2]) / 4; math.Abs(float64(v-want)) > 1e-6 {
				t.Fatalf("half %d: %g, want %g", x, v, want)
			}
		}
		whole := wide(203, func(int) float32 { return 0 })
		Between(whole, src)
		for x, v := range whole {
			if want := (src[x/2] + src[(x+1)/2]) / 2; v != want {
				t.Fatalf("between, %d: %g, want %g", x, v, want)
			}
		}
		sum := wide(77, func(int) float32 { return 0 })
		Sum(sum, src, src[1:], src[2:], &[4]float32{0.2, 0.7, -0.1, 3})
		for x, v := range sum {
			if want := 0.2*src[x] + 0.7*src[x+1] - 0.1*src[x+2] + 3; math.Abs(float64(v-want)) > 1e-6 {
				t.Fatalf("sum, %d: %g, want %g", x, v, want)
			}
		}
	})
}

// Blocks gathered are their sums, and grown they are what lies between them, to the bit in every form.
func TestBlocks(t *testing.T) {
	was := Backend()
	defer Use(was)
	for _, f := range []int{2, 3, 4, 5, 6, 7, 12, 31} {
		b := NewBlocks(f)
		src := random(200*f, -1, 1, uint64(f))
		for _, name := range Backends() {
			Use(name)
			for _, n := range []int{1, 7, 16, 33, 100} {
				got := wide(n, func(int) float32 { return 0 })
				b.Gather(got, src, 3)
				for x, v := range got {
					var sum float32
					for k := range f {
						sum += src[x*f+k]
					}
					if v != sum/3 {
						t.Fatalf("%s, %d, block %d: %g, want %g", name, f, x, v, sum/3)
					}
				}
			}
			for _, n := range []int{1, 16, 100, 7*f + 3} {
				got := wide(n, func(int) float32 { return 2 })
				b.Grow(got, src)
				for x, v := range got {
					u := (float64(x)+0.5)/float64(f) - 0.5
					i := int(math.Floor(u))
					mix := float32(u - math.Floor(u))
					// of samples as near as rounding of the share allows: that of a place in its block
					want := float64(src[i+1]) + float64(src[i+2]-src[i+1])*float64(mix) + 2
					if math.Abs(float64(v)-want) > 1e-6 {
						t.Fatalf("%s, %d, sample %d: %g, want %g", name, f, x, v, want)
					}
				}
			}
		}
	}
}

// Runs of samples are weighed as a plain loop weighs them, to the bit in every form, and nothing is written behind the row.
func TestSpans(t *testing.T) {
	each(t, func(t *testing.T) {
		for _, k := range []float64{0.3, 0.99, 1.2, 1.5, 2, 2.2, 3.7, 9, 40} {
			for _, n := range []int{1, 7, 8, 61, 100} {
				src := random(int(k*float64(n))+64, -1, 2, uint64(n))
				places, weights := make([]int, n), make([][]float32, n)
				for x := range places {
					places[x] = int(k * float64(x))
					for i := range 1 + (x+n)%4 + int(k) {
						weights[x] = append(weights[x], float32(x+i)/7)
					}
				}
				got := wide(n, func(int) float32 { return 0 })
				NewSpans(places, weights).Weigh(got, src)
				for x, v := range got {
					var want float32
					for i, w := range weights[x] {
						want += w * src[places[x]+i]
					}
					if v != want {
						t.Fatalf("%g, sample %d of %d: %g, want %g", k, x, n, v, want)
					}
				}
			}
		}
	})
}

// Screens get what is nearest of their 256 codes; what is no number is black.
func TestToScreen(t *testing.T) {
	each(t, func(t *testing.T) {
		for _, n := range []int{1, 8, 13, 300} {
			r, g, b := random(n, -0.5, 1.5, 1), random(n, 0, 1, 2), random(n, 0.2, 0.21, 3)
			r[0], g[n-1], b[n/2] = float32(math.NaN()), float32(math.Inf(1)), float32(math.Inf(-1))
			got := make([]byte, 4*n+4)
			got[4*n] = 77
			ToScreen(got, r, g, b)
			for x := range r {
				for c, v := range []float32{r[x], g[x], b[x]} {
					want := byte(math.Floor(min(max(float64(v), 0), 1)*255 + 0.5))
					if v != v {
						want = 0
					}
					if d := int(got[4*x+c]) - int(want); d < -1 || d > 1 || d != 0 && math.Abs(math.Mod(float64(v)*255, 1)-0.5) > 1e-4 {
						t.Fatalf("pixel %d of %d, channel %d of %g: %d, want %d", x, n, c, v, got[4*x+c], want)
					}
				}
				if got[4*x+3] != 255 {
					t.Fatal("a pixel lets light through")
				}
			}
			if got[4*n] != 77 {
				t.Fatal("written behind the row")
			}
		}
	})
}

func TestPointwiseRows(t *testing.T) {
	each(t, func(t *testing.T) {
		src := random(3000, -30, 30, 61)
		for i := range src {
			src[i] *= float32(math.Exp2(float64(i%40) - 30))
		}
		src[0], src[1] = 0, float32(math.Copysign(0, -1))
		row := wide(len(src), func(int) float32 { return 0 })
		copy(row, src)
		CubeRoot(row)
		for i, v := range src {
			if want := math.Cbrt(float64(v)); math.Abs(float64(row[i])-want) > 1e-6*math.Abs(want)+1e-10 {
				t.Fatalf("the cube root of %g is %g, not %g", v, row[i], want)
			}
		}
		Cube(row)
		for i, v := range src {
			if math.Abs(float64(row[i]-v)) > 4e-6*math.Abs(float64(v))+1e-30 {
				t.Fatalf("%g became %g", v, row[i])
			}
		}
		Affine(row, src, 3, -0.25)
		for i, v := range src {
			if want := v*3 - 0.25; row[i] != want {
				t.Fatalf("3·%g − 1/4 is %g, not %g", v, row[i], want)
			}
		}
		nan := float32(math.NaN())
		a, b := wide(5, func(i int) float32 { return []float32{1, 5, nan, 2, -1}[min(max(i, 0), 4)] }), wide(5, func(i int) float32 { return []float32{3, 4, 7, nan, -2}[min(max(i, 0), 4)] })
		Raise(a, b)
		if a[0] != 3 || a[1] != 5 || a[2] == a[2] || a[3] != 2 || a[4] != -1 {
			t.Errorf("raised to %v", a[:5])
		}
	})
}
