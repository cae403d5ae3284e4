package scatter

import (
	"math"
	"testing"

	"velours/core/frame"
)

// lampAt is a small lamp on black.
func lampAt(w, h int, half float64) *frame.Frame {
	f := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			for x := range w {
				if math.Abs(float64(x)+0.5-float64(w)/2) < half*float64(w)/float64(h) && math.Abs(float64(y)+0.5-float64(h)/2) < half {
					f.Row(p, y)[x] = 40
				}
			}
		}
	}
	return f
}

// What the film of a squeezed picture returns is what it returns of the picture as it lies on the film, shown twice as wide.
func TestSqueezedHalos(t *testing.T) {
	round := Halo{Thickness: 0.13, Index: 1.49, Held: [3]float64{0.3, 0.14, 0.02}, Back: [3]float64{0.9, 0.35, 0.05}, Amount: 1, PerMM: 40}.Plain()
	for _, backing := range []float64{0, 0.5, 1} {
		round.Backing = backing
		wide := round
		wide.PerMM, wide.Squeeze = 80, 2
		a, err := Halate(t.Context(), lampAt(160, 160, 3), round)
		if err != nil {
			t.Fatal(err)
		}
		b, err := Halate(t.Context(), lampAt(320, 160, 3), wide)
		if err != nil {
			t.Fatal(err)
		}
		near, _, err := wide.Scattered(t.Context(), lampAt(320, 160, 3), false)
		if err != nil {
			t.Fatal(err)
		}
		worst := 0.0
		for y := range 160 {
			for x := range 160 {
				p, q := float64(a.Row(0, y)[x]), (float64(b.Row(0, y)[2*x])+float64(b.Row(0, y)[2*x+1]))/2
				worst = max(worst, math.Abs(p-q)/(0.02+p))
				if math.Abs(float64(x)-79.5) > 4 || math.Abs(float64(y)-79.5) > 4 { // where there is no lamp, all of it returned
					if d := math.Abs(float64(near.Row(0, y)[2*x]) - float64(b.Row(0, y)[2*x])); d > 1e-5 {
						t.Fatalf("backing %g: what returns is %.5f away from what is added at %d, %d", backing, d, x, y)
					}
				}
			}
		}
		t.Logf("backing %g: %.3f apart at most", backing, worst)
		if worst > 0.05 {
			t.Errorf("backing %g: %.3f apart", backing, worst)
		}
	}
}

// A squeezed blur is a bell: its deviation across is the one that was asked for, and half of it down.
func TestSqueezedBlur(t *testing.T) {
	src := frame.New(201, 201, 3)
	for p := range 3 {
		src.Row(p, 100)[100] = 1
	}
	for _, sigma := range []float64{3, 8, 14} {
		out, err := BlurSqueezed(t.Context(), src, 0, []Gaussian{{Sigma: sigma, Weight: 1}}, 2)
		if err != nil {
			t.Fatal(err)
		}
		var sum, xx, yy float64
		for y := range out.H {
			for x, v := range out.Row(1, y) {
				sum += float64(v)
				xx += float64(v) * math.Pow(float64(x)-100, 2)
				yy += float64(v) * math.Pow(float64(y)-100, 2)
			}
		}
		across, down := math.Sqrt(xx/sum), math.Sqrt(yy/sum)
		t.Logf("%g: %.2f across, %.2f down, sum %.4f", sigma, across, down, sum)
		if math.Abs(sum-1) > 0.01 || math.Abs(across/sigma-1) > 0.06 || math.Abs(2*down/sigma-1) > 0.1 {
			t.Errorf("%g: %.2f across, %.2f down, sum %.4f", sigma, across, down, sum)
		}
	}
}

// Layers are blurred each by its own bells, as they are alone.
func TestLayersAreBlurredApart(t *testing.T) {
	src := lampAt(120, 120, 2)
	terms := [3][]Gaussian{{{Sigma: 6, Weight: 1}}, {{Sigma: 2, Weight: 0.7}, {Sigma: 5, Weight: 0.3}}, {{Sigma: 0.8, Weight: 1}}}
	for _, by := range []int{1, 2} {
		got, err := BlurLayers(t.Context(), src, terms, by)
		if err != nil {
			t.Fatal(err)
		}
		for p := range 3 {
			want, err := Blur(t.Context(), src, terms[p])
			if by > 1 {
				want, err = BlurSqueezed(t.Context(), src, 0, terms[p], by)
			}
			if err != nil {
				t.Fatal(err)
			}
			for y := range src.H {
				for x, v := range got.Row(p, y) {
					if d := math.Abs(float64(v - want.Row(p, y)[x])); d > 1e-3 {
						t.Fatalf("squeezed %d times, layer %d is %.4f away at %d, %d", by, p, d, x, y)
					}
				}
			}
		}
	}
}
