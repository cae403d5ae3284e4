package grade

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/frame"
)

// picture is grey of stops given by f.
func picture(w, h int, f func(x, y int) float64) *frame.Frame {
	p := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			v := float32(Grey * math.Exp2(f(x, y)))
			for c := range 3 {
				p.Row(c, y)[x] = v
			}
		}
	}
	return p
}

func stop(f *frame.Frame, x, y int) float64 { return Stops(float64(f.Row(0, y)[x])) }

// Fine grows fine things and leaves broad ones; coarse the other way; beside an edge of three stops neither
// makes a halo of more than a twentieth of it.
func TestTextureKnowsScales(t *testing.T) {
	ctx := context.Background()
	const w, h = 400, 120
	wave := func(period, depth float64) *frame.Frame {
		return picture(w, h, func(x, _ int) float64 { return depth * math.Sin(2*math.Pi*float64(x)/period) })
	}
	swing := func(f *frame.Frame) float64 {
		lo, hi := 9.0, -9.0
		for x := 150; x < 250; x++ {
			lo, hi = min(lo, stop(f, x, 60)), max(hi, stop(f, x, 60))
		}
		return (hi - lo) / 2
	}
	run := func(tx Texture, f *frame.Frame) *frame.Frame {
		tx.FineSize, tx.CoarseSize = 0.006, 0.05
		out, err := tx.Run(ctx, f)
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	fine, broad := wave(4, 0.15), wave(40, 0.15)
	if got := swing(run(Texture{Fine: 1}, fine)); got < 0.2 {
		t.Errorf("fine texture of 0.15 becomes %.3f", got)
	}
	if got := swing(run(Texture{Fine: 1}, broad)); got > 0.18 {
		t.Errorf("fine moves a broad wave of 0.15 to %.3f", got)
	}
	if got := swing(run(Texture{Coarse: 1}, broad)); got < 0.2 {
		t.Errorf("a broad wave of 0.15 becomes %.3f", got)
	}
	if got := swing(run(Texture{Fine: -1}, fine)); got > 0.1 {
		t.Errorf("taken away, fine texture of 0.15 is still %.3f", got)
	}
	edge := picture(w, h, func(x, _ int) float64 {
		if x < w/2 {
			return -2
		}
		return 1
	})
	for _, tx := range []Texture{{Fine: 1}, {Coarse: 1}} {
		out := run(tx, edge)
		for x := range w {
			want := -2.0
			if x >= w/2 {
				want = 1
			}
			if d := math.Abs(stop(out, x, 60) - want); d > 0.15 {
				t.Fatalf("%+v: %.3f stops of halo at %d", tx, d, x-w/2)
			}
		}
	}
}

// Sharpening raises an edge, leaves even areas, and never adds more than half a stop.
func TestSharpenIsBounded(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	f := picture(200, 60, func(x, y int) float64 {
		if x > 100 {
			return 3
		}
		return -3 + 0.001*r.Float64()
	})
	out, err := Sharpen(context.Background(), f, 1.5, 2)
	if err != nil {
		t.Fatal(err)
	}
	most := 0.0
	for x := range 200 {
		d := math.Abs(stop(out, x, 30) - stop(f, x, 30))
		most = max(most, d)
		if (x < 80 || x > 120) && d > 0.01 {
			t.Fatalf("an even area moves by %g", d)
		}
	}
	if most < 0.2 || most > 0.5 {
		t.Errorf("the edge moves by %.3f stops", most)
	}
}

// What hides a mask comes from around it: no trace of what was there.
func TestHideLeavesNothing(t *testing.T) {
	f := picture(160, 100, func(x, y int) float64 { return float64(x)/160 - 0.5 })
	mask := frame.New(160, 100, 1)
	for y := 30; y < 70; y++ {
		for x := 60; x < 110; x++ {
			mask.Row(0, y)[x] = 1
			for c := range 3 {
				f.Row(c, y)[x] = 40 // a bright number plate
			}
		}
	}
	out, err := Hide(context.Background(), f, mask, 3)
	if err != nil {
		t.Fatal(err)
	}
	for y := 30; y < 70; y++ {
		for x := 60; x < 110; x++ {
			if v := stop(out, x, y); v < -0.6 || v > 0.6 {
				t.Fatalf("at %d, %d there is %g stops left", x, y, v)
			}
		}
	}
}

// The vignette's centre keeps its light, its far has all of the stops, and it is the same at any size.
func TestVignette(t *testing.T) {
	v := Vignette{Stops: -1, Size: 0.7, Feather: 0.5, X: 0.5, Y: 0.5}
	if c := v.Stop(960, 540, 1920, 1080); c != 0 {
		t.Errorf("the centre gets %g stops", c)
	}
	if c := v.Stop(0, 0, 1920, 1080); c != -1 {
		t.Errorf("the corner gets %g stops", c)
	}
	last := 0.0
	for x := 960.0; x <= 1920; x += 20 {
		s := v.Stop(x, 540, 1920, 1080)
		if s > last+1e-12 {
			t.Fatalf("light rises outwards at %g", x)
		}
		if small := v.Stop(x/3, 180, 640, 360); math.Abs(small-s) > 1e-9 {
			t.Fatalf("at %g it is %g, on a smaller raster %g", x, s, small)
		}
		last = s
	}
	for _, v := range []Vignette{v, {Stops: 1.5, Size: 1.5, Feather: 2, Round: 0.4, Angle: 30, X: 0, Y: 0.3}, {Stops: -4, Size: 0.2, Feather: 0.1, Round: 1, Angle: -50, X: 0.7, Y: 0.9}} {
		row, rows := make([]float32, 640), v.Rows(640, 360)
		for y := 0; y < 360; y += 37 {
			rows(row, y, 0)
			for x, k := range row {
				if want := v.Stop(float64(x)+0.5, float64(y)+0.5, 640, 360); math.Abs(math.Log2(float64(k))-want) > 0.01 {
					t.Fatalf("%+v: at %d, %d it is %g stops by rows, %g by the formula", v, x, y, math.Log2(float64(k)), want)
				}
			}
		}
	}
	v.Round = 1
	if a, b := v.Stop(960+400, 540, 1920, 1080), v.Stop(960, 540+400, 1920, 1080); math.Abs(a-b) > 1e-9 {
		t.Errorf("a round one gives %g across and %g down", a, b)
	}
}
