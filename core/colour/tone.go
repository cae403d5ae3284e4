package colour

import "math"

// Tone is the neutral scale from scene light to display light, used where there is no film:
// a logistic in the logarithm of exposure, applied to luminance so that hue and the ratios of
// the channels stay, until the gamut fit takes bright colours to white.
type Tone struct {
	// Contrast is the slope at mid grey in log light against log light.
	Contrast float64
	// Grey is the display light of scene 0.18.
	Grey float64
	// Straight replaces the scale by a plain conversion.
	Straight bool
}

// DefaultTone shows mid grey at 13 % of peak, four stops over it at 93 %.
var DefaultTone = Tone{Contrast: 1.35, Grey: 0.13}

// At is display light for scene light y ≥ 0.
func (t Tone) At(y float64) float64 {
	if y <= 0 {
		return 0
	}
	if t.Straight {
		return y
	}
	x0 := 0.18 * math.Pow(1/t.Grey-1, 1/t.Contrast)
	return 1 / (1 + math.Pow(x0/y, t.Contrast))
}

// Render takes scene-linear ACEScg to display code values by the neutral scale and the gamut fit.
// m is the display's FromACEScg, w its Luminance.
func (t Tone) Render(c [3]float64, d *Display, m *Matrix, w *[3]float64) [3]float64 {
	v := m.Apply(c)
	y := w[0]*v[0] + w[1]*v[1] + w[2]*v[2]
	k := 0.0
	if y > 0 {
		k = t.At(y) / y
	}
	v = Fit([3]float64{v[0] * k, v[1] * k, v[2] * k}, *w)
	return [3]float64{d.Encode(v[0]), d.Encode(v[1]), d.Encode(v[2])}
}
