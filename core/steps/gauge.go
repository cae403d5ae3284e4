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
		Help: "From Super 8 to 65 mm, and the formats of stills. The look of the stock stays; the size of its grain, of its halo and of its blur on screen changes.",
	}},
	Work: render.Work{Prepare: func(b *render.Builder, v look.Values) {
		b.Film.Width = widthOf(v.Choice("id"))
	}},
}

// gauges are the widths of the picture on the film, in millimetres.
var gauges = []struct {
	id, label string
	width     float64
}{
	{"super8", "Super 8", 5.79},
	{"16mm", "16 mm", 10.26},
	{"super16", "Super 16", 12.52},
	{"35mm", "35 mm", 24.9},
	{"65mm", "65 mm", 52.5},
	{"36x24", "36 × 24 mm", 36},
	{"6x6", "6 × 6 cm", 56},
	{"6x7", "6 × 7 cm", 69.5},
	{"4x5", "4 × 5 inch", 120},
}

const usualGauge = 3

func widthOf(id string) float64 {
	for _, g := range gauges {
		if g.id == id {
			return g.width
		}
	}
	return gauges[usualGauge].width
}

func gaugeChoices() []look.Choice {
	var c []look.Choice
	for _, g := range gauges {
		c = append(c, look.Choice{ID: g.id, Label: g.label, Note: strconv.FormatFloat(g.width, 'g', -1, 64) + " mm wide"})
	}
	return c
}
