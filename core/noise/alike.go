package noise

import (
	"context"
	"math"
	"sync"

	"velours/core/frame"
	"velours/core/vec"
)

// What neighbours must be like to count: e is half the squared difference in units of noise, 1 where nothing differs but noise, softened widely,
// narrowly, and taken of differences that are softened first, which shows what is faint but the same over some pixels. Beyond a limit a neighbour counts
// less, by exp(−excess/slack).
const (
	widely, narrowly                   = 3.0, 1.2
	wideLimit, narrowLimit, faintLimit = 1.2, 1.9, 2.0
	wideSlack, narrowSlack, faintSlack = 0.2, 0.4, 0.7
)

// What is softened widely, and what is faint, is brought to half its size, softened there and brought back, at a quarter of the work. Both ways widen by
// halvedVariance pixels squared (half, addDouble).
const halvedVariance = 1.5

// faintly is what differences are softened by at half their size, from the middle out.
var faintly = []float32{0.75, 0.125}

const (
	alikeBand  = 64   // rows that are compared at once
	alikeTile  = 1024 // columns: what they need stays in the cache
	alikeReach = 14   // rows and columns beside a pixel that are looked at
	alikeSide  = 16   // columns beside a tile that there is room for
	near       = 4    // reach of what is softened narrowly
	wideReach  = 5    // reach of what is softened widely, at half the size
	ring       = alikeReach + near + 1
	halfRing   = 2*(wideReach+1) + 2
)

// comparing is room for comparing a tile of two frames, row by row: only rows that are still looked at are kept, in rings.
type comparing struct {
	diff       [3][4][]float32            // of the four newest rows
	e          [4][]float32               // the same
	narrow     [ring][]float32            // e, softened across
	wide       [halfRing][]float32        // e at half the size, softened across
	faint      [3][halfRing][]float32     // differences at half the size, softened across
	excess     [4][]float32               // of wide and faint ones together, of the two half rows that a row lies between
	a, b, line []float32                  // of the row that is told
	list       [2*wideReach + 1][]float32 // rows of a ring about one
}

var comparings sync.Pool

func newComparing() *comparing {
	if c, ok := comparings.Get().(*comparing); ok {
		return c
	}
	c := &comparing{}
	row := func() []float32 { return make([]float32, alikeTile+2*alikeSide+64) }
	all := [][][]float32{c.e[:], c.narrow[:], c.wide[:], c.excess[:]}
	for p := range 3 {
		all = append(all, c.diff[p][:], c.faint[p][:])
	}
	for _, rows := range all {
		for i := range rows {
			rows[i] = row()
		}
	}
	c.a, c.b, c.line = row(), row(), row()
	return c
}

// comparison is how frames are compared.
type comparison struct {
	wide, narrow, soft *vec.Symmetric
	plain, faint       [3]float32 // weights of squared differences
}

// weighing is what is done with how much neighbours count, tile by tile: begin and end are told n samples of a row from column x on, add the
// weights of one of the others there.
type weighing struct {
	begin, end func(y, x, n int)
	add        func(other *frame.Frame, y, x int, weights []float32)
}

// weighed tells how much neighbours count at each pixel, from what they differ by. All frames are mirrored.
func weighed(ctx context.Context, own *frame.Frame, others []*frame.Frame, l *[3]Lags, do *weighing) error {
	c := &comparison{}
	c.wide = vec.NewSymmetric(gaussian(math.Sqrt(widely*widely-halvedVariance) / 2))
	c.narrow, c.soft = vec.NewSymmetric(gaussian(narrowly)), vec.NewSymmetric(faintly)
	for i := range 3 {
		c.plain[i] = float32(1 / (6 * max(l[i][lags][lags], 0.02)))
		small := l[i].halved()
		c.faint[i] = float32(1 / (6 * max(small.through(faintly), 0.002)))
	}
	return frame.Bands(ctx, own.H, alikeBand, func(y0, y1 int) {
		room := newComparing()
		defer comparings.Put(room)
		for x := 0; x < own.W; x += alikeTile {
			n := min(alikeTile, own.W-x)
			for y := y0; y < y1; y++ {
				do.begin(y, x, n)
			}
			for _, other := range others {
				c.tile(room, own, other, x, n, y0, y1, func(y int, weights []float32) { do.add(other, y, x, weights) })
			}
			for y := y0; y < y1; y++ {
				do.end(y, x, n)
			}
		}
	})
}

