package fit

import (
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/film"
)

// Patch is one patch of a chart, or a small even area of a scene, in a fit.
type Patch struct {
	// Pair is which of the pairs it belongs to.
	Pair int `json:"pair"`
	// Scene is its light, ACEScg; Measured and Fitted are what is read of the film, and what the card reads.
	Scene    [3]float64 `json:"scene"`
	Measured [3]float64 `json:"measured"`
	Fitted   [3]float64 `json:"fitted"`
	// Error is the difference of the two on a print (CIEDE2000), KeptOut that the fit has not seen it.
	Error   float64 `json:"error"`
	KeptOut bool    `json:"keptOut"`
	// Shown is how the two look on a print: light of the display, measured and fitted.
	Shown [2][3]float64 `json:"shown"`
}

// Judged is how well a pair is met.
type Judged struct {
	Name    string `json:"name"`
	OfScene bool   `json:"ofScene"`
	// Mean and KeptOut are mean colour differences (CIEDE2000) of colours that were fitted, and of those that were kept out.
	Mean    float64 `json:"mean"`
	KeptOut float64 `json:"keptOut"`
	// Exposure is by how many stops its light was more than declared, Uneven how much it varied over the picture, as a share.
	Exposure float64 `json:"exposure"`
	Uneven   float64 `json:"uneven"`

	count, countOut float64
}

// unevenness is by which share light varies over places, by how it falls across, down and outwards, in decades.
func unevenness(fall []float64, places []Point) float64 {
	lo, hi := 0.0, 0.0
	for i, at := range places {
		x := fall[0]*at.X + fall[1]*at.Y + fall[2]*(at.X*at.X+at.Y*at.Y)
		if i == 0 {
			lo, hi = x, x
		}
		lo, hi = min(lo, x), max(hi, x)
	}
	return math.Pow(10, hi-lo) - 1
}

// report judges the card by what a print of it would show.
func (m *model) report(from *film.Stock) *Report {
	n := film.Develop(m.stock, film.Process{Strength: 1})
	display, _ := colour.FindDisplay("bt1886")
	medium := film.Media()[0]
	positive := film.NewPositive(n, film.NewPrint(medium, n), [3]float64{}, 1, film.Screen{Display: display, Range: 0.6, Whites: 1, Tone: colour.DefaultTone})
	toXYZ, white := display.Gamut.ToXYZ(), display.Gamut.White.XYZ()
	shown := func(d [3]float64) [3]float64 { return display.Light(positive.Code(d)) }
	lab := func(light [3]float64) [3]float64 { return colour.Lab(toXYZ.Apply(light), white) }
	r := &Report{Like: from.Label, Limits: []string{
		"A chart holds no light brighter than its white patch, and none darker than its black: beyond, the curves go on as they do there.",
		fmt.Sprintf("Grain, sharpness and halation are those of %s; so are the spectra, of which the matrices stand for what a chart can tell.", from.Label),
	}}
	if m.wedge != nil {
		r.Limits = []string{}
	}
	brightest := 0.0
	var fitted, out, count, countOut, all float64
	for pair := range m.pairs {
		of := &m.pairs[pair]
		judged := Judged{Name: of.Name, OfScene: of.OfScene}
		for i := range of.Scene {
			light, read := m.light(m.last, pair, i)
			brightest = max(brightest, light[1])
			d := n.Develop(light)
			p := Patch{Pair: pair, Scene: light, Measured: read, Fitted: n.Read(d), KeptOut: keptOut(i)}
			p.Shown = [2][3]float64{shown(layersOf(n, read, scanner)), shown(d)}
			p.Error = colour.DeltaE2000(lab(p.Shown[0]), lab(p.Shown[1]))
			r.Patches = append(r.Patches, p)
			if p.KeptOut {
				out, countOut = out+p.Error, countOut+1
				judged.KeptOut, judged.countOut = judged.KeptOut+p.Error, judged.countOut+1
			} else {
				fitted, count = fitted+p.Error, count+1
				judged.Mean, judged.count = judged.Mean+p.Error, judged.count+1
			}
			all++
			for k := range p.Fitted {
				miss := math.Abs(p.Fitted[k] - p.Measured[k])
				r.Rms += miss * miss / 3
				if !of.OfScene {
					r.Worst = max(r.Worst, miss)
				}
			}
		}
		own := m.last[ofStock+ofPair*pair:]
		judged.Mean, judged.KeptOut = judged.Mean/judged.count, judged.KeptOut/judged.countOut
		judged.Exposure, judged.Uneven = own[0]/math.Log10(2), unevenness(own[1:4], of.Places)
		r.Pairs = append(r.Pairs, judged)
		if m.wedge != nil {
			if r.Casts == nil {
				r.Casts = new([3]float64)
			}
			for k := range r.Casts {
				r.Casts[k] += m.white(m.last, pair, k) / float64(len(m.pairs))
			}
		}
	}
	r.Rms, r.Mean, r.MeanKeptOut = math.Sqrt(r.Rms/all), fitted/count, out/countOut
	if brightest < 0.18*4 {
		r.Limits = append(r.Limits, fmt.Sprintf("The brightest patch is %.1f stops over mid grey; a shoulder begins beyond.", math.Log2(brightest/0.18)))
	}
	if r.MeanKeptOut > 2.5 {
		r.Limits = append(r.Limits, "Patches that the fit has not seen are off by more than a careful eye forgives: light the chart evenly, check the declared encodings, and measure again.")
	}
	return r
}
