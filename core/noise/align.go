package noise

import (
	"context"
	"math"
	"slices"
	"sync"

	"velours/core/frame"
	"velours/core/vec"
)

// cellSize is how large the squares are that move as one, in pixels.
const cellSize = 8

// largeWidth is the width from which motion is looked for in a picture of half the size.
const largeWidth = 1024

// quietPlane is what of a frame motion is told by: what its channels share, softened, at half the size where it is large.
func quietPlane(ctx context.Context, f *frame.Frame) (*plane, error) {
	if f.W > largeWidth {
		small, err := half(ctx, f, 1)
		if err != nil {
			return nil, err
		}
		defer small.Release()
		f = small
	}
	p := newPlane(f.W, f.H)
	each(f.H, func(y int) { copy(p.row(y), f.Row(0, y)) })
	return p.smoothed(quiet), nil
}

// moves are the displacements of a frame's squares from another, each one of a few.
type moves struct {
	shifts []Shift // in pixels of the frames
	w, h   int     // in squares
	which  []uint8
}

// matched finds, for every square of a, the displacement under which b is most like it, from planes that motion is told by, scale times smaller
// than the frames of w×h. floor is that of motions.
func matched(a, b *plane, w, h, scale int, floor float64, guesses []Shift) *moves {
	m := &moves{w: (w + cellSize - 1) / cellSize, h: (h + cellSize - 1) / cellSize}
	for _, s := range motions(a, b, floor, times(guesses, 1/float64(scale))) {
		m.shifts = append(m.shifts, s.Shift)
	}
	m.which = make([]uint8, m.w*m.h)
	if len(m.shifts) == 1 {
		return m
	}
	errors := make([][]float32, len(m.shifts))
	for i, s := range m.shifts {
		// what is at x in a is at x + s in b
		at := b.moved(-s.X, -s.Y)
		errors[i] = make([]float32, m.w*m.h)
		side := cellSize / scale
		const together = 16
		each((m.h+together-1)/together, func(k int) {
			diff, squares := make([]float32, a.w+vecRoom), make([]float32, a.w+vecRoom)
			for cy := k * together; cy < min((k+1)*together, m.h); cy++ {
				clear(squares)
				for y := cy * side; y < min((cy+1)*side, a.h); y++ {
					vec.Mix(diff[:a.w], a.roomy(y), at.roomy(y), 1, -1)
					vec.AddSquares(squares, diff, a.w, 1)
				}
				for cx := range m.w {
					sum := float32(0)
					for _, v := range squares[cx*side : min((cx+1)*side, a.w)] {
						sum += v
					}
					errors[i][cy*m.w+cx] = sum
				}
			}
		})
	}
	each(m.h, func(cy int) {
		for cx := range m.w {
			least := float32(math.Inf(1))
			for i := range errors {
				sum := float32(0)
				for y := max(cy-1, 0); y <= min(cy+1, m.h-1); y++ {
					for x := max(cx-1, 0); x <= min(cx+1, m.w-1); x++ {
						sum += errors[i][y*m.w+x]
					}
				}
				if i == 0 {
					sum *= 0.95 // at rest, if it is about as good
				}
				if sum < least {
					least, m.which[cy*m.w+cx] = sum, uint8(i)
				}
			}
		}
	})
	m.shifts = times(m.shifts, float64(scale))
	return m
}

// times are displacements so many times as far.
func times(list []Shift, k float64) []Shift {
	var out []Shift
	for _, s := range list {
		out = append(out, Shift{s.X * k, s.Y * k})
	}
	return out
}

// moved is a plane moved to the right and down by parts of a pixel, by cubics.
func (p *plane) moved(dx, dy float64) *plane {
	if dx == 0 && dy == 0 {
		return p
	}
	across, out := newPlane(p.w, p.h), newPlane(p.w, p.h)
	ix, iy := int(math.Floor(-dx)), int(math.Floor(-dy))
	wx, wy := narrow(cubic(-dx-float64(ix))), narrow(cubic(-dy-float64(iy)))
	const together = 16
	bands := (p.h + together - 1) / together
	each(bands, func(k int) {
		line, room := make([]float32, p.w+4+vecRoom), make([]float32, p.w+vecRoom)
		for y := k * together; y < min((k+1)*together, p.h); y++ {
			shiftedRow(line[:p.w+3], p.row(y), ix-1)
			vec.Weigh(room[:p.w], line, line[1:], line[2:], line[3:], &wx)
			copy(across.row(y), room)
		}
	})
	each(bands, func(k int) {
		room := make([]float32, p.w+vecRoom)
		at := func(y int) []float32 { return across.roomy(min(max(y, 0), p.h-1)) }
		for y := k * together; y < min((k+1)*together, p.h); y++ {
			vec.Weigh(room[:p.w], at(y+iy-1), at(y+iy), at(y+iy+1), at(y+iy+2), &wy)
			copy(out.row(y), room)
		}
	})
	return out
}

