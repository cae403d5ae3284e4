package steps

import (
	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(whiteKind) }

var whiteKind = &look.Kind{
	ID: "white", Place: 20, KeepsOrder: true, Station: look.Balance, Label: "White balance", HasStrength: true, Repeatable: true, Lead: []string{"temperature", "tint"}, NoEffect: noEffectAt("both at 0, the light stays as it is", 0, "temperature", "tint"),
	Purpose: "Adapts the scene to another light, as a filter before the lens would, without moving greys in brightness.",
	Editor:  "white",
	Settings: []look.Setting{
		{
			ID: "temperature", Label: "Temperature", Unit: "mired", Min: -250, Max: 120, Step: 1, Kelvin: colour.WhiteMired,
			Help: "Right warms, left cools, in mired, the unit of conversion filters: equal steps look equal. Bring skin and a grey to rest first; keep mood for the film.",
		},
		{
			ID: "tint", Label: "Tint", Unit: "mDuv", Min: -60, Max: 60, Step: 0.5,
			Help: "Right to magenta, left to green, across the line of daylight. Fluorescent and LED light often need a little magenta.",
		},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		b.Matrix(look.Balance, colour.WhiteBalance(v.Number("temperature")*s, v.Number("tint")*s))
	}},
}
