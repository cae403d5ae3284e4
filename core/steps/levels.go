package steps

import (
	"math"

	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return levelsKind() }) }

func levelsKind() *look.Kind {
	return &look.Kind{
		ID: "levels", Place: 150, Pictured: []string{"black", "mid", "white"}, KeepsGrey: true, KeepsOrder: true, Label: "Levels", HasStrength: true, Editor: "levels", Group: "Tone", Lead: []string{"black", "white", "mid"}, NoEffect: noEffectAt("all at 0, the ends stay", 0, "black", "white", "mid"),
		Purpose: "Puts the darkest, the middle and the brightest tone where they should be, by the frame's own histogram.",
		Settings: []look.Setting{
			dial("black", "Black", "% light", -5, 20, 0, 0.05, "The light that becomes black. Haze is light added everywhere: put this at its foot."),
			dial("mid", "Mid", "stops", -2, 2, 0, 0.02, "Where mid grey goes if the ends stay."),
			dial("white", "White", "stops", -4, 4, 0, 0.05, "The light that becomes a white sheet, in stops from one."),
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return &grade.Levels{Black: v.Number("black") / 100, White: max(math.Exp2(v.Number("white")), v.Number("black")/100+0.01), Mid: v.Number("mid")}
		}},
	}
}
