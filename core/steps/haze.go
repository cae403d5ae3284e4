package steps

import (
	"math"

	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(hazeKind) }

var hazeKind = &look.Kind{
	ID: "haze", Place: 2, Station: look.Lens, Label: "Haze", HasStrength: true, Spatial: true, Repeatable: true, Group: "Air", Scatters: true, Range: sourceRange, Lead: []string{"amount"}, NoEffect: noEffectAt("no veil at 0 %", 0, "amount"),
	Purpose: "Air between things and the lens: a veil of the scene's own light over all of it, or over what a matte says is far. Below 0 a little of such a veil is taken out.",
	Begin:   map[string]any{"amount": 8.0},
	Settings: join([]look.Setting{
		travels(1.6, dial("amount", "Amount", "%", -50, 80, 0, 0.5, "The share of what is seen that is veil. 3 to 10 is felt; a gradient or a picture as matte makes it stronger far away. Below 0 it is taken out, gently.")),
		{ID: "veil", Label: "Veil", Choices: []look.Choice{
			{ID: "scene", Label: "The scene's light", Note: "The light around, spread wide: it follows lamps and windows"},
			{ID: "tint", Label: "A tint", Note: "Even, of one colour"},
		}, Help: "What the veil is made of."},
		travels(1.6, dial("radius", "Reach", "% width", 5, 60, 35, 0.5, "How wide the scene's light is spread. Small keeps the veil near lamps, large fills the frame.")),
		fold("Colour", hueFrom("tint", dial("hue", "Hue", "°", 0, 360, 230, 1, "Of the veil; it can be picked from the picture."))),
		fold("Colour", travels(1.6, dial("tint", "Tint", "%", 0, 100, 0, 1, "How much of that hue the veil has. Far things are a little blue in daylight, amber under lamps."))),
		fold("Colour", travels(1.6, dial("level", "Level", "stops", -4, 4, 0, 0.05, "How bright the veil is: against the scene's own light, or from mid grey for a tint."))),
	}, sourceSettings(), holdSettings("Keeps the veil out of what is itself dark.", "Keeps it off what is itself bright.")),
	Ready: []look.Ready{
		{ID: "air", Label: "Thin air", Note: "Hardly there: distance", Values: map[string]any{"amount": 4.0}},
		{ID: "room", Label: "Smoke in the room", Note: "Lamps light it, blacks are held a little", Values: map[string]any{"amount": 10.0, "radius": 22.0, "darks": 30.0}},
		{ID: "blue", Label: "Blue distance", Note: "For a gradient towards the horizon", Values: map[string]any{"amount": 18.0, "veil": "tint", "hue": 235.0, "tint": 30.0, "level": 0.8}},
		{ID: "dust", Label: "Dust in the sun", Note: "Warm, from bright light alone", Values: map[string]any{"amount": 12.0, "from": 1.0, "radius": 30.0, "hue": 75.0, "tint": 30.0}},
		{ID: "clear", Label: "Clearer", Note: "A little is taken out", Values: map[string]any{"amount": -8.0}},
		{ID: "fade", Label: "Old glass", Note: "A pale veil over everything", Values: map[string]any{"amount": 7.0, "veil": "tint", "level": 0.5}},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		a := v.Number("amount") / 100 * s
		if a == 0 {
			return
		}
		level := math.Exp2(v.Number("level"))
		by := scatter.Spreader(&scatter.Lens{Aspect: 1, Filters: []scatter.Filter{{Depth: even(-math.Log(1 - math.Abs(a))), Lobes: []scatter.Gaussian{{Sigma: v.Number("radius") / 100, Weight: 1}}, Mix: 1}}})
		colour := tint(v.Number("hue"), v.Number("tint")/100)
		if v.Choice("veil") == "tint" {
			c := colour.Apply([3]float64{0.18 * level, 0.18 * level, 0.18 * level})
			by, colour, level = scatter.EvenVeil{Share: math.Abs(a), Light: c}, tint(0, 0), 1
		}
		g := scatter.NewGlow(by, lumaOfScene)
		g.Source, g.Hold = sourceOf(v), holdOf(v)
		g.Near, g.Far, g.Added = colour, colour, level
		if a < 0 { // what is seen is (1−a)·scene + a·veil: solved for the scene
			g.Mix = -1 / (1 + a)
		}
		b.Spread(look.Lens, "haze", g, 0)
	}},
}

func even(v float64) [3]float64 { return [3]float64{v, v, v} }
