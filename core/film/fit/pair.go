package fit

import (
	"fmt"
	"math"
	"slices"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/solve"
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

// A Pair is colours as a scene had them and as the film has them, one for one.
type Pair struct {
	// Name is what messages call it; Scene, that it is of a scene of any kind, in which something may have moved.
	Name    string
	OfScene bool
	// Scene is scene-linear ACEScg, Read the densities of the film; base and fog are among them, unless Above.
	Scene, Read [][3]float64
	Above       bool
	// Places are where the colours lie in the film's picture, from −1 to 1 across and down, if the light may have been uneven there.
	Places []Point
	// Stops is how much more light the film got than Scene tells.
	Stops float64
}

// FitPair makes a card of one chart as the scene had it and as the film has it.
func FitPair(scene, read [][3]float64, o Options) (*film.Stock, *Report, error) {
	return FitPairs([]Pair{{Name: "the chart", Scene: scene, Read: read, Above: o.Above}}, o)
}

// FitPairs makes a card of pairs. It fits curves, its spectral sensitivity, how its layers hold each other back, and how pure its dyes
// are; for each pair, how uneven its light was, and for each but the first, by how much its exposure and the scanner's white are off.
// Every fifth colour is kept out, and judges the rest.
func FitPairs(pairs []Pair, o Options) (*film.Stock, *Report, error) {
	return fitPairs(pairs, nil, 0, o)
}

// fitPairs fits pairs together with a wedge of the same film, if there is one, in which mid grey lies about at a log exposure.
func fitPairs(pairs []Pair, w *Wedge, grey float64, o Options) (*film.Stock, *Report, error) {
	slope := 0.0
	for _, p := range pairs {
		s, err := p.check()
		if err != nil {
			return nil, nil, err
		}
		slope += s
	}
	from, err := like(o, slope < 0, false)
	if err != nil {
		return nil, nil, err
	}
	above := false
	for i, p := range pairs {
		if !p.Above {
			continue
		}
		above = true
		base := film.Develop(from, film.Process{Strength: 1}).Read([3]float64{})
		whole := make([][3]float64, len(p.Read))
		for i, d := range p.Read {
			whole[i] = [3]float64{d[0] + base[0], d[1] + base[1], d[2] + base[2]}
		}
		pairs[i].Read, pairs[i].Above = whole, false
	}
	m := newModel(from, o, pairs)
	m.wedge, m.grey, m.greyWithin = w, grey, 0.5
	if !math.IsNaN(o.Grey) { // it is known, as well as the light on a chart is
		m.greyWithin = 0.03
	}
	if o.ctx != nil {
		m.ended = o.ctx.Err
	}
	if o.Status != nil {
		m.status = o.Status
	}
	if err := m.fit(); err != nil {
		return nil, nil, err
	}
	if err := m.stock.Ready(); err != nil {
		return nil, nil, err
	}
	var steps *Report
	if w != nil { // what figures do not say of the curves, points do
		again := o
		again.Like, again.Grey = m.stock, m.last[ofStock-1]
		if m.stock, steps, err = FitWedge(w, again); err != nil {
			return nil, nil, err
		}
	}
	r := m.report(from)
	if steps != nil {
		r.Steps, r.Grey = steps.Steps, steps.Grey
	}
	if above {
		r.Limits = append(r.Limits, "The scan leaves the base out: its colour is that of "+from.Label+".")
	}
	return m.stock, r, nil
}

// check says what is wrong with a pair; slope is how density goes with light.
func (p *Pair) check() (slope float64, err error) {
	if len(p.Scene) != len(p.Read) {
		return 0, fmt.Errorf("%s has %d patches in one picture and %d in the other; place its corners by hand in both", p.Name, len(p.Scene), len(p.Read))
	}
	if len(p.Scene) < fewestPatches {
		return 0, fmt.Errorf("%s has %d patches; colours need %d at least, greys among them", p.Name, len(p.Scene), fewestPatches)
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	var sxy, sx, sy, sxx float64
	for i := range p.Scene {
		x, y := math.Log10(max(p.Scene[i][1], 1e-4)), p.Read[i][1]
		lo, hi = min(lo, x), max(hi, x)
		sx, sy, sxy, sxx = sx+x, sy+y, sxy+x*y, sxx+x*x
	}
	if hi-lo < 0.8 {
		return 0, fmt.Errorf("the patches of %s span %.1f stops of light; a fit needs 3 at least, from black to white", p.Name, (hi-lo)/math.Log10(2))
	}
	n := float64(len(p.Scene))
	slope = (sxy - sx*sy/n) / (sxx - sx*sx/n)
	if math.Abs(slope) < 0.1 {
		return 0, fmt.Errorf("density hardly changes with the light of %s; are both pictures of the same thing, and is the scan declared as what it is?", p.Name)
	}
	return slope, nil
}

// model is a card under fit, and the colours that it is fitted to.
type model struct {
	from, stock *film.Stock
	pairs       []Pair
	taking      colour.Matrix
	wedge       *Wedge  // of the same film, nil for none
	grey        float64 // log exposure of mid grey in it, about; greyWithin how surely
	greyWithin  float64
	status      *film.Status // of the densitometer that read it
	doubtful    float64      // a miss of density beyond it is more likely what moved, or dust
	ended       func() error // why the fit is to end before it is done
	last        []float64    // the parameters that were found
}

func newModel(from *film.Stock, o Options, pairs []Pair) *model {
	m := &model{from: from, stock: clone(from, o), pairs: pairs, status: scanner, ended: func() error { return nil }}
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

// keptOut tells which colours of a pair only judge.
func keptOut(i int) bool { return i%5 == 2 }

// fit finds the parameters that may change, and leaves the card at them.
func (m *model) fit() error {
	start, scale, limits := m.start(), m.scales(), m.limits()
	var free []int
	for i, l := range limits {
		if l[0] < l[1] {
			free = append(free, i)
		}
	}
	whole := slices.Clone(start)
	some := func(all []float64) (out []float64) {
		for _, i := range free {
			out = append(out, all[i])
		}
		return out
	}
	var within [][2]float64
	for _, i := range free {
		within = append(within, limits[i])
	}
	put := func(p []float64) []float64 {
		for k, i := range free {
			whole[i] = p[k]
		}
		return whole
	}
	at := some(start)
	for _, m.doubtful = range []float64{math.Inf(1), 0.3, 0.12} { // nothing is doubted before the rest is about right
		if m.doubtful < 1 && !m.doubts() {
			break
		}
		at = solve.Least(at, within, 60, func(p []float64) []float64 {
			if m.ended() != nil {
				return nil // nothing can be gained any more
			}
			r := m.misses(put(p))
			for k, i := range free {
				r = append(r, pull*(p[k]-start[i])/scale[i])
			}
			return r
		})
	}
	m.last = slices.Clone(put(at))
	m.set(m.last)
	return m.ended()
}

// The parameters of a model: for each layer its curve (gamma, speed, toe, dmax, shoulder); off the diagonal of taking
// and of separation, two a row; the share of unwanted absorption of each dye; the base; off the diagonal of the one-sided
// effect; by how much the main bell of each dye is moved (nm) and widened (a share); the log exposure of mid grey in a wedge; and for each pair, ofPair: by how much its exposure is off, how its light falls across, down and outwards (decades), and the
// density by which the scanner's white is off in each channel.
const (
	ofCurve    = 15
	ofTaking   = ofCurve + 6
	ofEffect   = ofTaking + 6
	ofDyes     = ofEffect + 3
	ofBase     = ofDyes + 3
	ofOneSided = ofBase + 6
	ofStock    = ofOneSided + 6 + 1
	ofPair     = 7
)

// offDiagonal are the places of a 3×3 matrix off its diagonal.
var offDiagonal = [6][2]int{{0, 1}, {0, 2}, {1, 0}, {1, 2}, {2, 0}, {2, 1}}

func (m *model) start() []float64 {
	p := make([]float64, 0, ofStock+ofPair*len(m.pairs))
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
	for _, pair := range m.pairs {
		for _, d := range pair.Read {
			for i, v := range d {
				least[i] = min(least[i], v)
			}
		}
	}
	p = append(p, least[0], least[1], least[2])
	for _, at := range offDiagonal {
		p = append(p, m.from.OneSided[at[0]][at[1]])
	}
	p = append(p, 0, 0, 0, 0, 0, 0, m.grey)
	return append(p, make([]float64, ofPair*len(m.pairs))...)
}

// limits are between what the parameters lie; one that does not change has both alike.
func (m *model) limits() [][2]float64 {
	var l [][2]float64
	some := func(n int, lo, hi float64) {
		for range n {
			l = append(l, [2]float64{lo, hi})
		}
	}
	for range 3 {
		l = append(l, curveLimits...)
	}
	some(6, -0.6, 0.8)
	some(6, -0.8, 0)
	some(3, 0, 3)
	some(3, -1, 3)
	some(6, -1.2, 1.2)
	// a densitometer reads dyes elsewhere than a scanner does: the two together tell their shape
	shapes := m.wedge != nil && m.status != scanner
	most := func(yes bool, v float64) float64 {
		if yes {
			return v
		}
		return 0
	}
	some(3, -most(shapes, 20), most(shapes, 20))
	some(3, -most(shapes, 0.4), most(shapes, 0.4))
	some(1, m.grey-most(m.wedge != nil, 1), m.grey+most(m.wedge != nil, 1))
	for k, pair := range m.pairs {
		some(1, -most(k > 0, 0.25), most(k > 0, 0.25)) // mid grey is where the first has it
		some(3, -most(pair.Places != nil, 0.2), most(pair.Places != nil, 0.2))
		known := k > 0 || m.wedge != nil // and without a wedge the base is what it reads
		some(3, -most(known, 0.5), most(known, 0.5))
	}
	return l
}

// scales are how far a parameter may well be from where it starts.
func (m *model) scales() []float64 {
	var s []float64
	some := func(n int, v ...float64) {
		for range n {
			s = append(s, v...)
		}
	}
	some(3, 0.3, 0.5, 3, 0.5, 3)
	some(12, 0.15)
	some(3, 0.5)
	some(3, 1)
	some(6, 0.3)
	some(3, 6)
	some(3, 0.12)
	some(1, m.greyWithin)
	for k := range m.pairs {
		some(1, 0.04) // a shutter is right within an eighth of a stop
		some(3, 0.05)
		white := 0.1
		if k > 0 { // one scanner
			white = 0.02
		}
		some(3, white)
	}
	return s
}

// set writes parameters into the card.
func (m *model) set(p []float64) {
	s := m.stock
	for i := range s.Layers {
		l := &s.Layers[i]
		c := p[5*i:]
		l.Gamma, l.Speed, l.Toe, l.DMax, l.Shoulder = c[0], c[1], c[2], c[3], c[4]
		main := m.from.Layers[i].Dye[0]
		l.Dye[0].Peak, l.Dye[0].Width = main.Peak+p[ofOneSided+i], main.Width*(1+p[ofOneSided+3+i])
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

// light is what a colour of a pair exposed the film by, read what it left without the scanner's fault, by the parameters.
func (m *model) light(p []float64, pair, i int) (light, read [3]float64) {
	of := &m.pairs[pair]
	own := p[ofStock+ofPair*pair:]
	x := own[0] + of.Stops*math.Log10(2)
	if of.Places != nil {
		at := of.Places[i]
		x += own[1]*at.X + own[2]*at.Y + own[3]*(at.X*at.X+at.Y*at.Y)
	}
	k := math.Pow(10, x)
	for c := range light {
		light[c], read[c] = k*of.Scene[i][c], of.Read[i][c]-m.white(p, pair, c)
	}
	return light, read
}

// white is the density by which the scanner's white is off in a channel of a pair: that of the first, and what is a pair's own.
func (m *model) white(p []float64, pair, channel int) float64 {
	v := p[ofStock+4+channel]
	if pair > 0 {
		v += p[ofStock+ofPair*pair+4+channel]
	}
	return v
}

// doubts tells whether there is anything in which something may have moved.
func (m *model) doubts() bool {
	return slices.ContainsFunc(m.pairs, func(p Pair) bool { return p.OfScene })
}

// wedgeWeight is how much more a densitometer's reading counts than a scan's.
const wedgeWeight = 2

// misses are those of density: of a wedge, and of what is not kept out.
func (m *model) misses(p []float64) []float64 {
	m.set(p)
	n := film.Develop(m.stock, film.Process{Strength: 1})
	var r []float64
	if m.wedge != nil {
		for _, step := range m.wedge.Steps {
			at := n.ReadIn(m.status, n.Grey(step.LogE-p[ofStock-1]))
			for k, d := range step.D {
				r = append(r, wedgeWeight*(at[k]-d)/(1+d/2)) // noise grows with density
			}
		}
	}
	for pair := range m.pairs {
		of := &m.pairs[pair]
		weight := 1.0
		if len(of.Scene) > 100 { // many small areas count together as a large chart does
			weight = math.Sqrt(100 / float64(len(of.Scene)))
		}
		for i := range of.Scene {
			if keptOut(i) {
				continue
			}
			light, read := m.light(p, pair, i)
			d := n.Read(n.Develop(light))
			size := 0.0
			for k := range d {
				d[k] -= read[k]
				size += d[k] * d[k]
			}
			k := weight
			if of.OfScene {
				k /= 1 + size/(m.doubtful*m.doubtful)
			}
			r = append(r, k*d[0], k*d[1], k*d[2])
		}
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
