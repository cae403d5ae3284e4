package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return splitKind() }) }

func splitKind() *look.Kind {
	return &look.Kind{
		ID: "split", Place: 210, KeepsOrder: true, Label: "Split toning", HasStrength: true, Group: "Colour", Lead: []string{"dark", "light"}, NoEffect: noEffectAt("no tone at 0 %", 0, "dark", "light"),
		Purpose: "Tones dark and light parts towards two hues.",
		Settings: []look.Setting{
			dial("dark-hue", "Shadow hue", "°", 0, 360, 230, 1, "The hue of the shadows: cyan-blue 230°."),
			dial("dark", "Shadows", "%", 0, 100, 0, 1, "How much of it. Under 20 is felt, above it is seen."),
			dial("light-hue", "Highlight hue", "°", 0, 360, 75, 1, "The hue of the highlights: amber 75°."),
			dial("light", "Highlights", "%", 0, 100, 0, 1, "How much of it. Under 20 is felt, above it is seen."),
			dial("balance", "Balance", "stops", -5, 4, 0, 0.1, "Where the two meet, in stops from mid grey."),
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return (&grade.Split{DarkHue: v.Number("dark-hue"), DarkAmount: 0.12 * v.Number("dark") / 100, LightHue: v.Number("light-hue"), LightAmount: 0.12 * v.Number("light") / 100, Balance: v.Number("balance")}).Op()
		}},
	}
}
