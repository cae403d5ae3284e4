package grade

import "math"

// Saturation is chroma, by factors: All of it, and beside that of Dark tones (three stops under mid grey and
// below) and Light ones (three stops over and above), of Muted colours and of Strong ones. Lightness and hue
// stay.
type Saturation struct{ All, Dark, Light, Muted, Strong float64 }

// Op makes the operation.
func (s *Saturation) Op() Op {
	tone := newRamp(func(t float64) float64 {
		return s.All * (1 + (s.Dark-1)*smooth(-t/3)) * (1 + (s.Light-1)*smooth(t/3))
	})
	byTone := s.Dark != 1 || s.Light != 1
	all, muted, strong := float32(s.All), float32(s.Muted-1), float32(s.Strong-1)
	return labOp{func(l, a, b, t float32) (float32, float32, float32, bool) {
		if l <= 0 {
			return a, b, 0, false
		}
		k := all
		if byTone {
			k = tone.at(t)
		}
		if muted != 0 || strong != 0 {
			// a chroma of 0.1 lies between the muted and the strong
			over := smooth32((a*a + b*b) / (l * l) * 50)
			k *= (1 + muted*(1-over)) * (1 + strong*over)
		}
		return a * k, b * k, 0, k != 1
	}}
}

// Split tones dark and light parts apart: each towards a hue, in degrees, by a chroma. Balance, in stops from
// mid grey, is where they meet.
type Split struct{ DarkHue, DarkAmount, LightHue, LightAmount, Balance float64 }

// Op makes the operation. Lightness stays.
func (s *Split) Op() Op {
	part := func(f func(float64) float64) *ramp {
		return newRamp(func(t float64) float64 {
			w := smooth((t-s.Balance)/5 + 0.5)
			return (1-w)*s.DarkAmount*f(s.DarkHue*math.Pi/180) + w*s.LightAmount*f(s.LightHue*math.Pi/180)
		})
	}
	da, db := part(math.Cos), part(math.Sin)
	return labOp{func(l, a, b, t float32) (float32, float32, float32, bool) {
		if l <= 0 {
			return a, b, 0, false
		}
		x, y := da.at(t), db.at(t)
		return a + l*x, b + l*y, 0, x != 0 || y != 0
	}}
}
