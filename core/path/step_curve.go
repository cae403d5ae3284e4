package path

import "velours/core/grade"

func init() { inBalanceAndFinish(func(Station) *Kind { return curveKind() }) }

func curveKind() *Kind {
	line := func(id, label, help string) Setting {
		return Setting{ID: id, Label: label, Unit: "stops", Points: "curve", Min: -12, Max: 10, Help: help}
	}
	k := &Kind{
		ID: "curve", Place: 140, Label: "Tone curve", Mixes: true, Editor: "curve", Shelf: "Tone",
		Purpose: "Redraws the tone scale through points, in stops in and stops out. It never turns back between them.",
		Settings: []Setting{
			bySetting,
			line("all", "All", "The curve of all channels. Press on it to add a point; drag to move, Delete to take it away."),
			line("red", "Red", "A curve of red alone, after that of all."),
			line("green", "Green", "A curve of green alone, after that of all."),
			line("blue", "Blue", "A curve of blue alone, after that of all."),
		},
		Work: Work{Grade: func(v Values) grade.Op {
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
