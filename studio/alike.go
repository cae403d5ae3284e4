package studio

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"velours/core/cache"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
	"velours/library"
)

// alikeWidth is how wide pictures are whose light is compared, and alikeFrames how many of a shot.
const alikeWidth, alikeFrames = 96, 2

// Alike are the other shots of a shot's reel that look like it as they came in: of the same camera, and of the same light by their
// measured tones; the nearest first. Nothing is done to them. progress, if not nil, is told how far it is, as a share.
func (s *Sessions) Alike(ctx context.Context, id uint, progress func(done float64)) ([]uint, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	if shot.Encoding == "" {
		return nil, Bad("%s does not say how it was encoded; declare it in Intake first", shot.Name)
	}
	reel, err := s.lib.Reel(shot.ReelID)
	if err != nil {
		return nil, err
	}
	mine, err := s.light(ctx, shot)
	if err != nil {
		return nil, err
	}
	type one struct {
		id    uint
		apart float64
	}
	var near []one
	for i := range reel.Shots {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if progress != nil {
			progress(float64(i) / float64(len(reel.Shots)))
		}
		x := &reel.Shots[i]
		if x.ID == id || !sameCamera(x, shot) {
			continue
		}
		light, err := s.light(ctx, x)
		if err != nil { // its file is gone: it looks like nothing
			continue
		}
		if d := mine.Apart(light); d <= 1 {
			near = append(near, one{x.ID, d})
		}
	}
	slices.SortStableFunc(near, func(a, b one) int { return cmp.Compare(a.apart, b.apart) })
	out := []uint{}
	for _, n := range near {
		out = append(out, n.id)
	}
	return out, nil
}

// sameCamera tells whether two shots were recorded alike, by all that their files say.
func sameCamera(a, b *library.Shot) bool {
	return a.Encoding == b.Encoding && a.Kind == b.Kind && a.Codec == b.Codec && a.Depth == b.Depth && a.Width == b.Width && a.Height == b.Height
}

// lights keeps what was measured.
var lights = cache.Results[measure.Light]{Size: 4096}

// light is the light of a shot, measured once for a file, its declaration and what counts of it.
func (s *Sessions) light(ctx context.Context, shot *library.Shot) (measure.Light, error) {
	key := fmt.Sprint(fileKey(shot), " ", shot.Encoding, " ", shot.In, " ", shot.Out)
	return lights.Get(key, func() (measure.Light, error) { return s.measureLight(ctx, shot) })
}

// measureLight measures the light of a shot, before anything is done to it, at frames that are spread over what counts of it.
func (s *Sessions) measureLight(ctx context.Context, shot *library.Shot) (measure.Light, error) {
	src, err := s.reader(ctx, shot.Path)
	if err != nil {
		return measure.Light{}, wrapInput(err)
	}
	e, err := encodingOf(shot.Encoding)
	if err != nil {
		return measure.Light{}, err
	}
	w, h := fitSize(shot.Width, shot.Height, alikeWidth, alikeWidth)
	plan, err := render.CompileDraft(ctx, look.NewLook(""), e, render.Raster{W: w, H: h}, look.Balance)
	if err != nil {
		return measure.Light{}, err
	}
	end := spanEnd(shot.Frames, shot.Out)
	var pictures []*frame.Frame
	for i := range min(alikeFrames, end-shot.In) {
		n := shot.In + (2*i+1)*(end-shot.In)/(2*alikeFrames)
		f, err := s.rendered(ctx, plan, src, n, n)
		if err != nil {
			return measure.Light{}, wrapInput(err)
		}
		pictures = append(pictures, f)
	}
	return measure.LightOf(pictures...), nil
}
