package path

import (
	"velours/core/colour"
	"velours/core/grade"
)

func init() { Declare(pointsKind) }

// pointsKind is exposure by printer lights, before the film.
var pointsKind = &Kind{
	ID: "points", Place: 30, Station: Balance, Label: "Printer lights", Mixes: true, Many: true, Lead: []string{"red", "green", "blue", "all"},
	Still:   still("all at 0, the light stays as it is", 0, "red", "green", "blue", "all"),
	Purpose: "Balances by printer lights, in points: twelve points are one stop of a channel. Meant for keys, while you look at the picture.",
	Editor:  "points", Shelf: "Light",
	Settings: []Setting{
		dial("red", "Red", "points", -60, 60, 0, 1, "More red light, or less. Keys R and Shift+R when the card has focus."),
		dial("green", "Green", "points", -60, 60, 0, 1, "More green light, or less. Keys G and Shift+G when the card has focus."),
		dial("blue", "Blue", "points", -60, 60, 0, 1, "More blue light, or less. Keys B and Shift+B when the card has focus."),
		dial("all", "All", "points", -60, 60, 0, 1, "All three together: exposure. Keys A and Shift+A when the card has focus."),
	},
	Work: Work{Apply: func(b *Builder, v Values, s float64) {
		all := v.Number("all")
		b.Matrix(Balance, colour.Matrix(grade.Lights((v.Number("red")+all)*s, (v.Number("green")+all)*s, (v.Number("blue")+all)*s)))
	}},
}
