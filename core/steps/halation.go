package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(halationKind) }

var halationKind = &look.Kind{
	ID: "halation", Place: 30, Provides: "sizes", Station: look.Negative, Label: "Halation", HasStrength: true, Masks: true, Film: true, Spatial: true, Lead: []string{"amount"}, Wants: "bright", NoEffect: noEffectAt("no light returns at 0 %", 0, "amount"),
	Purpose: "Light that passed the layers comes back from the film's base and exposes them again: a red glow around what is bright.",
	Settings: []look.Setting{
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
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		if a := v.Number("amount") / 100 * s; a > 0 {
			backing := v.Number("backing") / 100
			b.In(render.EmulsionLight, func(e *render.Exposed) render.Operation { return newHalation(e, a, backing) })
		}
	}},
}

// halationOp acts on the exposure of the layers.
type halationOp struct {
	halo  scatter.Halo
	perMM float64
}

// newHalation is the halo of the look's stock: by an amount, 1 for the film's own, and a backing from 0 to 1.
func newHalation(e *render.Exposed, amount, backing float64) *halationOp {
	s := e.Emulsion()
	h := scatter.Halo{Thickness: s.Thickness, Index: s.Index, Backing: backing, Amount: amount, Quick: e.Draft}
	if s.Bare {
		h.Backing = 0
	}
	for i, l := range s.Layers {
		h.Held[i], h.Back[i] = l.Held, l.Back
	}
	return &halationOp{h, float64(e.Raster.W) / e.Width}
}

func (o *halationOp) Name() string  { return "halation" }
func (o *halationOp) Key() string   { return fmt.Sprintf("halation%v%g", o.halo, o.perMM) }
func (o *halationOp) Uniform() bool { return false }
func (o *halationOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	return scatter.Halate(ctx, src, o.halo, o.perMM)
}

func (o *halationOp) Start(ctx context.Context, src *frame.Frame) (*scatter.Spread, error) {
	return scatter.Haloed(ctx, src, o.halo, o.perMM)
}
