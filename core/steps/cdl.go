package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return cdlKind() }) }

func cdlKind() *look.Kind {
	k := &look.Kind{
		ID: "cdl", Place: 110, Label: "CDL", HasStrength: true, Editor: "grid", Group: "Tone",
		Purpose: "The correction of the ASC, for values that come from the set or go to others: slope, offset and power, then saturation.",
		Settings: join(
			[]look.Setting{{ID: "on", Label: "Acts on", Choices: []look.Choice{{ID: "acescct", Label: "ACEScct codes"}, {ID: "light", Label: "Linear light"}}, Help: "What the numbers were made for. On set it is mostly log."}},
			triple("slope", "Slope", "×", 0, 4, 1, 0.005, "Multiplies."),
			triple("offset", "Offset", "of 1", -1, 1, 0, 0.001, "Adds, after the slope."),
			triple("power", "Power", "power", 0.1, 4, 1, 0.005, "Bends, after slope and offset. Below 1 is brighter."),
			[]look.Setting{
				dial("saturation", "Saturation", "×", 0, 4, 1, 0.01, "With the weights of BT.709, after all else."),
				{ID: "clamp", Label: "Values", Choices: []look.Choice{{ID: "free", Label: "Free"}, {ID: "held", Label: "Held to 0…1"}}, Help: "The standard holds values to 0…1, which cuts highlights off on linear light. Free lets them pass."},
			},
		),
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return &grade.CDL{Slope: tripleOf(v, "slope"), Offset: tripleOf(v, "offset"), Power: tripleOf(v, "power"), Saturation: v.Number("saturation"), Log: v.Choice("on") == "acescct", Clamp: v.Choice("clamp") == "held"}
		}},
	}
	atRest(k, "all at rest, nothing moves")
	free := k.NoEffect
	k.NoEffect = func(v look.Values) string {
		if v.Choice("clamp") == "held" {
			return ""
		}
		return free(v)
	}
	return k
}
