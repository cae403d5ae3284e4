package fit

import (
	"fmt"
	"math"
	"slices"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/solve"
)

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
	if p.grey() {
		return 0, fmt.Errorf("%s is black and white on the film: how such a film hears colours is not read from charts; its curve is, from a wedge", p.Name)
	}
	return slope, nil
}

// grey tells that all three channels read alike, whatever the colour: silver.
func (p *Pair) grey() bool {
	var apart [2][]float64
	for _, d := range p.Read {
		apart[0], apart[1] = append(apart[0], d[0]-d[1]), append(apart[1], d[2]-d[1])
	}
	for _, list := range apart {
		m, squares := mean(list), 0.0
		for _, v := range list {
			squares += (v - m) * (v - m) / float64(len(list))
		}
		if math.Sqrt(squares) > silverApart {
			return false
		}
	}
	return true
}

// silverApart is the deviation of density by which channels of silver may part, from noise and the scanner's own scales.
const silverApart = 0.03

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
