package steps

import (
	"context"
	"fmt"
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// shot is a made-up shot, whose frames a function draws.
type shot struct {
	name string
	n    int
	w, h int
	draw func(n, x, y int) [3]float64
	gap  int // from here on frames are missing, if it is not 0
}

func (s shot) Key() string { return s.name }
func (s shot) Length() int { return s.n }
func (s shot) Frame(_ context.Context, n int) (*frame.Frame, error) {
	if s.gap > 0 && n >= s.gap {
		return nil, fmt.Errorf("%s has no frame %d", s.name, n)
	}
	f := frame.New(s.w, s.h, 3)
	for y := range s.h {
		for x := range s.w {
			for p, v := range s.draw(n, x, y) {
				f.Row(p, y)[x] = float32(v)
			}
		}
	}
	return f, nil
}

// frames renders frames of a shot as they leave the lens.
func (s shot) frames(t testing.TB, l *look.Look, numbers ...int) []*frame.Frame {
	t.Helper()
	p, err := render.Compile(ctx, l, colour.Working(), render.Raster{W: s.w, H: s.h}, look.Lens)
	if err != nil {
		t.Fatal(err)
	}
	var out []*frame.Frame
	for _, n := range numbers {
		f, err := render.NewRenderer(0).Render(ctx, p, s, n)
		if err != nil {
			t.Fatal(err)
		}
		out = append(out, f)
	}
	return out
}

// exposed is the light that exposes the film of a look, in scene-linear terms, of the first frame.
func (s shot) exposed(t testing.TB, l *look.Look) *frame.Frame {
	t.Helper()
	p, err := render.CompileExposure(ctx, l, colour.Working(), render.Raster{W: s.w, H: s.h})
	if err != nil {
		t.Fatal(err)
	}
	f, err := render.NewRenderer(0).Render(ctx, p, s, 0)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func lookOf(t testing.TB, sets ...string) *look.Look {
	t.Helper()
	l := look.NewLook("x")
	if err := l.SetAll(sets...); err != nil {
		t.Fatal(err)
	}
	return l
}

// stage is a scene like that of the design's part B2: lamps of 800, 80 and 8, a window of 15, an 18 % card with a patch of
// 0.004, before dark cloth; lamps are soft-edged, so that nothing hangs on half pixels.
func stage(w int) shot {
	h := w * 9 / 16
	return shot{name: fmt.Sprint("stage", w), n: 1, w: w, h: h, draw: func(_, x, y int) [3]float64 {
		u, v := (float64(x)+0.5)/float64(w), (float64(y)+0.5)/float64(w)
		c := 0.02
		in := func(x0, y0, x1, y1 float64) bool { return u > x0 && u < x1 && v > y0 && v < y1 }
		switch {
		case in(0.62, 0.06, 0.80, 0.22):
			c = 15
		case in(0.23, 0.28, 0.27, 0.32):
			c = 0.004
		case in(0.15, 0.20, 0.45, 0.42):
			c = 0.18
		}
		for i, lamp := range []float64{800, 80, 8} {
			if d := math.Hypot(u-0.2-0.25*float64(i), v-0.1) / 0.009; d < 2.3 {
				c += lamp * math.Exp(-d*d*d*d)
			}
		}
		return [3]float64{c, c, c}
	}}
}

// lampAt is a lamp before grey.
func lampAt(w, h int) *frame.Frame {
	f := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			v := 0.1 + 0.1*float64(x)/float64(w)
			if math.Hypot(float64(x-w/3), float64(y-h/3)) < 3 {
				v = 30
			}
			for p := range 3 {
				f.Row(p, y)[x] = float32(v)
			}
		}
	}
	return f
}
