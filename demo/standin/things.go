package standin

import (
	"math"
	"math/rand/v2"

	"velours/core/colour"
	"velours/core/spectrum"
)

// thing is something that reflects light: what the digital camera has of it, ACEScg, and what the film's layers do.
type thing struct{ digital, film [3]float64 }

func thingOf(reflectance *spectrum.Curve) thing {
	lit := reflectance.Mul(&light)
	return thing{toACEScg.Apply(lit.XYZ()), exposure(reflectance)}
}

// toACEScg takes what the light falls on to ACEScg, the light itself to white.
var toACEScg = func() colour.Matrix {
	white := light.XYZ()
	y := white[1]
	for i := range white {
		white[i] /= y
	}
	return colour.AP1.ToXYZ().Inverse().Mul(colour.Adapt(white, colour.AP1.White.XYZ())).Scale(1 / y)
}()

// even reflects alike at all wavelengths.
func even(k float64) spectrum.Curve { return spectrum.Of(func(float64) float64 { return k }) }

// chartColumns and chartRows are those of the chart.
const chartColumns, chartRows = 8, 6

// chart is ten greys and 38 colours: paints, leaves, skins, a few skies; greys and colours lie mixed, so that uneven light is not taken
// for a colour.
func chart() []thing {
	r := rand.New(rand.NewPCG(20, 14))
	between := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	edge := func(nm, at, soft float64) float64 { return 1 / (1 + math.Exp((at-nm)/soft)) }
	var out []thing
	greys := 0
	for i := range chartColumns * chartRows {
		var s spectrum.Curve
		kind := (3*i + i/chartColumns) % 5 // lies everywhere, in no order that a fit could lean on
		switch {
		case kind == 0: // greys, from black to white
			s = even(0.025 * math.Pow(0.92/0.025, float64(greys)/9))
			greys++
		case kind == 1: // warm: soft edges
			at, low, high := between(500, 610), between(0.03, 0.12), between(0.35, 0.8)
			s = spectrum.Of(func(nm float64) float64 { return low + (high-low)*edge(nm, at, 16) })
		case kind == 2: // bands of paint
			at, width, k := between(430, 640), between(26, 55), between(0.15, 0.6)
			floor := between(0.03, 0.1)
			s = spectrum.Of(func(nm float64) float64 { return floor + k*math.Exp(-(nm-at)*(nm-at)/(2*width*width)) })
		case kind == 3: // leaves and skins
			if i%2 == 0 {
				k, far := between(0.06, 0.2), between(0.4, 0.6)
				s = spectrum.Of(func(nm float64) float64 {
					return 0.04 + k*math.Exp(-(nm-552)*(nm-552)/(2*28*28)) + far*edge(nm, 704, 9)
				})
			} else {
				k := between(0.25, 1)
				s = spectrum.Of(func(nm float64) float64 {
					return k * (0.1 + 0.5*edge(nm, 585, 32) - 0.05*math.Exp(-(nm-560)*(nm-560)/(2*22*22)))
				})
			}
		default: // cold: edges that fall, skies
			at, low, high := between(480, 570), between(0.03, 0.15), between(0.3, 0.7)
			s = spectrum.Of(func(nm float64) float64 { return low + (high-low)*edge(-nm, -at, 20) })
		}
		out = append(out, thingOf(&s))
	}
	return out
}
