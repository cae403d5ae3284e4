package path

import "velours/core/colour"

func init() { Declare(encodingKind) }

var encodingKind = &Kind{
	ID: "encoding", Place: 10, Station: Intake, Label: "Encoding", Fixed: true, Needed: true, Rest: map[string]any{"id": "bt709"},
	Purpose: "Says how the camera wrote the shot down: its curve and its gamut. Everything after works on light.",
	Settings: []Setting{{
		ID: "id", Label: "Recorded as", Live: encodingChoices, Refers: encodingReference,
		Help: "The curve and gamut the camera recorded. A wrong choice spoils everything after it: greys lift or sink, skin turns. It belongs to the shot and never travels with a look.",
	}},
	Work: Work{Apply: func(b *Builder, v Values, _ float64) { b.Encoding, _ = colour.FindEncoding(v.Choice("id")) }},
}

// encodingReference tells encodings by their numbers: one of a person's own may be corrected under the same id.
var encodingReference = &Reference{Key: func(id, _ string) string {
	e, err := colour.FindEncoding(id)
	if err != nil {
		return id
	}
	return e.Key()
}}

func encodingChoices() []Choice {
	var c []Choice
	for _, e := range colour.Encodings() {
		c = append(c, Choice{ID: e.ID, Label: e.Label, Away: isAway(e.ID)})
	}
	return c
}
