package studio

import (
	"context"

	"velours/core/cuts"
	"velours/media"
)

// ShotIn is one of the shots that a movie holds: frames First to Last, and the time code of the first where the movie has one.
type ShotIn struct {
	First    int    `json:"first"`
	Last     int    `json:"last"`
	Timecode string `json:"timecode,omitempty"`
}

// ShotsIn finds the shots that a movie or sequence holds by its hard cuts; progress, if not nil, is told how many frames were seen.
func ShotsIn(ctx context.Context, file string, progress func(done, total int)) ([]ShotIn, error) {
	src, err := media.Open(ctx, file)
	if err != nil {
		return nil, wrapInput(err)
	}
	defer src.Close()
	small := make([]*cuts.Small, src.Info.Frames)
	for n := range small {
		f, err := src.Frame(ctx, n)
		if err != nil {
			return nil, wrapInput(err)
		}
		small[n] = cuts.Of(f)
		if progress != nil {
			progress(n+1, len(small))
		}
	}
	var out []ShotIn
	first := 0
	for _, next := range append(cuts.Find(small), len(small)) {
		out = append(out, ShotIn{first, next - 1, media.Later(src.Info.Timecode, first, src.Info.Rate)})
		first = next
	}
	return out, nil
}
