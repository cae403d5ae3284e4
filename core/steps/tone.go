package steps

import (
	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(toneKind) }

var toneKind = &look.Kind{
	ID: "tone", Place: 20, Station: look.Screen, Label: "Neutral scale", Fixed: true, Rest: map[string]any{"scale": "straight"},
	Precondition: "unprinted", Unmet: "Resting: the print has a scale of its own.",
	Purpose: "Brings scene light to the display where there is no print: one soft scale that keeps hue and channel ratios.",
	Settings: []look.Setting{
		{
			ID: "contrast", Label: "Contrast", Unit: "slope", Min: 0.8, Max: 2.2, Default: colour.DefaultTone.Contrast, Step: 0.05,
			Help: "The slope at mid grey. Used only without a print; a print has a contrast of its own.",
		},
		{
			ID: "grey", Label: "Mid grey", Unit: "% light", Min: 6, Max: 24, Default: colour.DefaultTone.Grey * 100, Step: 0.5,
			Help: "The display light of scene mid grey. Lower leaves more room for bright tones.",
		},
		{
			ID: "toe", Label: "Toe", Unit: "%", Min: -40, Max: 60, Default: 0, Step: 1,
			Help: "The contrast of deep shadows: below 0 opens them, above 0 lets them sink. Mid grey stays.",
		},
		{
			ID: "rolloff", Label: "Roll-off", Unit: "%", Min: -30, Max: 60, Default: 0, Step: 1,
			Help: "How early bright tones turn soft: above 0 they run out longer, below 0 they reach white sooner. Mid grey stays.",
		},
		{
			ID: "scale", Label: "Scale", Choices: []look.Choice{{ID: "soft", Label: "Soft", Note: "Rolls off at both ends"}, {ID: "straight", Label: "Straight", Note: "Light as it is; clips at white"}},
			Help: "Soft rolls bright and dark tones off. Straight shows linear light as it is, for material that is display light already.",
		},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, _ float64) {
		b.Screen.Tone = colour.Tone{Contrast: v.Number("contrast"), Grey: v.Number("grey") / 100, Toe: v.Number("toe") / 100, RollOff: v.Number("rolloff") / 100, Straight: v.Choice("scale") == "straight"}
	}},
}
