package path

import "velours/core/colour"

var encodingKind = &Kind{
	ID: "encoding", Station: Intake, Label: "Encoding", Fixed: true,
	Purpose: "Says how the camera wrote the shot down: its curve and its gamut. Everything after works on light.",
	Settings: []Setting{{
		ID: "id", Label: "Recorded as", Choices: encodingChoices(),
		Help: "The curve and gamut the camera recorded. A wrong choice spoils everything after it: greys lift or sink, skin turns. It belongs to the shot and never travels with a look.",
	}},
	apply: func(b *builder, v values, _ float64) { b.encoding, _ = colour.FindEncoding(v.choice("id")) },
}

func encodingChoices() []Choice {
	var c []Choice
	for _, e := range colour.Encodings() {
		c = append(c, Choice{ID: e.ID, Label: e.Label})
	}
	return c
}
