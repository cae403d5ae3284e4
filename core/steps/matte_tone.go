package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 50,
		ID:    "tone", Label: "Tones", Purpose: "A range of brightness.", Picks: true,
		Settings: []look.Setting{
			{ID: "low", Label: "From", Unit: "stops", Min: -12, Max: 10, Default: 1, Step: 0.05, Help: "The darkest tone that is covered. " + toneHelp},
			{ID: "high", Label: "To", Unit: "stops", Min: -12, Max: 10, Default: 10, Step: 0.05, Help: "The brightest tone that is covered. " + toneHelp},
			{ID: "soft", Label: "Soft", Unit: "stops", Min: 0, Max: 6, Default: 1, Step: 0.05, Help: "How far it fades beyond both ends. Wide is safe: a hard key crawls."},
		},
		Part: func(v look.Values) matte.Part {
			return matte.Tone{Low: v.Number("low"), High: v.Number("high"), Soft: v.Number("soft")}
		},
	})
}
