package scatter

import (
	"context"
	"fmt"
	"math"

	"velours/core/cache"
	"velours/core/frame"
	"velours/core/vec"
)

// disc draws a picture through a disc of light, as a lens does that is out of focus. It works in tiles, which stay in a core's own
// cache from the first row to the last, and a tile that nobody wants costs nothing.
type disc struct {
	w, h   int
	src    *frame.Frame // the mean of every block of the picture; the picture itself where a block is one sample
	block  int
	kernel *separable
	own    bool // src is the disc's to release
}

// discSamples is the largest radius of a disc in samples of the grid on which it is drawn, discRank the most separable terms that
// stand for one, and discError how much of it, in the mean square, may be missing before there are as many.
const discSamples, discRank, discError = 8, 8, 0.03

// newDisc makes a picture ready for a disc of a radius in pixels; rim, −1 to 1, makes it brighter or darker towards its edge. like,
// if any, is another disc for the same picture, whose grid serves this one too where it fits.
func newDisc(ctx context.Context, src *frame.Frame, radius, rim float64, like *disc) (*disc, error) {
	d := &disc{w: src.W, h: src.H, block: max(1, int(math.Ceil(radius/discSamples)))}
	d.kernel = discKernel(radius/float64(d.block), rim)
	if like != nil && like.block == d.block {
		d.src, d.own = like.src, like.own
		return d, nil
	}
	var err error
	d.src, err = shrink(ctx, src, d.block)
	d.own = d.src != src
	return d, err
}

func (d *disc) release() {
	if d.own {
		d.src.Release()
	}
}

// blurredByDisc is all of a picture, through a disc of a radius in pixels.
func blurredByDisc(ctx context.Context, src *frame.Frame, radius, rim float64) (*frame.Frame, error) {
	d, err := newDisc(ctx, src, radius, rim, nil)
	if err != nil {
		return nil, err
	}
	defer d.release()
	out := frame.Get(src.W, src.H, 3)
	return out, d.each(ctx, func(_, _, _, _ int) bool { return true }, func(p, x, y int, row []float32) {
		copy(out.Row(p, y)[x:], row)
	})
}

// tileWide and tileHigh are about how many pixels a tile has.
const tileWide, tileHigh = 256, 64

// each computes the tiles that are wanted and hands on their rows: row is plane p from column x of row y on, and may be changed.
// use is called from many goroutines, never for one place from two.
func (d *disc) each(ctx context.Context, wanted func(x0, y0, x1, y1 int) bool, use func(p, x, y int, row []float32)) error {
	f, r := d.block, d.kernel.taps[0].Reach()
	wide, high := max(tileWide/f, 1), max(tileHigh/f, 1) // in blocks
	blocks := vec.NewBlocks(f)
	return frame.Bands(ctx, d.h, high*f, func(y0, y1 int) {
		low := newTile(wide+2, (y1-y0+f-1)/f+2, r)
		between, grown := low.row(), make([]float32, wide*f, wide*f+frame.RightPad)
		for x0 := 0; x0 < d.w; x0 += wide * f {
			x1 := min(x0+wide*f, d.w)
			if !wanted(x0, y0, x1, y1) {
				continue
			}
			for p := range 3 {
				// a block more on every side, to read between them
				low.draw(d.src, p, x0/f-1, y0/f-1, d.kernel)
				for y := y0; y < y1; y++ {
					if f == 1 {
						use(p, x0, y, low.out(y - y0 + 1)[1:1+x1-x0])
						continue
					}
					i, t := (y-y0)/f, blocks.Share((y-y0)%f)
					if (y-y0)%f >= f/2 {
						i++
					}
					vec.Mix(between, low.out(i), low.out(i+1), 1-t, t)
					row := grown[:x1-x0]
					clear(row)
					blocks.Grow(row, between)
					use(p, x0, y, row)
				}
			}
		}
	})
}

// tile is room for a part of a picture while a separable kernel is drawn on it.
type tile struct {
	w, h, reach  int
	line         []float32
	across, sums [][]float32
}

func newTile(w, h, reach int) *tile {
	t := &tile{w: w, h: h, reach: reach, line: make([]float32, w+2*reach, w+2*reach+frame.RightPad)}
	for range h + 2*reach {
		t.across = append(t.across, t.row())
	}
	for range h {
		t.sums = append(t.sums, t.row())
	}
	return t
}

func (t *tile) row() []float32 { return make([]float32, t.w, t.w+frame.RightPad) }

// out is what was drawn of row y of the tile.
func (t *tile) out(y int) []float32 { return t.sums[y] }

// draw draws what a kernel makes of a plane, from column x0 and row y0 on; beyond its edges the picture goes on as it ends. What a
// sum of few terms rings below nothing is taken out.
func (t *tile) draw(src *frame.Frame, p, x0, y0 int, k *separable) {
	r := t.reach
	for _, s := range t.sums {
		clear(s)
	}
	rows := make([][]float32, 2*r+1)
	for n, taps := range k.taps {
		for i, dst := range t.across {
			vec.Taps(dst, t.piece(src.Row(p, min(max(y0+i-r, 0), src.H-1)), x0-r), taps)
		}
		for y, s := range t.sums {
			rows[0] = t.across[y+r]
			for i := 1; i <= r; i++ {
				rows[2*i-1], rows[2*i] = t.across[y+r-i], t.across[y+r+i]
			}
			vec.Columns(s, rows, taps, k.weights[n])
		}
	}
	for _, s := range t.sums {
		for x, v := range s {
			s[x] = max(v, 0)
		}
	}
}

// piece is a row from column x on, as long as the tile and a kernel's reach on both sides.
func (t *tile) piece(row []float32, x int) []float32 {
	n := len(t.line)
	if x >= 0 && x+n <= len(row) {
		return row[x : x+n]
	}
	for i := range t.line {
		t.line[i] = row[min(max(x+i, 0), len(row)-1)]
	}
	return t.line
}

var discKernels = cache.Results[*separable]{Size: 64}

// discKernel is a disc of a radius in samples, in as few separable terms as draw it well.
func discKernel(radius, rim float64) *separable {
	k, _ := discKernels.Get(fmt.Sprintf("%.4f %.3f", radius, rim), func() (*separable, error) {
		r := int(math.Ceil(radius + 0.5))
		n := 2*r + 1
		grid := make([]float64, n*n)
		total := 0.0
		const sub = 8
		for i := range n {
			for j := range n {
				v := 0.0
				for a := range sub {
					for b := range sub {
						x, y := float64(i-r)+(float64(a)+0.5)/sub-0.5, float64(j-r)+(float64(b)+0.5)/sub-0.5
						if d := math.Hypot(x, y) / max(radius, 0.3); d <= 1 {
							v += 1 + rim*(2*d*d-1)
						}
					}
				}
				grid[i*n+j] = v
				total += v
			}
		}
		for i := range grid {
			grid[i] /= total
		}
		out := separate(grid, r, discRank, discError)
		return &out, nil
	})
	return k
}
