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

// WhiteMired is that place in mired.
const WhiteMired = 1e6 / whiteKelvin

// light is the chromaticity, in CIE 1960 u, v, of a light that is mired bluer (below 0 redder) than the ACES white
// and tint thousandths of Duv greener: on the black-body line, moved to go through that white.
func light(mired, tint float64) (u, v float64) {
	t := 1e6 / min(max(WhiteMired-mired, 40), 600)
	u, v = planckian(t)
	u0, v0 := planckian(whiteKelvin)
	uw, vw := xyToUV(aces)
	// along the line towards higher temperatures; green lies to its left
	ua, va := planckian(t * 1.01)
	ub, vb := planckian(t / 1.01)
	du, dv := ua-ub, va-vb
	l := math.Hypot(du, dv)
	return u + uw - u0 + tint*1e-3*dv/l, v + vw - v0 - tint*1e-3*du/l
}

func xyToUV(c XY) (u, v float64) {
	d := -2*c.X + 12*c.Y + 3
	return 4 * c.X / d, 6 * c.Y / d
}

// WhiteBalance is a Bradford adaptation in ACEScg from another light to the ACES white: from one that is so many
// mired bluer, which warms the picture, and so many thousandths of Duv greener, which moves it towards magenta.
// What is white under that light becomes neutral, of the same luminance. Zero and zero is identity.
func WhiteBalance(mired, tint float64) Matrix {
	if mired == 0 && tint == 0 {
		return Identity
	}
	// light that hardly moves the blue cones cannot be made white: tint stops before, where they see a fiftieth
	// of the luminance. Their response times v is linear along the tint.
	spare := func(tint float64) float64 {
		u, v := light(mired, tint)
		return v * (bradford.Apply(uvToXY(u, v).XYZ())[2] - 0.02)
	}
	if s := spare(tint); s < 0 {
		tint *= spare(0) / (spare(0) - s)
	}
	m := AP1.ToXYZ()
	return m.Inverse().Mul(Adapt(uvToXY(light(mired, tint)).XYZ(), aces.XYZ())).Mul(m)
}

// Neutralise gives the balance under which a colour of ACEScg becomes neutral. Colours no light has are
// brought as near as black bodies from 1700 to 25000 K go. ok is false for what has no chromaticity.
func Neutralise(c [3]float64) (mired, tint float64, ok bool) {
	xyz := AP1.ToXYZ().Apply(c)
	sum := xyz[0] + xyz[1] + xyz[2]
	if !(sum > 0) || !(xyz[1] > 0) {
		return 0, 0, false
	}
	u, v := xyToUV(XY{xyz[0] / sum, xyz[1] / sum})
	// how far the colour lies along the line from the light of a temperature; it falls with mired
	along := func(m float64) float64 {
		a, b := light(m, 0)
		p, q := light(m, 1000)
		return (u-a)*(q-b) - (v-b)*(p-a)
	}
	lo, hi := WhiteMired-600, WhiteMired-40
	rising := along(hi) > along(lo)
	for range 60 {
		mid := (lo + hi) / 2
		if (along(mid) > 0) == rising {
			hi = mid
		} else {
			lo = mid
		}
	}
	mired = (lo + hi) / 2
	a, b := light(mired, 0)
	p, q := light(mired, 1000)
	return mired, 1000 * ((u-a)*(p-a) + (v-b)*(q-b)) / ((p-a)*(p-a) + (q-b)*(q-b)), true
}
