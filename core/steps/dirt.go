package steps

import (
	"context"
	"fmt"
	"math"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/matte"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(dirtKind) }

var dirtKind = &look.Kind{
	ID: "dirt", Place: 6, Station: look.Lens, Label: "Dirt", HasStrength: true, Spatial: true, Repeatable: true, Group: "Glass", Wants: "bright", Lead: []string{"amount"}, NoEffect: noEffectAt("clean glass at 0 %", 0, "amount"),
	Purpose: "Dust and smears on the glass, far out of focus: they light up where light falls on them, and move not at all.",
	Begin:   map[string]any{"amount": 12.0},
	Settings: []look.Setting{
		travels(1.6, dial("amount", "Amount", "%", 0, 100, 0, 0.5, "How strongly it lights up. It should be found only when a lamp comes into the picture.")),
		travels(1.6, dial("reach", "Reach", "% width", 2, 60, 18, 0.5, "How far from a light dirt still lights up.")),
		travels(1.6, dial("shade", "Shade", "%", 0, 100, 15, 1, "How much of the picture's own light it keeps away.")),
		{ID: "picture", Label: "Picture", Live: pictureChoices, Help: "A still of the pinboard in place of made-up dirt: white is dirt, black is clean glass."},
		fold("What lies there", travels(1.6, dial("specks", "Specks", "%", 0, 400, 100, 1, "How many."))),
		fold("What lies there", travels(1.6, dial("smears", "Smears", "%", 0, 100, 35, 1, "Strokes that a cloth left."))),
		fold("What lies there", travels(1.6, dial("size", "Size", "%", 40, 300, 100, 1, "Of all of it. Longer lenses show it larger and softer."))),
		fold("What lies there", dial("seed", "Glass", "no.", 0, 999, 1, 1, "Every number is another glass; the same number is the same glass.")),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		amount := v.Number("amount") / 100 * s
		if amount == 0 {
			return
		}
		reach, shade := v.Number("reach")/100, v.Number("shade")/100*s
		d := scatter.Dirt{Seed: uint64(math.Round(v.Number("seed"))), Specks: v.Number("specks") / 100, Smears: v.Number("smears") / 100, Size: v.Number("size") / 100}
		own := v.Choice("picture")
		b.Area(look.Lens, fmt.Sprint("dirt", amount, reach, shade, d, own), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			glass, err := d.Map(ctx, src.W, src.H)
			if own != "none" {
				glass, err = (&matte.Matte{Members: []matte.Member{{Part: matte.Picture{Frame: pictureOf(own), Fit: true}}}}).Frame(ctx, src)
			}
			if err != nil {
				return nil, err
			}
			// the light that falls on a place of the glass, from near and from all over
			lit, err := scatter.Blur(ctx, src, []scatter.Gaussian{{Sigma: reach * float64(src.W) / 3, Weight: 0.6}, {Sigma: reach * float64(src.W), Weight: 0.4}})
			if err != nil {
				return nil, err
			}
			defer lit.Release()
			out := frame.Get(src.W, src.H, src.Planes)
			return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
				for y := y0; y < y1; y++ {
					m := glass.Row(0, y)
					for p := range src.Planes {
						o, in := out.Row(p, y), src.Row(p, y)
						if p > 2 {
							copy(o, in)
							continue
						}
						l := lit.Row(p, y)
						for x, k := range m {
							o[x] = in[x]*(1-float32(shade)*k) + float32(amount)*k*l[x]
						}
					}
				}
			})
		})
	}},
}
