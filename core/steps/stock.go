package steps

import (
	"math"
	"sync"

	"velours/core/film"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
)

func init() { look.Declare(stockKind) }

var stockKind = &look.Kind{
	ID: "stock", Place: 10, Station: look.Negative, Label: "Stock", HasStrength: true, Film: true,
	Purpose: "Exposes and develops a camera film: its spectral ear, its curve, and the way its layers hold each other back.",
	Settings: []look.Setting{
		{
			ID: "id", Label: "Stock", Live: stockChoices, Refers: stockReference,
			Help: "The film in the camera: negatives, reversal, black and white, and older characters. Daylight and tungsten stocks are sensitive to colours in different ways; choose by eye on this frame.",
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
		fold("Share of the stock", dial("colour", "Colour", "%", 0, 100, 100, 1, "How much of the stock's colour is taken: its spectral sensitivity, and its separation. At 0 the layers are sensitive to the three channels as they are; curve and grain stay.")),
		fold("Share of the stock", dial("curve", "Curve", "%", 0, 100, 100, 1, "How much of the stock's curve is taken: slope, toe and shoulder. 0 is a straight film under the same print; colour and grain stay. Grain has a card of its own.")),
		fold("Exposing", dial("filter", "Filter", "%", 0, 100, 100, 1, "The taking filter that brings the scene's light to the stock's. 100 is matched. 0 is none: a tungsten stock in daylight goes blue, a daylight stock by lamps goes amber; black and white shifts its tones.")),
		fold("Exposing", dial("flash", "Flash", "% grey", 0, 60, 0, 1, "A faint even exposure before the picture's: it lifts and mutes shadows, and leaves the rest. 10 is felt. Mid grey is timed back.")),
		fold("Developing", look.Setting{
			ID: "baths", Label: "Baths", Choices: []look.Choice{{ID: "own", Label: "Its own", Note: "As the stock is meant"}, {ID: "crossed", Label: "Crossed", Note: "A reversal stock to a negative: steep and vivid. A negative to a positive: pale and strange"}},
			Help: "Which chemistry the film goes through. Crossed processing is a look of its own. A medium that projects the film itself needs a positive and sees to it.",
		}),
		fold("Developing", look.Setting{
			ID: "contrast", Label: "Contrast", Unit: "%", Min: 70, Max: 140, Default: 100, Step: 1,
			Help: "The slope of the stock's curve against its own. A print multiplies it: five per cent are seen.",
		}),
		fold("Developing", look.Setting{
			ID: "toe", Label: "Toe", Unit: "%", Min: 70, Max: 200, Default: 100, Step: 1,
			Help: "How soft the foot of the curve is, against the stock's own. Softer keeps detail in deep shadow and lifts it.",
		}),
		fold("Developing", look.Setting{
			ID: "shoulder", Label: "Shoulder", Unit: "%", Min: 70, Max: 200, Default: 100, Step: 1,
			Help: "How soft the top of the curve is, against the stock's own. Softer lets highlights run out sooner and more gently.",
		}),
		fold("Developing", dial("silver", "Silver", "%", 0, 100, 0, 1, "Silver retention: how much the bleach leaves in the negative: denser highlights, more contrast, paler colours, and the print is timed back. In the negative it works on highlights, in the print on shadows.")),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		b.Film.On = true
		b.Film.Stock = b.Stock(v.Choice("id"))
		b.Film.Process = film.Process{Rating: v.Number("rating") * s, Push: v.Number("push"), Strength: s,
			LessColour: 1 - v.Number("colour")/100, LessCurve: 1 - v.Number("curve")/100,
			Separation: v.Number("separation")/100 - 1, Contrast: v.Number("contrast")/100 - 1,
			Toe: math.Log2(v.Number("toe") / 100), Shoulder: math.Log2(v.Number("shoulder") / 100), Silver: v.Number("silver") / 100,
			Flash: v.Number("flash") / 100 * s, Crossed: v.Choice("baths") == "crossed",
			Unfiltered: b.Film.Stock.Unfiltered(1 - v.Number("filter")/100)}
	}},
}

var stockReference = &look.Reference{
	Card: "stock",
	Key: func(id, digest string) string {
		s, err := film.StockAs(id, digest)
		if err != nil {
			return id
		}
		return s.Key()
	},
	Digest: func(id string) string {
		s, err := film.FindStock(id)
		if err != nil {
			return ""
		}
		return s.Digest()
	},
	Earlier: film.EarlierDigest,
}

// said are the words of cards' claims, by card: choices are listed whenever a setting is checked.
var said sync.Map

func saysOf(s *film.Stock) []string {
	if words, ok := said.Load(s); ok {
		return words.([]string)
	}
	words := make([]string, len(s.Claims))
	for i, c := range s.Claims {
		words[i] = measure.Words(c)
	}
	said.Store(s, words)
	return words
}

func stockChoices() []look.Choice {
	var c []look.Choice
	for _, s := range film.Stocks() {
		c = append(c, look.Choice{ID: s.ID, Label: s.Label, Note: s.Note, Says: saysOf(s), Group: s.Family, Tags: s.Tags, Away: look.IsAway(s.ID)})
	}
	return c
}
