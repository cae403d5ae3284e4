package fit

import (
	"context"
	"errors"
	"math"
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/frame"
)

func wedge(t *testing.T, s *film.Stock, from, to, off float64) *Wedge {
	t.Helper()
	n := film.Develop(s, film.Process{Strength: 1})
	w := &Wedge{}
	for x := from; x < to; x += 0.15 {
		w.Steps = append(w.Steps, Step{x, n.Read(n.Grey(x + off))})
	}
	if err := w.check(); err != nil {
		t.Fatal(err)
	}
	return w
}

// Wedges of one film that were exposed by more or less are joined where they lie on each other; those that cannot be say why.
func TestWedgesAreJoined(t *testing.T) {
	s := stock(t, "aubade-250d")
	joined, offsets, err := Join([]*Wedge{wedge(t, s, -2.6, 0.4, 0), wedge(t, s, -0.6, 2, 0.07), wedge(t, s, -3, -0.5, -0.05)})
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []float64{0, 0.07, -0.05} {
		if math.Abs(offsets[i]-want) > 0.005 {
			t.Errorf("wedge %d is moved by %.3f, want %.3f", i+1, offsets[i], want)
		}
	}
	if err := joined.check(); err != nil {
		t.Errorf("joined it is no wedge: %v", err)
	}
	if n := len(joined.Steps); joined.Steps[0].LogE > -2.9 || joined.Steps[n-1].LogE < 1.9 {
		t.Errorf("it goes from %.2f to %.2f", joined.Steps[0].LogE, joined.Steps[n-1].LogE)
	}
	for _, c := range []struct {
		with *Wedge
		why  string
	}{
		{wedge(t, s, 0.6, 2.2, 0), "shares less than three steps"},
		{wedge(t, stock(t, "vitrail-100"), -2.4, 1, 0.4), "was it developed together"},
		{wedge(t, stock(t, "brocart-100"), -2, 1, 0), "of two films"},
	} {
		if _, _, err := Join([]*Wedge{wedge(t, s, -2.6, 0.4, 0), c.with}); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("%v, want %q", err, c.why)
		}
	}
}

// drawn is an edge, slanted by five degrees, three stops high, of which half the contrast is left at a frequency; pixels of 4 µm.
func edge(half float64) *frame.Frame { return edgeOf([3]float64{half, half, half}) }

// edgeOf is that of layers that draw otherwise.
func edgeOf(half [3]float64) *frame.Frame {
	f := frame.New(300, 400, 3)
	slope := math.Tan(5 * math.Pi / 180)
	for p := range 3 {
		k := 2 * math.Pi * half[p]
		drawEdge(f, p, k, slope)
	}
	return f
}

func drawEdge(f *frame.Frame, p int, k, slope float64) {
	for y := range f.H {
		for x := range f.W {
			sum := 0.0
			for i := range 8 {
				mm := (float64(x) + (float64(i)+0.5)/8 - 150 - slope*(float64(y)-200)) * 0.004 * math.Cos(5*math.Pi/180)
				if mm < 0 {
					sum += math.Exp(k*mm) / 16
				} else {
					sum += (2 - math.Exp(-k*mm)) / 16
				}
			}
			f.Row(p, y)[x] = float32(0.07 + 0.49*sum)
		}
	}
}

// A layer that draws softer is measured so: half is left at half the frequency where light scatters twice as far.
func TestLayersDrawOtherwise(t *testing.T) {
	drawn, err := Transfer(edgeOf([3]float64{28, 40, 52}), 250)
	if err != nil {
		t.Fatal(err)
	}
	s := *stock(t, "aubade-250d")
	fitSharpness(&s, drawn)
	t.Logf("half at %.0f; layers %.2f %.2f %.2f", s.MTF.Half(), s.Layers[0].Scatter, s.Layers[1].Scatter, s.Layers[2].Scatter)
	if r, b := s.Layers[0].Scatter, s.Layers[2].Scatter; math.Abs(r/1.4-1) > 0.12 || math.Abs(b/0.77-1) > 0.12 || s.Layers[1].Scatter != 0 {
		t.Errorf("layers scatter %.2f, %.2f and %.2f times as far", r, s.Layers[1].Scatter, b)
	}
}

