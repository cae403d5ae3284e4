package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// shape stretches a spread: Aspect times as long along the direction Turn (degrees, clockwise from the horizontal) as across
// it, its area kept. The zero shape is round. Surrounded is for spreads so wide that what lies beyond the frame matters: it goes
// on there as it ends.
type shape struct {
	Aspect, Turn float64
	Surrounded   bool
}

// of is what is left of a deviation to every side, and what is added along the direction: σ√b is √(σ²/b + along²).
func (s shape) of(sigma float64) (round, along float64) {
	if s.Aspect == 0 || s.Aspect == 1 {
		return sigma, 0
	}
	b := s.Aspect
	if b < 1 {
		b = 1 / b
	}
	return sigma / math.Sqrt(b), sigma * math.Sqrt(b-1/b)
}

// line draws a deviation, in samples, along the shape's longer side. Reading between samples blurs a little to every side:
// across is the variance that it adds across the line; along it, it is made up for.
func (s shape) line(sigma float64) (l *line, across float64) {
	turn := s.Turn
	if s.Aspect < 1 {
		turn += 90
	}
	l = &line{}
	l.dy, l.dx = math.Sincos(turn * math.Pi / 180)
	want := sigma * sigma
	for range 4 {
		// two triangles of half the variance each make a bell
		n, step := stagesFor(math.Sqrt(max(want, 0.01) / 2))
		l.steps = nil
		for range 2 {
			for k := range n {
				d := step * math.Exp2(float64(k))
				l.steps = append(l.steps, [3]float64{d, d, d})
			}
		}
		var x, y float64 // half of every stage is read between samples
		for _, d := range l.steps {
			x += between(l.dx*d[0]) / 2
			y += between(l.dy*d[0]) / 2
		}
		across = x*l.dy*l.dy + y*l.dx*l.dx
		want = sigma*sigma - (x*l.dx*l.dx + y*l.dy*l.dy - across)
	}
	return l, across
}

// between is the variance that reading between two samples adds.
func between(at float64) float64 {
	f := at - math.Floor(at)
	return f * (1 - f)
}

// stagesFor says how often (1 2 1)/4 is drawn, at steps that double from one of at most a sample, for a deviation: n of them,
// from step d on, have the variance d²(4ⁿ−1)/6.
func stagesFor(sigma float64) (n int, step float64) {
	n = 1
	for math.Sqrt((math.Exp2(2*float64(n))-1)/6) < sigma {
		n++
	}
	return n, sigma / math.Sqrt((math.Exp2(2*float64(n))-1)/6)
}

// line blurs along a direction alone: (1 2 1)/4 at one step after the other, each given channel by channel in samples.
type line struct {
	dx, dy float64
	steps  [][3]float64
}

// draw blurs the first three planes.
func (l *line) draw(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	at := src
	for _, s := range l.steps {
		next, err := l.stage(ctx, at, s)
		if at != src {
			at.Release()
		}
		if err != nil {
			return nil, err
		}
		at = next
	}
	return at, nil
}

// stage is one (1 2 1)/4: half of a sample, a quarter of what lies a step before and a step after it, between samples
// bilinearly.
func (l *line) stage(ctx context.Context, src *frame.Frame, step [3]float64) (*frame.Frame, error) {
	dst := frame.Get(src.W, src.H, 3)
	return dst, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		var buf []float32
		for p := range 3 {
			dx, dy := l.dx*step[p], l.dy*step[p]
			if math.Abs(dx) < 1e-9 {
				dx = 0
			}
			if math.Abs(dy) < 1e-9 {
				dy = 0
			}
			pad := int(math.Abs(dx)) + 2
			if len(buf) < src.W+2*pad+frame.RightPad {
				buf = make([]float32, src.W+2*pad+frame.RightPad)
			}
			for y := y0; y < y1; y++ {
				d := dst.Row(p, y)
				vec.Mix(d, src.Row(p, y), src.Row(p, y), 0.5, 0)
				for _, side := range [2]float64{-1, 1} {
					l.side(d, buf, src, p, float64(y)+side*dy, side*dx, pad)
				}
			}
		}
	})
}

// side adds a quarter of the row that lies at y, moved by dx, to d.
func (l *line) side(d, buf []float32, src *frame.Frame, p int, y, dx float64, pad int) {
	i, j := math.Floor(y), math.Floor(dx)
	fy, fx := float32(y-i), float32(dx-j)
	row := func(k int) []float32 { return src.Row(p, min(max(k, 0), src.H-1)) }
	w := src.W
	mid := buf[pad : pad+w : len(buf)]
	vec.Mix(mid, row(int(i)), row(int(i)+1), 1-fy, fy)
	first, last := mid[0], mid[w-1]
	for k := range pad {
		buf[k] = first
	}
	for k := pad + w; k < min(2*pad+w, len(buf)); k++ {
		buf[k] = last
	}
	at := buf[pad+int(j):]
	vec.Mix(d, d, at[:w:len(at)], 1, 0.25*(1-fx))
	if fx > 0 {
		at = buf[pad+int(j)+1:]
		vec.Mix(d, d, at[:w:len(at)], 1, 0.25*fx)
	}
}
