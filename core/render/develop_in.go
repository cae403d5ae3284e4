package render

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/vec"
)

// developInOp develops with what surrounds development and what comes to density, where any of it is kept to a mask,
// which goes by the light before the film; a mask is nil for everywhere.
type developInOp struct {
	develop *developOp
	exposed *Exposed
	details []Detail
	density []maskedOp
	number  int // of the frame that moving operations are of
}

// maskedOp is an operation on density, and where it acts.
type maskedOp struct {
	op   Operation // Pointwise, Near or Numbered
	mask *mask
}

func (o *developInOp) Key() string {
	k := o.develop.Key()
	for _, d := range o.details {
		k += ";" + d.Key(o.exposed) + d.mask.Key()
	}
	for _, d := range o.density {
		k += fmt.Sprintf(";%s%s#%d", d.op.Key(), d.mask.Key(), o.number)
	}
	return k
}

func (o *developInOp) Uniform() bool { return false }

func (o *developInOp) At(frame int) Operation {
	n := *o
	n.details, n.density = nil, nil
	same := true
	for _, d := range o.details {
		m := d.mask.at(frame)
		same = same && m == d.mask
		d.mask = m
		n.details = append(n.details, d)
	}
	for _, d := range o.density {
		m := d.mask.at(frame)
		same = same && m == d.mask
		n.density = append(n.density, maskedOp{d.op, m})
	}
	if same {
		return o
	}
	return &n
}

// Numbered is the operation for what moves, of a frame.
func (o *developInOp) Numbered(number int) Spatial {
	n := *o
	n.number = number
	return &n
}

func (o *developInOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	out, err := fuse(ctx, []Pointwise{o.develop}, src, o.number, 0, 0)
	for _, d := range o.details {
		if err != nil {
			return nil, err
		}
		out, err = o.inside(ctx, src, out, d.mask, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) { return o.drawn(ctx, d, src) })
	}
	for _, d := range o.density {
		if err != nil {
			return nil, err
		}
		out, err = o.inside(ctx, src, out, d.mask, func(ctx context.Context, _, plain *frame.Frame) (*frame.Frame, error) {
			switch op := d.op.(type) {
			case Near:
				return Filtered(ctx, plain, op)
			case Numbered:
				return op.Numbered(o.number).Run(ctx, plain)
			}
			return fuse(ctx, []Pointwise{d.op.(Pointwise)}, plain, o.number, 0, 0)
		})
	}
	return out, err
}

// drawn is the film's density as it draws: what comes before development, development, what comes after.
func (o *developInOp) drawn(ctx context.Context, d Detail, src *frame.Frame) (*frame.Frame, error) {
	spread, err := d.Before(ctx, o.exposed, src)
	if err != nil {
		return nil, err
	}
	soft, err := fuse(ctx, []Pointwise{o.develop}, spread, o.number, 0, 0)
	spread.Release()
	if err != nil {
		return nil, err
	}
	defer soft.Release()
	return d.After(ctx, o.exposed, soft)
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
				vec.MixBy(out.Row(p, y), plain.Row(p, y), cover.Row(0, y), 1)
			}
		}
	})
}
