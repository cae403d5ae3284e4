package steps

import (
	"math"

	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(exposureKind) }

var exposureKind = &look.Kind{
	ID: "exposure", Place: 10, Pictured: []string{"stops"}, KeepsGrey: true, KeepsOrder: true, Station: look.Balance, Label: "Exposure", HasStrength: true, Repeatable: true, Lead: []string{"stops"}, NoEffect: noEffectAt("at 0 stops every tone stays", 0, "stops"),
	Purpose: "Lets more or less light in, as the iris would: every tone moves by the same number of stops.",
	Settings: []look.Setting{{
		ID: "stops", Label: "Exposure", Unit: "stops", Min: -6, Max: 6, Step: 0.05,
		Help: "Up opens the iris. Film has room above: half a stop over gives cleaner shadows and softer highlights. For the density of the print use the printer lights.",
	}},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		b.Matrix(look.Balance, colour.Identity.Scale(math.Exp2(v.Number("stops")*s)))
	}},
}
