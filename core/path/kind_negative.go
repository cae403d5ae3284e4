package path

import (
	"math"
	"strconv"

	"velours/core/film"
)

var stockKind = &Kind{
	ID: "stock", Station: Negative, Label: "Stock", Mixes: true, Film: true,
	Purpose: "Exposes and develops a camera film: its spectral ear, its curve, and the way its layers hold each other back.",
	Settings: []Setting{
		{
			ID: "id", Label: "Stock", Live: stockChoices,
			Help: "The film in the camera: negatives, reversal, black and white, and older characters. Daylight and tungsten stocks hear colours differently; choose by eye on this frame.",
		},
		{
			ID: "rating", Label: "Rating", Unit: "stops", Min: -3, Max: 4, Default: 0, Step: 0.1,
			Help: "How many stops over or under its speed the stock was exposed; the print is timed back. Over gives denser shadows and a longer, softer white, under a thin, grainy picture. Reversal that is projected itself cannot be timed: there it is brightness.",
		},
		{
			ID: "push", Label: "Push", Unit: "stops", Min: -2, Max: 3, Default: 0, Step: 0.25,
			Help: "Longer development: more contrast, a little speed, more fog, more grain, and colours that cross between dark and light. Negative values pull.",
		},
		{
			ID: "separation", Label: "Separation", Unit: "%", Min: 0, Max: 200, Default: 100, Step: 1,
			Help: "How strongly the layers hold each other back while they develop. 0 leaves colours pale and brownish, above 140 reds begin to glow. Greys stay.",
		},
		fold("Share of the stock", dial("colour", "Colour", "%", 0, 100, 100, 1, "How much of the stock's colour is taken: how it hears light, and its separation. 0 hears the three channels as they are; curve and grain stay.")),
		fold("Share of the stock", dial("curve", "Curve", "%", 0, 100, 100, 1, "How much of the stock's curve is taken: slope, toe and shoulder. 0 is a straight film under the same print; colour and grain stay. Grain has a card of its own.")),
		fold("Exposing", dial("filter", "Filter", "%", 0, 100, 100, 1, "The taking filter that brings the scene's light to the stock's. 100 is matched. 0 is none: a tungsten stock in daylight goes blue, a daylight stock by lamps goes amber; black and white shifts its tones.")),
		fold("Exposing", dial("flash", "Flash", "% grey", 0, 60, 0, 1, "A faint even exposure before the picture's: it lifts and mutes shadows, and leaves the rest. 10 is felt. Mid grey is timed back.")),
		fold("Developing", Setting{
			ID: "baths", Label: "Baths", Choices: []Choice{{ID: "own", Label: "Its own", Note: "As the stock is meant"}, {ID: "crossed", Label: "Crossed", Note: "A reversal stock to a negative: steep and vivid. A negative to a positive: pale and strange"}},
			Help: "Which chemistry the film goes through. Crossed processing is a look of its own. A medium that projects the film itself needs a positive and sees to it.",
		}),
		fold("Developing", Setting{
			ID: "contrast", Label: "Contrast", Unit: "%", Min: 70, Max: 140, Default: 100, Step: 1,
			Help: "The slope of the stock's curve against its own. A print multiplies it: five per cent are seen.",
		}),
		fold("Developing", Setting{
			ID: "toe", Label: "Toe", Unit: "%", Min: 70, Max: 200, Default: 100, Step: 1,
			Help: "How soft the foot of the curve is, against the stock's own. Softer keeps detail in deep shadow and lifts it.",
		}),
		fold("Developing", Setting{
			ID: "shoulder", Label: "Shoulder", Unit: "%", Min: 70, Max: 200, Default: 100, Step: 1,
			Help: "How soft the top of the curve is, against the stock's own. Softer lets lights run out sooner and more gently.",
		}),
		fold("Developing", dial("silver", "Silver", "%", 0, 100, 0, 1, "Silver retention: how much the bleach leaves in the negative: denser lights, more contrast, paler colours, and the print is timed back. In the negative it works on lights, in the print on shadows.")),
	},
	apply: func(b *builder, v values, s float64) {
		b.film.on = true
		b.film.stock, _ = film.StockAs(v.choice("id"), b.look.digestFor("stock", v.choice("id")))
		b.film.process = film.Process{Rating: v.number("rating") * s, Push: v.number("push"), Strength: s,
			LessColour: 1 - v.number("colour")/100, LessCurve: 1 - v.number("curve")/100,
			Separation: v.number("separation")/100 - 1, Contrast: v.number("contrast")/100 - 1,
			Toe: math.Log2(v.number("toe") / 100), Shoulder: math.Log2(v.number("shoulder") / 100), Silver: v.number("silver") / 100,
			Flash: v.number("flash") / 100 * s, Crossed: v.choice("baths") == "crossed",
			Unfiltered: b.film.stock.Unfiltered(1 - v.number("filter")/100)}
	},
}

func stockChoices() []Choice {
	var c []Choice
	for _, s := range film.Stocks() {
		c = append(c, Choice{ID: s.ID, Label: s.Label, Note: s.Note, Group: s.Family, Tags: s.Tags, Away: isAway(s.ID)})
	}
	return c
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
}

const usualGauge = 3

