package noise

import (
	"math"
	"slices"

	"velours/core/solve"
)

// Own is the variance of a channel over its own value, between From and To: a cubic.
type Own struct {
	Law      [4]float64
	From, To float64
}

// Deviation is what the law says at a value; beyond where it was measured it stays.
func (o *Own) Deviation(value float64) float64 {
	return math.Sqrt(max(cubicAt(o.Law[:], min(max(value, o.From), o.To)), 0))
}

// own is the law of a channel over its own value, from the blocks that are believed.
func own(kept [][]sample, c int) Own {
	var all []sample
	var values []float32
	for _, in := range kept {
		for _, s := range in {
			all, values = append(all, s), append(values, float32(s.value[c]))
		}
	}
	lo, hi := float64(quantile(values, zonesFrom)), float64(quantile(values, zonesTo))
	bins := zones
	if hi-lo < 0.02 {
		bins = 1
	}
	by := make([]reading, bins)
	for _, s := range all {
		k := min(max(int((s.value[c]-lo)/max(hi-lo, 1e-9)*float64(bins)), 0), bins-1)
		by[k].at += s.value[c]
		by[k].variance += s.energy[c]
		by[k].blocks++
	}
	by = slices.DeleteFunc(by, func(r reading) bool { return r.blocks < 4 })
	for i := range by {
		n := float64(by[i].blocks)
		by[i].at, by[i].variance = by[i].at/n, by[i].variance/n
	}
	if len(by) == 0 {
		return Own{}
	}
	return Own{law(by), by[0].at, by[len(by)-1].at}
}

// reading is the variance of so many blocks about a tone.
type reading struct {
	at, variance float64
	blocks       int
}

// law draws a cubic through readings, by least squares that doubt what lies off.
func law(by []reading) (out [4]float64) {
	terms := min(4, len(by))
	doubt := make([]float64, len(by))
	for i := range doubt {
		doubt[i] = 1
	}
	var p []float64
	for range 8 {
		a, b := make([][]float64, terms), make([]float64, terms)
		for i := range a {
			a[i] = make([]float64, terms)
		}
		for k, r := range by {
			weight := doubt[k] * float64(r.blocks) / max(r.variance*r.variance, 1e-18)
			pow := [7]float64{1}
			for i := 1; i < len(pow); i++ {
				pow[i] = pow[i-1] * r.at
			}
			for i := range terms {
				for j := range terms {
					a[i][j] += weight * pow[i+j]
				}
				b[i] += weight * pow[i] * r.variance
			}
		}
		scale := 0.0
		for i := range a {
			scale = max(scale, a[i][i])
		}
		for i := range a {
			for j := range a[i] {
				a[i][j] /= scale
			}
			b[i] /= scale
		}
		p = solve.Linear(a, b, 0)
		for k, r := range by {
			off := math.Abs(cubicAt(p, r.at)/max(r.variance, 1e-18) - 1)
			doubt[k] = 1 / max(1, off/0.1)
		}
	}
	copy(out[:], p)
	return out
}

func cubicAt(p []float64, x float64) float64 {
	v := 0.0
	for i := len(p) - 1; i >= 0; i-- {
		v = v*x + p[i]
	}
	return v
}

// Deviation is what the law says of a channel at a luminance; beyond where it was measured it stays.
func (m *Measured) Deviation(channel int, luminance float64) float64 {
	return math.Sqrt(max(cubicAt(m.Law[channel][:], min(max(luminance, m.From), m.To)), 0))
}
