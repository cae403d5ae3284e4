package grade

// Round is a function of hue for many colours.
type Round struct{ r *round }

// NewRound tabulates a function of hue in degrees, half a degree apart.
func NewRound(f func(hue float64) float64) Round { return Round{newRound(f)} }

// Of is its value for the hue of a, b in Oklab.
func (r Round) Of(a, b float32) float32 { return r.r.at(angle(a, b)) }

// round is a function of hue as a table, half a degree apart, closed at 360.
type round struct{ y [roundSteps + 1]float32 }

const roundSteps = 720

// newRound tabulates f of degrees.
func newRound(f func(hue float64) float64) *round {
	r := &round{}
	for i := range r.y {
		r.y[i] = float32(f(float64(i%roundSteps) * 360 / roundSteps))
	}
	return r
}

// at is the value at a hue in turns, 0…1.
func (r *round) at(turn float32) float32 {
	u := turn * roundSteps
	i := int(u)
	if i < 0 || i >= roundSteps {
		return r.y[0]
	}
	return r.y[i] + (r.y[i+1]-r.y[i])*(u-float32(i))
}
