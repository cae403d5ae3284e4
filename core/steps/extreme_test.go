package steps

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// extreme is a picture of samples that nothing sound holds beside some that are.
type wildSource struct {
	f     *frame.Frame
	whole bool
}

func (e wildSource) Key() string                                      { return fmt.Sprintf("extreme %p", e.f) }
func (e wildSource) Frame(context.Context, int) (*frame.Frame, error) { return e.f.Clone(), nil }
func (e wildSource) Integral() bool                                   { return e.whole }

func extremePicture(r *rand.Rand, whole bool) wildSource {
	wild := []float64{0, 1, 0.4, -0.1, 1.1, math.NaN(), math.Inf(1), math.Inf(-1), 3e38, -3e38, 1e-40, -1e-40, 65504, -65504, 1e10, -1e10, 0.18, 1e-6}
	if whole {
		wild = []float64{0, 1, 0.4, 1023.0 / 1019, -64.0 / 876, 0.092, 0.05, 0.9}
	}
	f := frame.New(48, 20, 3)
	for p := range 3 {
		for y := range f.H {
			for x := range f.W {
				v := wild[r.IntN(len(wild))]
				if r.IntN(3) == 0 {
					v = r.Float64()
				}
				f.Row(p, y)[x] = float32(v)
			}
		}
	}
	return wildSource{f, whole}
}

// randomLook switches kinds on by chance, with settings anywhere in their ranges, some of them inside a matte.
func randomLook(r *rand.Rand) *look.Look {
	l := look.NewLook("by chance")
	l.SetMatte("m", &look.Matte{Parts: []*look.MattePart{{Kind: "tone", Settings: map[string]any{"low": -2.0}}, {Kind: "ellipse", Join: "without"}}, Blur: 0.4})
	l.SetMatte("k", &look.Matte{Parts: []*look.MattePart{{Kind: "colour"}, {Kind: "skin"}}})
	for _, k := range look.Kinds() {
		if r.IntN(4) != 0 && !k.Fixed {
			continue
		}
		times := 1
		if k.Repeatable {
			times += r.IntN(3)
		}
		for range times {
			p, err := l.Add(k.Station, k.ID, -1)
			if err != nil {
				continue
			}
			for _, s := range k.Settings {
				switch list := s.List(); {
				case len(list) > 0:
					p.Settings[s.ID] = list[r.IntN(len(list))].ID
				case s.Points == "":
					v := s.Min + r.Float64()*(s.Max-s.Min)
					if r.IntN(3) == 0 {
						v = []float64{s.Min, s.Max}[r.IntN(2)]
					}
					p.Settings[s.ID] = v
				}
			}
			if k.Masks && r.IntN(3) == 0 {
				name := []string{"m", "k"}[r.IntN(2)]
				p.Matte, p.Outside = &name, r.IntN(2) == 0
			}
		}
	}
	for _, s := range look.Stations { // some steps beside each other in a group
		st := l.Stations[s]
		if st == nil || !s.Groups() || len(st.Steps) < 2 || r.IntN(2) == 0 {
			continue
		}
		g := &look.Group{Title: "G", On: true, Strength: r.Float64()}
		if s.Lays() {
			g.Lay = look.Lays[r.IntN(len(look.Lays))].ID
		}
		if r.IntN(2) == 0 {
			name := []string{"m", "k"}[r.IntN(2)]
			g.Matte = &name
		}
		st.Groups = map[string]*look.Group{"group": g}
		from := r.IntN(len(st.Steps))
		for _, p := range st.Steps[from:min(len(st.Steps), from+2)] {
			p.Group = "group"
		}
	}
	return l
}

// checkExtreme renders a random look on an extreme picture: whatever comes in, finite numbers come out of every
// station, and code values out of the last.
func checkExtreme(t *testing.T, seed uint64) {
	r := rand.New(rand.NewPCG(seed, 7))
	l := randomLook(r)
	src := extremePicture(r, r.IntN(3) == 0)
	if err := l.Check(); err != nil {
		t.Fatalf("seed %d: %v", seed, err)
	}
	tap := look.Finish
	if r.IntN(3) == 0 {
		tap = look.Stations[r.IntN(len(look.Stations))]
	}
	list := colour.Encodings()
	p, err := render.CompileDraft(ctx, l, list[r.IntN(len(list))], render.Raster{W: src.f.W, H: src.f.H}, tap)
	if err != nil {
		t.Fatalf("seed %d: %v", seed, err)
	}
	f, err := render.NewRenderer(0).Render(ctx, p, src, 0)
	if err != nil {
		t.Fatalf("seed %d: %v", seed, err)
	}
	for y := range f.H {
		for x := range f.W {
			for c, v := range f.At(x, y) {
				if math.IsNaN(v) || math.IsInf(v, 0) || tap == look.Finish && (v < -0.001 || v > 1.2) {
					t.Fatalf("seed %d: %g at %d, %d, channel %d, leaves %s (out of %v)", seed, v, x, y, c, tap, src.f.At(x, y))
				}
			}
		}
	}
}

func TestExtremePixels(t *testing.T) {
	for seed := range uint64(60) {
		checkExtreme(t, seed)
	}
}

func FuzzExtremePixels(f *testing.F) {
	f.Add(uint64(1))
	f.Fuzz(func(t *testing.T, seed uint64) { checkExtreme(t, seed) })
}

// The case that once ended the program: a saturated log frame, a CDL's saturation, bloom, and the camera's gamut
// as it is.
func TestSaturatedLogWithCDLAndBloom(t *testing.T) {
	l := look.NewLook("x")
	for path, v := range map[string]any{"balance.cdl.saturation": 1.2, "lens.bloom.amount": 60.0} {
		if err := l.Set(path, v); err != nil {
			t.Fatal(err)
		}
	}
	f := frame.New(64, 36, 3)
	for y := range f.H {
		for x := range f.W {
			f.Row(0, y)[x], f.Row(1, y)[x], f.Row(2, y)[x] = float32((x/8)%2), float32((y/8)%2), float32((x+y)%2)
		}
	}
	slog3, err := colour.FindEncoding("slog3")
	if err != nil {
		t.Fatal(err)
	}
	got := renderedAs(t, slog3, l, wildSource{f, true}, f.W, f.H, look.Finish)
	for y := range got.H {
		for x := range got.W {
			for _, v := range got.At(x, y) {
				if !(v >= 0 && v <= 1) {
					t.Fatalf("%g at %d, %d", v, x, y)
				}
			}
		}
	}
	if e, err := colour.FindEncoding("slog3"); err != nil || e == nil {
		t.Fatal(err)
	}
}
