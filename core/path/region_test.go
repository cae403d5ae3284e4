package path

import (
	"testing"

	"velours/core/frame"
)

// A part of the picture is, to the bit, what the whole picture has in its place: with everything on,
// with nothing that reaches across, at every tap.
func TestPartIsTheCropOfTheWhole(t *testing.T) {
	src := scene{200, 112}
	part := Region{61, 33, 90, 50}
	pointwise, _ := Tabular(base(t))
	grainy := pointwise.Clone()
	grainy.Step(Negative, "grain").On = true
	framed := base(t)
	if err := framed.Set("intake.reframe.turn", 3.0); err != nil {
		t.Fatal(err)
	}
	for name, l := range map[string]*Look{"everything": base(t), "pointwise": pointwise, "grain": grainy, "clean": NewLook("x"), "reframed": framed} {
		if name == "clean" {
			if err := l.Set("intake.encoding.id", "acescg"); err != nil {
				t.Fatal(err)
			}
		}
		for _, tap := range Stations {
			for _, r := range []Raster{{200, 112}, {150, 84}} { // the source's own size, and another
				p, err := Compile(t.Context(), l, r, tap)
				if err != nil {
					t.Fatal(err)
				}
				for _, keeper := range []*Renderer{NewRenderer(0), NewRenderer(1 << 28)} {
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
	l, _ := Tabular(base(t))
	p, err := Compile(t.Context(), l, Raster{200, 112}, Finish)
	if err != nil {
		t.Fatal(err)
	}
	r := NewRenderer(1 << 28)
	if _, err := r.Render(t.Context(), p.In(Region{10, 10, 20, 20}), scene{200, 112}, 0); err != nil {
		t.Fatal(err)
	}
	if most := 12 * frame.New(20, 20, 4).Bytes(); r.Used() > most {
		t.Errorf("%d bytes were kept, which is more than the part needs, %d", r.Used(), most)
	}
}

// A held frame keeps its picture, and its grain moves on.
func TestHeldFrameMovesItsGrain(t *testing.T) {
	src := scene{120, 68}
	still, _ := Tabular(base(t))
	for _, c := range []struct {
		look  *Look
		moves bool
	}{{base(t), true}, {still, false}} {
		p, err := Compile(t.Context(), c.look, Raster{120, 68}, Finish)
		if err != nil {
			t.Fatal(err)
		}
		r := NewRenderer(1 << 28)
		var at [2]*frame.Frame
		for i, number := range []int{7, 8} {
			if at[i], err = r.RenderHeld(t.Context(), p, src, 3, number); err != nil {
				t.Fatal(err)
			}
		}
		if equal(at[0], at[1]) == c.moves {
			t.Errorf("a held frame's pictures are equal: %v", !c.moves)
		}
		fresh, err := NewRenderer(0).RenderHeld(t.Context(), p, src, 3, 8)
		if err != nil {
			t.Fatal(err)
		}
		if !equal(fresh, at[1]) {
			t.Error("a kept picture is not the one a fresh renderer makes")
		}
	}
}
