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
	sameNoise                          = 0.25 // of what noise differs by: less is the same noise again
)

// average is the mean of a frame and its neighbours, where they show the same, on the steady scale, and the share left of the variance of its noise.
type average struct {
	own, mean, shares *frame.Frame
	sums              *frame.Frame // of weights, and of their squares
	lags              *[3]Lags
	over              float64 // how much a neighbour counts

	quiet []*plane // of the frame, and of those that were taken
	scale int
	floor float64 // what quiet planes differ by where nothing but noise does, squared
	pace  []Shift // of a frame to the next, by which what moved further off is guessed
}

// newAverage begins with a frame alone.
func newAverage(own *frame.Frame, lags *[3]Lags, over float64) *average {
	a := &average{own: own, mean: frame.Get(own.W, own.H, 3), shares: frame.Get(own.W, own.H, 1), sums: frame.Get(own.W, own.H, 2), lags: lags, over: over, scale: 1}
	a.floor = 2 * lags[0].softened(quiet)
	if own.W > largeWidth {
		l := lags[0].halved()
		a.scale, a.floor = 2, 2*l.softened(quiet)
	}
	for y := range own.H {
		for p := range 3 {
			copy(a.mean.Row(p, y), own.Row(p, y))
		}
		for p := range 2 {
			row := a.sums.Row(p, y)
			for x := range row {
				row[x] = 1
			}
		}
	}
	return a
}

func (a *average) release() {
	for _, f := range []*frame.Frame{a.mean, a.shares, a.sums} {
		f.Release()
	}
}

// take adds a frame of code values that comes so many after the first.
func (a *average) take(ctx context.Context, s *steady, codes *frame.Frame, after int) error {
	f := frame.Get(a.own.W, a.own.H, 3)
	defer f.Release()
	err := frame.Bands(ctx, f.H, 32, func(y0, y1 int) { s.apartFrame(codes, y0, y1, f) })
	if err != nil {
		return err
	}
	if a.quiet == nil {
		q, err := quietPlane(ctx, a.own)
		if err != nil {
			return err
		}
		a.quiet = []*plane{q}
	}
	q, err := quietPlane(ctx, f)
	if err != nil {
		return err
	}
	for _, had := range a.quiet {
		if had.apart(q) < sameNoise*a.floor { // the same noise again, of a frame that is shown twice, tells nothing
			return nil
		}
	}
	a.quiet = append(a.quiet, q)
	m := matched(a.quiet[0], q, f.W, f.H, a.scale, a.floor, times(a.pace, float64(after)))
	if a.pace == nil {
		a.pace = times(m.shifts[1:], 1/float64(after))
	}
	laid, err := m.laidOver(ctx, f)
	if err != nil {
		return err
	}
	defer laid.Release()
	return weighed(ctx, a.own, laid, a.lags, func(y int, weights []float32) {
		n, squares := a.sums.Row(0, y), a.sums.Row(1, y)
		vec.Mix(weights, weights, weights, float32(a.over), 0)
		vec.Mix(n, n, weights, 1, 1)
		vec.AddSquares(squares, weights, len(weights), 1)
		for p := range 3 {
			vec.AddProduct(a.mean.Row(p, y), laid.Row(p, y), weights, len(weights))
		}
	})
}

// divide makes a mean of sums.
func (a *average) divide(ctx context.Context) error {
	return frame.Bands(ctx, a.own.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			n, squares, s := a.sums.Row(0, y), a.sums.Row(1, y), a.shares.Row(0, y)
			for x, v := range n {
				k := 1 / v
				s[x] = squares[x] * k * k
				n[x] = k
			}
			for p := range 3 {
				d := a.mean.Row(p, y)
				for x := range d {
					d[x] *= n[x]
				}
			}
		}
	})
}

// apart is the mean squared difference of two planes.
func (p *plane) apart(q *plane) float64 {
	sum := 0.0
	for i, v := range p.v {
		d := float64(v - q.v[i])
		sum += d * d
	}
	return sum / float64(len(p.v))
}

// gaussian are the weights of a Gaussian, from its middle out.
func gaussian(sigma float64) []float32 {
	r := int(math.Ceil(3 * sigma))
	h, sum := make([]float32, r+1), 0.0
	for i := range h {
		v := math.Exp(-float64(i*i) / (2 * sigma * sigma))
		h[i] = float32(v)
		sum += v
		if i > 0 {
			sum += v
		}
	}
	for i := range h {
		h[i] /= float32(sum)
	}
	return h
}

