package render

import (
	"context"

	"velours/core/frame"
)

// large tells that no more than one picture of the plan's raster could be kept: then only what the last pass left that needs all of it is,
// and what leads there is made in place.
func (r *Renderer) large(p *Plan) bool {
	return r.kept.Limit() > 0 && 2*12*int64(p.raster.W)*int64(p.raster.H) > r.kept.Limit()
}

// wholeKey is the name of the whole of frame n as passes leave it.
func (p *Plan) wholeKey(src Source, passes []pass, n, number int) string {
	_, key := p.headKeys(src, n, Region{})
	for _, s := range passes {
		key += "|" + s.key(number)
	}
	return key
}

// Keeps tells that frame n is large, and that no more than a part of it has still to be made.
func (r *Renderer) Keeps(ctx context.Context, p *Plan, src Source, n, number int) bool {
	last := p.lastWhole()
	if last < 0 || !r.large(p) || p.region.whole() {
		return false
	}
	passes, err := r.bound(ctx, p, p.at(n, number), src)
	return err == nil && r.kept.Has(p.wholeKey(r.footage(p, src, n), passes[:last+1], n, number))
}

// largeWhole is frame n as the last of its passes that needs all of it leaves it, made in place where that can be, and its key. It is kept, and
// nothing that leads there.
func (r *Renderer) largeWhole(ctx context.Context, p *Plan, src Source, passes []pass, n, number int) (*frame.Frame, string, error) {
	key := p.wholeKey(src, passes, n, number)
	if f := r.get(key); f != nil {
		return f, key, nil
	}
	at, _, fresh, err := r.head(ctx, p, src, n, Region{}, false)
	if err != nil {
		return nil, "", err
	}
	for i := 0; i < len(passes); {
		done, next := 0, at
		if fresh {
			if done, next, err = r.inPlace(ctx, passes[i:], at, number); err != nil {
				return nil, "", err
			}
		}
		if done == 0 {
			done = 1
			if next, err = passes[i].Run(ctx, at, number, Region{}); err != nil {
				return nil, "", err
			}
		}
		if err := ctx.Err(); err != nil {
			return nil, "", err
		}
		if fresh && next != at {
			at.Release()
		}
		at, fresh, i = next, fresh || next != at, i+done
	}
	if r.Keeping != nil {
		r.Keeping(ctx, at.Bytes())
	}
	r.put(key, at)
	return at, key, nil
}
