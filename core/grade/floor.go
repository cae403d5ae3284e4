package grade

import "math"

// Floor lifts the deepest tones to a floor of grey light and takes their cast away. Level is the floor, light
// with 1 for white; Clean, 0…1, is how much colour tones lose that lie below Below, in stops, fading in over two
// stops above it.
type Floor struct{ Level, Clean, Below float64 }

// Op makes the operation.
func (f *Floor) Op() Op {
	return &floorOp{*f, newRamp(func(t float64) float64 { return f.Clean * (1 - smooth((t-f.Below)/2)) })}
}

type floorOp struct {
	Floor
	fade *ramp
}

// Rows implements Op. A tone y rises to √(y² + Level²): far above the floor nothing moves.
func (f *floorOp) Rows(w int) func(r, g, b []float32) {
	y, t := scratch(w), scratch(w)
	level := float32(f.Level)
	return func(r, g, b []float32) {
		y, t := y[:len(r)], t[:len(r)]
		luminance(y, r, g, b)
		if f.Clean > 0 {
			stops(t, y)
			f.fade.row(t, t)
			for i, k := range t {
				r[i] += (y[i] - r[i]) * k
				g[i] += (y[i] - g[i]) * k
				b[i] += (y[i] - b[i]) * k
			}
		}
		if level > 0 {
			for i, v := range y {
				d := float32(math.Sqrt(float64(v*v+level*level))) - v
				if v < 0 {
					d = level
				}
				r[i] += d
				g[i] += d
				b[i] += d
			}
		}
	}
}
