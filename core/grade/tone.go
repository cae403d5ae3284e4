package grade

import (
	"velours/core/curve"
	"velours/core/vec"
)

// ramp is a function of stops as a table; it keeps its end values beyond its range. A sixty-fourth of a
// stop is fine enough for straight pieces between.
type ramp [rampSteps + 2]float32

const (
	rampLo, rampHi, rampStep = -18.0, 18.0, 1.0 / 64

	rampSteps = (rampHi - rampLo) / rampStep
)

func newRamp(f func(t float64) float64) *ramp {
	r := &ramp{}
	for i := range r {
		r[i] = float32(f(rampLo + float64(i)*rampStep))
	}
	return r
}

// row sets dst to the values at t.
func (r *ramp) row(dst, t []float32) {
	dst = dst[:len(t)]
	for i, v := range t {
		u := (v - rampLo) * (1 / rampStep)
		// not by min and max, which mind what is no number
		if !(u > 0) {
			u = 0
		}
		if u > rampSteps {
			u = rampSteps
		}
		k := uint(int32(u))
		if k > rampSteps {
			k = 0
		}
		y := r[k]
		dst[i] = y + (r[k+1]-y)*(u-float32(int32(k)))
	}
}

// By says what a tone scale goes by.
type By int

// A tone scale goes by luminance and keeps hue and saturation; or by each channel for itself, which makes
// colours stronger where it is steep; or by the strongest channel, so that none clips before another.
const (
	ByBrightness By = iota
	ByChannels
	ByStrongest
)

// Tone multiplies light by a number of stops that depends on its brightness.
type Tone struct {
	by   By
	same bool
	gain [3]*ramp
}

// NewTone makes a tone scale: gain gives the stops that are added at t stops from mid grey.
func NewTone(by By, gain func(t float64) float64) *Tone {
	r := newRamp(gain)
	return &Tone{by, true, [3]*ramp{r, r, r}}
}

// NewTones is NewTone with a gain for each channel.
func NewTones(by By, gain [3]func(t float64) float64) *Tone {
	o := &Tone{by: by}
	for i, f := range gain {
		o.gain[i] = newRamp(f)
	}
	return o
}

// Rows implements Op.
func (o *Tone) Rows(w int) func(r, g, b []float32) {
	t, k := scratch(w), scratch(w)
	scale := func(c, t []float32, gain *ramp) {
		k := k[:len(c)]
		gain.row(k, t)
		vec.Exp2(k, k)
		vec.Product(c, c, k, 1)
	}
	return func(r, g, b []float32) {
		t, k := t[:len(r)], k[:len(r)]
		c := [3][]float32{r, g, b}
		switch o.by {
		case ByChannels:
			for i := range c {
				stops(t, c[i])
				scale(c[i], t, o.gain[i])
			}
			return
		case ByStrongest:
			for i := range k {
				k[i] = max(r[i], g[i], b[i])
			}
		default:
			luminance(k, r, g, b)
		}
		stops(t, k)
		if !o.same {
			for i := range c {
				scale(c[i], t, o.gain[i])
			}
			return
		}
		o.gain[0].row(k, t)
		vec.Exp2(k, k)
		for _, c := range c {
			vec.Product(c, c, k, 1)
		}
	}
}

// smooth rises from 0 at 0 to 1 at 1 with level ends.
func smooth(u float64) float64 {
	u = min(max(u, 0), 1)
	return u * u * (3 - 2*u)
}

// Through is the tone scale through points (stops in, stops out), monotone (curve.Monotone), going on beside
// its ends at the distance it has there. Without points it is the identity.
func Through(points [][2]float64) func(t float64) float64 {
	switch len(points) {
	case 0:
		return func(float64) float64 { return 0 }
	case 1:
		d := points[0][1] - points[0][0]
		return func(float64) float64 { return d }
	}
	x, y := make([]float64, len(points)), make([]float64, len(points))
	for i, p := range points {
		x[i], y[i] = p[0], p[1]
	}
	c := curve.NewMonotone(x, y)
	return func(t float64) float64 {
		at := min(max(t, x[0]), x[len(x)-1])
		return c.At(at) - at
	}
}
