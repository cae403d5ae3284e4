package render

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// Near turns a pixel and its near neighbours into a pixel. Columns returns the function that makes a row of w columns from the rows about it, the
// row itself first, then those one above and one below, two above and two below, and so on to Reach; each starts Reach columns before
// the first. Beyond its edges the picture goes on as it ends. Among pointwise operations it takes part in their pass, in cache.
type Near interface {
	Key() string
	Reach() int
	Columns(w int) func(dst [3][]float32, rows [3][][]float32)
}

// ring keeps the rows that a Near operation looks at, as they come.
type ring struct {
	rows [][3][]float32
	// from is the first column of the picture that they hold, pad before it, and size how many.
	from, pad, size int
}

func newRing(reach, pad, from, size int) *ring {
	r := &ring{rows: make([][3][]float32, 2*reach+1), from: from, pad: pad, size: size}
	n := pad + (size+15)&^15 + pad + frame.RightPad
	all := make([]float32, 3*n*len(r.rows))
	for i := range r.rows {
		for p := range 3 {
			r.rows[i][p], all = all[:n:n], all[n:]
		}
	}
	return r
}

// row is where row y goes, without its pads.
func (r *ring) row(y int) (out [3][]float32) {
	for p, row := range r.rows[y%len(r.rows)] {
		out[p] = row[r.pad : r.pad+r.size : len(row)]
	}
	return out
}

// end repeats the ends of row y, where they are those of a picture w wide, so far as an operation reaches.
func (r *ring) end(y, w, reach int) {
	for _, row := range r.rows[y%len(r.rows)] {
		for k := 1; k <= reach; k++ {
			if r.from == 0 {
				row[r.pad-k] = row[r.pad]
			}
			if r.from+r.size == w {
				row[r.pad+r.size-1+k] = row[r.pad+r.size-1]
			}
		}
	}
}

// fuseNear runs the pass into dst, which is not src, as fuse does. Rows and columns beside a block are computed for each of the blocks that look
// at them: a few in a hundred.
func (s pass) fuseNear(ctx context.Context, dst, src *frame.Frame, number, left, top int) error {
	reach := s.near.Reach()
	pad := (reach + 15) &^ 15
	n := (src.W + blockColumns - 1) / blockColumns
	columns := ((src.W+n-1)/n + 15) &^ 15
	return frame.Bands(ctx, src.H, blockRows, func(y0, y1 int) {
		for x0 := 0; x0 < src.W; x0 += columns {
			w := min(columns, src.W-x0)
			from := max(x0-pad, 0)
			rows := newRing(reach, pad, from, min(x0+w+pad, src.W)-from)
			next := max(y0-reach, 0)
			first, before := starting(s.points, number, left+from, rows.size, top+next)
			_, after := starting(s.then, number, left+x0, w, top+y0)
			near := s.near.Columns(w)
			var about [3][][]float32
			for p := range about {
				about[p] = make([][]float32, 2*reach+1)
			}
			for y := y0; y < y1; y++ {
				for ; next <= min(y+reach, src.H-1); next++ {
					to := rows.row(next)
					var from3 [3][]float32
					for p := range 3 {
						from3[p] = src.Part(p, next, from, rows.size)
						if first == nil {
							copy(to[p], from3[p])
						}
					}
					if first != nil {
						first(top+next, to, from3)
					}
					for _, f := range before {
						f(top+next, to)
					}
					rows.end(next, src.W, reach)
				}
				var rgb [3][]float32
				for p := range 3 {
					rgb[p] = dst.Part(p, y, x0, w)
					for k := -reach; k <= reach; k++ {
						at := 0
						if k < 0 {
							at = -2*k - 1
						} else if k > 0 {
							at = 2 * k
						}
						row := rows.rows[min(max(y+k, 0), src.H-1)%len(rows.rows)][p]
						about[p][at] = row[pad+x0-from-reach:]
					}
				}
				near(rgb, about)
				for _, f := range after {
					f(top+y, rgb)
				}
				for p := 3; p < src.Planes; p++ {
					copy(dst.Part(p, y, x0, w), src.Part(p, y, x0, w))
				}
			}
		}
	})
}

// Filter is a Near operation that filters each channel across and down.
type Filter struct {
	ID           string
	Across, Down [3]*vec.Symmetric
}

// Key is the filter's.
func (f *Filter) Key() string { return f.ID }

// Reach is that of its widest filter.
func (f *Filter) Reach() int {
	r := 0
	for p := range 3 {
		r = max(r, f.Across[p].Reach(), f.Down[p].Reach())
	}
	return r
}

// Columns filters down, then across.
func (f *Filter) Columns(w int) func(dst [3][]float32, rows [3][][]float32) {
	reach := f.Reach()
	line := make([]float32, w+2*reach+frame.RightPad)
	return func(dst [3][]float32, rows [3][][]float32) {
		for p := range dst {
			sum := line[: w+2*reach : len(line)]
			clear(sum)
			vec.Columns(sum, rows[p][:2*f.Down[p].Reach()+1], f.Down[p], 1)
			h := f.Across[p]
			vec.Taps(dst[p], sum[reach-h.Reach():reach+w+h.Reach()], h)
		}
	}
}

// Filtered is a picture through one Near operation.
func Filtered(ctx context.Context, src *frame.Frame, op Near) (*frame.Frame, error) {
	return pass{near: op}.Run(ctx, src, 0, Region{})
}
