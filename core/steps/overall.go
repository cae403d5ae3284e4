package steps

import (
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(overallKind) }

var overallKind = &look.Kind{
	ID: "overall", Place: 900, Station: look.Finish, Label: "Overall strength", HasStrength: true, Film: true,
	NoEffect:     noEffectAt("at 100 % film is alone", 100, "film"),
	Precondition: "film", Unmet: "Nothing to mix: no film step is on.",
	Purpose: "Mixes the whole film path with the same shot without film.",
	Settings: []look.Setting{{
		ID: "film", Label: "Film", Unit: "%", Min: 0, Max: 100, Default: 100, Step: 1,
		Help: "100 is film alone, 0 the neutral conversion. When a look is right but too much, take it down here.",
	}},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) { b.Overall *= 1 - (1-v.Number("film")/100)*s }},
}
