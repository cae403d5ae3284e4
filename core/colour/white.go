package colour

import "math"

// planckian is the chromaticity of a black body of t kelvin, 1667 to 25000 K, in CIE 1960 u, v
// (Krystek 1985, a rational fit).
func planckian(t float64) (u, v float64) {
	u = (0.860117757 + 1.54118254e-4*t + 1.28641212e-7*t*t) / (1 + 8.42420235e-4*t + 7.08145163e-7*t*t)
	v = (0.317398726 + 4.22806245e-5*t + 4.20481691e-8*t*t) / (1 - 2.89741816e-5*t + 1.61456053e-7*t*t)
	return u, v
}

func uvToXY(u, v float64) XY {
	d := 2*u - 8*v + 4
	return XY{3 * u / d, 2 * v / d}
}

// whiteKelvin is where the black-body line is nearest to the ACES white.
const whiteKelvin = 6000

// WhiteBalance is a Bradford adaptation in ACEScg: warmth in mired (positive warms the picture),
// tint across the black-body line in thousandths of Duv (positive towards magenta). Zero and zero is identity.
func WhiteBalance(mired, tint float64) Matrix {
	if mired == 0 && tint == 0 {
		return Identity
	}
	base := 1e6 / whiteKelvin
	u0, v0 := planckian(whiteKelvin)
	t := 1e6 / min(max(base+mired, 45), 580)
	u1, v1 := planckian(t)
	// the normal of the line, towards green
	ua, va := planckian(t * 1.01)
	ub, vb := planckian(t / 1.01)
	du, dv := ua-ub, va-vb
	l := math.Hypot(du, dv)
	u1 += tint * 1e-3 * dv / l * -1
	v1 += tint * 1e-3 * du / l
	from, to := uvToXY(u0, v0).XYZ(), uvToXY(u1, v1).XYZ()
	m := AP1.ToXYZ()
	return m.Inverse().Mul(Adapt(from, to)).Mul(m)
}
