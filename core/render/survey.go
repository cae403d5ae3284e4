package render

import (
	"context"
	"fmt"
	"math"
	"slices"

	"velours/core/cache"
	"velours/core/frame"
)

// Surveyed operations want to know the shot before they act on any frame of it: what they find is the same for every frame, so
// that nothing pumps.
type Surveyed interface {
	Spatial
	// Surveys tells whether there is anything to find.
	Surveys() bool
	// Survey finds it, from small pictures of some frames as they come to the operation; there may be none.
	Survey(ctx context.Context, pictures []*frame.Frame) ([]float64, error)
	// Knowing is the operation that knows it.
	Knowing(found []float64) Operation
}

// A source with a length is a shot that can be surveyed; any other shows nothing of itself but the frames that it is asked for.
type lengthy interface{ Length() int }

// surveyWidth is how wide the pictures of a survey are, and surveyFrames how many there are.
const surveyWidth, surveyFrames = 256, 3

// small is the raster of a survey.
func (r Raster) small() Raster {
	if r.W <= surveyWidth {
		return r
	}
	return Raster{surveyWidth, max(1, int(math.Round(float64(r.H)*surveyWidth/float64(r.W))))}
}

func (p *Plan) surveys() bool {
	for _, s := range p.passes {
		if op, ok := s.area.(Surveyed); ok && op.Surveys() {
			return true
		}
	}
	return false
}

// surveyed are the frames of a source that are looked at: evenly spread, the same for every frame of the shot.
func surveyed(src Source) []int {
	s, ok := src.(lengthy)
	if !ok {
		return nil
	}
	count := min(s.Length(), surveyFrames)
	out := make([]int, count)
	for i := range out {
		out[i] = (2*i + 1) * s.Length() / (2 * count)
	}
	return out
}

// surveys keeps what was found.
var surveys = cache.Results[[]float64]{Size: 512}

// Bind is the plan for a shot, with what its operations find when they survey it: for those who render frames that were read
// elsewhere, and can show no more of the shot.
func (r *Renderer) Bind(ctx context.Context, p *Plan, src Source) (*Plan, error) {
	q := *p
	var err error
	if q.passes, err = r.bound(ctx, p, p.passes, src); err != nil {
		return nil, err
	}
	q.small = nil
	q.under = nil
	for _, u := range p.under {
		bound, err := r.Bind(ctx, u.Plan, src)
		if err != nil {
			return nil, err
		}
		q.under = append(q.under, under{bound, u.share})
	}
	return &q, nil
}

// bound are passes of the plan, with what surveyed operations find.
func (r *Renderer) bound(ctx context.Context, p *Plan, passes []pass, src Source) ([]pass, error) {
	return r.boundBy(ctx, p.small, passes, src, math.MaxInt)
}

// boundBy binds the first so many surveyed passes by a plan for small pictures.
func (r *Renderer) boundBy(ctx context.Context, small *Plan, passes []pass, src Source, most int) ([]pass, error) {
	if small == nil {
		return passes, nil
	}
	var out []pass
	for i, s := range passes {
		op, ok := s.area.(Surveyed)
		if !ok || !op.Surveys() || most == 0 {
			continue
		}
		most--
		if out == nil {
			out = slices.Clone(passes)
		}
		found, err := r.survey(ctx, small, i, src)
		if err != nil {
			return nil, err
		}
		out[i].area = op.Knowing(found).(Spatial)
	}
	if out == nil {
		return passes, nil
	}
	return out, nil
}

// survey finds what the pass of an index wants to know, from small pictures.
func (r *Renderer) survey(ctx context.Context, p *Plan, index int, src Source) ([]float64, error) {
	frames := surveyed(src)
	before := 0 // so many surveyed ones come before it
	key := fmt.Sprint(src.Key(), frames, p.raster, p.encoding.Key(), p.head)
	for i, s := range p.passes[:index+1] {
		if op, ok := s.area.(Surveyed); ok && op.Surveys() && i < index {
			before++
		}
		key += "|" + s.key(0)
	}
	return surveys.Get(key, func() ([]float64, error) {
		var pictures []*frame.Frame
		last := p.passes[index].area.(Surveyed)
		for _, f := range frames {
			at, _, _, err := r.head(ctx, p, src, f, Region{}, true)
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			if err != nil { // a frame that is missing tells nothing, and is told of where it is wanted
				continue
			}
			passes, err := r.boundBy(ctx, p, p.at(f, f), src, before)
			if err != nil {
				return nil, err
			}
			for _, s := range passes[:index] {
				if at, err = s.Run(ctx, at, f, Region{}); err != nil {
					return nil, err
				}
			}
			pictures = append(pictures, at)
			last = passes[index].area.(Surveyed)
		}
		return last.Survey(ctx, pictures)
	})
}
