package grade

import "math"

// Contrast turns the tone scale about a pivot. Slope 1 is none; the soft shares, 0…1, let it fade below and
// above the pivot, at 1 within two stops. Pivot is in stops from mid grey.
type Contrast struct {
	Slope, Pivot float64
	Toe          float64
	Shoulder     float64
}

// Gain is the stops it adds at t stops. Its slope never falls below the lesser of 1 and Slope.
func (c Contrast) Gain(t float64) float64 {
	d := t - c.Pivot
	soft := c.Shoulder
	if d < 0 {
		soft = c.Toe
	}
	if soft > 0 {
		r := 2 / soft
		d = r * math.Tanh(d/r)
	}
	return (c.Slope - 1) * d
}

// RollOff holds back what lies above a knee, in stops from mid grey: e stops above it become
// e/(1 + Amount·e/2), so at full amount 2 stops become 1 and 6 become 1.5.
type RollOff struct{ Knee, Amount float64 }

// Gain is the stops it adds, none below the knee.
func (o RollOff) Gain(t float64) float64 {
	e := t - o.Knee
	if e <= 0 {
		return 0
	}
	return e/(1+o.Amount*e/2) - e
}
