package grade

import (
	"math"

	"velours/core/vec"
)

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
	return labOp{Asks{Tone: byTone}, func(row *LabRow) (bool, bool) {
		k := row.moves[0][:len(row.L)]
		if byTone {
			tone.row(k, row.Tone)
		} else {
			for i := range k {
				k[i] = all
			}
		}
		vec.Saturate(row.A, row.B, row.L, k, muted, strong)
		return true, false
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
	return labOp{Asks{Tone: true}, func(row *LabRow) (moved, _ bool) {
		x, y := row.moves[0][:len(row.L)], row.moves[1][:len(row.L)]
		da.row(x, row.Tone)
		db.row(y, row.Tone)
		for i, l := range row.L {
			if l > 0 {
				moved = moved || x[i] != 0 || y[i] != 0
				row.A[i] += l * x[i]
				row.B[i] += l * y[i]
			}
		}
		return moved, false
	}}
}
