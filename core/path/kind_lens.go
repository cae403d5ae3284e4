package path

import "velours/core/scatter"

var bloomKind = &Kind{
	ID: "bloom", Station: Lens, Label: "Bloom", Mixes: true, Spatial: true, Lead: []string{"amount"}, Wants: "bright", Still: still("no light goes astray at 0 %", 0, "amount"),
	Purpose: "Scatters a share of the light in the lens: bright things glow, and lose exactly the light that glows.",
	Settings: []Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 100, Default: 20, Step: 1, Curve: 1.6,
			Help: "How much light goes astray: at 100 % three tenths. It works in linear light, so only what is really bright shows it. Stay low; you should miss it when it is off.",
		},
		{
			ID: "radius", Label: "Radius", Unit: "% width", Min: 0.1, Max: 8, Default: 1.2, Step: 0.1, Curve: 2,
			Help: "How far the glow reaches, as a share of the picture's width. Small sits on the lamps, large lifts the air around them.",
		},
	},
	apply: func(b *builder, v values, s float64) {
		depth, r := 0.357*v.number("amount")/100*s, v.number("radius")/100
		if depth <= 0 {
			return
		}
		// a narrow part holds most of the light, a wide one carries it into the room
		b.spatial(&bloomOp{scatter.Cloud{Depth: depth, Lobes: []scatter.Gaussian{{Sigma: 0.4 * r, Weight: 0.72}, {Sigma: 1.9 * r, Weight: 0.28}}}})
	},
}
