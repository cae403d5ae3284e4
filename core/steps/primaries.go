package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return primariesKind() }) }

func primariesKind() *look.Kind {
	k := &look.Kind{
		ID: "primaries", Place: 100, KeepsOrder: true, Label: "Primaries", HasStrength: true, Editor: "grid", Group: "Tone",
		Lead:    leads("lift", "gamma", "gain", "offset"),
		Purpose: "Lift, gamma, gain and offset of each channel: dark, middle and bright parts, and all together.",
		Settings: join(
			triple("lift", "Lift", "of white", -0.5, 0.5, 0, 0.002, "Moves the dark end and leaves white. Take a cast out of the blacks here, watching the feet of the parade."),
			triple("gamma", "Gamma", "power", 0.25, 4, 1, 0.005, "Bends the middle and leaves black and white. Above 1 is brighter."),
			triple("gain", "Gain", "×", 0, 4, 1, 0.005, "Multiplies light: moves the bright end most and leaves black."),
			triple("offset", "Offset", "of white", -0.2, 0.2, 0, 0.0005, "Adds light to all tones alike, 1 for white. Below 0 takes haze away."),
		),
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return &grade.Primaries{Lift: tripleOf(v, "lift"), Gamma: tripleOf(v, "gamma"), Gain: tripleOf(v, "gain"), Offset: tripleOf(v, "offset")}
		}},
	}
	return atRest(k, "all at rest, nothing moves")
}
