package render

import (
	"context"
	"fmt"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/vec"
)

// last is an operation on the codes of the finished picture.
type last struct {
	make func(r Raster, s film.Screen) Pointwise
	mask *mask
}

// Last adds an operation on the code values of the finished picture, after all corrections, inside the step's matte and where the picture is
// opaque. make may return nil for none.
func (b *Builder) Last(make func(r Raster, s film.Screen) Pointwise) {
	b.lasts = append(b.lasts, last{make, b.mask})
}

// shown adds the operations on the finished picture's codes.
func (p *Plan) shown(b *Builder) {
	for _, l := range b.lasts {
		if op := l.make(p.raster, b.Screen); op != nil {
			p.spatial(&lastOp{op, l.mask, b.Screen, 0})
		}
	}
}

// lastOp is a pointwise operation on codes, inside a mask, which goes by the light that they stand for, and as far as the picture is opaque: what is
// transparent stays to the bit.
type lastOp struct {
	op     Pointwise
	mask   *mask
	screen film.Screen
	number int
}

func (o *lastOp) Key() string {
	k := "last " + o.op.Key() + o.mask.Key()
	if _, ok := o.op.(Moving); ok {
		return fmt.Sprint(k, "#", o.number)
	}
	return k
}

func (o *lastOp) Uniform() bool { return false }

// Numbered is the operation for what moves, of a frame.
func (o *lastOp) Numbered(number int) Spatial {
	return &lastOp{o.op, o.mask, o.screen, number}
}

// At is the operation with its mask at a frame of the shot.
func (o *lastOp) At(n int) Operation {
	if m := o.mask.at(n); m != o.mask {
		return &lastOp{o.op, m, o.screen, o.number}
	}
	return o
}

func (o *lastOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	out, err := fuse(ctx, []Pointwise{o.op}, src, o.number, 0, 0)
	if err != nil || o.mask == nil && src.Planes < 4 {
		return out, err
	}
	var cover *frame.Frame
	if o.mask != nil {
		light, err := fuse(ctx, []Pointwise{&enterOp{o.screen}}, src, o.number, 0, 0)
		if err != nil {
			return nil, err
		}
		cover, err = o.mask.over(ctx, light, nil)
		light.Release()
		if err != nil {
			return nil, err
		}
		defer cover.Release()
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				if src.Planes > 3 {
					vec.MixBy(out.Row(p, y), src.Row(p, y), src.Row(3, y), 1)
				}
				if cover != nil {
					vec.MixBy(out.Row(p, y), src.Row(p, y), cover.Row(0, y), 1)
				}
			}
		}
	})
}
