package grain

import (
	"math"

	"velours/core/solve"
	"velours/core/vec"
)

// leastCloud is the deviation, in pixels, below which clouds are not seen: they take 3 % of the finest contrast of all, 1 % of half as fine a one.
const leastCloud = 0.08

// Clouds are the filters of a picture that is made of clouds, layer by layer: what is finer than they are passes through their transfer,
// exp(−2π²σ²f²), because each lies about the place that was exposed. seen is false where they are too small to tell.
func (s Setting) Clouds() (across, down [3]*vec.Symmetric, seen bool) {
	for i, cloud := range s.Cloud {
		across[i] = vec.NewSymmetric(through(cloud / s.Pitch))
		down[i] = vec.NewSymmetric(through(cloud / s.Pitch / float64(max(s.Squeeze, 1))))
		seen = seen || across[i].Reach() > 0
	}
	return across, down, seen
}

// through is half of the symmetric filter, centre first, with the transfer of clouds of a deviation in pixels.
func through(sigma float64) []float32 {
	if sigma < leastCloud {
		return []float32{1}
	}
	return following(within, func(f float64) float64 { return math.Exp(-2 * math.Pi * math.Pi * sigma * sigma * f * f) })
}

// passes is how far up in frequency, cycles a pixel, a filter follows its transfer, and within how much.
const passes, within = 0.4, 0.008

// following is half of a symmetric filter, centre first, that follows a transfer, 1 at frequency 0, within some error: as few taps as do, by least
// squares, their sum 1.
func following(within float64, transfer func(f float64) float64) []float32 {
	basis := func(k int, f float64) float64 { return 2 * (1 - math.Cos(2*math.Pi*f*float64(k+1))) }
	const steps = 80
	for r := 1; ; r++ {
		// 1 − Σ 2·h[k]·(1 − cos 2πfk) is to be the transfer
		a, b := make([][]float64, r), make([]float64, r)
		for k := range a {
			a[k] = make([]float64, r)
		}
		for i := 1; i <= steps; i++ {
			f := passes * float64(i) / steps
			for k := range r {
				for l := range r {
					a[k][l] += basis(k, f) * basis(l, f)
				}
				b[k] += basis(k, f) * (1 - transfer(f))
			}
		}
		h := solve.Linear(a, b, 0)
		worst := 0.0
		for i := 1; i <= steps; i++ {
			f := passes * float64(i) / steps
			got := 1.0
			for k := range h {
				got -= h[k] * basis(k, f)
			}
			worst = max(worst, math.Abs(got-transfer(f)))
		}
		if worst > within && r < maxTaps {
			continue
		}
		out := make([]float32, r+1)
		sum := 0.0
		for k, v := range h {
			out[k+1] = float32(v)
			sum += 2 * v
		}
		out[0] = float32(1 - sum)
		return out
	}
}
