package frame

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"
)

func noise(w, h int) *Frame {
	r := rand.New(rand.NewPCG(5, 6))
	f := New(w, h, 4)
	for c := range 4 {
		for y := range h {
			for x := range w {
				f.Row(c, y)[x] = r.Float32()
			}
		}
	}
	return f
}

func reframed(t *testing.T, f *Frame, p Placement) *Frame {
	t.Helper()
	g, err := Reframe(context.Background(), f, p)
	if err != nil {
		t.Fatal(err)
	}
	return g
}

// Whole shifts and half and quarter turns only move samples.
func TestReframeMovesSamples(t *testing.T) {
	f := noise(40, 40)
	for name, c := range map[string]struct {
		p    Placement
		from func(x, y int) (int, int)
	}{
		"itself":         {Placement{Scale: 1}, func(x, y int) (int, int) { return x, y }},
		"right, down":    {Placement{Scale: 1, X: 0.25, Y: 0.1}, func(x, y int) (int, int) { return x - 10, y - 4 }},
		"a half turn":    {Placement{Scale: 1, Turn: math.Pi}, func(x, y int) (int, int) { return 39 - x, 39 - y }},
		"a quarter turn": {Placement{Scale: 1, Turn: math.Pi / 2}, func(x, y int) (int, int) { return y, 39 - x }},
	} {
		g := reframed(t, f, c.p)
		for k := range 4 {
			for y := range 40 {
				for x := range 40 {
					sx, sy := c.from(x, y)
					want := float32(0)
					if sx >= 0 && sy >= 0 && sx < 40 && sy < 40 {
						want = f.Row(k, sy)[sx]
					}
					if d := math.Abs(float64(g.Row(k, y)[x] - want)); d > 1e-5 {
						t.Fatalf("%s: %d, %d, %d is %g, want %g", name, k, x, y, g.Row(k, y)[x], want)
					}
				}
			}
		}
	}
}

// A slope stays one, steeper or flatter; nothing rings; halving keeps the mean.
func TestReframeScales(t *testing.T) {
	const w, h = 64, 48
	slope := New(w, h, 3)
	edge := New(w, h, 3)
	for c := range 3 {
		for y := range h {
			for x := range w {
				slope.Row(c, y)[x] = float32(x) + 0.5
				if x >= w/2 {
					edge.Row(c, y)[x] = 100
				}
			}
		}
	}
	g := reframed(t, slope, Placement{Scale: 2})
	for x := 2; x < w-2; x++ {
		if want := (float64(x)+0.5-w/2)/2 + w/2; math.Abs(float64(g.Row(1, h/2)[x])-want) > 1e-4 {
			t.Fatalf("enlarged: column %d is %g, want %g", x, g.Row(1, h/2)[x], want)
		}
	}
	for _, v := range reframed(t, edge, Placement{Scale: 3.3, Turn: 0.1}).Row(0, h/2) {
		if v < 0 || v > 100 {
			t.Fatalf("the edge rings: %g", v)
		}
	}
	f := noise(w, h)
	small := reframed(t, f, Placement{Scale: 0.5})
	var a, b float64
	for y := range h {
		for x := range w {
			a += float64(f.Row(0, y)[x])
			b += float64(small.Row(0, y)[x])
		}
	}
	if math.Abs(b/(a/4)-1) > 0.005 {
		t.Errorf("halved, the light is %.4f of a quarter", b/(a/4))
	}
}
