package path

import "velours/core/matte"

func init() {
	DeclareMatte(&MatteKind{
		Place: 90,
		ID:    "picture", Placed: true, Label: "Picture", Purpose: "Another picture from the pinboard, by its brightness or its opacity.",
		Settings: []Setting{
			{ID: "id", Label: "Picture", Live: pictureChoices, Help: "A still on the pinboard. White covers, black leaves free."},
			{ID: "by", Label: "By", Choices: []Choice{{ID: "luma", Label: "Brightness"}, {ID: "alpha", Label: "Opacity"}}, Help: "What of it covers."},
			{ID: "fit", Label: "Placed", Choices: []Choice{{ID: "fit", Label: "Fitted"}, {ID: "centre", Label: "At its size, centred"}}, Help: "Fitted into the frame without stretching, or pixel for pixel about the centre."},
		},
		Part: func(v Values) matte.Part {
			return matte.Picture{Frame: pictureOf(v.Choice("id")), Alpha: v.Choice("by") == "alpha", Fit: v.Choice("fit") == "fit"}
		},
	})
}
