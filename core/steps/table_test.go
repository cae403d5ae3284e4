package steps

import (
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/look"
	"velours/core/lut"
)

// A table print is the table around which the path converts: worked out again colour by colour, with
// and without a negative, and at half strength.
func TestTablePrint(t *testing.T) {
	KnowTable(testTable)
	t.Cleanup(func() { ForgetTable(testTable.ID) })
	src := scene{64, 36}
	clean := func(sets ...string) *look.Look {
		l := look.NewLook("x")
		for i := 0; i < len(sets); i += 2 {
			if err := l.Set(sets[i], sets[i+1]); err != nil {
				t.Fatal(err)
			}
		}
		return l
	}
	from, _ := colour.FindEncoding("logc3")
	to, _ := colour.FindDisplay("srgb")
	for _, c := range []struct {
		display  string
		strength float64
	}{{"srgb", 1}, {"bt1886", 1}, {"p3-d65", 0.5}} {
		l := clean("print.table.id", testTable.ID, "print.table.from", "logc3", "print.table.to", "srgb", "screen.display.id", c.display)
		l.Step(look.Print, "table").Strength = c.strength
		got := renderedAs(t, colour.Working(), l, src, 64, 36, look.Finish)
		light := renderedAs(t, colour.Working(), clean(), src, 64, 36, look.Lens)
		plain := renderedAs(t, colour.Working(), clean("screen.display.id", c.display), src, 64, 36, look.Finish)
		d, _ := colour.FindDisplay(c.display)
		w := d.Luminance()
		m, back := colour.Convert(colour.AP1, from.Gamut), colour.Convert(to.Gamut, d.Gamut)
		for y := range 36 {
			for x := range 64 {
				v := m.Apply([3]float64{float64(light.Row(0, y)[x]), float64(light.Row(1, y)[x]), float64(light.Row(2, y)[x])})
				for i := range v {
					v[i] = from.Encode(v[i])
				}
				v = testTable.List.Apply(v)
				if d != to {
					v = d.Show(back.Apply(to.Light(v)), 0, &w)
				}
				for i := range v {
					want := c.strength*min(max(v[i], 0), 1) + (1-c.strength)*float64(plain.Row(i, y)[x])
					if math.Abs(float64(got.Row(i, y)[x])-want) > 2e-5 {
						t.Fatalf("%s at %g: %d, %d: got %g, want %g", c.display, c.strength, x, y, got.Row(i, y)[x], want)
					}
				}
			}
		}
	}
	// through a negative that adds nothing of its own, it is the same within the print table's grid
	film := clean("print.table.id", testTable.ID, "print.table.from", "logc3", "negative.grain.amount", "0")
	bare := film.Clone()
	bare.Step(look.Negative, "grain").On = false
	a, b := renderedAs(t, colour.Working(), film, src, 64, 36, look.Finish), renderedAs(t, colour.Working(), bare, src, 64, 36, look.Finish)
	var sum float64
	for y := range 36 {
		for x := range 64 {
			sum += math.Abs(float64(a.Row(1, y)[x] - b.Row(1, y)[x]))
		}
	}
	if mean := sum / 64 / 36; mean > 0.01 {
		t.Errorf("a straight negative moves a table print by %g on average", mean)
	}
}

// An encoding known as a table decodes as the encoding that it leads to.
func TestEncodingByTable(t *testing.T) {
	after, _ := colour.FindEncoding("slog3")
	list := &lut.List{Nodes: []lut.Node{&lut.Matrix{0.9, 0, 0, 0.02, 0, 0.9, 0, 0.02, 0, 0, 0.9, 0.02}}}
	colour.Know(colour.ByTable("own-by-table", "By table", list, after))
	t.Cleanup(func() { colour.Forget("own-by-table") })
	l := look.NewLook("x")
	e, err := colour.FindEncoding("own-by-table")
	if err != nil {
		t.Fatal(err)
	}
	src := scene{64, 36}
	got := renderedAs(t, e, l, src, 64, 36, look.Intake)
	in, _ := src.Frame(t.Context(), 0)
	m := after.ToACEScg()
	for y := range 36 {
		for x := range 64 {
			var v [3]float64
			for i := range v {
				v[i] = after.Decode(0.9*float64(in.Row(i, y)[x]) + 0.02)
			}
			v = m.Apply(v)
			for i := range v {
				if math.Abs(float64(got.Row(i, y)[x])-v[i]) > 1e-4*(0.01+math.Abs(v[i])) {
					t.Fatalf("%d, %d: got %g, want %g", x, y, got.Row(i, y)[x], v[i])
				}
			}
		}
	}
}
