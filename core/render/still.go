package render

import (
	"context"

	"velours/core/frame"
)

// Still is one picture as a source: every frame is it. It is for a renderer of its own, because all stills have one key.
type Still struct{ Picture *frame.Frame }

// Key is that of all stills.
func (s Still) Key() string { return "still" }

// Frame is the picture.
func (s Still) Frame(context.Context, int) (*frame.Frame, error) { return s.Picture, nil }
