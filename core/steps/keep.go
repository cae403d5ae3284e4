package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return keepKind() }) }

func keepKind() *look.Kind {
	return &look.Kind{
		ID: "keep", Place: 200, Pictured: []string{"hue"}, KeepsGrey: true, KeepsOrder: true, Label: "Keep one hue", HasStrength: true, Group: "Colour", Lead: []string{"amount"}, NoEffect: noEffectAt("at 0 % all hues are kept", 0, "amount"),
		Purpose: "Keeps one hue and takes the colour out of the others.", Begin: map[string]any{"amount": 100.0},
		Settings: []look.Setting{
			dial("hue", "Hue", "°", 0, 360, 25, 1, "The hue that stays: red 25°, yellow 105°, green 145°, blue 260°."),
			dial("width", "Width", "°", 0, 120, 25, 1, "How far to either side hues stay."),
			dial("soft", "Soft", "°", 5, 90, 30, 1, "How far beyond they fade."),
			dial("amount", "Amount", "%", 0, 100, 0, 1, "How much colour the others lose."),
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return (&grade.Keep{Hue: v.Number("hue"), Width: v.Number("width"), Soft: v.Number("soft"), Amount: v.Number("amount") / 100}).Op()
		}},
	}
}
