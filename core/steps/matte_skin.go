package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 80,
		ID:    "skin", Label: "Skin", Purpose: "What has the hue and the strength of skin, dark and light.",
		Settings: skinRange(),
		Part:     func(v look.Values) matte.Part { return matte.Skin{Skin: skinOf(v)} },
	})
}
