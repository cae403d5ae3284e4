package steps

import (
	"context"
	"errors"
	"fmt"
	"math"

	"velours/core/cache"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/noise"
	"velours/core/render"
	"velours/core/vec"
)

func init() { look.Declare(denoiseKind) }

var denoiseKind = &look.Kind{
	ID: "denoise", Place: 10, Carried: look.PartCleaning, Station: look.Intake, Label: "Noise reduction", HasStrength: true, Spatial: true, Wants: "noise", Tool: "noise",
	Purpose: "Takes the camera’s noise out before anything else. It is measured from the shot itself, so that 100 % is just what is there; grain can be put back later.",
	Settings: []look.Setting{
		dial("amount", "Brightness", "%", 0, 200, 100, 1, "How much of the noise in brightness is taken out. 100 is as measured; above it noise is taken for stronger than it is, and fine detail begins to go."),
		dial("chroma", "Colour", "%", 0, 200, 100, 1, "How much of the noise in colour is taken out. Eyes miss it less than that in brightness."),
		dial("texture", "Keep texture", "%", 0, 100, 50, 1, "How much is left in where the picture has texture, which hides noise and goes glossy without it. Flat areas stay clean."),
		dial("frames", "Frames", "each way", 0, noise.MostFrames, 2, 1, "How many frames before and after are looked at. What moved is followed; where a neighbour shows something else it is left out."),
		fold("Where it acts", dial("over", "Over frames", "%", 0, 100, 100, 1, "How much is taken out by what neighbouring frames have in common. It costs no detail.")),
		fold("Where it acts", dial("within", "Within the frame", "%", 0, 100, 100, 1, "How much of what is left is taken out of the frame by itself. It may cost the finest detail.")),
		fold("Where it acts", dial("size", "Size of noise", "%", 50, 300, 100, 1, "How large its spots are, against what was measured. More takes out blotches; less keeps to single pixels.")),
	},
	NoEffect: func(v look.Values) string {
		if why := noEffectAt("nothing is taken out at 0 %", 0, "amount", "chroma")(v); why != "" {
			return why
		}
		if v.Number("within") == 0 && (v.Number("over") == 0 || v.Number("frames") == 0) {
			return "Resting: it acts neither over frames nor within them."
		}
		return ""
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		share := func(id string) float64 { return v.Number(id) / 100 }
		r := noise.Reduction{
			Bright: share("amount"), Colour: share("chroma"), Texture: share("texture"), Frames: int(math.Round(v.Number("frames"))),
			Over: share("over"), Within: share("within"), Larger: share("size"),
		}
		if (r.Bright > 0 || r.Colour > 0) && (r.Within > 0 || r.Over > 0 && r.Frames > 0) {
			b.Clean(denoise{r, s, false})
		}
	}},
}

// denoise takes noise out of footage, by a share.
type denoise struct {
	noise.Reduction
	share float64
	quick bool
}

func (d denoise) Key() string { return fmt.Sprintf("denoise%+v", d) }

func (d denoise) Quick() render.Cleaning {
	d.quick = true
	return d
}

// learned is the noise of shots, by their footage: nil where it cannot be told.
var learned = cache.Results[*noise.Measured]{Size: 256}

// NoiseOf is the noise of a shot, as noise reduction measures it: in the middle of the shot, or failing that nearer its ends; nil where it
// cannot be told.
func NoiseOf(ctx context.Context, src render.Source, length int) (*noise.Measured, error) {
	return learned.Get(src.Key(), func() (*noise.Measured, error) {
		var unread error
		read := false
		for _, at := range []float64{0.5, 0.25, 0.75} {
			first := min(max(int(at*float64(length))-1, 0), max(length-3, 0))
			var frames []*frame.Frame
			for n := first; n < min(first+3, length); n++ {
				f, err := src.Frame(ctx, n)
				if ctx.Err() != nil {
					return nil, ctx.Err()
				}
				if err != nil { // missing, perhaps: another place may do
					unread = err
					break
				}
				read = true
				frames = append(frames, f)
			}
			for len(frames) > 0 {
				m, err := noise.Learn(ctx, frames)
				if err == nil {
					return m, nil
				}
				if ctx.Err() != nil {
					return nil, ctx.Err()
				}
				if len(frames) == 1 {
					break
				}
				if errors.Is(err, noise.ErrTooLittle) {
					break
				}
				frames = frames[:1] // all the same: a still
			}
		}
		if !read { // nothing is learned of a shot that cannot be read now
			return nil, unread
		}
		return nil, nil
	})
}

// Clean takes the noise out of frame n.
func (d denoise) Clean(ctx context.Context, src render.Source, length, n int) (*frame.Frame, error) {
	own, err := src.Frame(ctx, n)
	if err != nil {
		return nil, err
	}
	m, err := NoiseOf(ctx, src, length)
	if err != nil || m == nil {
		return own, err
	}
	var out *frame.Frame
	if d.quick {
		out, err = m.Quick(ctx, d.Reduction, own)
		if err != nil || d.share == 1 {
			return out, err
		}
		if out.W != own.W {
			own, err = frame.Scale(ctx, own, out.W, out.H)
		}
	} else if length == 1 {
		out, err = m.Reduce(ctx, d.Reduction, own, nil)
	} else {
		gap := [2]int{-length, length} // what lies beyond a frame that is missing is not looked at
		out, err = m.Reduce(ctx, d.Reduction, own, func(after int) (*frame.Frame, error) {
			k := n + after
			if k < 0 || k >= length || after < gap[0] || after > gap[1] {
				return nil, nil
			}
			f, err := src.Frame(ctx, k)
			if err != nil && ctx.Err() == nil {
				if after < 0 {
					gap[0] = after + 1
				} else {
					gap[1] = after - 1
				}
				return nil, nil
			}
			return f, err
		})
	}
	if err != nil || d.share == 1 {
		return out, err
	}
	err = frame.Bands(ctx, out.H, 32, func(y0, y1 int) {
		for p := range 3 {
			for y := y0; y < y1; y++ {
				vec.Mix(out.Row(p, y), out.Row(p, y), own.Row(p, y), float32(d.share), float32(1-d.share))
			}
		}
	})
	return out, err
}
