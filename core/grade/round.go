package grade

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
	i := min(max(int(u), 0), roundSteps-1)
	return r.y[i] + (r.y[i+1]-r.y[i])*(u-float32(i))
}
