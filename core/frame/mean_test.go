package frame

import (
	"math"
	"testing"
)

// An average against the sum written out, inside, at the edges, at whole and part radii, and across bands.
func TestMeanIsTheSum(t *testing.T) {
	f := New(41, 150, 1)
	for y := range f.H {
		for x := range f.W {
			f.Row(0, y)[x] = float32(math.Sin(float64(x*x)*0.3) + math.Cos(float64(y*7)))
		}
	}
	for _, r := range []float64{0.3, 1, 2.75, 20, 70.5} {
		g, err := Mean(ctx, f, r)
		if err != nil {
			t.Fatal(err)
		}
		n := int(math.Ceil(r))
		weight := func(d int) float64 { return min(1, max(0, r+1-math.Abs(float64(d)))) }
		for _, at := range [][2]int{{0, 0}, {20, 63}, {20, 64}, {40, 149}, {3, 100}} {
			sum, all := 0.0, 0.0
			for dy := -n; dy <= n; dy++ {
				for dx := -n; dx <= n; dx++ {
					w := weight(dx) * weight(dy)
					sum += w * float64(f.Row(0, min(max(at[1]+dy, 0), f.H-1))[min(max(at[0]+dx, 0), f.W-1)])
					all += w
				}
			}
			if got := float64(g.Row(0, at[1])[at[0]]); math.Abs(got-sum/all) > 1e-5 {
				t.Errorf("radius %g at %v: %g, want %g", r, at, got, sum/all)
			}
		}
	}
}

// A point softens to nearly a Gaussian of the variance asked for.
func TestSoftenIsNearlyGaussian(t *testing.T) {
	for _, sigma := range []float64{1.5, 4, 9.3} {
		f := New(121, 121, 1)
		f.Row(0, 60)[60] = 1
		g, err := Soften(ctx, f, sigma)
		if err != nil {
			t.Fatal(err)
		}
		sum, square, worst := 0.0, 0.0, 0.0
		for y := range g.H {
			for x := range g.W {
				v, dx, dy := float64(g.Row(0, y)[x]), float64(x-60), float64(y-60)
				sum += v
				square += v * (dx*dx + dy*dy) / 2
				worst = max(worst, math.Abs(v*2*math.Pi*sigma*sigma-math.Exp(-(dx*dx+dy*dy)/(2*sigma*sigma))))
			}
		}
		if math.Abs(sum-1) > 1e-4 || math.Abs(math.Sqrt(square)/sigma-1) > 1e-3 || worst > 1.0/13 {
			t.Errorf("σ %g: sums to %g, σ is %g, off by %.3f of the peak", sigma, sum, math.Sqrt(square), worst)
		}
	}
}
