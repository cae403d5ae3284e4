package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inStation(look.Balance, remapKind()) }

func remapKind() *look.Kind {
	k := &look.Kind{
		ID: "remap", Place: 230, Label: "Channel remap", HasStrength: true, Editor: "grid", Group: "Colour",
		Purpose:  "Mixes channels freely, without the rule that greys stay: for creative aims.",
		Settings: matrixSettings(true, -200, 200),
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			m := matrixOf(v)
			return grade.Matrix{m[0][0], m[0][1], m[0][2], m[1][0], m[1][1], m[1][2], m[2][0], m[2][1], m[2][2]}
		}},
	}
	return atRest(k, "each channel is its own")
}
