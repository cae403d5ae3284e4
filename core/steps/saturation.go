package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return saturationKind() }) }

func saturationKind() *look.Kind {
	help := "100 leaves them. "
	k := &look.Kind{
		ID: "saturation", Place: 190, KeepsGrey: true, KeepsOrder: true, Label: "Saturation", HasStrength: true, Group: "Colour", Lead: []string{"all"},
		Purpose: "How strong colours are: all of them, and beside that by tone and by strength.",
		Settings: []look.Setting{
			dial("all", "All", "%", 0, 200, 100, 1, help+"Lightness and hue stay."),
			dial("dark", "In shadows", "%", 0, 200, 100, 1, help+"Shadows of film are paler than its middle: 80 is often right."),
			dial("light", "In highlights", "%", 0, 200, 100, 1, help+"Highlights lose colour on film."),
			dial("muted", "Muted colours", "%", 0, 200, 100, 1, help+"Raise these to wake a grey day without shouting."),
			dial("strong", "Strong colours", "%", 0, 200, 100, 1, help+"Lower these to calm a coat or a neon sign."),
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return (&grade.Saturation{All: v.Number("all") / 100, Dark: v.Number("dark") / 100, Light: v.Number("light") / 100, Muted: v.Number("muted") / 100, Strong: v.Number("strong") / 100}).Op()
		}},
	}
	return atRest(k, "all at 100 %, colours stay")
}
