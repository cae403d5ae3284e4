package film

import (
	"math"

	"velours/core/colour"
)

// Interlayer is what layers gain or lose in log exposure by what the others develop (Developing): in proportion to it
// (Coupling), and, where another develops more than a layer does, by more of the difference (OneSided). The first parts
// colours evenly; only the second makes them vivid and darker at once, and turns skin one way and reds the other. Both leave
// greys alone.
func (n *Negative) Interlayer(f [3]float64) [3]float64 {
	x := n.Coupling.Apply(f)
	for i := range 3 {
		for j := range 3 {
			if k := n.OneSided[3*i+j]; k != 0 && f[j] > f[i] {
				x[i] += k * Felt(f[j]-f[i])
			}
		}
	}
	return x
}

// feltOnset is the difference, in decades, at which the one-sided effect comes in, and feltMost what it is held to.
const feltOnset, feltMost = 0.12, 0.25

// Felt is how much of a difference in log exposure (at least 0) counts for the one-sided effect: little of a small one, so
// that pale colours stay pale and nothing has a corner, and never more than a quarter of a decade:
// m·tanh(u³/((u² + o²)·m)).
func Felt(u float64) float64 {
	return feltMost * math.Tanh(u*u*u/((u*u+feltOnset*feltOnset)*feltMost))
}

// ToScene takes the exposure of the layers back to ACEScg. Black and white knows no colours; where two layers hear alike,
// the colours that both take for one go to the one between them.
func (n *Negative) ToScene() colour.Matrix {
	if n.Stock.Mono {
		const k = 1.0 / 3
		return colour.Matrix{k, k, k, k, k, k, k, k, k}
	}
	m := n.Exposure
	apart := math.Abs(m.Determinant())
	if apart > alikeLayers {
		return m.Inverse()
	}
	// the least squares of a little of everything (Tikhonov): (MᵀM + ε)⁻¹Mᵀ, greys brought back to themselves
	t := m.Transpose()
	q := t.Mul(m)
	for i := range 3 {
		q[4*i] += alikeLayers - apart
	}
	q = q.Inverse().Mul(t)
	for i := range 3 {
		sum := q[3*i] + q[3*i+1] + q[3*i+2]
		for j := range 3 {
			q[3*i+j] /= sum
		}
	}
	return q
}

// alikeLayers is the determinant of an exposure below which two layers hear alike.
const alikeLayers = 0.02
