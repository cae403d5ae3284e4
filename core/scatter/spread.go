package scatter

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// Spread is a picture and its blur before they are put together: a·base + b·blur, plane by plane,
// where blur has been halved level times from the size of base, and is doubled as often bilinearly, (3 1)/4. Its rows can be had one
// by one, so that what follows need not go through memory.
type Spread struct {
	base, blur *frame.Frame // no blur: the picture alone; its rows have their ends repeated on either side
	level      int
	lower      []*frame.Frame // base halved so many times, up to level; nil where it was not needed, as 0 always is
	rings      []ring         // light that is added at last
	a, b       [3]float32
	own        bool // the base was made for this
}

// Base is the picture that is spread; its planes after the third are to be passed on.
func (s *Spread) Base() *frame.Frame { return s.base }

// Bytes is the memory that the Spread holds on to.
func (s *Spread) Bytes() int {
	n := s.base.Bytes()
	for _, f := range append(s.lower, s.blur) {
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
	for _, f := range append(s.lower, s.blur) {
		if f != nil {
			f.Release()
		}
	}
	for _, r := range s.rings {
		r.light.Release()
	}
	s.blur, s.lower, s.rings = nil, nil, nil
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
	doubled := double(s.blur, sizes(s.base.W, s.base.H, s.level)[1:], x0, w)
	return func(y int, dst [3][]float32) {
		for p := range dst {
			vec.Double(dst[p], s.base.Part(p, y, x0, w), doubled(p, y), s.a[p], s.b[p])
		}
		for _, add := range rings {
			add(y, dst)
		}
	}
}

// doubling begins rows with those of a picture of half the size, doubled, whose ends are repeated.
func doubling(blur *frame.Frame) rowMaker {
	return func() func(p, y int, row []float32) {
		w := 2 * blur.W
		doubled, none := double(blur, sizes(blur.W, blur.H, 0), 0, w), make([]float32, w+frame.RightPad)
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

// then spreads the light of the picture once more, by terms of which none needs the full picture, without putting it together: halved
// so often that no blur, old or new, needs more, it is a·lower + b·E∘blur, where E is what doubling so often and halving again does. It is nil
// where that cannot be. The Spread that it returns takes the base over.
func (s *Spread) then(ctx context.Context, terms []Term, o shape, a, b [3]float32) (*Spread, error) {
	if s.blur == nil || len(s.rings) > 0 || needsFull(terms, o, s.base) {
		return nil, nil
	}
	level := s.level
	if l := draw(terms, o, s.base.W, s.base.H).least; l > 0 {
		level = min(level, l)
	}
	for level > 1 && (s.base.W%(1<<level) != 0 || s.base.H%(1<<level) != 0) {
		level--
	}
	if s.base.W%2 != 0 || s.base.H%2 != 0 || level >= len(s.lower) || s.lower[level] == nil {
		return nil, nil
	}
	blur, own := s.blur, false // at that level
	for l := s.level - 1; l >= level; l-- {
		next := frame.Get(s.lower[l].W, s.lower[l].H, 3)
		err := rowSum{begin: doubling(blur)}.into(ctx, next)
		if own {
			blur.Release()
		}
		if err != nil {
			return nil, err
		}
		blur, own = next, true
	}
	if own {
		defer blur.Release()
	}
	lower := s.lower[level]
	lit, err := s.lit(ctx, lower, blur, level)
	if err != nil {
		return nil, err
	}
	both := func() func(p, y int, row []float32) {
		return func(p, y int, row []float32) { vec.Mix(row, blur.Row(p, y), row, a[p]*s.b[p], b[p]) }
	}
	out, _, err := spread(ctx, s.base, lit, level, terms, o, a, b, both)
	if err != nil {
		return nil, err
	}
	for p := range 3 {
		out.a[p], out.b[p] = a[p]*s.a[p], 1
	}
	out.own = s.own
	return out, nil
}

// lit is the picture halved level times, from the base and the blur as they are there.
func (s *Spread) lit(ctx context.Context, lower, blur *frame.Frame, level int) (*frame.Frame, error) {
	if level > 1 {
		out, err := downUpOf(ctx, blur, level)
		if err != nil {
			return nil, err
		}
		add := func() func(p, y int, row []float32) {
			return func(p, y int, row []float32) { vec.Mix(row, lower.Row(p, y), row, s.a[p], s.b[p]) }
		}
		return out, rowSum{end: add}.into(ctx, out)
	}
	out := frame.Get(lower.W, lower.H, 3)
	scaled := func() func(p, y int, row []float32) {
		return func(p, y int, row []float32) { vec.Mix(row, lower.Row(p, y), lower.Row(p, y), s.a[p], 0) }
	}
	return out, rowSum{begin: scaled, blurs: by(blur, []kernel{{taps: once, weight: s.b}}, [3]float32{1, 1, 1})}.into(ctx, out)
}

// once is what halving makes of doubling, beyond the edges too.
var once = vec.NewSymmetric([]float32{10. / 16, 3. / 16})

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
