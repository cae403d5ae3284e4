package frame

import (
	"context"
	"errors"
	"math"
	"runtime"
	"sync/atomic"
	"testing"

	"velours/core/fault"
)

var ctx = context.Background()

func ramp(w, h int) *Frame {
	f := New(w, h, 2)
	for p := range 2 {
		for y := range h {
			for x := range w {
				f.Row(p, y)[x] = float32(p*1000 + y*w + x)
			}
		}
	}
	return f
}

func TestRowsDoNotTouchEachOther(t *testing.T) {
	f := ramp(37, 5)
	// what a kernel writes past the end of a row must stay in the pad
	for y := range 5 {
		r := f.Row(0, y)
		r = r[:len(r)+15]
		for i := 37; i < len(r); i++ {
			r[i] = -1
		}
	}
	for y := range 5 {
		for x, v := range f.Row(0, y) {
			if v != float32(y*37+x) {
				t.Fatalf("sample %d, %d is %g", x, y, v)
			}
		}
	}
	if c := f.Crop(30, 3, 100, 100); c.W != 7 || c.H != 2 || c.Row(1, 1)[6] != float32(1000+4*37+36) {
		t.Errorf("crop is %d×%d", c.W, c.H)
	}
}

func TestBandsCoverEveryRowOnceAndStop(t *testing.T) {
	for _, procs := range []int{1, 2} {
		was := runtime.GOMAXPROCS(procs)
		var seen [101]atomic.Int32
		if err := Bands(ctx, 101, 8, func(y0, y1 int) {
			for y := y0; y < y1; y++ {
				seen[y].Add(1)
			}
		}); err != nil {
			t.Fatal(err)
		}
		for y := range seen {
			if seen[y].Load() != 1 {
				t.Fatalf("row %d was visited %d times", y, seen[y].Load())
			}
		}
		stop, cancel := context.WithCancel(ctx)
		var n atomic.Int32
		err := Bands(stop, 1000, 1, func(int, int) {
			if n.Add(1) == 5 {
				cancel()
			}
		})
		if !errors.Is(err, context.Canceled) || n.Load() > 10 {
			t.Errorf("cancelled after 5 bands: %d ran, %v", n.Load(), err)
		}
		runtime.GOMAXPROCS(was)
	}
}

// Scaling keeps the mean, and an even field even, whatever the sizes.
func TestScaleKeepsTheLight(t *testing.T) {
	f := ramp(120, 80)
	mean := func(f *Frame) float64 {
		s := 0.0
		for y := range f.H {
			for _, v := range f.Row(0, y) {
				s += float64(v)
			}
		}
		return s / float64(f.W*f.H)
	}
	for _, c := range [][2]int{{60, 40}, {47, 31}, {1, 1}, {120, 13}, {240, 160}} {
		g, err := Scale(ctx, f, c[0], c[1])
		if err != nil {
			t.Fatal(err)
		}
		if a, b := mean(f), mean(g); math.Abs(a-b) > 1e-3*a {
			t.Errorf("%v: mean %g becomes %g", c, a, b)
		}
	}
	if g, _ := Scale(ctx, f, 120, 80); g != f {
		t.Error("the same size should be the same picture")
	}
}

// Each and Pair meet every pixel once, in its own place, whatever the padding.
func TestEachAndPair(t *testing.T) {
	a, b := New(37, 21, 4), New(37, 21, 3)
	for p := range 3 {
		for y := range 21 {
			for x := range 37 {
				a.Row(p, y)[x], b.Row(p, y)[x] = float32(100*p+x), float32(y)
			}
		}
	}
	twice, err := Each(t.Context(), a, func(v [3]float64) [3]float64 { return [3]float64{2 * v[0], v[2], v[1]} })
	if err != nil {
		t.Fatal(err)
	}
	sum, err := Pair(t.Context(), a, b, func(p, q [3]float64) [3]float64 { return [3]float64{p[0] + q[0], p[1] - q[1], q[2]} })
	if err != nil {
		t.Fatal(err)
	}
	for y := range 21 {
		for x := range 37 {
			if got, want := twice.At(x, y), ([3]float64{float64(2 * x), float64(200 + x), float64(100 + x)}); got != want {
				t.Fatalf("%d, %d: %v, want %v", x, y, got, want)
			}
			if got, want := sum.At(x, y), ([3]float64{float64(x + y), float64(100 + x - y), float64(y)}); got != want {
				t.Fatalf("%d, %d: %v, want %v", x, y, got, want)
			}
		}
	}
	done, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := Each(done, a, func(v [3]float64) [3]float64 { return v }); err == nil {
		t.Error("a cancelled picture was finished")
	}
}

// A panic in one band is an error of that call, on any number of cores.
func TestBandsReturnAPanic(t *testing.T) {
	for _, procs := range []int{1, 2} {
		was := runtime.GOMAXPROCS(procs)
		err := Bands(ctx, 64, 4, func(y0, _ int) {
			if y0 == 32 {
				panic("deliberate")
			}
		})
		var f *fault.Error
		if !errors.As(err, &f) || f.What != "deliberate" {
			t.Errorf("%d cores: got %v", procs, err)
		}
		runtime.GOMAXPROCS(was)
	}
}
