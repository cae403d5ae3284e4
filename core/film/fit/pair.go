package fit

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"velours/core/colour"
	"velours/core/film"
)

// Patch is one patch of a chart in a fit.
type Patch struct {
	// Scene is its light, ACEScg; Measured and Fitted are what is read of the film, and what the card reads.
	Scene    [3]float64 `json:"scene"`
	Measured [3]float64 `json:"measured"`
	Fitted   [3]float64 `json:"fitted"`
	// Error is the difference of the two on a print (CIEDE2000), KeptOut that the fit has not seen it.
	Error   float64 `json:"error"`
	KeptOut bool    `json:"keptOut"`
}

// fewestPatches is how many a fit of colours needs.
const fewestPatches = 24

// Densities are what a scan of film holds, as density above the darkest it can be: codes of printing-density log
// at 0.002 a code of ten bits, or light that came through, as −log10.
func Densities(scan [][3]float64, log bool) [][3]float64 {
	out := make([][3]float64, len(scan))
	for i, p := range scan {
		for k, v := range p {
			if log {
				out[i][k] = (v*1023 - 95) * 0.002
			} else {
				out[i][k] = -math.Log10(max(v, 1e-5))
			}
		}
	}
	return out
}

// FitPair makes a card of one chart as the scene had it and as the film has it: scene is scene-linear ACEScg, read
// the densities of the film, base and fog among them unless o.Above. It fits curves, its spectral sensitivity, how its layers hold
// each other back, and how pure its dyes are. Every fifth patch is kept out, and judges the rest.
func FitPair(scene, read [][3]float64, o Options) (*film.Stock, *Report, error) {
	if len(scene) != len(read) {
		return nil, nil, fmt.Errorf("the chart has %d patches in one picture and %d in the other; place its corners by hand in both", len(scene), len(read))
	}
	if len(scene) < fewestPatches {
		return nil, nil, fmt.Errorf("the chart has %d patches; colours need %d at least, greys among them", len(scene), fewestPatches)
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	var sxy, sx, sy, sxx float64
	for i := range scene {
		x, y := math.Log10(max(scene[i][1], 1e-4)), read[i][1]
		lo, hi = min(lo, x), max(hi, x)
		sx, sy, sxy, sxx = sx+x, sy+y, sxy+x*y, sxx+x*x
	}
	if hi-lo < 0.8 {
		return nil, nil, fmt.Errorf("the patches span %.1f stops of light; a fit needs 3 at least, from black to white", (hi-lo)/math.Log10(2))
	}
	n := float64(len(scene))
	slope := (sxy - sx*sy/n) / (sxx - sx*sx/n)
	if math.Abs(slope) < 0.1 {
		return nil, nil, errors.New("density hardly changes with light; are both pictures of the same chart, and is the scan declared as what it is?")
	}
	from, err := like(o, slope < 0, false)
	if err != nil {
		return nil, nil, err
	}
	if o.Above {
		base := film.Develop(from, film.Process{Strength: 1}).Read([3]float64{})
		whole := make([][3]float64, len(read))
		for i, d := range read {
			whole[i] = [3]float64{d[0] + base[0], d[1] + base[1], d[2] + base[2]}
		}
		read = whole
	}
	m := newModel(from, o, scene, read)
	p := least(m.start(), m.limits(), 60, m.residuals)
	m.set(p)
	if err := m.stock.Ready(); err != nil {
		return nil, nil, err
	}
	r := m.report(from)
	if o.Above {
		r.Limits = append(r.Limits, "The scan leaves the base out: its colour is that of "+from.Label+".")
	}
	return m.stock, r, nil
}

// model is a card under fit, and the patches it is fitted to.
type model struct {
	from, stock *film.Stock
	scene, read [][3]float64
	keptOut     []bool
	taking      colour.Matrix
}

func newModel(from *film.Stock, o Options, scene, read [][3]float64) *model {
	m := &model{from: from, stock: clone(from, o), scene: scene, read: read, keptOut: make([]bool, len(scene))}
	for i := range scene {
		m.keptOut[i] = i%5 == 2
	}
	m.stock.Reversal = from.Reversal
	m.stock.Mask = from.Mask
	m.stock.Natural = 0 // the matrix is measured, whatever the spectra
	m.taking = film.Develop(from, film.Process{Strength: 1}).Exposure
	for i := range m.stock.Layers {
		m.stock.Layers[i].Measured = nil
		m.stock.Layers[i].Dye = slices.Clone(from.Layers[i].Dye)
		m.stock.Layers[i].Sensitivity = slices.Clone(from.Layers[i].Sensitivity)
	}
	return m
}

// The parameters of a model: for each layer its curve (gamma, speed, toe, dmax, shoulder); off the diagonal of taking
// and of separation, two a row; the share of unwanted absorption of each dye; the base; and off the diagonal of the one-sided
// effect.
const (
	ofCurve  = 15
	ofTaking = ofCurve + 6
	ofEffect = ofTaking + 6
	ofDyes   = ofEffect + 3
	ofBase   = ofDyes + 3
	ofAll    = ofBase + 6
)

// offDiagonal are the places of a 3×3 matrix off its diagonal.
var offDiagonal = [6][2]int{{0, 1}, {0, 2}, {1, 0}, {1, 2}, {2, 0}, {2, 1}}

func (m *model) start() []float64 {
	p := make([]float64, 0, ofAll)
	for _, l := range m.from.Layers {
		p = append(p, l.Gamma, l.Speed, l.Toe, l.DMax, l.Shoulder)
	}
	for _, at := range offDiagonal {
		p = append(p, m.taking[3*at[0]+at[1]])
	}
	for _, at := range offDiagonal {
		p = append(p, m.from.Separation[at[0]][at[1]])
	}
	p = append(p, 1, 1, 1)
	// the base: what is least
	least := [3]float64{math.Inf(1), math.Inf(1), math.Inf(1)}
	for _, d := range m.read {
		for i, v := range d {
			least[i] = min(least[i], v)
		}
	}
	p = append(p, least[0], least[1], least[2])
	for _, at := range offDiagonal {
		p = append(p, m.from.OneSided[at[0]][at[1]])
	}
	return p
}

func (m *model) limits() [][2]float64 {
	var l [][2]float64
	for range 3 {
		l = append(l, curveLimits...)
	}
	for range 6 {
		l = append(l, [2]float64{-0.6, 0.8})
	}
	for range 6 {
		l = append(l, [2]float64{-0.8, 0})
	}
	for range 3 {
		l = append(l, [2]float64{0, 3})
	}
	for range 3 {
		l = append(l, [2]float64{-1, 3})
	}
	for range 6 {
		l = append(l, [2]float64{-1.2, 1.2})
	}
	return l
}

// scales are how far a parameter may well be from the other card's.
func scales() []float64 {
	var s []float64
	for range 3 {
		s = append(s, 0.3, 0.5, 3, 0.5, 3)
	}
	for range 6 {
		s = append(s, 0.15)
	}
	for range 6 {
		s = append(s, 0.15)
	}
	return append(s, 0.5, 0.5, 0.5, 1, 1, 1, 0.3, 0.3, 0.3, 0.3, 0.3, 0.3)
}

// set writes parameters into the card.
func (m *model) set(p []float64) {
	s := m.stock
	for i := range s.Layers {
		l := &s.Layers[i]
		c := p[5*i:]
		l.Gamma, l.Speed, l.Toe, l.DMax, l.Shoulder = c[0], c[1], c[2], c[3], c[4]
		for k := 1; k < len(l.Dye); k++ {
			l.Dye[k].Height = m.from.Layers[i].Dye[k].Height * p[ofEffect+i]
		}
	}
	t := colour.Identity
	for k, at := range offDiagonal {
		t[3*at[0]+at[1]] = p[ofCurve+k]
		s.Separation[at[0]][at[1]] = p[ofTaking+k]
		s.OneSided[at[0]][at[1]] = p[ofBase+k]
	}
	for i := range 3 {
		t[4*i] = 1 - (t[3*i] + t[3*i+1] + t[3*i+2] - t[4*i])
		s.Separation[i][i] = 0
		s.Separation[i][i] = -(s.Separation[i][0] + s.Separation[i][1] + s.Separation[i][2])
	}
	s.Taking = &t
	setBaseOnce(s, [3]float64{p[ofDyes], p[ofDyes+1], p[ofDyes+2]})
}

// setBaseOnce gives a card a base that reads about as wanted, without the mask; the fit closes the rest.
func setBaseOnce(s *film.Stock, want [3]float64) {
	s.Base = []film.Lobe{{Peak: 690, Width: 70, Height: want[0]}, {Peak: 550, Width: 38, Height: want[1]}, {Peak: 445, Width: 52, Height: want[2]}}
}

// residuals are the misses of density, and the pull towards the other card.
func (m *model) residuals(p []float64) []float64 {
	m.set(p)
	n := film.Develop(m.stock, film.Process{Strength: 1})
	var r []float64
	for i, e := range m.scene {
		if m.keptOut[i] {
			continue
		}
		d := n.Read(n.Develop(e))
		for k := range d {
			r = append(r, d[k]-m.read[i][k])
		}
	}
	start := m.start()
	for i, s := range scales() {
		r = append(r, pull*(p[i]-start[i])/s)
	}
	return r
}

// report judges the card by what a print of it would show.
func (m *model) report(from *film.Stock) *Report {
	n := film.Develop(m.stock, film.Process{Strength: 1})
	display, _ := colour.FindDisplay("bt1886")
	medium := film.Media()[0]
	positive := film.NewPositive(n, film.NewPrint(medium, n), [3]float64{}, 1, film.Screen{Display: display, Range: 0.6, Whites: 1, Tone: colour.DefaultTone})
	toXYZ, white := display.Gamut.ToXYZ(), display.Gamut.White.XYZ()
	lab := func(d [3]float64) [3]float64 {
		return colour.Lab(toXYZ.Apply(display.Light(positive.Code(d))), white)
	}
	r := &Report{Like: from.Label, Limits: []string{
		"A chart holds no light brighter than its white patch, and none darker than its black: beyond, the curves go on as they do there.",
		fmt.Sprintf("Grain, sharpness and halation are those of %s; so are the spectra, of which the matrices stand for what a chart can tell.", from.Label),
	}}
	brightest := 0.0
	var fitted, keptOut, count, keptOutCount float64
	for i, e := range m.scene {
		brightest = max(brightest, e[1])
		d := n.Develop(e)
		p := Patch{Scene: e, Measured: m.read[i], Fitted: n.Read(d), KeptOut: m.keptOut[i]}
		p.Error = colour.DeltaE2000(lab(d), lab(layersOf(n, m.read[i])))
		r.Patches = append(r.Patches, p)
		if p.KeptOut {
			keptOut, keptOutCount = keptOut+p.Error, keptOutCount+1
		} else {
			fitted, count = fitted+p.Error, count+1
		}
		for k := range p.Fitted {
			miss := math.Abs(p.Fitted[k] - p.Measured[k])
			r.Rms += miss * miss / float64(3*len(m.scene))
			r.Worst = max(r.Worst, miss)
		}
	}
	r.Rms, r.Mean, r.MeanKeptOut = math.Sqrt(r.Rms), fitted/count, keptOut/keptOutCount
	if brightest < 0.18*4 {
		r.Limits = append(r.Limits, fmt.Sprintf("The brightest patch is %.1f stops over mid grey; a shoulder begins beyond.", math.Log2(brightest/0.18)))
	}
	if r.MeanKeptOut > 2.5 {
		r.Limits = append(r.Limits, "Patches that the fit has not seen are off by more than a careful eye forgives: light the chart evenly, check the declared encodings, and measure again.")
	}
	return r
}
