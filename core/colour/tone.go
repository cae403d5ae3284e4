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
	// Toe changes the contrast of deep shadows by that share, RollOff that of bright tones the other
	// way: each is felt from two stops beside mid grey on and whole at the end. Both above −1, RollOff
	// below 1, so that the scale keeps rising.
	Toe, RollOff float64
	// Straight replaces the scale by a plain conversion.
	Straight bool
}

// DefaultTone shows mid grey at 13 % of white, four stops over it at 93 %.
var DefaultTone = Tone{Contrast: 1.35, Grey: 0.13}

// At is display light for scene light y ≥ 0, both 1 at white; the scale ends at head, the display's
// peak over its white. With room above white, bright tones run on into it.
func (t Tone) At(y, head float64) float64 {
	if y <= 0 {
		return 0
	}
	if t.Straight {
		return y
	}
	return head / (1 + math.Pow(t.Half(head)/(0.18*math.Exp2(t.Bend(math.Log2(y/0.18)))), t.Contrast))
}

// Bend moves u stops from mid grey by toe and roll-off: u·(1 + k·|u|/(|u| + 2)), whose slope goes from 1
// at mid grey to 1 + k.
func (t Tone) Bend(u float64) float64 {
	if u < 0 {
		return u * (1 + t.Toe*u/(u-2))
	}
	return u * (1 - t.RollOff*u/(u+2))
}

// Half is the scene light that comes out at half the peak.
func (t Tone) Half(head float64) float64 {
	return 0.18 * math.Pow(head/t.Grey-1, 1/t.Contrast)
}

// Render takes scene-linear ACEScg to display code values by the neutral scale, the surround's power
// and the gamut fit. m is the display's FromACEScg, w its Luminance.
func (t Tone) Render(c [3]float64, d *Display, surround float64, m *Matrix, w *[3]float64) [3]float64 {
	v := m.Apply(c)
	y := w[0]*v[0] + w[1]*v[1] + w[2]*v[2]
	k := 0.0
	if y > 0 {
		k = t.At(y, d.Head()) / y
	}
	return d.Show([3]float64{v[0] * k, v[1] * k, v[2] * k}, surround, w)
}

// Show is the code value of display-linear light with 1 at white: luminance is raised to the power
// of 1 + surround, colours the display lacks are fitted.
func (d *Display) Show(v [3]float64, surround float64, w *[3]float64) [3]float64 {
	k := 1 / d.Head()
	if surround != 0 {
		if y := w[0]*v[0] + w[1]*v[1] + w[2]*v[2]; y > 0 {
			k *= math.Pow(y, surround)
		}
	}
	return d.Code(Fit([3]float64{v[0] * k, v[1] * k, v[2] * k}, *w))
}
