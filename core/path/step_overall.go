package path

func init() { Declare(overallKind) }

var overallKind = &Kind{
	ID: "overall", Place: 900, Station: Finish, Label: "Overall strength", Mixes: true, Film: true,
	Still: still("at 100 % film is alone", 100, "film"),
	When:  "film", Idle: "Nothing to mix: no film step is on.",
	Purpose: "Mixes the whole film path with the same shot without film.",
	Settings: []Setting{{
		ID: "film", Label: "Film", Unit: "%", Min: 0, Max: 100, Default: 100, Step: 1,
		Help: "100 is film alone, 0 the neutral conversion. When a look is right but too much, take it down here.",
	}},
	Work: Work{Apply: func(b *Builder, v Values, s float64) { b.Overall = 1 - (1-v.Number("film")/100)*s }},
}
