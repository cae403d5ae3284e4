package path

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/scatter"
)

var bloomKind = &Kind{
	ID: "bloom", Station: Lens, Label: "Bloom", Mixes: true, Spatial: true, Many: true, Lead: []string{"amount"}, Wants: "bright", Still: still("no light goes astray at 0 %", 0, "amount"),
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
		cloud := scatter.Cloud{Depth: depth, Lobes: []scatter.Gaussian{{Sigma: 0.4 * r, Weight: 0.72}, {Sigma: 1.9 * r, Weight: 0.28}}}
		if b.mask == nil {
			b.add(Lens, &bloomOp{cloud})
			return
		}
		b.area(Lens, fmt.Sprint("bloom", cloud), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return scatter.Diffuse(ctx, src, cloud)
		})
	},
}

var vignetteKind = &Kind{
	ID: "vignette", Station: Lens, Label: "Vignette", Mixes: true, Spatial: true, Many: true, Lead: []string{"stops"}, Still: still("at 0 stops no light falls off", 0, "stops"),
	Purpose: "Lets light fall off towards the edge of the frame, as a lens does, before the film sees it.",
	Editor:  "vignette",
	Settings: []Setting{
		{ID: "stops", Label: "Exposure", Unit: "stops", Min: -4, Max: 2, Step: 0.05, Help: "What the far edge gets. −0.3 to −0.7 holds the eye in the frame without being seen; above 0 lifts corners that a lens has darkened."},
		{ID: "size", Label: "Size", Unit: "%", Min: 0, Max: 150, Default: 80, Step: 1, Help: "Where it is half way there, as a share of the way to the corner."},
		{ID: "feather", Label: "Feather", Unit: "%", Min: 5, Max: 200, Default: 110, Step: 1, Help: "How far it takes. Wide is right for lenses; narrow shows as a mask."},
		{ID: "round", Label: "Roundness", Unit: "%", Min: 0, Max: 100, Default: 35, Step: 1, Help: "From the shape of the frame to a circle."},
		{ID: "angle", Label: "Turn", Unit: "°", Min: -90, Max: 90, Step: 0.5, Help: "Turns it, clockwise."},
		{ID: "x", Label: "Across", Unit: "%", Min: 0, Max: 100, Default: 50, Step: 0.5, Help: "Its centre from the left. Move it towards what the eye should find."},
		{ID: "y", Label: "Down", Unit: "%", Min: 0, Max: 100, Default: 50, Step: 0.5, Help: "Its centre from the top."},
	},
	apply: func(b *builder, v values, s float64) {
		if v.number("stops") == 0 {
			return
		}
		g := grade.Vignette{Stops: v.number("stops") * s, Size: v.number("size") / 100, Feather: v.number("feather") / 100, Round: v.number("round") / 100, Angle: v.number("angle"), X: v.number("x") / 100, Y: v.number("y") / 100}
		op := newVignette(g, b.raster)
		if b.mask == nil {
			b.add(Lens, op)
			return
		}
		b.area(Lens, op.key(), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return fuse(ctx, []pointwise{op}, src, 0, 0, 0)
		})
	},
}
