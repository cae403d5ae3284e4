package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return sharpenKind() }) }

func sharpenKind() *look.Kind {
	k := &look.Kind{
		ID: "sharpen", Place: 280, Label: "Sharpening", HasStrength: true, Spatial: true, Group: "Texture", Lead: []string{"amount"}, NoEffect: noEffectAt("at 0 % nothing is sharpened", 0, "amount"),
		Purpose: "Raises fine edges in brightness alone, and by half a stop at most.",
		Settings: []look.Setting{
			dial("amount", "Amount", "%", 0, 200, 0, 1, "How much. 20 to 50; above, skin and grain turn to grit."),
			{ID: "size", Label: "Size", Unit: "µm", Min: 4, Max: 120, Default: 14, Step: 1, Curve: 2, Help: "How broad an edge counts, on the film. Under a pixel of the picture it does nothing."},
		},
	}
	k.Work = render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		amount, px := v.Number("amount")/100, b.OnFilm(v.Number("size"))
		if amount == 0 {
			return
		}
		b.Area(k.Station, fmt.Sprint("sharpen", amount, v.Number("size"), " on ", b.Film.Width), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return grade.Sharpen(ctx, src, px(src.W), amount)
		})
	}}
	return k
}
