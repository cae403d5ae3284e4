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
	widely, narrowly, faintly          = 3.0, 1.2, 1.2
	wideLimit, narrowLimit, faintLimit = 1.2, 1.9, 2.0
	wideSlack, narrowSlack, faintSlack = 0.2, 0.4, 0.7
)

// What is softened widely is brought to half its size, softened there and brought back, at a quarter of the work. Both ways widen by halvedVariance
// pixels squared (half, addDouble).
const halvedVariance = 1.5

const (
	alikeBand  = 96  // rows that are compared at once
	alikeTile  = 512 // columns: what they need stays in the cache
	alikeReach = 14  // rows and columns beside a pixel that are looked at
	alikeSide  = 16  // columns beside a tile that there is room for
	near       = 4   // reach of what is softened narrowly and faintly
	wideReach  = 5   // reach of what is softened widely, at half the size
	ring       = alikeReach + near + 1
	halfRing   = 2*(wideReach+1) + 2
)

// comparing is room for comparing a tile of two frames, row by row: only rows that are still looked at are kept, in rings.
type comparing struct {
	diff       [3][]float32               // of the newest row
	e          [4][]float32               // of the four newest rows
	faint      [3][ring][]float32         // differences, softened across
	narrow     [ring][]float32            // e, softened across
	wide       [halfRing][]float32        // e at half the size, softened across
	down       [4][]float32               // wide ones softened down, of the two half rows that a row lies between
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
	all := [][][]float32{c.diff[:], c.e[:], c.faint[0][:], c.faint[1][:], c.faint[2][:], c.narrow[:], c.wide[:], c.down[:]}
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
	c.narrow, c.soft = vec.NewSymmetric(gaussian(narrowly)), vec.NewSymmetric(gaussian(faintly))
	for i := range 3 {
		c.plain[i] = float32(1 / (6 * max(l[i][lags][lags], 0.02)))
		c.faint[i] = float32(1 / (6 * max(l[i].softened(faintly), 0.002)))
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
	halves := y0/2 - 2 // half rows that are softened down
	for v := y0 - alikeReach; v < y1+alikeReach; v++ {
		e := r.e[mod(v, 4)]
		clear(e[:wide+16])
		for p := range 3 {
			at := frame.LeftPad + x0 - alikeSide
			vec.Mix(r.diff[p][:wide], own.Around(p, mirrored(v, h))[at:], other.Around(p, mirrored(v, h))[at:], 1, -1)
			vec.AddSquares(e, r.diff[p], wide, c.plain[p])
		}
		if v >= y0-near && v < y1+near {
			at := alikeSide - near
			for p := range 3 {
				vec.Taps(r.faint[p][mod(v, ring)][:n], r.diff[p][at:], c.soft)
			}
			vec.Taps(r.narrow[mod(v, ring)][:n], e[at:], c.narrow)
		}
		if v&1 == 0 && v >= y0-alikeReach+3 { // half row k lies between rows 2k and 2k+1, and is made of those above and below as well
			k := v/2 - 1
			weights := [4]float32{0.125, 0.375, 0.375, 0.125}
			vec.Weigh(r.line[:wide], r.e[mod(v-3, 4)], r.e[mod(v-2, 4)], r.e[mod(v-1, 4)], e, &weights)
			// half sample 0 is that of x0 − alikeSide + 2
			vec.Halve(r.a[:wide/2-2], r.line[1:])
			vec.Taps(r.wide[mod(k, halfRing)][:n/2+3], r.a[alikeSide/2-2-wideReach:], c.wide)
		}
		if y := v - alikeReach; y >= y0 {
			k, far := y/2, y/2-1+y%2*2
			for halves < max(k, far) {
				halves++
				vec.Columns(cleared(r.down[mod(halves, 4)], n/2+3), about(r.list[:0], r.wide[:], halves, wideReach), c.wide, 1)
			}
			vec.Mix(r.line[:n/2+3], r.down[mod(k, 4)], r.down[mod(far, 4)], 0.75, 0.25)
			vec.Double(r.a[:n], r.a, r.line, 0, 1)
			weights := cleared(r.b, n)
			vec.AddExcess(weights, r.a, n, wideLimit, -math.Log2E/wideSlack)
			vec.Columns(cleared(r.a, n), about(r.list[:0], r.narrow[:], y, near), c.narrow, 1)
			vec.AddExcess(weights, r.a, n, narrowLimit, -math.Log2E/narrowSlack)
			clear(r.line)
			for p := range 3 {
				vec.Columns(cleared(r.a, n), about(r.list[:0], r.faint[p][:], y, near), c.soft, 1)
				vec.AddSquares(r.line, r.a, n, c.faint[p])
			}
			vec.AddExcess(weights, r.line, n, faintLimit, -math.Log2E/faintSlack)
			vec.Exp2(weights, weights)
			row(y, weights)
		}
	}
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
