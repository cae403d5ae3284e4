package noise

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// sameNoise is the part of what noise differs by below which it is the same noise again.
const sameNoise = 0.25

// average is the mean of a frame and its neighbours, where they show the same, on the steady scale, and the share left of the variance of its noise.
type average struct {
	own, mean, shares *frame.Frame
	sums              *frame.Frame // of weights, and of their squares
	begun             bool         // mean and sums hold something

	quiet []*plane // of the frame, and of those that were taken
	scale int
	floor float64 // what quiet planes differ by where nothing but noise does, squared
	pace  []Shift // of a frame to the next, by which what moved further off is guessed
}

// averaged is the mean of a frame and so many before and after it, and the shares left of the variance of its noise. A neighbour counts over at most,
// 0 to 1.
func averaged(ctx context.Context, own *frame.Frame, s *steady, lags *[3]Lags, frames int, over float64, others Frames) (mean, shares *frame.Frame, err error) {
	a := &average{own: own, mean: frame.Get(own.W, own.H, 3), shares: frame.Get(own.W, own.H, 1), sums: frame.Get(own.W, own.H, 2), scale: 1}
	defer a.sums.Release()
	defer func() {
		if err != nil {
			a.mean.Release()
			a.shares.Release()
		}
	}()
	a.floor = 2 * lags[0].softened(quiet)
	if own.W > largeWidth {
		l := lags[0].halved()
		a.scale, a.floor = 2, 2*l.softened(quiet)
	}
	q, err := quietPlane(ctx, own)
	if err != nil {
		return nil, nil, err
	}
	a.quiet = []*plane{q}
	for after := 1; after <= frames; after++ {
		if err := a.pair(ctx, s, lags, after, over, others, after == frames); err != nil {
			return nil, nil, err
		}
	}
	return a.mean, a.shares, nil
}

// pair adds the frames that come so many after and before: both in one pass, so that sums are gone through once.
func (a *average) pair(ctx context.Context, s *steady, lags *[3]Lags, after int, over float64, others Frames, last bool) error {
	var laid []*frame.Frame
	defer func() {
		for _, f := range laid {
			f.Release()
		}
	}()
	for _, k := range [2]int{after, -after} {
		codes, err := others(k)
		if err != nil {
			return err
		}
		if codes == nil {
			continue
		}
		f, err := a.laid(ctx, s, codes, k)
		if err != nil {
			return err
		}
		if f != nil {
			laid = append(laid, f)
		}
	}
	if len(laid) == 0 && !last {
		return nil
	}
	begun := a.begun
	a.begun = true
	return weighed(ctx, a.own, laid, lags, &weighing{
		begin: func(y, x, n int) {
			if begun {
				return
			}
			for p := range 3 {
				copy(a.mean.Part(p, y, x, n), a.own.Part(p, y, x, n))
			}
			for p := range 2 {
				sum := a.sums.Part(p, y, x, n)
				for i := range sum {
					sum[i] = 1
				}
			}
		},
		add: func(f *frame.Frame, y, x int, weights []float32) {
			n := len(weights)
			sum, squares := a.sums.Part(0, y, x, n), a.sums.Part(1, y, x, n)
			vec.Mix(weights, weights, weights, float32(over), 0)
			vec.Mix(sum, sum, weights, 1, 1)
			vec.AddSquares(squares, weights, n, 1)
			for p := range 3 {
				vec.AddProduct(a.mean.Part(p, y, x, n), f.Part(p, y, x, n), weights, n)
			}
		},
		end: func(y, x, n int) {
			if last {
				a.divide(y, x, n)
			}
		},
	})
}

// laid is a frame of code values that comes so many after the first, laid over it; nil if it shows the same noise.
func (a *average) laid(ctx context.Context, s *steady, codes *frame.Frame, after int) (*frame.Frame, error) {
	f := frame.Get(a.own.W, a.own.H, 3)
	defer f.Release()
	if err := frame.Bands(ctx, f.H, 32, func(y0, y1 int) { s.apartFrame(codes, y0, y1, f) }); err != nil {
		return nil, err
	}
	q, err := quietPlane(ctx, f)
	if err != nil {
		return nil, err
	}
	for _, had := range a.quiet {
		if had.apart(q) < sameNoise*a.floor { // the same noise again, of a frame that is shown twice, tells nothing
			return nil, nil
		}
	}
	a.quiet = append(a.quiet, q)
	m := matched(a.quiet[0], q, f.W, f.H, a.scale, a.floor, times(a.pace, float64(after)))
	if a.pace == nil {
		a.pace = times(m.shifts[1:], 1/float64(after))
	}
	return m.laidOver(ctx, f)
}

// divide makes a mean of sums, n of row y from column x on.
func (a *average) divide(y, x, n int) {
	sum, squares, shares := a.sums.Part(0, y, x, n), a.sums.Part(1, y, x, n), a.shares.Part(0, y, x, n)
	for i, v := range sum {
		k := 1 / v
		shares[i] = squares[i] * k * k
		sum[i] = k
	}
	for p := range 3 {
		mean := a.mean.Part(p, y, x, n)
		for i := range mean {
			mean[i] *= sum[i]
		}
	}
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

// through is the variance that noise of covariances keeps through a filter across and down, its weights from the middle out.
func (l *Lags) through(h []float32) float64 {
	n := len(h) - 1
	at := func(i int) float64 { return float64(h[abs(i)]) }
	var own [2*lags + 1]float64 // how the filter goes together with itself
	for i := -n; i <= n; i++ {
		for j := -n; j <= n; j++ {
			own[lags+i-j] += at(i) * at(j)
		}
	}
	sum := 0.0
	for y, a := range own {
		for x, b := range own {
			sum += a * b * l[y][x]
		}
	}
	return sum
}
