package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return patchKind() }) }

func patchKind() *look.Kind {
	k := &look.Kind{
		ID: "patch", Place: 290, Label: "Patch", HasStrength: true, Spatial: true, Group: "Texture", NoEffect: noEffectAt("at 0 % nothing is hidden", 0, "size"),
		Precondition: "matte", Unmet: "Waiting for a matte: give it a shape, and what lies inside is hidden.",
		Purpose: "Hides what lies inside a shape: a number plate, a logo, a face in the crowd.",
		Begin:   map[string]any{"size": 1.5},
		Settings: []look.Setting{
			{ID: "by", Label: "Hides by", Choices: []look.Choice{{ID: "blur", Label: "Blur"}, {ID: "fill", Label: "Filling"}}, Help: "Blur keeps the tones and takes the detail; filling lets what surrounds the shape grow over it."},
			{ID: "size", Label: "Size", Unit: "% width", Min: 0, Max: 10, Step: 0.05, Curve: 2, Help: "How far it spreads. Large enough that nothing can be read, in motion too."},
		},
	}
	k.Work = render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		size := v.Number("size") / 100
		if size == 0 || !b.Masked() {
			return
		}
		fill := v.Choice("by") == "fill"
		b.Area(k.Station, fmt.Sprint("patch", size, fill), s, func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error) {
			if fill {
				return grade.Hide(ctx, src, cover, size*float64(src.W))
			}
			return grade.Soften(ctx, src, size*float64(src.W))
		})
	}}
	return k
}
