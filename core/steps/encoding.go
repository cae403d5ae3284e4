package steps

import (
	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(encodingKind) }

var encodingKind = &look.Kind{
	ID: "encoding", Place: 10, Station: look.Intake, Label: "Encoding", Fixed: true, Needed: true, Declared: "the encoding is declared, not set: it belongs to the shot", Rest: map[string]any{"id": "bt709"},
	Purpose: "Says how the camera wrote the shot down: its curve and its gamut. Everything after works on light.",
	Settings: []look.Setting{{
		ID: "id", Label: "Recorded as", Live: encodingChoices, Refers: encodingReference,
		Help: "The curve and gamut the camera recorded. A wrong choice spoils everything after it: greys lift or sink, skin turns. It belongs to the shot and never travels with a look.",
	}},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, _ float64) { b.Encoding, _ = colour.FindEncoding(v.Choice("id")) }},
}

// encodingReference tells encodings by their numbers: one of a person's own may be corrected under the same id.
var encodingReference = &look.Reference{Key: func(id, _ string) string {
	e, err := colour.FindEncoding(id)
	if err != nil {
		return id
	}
	return e.Key()
}}

func encodingChoices() []look.Choice {
	var c []look.Choice
	for _, e := range colour.Encodings() {
		c = append(c, look.Choice{ID: e.ID, Label: e.Label, Away: look.IsAway(e.ID)})
	}
	return c
}
