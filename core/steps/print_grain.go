package steps

import (
	"math"

	"velours/core/colour"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(printGrainKind) }

var printGrainKind = &look.Kind{
	ID: "grain", Place: 60, Station: look.Print, Label: "Print grain", HasStrength: true, Film: true, Spatial: true, Lead: []string{"amount"}, NoEffect: noEffectAt("no grain at 0 %", 0, "amount"),
	Precondition: "print", Unmet: "Waiting for a print: switch Medium on.",
	Purpose: "The grain of the print itself, finer than the negative's and its own on every frame: it is felt in the darks, where the negative's is not seen.",
	Settings: []look.Setting{
		travels(1.6, dial("amount", "Amount", "%", 0, 400, 0, 1, "100 % is a fine-grained print film at this gauge. It hardly shows beside a negative's grain; more is an old print.")),
		dial("size", "Cloud size", "%", 40, 400, 100, 5, "The size of the print's dye clouds against those of a fine-grained print film."),
		dial("seed", "Roll", "no.", 0, 9999, 1, 1, "Another roll of the same film: the same grain in other places."),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		amount, size, seed := v.Number("amount")/100*s, v.Number("size")/100, uint64(v.Number("seed"))
		if amount == 0 {
			return
		}
		b.In(render.Projected, func(e *render.Exposed) render.Operation {
			if e.Medium == nil || e.Medium.Direct || e.Medium.Scan || e.Table != nil || e.Tabular { // there is no print film
				return nil
			}
			return newPrintGrain(e, amount*e.Mix, size, seed)
		})
	}},
}

// A print film's granularity at density 1, the deviation of its clouds, µm, and the density of what is in clear film besides
// (scatter-and-grain, part C5).
const printGranularity, printCloud, printFog = 3.0, 0.9, 0.05

// printRoll tells the print's noise from the negative's.
const printRoll = 1 << 20

// newPrintGrain adds the deviation of the print's density to what a display shows of it.
func newPrintGrain(e *render.Exposed, amount, size float64, seed uint64) render.Pointwise {
	cloud := printCloud * size
	set := grain.Setting{Pitch: e.Width * 1000 / float64(e.Raster.W), Squeeze: e.Squeeze, Cloud: [3]float64{cloud, cloud, cloud}, Seed: printRoll + seed}
	s := grain.Selwyn(printGranularity, cloud) * amount
	law := grain.NewGains(1, func(code float64) float64 {
		slope, density := printSlope(e.Display, code)
		return s * math.Sqrt((density+printFog)/(1+printFog)) * slope
	})
	return newCodeGrain(set, law)
}

// printSlope is by how much a display's code falls for a density more, where it shows a grey of a code, and what density that is, open gate at 0.
func printSlope(d *colour.Display, code float64) (slope, density float64) {
	light := d.Light([3]float64{code, code, code})[1] * d.Head()
	const h = 0.01
	shown := func(light float64) float64 {
		v := max(light/d.Head(), 0)
		return d.Code([3]float64{v, v, v})[1]
	}
	return (shown(light*math.Pow(10, h)) - shown(light*math.Pow(10, -h))) / (2 * h), max(-math.Log10(max(light, 1e-6)), 0)
}
