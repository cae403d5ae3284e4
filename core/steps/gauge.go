package steps

import (
	"strconv"

	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(gaugeKind) }

var gaugeKind = &look.Kind{
	ID: "gauge", Place: 20, Station: look.Negative, Label: "Gauge", Film: true,
	Precondition: "on the film", Unmet: "Waiting: it sizes halation, sharpness and grain, and all are off.",
	Purpose: "Says how wide the picture is on the film. Grain, halation and sharpness are measured there, so a larger gauge is finer in all.",
	Settings: []look.Setting{{
		ID: "id", Label: "Gauge", Choices: gaugeChoices(), Default: usualGauge,
		Help: "From Super 8 to 65 mm, squeezed once, and the formats of stills. The look of the stock stays; the size of its grain, of its halo and of its blur on screen changes.",
	}},
	Work: render.Work{Prepare: func(b *render.Builder, v look.Values) {
		g := gaugeOf(v.Choice("id"))
		b.Film.Width, b.Film.Squeeze = g.width, g.squeeze
	}},
}

// gauge is how wide the picture is on the film, in millimetres, and how many times as wide as there it is shown, if it is squeezed.
type gauge struct {
	id, label string
	width     float64
	squeeze   int
}

var gauges = []gauge{
	{"super8", "Super 8", 5.79, 1},
	{"16mm", "16 mm", 10.26, 1},
	{"super16", "Super 16", 12.52, 1},
	{"35mm", "35 mm", 24.9, 1},
	{"35mm-squeezed", "35 mm, squeezed", 20.96, 2},
	{"65mm", "65 mm", 52.5, 1},
	{"36x24", "36 × 24 mm", 36, 1},
	{"6x6", "6 × 6 cm", 56, 1},
	{"6x7", "6 × 7 cm", 69.5, 1},
	{"4x5", "4 × 5 inch", 120, 1},
}

const usualGauge = 3

func gaugeOf(id string) gauge {
	for _, g := range gauges {
		if g.id == id {
			return g
		}
	}
	return gauges[usualGauge]
}

func gaugeChoices() []look.Choice {
	var c []look.Choice
	for _, g := range gauges {
		note := strconv.FormatFloat(g.width, 'g', -1, 64) + " mm wide"
		if g.squeeze > 1 {
			note += ", shown twice as wide: grain and halos lie down"
		}
		c = append(c, look.Choice{ID: g.id, Label: g.label, Note: note})
	}
	return c
}
