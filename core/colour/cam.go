package colour

import "math"

// Appearance is how a colour looks in CAM16: lightness J (0…100), chroma C and hue angle h in degrees.
type Appearance struct{ J, C, H float64 }

// CAM16 is the appearance of XYZ (Y = 100 at white) against a white in an average surround, for an
// adapting luminance in cd/m² and a background of yb % (Li et al. 2017, appendix A). For tests and
// readings, where hue must be what eyes call hue.
func CAM16(xyz, white [3]float64, adapting, yb float64) Appearance {
	const c, nc, f = 0.69, 1.0, 1.0
	m := Matrix{0.401288, 0.650173, -0.051461, -0.250268, 1.204414, 0.045854, -0.002079, 0.048952, 0.953127}
	rw := m.Apply(white)
	d := min(max(f*(1-1/3.6*math.Exp((-adapting-42)/92)), 0), 1)
	k := 1 / (5*adapting + 1)
	fl := 0.2*math.Pow(k, 4)*5*adapting + 0.1*math.Pow(1-math.Pow(k, 4), 2)*math.Cbrt(5*adapting)
	n := yb / white[1]
	nbb := 0.725 * math.Pow(1/n, 0.2)
	z := 1.48 + math.Sqrt(n)
	response := func(v [3]float64) (a [3]float64) {
		v = m.Apply(v)
		for i := range v {
			x := v[i] * (d*white[1]/rw[i] + 1 - d)
			p := math.Pow(fl*math.Abs(x)/100, 0.42)
			a[i] = math.Copysign(400*p/(p+27.13), x) + 0.1
		}
		return a
	}
	achromatic := func(a [3]float64) float64 { return (2*a[0] + a[1] + a[2]/20 - 0.305) * nbb }
	a := response(xyz)
	ca, cb := a[0]-12*a[1]/11+a[2]/11, (a[0]+a[1]-2*a[2])/9
	h := math.Atan2(cb, ca)
	if h < 0 {
		h += 2 * math.Pi
	}
	et := (math.Cos(h+2) + 3.8) / 4
	j := 100 * math.Pow(achromatic(a)/achromatic(response(white)), c*z)
	t := 50000 / 13.0 * nc * nbb * et * math.Hypot(ca, cb) / (a[0] + a[1] + 21*a[2]/20)
	return Appearance{j, math.Pow(t, 0.9) * math.Sqrt(j/100) * math.Pow(1.64-math.Pow(0.29, n), 0.73), h * 180 / math.Pi}
}

// HueError is the angle between two hues in degrees, 0…180.
func HueError(a, b float64) float64 {
	d := math.Mod(math.Abs(a-b), 360)
	return min(d, 360-d)
}
