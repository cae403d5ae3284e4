package steps

import (
	"velours/core/cache"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/matte"
	"velours/core/registry"
)

func init() {
	look.DeclareMatte(&look.MatteKind{
		Place: 90,
		ID:    "picture", Placed: true, Label: "Picture", Purpose: "Another picture from the pinboard, by its brightness or its opacity.",
		Settings: []look.Setting{
			{ID: "id", Label: "Picture", Live: pictureChoices, Help: "A still on the pinboard. White covers, black leaves free."},
			{ID: "by", Label: "By", Choices: []look.Choice{{ID: "luma", Label: "Brightness"}, {ID: "alpha", Label: "Opacity"}}, Help: "What of it covers."},
			{ID: "fit", Label: "Placed", Choices: []look.Choice{{ID: "fit", Label: "Fitted"}, {ID: "centre", Label: "At its size, centred"}}, Help: "Fitted into the frame without stretching, or pixel for pixel about the centre."},
		},
		Part: func(v look.Values) matte.Part {
			return matte.Picture{Frame: pictureOf(v.Choice("id")), Alpha: v.Choice("by") == "alpha", Fit: v.Choice("fit") == "fit"}
		},
	})
}

// MattePicture is a picture that mattes may name.
type MattePicture struct {
	ID, Label string
	Load      func() (*frame.Frame, error)
}

// pictures are those there are.
var pictures registry.Registry[*MattePicture]

// KnowPicture adds a picture for mattes, in place of one of its id; ForgetPicture takes it away.
func KnowPicture(p *MattePicture) { pictures.Add(p.ID, p) }

// ForgetPicture takes a picture away.
func ForgetPicture(id string) { pictures.Remove(id) }

func pictureChoices() []look.Choice {
	c := []look.Choice{{ID: "none", Label: "None"}}
	for _, p := range pictures.All() {
		c = append(c, look.Choice{ID: p.ID, Label: p.Label})
	}
	return c
}

// loaded keeps the last few pictures.
var loaded = cache.Results[*frame.Frame]{Size: 4}

func pictureOf(id string) *frame.Frame {
	for _, p := range pictures.All() {
		if p.ID == id {
			f, err := loaded.Get(id, p.Load)
			if err == nil {
				return f
			}
		}
	}
	return frame.New(1, 1, 3)
}
