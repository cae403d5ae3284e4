package path

import "velours/core/matte"

func init() {
	DeclareMatte(&MatteKind{
		Place: 80,
		ID:    "skin", Label: "Skin", Purpose: "What has the hue and the strength of skin, dark and light.",
		Settings: skinRange(),
		Part:     func(v Values) matte.Part { return matte.Skin{Skin: skinOf(v)} },
	})
}
