package render

import (
	"context"
	"fmt"
	"time"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
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

// Renderer runs plans and keeps what they pass through, within a budget of bytes, so that a change
// computes only what comes after it. It is safe for concurrent use.
type Renderer struct {
	// Trace, if set, is told how long each pass took; it must be safe for concurrent use.
	Trace func(pass string, took time.Duration)

	// Clean, if set, keeps frames that were cleaned, beyond what memory has.
	Clean Store

	kept     *cache.Cache[string, *frame.Frame]
	cleaning cleaningWork
}

// NewRenderer makes a renderer that keeps up to budget bytes; 0 keeps nothing.
func NewRenderer(budget int) *Renderer {
	return &Renderer{kept: cache.New[string, *frame.Frame](int64(budget)), cleaning: cleaningWork{Linger: cleanLinger}}
}

// Used is how many bytes of pictures it keeps.
func (r *Renderer) Used() int { return int(r.kept.Used()) }

func (r *Renderer) get(key string) *frame.Frame {
	f, _ := r.kept.Get(key)
	return f
}

func (r *Renderer) put(key string, f *frame.Frame) { r.kept.Put(key, f, int64(f.Bytes())) }

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
	at, key, err := r.head(ctx, p, r.footage(p, src, n), n, have)
	if err != nil {
		return nil, err
	}
	var mine *frame.Frame // what this call alone holds
	if r.kept.Limit() == 0 {
		mine = at
	}
	passes, err := r.bound(ctx, p, p.at(n, number), src)
	if err != nil {
		return nil, err
	}
	for i := 0; i < len(passes); i++ {
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

// inPlace runs a spatial pass, and the pointwise one after it if there is one, over the picture
// itself where it can, and returns how many passes that were, none if the operation cannot part, and the picture that they made. What lay between
// is then not to be had, so it is for renderers that keep nothing.
func (r *Renderer) inPlace(ctx context.Context, passes []pass, f *frame.Frame, n int) (int, *frame.Frame, error) {
	op, ok := passes[0].area.(Parting)
	if !ok {
		return 0, nil, nil
	}
	began := time.Now()
	spread, err := op.Start(ctx, f)
	if err != nil || spread == nil {
		return 0, nil, err
	}
	defer spread.Release()
	if len(passes) == 1 || passes[1].area != nil {
		err := spread.Fill(ctx, f)
		r.trace(passes[0].name(), began)
		return 1, f, err
	}
	r.trace(passes[0].name(), began)
	began = time.Now()
	next := passes[1]
	next.points = append([]Pointwise{&joinOp{spread}}, next.points...)
	out := f
	if next.near == nil {
		err = fuseInto(ctx, next.points, f, f, n, 0, 0)
	} else { // neighbours are still needed
		out, err = next.Run(ctx, f, n, Region{})
	}
	r.trace(passes[1].name(), began)
	return 2, out, err
}

func (r *Renderer) trace(pass string, began time.Time) {
	if r.Trace != nil {
		r.Trace(pass, time.Since(began))
	}
}

// head brings frame n to scene-linear light at the plan's raster and sends it through the plan's
// first matrix. Where the raster is the source's own, decoding and matrix are one pass; where it is
// not, the light before the matrix is kept, so that a change of exposure need not read the source.
func (r *Renderer) head(ctx context.Context, p *Plan, src Source, n int, part Region) (*frame.Frame, string, error) {
	base := fmt.Sprintf("%s#%d@%dx%d%s:%s", src.Key(), n, p.raster.W, p.raster.H, part.Key(), p.encoding.Key())
	key := fmt.Sprintf("%s %v", base, p.head)
	if f := r.get(key); f != nil {
		return f, key, nil
	}
	light := r.get(base)
	if light == nil {
		f, err := src.Frame(ctx, n)
		if err != nil {
			return nil, "", err
		}
		began := time.Now()
		own := f.W == p.raster.W && f.H == p.raster.H
		if own {
			f = cut(f, part)
		}
		m := colour.Identity
		if own {
			m = p.head
		}
		whole, ok := src.(integral)
		if light, err = p.intake(ctx, f, m, own, ok && whole.Integral()); err != nil {
			return nil, "", err
		}
		if !own {
			light = cut(light, part)
		}
		r.trace("intake", began)
		if own {
			r.put(key, light)
			return light, key, nil
		}
		r.put(base, light)
	}
	if p.head == colour.Identity {
		return light, base, nil
	}
	f, err := fuse(ctx, []Pointwise{&matrixOp{p.head}}, light, n, 0, 0)
	if err != nil {
		return nil, "", err
	}
	if r.kept.Limit() == 0 {
		light.Release()
	}
	r.put(key, f)
	return f, key, nil
}

// intake decodes code values to scene-linear ACEScg, multiplies by m, and brings the picture to the
// plan's raster, in light, unless it has it as its own. Codes that are sound need not be mended.
func (p *Plan) intake(ctx context.Context, f *frame.Frame, head colour.Matrix, own, sound bool) (*frame.Frame, error) {
	out := frame.Get(f.W, f.H, f.Planes)
	m := head.Mul(p.encoding.ToACEScg().Scale(p.encoding.Anchor)).Row12()
	mend := !sound || wide(head) || wild(p.encoding)
	if err := frame.Bands(ctx, f.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			r, g, b := out.Row(0, y), out.Row(1, y), out.Row(2, y)
			for c := range f.Planes {
				d, s := out.Row(c, y), f.Row(c, y)
				if c < 3 && sound && p.encoding.Through == nil {
					p.encoding.DecodeRow(d, s)
					continue
				}
				copy(d, s)
				if c < 3 && !sound {
					grade.SoundRow(d)
				}
			}
			if !sound || p.encoding.Through != nil {
				p.encoding.DecodeRows(r, g, b)
			}
			vec.Matrix(r, g, b, &m)
			if mend { // what a curve or the matrix has made of them
				for _, row := range [3][]float32{r, g, b} {
					grade.SoundRow(row)
				}
			}
		}
	}); err != nil {
		return nil, err
	}
	if own {
		return out, nil
	}
	scaled, err := frame.Scale(ctx, out, p.raster.W, p.raster.H)
	if scaled != out {
		out.Release()
	}
	return scaled, err
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
