package scatter

import (
	"math"
	"math/cmplx"
	"sync"
)

// Base is the film's support as light sees it that has passed the layers.
type Base struct {
	Thickness float64    // mm
	Index     float64    // refractive index
	Density   float64    // of one pass straight through
	Behind    complex128 // index of what lies at the back: 1 for air
	Diffuse   float64    // diffuse reflectance of the backing
	Emulsion  float64    // diffuse reflectance of the layers, from below
}

// Intact is a base with its anti-halation backing: an absorbing binder of nearly the base's
// index, so nothing is totally reflected and there is no ring. Removed is bare base against air.
func Intact(thickness, index float64) Base {
	return Base{thickness, index, 0.02, complex(1.57, 0.03), 0.012, 0.35}
}

// Removed is a base whose backing has been taken off.
func Removed(thickness, index float64) Base {
	return Base{thickness, index, 0.02, 1, 0, 0.35}
}

// Undercoated is a base that has, in place of a backing, a dyed layer of a density between its layers and itself: light passes it
// twice, the longer the flatter it goes, so the ring stays and the far glow does not.
func Undercoated(thickness, index, density float64) Base {
	return Base{thickness, index, 0.02 + density, 1, 0, 0.35}
}

// reflectance is the unpolarised Fresnel reflectance of the back at angle θ inside the base.
func (b Base) reflectance(theta float64) float64 {
	n, c1 := complex(b.Index, 0), complex(math.Cos(theta), 0)
	s := complex(math.Sin(theta), 0) * n / b.Behind
	c2 := cmplx.Sqrt(1 - s*s)
	rs := (n*c1 - b.Behind*c2) / (n*c1 + b.Behind*c2)
	rp := (b.Behind*c1 - n*c2) / (b.Behind*c1 + n*c2)
	return (real(rs)*real(rs) + imag(rs)*imag(rs) + real(rp)*real(rp) + imag(rp)*imag(rp)) / 2
}

// Return is the light that one bounce brings back to the layers at distance r (mm) from where it
// entered, per unit of light and mm²: R(θ)·10^(−2D/cos θ)·cos⁴θ/(4πt²), tan θ = r/2t. The diffuse
// reflection of a backing is not in it.
func (b Base) Return(r float64) float64 {
	t := math.Atan(r / (2 * b.Thickness))
	c := math.Cos(t)
	return b.reflectance(t) * math.Pow(10, -2*b.Density/c) * c * c * c * c / (4 * math.Pi * b.Thickness * b.Thickness)
}

// Single is the share of the light in the base that one bounce returns, the diffuse part included.
func (b Base) Single() float64 {
	const n = 4000
	mirror, leg := 0.0, 0.0
	for i := range n {
		t := (float64(i) + 0.5) / n * math.Pi / 2
		w := 2 * math.Sin(t) * math.Cos(t) * math.Pi / 2 / n
		mirror += w * b.reflectance(t) * math.Pow(10, -2*b.Density/math.Cos(t))
		leg += w * math.Pow(10, -b.Density/math.Cos(t))
	}
	return mirror + b.Diffuse*leg*leg
}

// Total is the share returned by all bounces: κ/(1 − ρκ). It is integrated once for each base:
// every frame asks for it.
func (b Base) Total() float64 {
	if v, ok := totals.Load(b); ok {
		return v.(float64)
	}
	k := b.Single()
	v := k / (1 - b.Emulsion*k)
	totals.Store(b, v)
	return v
}

var totals sync.Map // Base → share

// Ring is the distance at which total reflection sets in: 2t/√(n²−1), mm.
func (b Base) Ring() float64 { return 2 * b.Thickness / math.Sqrt(b.Index*b.Index-1) }
