package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 10,
		ID:    "ellipse", Label: "Ellipse", Purpose: "A round shape, handled on the picture.", Shape: true,
		Settings: join(place(), half(18, 18), feather()),
		Part: func(v look.Values) matte.Part {
			return matte.Ellipse{Placed: placedOf(v), A: v.Number("a") / 100, B: v.Number("b") / 100, Feather: featherOf(v)}
		},
	})
}
