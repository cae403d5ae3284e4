package steps

import (
	"math"

	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 60,
		ID:    "colour", Label: "Hues", Purpose: "A range of hue, of strength of colour and of brightness.", Picks: true,
		Settings: []look.Setting{
			{ID: "hue", Label: "Hue", Unit: "°", Min: 0, Max: 360, Default: 260, Step: 1, Help: "The middle of the range: red 25°, yellow 105°, green 145°, blue 260°. Pick it from the picture."},
			{ID: "width", Label: "Width", Unit: "°", Min: 1, Max: 180, Default: 30, Step: 1, Help: "How far it reaches to either side."},
			{ID: "low-chroma", Label: "Chroma from", Unit: "%", Min: 0, Max: 60, Default: 4, Step: 0.5, Help: "Paler colours than this are left alone."},
			{ID: "high-chroma", Label: "Chroma to", Unit: "%", Min: 0, Max: 60, Default: 60, Step: 0.5, Help: "Stronger colours than this are left alone."},
			{ID: "low", Label: "From", Unit: "stops", Min: -12, Max: 10, Default: -12, Step: 0.1, Help: "The darkest tone that is covered. " + toneHelp},
			{ID: "high", Label: "To", Unit: "stops", Min: -12, Max: 10, Default: 10, Step: 0.1, Help: "The brightest tone that is covered. " + toneHelp},
			{ID: "soft", Label: "Soft", Unit: "%", Min: 0, Max: 100, Default: 40, Step: 1, Help: "How gently the ranges end. Wide is safe: a hard key crawls."},
		},
		Part: func(v look.Values) matte.Part {
			high := v.Number("high-chroma") / 100
			if high >= 0.6 {
				high = math.Inf(1)
			}
			return matte.Colour{Hue: v.Number("hue"), Width: v.Number("width"), LowChroma: v.Number("low-chroma") / 100, HighChroma: high, Low: v.Number("low"), High: v.Number("high"), Soft: v.Number("soft") / 100}
		},
	})
}
