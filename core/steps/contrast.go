package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return contrastKind() }) }

func contrastKind() *look.Kind {
	return &look.Kind{
		ID: "contrast", Place: 130, Pictured: []string{"pivot"}, KeepsGrey: true, KeepsOrder: true, Label: "Contrast", HasStrength: true, Group: "Tone", Lead: []string{"amount"}, NoEffect: noEffectAt("at 100 % every tone stays", 100, "amount"),
		Purpose: "Draws tones apart or together about a pivot, with soft ends.",
		Settings: []look.Setting{
			dial("amount", "Contrast", "%", 30, 250, 100, 1, "Above 100 draws tones apart. A print adds contrast of its own: stay near 100 before the film."),
			dial("pivot", "Pivot", "stops", -5, 4, 0, 0.05, "The tone that stays, in stops from mid grey. Set it on skin, and faces keep their brightness."),
			dial("toe", "Toe", "%", 0, 100, 50, 1, "How soon it fades below the pivot: at 100 within two stops, at 0 never."),
			dial("shoulder", "Shoulder", "%", 0, 100, 50, 1, "How soon it fades above the pivot: at 100 within two stops, at 0 never."),
			bySetting,
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			c := grade.Contrast{Slope: v.Number("amount") / 100, Pivot: v.Number("pivot"), Toe: v.Number("toe") / 100, Shoulder: v.Number("shoulder") / 100}
			return grade.NewTone(by(v), c.Gain)
		}},
	}
}
