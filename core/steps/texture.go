package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return textureKind() }) }

func textureKind() *look.Kind {
	k := &look.Kind{
		ID: "texture", Place: 260, Label: "Texture", HasStrength: true, Spatial: true, Group: "Texture", Lead: []string{"fine", "coarse"}, NoEffect: noEffectAt("both at 0 %", 0, "fine", "coarse"),
		Purpose: "Local contrast at two scales, without halos at edges.",
		Settings: []look.Setting{
			dial("fine", "Fine", "%", -100, 150, 0, 1, "Cloth, hair, leaves. Below 0 softens them without touching edges."),
			dial("coarse", "Coarse", "%", -100, 150, 0, 1, "The modelling of faces and clouds. A little goes far."),
			dial("fine-size", "Fine size", "% width", 0.1, 1, 0.3, 0.01, "How broad what counts as fine is."),
			dial("coarse-size", "Coarse size", "% width", 1, 8, 2.5, 0.1, "How broad what counts as coarse is."),
		},
	}
	k.Work = render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		t := grade.Texture{Fine: v.Number("fine") / 100, Coarse: v.Number("coarse") / 100, FineSize: v.Number("fine-size") / 100, CoarseSize: v.Number("coarse-size") / 100}
		if t.Fine == 0 && t.Coarse == 0 {
			return
		}
		b.Area(k.Station, fmt.Sprint("texture", t), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return t.Run(ctx, src)
		})
	}}
	return k
}
