package path

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/grade"
)

func textureKind() *Kind {
	k := &Kind{
		ID: "texture", Label: "Texture", Mixes: true, Spatial: true, Shelf: "Texture", Lead: []string{"fine", "coarse"}, Still: still("both at 0 %", 0, "fine", "coarse"),
		Purpose: "Local contrast at two scales, without halos at edges.",
		Settings: []Setting{
			dial("fine", "Fine", "%", -100, 150, 0, 1, "Cloth, hair, leaves. Below 0 softens them without touching edges."),
			dial("coarse", "Coarse", "%", -100, 150, 0, 1, "The modelling of faces and clouds. A little goes far."),
			dial("fine-size", "Fine size", "% width", 0.1, 1, 0.3, 0.01, "How broad what counts as fine is."),
			dial("coarse-size", "Coarse size", "% width", 1, 8, 2.5, 0.1, "How broad what counts as coarse is."),
		},
	}
	k.apply = func(b *builder, v values, s float64) {
		t := grade.Texture{Fine: v.number("fine") / 100, Coarse: v.number("coarse") / 100, FineSize: v.number("fine-size") / 100, CoarseSize: v.number("coarse-size") / 100}
		if t.Fine == 0 && t.Coarse == 0 {
			return
		}
		b.area(k.Station, fmt.Sprint("texture", t), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return t.Run(ctx, src)
		})
	}
	return k
}

func softenKind() *Kind {
	k := &Kind{
		ID: "soften", Label: "Softening", Mixes: true, Spatial: true, Shelf: "Texture", Lead: []string{"size"}, Still: still("at 0 µm nothing spreads", 0, "size"),
		Purpose: "Takes the edge off, by a blur measured on the film. At half strength it glazes rather than blurs.",
		Settings: []Setting{
			{ID: "size", Label: "Size", Unit: "µm", Min: 0, Max: 400, Step: 1, Curve: 2, Help: "The standard deviation of the blur on the film. On 35 mm, 8 to 20 takes a digital edge off."},
		},
	}
	k.apply = func(b *builder, v values, s float64) {
		size := v.number("size")
		if size == 0 {
			return
		}
		px := b.onFilm(size)
		b.area(k.Station, fmt.Sprint("soften", size, " on ", b.film.width), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return grade.Soften(ctx, src, px(src.W))
		})
	}
	return k
}

func sharpenKind() *Kind {
	k := &Kind{
		ID: "sharpen", Label: "Sharpening", Mixes: true, Spatial: true, Shelf: "Texture", Lead: []string{"amount"}, Still: still("at 0 % nothing is sharpened", 0, "amount"),
		Purpose: "Raises fine edges in brightness alone, and by half a stop at most.",
		Settings: []Setting{
			dial("amount", "Amount", "%", 0, 200, 0, 1, "How much. 20 to 50; above, skin and grain turn to grit."),
			{ID: "size", Label: "Size", Unit: "µm", Min: 4, Max: 120, Default: 14, Step: 1, Curve: 2, Help: "How broad an edge counts, on the film. Under a pixel of the picture it does nothing."},
		},
	}
	k.apply = func(b *builder, v values, s float64) {
		amount, px := v.number("amount")/100, b.onFilm(v.number("size"))
		if amount == 0 {
			return
		}
		b.area(k.Station, fmt.Sprint("sharpen", amount, v.number("size"), " on ", b.film.width), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return grade.Sharpen(ctx, src, px(src.W), amount)
		})
	}
	return k
}

func patchKind() *Kind {
	k := &Kind{
		ID: "patch", Label: "Patch", Mixes: true, Spatial: true, Shelf: "Texture", Still: still("at 0 % nothing is hidden", 0, "size"),
		When: "matte", Idle: "Waiting for a matte: give it a shape, and what lies inside is hidden.",
		Purpose: "Hides what lies inside a shape: a number plate, a logo, a face in the crowd.",
		Begin:   map[string]any{"size": 1.5},
		Settings: []Setting{
			{ID: "by", Label: "Hides by", Choices: []Choice{{ID: "blur", Label: "Blur"}, {ID: "fill", Label: "Filling"}}, Help: "Blur keeps the tones and takes the detail; filling lets what surrounds the shape grow over it."},
			{ID: "size", Label: "Size", Unit: "% width", Min: 0, Max: 10, Step: 0.05, Curve: 2, Help: "How far it spreads. Large enough that nothing can be read, in motion too."},
		},
	}
	k.apply = func(b *builder, v values, s float64) {
		size := v.number("size") / 100
		if size == 0 || b.mask == nil {
			return
		}
		fill := v.choice("by") == "fill"
		b.area(k.Station, fmt.Sprint("patch", size, fill), s, func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error) {
			if fill {
				return grade.Hide(ctx, src, cover, size*float64(src.W))
			}
			return grade.Soften(ctx, src, size*float64(src.W))
		})
	}
	return k
}