var gaugeKind = &Kind{
	ID: "gauge", Station: Negative, Label: "Gauge", Film: true,
	When: "on the film", Idle: "Waiting: it sizes halation, sharpness and grain, and all are off.",
	Purpose: "Says how wide the picture is on the film. Grain, halation and sharpness are measured there, so a larger gauge is finer in all.",
	Settings: []Setting{{
		ID: "id", Label: "Gauge", Choices: gaugeChoices(), Default: usualGauge,
		Help: "From Super 8 to 65 mm. The look of the stock stays; the size of its grain, of its halo and of its blur on screen changes.",
	}},
	apply: func(b *builder, v values, _ float64) {
		b.film.width = widthOf(v.choice("id"))
	},
}

func widthOf(id string) float64 {
	for _, g := range gauges {
		if g.id == id {
			return g.width
		}
	}
	return gauges[usualGauge].width
}

func gaugeChoices() []Choice {
	var c []Choice
	for _, g := range gauges {
		c = append(c, Choice{ID: g.id, Label: g.label, Note: strconv.FormatFloat(g.width, 'g', -1, 64) + " mm wide"})
	}
	return c
}

var halationKind = &Kind{
	ID: "halation", Station: Negative, Label: "Halation", Mixes: true, Masks: true, Film: true, Spatial: true, Lead: []string{"amount"}, Wants: "bright", Still: still("no light returns at 0 %", 0, "amount"),
	Purpose: "Light that passed the layers comes back from the film's base and exposes them again: a red glow around what is bright.",
	Settings: []Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 400, Default: 100, Step: 1, Curve: 1.6,
			Help: "100 % is what the film does. The average of the frame stays neutral: even areas keep their exposure. Grain can hide it, so judge it alone.",
		},
		{
			ID: "backing", Label: "Backing", Unit: "%", Min: 0, Max: 100, Default: 85, Step: 1,
			Names: map[string]float64{"intact": 100, "thin": 85, "worn": 50, "removed": 0},
			Help:  "The layer on the back of the film that swallows stray light. Intact (100) leaves a faint veil; removed (0) gives a ring at a quarter of a millimetre and a strong glow. A stock that came bare has none, whatever stands here.",
		},
	},
	apply: func(b *builder, v values, s float64) {
		if a := v.number("amount") / 100 * s; a > 0 {
			b.film.on = true
			b.film.halation, b.film.backing, b.film.haloMask = a, v.number("backing")/100, b.mask
		}
	},
}

var sharpnessKind = &Kind{
	ID: "sharpness", Station: Negative, Label: "Sharpness", Mixes: true, Masks: true, Film: true, Spatial: true, Lead: []string{"scatter"}, Still: still("no scatter and no adjacency", 0, "scatter", "adjacency"),
	Purpose: "How the stock draws at this gauge: light scatters in its layers, and what develops holds back its surroundings. Film resolves less than a lens, and looks crisp all the same.",
	Settings: []Setting{
		dial("scatter", "Scatter", "%", 0, 300, 100, 1, "Light that spreads in the layers, against the stock's own. It takes the edge off fine detail; on a small gauge it is most of the look, on a large one hardly there."),
		dial("adjacency", "Adjacency", "%", 0, 300, 100, 1, "What developed holds back its neighbours: a fine line of density along edges, against the stock's own. It is why film looks crisp; too much shows as an outline."),
	},
	apply: func(b *builder, v values, s float64) {
		scatter, adjacency := v.number("scatter")/100*s, v.number("adjacency")/100*s
		if scatter > 0 || adjacency > 0 {
			b.film.on = true
			b.film.scatter, b.film.adjacency, b.film.crispMask = scatter, adjacency, b.mask
		}
	},
}

var grainKind = &Kind{
	ID: "grain", Station: Negative, Label: "Grain", Mixes: true, Masks: true, Film: true, Spatial: true, Lead: []string{"amount"}, Still: still("no grain at 0 %", 0, "amount"),
	Purpose: "The dye clouds of the negative, in its density: clean blacks, most in the middle tones, quiet lights, without being told.",
	Settings: []Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 300, Default: 100, Step: 1, Curve: 1.4,
			Help: "100 % is the stock's own granularity at this gauge. Hardly seen when the frame is fitted, seen at 1:1: that is right.",
		},
		{
			ID: "size", Label: "Cloud size", Unit: "%", Min: 40, Max: 300, Default: 100, Step: 5,
			Help: "The size of the dye clouds against the stock's own. Larger clouds make softer, coarser grain of the same granularity.",
		},
		{
			ID: "link", Label: "Linked", Unit: "%", Min: 0, Max: 100, Default: 80, Step: 1,
			Help: "How far the three layers share one grain. At 100 it is neutral, at 0 every layer has its own, as in the emulsion; coloured grain easily reads as digital noise.",
		},
		{
			ID: "seed", Label: "Roll", Unit: "no.", Min: 0, Max: 9999, Default: 1, Step: 1,
			Help: "Another roll of the same film: the same grain in other places.",
		},
	},
	apply: func(b *builder, v values, s float64) {
		if a := v.number("amount") / 100 * s; a > 0 {
			b.film.on, b.film.grainMask = true, b.mask
			b.film.grain, b.film.cloud = a, v.number("size")/100
			b.film.link, b.film.seed = v.number("link")/100, uint64(v.number("seed"))
		}
	},
}
