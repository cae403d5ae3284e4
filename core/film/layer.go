package film

import (
	"errors"
	"math"

	"velours/core/curve"
)

// softplus is ln(1 + e^{ku})/k.
func softplus(u, k float64) float64 {
	if k*u > 30 {
		return u
	}
	return math.Log1p(math.Exp(k*u)) / k
}

func sigmoid(x float64) float64 { return 1 / (1 + math.Exp(-x)) }

// Stated is the curve that the figures of a layer state, as a negative's: density above base for log exposure x,
// two softplus functions for toe and shoulder.
func (l *Layer) Stated(x float64) float64 {
	return l.Top() - softplus(l.DMax-l.Gamma*softplus(x-l.Speed, l.Toe), l.Shoulder)
}

// Top is where the stated curve ends, a little above DMax.
func (l *Layer) Top() float64 { return softplus(l.DMax, l.Shoulder) }

// apart is how far two measured points must be in stated density to tell anything.
const apart = 0.004

// refined is what takes stated densities to measured ones, nil where nothing was measured. It is drawn over
// density, so that push, contrast and the trims go through it as they go through a stated curve.
func (l *Layer) refined() (*curve.Monotone, error) {
	if len(l.Measured) == 0 {
		return nil, nil
	}
	x, y := []float64{0}, []float64{0}
	last := [2]float64{math.Inf(-1), math.Inf(-1)}
	for _, p := range l.Measured {
		if p[0] <= last[0] || p[1] < last[1] {
			return nil, errors.New("the points of measured rise in log exposure, and do not fall in density")
		}
		last = p
		d := l.Stated(p[0])
		if d > x[len(x)-1]+apart && p[1] > y[len(y)-1]+1e-6 {
			x, y = append(x, d), append(y, p[1])
		}
	}
	if len(x) < 3 {
		return nil, errors.New("the points of measured lie beside the curve that the figures state")
	}
	// beyond the last point density goes on as stated
	const far = 8
	n := len(x) - 1
	x, y = append(x, x[n]+far), append(y, y[n]+far)
	return curve.NewMonotone(x, y), nil
}
