package path

import (
	"math"

	"velours/core/colour"
	"velours/core/grade"
)

var exposureKind = &Kind{
	ID: "exposure", Station: Balance, Label: "Exposure", Mixes: true, Many: true, Lead: []string{"stops"}, Still: still("at 0 stops every tone stays", 0, "stops"),
	Purpose: "Lets more or less light in, as the iris would: every tone moves by the same number of stops.",
	Settings: []Setting{{
		ID: "stops", Label: "Exposure", Unit: "stops", Min: -6, Max: 6, Step: 0.05,
		Help: "Up opens the iris. Film has room above: half a stop over gives cleaner shadows and softer lights. For the density of the print use the printer lights.",
	}},
	apply: func(b *builder, v values, s float64) {
		b.matrix(colour.Identity.Scale(math.Exp2(v.number("stops") * s)))
	},
}

var whiteKind = &Kind{
	ID: "white", Station: Balance, Label: "White balance", Mixes: true, Many: true, Lead: []string{"temperature", "tint"}, Still: still("both at 0, the light stays as it is", 0, "temperature", "tint"),
	Purpose: "Adapts the scene to another light, as a filter before the lens would, without moving greys in brightness.",
	Editor:  "white",
	Settings: []Setting{
		{
			ID: "temperature", Label: "Temperature", Unit: "mired", Min: -250, Max: 120, Step: 1, Kelvin: colour.WhiteMired,
			Help: "Right warms, left cools, in mired, the unit of conversion filters: equal steps look equal. Bring skin and a grey to rest first; keep mood for the film.",
		},
		{
			ID: "tint", Label: "Tint", Unit: "mDuv", Min: -60, Max: 60, Step: 0.5,
			Help: "Right to magenta, left to green, across the line of daylight. Fluorescent and LED light often need a little magenta.",
		},
	},
	apply: func(b *builder, v values, s float64) {
		b.matrix(colour.WhiteBalance(v.number("temperature")*s, v.number("tint")*s))
	},
}

// pointsKind is exposure by printer lights, before the film.
var pointsKind = &Kind{
	ID: "points", Station: Balance, Label: "Printer lights", Mixes: true, Many: true, Lead: []string{"red", "green", "blue", "all"},
	Still:   still("all at 0, the light stays as it is", 0, "red", "green", "blue", "all"),
	Purpose: "Balances by printer lights, in points: twelve points are one stop of a channel. Meant for keys, while you look at the picture.",
	Editor:  "points", Shelf: "Light",
	Settings: []Setting{
		dial("red", "Red", "points", -60, 60, 0, 1, "More red light, or less. Keys R and Shift+R when the card has focus."),
		dial("green", "Green", "points", -60, 60, 0, 1, "More green light, or less. Keys G and Shift+G when the card has focus."),
		dial("blue", "Blue", "points", -60, 60, 0, 1, "More blue light, or less. Keys B and Shift+B when the card has focus."),
		dial("all", "All", "points", -60, 60, 0, 1, "All three together: exposure. Keys A and Shift+A when the card has focus."),
	},
	apply: func(b *builder, v values, s float64) {
		all := v.number("all")
		b.matrix(colour.Matrix(grade.Lights((v.number("red")+all)*s, (v.number("green")+all)*s, (v.number("blue")+all)*s)))
	},
}
