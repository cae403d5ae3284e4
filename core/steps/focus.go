package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(focusKind) }

var focusKind = &look.Kind{
	ID: "focus", Place: 34, Pictured: []string{"x", "y", "radius"}, Station: look.Lens, Label: "Focus falloff", HasStrength: true, Spatial: true, Repeatable: true, Group: "Glass", Editor: "place", Keyed: []string{"x", "y", "radius"}, Lead: []string{"radius"}, NoEffect: noEffectAt("all is sharp at 0 %", 0, "radius"),
	Purpose: "Lets the picture fall out of focus away from a point, or by a matte: over discs, so that lamps become discs of light and lose none.",
	Begin:   map[string]any{"radius": 0.4},
	Settings: []look.Setting{
		travels(2, dial("radius", "Softness", "% width", 0, 3, 0, 0.01, "The radius of the discs where it is softest. A quarter of a per cent is felt; with a matte, how far the matte covers says how soft.")),
		travels(1.6, dial("rim", "Rim", "%", -100, 100, 0, 1, "Discs brighter towards their edge, as old lenses draw them, or softer towards it.")),
		dial("x", "Across", "%", 0, 100, 50, 0.5, "What stays sharp, from the left."),
		dial("y", "Down", "%", 0, 100, 50, 0.5, "What stays sharp, from the top."),
		travels(1.6, dial("size", "Sharp within", "% width", 0, 60, 20, 0.5, "How far around the point all is sharp.")),
		travels(1.6, dial("feather", "Feather", "% width", 1, 100, 45, 0.5, "Over how far it comes to be softest. Wide is natural.")),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		f := scatter.Focus{Radius: v.Number("radius") / 100 * s, Rim: v.Number("rim") / 100}
		if f.Radius == 0 {
			return
		}
		around := scatter.Around{X: v.Number("x") / 100, Y: v.Number("y") / 100, Size: v.Number("size") / 100, Feather: v.Number("feather") / 100}
		b.Map(look.Lens, fmt.Sprint("focus", f, around), func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error) {
			if cover != nil { // the matte says how soft
				return f.Run(ctx, src, cover)
			}
			share, err := around.Share(ctx, src.W, src.H)
			if err != nil {
				return nil, err
			}
			defer share.Release()
			return f.Run(ctx, src, share)
		})
	}},
}
