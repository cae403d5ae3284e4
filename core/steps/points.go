package steps

import (
	"velours/core/colour"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(pointsKind) }

// pointsKind is exposure by printer lights, before the film.
var pointsKind = &look.Kind{
	ID: "points", Place: 30, KeepsOrder: true, Station: look.Balance, Label: "Printer lights", HasStrength: true, Repeatable: true, Lead: []string{"red", "green", "blue", "all"},
	NoEffect: noEffectAt("all at 0, the light stays as it is", 0, "red", "green", "blue", "all"),
	Purpose:  "Balances by printer lights, in points: twelve points are one stop of a channel. Meant for keys, while you look at the picture.",
	Editor:   "printerlights", Group: "Light",
	Settings: []look.Setting{
		dial("red", "Red", "points", -60, 60, 0, 1, "More red light, or less. Keys R and Shift+R when the card has focus."),
		dial("green", "Green", "points", -60, 60, 0, 1, "More green light, or less. Keys G and Shift+G when the card has focus."),
		dial("blue", "Blue", "points", -60, 60, 0, 1, "More blue light, or less. Keys B and Shift+B when the card has focus."),
		dial("all", "All", "points", -60, 60, 0, 1, "All three together: exposure. Keys A and Shift+A when the card has focus."),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		all := v.Number("all")
		b.Matrix(look.Balance, colour.Matrix(grade.Lights((v.Number("red")+all)*s, (v.Number("green")+all)*s, (v.Number("blue")+all)*s)))
	}},
}
