package render

import (
	"context"
	"strings"

	"velours/core/frame"
	"velours/core/scatter"
)

// Pointwise turns a pixel into a pixel. Columns returns the function that is called with row after row of columns x0 to
// x0+w, from row y0 on, and works in place; number is that of the frame. Key tells operations apart: equal keys, equal results.
type Pointwise interface {
	Key() string
	Columns(number, x0, w, y0 int) func(y int, rgb [3][]float32)
}

// Moving operations differ from frame to frame of the same picture, as grain does.
type Moving interface{ Moving() }

// Numbered is a spatial operation that differs from frame to frame: Numbered is that of a frame.
type Numbered interface{ Numbered(number int) Spatial }

// Starter is a pointwise operation that can take its input from other rows, which spares a copy when it is the first of a
// pass. ColumnsFrom is Columns with those rows beside.
type Starter interface {
	ColumnsFrom(number, x0, w, y0 int) func(y int, rgb, from [3][]float32)
}

// Spatial needs the neighbourhood of a pixel. Run leaves src as it is.
type Spatial interface {
	Key() string
	// Uniform tells that it does the same linear thing to every channel, so that a matrix may
	// act before it as well as after.
	Uniform() bool
	Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error)
}

// Local is a spatial operation that looks no further than Reach pixels beside one, so that a part of a picture can be made alone: RunAt is Run of a
// part that lies at left, top of the whole.
type Local interface {
	Reach() int
	RunAt(ctx context.Context, src *frame.Frame, left, top int) (*frame.Frame, error)
}

// Parting is a spatial operation that can stop before its last step, so that the step can be taken in place or by the
// pointwise pass that follows, which spares memory. Start may return nil: then Run does it all.
type Parting interface {
	Start(ctx context.Context, src *frame.Frame) (*scatter.Spread, error)
	// StartOn is Start over what another left before its last step, and takes its base over; nil where that cannot be.
	StartOn(ctx context.Context, src *scatter.Spread) (*scatter.Spread, error)
}

// The size of a work item: few enough columns that a row of everything stays in the first-level
// cache, enough rows that starting one costs little.
const (
	blockRows    = 96
	blockColumns = 1280
)

// fuse runs neighbouring pointwise operations in one pass over blocks of a picture that lies at left, top
// of a whole.
func fuse(ctx context.Context, ops []Pointwise, src *frame.Frame, number, left, top int) (*frame.Frame, error) {
	dst := frame.Get(src.W, src.H, src.Planes)
	return dst, fuseInto(ctx, ops, dst, src, number, left, top)
}

// fuseInto is fuse into a picture that may be src itself.
func fuseInto(ctx context.Context, ops []Pointwise, dst, src *frame.Frame, number, left, top int) error {
	// blocks of equal width, in whole vectors: a narrow one costs nearly as many calls as a wide one
	n := (src.W + blockColumns - 1) / blockColumns
	columns := ((src.W+n-1)/n + 15) &^ 15
	return frame.Bands(ctx, src.H, blockRows, func(y0, y1 int) {
		for x0 := 0; x0 < src.W; x0 += columns {
			w := min(columns, src.W-x0)
			first, run := starting(ops, number, left+x0, w, top+y0)
			var rgb, from [3][]float32
			for y := y0; y < y1; y++ {
				// worked on in place: a kernel overruns into columns to the right, which the
				// next block, or the pad, has still to fill
				for p := range src.Planes {
					d, s := dst.Part(p, y, x0, w), src.Part(p, y, x0, w)
					if p < 3 {
						rgb[p], from[p] = d, s
					}
					if dst != src && (p > 2 || first == nil) {
						copy(d, s)
					}
				}
				if first != nil {
					first(top+y, rgb, from)
				}
				for _, f := range run {
					f(top+y, rgb)
				}
			}
		}
	})
}

// starting are the functions of operations on a block; the first is apart where it can take its input from other rows.
func starting(ops []Pointwise, number, x0, w, y0 int) (first func(int, [3][]float32, [3][]float32), run []func(int, [3][]float32)) {
	if len(ops) > 0 {
		if s, ok := ops[0].(Starter); ok {
			first, ops = s.ColumnsFrom(number, x0, w, y0), ops[1:]
		}
	}
	for _, op := range ops {
		run = append(run, op.Columns(number, x0, w, y0))
	}
	return first, run
}

func keys(ops []Pointwise) string {
	var b strings.Builder
	for _, op := range ops {
		b.WriteString(op.Key())
		b.WriteByte(';')
	}
	return b.String()
}
