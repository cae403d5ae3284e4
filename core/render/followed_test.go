package render

import (
	"context"
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
)

// counted is a source that is a picture of waves, and counts how often it is read.
type counted struct {
	w, h int
	read *int
}

func (c counted) Key() string      { return "waves" }
func (c counted) Integral() bool   { return false }
func (c counted) Size() (w, h int) { return c.w, c.h }
func (c counted) Frame(context.Context, int) (*frame.Frame, error) {
	*c.read++
	f := frame.New(c.w, c.h, 3)
	for p := range 3 {
		for y := range c.h {
			for x := range f.Row(p, y) {
				f.Row(p, y)[x] = float32(0.4 + 0.2*math.Sin(float64(x+p)/9)*math.Cos(float64(y)/7))
			}
		}
	}
	return f, nil
}

// Of a large source, a draft and the picture that follows it are made of one reading: the picture to the bit as alone, the draft
// nearly. A draft that nothing follows is as it was, and none takes the place of an exact picture of its size.
func TestALargeSourceIsReadOnce(t *testing.T) {
	was := largeSource
	largeSource = 400 * 300
	defer func() { largeSource = was }()
	exact, small := Raster{200, 150}, Raster{80, 60}
	compile := func(r Raster) *Plan {
		p, err := Compile(t.Context(), look.NewLook("plain"), colour.Undeclared(), r, look.Balance)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	render := func(r *Renderer, p *Plan, src Source) *frame.Frame {
		f, err := r.Render(t.Context(), p, src, 0)
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	worst := func(a, b *frame.Frame) (d float64) {
		for p := range 3 {
			for y := range a.H {
				for x, v := range a.Row(p, y) {
					d = max(d, math.Abs(float64(v-b.Row(p, y)[x])))
				}
			}
		}
		return d
	}
	read := 0
	src := counted{400, 300, &read}
	alone, draftAlone := render(NewRenderer(1<<30), compile(exact), src), render(NewRenderer(1<<30), compile(small), src)

	r := NewRenderer(1 << 30)
	read = 0
	draft := render(r, compile(small).FollowedBy(exact), src)
	whole := render(r, compile(exact), src)
	if read != 1 {
		t.Errorf("read %d times for a draft and its picture", read)
	}
	if d := worst(whole, alone); d != 0 {
		t.Errorf("the picture is another, by %g", d)
	}
	if d := worst(draft, draftAlone); d == 0 || d > 0.01 {
		t.Errorf("the draft is off by %g", d)
	}
	if d := worst(render(r, compile(small), src), draftAlone); d != 0 {
		t.Errorf("an exact picture of the draft's size is off by %g", d)
	}
	for name, p := range map[string]*Plan{"of the same size": compile(small).FollowedBy(small), "followed by the source's own": compile(small).FollowedBy(Raster{400, 300})} {
		if d := worst(render(NewRenderer(1<<30), p, src), draftAlone); d != 0 {
			t.Errorf("a draft %s is off by %g", name, d)
		}
	}
	read = 0
	largeSource = 400*300 + 1
	r = NewRenderer(1 << 30)
	if d := worst(render(r, compile(small).FollowedBy(exact), src), draftAlone); d != 0 {
		t.Errorf("a draft of a source that is not large is off by %g", d)
	}
}
