package render

import (
	"context"
	"fmt"
	"time"

	"velours/core/cache"
	"velours/core/frame"
	"velours/core/vec"
)

// Source gives the code values of a shot's frames.
type Source interface {
	// Key names the shot's data: equal keys, equal pictures.
	Key() string
	// Frame returns planes R, G, B and perhaps alpha of frame n, 1 for the top of the code range.
	Frame(ctx context.Context, n int) (*frame.Frame, error)
}

// An integral source has whole numbers for its code values, so every one of them is sound; of others, samples
// that are no number or infinite are mended before they spread (grade.SoundRow).
type integral interface{ Integral() bool }

// A giver gives frames that nobody else has: the renderer may write over them, and releases them.
type giver interface{ Gives() bool }

func gives(src Source) bool {
	g, ok := src.(giver)
	return ok && g.Gives()
}

// Renderer runs plans and keeps what they pass through, within a budget of bytes, so that a change
// computes only what comes after it. It is safe for concurrent use.
type Renderer struct {
	// Trace, if set, is told how long each pass took; it must be safe for concurrent use.
	Trace func(pass string, took time.Duration)

	// Keeping, if set, is told before a large picture is kept, for which memory was taken as for one that is worked on.
	Keeping func(ctx context.Context, bytes int)

	// Clean, if set, keeps frames that were cleaned, beyond what memory has.
	Clean Store

	kept     *cache.Cache[string, held]
	cleaning cleaningWork
}

// NewRenderer makes a renderer that keeps up to budget bytes; 0 keeps nothing.
func NewRenderer(budget int) *Renderer {
	return &Renderer{kept: cache.New[string, held](int64(budget)), cleaning: cleaningWork{Linger: cleanLinger}}
}

// Used is how many bytes of pictures it keeps.
func (r *Renderer) Used() int { return int(r.kept.Used()) }

// Lend lowers the budget by so many bytes, or raises it again by some below 0.
func (r *Renderer) Lend(bytes int64) { r.kept.Lend(bytes) }

// held is what is kept: a picture, or what light that spreads leaves before its last step.
type held interface{ Bytes() int }

func (r *Renderer) get(key string) *frame.Frame {
	v, _ := r.kept.Get(key)
	f, _ := v.(*frame.Frame)
	return f
}

func (r *Renderer) put(key string, v held) { r.kept.Put(key, v, int64(v.Bytes())) }

// Render computes frame n of src. The result may be shared: treat it as read-only. A renderer that
// keeps nothing hands it over: the caller may Release it.
func (r *Renderer) Render(ctx context.Context, p *Plan, src Source, n int) (*frame.Frame, error) {
	return r.RenderAs(ctx, p, src, n, n)
}

// RenderAs is Render of frame n as if it were frame number: what moves from frame to frame, such as
// grain, moves on over a picture that stands still.
func (r *Renderer) RenderAs(ctx context.Context, p *Plan, src Source, n, number int) (*frame.Frame, error) {
	last, have := p.lastWhole(), Region{} // have is the part of the picture that there is
	wanted := p.wanted(last)
	if last < 0 {
		have = wanted
	}
	footage := r.footage(p, src, n)
	passes, err := r.bound(ctx, p, p.at(n, number), src)
	if err != nil {
		return nil, err
	}
	var at, mine *frame.Frame // mine is what this call alone holds
	var key string
	first := 0
	if last >= 0 && r.large(p) {
		first = last + 1
		at, key, err = r.largeWhole(ctx, p, footage, passes[:first], n, number)
	} else {
		at, key, _, err = r.head(ctx, p, footage, n, have, true)
		if r.kept.Limit() == 0 {
			mine = at
		}
	}
	if err != nil {
		return nil, err
	}
	for i := first; i < len(passes); i++ {
		s := passes[i]
		if mine != nil && p.region.whole() {
			done, out, err := r.inPlace(ctx, passes[i:], at, number)
			if err != nil {
				return nil, err
			}
			if done > 0 {
				if out != mine {
					mine.Release()
				}
				at, mine, i = out, out, i+done-1
				continue
			}
		}
		if i > last && have != wanted {
			at, have = cut(at, wanted), wanted
			key += have.Key()
		}
		if mine == nil && have.whole() {
			done, next, nextKey, err := r.spreads(ctx, passes[i:], at, key, number)
			if err != nil {
				return nil, err
			}
			if done > 0 {
				at, key, i = next, nextKey, i+done-1
				continue
			}
		}
		key += "|" + s.key(number)
		next := r.get(key)
		if next == nil {
			began := time.Now()
			if next, err = s.Run(ctx, at, number, have); err != nil {
				return nil, err
			}
			r.trace(s.name(), began)
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			r.put(key, next)
		}
		if mine != nil && next != mine {
			mine.Release()
			mine = next
		}
		at = next
	}
	if have != p.region {
		at = cut(at, p.region.inside(have))
	}
	for _, u := range p.under {
		other, err := r.RenderAs(ctx, u.Plan, src, n, number)
		if err != nil {
			return nil, err
		}
		if at, err = blend(ctx, at, other, u.share); err != nil {
			return nil, err
		}
	}
	return at, nil
}

func (r *Renderer) trace(pass string, began time.Time) {
	if r.Trace != nil {
		r.Trace(pass, time.Since(began))
	}
}

// blend is k·a + (1−k)·b in code values.
func blend(ctx context.Context, a, b *frame.Frame, k float64) (*frame.Frame, error) {
	out := frame.Get(a.W, a.H, a.Planes)
	err := frame.Bands(ctx, a.H, 32, func(y0, y1 int) {
		for c := range a.Planes {
			for y := y0; y < y1; y++ {
				if c < 3 {
					vec.Mix(out.Row(c, y), a.Row(c, y), b.Row(c, y), float32(k), float32(1-k))
				} else {
					copy(out.Row(c, y), a.Row(c, y))
				}
			}
		}
	})
	return out, err
}

func keyOf(v any) string { return fmt.Sprint(v) }