// softened is the variance that noise of covariances keeps through a Gaussian.
func (l *Lags) softened(sigma float64) float64 {
	sum := 0.0
	for y := -lags; y <= lags; y++ {
		for x := -lags; x <= lags; x++ {
			sum += l[lags+y][lags+x] * math.Exp(-float64(x*x+y*y)/(4*sigma*sigma)) / (4 * math.Pi * sigma * sigma)
		}
	}
	return sum
}

// alikeRoom is room for comparing a band of two frames.
type alikeRoom struct {
	wide                     int
	rows                     int
	e, softly, across, other [][]float32
	diff                     [3][][]float32
	a, b                     []float32
}

var alikeRooms sync.Pool

// newAlikeRoom has room for so many rows that are so wide.
func newAlikeRoom(wide, rows int) *alikeRoom {
	if r, ok := alikeRooms.Get().(*alikeRoom); ok && r.wide == wide && r.rows >= rows {
		return r
	}
	make2 := func() [][]float32 {
		all, data := make([][]float32, rows), make([]float32, rows*wide)
		for i := range all {
			all[i] = data[i*wide : (i+1)*wide : (i+1)*wide]
		}
		return all
	}
	return &alikeRoom{wide, rows, make2(), make2(), make2(), make2(), [3][][]float32{make2(), make2(), make2()}, make([]float32, wide), make([]float32, wide)}
}

// weighed tells row by row how much a neighbour counts at each pixel: from what it differs by.
func weighed(ctx context.Context, own, other *frame.Frame, l *[3]Lags, row func(y int, weights []float32)) error {
	wide, narrow, faint := vec.NewSymmetric(gaussian(widely)), vec.NewSymmetric(gaussian(narrowly)), vec.NewSymmetric(gaussian(faintly))
	var plain, soft [3]float32 // weights of squared differences
	for c := range 3 {
		plain[c] = float32(1 / (6 * max(l[c][lags][lags], 0.02)))
		soft[c] = float32(1 / (6 * max(l[c].softened(faintly), 0.002)))
	}
	w, h := own.W, own.H
	reach := wide.Reach()
	const band = 64
	return frame.Bands(ctx, h, band, func(y0, y1 int) {
		n := y1 - y0 + 2*reach
		room := newAlikeRoom((w+64+2*reach+31)&^15, band+2*reach)
		defer alikeRooms.Put(room)
		pad := func(r []float32) { // r holds w samples from reach on
			for i := range reach {
				r[reach-1-i] = r[reach+mirrored(-1-i, w)]
				r[reach+w+i] = r[reach+mirrored(w+i, w)]
			}
		}
		for i := range n {
			y := mirrored(y0-reach+i, h)
			clear(room.e[i])
			clear(room.softly[i])
			for c := range 3 {
				d := room.diff[c][i][reach:]
				vec.Mix(d[:w], own.Row(c, y), other.Row(c, y), 1, -1)
				vec.AddSquares(room.e[i][reach:], d, w, plain[c])
				pad(room.diff[c][i])
			}
			pad(room.e[i])
		}
		var list [2*32 + 1][]float32
		softer := func(to []float32, from [][]float32, i int, k *vec.Symmetric) {
			clear(to[:(w+15)&^15])
			list[0] = from[i][:w]
			for r := 1; r <= k.Reach(); r++ {
				list[2*r-1], list[2*r] = from[max(i-r, 0)][:w], from[min(i+r, n-1)][:w]
			}
			vec.Columns(to[:w], list[:], k, 1)
		}
		for c := range 3 { // differences, softened first
			for i := range n {
				vec.Taps(room.across[i][:w], room.diff[c][i][reach-faint.Reach():], faint)
			}
			for i := reach; i < n-reach; i++ {
				softer(room.a, room.across, i, faint)
				vec.AddSquares(room.softly[i], room.a, w, soft[c])
			}
		}
		for i := range n {
			vec.Taps(room.across[i][:w], room.e[i], wide)
			vec.Taps(room.other[i][:w], room.e[i][reach-narrow.Reach():], narrow)
		}
		weights := room.diff[0][0]
		for i := reach; i < n-reach; i++ {
			softer(room.a, room.across, i, wide)
			softer(room.b, room.other, i, narrow)
			clear(weights)
			vec.AddExcess(weights, room.a, w, wideLimit, -math.Log2E/wideSlack)
			vec.AddExcess(weights, room.b, w, narrowLimit, -math.Log2E/narrowSlack)
			vec.AddExcess(weights, room.softly[i], w, faintLimit, -math.Log2E/faintSlack)
			vec.Exp2(weights[:w], weights[:w])
			row(y0+i-reach, weights[:w])
		}
	})
}
