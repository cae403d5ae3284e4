package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 30,
		ID:    "gradient", Label: "Gradient", Purpose: "One side of the picture, fading across a line: a sky, a floor.", Shape: true,
		Settings: join(place(), []look.Setting{{ID: "length", Label: "Fade", Unit: "% width", Min: 0.1, Max: 150, Default: 25, Step: 0.5, Curve: 2, Help: "How far it takes from all to nothing. At 0° the top is covered."}}),
		Part: func(v look.Values) matte.Part {
			return matte.Gradient{Placed: placedOf(v), Length: v.Number("length") / 100}
		},
	})
}
