package steps

import (
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(bloomKind) }

var bloomKind = &look.Kind{
	ID: "bloom", Place: 10, Station: look.Lens, Label: "Bloom", HasStrength: true, Spatial: true, Repeatable: true, Scatters: true, Range: sourceRange, Lead: []string{"amount"}, Wants: "bright", NoEffect: noEffectAt("no light goes astray at 0 %", 0, "amount"),
	Purpose: "Scatters a share of the light in the lens: bright things glow, and lose exactly the light that glows.",
	Settings: join([]look.Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 100, Default: 20, Step: 1, Curve: 1.6,
			Help: "How much light goes astray: at 100 % three tenths. It works in linear light, so only what is really bright shows it. Stay low; you should miss it when it is off.",
		},
		{
			ID: "radius", Label: "Radius", Unit: "% width", Min: 0.1, Max: 8, Default: 1.2, Step: 0.1, Curve: 2,
			Help: "How far the glow reaches, as a share of the picture's width. Small sits on the lamps, large lifts the air around them.",
		},
		func() look.Setting {
			s := travels(1.6, dial("added", "Light added", "%", 0, 400, 100, 1, "The light that arrives, against the light that is taken from where it was. 100 keeps the sum, as a lens does; more is a lamp that is brighter than it was."))
			s.Away = "The sum of light is not kept: 100 % would keep it."
			return s
		}(),
	}, sourceSettings(), []look.Setting{
		fold("Source", travels(2, dial("detail", "Skip spots", "% width", 0, 3, 0, 0.05, "Bright spots smaller than this do not feed it: twinkling leaves, glitter, noise. A lamp of the same brightness does."))),
		fold("Colour", dial("saturation", "Saturation", "%", 0, 200, 100, 1, "Of the glow alone. 100 keeps the colour of its light; lower is a pale veil.")),
		fold("Colour", travels(1.6, dial("near-tint", "Near tint", "%", 0, 100, 0, 1, "Brings the bright part of the glow, close to its light, to a hue."))),
		fold("Colour", hueFrom("near-tint", dial("near-hue", "Near hue", "°", 0, 360, 75, 1, "That hue: amber 75°, rose 10°, cyan-blue 230°. It can be picked from the picture."))),
		fold("Colour", travels(1.6, dial("far-tint", "Far tint", "%", 0, 100, 0, 1, "Brings the faint part of the glow, far from its light, to a hue."))),
		fold("Colour", hueFrom("far-tint", dial("far-hue", "Far hue", "°", 0, 360, 40, 1, "That hue. It can be picked from the picture."))),
		fold("Shape", travels(1.6, dial("balance", "Near and far", "%", -100, 100, 0, 1, "Left brings the glow close to its light, right carries it into the room; its sum stays."))),
		fold("Shape", travels(1.6, dial("aspect", "Stretch", "×", 1, 8, 1, 0.05, "How many times as long as high the glow is. Squeezing lenses draw it out."))),
		fold("Shape", dial("turn", "Turn", "°", -90, 90, 0, 0.5, "Turns a stretched glow, clockwise from the horizontal.")),
	}, holdSettings(
		"The glow fades where the picture itself is dark, so that blacks stay deep.",
		"What is bright itself stays as it was, crisp and without loss; its glow stays.",
	)),
	Ready: []look.Ready{
		{ID: "breath", Label: "A breath", Note: "Hardly there: lamps lose their hard edge", Values: map[string]any{"amount": 10.0, "radius": 0.8}},
		{ID: "lamps", Label: "Lamps alone", Note: "Only what is really bright, held out of the darks", Values: map[string]any{"amount": 30.0, "radius": 1.5, "from": 3.0, "knee": 2.0, "darks": 60.0}},
		{ID: "evening", Label: "Evening air", Note: "Wide, warm, from lamps into the room", Values: map[string]any{"amount": 26.0, "radius": 4.0, "from": 2.0, "knee": 2.5, "balance": 40.0, "far-tint": 35.0, "far-hue": 60.0}},
		{ID: "sunlight", Label: "Sunlight in leaves", Note: "The sky glows, twinkling leaves do not", Values: map[string]any{"amount": 28.0, "radius": 2.5, "from": 2.0, "knee": 2.0, "detail": 0.5, "near-tint": 20.0, "near-hue": 85.0}},
		{ID: "pale", Label: "Pale lens", Note: "An old coating: glow without colour", Values: map[string]any{"amount": 22.0, "radius": 3.0, "saturation": 45.0, "balance": 30.0}},
		{ID: "stretched", Label: "Stretched", Note: "Drawn out sideways, as through a squeezing lens", Values: map[string]any{"amount": 24.0, "radius": 1.8, "from": 3.0, "aspect": 4.0, "cores": 50.0}},
		{ID: "two", Label: "Amber and rose", Note: "Amber by the lamp, rose where it fades", Values: map[string]any{"amount": 28.0, "radius": 2.2, "from": 2.5, "near-tint": 40.0, "near-hue": 75.0, "far-tint": 45.0, "far-hue": 15.0, "darks": 40.0}},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		depth, r := 0.357*v.Number("amount")/100*s, v.Number("radius")/100
		if depth <= 0 {
			return
		}
		// a narrow part holds most of the light, a wide one carries it into the room
		cloud := scatter.Cloud{Depth: depth, Lobes: []scatter.Gaussian{{Sigma: 0.4 * r, Weight: 0.72}, {Sigma: 1.9 * r, Weight: 0.28}}}
		g := scatter.NewGlow(cloud, lumaOfScene)
		if aspect, balance := v.Number("aspect"), v.Number("balance")/100; aspect != 1 || balance != 0 {
			l := cloud.Lens()
			l.Aspect, l.Turn, l.Balance, l.Apart = aspect, v.Number("turn"), balance, bloomApart*r
			g.By = l
		}
		g.Source, g.Hold, g.Added = sourceOf(v), holdOf(v), v.Number("added")/100
		g.Source.Detail = v.Number("detail") / 100
		saturation := v.Number("saturation") / 100
		g.Near = glowColour(saturation, v.Number("near-hue"), v.Number("near-tint")/100)
		g.Far = glowColour(saturation, v.Number("far-hue"), v.Number("far-tint")/100)
		if l, ok := g.By.(scatter.Cloud); ok && g.Near != g.Far { // it must know what is far
			apart := l.Lens()
			apart.Apart = bloomApart * r
			g.By = apart
		}
		b.Spread(look.Lens, "bloom", g, 0)
	}},
}

// bloomApart is the deviation, in radii, from which on a glow is far: between its two parts.
const bloomApart = 0.9
