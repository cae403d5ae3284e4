package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return rollOffKind() }) }

func rollOffKind() *look.Kind {
	return &look.Kind{
		ID: "rolloff", Place: 160, KeepsGrey: true, KeepsOrder: true, Label: "Roll-off", HasStrength: true, Group: "Tone", Lead: []string{"amount"}, NoEffect: noEffectAt("at 0 % highlights stay", 0, "amount"), Wants: "light",
		Purpose:  "Holds the brightest parts back, so that skies and windows keep detail. Hue stays: all channels follow the strongest.",
		Begin:    map[string]any{"amount": 40.0},
		Settings: []look.Setting{dial("knee", "Knee", "stops", -1, 6, 2, 0.05, "Where it begins, in stops from mid grey. A white sheet is at +2.3."), dial("amount", "Amount", "%", 0, 100, 0, 1, "How firmly it holds: at 100, four stops above the knee become one and a third. Film has a shoulder of its own; a little is enough.")},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			o := grade.RollOff{Knee: v.Number("knee"), Amount: v.Number("amount") / 100}
			return grade.NewTone(grade.ByStrongest, o.Gain)
		}},
	}
}
