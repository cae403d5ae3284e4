package path

import (
	"context"
	"fmt"

	"velours/core/frame"
)

// developInOp develops with sharpness and grain where either is kept to a mask, which goes by the light before the
// film. Either is nil where it is off; a mask is nil for everywhere.
type developInOp struct {
	develop              *developOp
	crisp                *crisp
	grain                *grainOp
	crispMask, grainMask *mask
	number               int // of the frame that grain is of
}

func (o *developInOp) key() string {
	k := o.develop.key()
	if o.crisp != nil {
		k += ";" + o.crisp.key() + o.crispMask.key()
	}
	if o.grain != nil {
		k += fmt.Sprintf(";%s%s#%d", o.grain.key(), o.grainMask.key(), o.number)
	}
	return k
}

func (o *developInOp) uniform() bool { return false }

func (o *developInOp) at(frame int) operation {
	c, g := o.crispMask.at(frame), o.grainMask.at(frame)
	if c == o.crispMask && g == o.grainMask {
		return o
	}
	n := *o
	n.crispMask, n.grainMask = c, g
	return &n
}

// numbered is the operation for the grain of a frame.
func (o *developInOp) numbered(number int) *developInOp {
	n := *o
	n.number = number
	return &n
}

func (o *developInOp) run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	out, err := fuse(ctx, []pointwise{o.develop}, src, o.number, 0, 0)
	if err != nil {
		return nil, err
	}
	if o.crisp != nil {
		if out, err = o.inside(ctx, src, out, o.crispMask, o.drawn); err != nil {
			return nil, err
		}
	}
	if o.grain != nil {
		out, err = o.inside(ctx, src, out, o.grainMask, func(ctx context.Context, _, plain *frame.Frame) (*frame.Frame, error) {
			return fuse(ctx, []pointwise{o.grain}, plain, o.number, 0, 0)
		})
	}
	return out, err
}

// drawn is the film's density as it draws: scattered light developed, and sharpened.
func (o *developInOp) drawn(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
	spread, err := o.crisp.scatter(ctx, src, nil)
	if err != nil {
		return nil, err
	}
	soft, err := fuse(ctx, []pointwise{o.develop}, spread, o.number, 0, 0)
	spread.Release()
	if err != nil {
		return nil, err
	}
	defer soft.Release()
	return o.crisp.sharpen(ctx, soft, nil)
}

// inside takes what do makes of plain where a mask covers, and plain elsewhere; plain is given up.
func (o *developInOp) inside(ctx context.Context, src, plain *frame.Frame, m *mask, do func(ctx context.Context, src, plain *frame.Frame) (*frame.Frame, error)) (*frame.Frame, error) {
	defer plain.Release()
	out, err := do(ctx, src, plain)
	if err != nil || m == nil {
		return out, err
	}
	cover, err := m.over(ctx, src, o.develop.neg)
	if err != nil {
		out.Release()
		return nil, err
	}
	defer cover.Release()
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				mixBy(out.Row(p, y), plain.Row(p, y), cover.Row(0, y), 1)
			}
		}
	})
}
