package grade

// Round is a function of hue for many colours.
type Round struct{ r *round }

// NewRound tabulates a function of hue in degrees, half a degree apart.
func NewRound(f func(hue float64) float64) Round { return Round{newRound(f)} }

// Row sets dst to its values at hues in turns, 0…1.
func (r Round) Row(dst, hue []float32) { r.r.row(dst, hue) }

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

// row sets dst to the values at hues in turns, 0…1.
func (r *round) row(dst, hue []float32) {
	dst = dst[:len(hue)]
	for x, turn := range hue {
		dst[x] = r.at(turn)
	}
}

// rounds are four functions of hue side by side: where one is looked up, all are. Values are followed by what they rise by.
type rounds [roundSteps + 1][8]float32

// newRounds tabulates f of degrees.
func newRounds(f func(hue float64) [4]float64) *rounds {
	r := &rounds{}
	for i := range r {
		for k, v := range f(float64(i%roundSteps) * 360 / roundSteps) {
			r[i][k] = float32(v)
		}
	}
	for i := range roundSteps {
		for k := range 4 {
			r[i][k+4] = r[i+1][k] - r[i][k]
		}
	}
	return r
}

// rows sets the four rows of dst to the values at hues in turns, 0…1.
func (r *rounds) rows(dst *[4][]float32, hue []float32) {
	d0, d1, d2, d3 := dst[0][:len(hue)], dst[1][:len(hue)], dst[2][:len(hue)], dst[3][:len(hue)]
	for x, turn := range hue {
		u := turn * roundSteps
		i := uint(int(u))
		if i >= roundSteps {
			i, u = 0, 0
		}
		e := &r[i]
		u -= float32(i)
		d0[x], d1[x], d2[x], d3[x] = e[0]+e[4]*u, e[1]+e[5]*u, e[2]+e[6]*u, e[3]+e[7]*u
	}
}
