package noise

import (
	"context"
	"math"

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

// averaged is the mean of a frame and its neighbours, where they show the same, on the steady scale, and the share left of the variance of its
// noise. Neighbours count over by so much.
func averaged(ctx context.Context, own *frame.Frame, neighbours []*frame.Frame, lags *[3]Lags, over float64) (mean, shares *frame.Frame, err error) {
	w, h := own.W, own.H
	mean, shares = frame.Get(w, h, 3), frame.Get(w, h, 1)
	sums := frame.Get(w, h, 2) // of weights, and of their squares
	defer sums.Release()
	if err := frame.Bands(ctx, h, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				copy(mean.Row(p, y), own.Row(p, y))
			}
			for p := range 2 {
				row := sums.Row(p, y)
				for x := range row {
					row[x] = 1
				}
			}
		}
	}); err != nil {
		return nil, nil, err
	}
	scale := 1
	if w > largeWidth {
		scale = 2
	}
	quietOwn, err := quietPlane(ctx, own)
	if err != nil {
		return nil, nil, err
	}
	for _, f := range neighbours {
		q, err := quietPlane(ctx, f)
		if err != nil {
			return nil, nil, err
		}
		over1, err := matched(quietOwn, q, w, h, scale).laidOver(ctx, f)
		if err != nil {
			return nil, nil, err
		}
		err = weighed(ctx, own, over1, lags, func(y int, weights []float32) {
			a, b := sums.Row(0, y), sums.Row(1, y)
			for x, v := range weights {
				v *= float32(over)
				weights[x] = v
				a[x] += v
				b[x] += v * v
			}
			for p := range 3 {
				d := mean.Row(p, y)
				for x, v := range over1.Row(p, y) {
					d[x] += weights[x] * v
				}
			}
		})
		over1.Release()
		if err != nil {
			return nil, nil, err
		}
	}
	err = frame.Bands(ctx, h, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			a, b, s := sums.Row(0, y), sums.Row(1, y), shares.Row(0, y)
			for x, v := range a {
				k := 1 / v
				s[x] = b[x] * k * k
				a[x] = k
			}
			for p := range 3 {
				d := mean.Row(p, y)
				for x := range d {
					d[x] *= a[x]
				}
			}
		}
	})
	return mean, shares, err
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
	return frame.Bands(ctx, h, 64, func(y0, y1 int) {
		n := y1 - y0 + 2*reach
		line := func() []float32 { return make([]float32, w+64+2*reach+16) }
		rows := func() [][]float32 {
			all := make([][]float32, n)
			for i := range all {
				all[i] = line()
			}
			return all
		}
		e, softly, across := rows(), rows(), rows()
		diff := [3][][]float32{rows(), rows(), rows()}
		pad := func(r []float32) { // r holds w samples from reach on
			for i := range reach {
				r[reach-1-i] = r[reach+mirrored(-1-i, w)]
				r[reach+w+i] = r[reach+mirrored(w+i, w)]
			}
		}
		for i := range n {
			y := mirrored(y0-reach+i, h)
			sum := e[i][reach:][:w]
			for c := range 3 {
				a, b, d := own.Row(c, y), other.Row(c, y), diff[c][i][reach:][:w]
				k := plain[c]
				for x := range d {
					v := a[x] - b[x]
					d[x] = v
					sum[x] += k * v * v
				}
				pad(diff[c][i])
			}
			pad(e[i])
		}
		near := func(all [][]float32, i, r int) [][]float32 {
			list := [][]float32{all[i][:w]}
			for k := 1; k <= r; k++ {
				list = append(list, all[max(i-k, 0)][:w], all[min(i+k, n-1)][:w])
			}
			return list
		}
		softer := func(to []float32, from [][]float32, i int, k *vec.Symmetric) {
			clear(to)
			vec.Columns(to[:w], near(from, i, k.Reach()), k, 1)
		}
		// differences, softened first
		for c := range 3 {
			for i := range n {
				vec.Taps(across[i][:w], diff[c][i][reach-faint.Reach():], faint)
			}
			for i := range n {
				to := diff[c][i]
				softer(to, across, i, faint)
				k := soft[c]
				for x, v := range to[:w] {
					softly[i][x] += k * v * v
				}
			}
		}
		a, b := line(), line()
		wideRows, narrowRows := across, diff[0]
		for i := range n {
			vec.Taps(wideRows[i][:w], e[i], wide)
			vec.Taps(narrowRows[i][:w], e[i][reach-narrow.Reach():], narrow)
		}
		for i := reach; i < n-reach; i++ {
			softer(a, wideRows, i, wide)
			softer(b, narrowRows, i, narrow)
			f := softly[i]
			for x := range w {
				t := max(a[x]-wideLimit, 0)*(math.Log2E/wideSlack) + max(b[x]-narrowLimit, 0)*(math.Log2E/narrowSlack) + max(f[x]-faintLimit, 0)*(math.Log2E/faintSlack)
				a[x] = -min(t, 100)
			}
			vec.Exp2(a[:w], a[:w])
			row(y0+i-reach, a[:w])
		}
	})
}
