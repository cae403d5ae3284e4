package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 70,
		ID:    "picked", Label: "Picked colour", Purpose: "What is like a colour picked from the picture.", Picks: true,
		Settings: []look.Setting{
			{ID: "red", Label: "Red", Unit: "light", Min: -1, Max: 100, Default: 0.18, Step: 0.001, Help: "The picked light, linear. Pick it from the picture."},
			{ID: "green", Label: "Green", Unit: "light", Min: -1, Max: 100, Default: 0.18, Step: 0.001, Help: "The picked light, linear. Pick it from the picture."},
			{ID: "blue", Label: "Blue", Unit: "light", Min: -1, Max: 100, Default: 0.18, Step: 0.001, Help: "The picked light, linear. Pick it from the picture."},
			{ID: "tolerance", Label: "Tolerance", Unit: "%", Min: 0, Max: 100, Default: 8, Step: 0.5, Curve: 1.6, Help: "How unlike a colour may be and still be covered wholly."},
			{ID: "softness", Label: "Softness", Unit: "%", Min: 0, Max: 100, Default: 12, Step: 0.5, Curve: 1.6, Help: "How much further it fades."},
			{ID: "compare", Label: "Compare", Choices: []look.Choice{{ID: "colour", Label: "Colour"}, {ID: "hue", Label: "Hue"}, {ID: "chroma", Label: "Chroma"}, {ID: "brightness", Label: "Brightness"}, {ID: "red", Label: "Red"}, {ID: "green", Label: "Green"}, {ID: "blue", Label: "Blue"}}, Help: "What must be alike."},
		},
		Part: func(v look.Values) matte.Part {
			return matte.Picked{Light: [3]float64{v.Number("red"), v.Number("green"), v.Number("blue")}, Tolerance: v.Number("tolerance") / 100, Softness: v.Number("softness") / 100, Compare: v.Choice("compare")}
		},
	})
}
