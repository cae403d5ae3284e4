package steps

import (
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// A part of the picture is, to the bit, what the whole picture has in its place: with everything on,
// with nothing that reaches across, at every tap.
func TestPartIsTheCropOfTheWhole(t *testing.T) {
	src := scene{200, 112}
	part := render.Region{X: 61, Y: 33, W: 90, H: 50}
	pointwise, _ := render.Tabular(base(t))
	grainy := pointwise.Clone()
	grainy.Step(look.Negative, "grain").On = true
	framed := base(t)
	if err := framed.Set("intake.reframe.turn", 3.0); err != nil {
		t.Fatal(err)
	}
	for name, l := range map[string]*look.Look{"everything": base(t), "pointwise": pointwise, "grain": grainy, "clean": look.NewLook("x"), "reframed": framed} {
		e := logC3
		if name == "clean" {
			e = colour.Working()
		}
		for _, tap := range look.Stations {
			for _, r := range []render.Raster{{W: 200, H: 112}, {W: 150, H: 84}} { // the source's own size, and another
				p, err := render.Compile(t.Context(), l, e, r, tap)
				if err != nil {
					t.Fatal(err)
				}
				for _, keeper := range []*render.Renderer{render.NewRenderer(0), render.NewRenderer(1 << 28)} {
					whole, err := keeper.Render(t.Context(), p, src, 5)
					if err != nil {
						t.Fatal(err)
					}
					want := whole.Crop(part.X, part.Y, part.W, part.H)
					got, err := keeper.Render(t.Context(), p.In(part), src, 5)
					if err != nil {
						t.Fatal(err)
					}
					if got.W != want.W || got.H != want.H || !equal(got, want) {
						t.Errorf("%s at %s, %v: the part is not the crop of the whole", name, tap, r)
					}
				}
			}
		}
	}
}

// Without scatter nothing outside the part is computed.
func TestPartAloneIsComputed(t *testing.T) {
	l, _ := render.Tabular(base(t))
	p, err := render.Compile(t.Context(), l, logC3, render.Raster{W: 200, H: 112}, look.Finish)
	if err != nil {
		t.Fatal(err)
	}
	r := render.NewRenderer(1 << 28)
	if _, err := r.Render(t.Context(), p.In(render.Region{X: 10, Y: 10, W: 20, H: 20}), scene{200, 112}, 0); err != nil {
		t.Fatal(err)
	}
	if most := 12 * frame.New(20, 20, 4).Bytes(); r.Used() > most {
		t.Errorf("%d bytes were kept, which is more than the part needs, %d", r.Used(), most)
	}
}

// A held frame keeps its picture, and its grain moves on.
func TestHeldFrameMovesItsGrain(t *testing.T) {
	src := scene{120, 68}
	still, _ := render.Tabular(base(t))
	for _, c := range []struct {
		look  *look.Look
		moves bool
	}{{base(t), true}, {still, false}} {
		p, err := render.Compile(t.Context(), c.look, logC3, render.Raster{W: 120, H: 68}, look.Finish)
		if err != nil {
			t.Fatal(err)
		}
		r := render.NewRenderer(1 << 28)
		var at [2]*frame.Frame
		for i, number := range []int{7, 8} {
			if at[i], err = r.RenderAs(t.Context(), p, src, 3, number); err != nil {
				t.Fatal(err)
			}
		}
		if equal(at[0], at[1]) == c.moves {
			t.Errorf("a held frame's pictures are equal: %v", !c.moves)
		}
		fresh, err := render.NewRenderer(0).RenderAs(t.Context(), p, src, 3, 8)
		if err != nil {
			t.Fatal(err)
		}
		if !equal(fresh, at[1]) {
			t.Error("a kept picture is not the one a fresh renderer makes")
		}
	}
}
