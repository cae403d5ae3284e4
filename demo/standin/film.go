package standin

import (
	"math"

	"velours/core/spectrum"
)

// Label is what the film of the stand-in set is called.
const Label = "Velvet of Nowhere"

// The film: how its layers hear, its curves, how they hold each other back, its dyes, and its base.
var (
	// light is what it is made for.
	light = spectrum.Daylight(5500)
	// ears rise and fall each at a softness of its own.
	ears = [3]spectrum.Curve{
		band(592, 7, 652, 11),
		band(502, 9, 578, 8),
		band(398, 8, 486, 9),
	}
	// curves are generalised logistic functions of log exposure, mid grey at 0: the most density, the steepness, where it is half way,
	// and how much later the top bends than the foot.
	curves = [3]struct{ most, steep, half, late float64 }{
		{1.95, 1.22, 0.30, 0.8},
		{2.10, 1.20, 0.24, 0.85},
		{2.30, 1.18, 0.20, 0.9},
	}
	// held is how much log exposure a layer loses for each density by which another develops more than it.
	held = [3][3]float64{{0, 0.20, 0.05}, {0.12, 0, 0.10}, {0.03, 0.16, 0}}
	// dyes are cyan, magenta and yellow: bells that fall faster on one side, and what they should not take.
	dyes = [3]spectrum.Curve{
		dye(684, 62, 40, 0.10, 0.10),
		dye(547, 38, 33, 0.20, 0.05),
		dye(449, 42, 38, 0, 0.05),
	}
	// base is orange.
	base = spectrum.Of(func(nm float64) float64 { return 0.09 + 0.62/(1+math.Exp((nm-545)/42)) })
)

func band(from, soft, to, softTo float64) spectrum.Curve {
	return spectrum.Of(func(nm float64) float64 {
		return 1 / (1 + math.Exp((from-nm)/soft)) / (1 + math.Exp((nm-to)/softTo))
	})
}

func dye(peak, below, above, blue, green float64) spectrum.Curve {
	return spectrum.Of(func(nm float64) float64 {
		w := above
		if nm < peak {
			w = below
		}
		d := math.Exp(-math.Pow(math.Abs(nm-peak)/w, 2) / 2)
		return d + blue*math.Exp(-math.Pow((nm-438)/40, 2)/2) + green*math.Exp(-math.Pow((nm-530)/45, 2)/2)
	})
}

// exposure is that of the layers by a reflectance under the film's light, a perfect white at 1.
func exposure(reflectance *spectrum.Curve) (e [3]float64) {
	for j := range e {
		all := 0.0
		for k, s := range ears[j] {
			e[j] += s * light[k] * reflectance[k]
			all += s * light[k]
		}
		e[j] /= all
	}
	return e
}

// develop is the density of the layers' dyes for their exposure.
func develop(e [3]float64) (d [3]float64) {
	var x, alone [3]float64
	for j := range e {
		x[j] = math.Log10(math.Max(e[j], 1e-6) / 0.18)
		alone[j] = curve(j, x[j])
	}
	for j := range d {
		for k := range d {
			x[j] += held[j][k] * (alone[j] - alone[k])
		}
		d[j] = curve(j, x[j])
	}
	return d
}

func curve(j int, x float64) float64 {
	c := curves[j]
	return c.most * math.Pow(1+math.Exp(-c.steep*(x-c.half)/c.late), -c.late)
}

// through is what a lamp's light is left with behind the film, wavelength by wavelength.
func through(d [3]float64) spectrum.Curve {
	var t spectrum.Curve
	for k := range t {
		t[k] = math.Pow(10, -(base[k] + d[0]*dyes[0][k] + d[1]*dyes[1][k] + d[2]*dyes[2][k]))
	}
	return t
}

// The bands of a scanner, and of a densitometer for films that are to be printed (status M): middles and deviations in nm.
var (
	scanner      = bands([3]float64{690, 550, 445}, 11)
	densitometer = bands([3]float64{640, 540, 450}, 9)
)

func bands(middles [3]float64, width float64) (out [3]spectrum.Curve) {
	for i, nm := range middles {
		out[i] = spectrum.Of(func(x float64) float64 { return math.Exp(-(x - nm) * (x - nm) / (2 * width * width)) })
	}
	return out
}

// read is the density of the film in three bands.
func read(d [3]float64, in *[3]spectrum.Curve) (out [3]float64) {
	t := through(d)
	for i, b := range in {
		passed, all := 0.0, 0.0
		for k, v := range b {
			passed += v * t[k]
			all += v
		}
		out[i] = -math.Log10(passed / all)
	}
	return out
}

// Truth is what the measurement of the set ought to find.
type Truth struct{}

// Densities are what a scanner reads of a neutral of log exposure x, mid grey at 0, base included; Printed what a densitometer does.
func (Truth) Densities(x float64) [3]float64 { return read(neutral(x), &scanner) }

// Printed is what a densitometer of status M reads of the same.
func (Truth) Printed(x float64) [3]float64 { return read(neutral(x), &densitometer) }

func neutral(x float64) [3]float64 {
	e := 0.18 * math.Pow(10, x)
	return develop([3]float64{e, e, e})
}

// Of light that falls on the film, by cycles a millimetre: half is left at halfTransfer.
const halfTransfer = 42

// Transfer is what is left of a contrast of f cycles a millimetre.
func (Truth) Transfer(f float64) float64 { return 1 / (1 + (f/halfTransfer)*(f/halfTransfer)) }

// Grain is the deviation of the three layers' densities through a round opening of 48 µm, for densities above base.
func (Truth) Grain(d [3]float64) (out [3]float64) {
	for i, share := range [3]float64{1.05, 1, 1.5} {
		out[i] = 0.0074 * share * math.Sqrt(math.Max(d[i], 0)+0.06)
	}
	return out
}

// The base has no backing: thickness in mm, and its index.
const thickness, index = 0.148, 1.51

// returned is how much of the light of a layer comes back to it from the base, as a share of what one mirror behind the film would.
var returned = [3]float64{0.22, 0.062, 0.004}

// Ring is the radius in mm from which on light is reflected totally, Halo the share of light that each layer gets back.
func (Truth) Ring() float64 { return 2 * thickness / math.Sqrt(index*index-1) }

// Halo is by how much each layer is exposed by what its own light returns, of a perfect mirror's.
func (Truth) Halo() [3]float64 { return returned }

// glow is the light that returns at a distance in mm, for one of light at a point, per mm²: light goes into the base as from a matt
// surface, is reflected at its back by Fresnel's law, and comes up again. Rays are counted ring by ring.
func glow(step float64, n int) []float64 {
	out := make([]float64, n)
	const rays = 400000
	for i := range rays {
		// equal shares of the energy of a matt surface
		sin := math.Sqrt((float64(i) + 0.5) / rays)
		cos := math.Sqrt(1 - sin*sin)
		r := 2 * thickness * sin / cos
		if k := int(r / step); k < n {
			out[k] += mirrored(sin, cos) / rays
		}
	}
	for k := range out {
		r0, r1 := float64(k)*step, float64(k+1)*step
		out[k] /= math.Pi * (r1*r1 - r0*r0)
	}
	return out
}

// mirrored is the share that the back of the base reflects into the film, by Fresnel's equations for light of no polarisation.
func mirrored(sin, cos float64) float64 {
	out := index * sin
	if out >= 1 {
		return 1
	}
	beyond := math.Sqrt(1 - out*out)
	s := (index*cos - beyond) / (index*cos + beyond)
	p := (index*beyond - cos) / (index*beyond + cos)
	return (s*s + p*p) / 2
}
