package studio

import (
	"context"
	"fmt"
	"math"
	"os"
	"path/filepath"

	"velours/core/cache"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/media"
)

// A preview encodes this many frames before and after the one that is looked at: enough for the encoder
// to come to its pace, few enough to wait for.
const previewBefore, previewAfter = 8, 2

// previews are the last few, each at its full size.
var previews = cache.Results[*preview]{Size: 2}

// preview is a frame as a movie would leave it, at its full size, and the share of its texture that is left.
type preview struct {
	after *frame.Frame
	left  float64
}

// delivered shows what a compressed movie leaves of the picture. It encodes the frames around with the
// movie's own encoder and reads the frame back, so it takes its time: a draft is the picture itself.
func (s *Sessions) delivered(ctx context.Context, v View, p *Shown) (*Shown, error) {
	if v.Codec != "h264" && v.Codec != "h265" {
		return nil, Bad("a delivery is looked at in h264 or h265, not in %q", v.Codec)
	}
	if v.Megabits < 0.1 || v.Megabits > 800 {
		return nil, Bad("%g megabits a second is no rate for a movie; it goes from 0.1 to 800", v.Megabits)
	}
	label := map[string]string{"h264": "H.264", "h265": "H.265"}[v.Codec]
	if v.Draft {
		p.Note = fmt.Sprintf("encoding as %s …", label)
		return p, nil
	}
	if p.scene == nil {
		return nil, Bad("a still is delivered already")
	}
	whole := v
	whole.W, whole.H, whole.X, whole.Y, whole.CropW, whole.CropH = 0, 0, 0, 0, 0, 0
	keys, err := s.frameKeys(ctx, whole)
	if err != nil {
		return nil, err
	}
	e, err := previews.Get(keys(v), func() (*preview, error) { return s.encodeAround(ctx, v, p) })
	if err != nil {
		return nil, err
	}
	raster, region := v.window(p.SourceW, p.SourceH)
	out, err := onDisplay(ctx, e.after, raster, p.Display, p.Display)
	if err != nil {
		return nil, err
	}
	if region.W > 0 {
		out = out.Crop(region.X, region.Y, region.W, region.H)
	}
	p.Frame = out
	p.Note = fmt.Sprintf("as %s at %g Mbit/s: %.0f %% of the finest texture is left", label, v.Megabits, 100*e.left)
	return p, nil
}

// encodeAround encodes the frames around a view's own and reads that one back.
func (s *Sessions) encodeAround(ctx context.Context, v View, p *Shown) (*preview, error) {
	c := p.scene
	// at either end of the shot the way is gone back; grain is of other frames, so that nothing is seen twice
	lo, hi := 0, c.shot.Frames-1
	turn := func(n int) int {
		if n < lo {
			n = 2*lo - n
		}
		if n > hi {
			n = 2*hi - n
		}
		return min(max(n, lo), hi)
	}
	plan, err := render.Compile(ctx, c.look, c.encoding, render.Raster{W: p.SourceW, H: p.SourceH}, look.Finish)
	if err != nil {
		return nil, err
	}
	dir, err := os.MkdirTemp(s.dir, "preview-")
	if err != nil {
		return nil, fmt.Errorf("a folder for the preview: %w", err)
	}
	defer os.RemoveAll(dir)
	name := filepath.Join(dir, "preview.mp4")
	j := Job{Codec: v.Codec, Megabits: v.Megabits, Tap: look.Finish}
	rate := c.shot.RateText
	if rate == "" {
		rate = "24/1"
	}
	opt := j.options(&media.Info{RateText: rate}, plan.Display)
	opt.Short = true
	w, err := media.Create(name, 0, opt)
	if err != nil {
		return nil, wrapInput(err)
	}
	render := render.NewRenderer(0)
	if plan, err = render.Bind(ctx, plan, c.src); err != nil {
		return nil, wrapInput(err)
	}
	footage := s.render.Footage(plan, c.src)
	had := 0.0
	at := func(i int) int { return v.Frame - previewBefore + i }
	err = pipeline(ctx, 0, previewBefore+previewAfter, framesAtOnce, func(ctx context.Context, i int) (*frame.Frame, error) { return footage.Frame(ctx, turn(at(i))) },
		func(ctx context.Context, i int, f *frame.Frame) (*frame.Frame, error) {
			return render.Render(ctx, plan, single{key: footage.Key(), f: f}, at(i))
		},
		func(i int, f *frame.Frame) error {
			if i == previewBefore {
				had = texture(f)
			}
			return w.Write(ctx, f)
		})
	if err == nil {
		err = w.Close()
	}
	if err != nil {
		w.Abort()
		return nil, fmt.Errorf("encoding the preview: %w", err)
	}
	r, err := media.Open(ctx, name)
	if err != nil {
		return nil, fmt.Errorf("reading the preview back: %w", err)
	}
	defer r.Close()
	f, err := r.Frame(ctx, previewBefore)
	if err != nil {
		return nil, fmt.Errorf("reading the preview back: %w", err)
	}
	return &preview{f, texture(f) / max(had, 1e-9)}, nil
}

// texture is the deviation of the finest detail in the green code values: each pixel against the mean of
// its four neighbours.
func texture(f *frame.Frame) float64 {
	sum := 0.0
	for y := 1; y < f.H-1; y++ {
		up, row, down := f.Row(1, y-1), f.Row(1, y), f.Row(1, y+1)
		for x := 1; x < f.W-1; x++ {
			d := float64(row[x] - (up[x]+down[x]+row[x-1]+row[x+1])/4)
			sum += d * d
		}
	}
	return math.Sqrt(sum / float64(f.W*f.H))
}
