package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return floorKind() }) }

func floorKind() *look.Kind {
	return &look.Kind{
		ID: "floor", Place: 170, Pictured: []string{"below"}, KeepsGrey: true, KeepsOrder: true, Label: "Black floor", HasStrength: true, Group: "Tone", Lead: []string{"floor", "clean"}, NoEffect: noEffectAt("no floor and nothing cleaned", 0, "floor", "clean"),
		Purpose: "Cleans the deepest tones of a cast, and lifts black to a floor.",
		Settings: []look.Setting{
			dial("clean", "Clean", "%", 0, 100, 0, 1, "How much colour the deepest tones lose. Blacks with a cast show first in the parade."),
			dial("below", "Below", "stops", -10, 0, -5, 0.1, "Tones under this are cleaned, fading over two stops above."),
			dial("floor", "Floor", "% light", 0, 3, 0, 0.01, "The light that black keeps. Half a per cent gives the depth of a print on a lit screen."),
		},
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return (&grade.Floor{Level: v.Number("floor") / 100, Clean: v.Number("clean") / 100, Below: v.Number("below")}).Op()
		}},
	}
}
