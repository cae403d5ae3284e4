package render

import (
	"context"

	"velours/core/colour"
	"velours/core/frame"
)

// A sized source tells how many pixels its frames have.
type sized interface{ Size() (w, h int) }

// largeSource is from how many pixels on a source is read once for a draft and for the picture that follows it: reading it takes
// longer than making either. It is variable for tests.
var largeSource = 24 << 20

// FollowedBy is the plan of a draft which a picture on another raster will follow.
func (p *Plan) FollowedBy(r Raster) *Plan {
	q := *p
	q.follows = r
	q.under = nil
	for _, u := range p.under {
		q.under = append(q.under, under{u.FollowedBy(r), u.share})
	}
	return &q
}

// followed tells that frames of src are brought to the raster of the picture that is to follow, and from there to the draft's.
func (p *Plan) followed(src Source) bool {
	s, ok := src.(sized)
	if !ok || p.follows == (Raster{}) || p.follows == p.raster {
		return false
	}
	w, h := s.Size()
	return w*h >= largeSource && p.follows != Raster{W: w, H: h}
}

// followedLight is frame n as light at a draft's raster, made of that at the raster of the picture to follow, which is kept.
func (r *Renderer) followedLight(ctx context.Context, p *Plan, src Source, n int) (*frame.Frame, error) {
	q := *p
	q.raster, q.head = p.follows, colour.Identity
	light, _, _, err := r.head(ctx, &q, src, n, Region{}, true)
	if err != nil {
		return nil, err
	}
	return frame.Scale(ctx, light, p.raster.W, p.raster.H)
}
