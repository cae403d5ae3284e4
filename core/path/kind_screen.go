package path

import "velours/core/colour"

var displayKind = &Kind{
	ID: "display", Station: Screen, Label: "Display", Fixed: true,
	Purpose: "Shows projected light on a display: whites are matched, blacks placed, and colours the display lacks are fitted without turning their hue.",
	Settings: []Setting{
		{
			ID: "id", Label: "Display", Choices: displayChoices(),
			Help: "What the picture is made for. BT.1886 for video in a dim room, sRGB for a computer screen.",
		},
		{
			ID: "range", Label: "Black range", Unit: "%", Min: 0, Max: 100, Default: 60, Step: 1,
			Help: "0 keeps the print's own black, which is never quite black; 100 opens it to the display's. It acts on prints alone.",
		},
	},
	apply: func(b *builder, v values, _ float64) {
		b.screen.Display, _ = colour.FindDisplay(v.choice("id"))
		b.screen.Range = v.number("range") / 100
	},
}

func displayChoices() []Choice {
	var c []Choice
	for _, d := range colour.Displays() {
		c = append(c, Choice{ID: d.ID, Label: d.Label})
	}
	return c
}

var toneKind = &Kind{
	ID: "tone", Station: Screen, Label: "Neutral scale", Fixed: true,
	When: "unprinted", Idle: "Resting: the print has a scale of its own.",
	Purpose: "Brings scene light to the display where there is no print: one soft scale that keeps hue and channel ratios.",
	Settings: []Setting{
		{
			ID: "contrast", Label: "Contrast", Unit: "slope", Min: 0.8, Max: 2.2, Default: colour.DefaultTone.Contrast, Step: 0.05,
			Help: "The slope at mid grey. Used only without a print; a print has a contrast of its own.",
		},
		{
			ID: "grey", Label: "Mid grey", Unit: "% light", Min: 6, Max: 24, Default: colour.DefaultTone.Grey * 100, Step: 0.5,
			Help: "The display light of scene mid grey. Lower leaves more room for bright tones.",
		},
		{
			ID: "scale", Label: "Scale", Choices: []Choice{{ID: "soft", Label: "Soft", Note: "Rolls off at both ends"}, {ID: "straight", Label: "Straight", Note: "Light as it is; clips at white"}},
			Help: "Soft rolls bright and dark tones off. Straight shows linear light as it is, for material that is display light already.",
		},
	},
	apply: func(b *builder, v values, _ float64) {
		b.screen.Tone = colour.Tone{Contrast: v.number("contrast"), Grey: v.number("grey") / 100, Straight: v.choice("scale") == "straight"}
	},
}
