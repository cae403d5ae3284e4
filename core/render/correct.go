package render

import (
	"context"
	"fmt"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/vec"
)

// operation is either pointwise or spatial.
type Operation interface{ Key() string }

// A following operation is another one at each frame of the shot: at gives it.
type Following interface{ At(frame int) Operation }

// gradeOp corrects colours one by one, by a strength and inside a mask that goes pixel by pixel.
type gradeOp struct {
	id       string
	op       grade.Op
	strength float32
	mask     *mask
}

func (o *gradeOp) Key() string { return fmt.Sprintf("%s*%g%s", o.id, o.strength, o.mask.Key()) }
func (o *gradeOp) At(frame int) Operation {
	if m := o.mask.at(frame); m != o.mask {
		return &gradeOp{o.id, o.op, o.strength, m}
	}
	return o
}

func (o *gradeOp) Columns(_, x0, w, _ int) func(int, [3][]float32) {
	run := o.op.Rows(w)
	if o.strength == 1 && o.mask == nil {
		return func(_ int, c [3][]float32) {
			run(c[0], c[1], c[2])
			boundRows(c)
		}
	}
	var was [3][]float32
	for i := range was {
		was[i] = make([]float32, w, w+16)
	}
	if o.mask == nil {
		k := o.strength
		return func(_ int, c [3][]float32) {
			for i := range c {
				copy(was[i], c[i])
			}
			run(c[0], c[1], c[2])
			boundRows(c)
			for i := range c {
				vec.Mix(c[i], c[i], was[i], k, 1-k)
			}
		}
	}
	cover, rows := make([]float32, w, w+16), o.mask.matte.Rows(o.mask.size)
	return func(y int, c [3][]float32) {
		for i := range c {
			copy(was[i], c[i])
		}
		rows(cover, y, x0, c[0], c[1], c[2])
		run(c[0], c[1], c[2])
		boundRows(c)
		for i := range c {
			vec.MixBy(c[i], was[i], cover, o.strength)
		}
	}
}

// areaOp is a spatial operation by a strength and inside a mask, or a pointwise one inside a mask that is
// spatial.
type areaOp struct {
	id       string
	strength float32
	mask     *mask
	// light, if set, is the negative whose exposure the picture is: the mask goes by the light before it.
	light *film.Negative
	// do makes the whole effect; cover is the mask's coverage, nil without one.
	do func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error)
	// mapped tells that do has taken the mask into account.
	mapped bool
}

func (o *areaOp) Key() string   { return fmt.Sprintf("%s*%g%s", o.id, o.strength, o.mask.Key()) }
func (o *areaOp) Uniform() bool { return false }
func (o *areaOp) At(frame int) Operation {
	if m := o.mask.at(frame); m != o.mask {
		return &areaOp{o.id, o.strength, m, o.light, o.do, o.mapped}
	}
	return o
}

func (o *areaOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	cover, err := o.mask.over(ctx, src, o.light)
	if err != nil {
		return nil, err
	}
	if cover != nil {
		defer cover.Release()
	}
	out, err := o.do(ctx, src, cover)
	if err != nil || out == src {
		return out, err
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				d, was := out.Row(p, y), src.Row(p, y)
				vec.Bound(d, grade.MostLight)
				switch {
				case cover != nil && !o.mapped:
					vec.MixBy(d, was, cover.Row(0, y), o.strength)
				case o.strength != 1:
					vec.Mix(d, d, was, o.strength, 1-o.strength)
				}
			}
		}
	})
}

// NewArea is a spatial operation: id tells what it does.
func NewArea(id string, do func(ctx context.Context, src *frame.Frame) (*frame.Frame, error)) Spatial {
	return &areaOp{id: id, strength: 1, do: func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) { return do(ctx, src) }}
}
