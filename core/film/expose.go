package film

import (
	"math/rand/v2"

	"velours/core/colour"
	"velours/core/spectrum"
)

// reflectances are smooth random spectra, the same on every run: one to three soft bumps over
// a floor, or a soft edge, and a tenth of greys.
var reflectances = func() []spectrum.Curve {
	r := rand.New(rand.NewPCG(1927, 35))
	out := make([]spectrum.Curve, 2000)
	for i := range out {
		floor := 0.02 + 0.3*r.Float64()*r.Float64()
		switch {
		case i%10 == 0:
			k := 0.03 + 0.9*r.Float64()
			out[i] = spectrum.Of(func(float64) float64 { return k })
		case i%3 == 0:
			at, w, hi := 430+250*r.Float64(), 15+50*r.Float64(), 0.2+0.7*r.Float64()
			if r.IntN(4) == 0 {
				w = -w
			}
			out[i] = spectrum.Of(func(nm float64) float64 { return floor + (hi-floor)*sigmoid((nm-at)/w) })
		default:
			var l []Lobe
			for range 1 + r.IntN(3) {
				l = append(l, Lobe{400 + 320*r.Float64(), 25 + 55*r.Float64(), 0.1 + 0.6*r.Float64()})
			}
			c := lobes(l)
			for k := range c {
				c[k] = min(0.97, c[k]+floor)
			}
			out[i] = c
		}
	}
	return out
}()

// fitExposure finds the matrix from ACEScg to the exposure of the three layers: least squares
// weighted by 1/E over the reflectances under the stock's light, rows then scaled so that a
// neutral exposes all layers equally.
func fitExposure(s *Stock) colour.Matrix {
	light := s.Balance.Light()
	toRGB := sceneColour(&light)
	sens, full := s.hearing(&light)
	var m colour.Matrix
	for j := range 3 {
		var a colour.Matrix
		var b [3]float64
		for i := range reflectances {
			p := &reflectances[i]
			lit := p.Mul(&light)
			c := toRGB.Apply(lit.XYZ())
			e := p.Dot(&sens[j]) / full[j]
			w := 1 / (e * e)
			for u := range 3 {
				for v := range 3 {
					a[3*u+v] += w * c[u] * c[v]
				}
				b[u] += w * c[u] * e
			}
		}
		row := a.Inverse().Apply(b)
		sum := row[0] + row[1] + row[2]
		for u := range 3 {
			m[3*j+u] = row[u] / sum
		}
	}
	return m
}

// hearing is what each layer hears of a light, wavelength by wavelength, and in all.
func (s *Stock) hearing(light *spectrum.Curve) (heard [3]spectrum.Curve, all [3]float64) {
	for j := range heard {
		c := lobes(s.Layers[j].Sensitivity)
		heard[j] = c.Mul(light)
		for _, v := range heard[j] {
			all[j] += v
		}
	}
	return heard, all
}

// sceneColour takes the XYZ of what a light falls on to ACEScg, the light itself to white.
func sceneColour(light *spectrum.Curve) colour.Matrix {
	white := light.XYZ()
	y := white[1]
	for i := range white {
		white[i] /= y
	}
	return colour.AP1.ToXYZ().Inverse().Mul(colour.Adapt(white, colour.AP1.White.XYZ())).Scale(1 / y)
}

// filtered is what the scene's light, of a colour temperature, does to the exposure of the layers where no filter
// brings it to the light that the stock is made for: a diagonal matrix, the green layer's exposure at 1.
func filtered(s *Stock, kelvin float64) colour.Matrix {
	made := s.Balance.Light()
	scene := Balance{kelvin, kelvin >= 4000}.Light()
	var m colour.Matrix
	for j := range 3 {
		c := lobes(s.Layers[j].Sensitivity)
		m[4*j] = scene.Dot(&c) / made.Dot(&c)
	}
	g := m[4]
	for j := range 3 {
		m[4*j] /= g
	}
	return m
}

// Unfiltered is the light of a scene that a stock is not made for, daylight for lamps and lamps for daylight, in
// kelvin, with a share of the filter left out; 0 where that is none.
func (s *Stock) Unfiltered(share float64) float64 {
	if s == nil || share <= 0 {
		return 0
	}
	other := 3200.0
	if s.Balance.Kelvin < 4200 {
		other = 5600
	}
	mired := 1e6/s.Balance.Kelvin + share*(1e6/other-1e6/s.Balance.Kelvin)
	return 1e6 / mired
}
