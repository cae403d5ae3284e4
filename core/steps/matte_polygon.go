package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 40,
		ID:    "polygon", Label: "Drawn", Purpose: "A shape drawn point by point on the picture, with straight sides or curved ones.", Shape: true,
		Settings: join([]look.Setting{
			{ID: "points", Label: "Points", Points: "outline", Min: -1, Max: 2, Help: "The corners, x:y in shares of width and height."},
			{ID: "sides", Label: "Sides", Choices: []look.Choice{{ID: "curved", Label: "Curved"}, {ID: "straight", Label: "Straight"}}, Help: "Curved lets the outline swing through its points; straight joins them by lines."},
		}, feather()),
		Part: func(v look.Values) matte.Part {
			return matte.Polygon{Points: v.Points("points"), Curved: v.Choice("sides") == "curved", Feather: featherOf(v)}
		},
	})
}
