package steps

import (
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
)

// The response is what a frame of the same light gives, whatever stands before the lens.
func TestResponseIsTheLooks(t *testing.T) {
	l := filmLook(t, "balance.exposure.stops=2", "negative.grain.amount=100", "lens.bloom.amount=40")
	stops := []float64{-4, 0, 2.5}
	got, d, err := measure.Response(t.Context(), l, stops)
	if err != nil {
		t.Fatal(err)
	}
	if d == nil || d.ID != "bt1886" {
		t.Errorf("the display is %v", d)
	}
	plain := filmLook(t)
	for i, s := range stops {
		f := scene{4, 4}
		in, _ := f.Frame(t.Context(), 0)
		for p := range 3 {
			for y := range 4 {
				for x := range 4 {
					in.Row(p, y)[x] = float32(0.18 * math.Exp2(s))
				}
			}
		}
		flat := plain.Clone()
		for _, id := range []string{"exposure", "white"} {
			if p := flat.Step(look.Balance, id); p != nil {
				p.On = false
			}
		}
		flat, _ = render.Tabular(flat)
		want := renderedAs(t, colour.Working(), flat, given{in}, 4, 4, look.Finish)
		for c := range 3 {
			if e := math.Abs(got[i][c] - float64(want.Row(c, 2)[2])); e > 4e-3 { // a draft's table is coarser
				t.Errorf("%+g stops, channel %d: %g, want %g", s, c, got[i][c], want.Row(c, 2)[2])
			}
		}
	}
}

// A negative is exhausted where its curve is flat: at its base and at its greatest density, and not on
// its straight line.
func TestExhaustedEnds(t *testing.T) {
	if _, _, _, ok := measure.Exhausted(look.NewLook("x")); ok {
		t.Error("a look without film has a negative")
	}
	l := filmLook(t)
	low, high, _, ok := measure.Exhausted(l)
	if !ok {
		t.Fatal("no negative")
	}
	n := render.NegativeOf(l)
	for i := range 3 {
		base, top, grey := n.Curve(i, -6), n.Curve(i, 8), n.Curve(i, 0)
		if !(base < low[i] && low[i] < grey && grey < high[i] && high[i] < top) {
			t.Errorf("layer %d: %.3f…%.3f of %.3f…%.3f, grey %.3f", i, low[i], high[i], base, top, grey)
		}
	}
}
