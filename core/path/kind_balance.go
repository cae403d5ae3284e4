package path

import (
	"math"

	"velours/core/colour"
)

var exposureKind = &Kind{
	ID: "exposure", Station: Balance, Label: "Exposure", Mixes: true, Lead: []string{"stops"}, Still: still("at 0 stops every tone stays", 0, "stops"),
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
	ID: "white", Station: Balance, Label: "White balance", Mixes: true, Lead: []string{"temperature", "tint"}, Still: still("both at 0, the light stays as it is", 0, "temperature", "tint"),
	Purpose: "Adapts the scene to another light, as a filter before the lens would, without moving greys in brightness.",
	Settings: []Setting{
		{
			ID: "temperature", Label: "Temperature", Unit: "mired", Min: -100, Max: 100, Step: 1,
			Help: "Right warms, left cools, in mired, the unit of conversion filters: equal steps look equal. Bring skin and a grey to rest first; keep mood for the film.",
		},
		{
			ID: "tint", Label: "Tint", Unit: "mDuv", Min: -30, Max: 30, Step: 0.5,
			Help: "Right to magenta, left to green, across the line of daylight. Fluorescent and LED light often need a little magenta.",
		},
	},
	apply: func(b *builder, v values, s float64) {
		b.matrix(colour.WhiteBalance(v.number("temperature")*s, v.number("tint")*s))
	},
}
