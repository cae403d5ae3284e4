package path

import (
	"context"
	"fmt"

	"velours/core/frame"
)

// grainInOp develops, and adds grain inside a mask that goes by the light before the film.
type grainInOp struct {
	develop *developOp
	grain   *grainOp
	mask    *mask
	number  int // of the frame that grain is of
}

func (o *grainInOp) key() string {
	return fmt.Sprintf("%s;%s%s#%d", o.develop.key(), o.grain.key(), o.mask.key(), o.number)
}
func (o *grainInOp) uniform() bool { return false }
func (o *grainInOp) at(frame int) operation {
	if m := o.mask.at(frame); m != o.mask {
		return &grainInOp{o.develop, o.grain, m, o.number}
	}
	return o
}

func (o *grainInOp) run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	cover, err := o.mask.over(ctx, src, o.develop.neg)
	if err != nil {
		return nil, err
	}
	defer cover.Release()
	smooth, err := fuse(ctx, []pointwise{o.develop}, src, o.number, 0, 0)
	if err != nil {
		return nil, err
	}
	defer smooth.Release()
	out, err := fuse(ctx, []pointwise{o.grain}, smooth, o.number, 0, 0)
	if err != nil {
		return nil, err
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				mixBy(out.Row(p, y), smooth.Row(p, y), cover.Row(0, y), 1)
			}
		}
	})
}
