package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 20,
		ID:    "rectangle", Label: "Rectangle", Purpose: "A straight-sided shape, handled on the picture.", Shape: true,
		Settings: join(place(), half(20, 14), feather()),
		Part: func(v look.Values) matte.Part {
			return matte.Rectangle{Placed: placedOf(v), A: v.Number("a") / 100, B: v.Number("b") / 100, Feather: featherOf(v)}
		},
	})
}
