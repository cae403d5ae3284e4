package steps

import (
	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(displayKind) }

var displayKind = &look.Kind{
	ID: "display", Place: 10, Station: look.Screen, Label: "Display", Fixed: true, Rest: map[string]any{"range": 0.0, "surround": 1.0},
	Purpose: "Shows projected light on a display: whites are matched, blacks placed, and colours the display lacks are fitted without turning their hue.",
	Settings: []look.Setting{
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
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, _ float64) {
		b.Screen.Display, _ = colour.FindDisplay(v.Choice("id"))
		b.Screen.Display = b.Screen.Display.At(v.Number("white"), v.Number("peak"))
		b.Screen.Surround = v.Number("surround") - 1
		b.Screen.Range, b.Screen.Whites = v.Number("range")/100, v.Number("whites")/100
	}},
}

func displayChoices() []look.Choice {
	var c []look.Choice
	for _, d := range colour.Displays() {
		c = append(c, look.Choice{ID: d.ID, Label: d.Label})
	}
	return c
}
