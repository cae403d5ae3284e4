package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(bloomKind) }

var bloomKind = &look.Kind{
	ID: "bloom", Place: 10, Station: look.Lens, Label: "Bloom", HasStrength: true, Spatial: true, Repeatable: true, Lead: []string{"amount"}, Wants: "bright", NoEffect: noEffectAt("no light goes astray at 0 %", 0, "amount"),
	Purpose: "Scatters a share of the light in the lens: bright things glow, and lose exactly the light that glows.",
	Settings: []look.Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 100, Default: 20, Step: 1, Curve: 1.6,
			Help: "How much light goes astray: at 100 % three tenths. It works in linear light, so only what is really bright shows it. Stay low; you should miss it when it is off.",
		},
		{
			ID: "radius", Label: "Radius", Unit: "% width", Min: 0.1, Max: 8, Default: 1.2, Step: 0.1, Curve: 2,
			Help: "How far the glow reaches, as a share of the picture's width. Small sits on the lamps, large lifts the air around them.",
		},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		depth, r := 0.357*v.Number("amount")/100*s, v.Number("radius")/100
		if depth <= 0 {
			return
		}
		// a narrow part holds most of the light, a wide one carries it into the room
		cloud := scatter.Cloud{Depth: depth, Lobes: []scatter.Gaussian{{Sigma: 0.4 * r, Weight: 0.72}, {Sigma: 1.9 * r, Weight: 0.28}}}
		if !b.Masked() {
			b.Add(look.Lens, &bloomOp{cloud})
			return
		}
		b.Area(look.Lens, fmt.Sprint("bloom", cloud), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return scatter.Diffuse(ctx, src, cloud)
		})
	}},
}

// bloomOp is the lens's scatter.
type bloomOp struct{ cloud scatter.Cloud }

func (o *bloomOp) Name() string  { return "bloom" }
func (o *bloomOp) Key() string   { return fmt.Sprintf("bloom%v", o.cloud) }
func (o *bloomOp) Uniform() bool { return true }
func (o *bloomOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	return scatter.Diffuse(ctx, src, o.cloud)
}

func (o *bloomOp) Start(ctx context.Context, src *frame.Frame) (*scatter.Spread, error) {
	return scatter.Diffused(ctx, src, o.cloud)
}