// The transfer of an edge is that by which it was drawn: 1/(1 + (f/f½)²), the transform of what falls off by e on both sides.
func TestTransferOfAnEdge(t *testing.T) {
	for _, half := range []float64{25, 40, 70} {
		drawn, err := Transfer(edge(half), 250)
		if err != nil {
			t.Fatal(err)
		}
		worst := 0.0
		for _, d := range drawn {
			worst = max(worst, math.Abs(d.Measured-1/(1+d.Cycles*d.Cycles/half/half)))
		}
		t.Logf("%g cycles: %.3f off at most", half, worst)
		if worst > 0.03 {
			t.Errorf("%g cycles: %.3f off", half, worst)
		}
	}
	if _, err := Transfer(frame.New(200, 200, 3), 250); !errors.Is(err, ErrNoEdge) {
		t.Errorf("an empty picture: %v", err)
	}
	if _, err := Transfer(edge(40), 100); err == nil || !strings.Contains(err.Error(), "too coarse") {
		t.Errorf("a coarse scan: %v", err)
	}
}

// Each part that is missing is the other card's, and each bad one has its line; nothing at all is an error, and so is being told to stop.
func TestPartsAreToldApart(t *testing.T) {
	s := stock(t, "damas-800")
	empty := &Scan{Name: "wall.tif", Light: frame.New(400, 400, 3), PerMM: 250, Stops: math.NaN()}
	made, r, err := Whole(t.Context(), Evidence{Wedges: []*Wedge{wedge(t, s, -2.4, 1.6, 0)}, Edge: empty, Patches: empty, Lamp: empty}, Options{ID: "own-x", Label: "X", Grey: 0}, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range r.Parts {
		switch p.Of {
		case Curves:
			if !p.Measured || p.Problem != "" || !strings.Contains(p.Sure, "density") {
				t.Errorf("curves: %+v", p)
			}
		case Colours:
			if p.Measured || p.Problem != "" || p.From != "as Aubade 250D" {
				t.Errorf("colours: %+v", p)
			}
		default:
			if p.Measured || !strings.Contains(p.Problem, "wall.tif: ") || p.From != "as Aubade 250D" {
				t.Errorf("%s: %+v", p.Of, p)
			}
		}
	}
	if !strings.Contains(made.Note, "Measured: curves. Like Aubade 250D in: colours, detail, grain, halo.") {
		t.Errorf("its note is %q", made.Note)
	}
	if _, _, err := Whole(t.Context(), Evidence{Edge: empty}, Options{ID: "own-x", Label: "X", Grey: math.NaN()}, nil); !errors.Is(err, ErrNothing) || !strings.Contains(err.Error(), "no straight edge") {
		t.Errorf("nothing: %v", err)
	}
	stopped, stop := context.WithCancel(t.Context())
	_, _, err = Whole(stopped, Evidence{Pairs: []Pair{{Name: "chart", Scene: chart(), Read: chart()}}, Lamp: empty}, Options{ID: "own-x", Label: "X", Grey: math.NaN()}, func(string) { stop() })
	if !errors.Is(err, context.Canceled) {
		t.Errorf("told to stop: %v", err)
	}
}

// A scan of a whole frame is read where it matters: the lamp lies anywhere in it, and what is no number is black.
func TestALampAnywhere(t *testing.T) {
	f := frame.New(1500, 1200, 3)
	for p := range 3 {
		for y := range f.H {
			for x := range f.W {
				f.Row(p, y)[x] = 0.4
			}
		}
		for y := 290; y < 310; y++ {
			for x := 1090; x < 1110; x++ {
				f.Row(p, y)[x] = 0.002
			}
		}
		f.Row(p, 700)[700] = float32(math.NaN())
	}
	s := (&Scan{Light: f, PerMM: 80}).aroundLamp()
	if s.Light.W != 560 || s.Light.H != 560 {
		t.Fatalf("%d by %d pixels are read", s.Light.W, s.Light.H)
	}
	if v := s.Light.Row(1, 280)[280]; v > 0.01 {
		t.Errorf("the lamp is not in the middle: %.3f", v)
	}
	if m := (&Scan{Light: f, PerMM: 80}).middle(1000); m.Light.W != 1000 || m.Light.H != 1000 {
		t.Errorf("the middle is %d by %d", m.Light.W, m.Light.H)
	}
	w := whole{stock: stock(t, "aubade-250d")}
	for p := range 3 {
		if v := w.above(&Scan{Light: f, PerMM: 80}).Row(p, 700)[700]; !(v > 1 && v < 6) {
			t.Errorf("what is no number reads %g", v)
		}
	}
}
