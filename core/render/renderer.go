package render

import (
	"context"
	"fmt"
	"time"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/scatter"
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
	src, whole := r.footage(p, src, n), src
	passes, err := r.bound(ctx, p, p.at(n, number), whole)
	if err != nil {
		return nil, err
	}
	large := last >= 0 && r.large(p)
	at, key, first := (*frame.Frame)(nil), "", 0
	if large { // what the last pass that needs all of it left, if it is kept
		key = p.wholeKey(src, passes[:last+1], n, number)
		at, first = r.get(key), last+1
	}
	fresh := false
	if at == nil {
		first = 0
		if at, key, fresh, err = r.head(ctx, p, src, n, have, !large); err != nil {
			return nil, err
		}
	}
	var mine *frame.Frame // what this call alone holds
	if r.kept.Limit() == 0 || large && fresh {
		mine = at
	}
	for i := first; i < len(passes); i++ {
		if large && i == last+1 && mine != nil { // the one picture that is kept of all those
			if r.Keeping != nil {
				r.Keeping(ctx, at.Bytes())
			}
			r.put(key, at)
			mine = nil
		}
		s := passes[i]
		if mine != nil && (p.region.whole() || i <= last) {
			until := len(passes)
			if large || !p.region.whole() {
				until = last + 1
			}
			if i >= until {
				until = i + 1
			}
			done, out, err := r.inPlace(ctx, passes[i:until], at, number)
			if err != nil {
				return nil, err
			}
			if done > 0 {
				if out != mine {
					mine.Release()
				}
				for _, s := range passes[i : i+done] {
					key += "|" + s.key(number)
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
			if !large || i > last {
				r.put(key, next)
			}
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

// inPlace runs a pointwise pass, or a spatial one and the pointwise one after it if there is one, over the picture
// itself where it can, and returns how many passes that were, none if the operation cannot part, and the picture that they made. What lay between
// is then not to be had, so it is for renderers that keep nothing.
func (r *Renderer) inPlace(ctx context.Context, passes []pass, f *frame.Frame, n int) (int, *frame.Frame, error) {
	began := time.Now()
	if s := passes[0]; s.area == nil && s.near == nil {
		err := fuseInto(ctx, s.points, f, f, n, 0, 0)
		r.trace(s.name(), began)
		return 1, f, err
	}
	op, ok := passes[0].area.(Parting)
	if !ok {
		return 0, nil, nil
	}
	spread, err := op.Start(ctx, f)
	if err != nil || spread == nil {
		return 0, nil, err
	}
	defer func() { spread.Release() }()
	done := 1
	for ; done < len(passes); done++ { // those that follow need not wait for its last step
		next, err := startOn(ctx, passes[done], spread)
		if err != nil {
			return 0, nil, err
		}
		if next == nil {
			break
		}
		spread.Drop()
		spread = next
		r.trace(passes[done-1].name(), began)
		began = time.Now()
	}
	if done == len(passes) || passes[done].area != nil {
		err := spread.Fill(ctx, f)
		r.trace(passes[done-1].name(), began)
		return done, f, err
	}
	r.trace(passes[done-1].name(), began)
	began = time.Now()
	next := passes[done]
	next.points = append([]Pointwise{&joinOp{spread}}, next.points...)
	out := f
	if next.near == nil {
		err = fuseInto(ctx, next.points, f, f, n, 0, 0)
	} else { // neighbours are still needed
		out, err = next.Run(ctx, f, n, Region{})
	}
	r.trace(passes[done].name(), began)
	return done + 1, out, err
}

// startOn starts a pass over light that another left before its last step; nil where that cannot be.
func startOn(ctx context.Context, p pass, under *scatter.Spread) (*scatter.Spread, error) {
	op, ok := p.area.(Parting)
	if !ok {
		return nil, nil
	}
	return op.StartOn(ctx, under)
}

// spreads runs the spatial passes that can do so one over the other without putting pictures together between them, and keeps what each leaves
// before its last step. It returns how many passes that were, none if the first cannot part, the picture that they made, and its key.
func (r *Renderer) spreads(ctx context.Context, passes []pass, at *frame.Frame, key string, n int) (int, *frame.Frame, string, error) {
	run := 0
	var names []string
	for at := key; run < len(passes); run++ {
		if _, ok := passes[run].area.(Parting); !ok {
			break
		}
		at += "|" + passes[run].key(n)
		names = append(names, at)
	}
	if run == 0 {
		return 0, nil, "", nil
	}
	if f := r.get(names[run-1]); f != nil {
		return run, f, names[run-1], nil
	}
	var spread *scatter.Spread
	kept := false // spread is, for others too
	for done, name := range names {
		v, _ := r.kept.Get("before the last step of " + name)
		next, ok := v.(*scatter.Spread)
		if !ok {
			began := time.Now()
			var err error
			if spread == nil {
				next, err = passes[done].area.(Parting).Start(ctx, at)
			} else {
				next, err = startOn(ctx, passes[done], spread)
			}
			if err == nil {
				err = ctx.Err()
			}
			if err != nil {
				return 0, nil, "", err
			}
			if next == nil { // those so far are all that can
				f, err := r.whole(ctx, key, spread)
				return done, f, key, err
			}
			r.trace(passes[done].name(), began)
			if done+1 < run { // what comes after it may change alone
				r.put("before the last step of "+name, next)
			}
		}
		spread, key, kept = next, name, ok || done+1 < run // another plan may go on from what is the last of this one
	}
	f, err := r.whole(ctx, key, spread)
	if !kept && err == nil {
		spread.Drop()
	}
	return run, f, key, err
}

// whole is the picture that a key stands for, put together if it is not kept; nil for none.
func (r *Renderer) whole(ctx context.Context, key string, s *scatter.Spread) (*frame.Frame, error) {
	if s == nil {
		return nil, nil
	}
	if f := r.get(key); f != nil {
		return f, nil
	}
	f, err := s.Frame(ctx)
	if err == nil {
		r.put(key, f)
	}
	return f, err
}

func (r *Renderer) trace(pass string, began time.Time) {
	if r.Trace != nil {
		r.Trace(pass, time.Since(began))
	}
}

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

// headKeys are the names of frame n as light at the plan's raster, and of that after the plan's first matrix.
func (p *Plan) headKeys(src Source, n int, part Region) (base, key string) {
	base = fmt.Sprintf("%s#%d@%dx%d%s:%s", src.Key(), n, p.raster.W, p.raster.H, part.Key(), p.encoding.Key())
	return base, fmt.Sprintf("%s %v", base, p.head)
}

// head brings frame n to scene-linear light at the plan's raster and sends it through the plan's
// first matrix. Where the raster is the source's own, decoding and matrix are one pass; where it is
// not, the light before the matrix is kept, so that a change of exposure need not read the source.
// It tells whether the picture was made now, and keeps it if it is to.
func (r *Renderer) head(ctx context.Context, p *Plan, src Source, n int, part Region, keep bool) (light *frame.Frame, key string, fresh bool, err error) {
	base, key := p.headKeys(src, n, part)
	if f := r.get(key); f != nil {
		return f, key, false, nil
	}
	put := func(key string, f *frame.Frame) {
		if keep {
			r.put(key, f)
		}
	}
	light = r.get(base)
	fresh = light == nil
	if fresh {
		f, err := src.Frame(ctx, n)
		if err != nil {
			return nil, "", false, err
		}
		began := time.Now()
		own := f.W == p.raster.W && f.H == p.raster.H
		given := f
		if own {
			f = cut(f, part)
		}
		m := colour.Identity
		if own {
			m = p.head
		}
		sound, ok := src.(integral)
		mine := gives(src)
		if light, err = p.intake(ctx, f, m, own, ok && sound.Integral(), mine || f != given); err != nil {
			return nil, "", false, err
		}
		if mine && light != given {
			given.Release()
		}
		if !own {
			light = cut(light, part)
		}
		r.trace("intake", began)
		if own {
			put(key, light)
			return light, key, true, nil
		}
		put(base, light)
	}
	if p.head == colour.Identity {
		return light, base, fresh, nil
	}
	f, err := fuse(ctx, []Pointwise{&matrixOp{p.head}}, light, n, 0, 0)
	if err != nil {
		return nil, "", false, err
	}
	if r.kept.Limit() == 0 || !keep && fresh {
		light.Release()
	}
	put(key, f)
	return f, key, true, nil
}

// intake decodes code values to scene-linear ACEScg, multiplies by m, and brings the picture to the
// plan's raster, in light, unless it has it as its own. Codes that are sound need not be mended. Over f itself where that may be.
func (p *Plan) intake(ctx context.Context, f *frame.Frame, head colour.Matrix, own, sound, over bool) (*frame.Frame, error) {
	m := head.Mul(p.encoding.ToACEScg().Scale(p.encoding.Anchor)).Row12()
	mend := !sound || wide(head) || wild(p.encoding)
	decode := func(to [][]float32, y int) {
		r, g, b := to[0], to[1], to[2]
		for c := range f.Planes {
			d, s := to[c], f.Row(c, y)
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
	if !own && (f.W != p.raster.W || f.H != p.raster.H) { // no picture of the source's size is made for it
		return frame.ScaleLines(ctx, f.W, f.H, f.Planes, func() func(y int) [][]float32 {
			rows := make([][]float32, f.Planes)
			for c := range rows {
				rows[c] = make([]float32, f.W, f.W+frame.RightPad)
			}
			last := -1
			return func(y int) [][]float32 {
				if y != last { // the next row of the raster may begin with it
					decode(rows, y)
					last = y
				}
				return rows
			}
		}, p.raster.W, p.raster.H)
	}
	out := f
	if !over {
		out = frame.Get(f.W, f.H, f.Planes)
	}
	return out, frame.Bands(ctx, f.H, 32, func(y0, y1 int) {
		rows := make([][]float32, f.Planes)
		for y := y0; y < y1; y++ {
			for c := range rows {
				rows[c] = out.Row(c, y)
			}
			decode(rows, y)
		}
	})
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
