package matte

import "velours/core/curve"

// Between is a number that goes through values at frames, smoothly and never beyond its neighbours
// (curve.Monotone), and rests before the first and after the last. At a frame of its own it is exact.
func Between(frames []int, values []float64, at int) float64 {
	for i, f := range frames {
		if f == at {
			return values[i]
		}
	}
	if len(frames) == 1 || at < frames[0] {
		return values[0]
	}
	if at > frames[len(frames)-1] {
		return values[len(values)-1]
	}
	x := make([]float64, len(frames))
	for i, f := range frames {
		x[i] = float64(f)
	}
	return curve.NewMonotone(x, values).At(float64(at))
}
