package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return monoKind() }) }

func monoKind() *look.Kind {
	k := &look.Kind{
		ID: "mono", Place: 250, KeepsOrder: true, Label: "Black and white", HasStrength: true, Group: "Colour", Lead: []string{"amount"}, NoEffect: noEffectAt("at 0 % all colour stays", 0, "amount"),
		Purpose: "Black and white as light through a filter makes it: choose which colours become bright, then contrast and tint.",
		Begin:   map[string]any{"amount": 100.0},
		Settings: []look.Setting{
			dial("amount", "Amount", "%", 0, 100, 0, 1, "How much of the colour goes."),
			dial("red", "Red", "%", -100, 200, 30, 1, "How bright red light comes out, against the other two."),
			dial("green", "Green", "%", -100, 200, 60, 1, "How bright green light comes out, against the other two."),
			dial("blue", "Blue", "%", -100, 200, 10, 1, "How bright blue light comes out, against the other two. Below 0 darkens skies."),
			dial("contrast", "Contrast", "%", 50, 250, 100, 1, "Its own contrast, about mid grey."),
			dial("hue", "Tint hue", "°", 0, 360, 75, 1, "The hue of its tint: sepia 75°, selenium 320°."),
			dial("tint", "Tint", "%", 0, 100, 0, 1, "How much of it."),
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return (&grade.Mono{Weights: [3]float64{v.Number("red"), v.Number("green"), v.Number("blue")}, Amount: v.Number("amount") / 100,
				Contrast: grade.Contrast{Slope: v.Number("contrast") / 100, Toe: 0.4, Shoulder: 0.4}, Hue: v.Number("hue"), Tint: 0.1 * v.Number("tint") / 100}).Op()
		}},
	}
	for _, f := range monoFilters {
		k.Ready = append(k.Ready, look.Ready{ID: f.id, Label: f.label, Note: f.note, Values: map[string]any{"amount": 100.0, "red": f.mix[0], "green": f.mix[1], "blue": f.mix[2]}})
	}
	return k
}

// monoFilters are weights that stand for a panchromatic layer behind filters; of our own making, by eye.
var monoFilters = []struct {
	id, label, note string
	mix             [3]float64
}{
	{"none", "No filter", "As the eye sees brightness", [3]float64{30, 60, 10}},
	{"yellow", "Yellow filter", "Skies a little darker, skin clear", [3]float64{42, 62, -4}},
	{"orange", "Orange filter", "Dark skies, smooth skin", [3]float64{72, 42, -14}},
	{"red", "Red filter", "Nearly black skies, pale lips", [3]float64{118, 2, -20}},
	{"green", "Green filter", "Bright leaves, strong skin", [3]float64{2, 108, -10}},
	{"blue", "Blue-sensitive", "White skies, dark lips, as before panchromatic film", [3]float64{-12, 34, 78}},
}
