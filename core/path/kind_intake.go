package path

import (
	"math"

	"velours/core/colour"
	"velours/core/frame"
)

var encodingKind = &Kind{
	ID: "encoding", Station: Intake, Label: "Encoding", Fixed: true, Rest: map[string]any{"id": "bt709"},
	Purpose: "Says how the camera wrote the shot down: its curve and its gamut. Everything after works on light.",
	Settings: []Setting{{
		ID: "id", Label: "Recorded as", Live: encodingChoices,
		Help: "The curve and gamut the camera recorded. A wrong choice spoils everything after it: greys lift or sink, skin turns. It belongs to the shot and never travels with a look.",
	}},
	apply: func(b *builder, v values, _ float64) { b.encoding, _ = colour.FindEncoding(v.choice("id")) },
}

var compressKind = &Kind{
	ID: "compress", Station: Intake, Label: "Camera gamut", Mixes: true, Wants: "wide",
	Purpose:  "Draws colours that the camera placed outside what light can be back to the edge: strong blues and reds keep their shape. It is the published reference gamut compression of ACES 1.3; colours well inside do not move.",
	Settings: []Setting{},
	apply:    func(b *builder, _ values, s float64) { b.compress = s },
}

var reframeKind = &Kind{
	ID: "reframe", Station: Intake, Label: "Reframe", Spatial: true, Lead: []string{"x", "y", "turn"},
	Purpose: "Places the picture anew in its frame: larger, smaller, aside, turned. The file stays as it is, and grain and halation keep their size on the film.",
	Settings: []Setting{
		{
			ID: "scale", Label: "Scale", Unit: "%", Min: 25, Max: 400, Default: 100, Step: 1, Curve: 2,
			Help: "The size of the picture in its frame. Above 100 it is cut at the edges; much above 150 it gets soft.",
		},
		{
			ID: "x", Label: "Right", Unit: "%", Min: -100, Max: 100, Step: 0.5,
			Help: "How far the picture moves to the right, in its frame's width.",
		},
		{
			ID: "y", Label: "Down", Unit: "%", Min: -100, Max: 100, Step: 0.5,
			Help: "How far the picture moves down, in its frame's height.",
		},
		{
			ID: "turn", Label: "Turn", Unit: "°", Min: -180, Max: 180, Step: 0.1,
			Help: "Turns the picture clockwise about its middle. A degree or less straightens a horizon.",
		},
	},
	Still: func(v values) string {
		if v.number("scale") != 100 {
			return ""
		}
		return still("the picture is in its place", 0, "x", "y", "turn")(v)
	},
	apply: func(b *builder, v values, _ float64) {
		b.place = frame.Placement{Scale: v.number("scale") / 100, X: v.number("x") / 100, Y: v.number("y") / 100, Turn: v.number("turn") * math.Pi / 180}
	},
}

func encodingChoices() []Choice {
	var c []Choice
	for _, e := range colour.Encodings() {
		c = append(c, Choice{ID: e.ID, Label: e.Label, Away: isAway(e.ID)})
	}
	return c
}
