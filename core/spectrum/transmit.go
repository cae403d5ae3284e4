package spectrum

import "math"

// The whole part of a density, in 64ths, is looked up; the rest is a short series.
const (
	perUnit = 64
	densest = 8
)

var wholes = func() (t [densest*perUnit + 1]float64) {
	for i := range t {
		t[i] = math.Pow(10, -float64(i)/perUnit)
	}
	return t
}()

// Transmit is 10^−d, relative error below 1e-9: what film of density d lets through. Spectra are
// integrated by the hundred thousand, and the exponential is all of the work.
func Transmit(d float64) float64 {
	u := d * perUnit
	if !(u >= 0 && u < densest*perUnit) {
		return math.Pow(10, -d)
	}
	i := int(u)
	x := (float64(i) - u) * (math.Ln10 / perUnit)
	return wholes[i] * (1 + x*(1+x*(1.0/2+x*(1.0/6+x*(1.0/24)))))
}
