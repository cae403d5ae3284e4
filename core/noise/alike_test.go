package noise

import (
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/frame"
)

// Weights of a neighbour are what their definition says, pixel by pixel, across tiles and bands and at the edges of frames of odd sizes: worked out
// here without rings or kernels.
func TestWeightsByDefinition(t *testing.T) {
	const w, h = alikeTile + 77, alikeBand + 31
	r := rand.New(rand.NewPCG(5, 5))
	own, other := frame.New(w, h, 3), frame.New(w, h, 3)
	var l [3]Lags
	for p := range 3 {
		l[p][lags][lags] = 0.8
		l[p][lags][lags+1], l[p][lags][lags-1] = 0.2, 0.2
		for y := range h {
			for x := range w {
				own.Row(p, y)[x] = float32(r.NormFloat64())
				other.Row(p, y)[x] = float32(r.NormFloat64() + 1.2*math.Exp(-math.Hypot(float64(x-alikeTile), float64(y-alikeBand))/20))
			}
		}
	}
	for _, f := range []*frame.Frame{own, other} {
		if err := mirror(t.Context(), f); err != nil {
			t.Fatal(err)
		}
	}
	got := frame.New(w, h, 1)
	nothing := func(y, x, n int) {}
	if err := weighed(t.Context(), own, []*frame.Frame{other}, &l, &weighing{begin: nothing, end: nothing, add: func(_ *frame.Frame, y, x int, weights []float32) {
		copy(got.Part(0, y, x, len(weights)), weights)
	}}); err != nil {
		t.Fatal(err)
	}
	diff := func(p, x, y int) float64 {
		x, y = mirrored(x, w), mirrored(y, h)
		return float64(own.Row(p, y)[x] - other.Row(p, y)[x])
	}
	e := func(x, y int) (sum float64) {
		for p := range 3 {
			d := diff(p, x, y)
			sum += d * d / (6 * 0.8)
		}
		return sum
	}
	halved := func(of func(x, y int) float64, x, y int) (sum float64) {
		k := [4]float64{0.125, 0.375, 0.375, 0.125}
		for j := range 4 {
			for i := range 4 {
				sum += k[i] * k[j] * of(2*x-1+i, 2*y-1+j)
			}
		}
		return sum
	}
	through := func(of func(x, y int) float64, x, y int, k []float32) (sum float64) {
		for j := 1 - len(k); j < len(k); j++ {
			for i := 1 - len(k); i < len(k); i++ {
				sum += float64(k[abs(i)]*k[abs(j)]) * of(x+i, y+j)
			}
		}
		return sum
	}
	small := l[0].halved()
	excess := func(x, y int) float64 {
		wide := through(func(x, y int) float64 { return halved(e, x, y) }, x, y, gaussian(math.Sqrt(widely*widely-halvedVariance)/2))
		faint := 0.0
		for p := range 3 {
			d := through(func(x, y int) float64 { return halved(func(x, y int) float64 { return diff(p, x, y) }, x, y) }, x, y, faintly)
			faint += d * d / (6 * small.through(faintly))
		}
		return max(wide-wideLimit, 0)/wideSlack + max(faint-faintLimit, 0)/faintSlack
	}
	for _, x := range []int{0, 1, 2, 300, alikeTile - 2, alikeTile - 1, alikeTile, alikeTile + 1, w - 2, w - 1} {
		for _, y := range []int{0, 1, 17, alikeBand - 1, alikeBand, alikeBand + 1, h - 2, h - 1} {
			k, j := x/2, y/2
			farX, farY := k-1+x%2*2, j-1+y%2*2
			sum := 0.5625*excess(k, j) + 0.1875*(excess(farX, j)+excess(k, farY)) + 0.0625*excess(farX, farY)
			sum += max(through(e, x, y, gaussian(narrowly))-narrowLimit, 0) / narrowSlack
			if want, is := math.Exp(-sum), float64(got.Row(0, y)[x]); math.Abs(is-want) > 2e-4 {
				t.Errorf("at %d, %d a neighbour counts %.5f, by definition %.5f", x, y, is, want)
			}
		}
	}
}

// What a filter leaves of noise with covariances is the sum over the products of its weights.
func TestThroughAFilter(t *testing.T) {
	var white Lags
	white[lags][lags] = 2
	if got := white.through([]float32{0.75, 0.125}); math.Abs(got-2*math.Pow(0.5625+2*0.015625, 2)) > 1e-9 {
		t.Errorf("white noise keeps %g", got)
	}
	var flat Lags
	for y := range flat {
		for x := range flat[y] {
			flat[y][x] = 1
		}
	}
	if got := flat.through([]float32{0.75, 0.125}); math.Abs(got-1) > 1e-9 {
		t.Errorf("what is the same everywhere keeps %g", got)
	}
}
