package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return softenKind() }) }

func softenKind() *look.Kind {
	k := &look.Kind{
		ID: "soften", Place: 270, Label: "Softening", HasStrength: true, Spatial: true, Group: "Texture", Lead: []string{"size"}, NoEffect: noEffectAt("at 0 µm nothing spreads", 0, "size"),
		Purpose: "Takes the edge off, by a blur measured on the film. At half strength it glazes rather than blurs.",
		Settings: []look.Setting{
			{ID: "size", Label: "Size", Unit: "µm", Min: 0, Max: 400, Step: 1, Curve: 2, Help: "The standard deviation of the blur on the film. On 35 mm, 8 to 20 takes a digital edge off."},
		},
	}
	k.Work = render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		size := v.Number("size")
		if size == 0 {
			return
		}
		px := b.OnFilm(size)
		b.Area(k.Station, fmt.Sprint("soften", size, " on ", b.Film.Width), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return grade.Soften(ctx, src, px(src.W))
		})
	}}
	return k
}
