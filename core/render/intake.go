package render

import (
	"context"
	"fmt"
	"time"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/vec"
)

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
	followed := p.followed(src)
	if followed { // another picture than an exact one of this raster, by rounding
		base, key = base+"~", key+"~"
	}
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
	switch {
	case fresh && followed:
		if light, err = r.followedLight(ctx, p, src, n); err != nil {
			return nil, "", false, err
		}
		light = cut(light, part)
		put(base, light)
	case fresh:
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
