package path

import "velours/core/colour"

var displayKind = &Kind{
	ID: "display", Station: Screen, Label: "Display", Fixed: true, Rest: map[string]any{"range": 0.0, "surround": 1.0},
	Purpose: "Shows projected light on a display: whites are matched, blacks placed, and colours the display lacks are fitted without turning their hue.",
	Settings: []Setting{
		{
			ID: "id", Label: "Display", Choices: displayChoices(),
			Help: "What the picture is made for. BT.1886 for video in a dim room, sRGB for a computer screen, P3-D65 for projection, PQ or HLG where whites may be bright.",
		},
		{
			ID: "range", Label: "Black range", Unit: "%", Min: 0, Max: 100, Default: 60, Step: 1,
			Help: "0 keeps the print's own black, which is never quite black; 100 opens it to the display's, softly: detail in deep shadow stays. It acts on prints alone.",
		},
		{
			ID: "whites", Label: "White range", Unit: "%", Min: 0, Max: 100, Default: 100, Step: 1,
			Help: "100 brings the print's white to the display's. 0 keeps the print's own: a little below, as clear film is against the open gate. It acts on prints alone.",
		},
		{
			ID: "white", Label: "White", Unit: "cd/m²", Min: 48, Max: 1000, Default: colour.UsualWhite, Step: 1, Only: []string{"pq", "hlg"},
			Help: "How bright the white of a print, or of a sheet of paper, is on a PQ or HLG display. 203 is the usual; other displays have their white at their peak.",
		},
		{
			ID: "peak", Label: "Peak", Unit: "cd/m²", Min: 100, Max: 10000, Default: colour.UsualPeak, Step: 50, Curve: 2, Only: []string{"pq", "hlg"},
			Help: "The brightest a PQ or HLG display goes. Without a print, bright tones run on above white up to it; a print ends at its white.",
		},
		{
			ID: "surround", Label: "Surround", Unit: "power", Min: 0.8, Max: 1.25, Default: 1, Step: 0.01,
			Help: "Raises light to a power for a display in another surround: above 1 for a dark room, below 1 for a bright one. 1 leaves it.",
		},
	},
	apply: func(b *builder, v values, _ float64) {
		b.screen.Display, _ = colour.FindDisplay(v.choice("id"))
		b.screen.Display = b.screen.Display.At(v.number("white"), v.number("peak"))
		b.screen.Surround = v.number("surround") - 1
		b.screen.Range, b.screen.Whites = v.number("range")/100, v.number("whites")/100
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
	ID: "tone", Station: Screen, Label: "Neutral scale", Fixed: true, Rest: map[string]any{"scale": "straight"},
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
			ID: "toe", Label: "Toe", Unit: "%", Min: -40, Max: 60, Default: 0, Step: 1,
			Help: "The contrast of deep shadows: below 0 opens them, above 0 lets them sink. Mid grey stays.",
		},
		{
			ID: "rolloff", Label: "Roll-off", Unit: "%", Min: -30, Max: 60, Default: 0, Step: 1,
			Help: "How early bright tones turn soft: above 0 they run out longer, below 0 they reach white sooner. Mid grey stays.",
		},
		{
			ID: "scale", Label: "Scale", Choices: []Choice{{ID: "soft", Label: "Soft", Note: "Rolls off at both ends"}, {ID: "straight", Label: "Straight", Note: "Light as it is; clips at white"}},
			Help: "Soft rolls bright and dark tones off. Straight shows linear light as it is, for material that is display light already.",
		},
	},
	apply: func(b *builder, v values, _ float64) {
		b.screen.Tone = colour.Tone{Contrast: v.number("contrast"), Grey: v.number("grey") / 100, Toe: v.number("toe") / 100, RollOff: v.number("rolloff") / 100, Straight: v.choice("scale") == "straight"}
	},
}
