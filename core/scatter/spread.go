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
	base, blur *frame.Frame // no blur: the picture alone; its rows have their ends repeated on either side
	half       *frame.Frame // base at half its size, nil where it was not needed
	rings      []ring       // light that is added at last
	a, b       [3]float32
	own        bool // the base was made for this
}

// Base is the picture that is spread; its planes after the third are to be passed on.
func (s *Spread) Base() *frame.Frame { return s.base }

// Bytes is the memory that the Spread holds on to.
func (s *Spread) Bytes() int {
	n := s.base.Bytes()
	for _, f := range []*frame.Frame{s.blur, s.half} {
		if f != nil {
			n += f.Bytes()
		}
	}
	for _, r := range s.rings {
		n += r.light.Bytes()
	}
	return n
}

// Release gives up all that it holds, and a base that was made for it. Any other stays its owner's.
func (s *Spread) Release() {
	if s.own {
		s.base.Release()
	}
	s.Drop()
}

// Drop is Release but for the base, which another Spread has taken over.
func (s *Spread) Drop() {
	for _, f := range []*frame.Frame{s.blur, s.half} {
		if f != nil {
			f.Release()
		}
	}
	for _, r := range s.rings {
		r.light.Release()
	}
	s.blur, s.half, s.rings = nil, nil, nil
}

// Columns returns the function that computes columns x0 to x0+w of row y; x0 must be a multiple of 8. The rows of
// dst follow the padding rules of package vec.
func (s *Spread) Columns(x0, w int) func(y int, dst [3][]float32) {
	var rings []func(y int, dst [3][]float32)
	for _, r := range s.rings {
		rings = append(rings, r.columns(x0, w))
	}
	if s.blur == nil {
		return func(y int, dst [3][]float32) {
			for p := range dst {
				row := s.base.Part(p, y, x0, w)
				vec.Mix(dst[p], row, row, s.a[p], 0)
			}
			for _, add := range rings {
				add(y, dst)
			}
		}
	}
	doubled := double(s.blur, x0, w)
	return func(y int, dst [3][]float32) {
		for p := range dst {
			vec.Double(dst[p], s.base.Part(p, y, x0, w), doubled(p, y), s.a[p], s.b[p])
		}
		for _, add := range rings {
			add(y, dst)
		}
	}
}

// double returns the function that gives the line that columns x0 to x0+w of row y of a plane are doubled from, until its next call.
func double(blur *frame.Frame, x0, w int) func(p, y int) []float32 {
	n := w/2 + 3
	line := make([]float32, n, n+frame.RightPad)
	from := frame.LeftPad + x0/2 - 1
	return func(p, y int) []float32 {
		// the nearer row counts three quarters, the one beyond a quarter
		near, far := y/2, min(max(y/2-1+2*(y&1), 0), blur.H-1)
		vec.Mix(line, blur.Around(p, near)[from:], blur.Around(p, far)[from:], 0.75, 0.25)
		return line[:n:cap(line)]
	}
}

// doubling begins rows with those of a picture of half the size, doubled, whose ends are repeated.
func doubling(blur *frame.Frame) rowMaker {
	return func() func(p, y int, row []float32) {
		w := 2 * blur.W
		doubled, none := double(blur, 0, w), make([]float32, w+frame.RightPad)
		return func(p, y int, row []float32) { vec.Double(row, none[:len(row)], doubled(p, y), 0, 1) }
	}
}

// clearRow begins rows with nothing.
func clearRow() func(p, y int, row []float32) {
	return func(_, _ int, row []float32) { clear(row[:cap(row)]) }
}

// lines is a picture whose rows can be had one by one: what it returns gives the first three planes of row y, until its next call, and is
// for one goroutine alone.
type lines func() func(y int) [3][]float32

func linesOf(f *frame.Frame) lines {
	return func() func(y int) [3][]float32 {
		return func(y int) [3][]float32 { return [3][]float32{f.Row(0, y), f.Row(1, y), f.Row(2, y)} }
	}
}

// lines are the rows of the picture as it is put together.
func (s *Spread) lines() lines {
	return func() func(y int) [3][]float32 {
		make3 := func() (rows [3][]float32) {
			for p := range rows {
				rows[p] = make([]float32, s.base.W, s.base.W+frame.RightPad)
			}
			return rows
		}
		rows, columns := make3(), s.Columns(0, s.base.W)
		return func(y int) [3][]float32 {
			columns(y, rows)
			return rows
		}
	}
}

// then spreads the light of the picture once more, by terms of which none needs the full picture, without putting it together: half its size
// is a·half + b·K∘blur, where doubling and halving again is the kernel K = (3 10 3)/16 both ways. It is nil where that cannot be. The
// Spread that it returns takes the base over.
func (s *Spread) then(ctx context.Context, terms []Term, o shape, a, b [3]float32) (*Spread, error) {
	if s.half == nil || s.blur == nil || len(s.rings) > 0 || s.base.W%2 != 0 || s.base.H%2 != 0 || needsFull(terms, o, s.base) {
		return nil, nil
	}
	lit := frame.Get(s.half.W, s.half.H, 3)
	scaled := func() func(p, y int, row []float32) {
		return func(p, y int, row []float32) { vec.Mix(row, s.half.Row(p, y), s.half.Row(p, y), s.a[p], 0) }
	}
	once := kernel{taps: downAndUp, weight: s.b}
	if err := (rowSum{begin: scaled, blurs: by(s.blur, []kernel{once}, [3]float32{1, 1, 1})}).into(ctx, lit); err != nil {
		lit.Release()
		return nil, err
	}
	both := func() func(p, y int, row []float32) {
		return func(p, y int, row []float32) { vec.Mix(row, s.blur.Row(p, y), row, a[p]*s.b[p], b[p]) }
	}
	out, _, err := spread(ctx, s.base, lit, terms, o, a, b, both)
	if err == nil && out.blur == nil {
		out.blur = frame.New(lit.W, lit.H, 3)
		err = rowSum{end: both}.into(ctx, out.blur)
	}
	if err != nil {
		lit.Release()
		return nil, err
	}
	for p := range 3 {
		out.a[p], out.b[p] = a[p]*s.a[p], 1
	}
	out.own = s.own
	return out, nil
}

// downAndUp is what halving by (1 3 3 1)/8 makes of doubling by (3 1)/4, beyond the edges too.
var downAndUp = vec.NewSymmetric([]float32{10. / 16, 3. / 16})

// repeatEdges writes the first and last sample of every row into its pads, for double.
func repeatEdges(f *frame.Frame) {
	for p := range 3 {
		for y := range f.H {
			repeatEdge(f, p, y)
		}
	}
}

func repeatEdge(f *frame.Frame, p, y int) {
	row, end := f.Around(p, y), frame.LeftPad+f.W
	row[frame.LeftPad-1], row[end] = row[frame.LeftPad], row[end-1]
}

// Frame puts the picture together.
func (s *Spread) Frame(ctx context.Context) (*frame.Frame, error) {
	out := frame.Get(s.base.W, s.base.H, s.base.Planes)
	return out, s.Fill(ctx, out)
}

// Fill puts the picture together in out, which may be the base itself: half the memory is then
// touched.
func (s *Spread) Fill(ctx context.Context, out *frame.Frame) error {
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
