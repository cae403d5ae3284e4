package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return curveKind() }) }

func curveKind() *look.Kind {
	line := func(id, label, help string) look.Setting {
		return look.Setting{ID: id, Label: label, Unit: "stops", Points: "curve", Min: -12, Max: 10, Help: help}
	}
	k := &look.Kind{
		ID: "curve", Place: 140, KeepsOrder: true, Label: "Tone curve", HasStrength: true, Editor: "curve", Group: "Tone",
		Purpose: "Redraws the tone scale through points, in stops in and stops out. It never turns back between them.",
		Settings: []look.Setting{
			bySetting,
			line("all", "All", "The curve of all channels. Press on it to add a point; drag to move, Delete to take it away."),
			line("red", "Red", "A curve of red alone, after that of all."),
			line("green", "Green", "A curve of green alone, after that of all."),
			line("blue", "Blue", "A curve of blue alone, after that of all."),
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			all := grade.NewTone(by(v), grade.Through(v.Points("all")))
			if v["red"] == "" && v["green"] == "" && v["blue"] == "" {
				return all
			}
			own := grade.NewTones(grade.ByChannels, [3]func(float64) float64{grade.Through(v.Points("red")), grade.Through(v.Points("green")), grade.Through(v.Points("blue"))})
			return grade.Chain{all, own}
		}},
	}
	return atRest(k, "a curve without points is straight")
}
