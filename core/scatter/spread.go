package scatter

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// Spread is a picture and its blur before they are put together: a·base + b·blur, plane by plane,
// where blur has half the size of base and is doubled bilinearly, (3 1)/4. Its rows can be had one
// by one, so that what follows need not go through memory.
type Spread struct {
	base, blur *frame.Frame // no blur: the picture alone
	a, b       [3]float32
	ready      bool // blur's rows have their edges repeated on either side
	own        bool // the base was made for this
}

// Base is the picture that is spread; its planes after the third are to be passed on.
func (s *Spread) Base() *frame.Frame { return s.base }

// Release gives up the blur, and a base that was made for it. Any other stays its owner's.
func (s *Spread) Release() {
	if s.own {
		s.base.Release()
	}
	if s.blur != nil {
		s.blur.Release()
	}
}

// Columns returns the function that computes columns x0 to x0+w of row y; x0 must be even. The rows of
// dst follow the padding rules of package vec.
func (s *Spread) Columns(x0, w int) func(y int, dst [3][]float32) {
	if s.blur == nil {
		return func(y int, dst [3][]float32) {
			for p := range dst {
				row := s.base.Part(p, y, x0, w)
				vec.Mix(dst[p], row, row, s.a[p], 0)
			}
		}
	}
	n := w/2 + 3
	line := make([]float32, n, n+frame.RightPad)
	return func(y int, dst [3][]float32) {
		// the nearer row counts three quarters, the one beyond a quarter
		near, far := y/2, min(max(y/2-1+2*(y&1), 0), s.blur.H-1)
		from := frame.LeftPad + x0/2 - 1
		for p := range dst {
			vec.Mix(line, s.blur.Around(p, near)[from:], s.blur.Around(p, far)[from:], 0.75, 0.25)
			vec.Double(dst[p], s.base.Part(p, y, x0, w), line[:n:cap(line)], s.a[p], s.b[p])
		}
	}
}

// repeatEdges writes the first and last sample of every row of the blur into its pads, for Columns.
func (s *Spread) repeatEdges() {
	if s.blur == nil || s.ready {
		return
	}
	for p := range 3 {
		for y := range s.blur.H {
			row := s.blur.Around(p, y)
			end := frame.LeftPad + s.blur.W
			row[frame.LeftPad-1], row[end] = row[frame.LeftPad], row[end-1]
		}
	}
	s.ready = true
}

// Frame puts the picture together.
func (s *Spread) Frame(ctx context.Context) (*frame.Frame, error) {
	out := frame.Get(s.base.W, s.base.H, s.base.Planes)
	return out, s.Fill(ctx, out)
}

// Fill puts the picture together in out, which may be the base itself: half the memory is then
// touched.
func (s *Spread) Fill(ctx context.Context, out *frame.Frame) error {
	s.repeatEdges()
	src := s.base
	return frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		row := s.Columns(0, src.W)
		for y := y0; y < y1; y++ {
			row(y, [3][]float32{out.Row(0, y), out.Row(1, y), out.Row(2, y)})
			for p := 3; p < src.Planes; p++ {
				copy(out.Row(p, y), src.Row(p, y))
			}
		}
	})
}