// tile compares n columns from x0 on, an even one, from row y0 on, even as well, to row y1. A row is told when the last that it looks at has come.
func (c *comparison) tile(r *comparing, own, other *frame.Frame, x0, n, y0, y1 int, row func(y int, weights []float32)) {
	wide, h := n+2*alikeSide, own.H
	halves := y0/2 - 2 // half rows whose excess is known
	for v := y0 - alikeReach; v < y1+alikeReach; v++ {
		e := r.e[mod(v, 4)]
		clear(e[:wide+16])
		for p := range 3 {
			at := frame.LeftPad + x0 - alikeSide
			d := r.diff[p][mod(v, 4)]
			vec.Mix(d[:wide], own.Around(p, mirrored(v, h))[at:], other.Around(p, mirrored(v, h))[at:], 1, -1)
			vec.AddSquares(e, d, wide, c.plain[p])
		}
		if v >= y0-near && v < y1+near {
			vec.Taps(r.narrow[mod(v, ring)][:n], e[alikeSide-near:], c.narrow)
		}
		if v&1 == 0 && v >= y0-alikeReach+3 { // half row k lies between rows 2k and 2k+1, and is made of those above and below as well
			k := v/2 - 1
			r.halve(r.wide[mod(k, halfRing)], &r.e, v, n, c.wide)
			for p := range 3 {
				r.halve(r.faint[p][mod(k, halfRing)], &r.diff[p], v, n, c.soft)
			}
		}
		if y := v - alikeReach; y >= y0 {
			k, far := y/2, y/2-1+y%2*2
			for halves < max(k, far) {
				halves++
				c.excess(r, halves, n/2+3)
			}
			vec.Mix(r.line[:n/2+3], r.excess[mod(k, 4)], r.excess[mod(far, 4)], 0.75, 0.25)
			weights := r.b[:n]
			vec.Double(weights, r.a, r.line, 0, 1)
			vec.Columns(cleared(r.a, n), about(r.list[:0], r.narrow[:], y, near), c.narrow, 1)
			vec.AddExcess(weights, r.a, n, narrowLimit, -math.Log2E/narrowSlack)
			vec.Exp2(weights, weights)
			row(y, weights)
		}
	}
}

// halve makes half a row of the four up to row v, softened across by k: n/2 + 3 samples, from the one before the tile's first on.
func (r *comparing) halve(to []float32, rows *[4][]float32, v, n int, k *vec.Symmetric) {
	wide := n + 2*alikeSide
	weights := [4]float32{0.125, 0.375, 0.375, 0.125}
	vec.Weigh(r.line[:wide], rows[mod(v-3, 4)], rows[mod(v-2, 4)], rows[mod(v-1, 4)], rows[mod(v, 4)], &weights)
	vec.Halve(r.a[:wide/2-2], r.line[1:]) // the first is that of column x0 − alikeSide + 2
	vec.Taps(to[:n/2+3], r.a[alikeSide/2-2-k.Reach():], k)
}

// excess is how far n samples of half a row are beyond the limits of what is softened widely and of what is faint.
func (c *comparison) excess(r *comparing, k, n int) {
	to := cleared(r.excess[mod(k, 4)], n)
	vec.Columns(cleared(r.a, n), about(r.list[:0], r.wide[:], k, wideReach), c.wide, 1)
	vec.AddExcess(to, r.a, n, wideLimit, -math.Log2E/wideSlack)
	sum := cleared(r.line, n)
	for p := range 3 {
		vec.Columns(cleared(r.a, n), about(r.list[:0], r.faint[p][:], k, len(faintly)-1), c.soft, 1)
		vec.AddSquares(sum, r.a, n, c.faint[p])
	}
	vec.AddExcess(to, sum, n, faintLimit, -math.Log2E/faintSlack)
}

// cleared are the first n samples of a row, made 0, and those up to a whole vector.
func cleared(row []float32, n int) []float32 {
	clear(row[:(n+15)&^15])
	return row[:n]
}

// about lists row k of a ring and those reach before and after it, as vec.Columns takes them.
func about(list, ring [][]float32, k, reach int) [][]float32 {
	list = list[:2*reach+1]
	at := mod(k-reach, len(ring))
	for i := -reach; i <= reach; i++ {
		list[max(2*i, -2*i-1)] = ring[at]
		if at++; at == len(ring) {
			at = 0
		}
	}
	return list
}