func narrow(w [4]float64) (n [4]float32) {
	for i, v := range w {
		n[i] = float32(v)
	}
	return n
}

// shiftedRow sets to to a row from a sample on; beyond its ends it goes on as it ends.
func shiftedRow(to, row []float32, from int) {
	n, w := len(to), len(row)
	x0, x1 := min(max(-from, 0), n), min(max(w-from, 0), n)
	for k := range x0 {
		to[k] = row[0]
	}
	if x0 < x1 {
		copy(to[x0:x1], row[x0+from:])
	}
	for k := max(x1, x0); k < n; k++ {
		to[k] = row[w-1]
	}
}

// sinc are the weights of eight samples, the fourth at t before the place that is read: a sinc in a window of Lanczos, which passes nearly all
// that neighbouring samples can tell.
func sinc(t float64) (w vec.Weights) {
	sum := 0.0
	var v [8]float64
	for i := range v {
		x := float64(i-3) - t
		v[i] = 1
		if x != 0 {
			v[i] = math.Sin(math.Pi*x) / (math.Pi * x) * math.Sin(math.Pi*x/4) / (math.Pi * x / 4)
		}
		sum += v[i]
	}
	for i := range w {
		w[i] = float32(v[i] / sum)
	}
	return w
}

// laidTogether is how many rows of squares are laid at once.
const laidTogether = 8

// laying is room for laying rows of squares.
type laying struct {
	lines        [laidTogether*cellSize + 7][]float32 // rows moved across
	wide         []float32                            // one before that
	at           vec.Eight
	across, down vec.Weights
}

var layings sync.Pool

func newLaying(w int) *laying {
	if l, ok := layings.Get().(*laying); ok && len(l.wide) >= w+128 {
		return l
	}
	l := &laying{wide: make([]float32, w+128)}
	for i := range l.lines {
		l.lines[i] = make([]float32, w+64)
	}
	return l
}

// laidOver lays b, which is mirrored, over where its squares were, and mirrors it.
func (m *moves) laidOver(ctx context.Context, b *frame.Frame) (*frame.Frame, error) {
	out := frame.Get(b.W, b.H, 3)
	err := frame.Bands(ctx, m.h, laidTogether, func(c0, c1 int) {
		room := newLaying(b.W)
		defer layings.Put(room)
		for i := range m.shifts {
			for p := range 3 {
				m.lay(room, out, b, i, p, c0, c1)
			}
		}
		for p := range 3 {
			for y := c0 * cellSize; y < min(c1*cellSize, b.H); y++ {
				mirrorRow(out.Around(p, y), b.W)
			}
		}
	})
	return out, err
}

// lay lays rows c0 to c1 of the squares of a plane that moved as one of the shifts.
func (m *moves) lay(room *laying, out, b *frame.Frame, shift, plane, c0, c1 int) {
	s, w := m.shifts[shift], b.W
	ix, iy := int(math.Floor(s.X)), int(math.Floor(s.Y))
	across, down := &room.across, &room.down
	*across, *down = sinc(s.X-float64(ix)), sinc(s.Y-float64(iy))
	at := &room.at
	from := c0*cellSize - 3 // the row of the first of the lines
	done := from            // rows from here on are not yet moved across
	for cy := c0; cy < c1; cy++ {
		cells := m.which[cy*m.w : (cy+1)*m.w]
		if !slices.Contains(cells, uint8(shift)) {
			continue
		}
		y0, y1 := cy*cellSize, min((cy+1)*cellSize, b.H)
		for y := max(y0-3, done); y < y1+4; y++ {
			// sample k of wide is that at ix − 3 + k
			wide := b.Around(plane, min(max(y+iy, 0), b.H-1))
			if ix-3 >= -before && ix+4 <= after {
				wide = wide[frame.LeftPad+ix-3:]
			} else {
				shiftedRow(room.wide[:w+7], wide[frame.LeftPad:][:w], ix-3)
				wide = room.wide
			}
			if s.X == float64(ix) {
				copy(room.lines[y-from], wide[3:3+w])
				continue
			}
			at.Rows(wide, 1)
			vec.WeighEight(room.lines[y-from], at, across, w)
		}
		done = y1 + 4
		alone := !slices.ContainsFunc(cells, func(i uint8) bool { return int(i) != shift })
		for y := y0; y < y1; y++ {
			dst := out.Row(plane, y)
			sum := room.lines[y-from]
			if s.Y != float64(iy) {
				if sum = room.wide; alone {
					sum = dst
				}
				for k := range at {
					at[k] = &room.lines[y-3+k-from][0]
				}
				vec.WeighEight(sum, at, down, w)
				if alone {
					continue
				}
			}
			for cx := 0; cx < m.w; {
				end := cx + 1
				for end < m.w && cells[end] == cells[cx] {
					end++
				}
				if int(cells[cx]) == shift {
					x0, x1 := cx*cellSize, min(end*cellSize, w)
					copy(dst[x0:x1], sum[x0:x1])
				}
				cx = end
			}
		}
	}
}
