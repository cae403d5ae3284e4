package studio

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"strings"

	"velours/core/frame"
	"velours/core/noise"
	"velours/media"
)

// UsualGrainFrames is how many frames grain is measured from where none are named, mostGrainFrames how many at most.
const UsualGrainFrames, mostGrainFrames = 4, 12

// Grain measures the noise of a clip's frames, as they were recorded: their code values. Boxes are where, in pixels; none is everywhere.
func (j Job) Grain(ctx context.Context, boxes []noise.Area, progress func(done float64)) (*noise.Card, error) {
	src, err := media.Open(ctx, j.In)
	if err != nil {
		return nil, wrapInput(err)
	}
	defer src.Close()
	if err := j.settle(src.Info); err != nil {
		return nil, err
	}
	if j.Last < 0 {
		j.Last = min(j.First+UsualGrainFrames, src.Info.Frames) - 1
	}
	name := filepath.Base(j.In)
	switch n := j.Last - j.First + 1; {
	case j.First >= src.Info.Frames || j.Last >= src.Info.Frames:
		return nil, Bad("%s has frames 0 to %d, not %d", name, src.Info.Frames-1, max(j.First, j.Last))
	case n > mostGrainFrames:
		return nil, Bad("%d frames; grain is measured from %d at most", n, mostGrainFrames)
	}
	w, h := src.Info.Shape()
	if err := checkBoxes(boxes, w, h, name); err != nil {
		return nil, err
	}
	at := noise.Looked(w, h, boxes)
	var frames []*frame.Frame
	for n := j.First; n <= j.Last; n++ {
		f, err := src.Frame(ctx, n)
		if err != nil {
			return nil, wrapInput(err)
		}
		frames = append(frames, f.Crop(at.X, at.Y, at.W, at.H)) // a frame of 8K is four hundred megabytes
	}
	m, err := noise.Measure(ctx, frames, noise.Options{Boxes: noise.Within(at, boxes)}, progress)
	if err != nil {
		return nil, untold(ctx, name, err)
	}
	stem := strings.TrimSuffix(name, filepath.Ext(name))
	return m.Card(cardID(stem), stem, fromFrames(name, j.First, j.Last), j.encoding.ID, w), nil
}

// checkBoxes refuses boxes that are too small or lie outside a picture.
func checkBoxes(boxes []noise.Area, w, h int, name string) error {
	if len(boxes) > mostBoxes {
		return Bad("%d boxes; there can be %d", len(boxes), mostBoxes)
	}
	for _, b := range boxes {
		if b.X < 0 || b.Y < 0 || b.W < noise.LeastBox || b.H < noise.LeastBox || b.X+b.W > w || b.Y+b.H > h {
			return Bad("a box of %d × %d pixels at %d, %d; boxes are at least %d × %d, inside the %d × %d of %s", b.W, b.H, b.X, b.Y, noise.LeastBox, noise.LeastBox, w, h, name)
		}
	}
	return nil
}

// mostBoxes is how many parts of a picture grain can be measured in.
const mostBoxes = 16

// untold is that grain could not be measured, and why.
func untold(ctx context.Context, name string, err error) error {
	switch {
	case ctx.Err() != nil:
		return err
	case errors.Is(err, noise.ErrTooLittle):
		return Bad("%s: %v; move the boxes to flat, unclipped parts, or choose other frames", name, err)
	}
	return Bad("%s: %v", name, err)
}

// fromFrames words what a card was measured from.
func fromFrames(name string, first, last int) string {
	if first == last {
		return fmt.Sprintf("%s, frame %d", name, first)
	}
	return fmt.Sprintf("%s, frames %d to %d", name, first, last)
}

// cardID is a name as an id: small letters, figures and hyphens.
func cardID(name string) string {
	id := strings.Trim(notWord.ReplaceAllString(strings.ToLower(name), "-"), "-")
	if id == "" {
		return "grain"
	}
	return strings.TrimRight(id[:min(len(id), 60)], "-")
}
