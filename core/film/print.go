package film

import (
	"fmt"
	"math"

	"velours/core/spectrum"
)

// PointsPerStop is how many printer points make a stop; one point is 0.025 in log exposure.
const (
	PointsPerStop = 12
	pointLog      = 0.025
)

// Printing is how a print is made of a timed negative. Its zero value changes nothing.
type Printing struct {
	// Silver is what the bleach leaves in the print, 0…1.
	Silver float64
	// Contrast and Colour are shares by which the slope of the print, and how far its layers differ, are raised.
	Contrast, Colour float64
	// Flash is a neutral exposure of the print beside the picture's, as a share of mid grey's.
	Flash float64
	// Whites turn the print's base warm (above 0) or cool: 1 is as warm as paper gets.
	Whites float64
	// Filter is the density of the filters in the printer, for shadows, mids and lights: cyan, magenta and yellow,
	// which take red, green and blue light.
	Filter [3][3]float64
}

// MostFilter is the densest filter, either way, that a zone is meant to take.
const MostFilter = 0.3

// Print is a medium timed for a negative: its lights are set so that mid grey prints neutral at the medium's aim.
// Its dyes are balanced for the reference, whose whole grey scale is neutral on screen; other negatives show their
// own small crossovers. See Negative.balanced.
//
// A medium that projects the camera film itself has no printer. Its "exposure" is what the film's density stands
// for, upside down, so that all that a printer does can be done to it too.
type Print struct {
	Medium *Medium
	neg    *Negative
	dupe   bool
	before func([3]float64) spectrum.Curve // what lies in the printer: spectral density of the film, or of its dupe
	light  [3]spectrum.Curve               // printer lamp × sensitivity
	offset [3]float64                      // log exposure of mid grey
	scale  *scale
	direct [3]func(float64) float64 // density → log exposure of the camera film
	gain   [3]float64               // of a scan: codes for a decade
	set    Printing
	dyes   [3]spectrum.Curve
	base   spectrum.Curve
	timed  [3]float64     // log exposures by which the lights make up for silver
	lamp   spectrum.Curve // projector
	gate   float64        // its Y, open gate
	// White is the projected light of clear film, Black that of the negative's clear film, XYZ.
	White, Black [3]float64
}

// NewPrint times the medium for a negative. A positive is printed by way of an internegative.
func NewPrint(m *Medium, n *Negative) *Print { return newPrint(m, n, false) }

// NewDupe prints a dupe negative, two generations on.
func NewDupe(m *Medium, n *Negative) *Print { return newPrint(m, n, !m.Direct) }

func newPrint(m *Medium, n *Negative, dupe bool) *Print {
	p := makeReady(m, n, dupe)
	if !m.Scan { // which has codes in place of dyes
		as := n.balanced(m.Direct)
		p.scale, _ = scales.Get(fmt.Sprint(m.Key(), " ", as.Stock.Key(), " ", as.positive), func() (*scale, error) {
			return makeReady(m, as, false).solve(), nil
		})
	}
	p.White, p.Black = p.ends()
	return p
}

// makeReady prepares all but the scale.
func makeReady(m *Medium, n *Negative, dupe bool) *Print {
	p := &Print{Medium: m, neg: n, dupe: dupe, lamp: spectrum.Planck(m.Projector), before: n.Spectrum}
	p.gate = p.lamp.XYZ()[1]
	p.base = lobes(m.Base)
	switch {
	case m.Direct:
		as := n.balanced(true)
		for j := range 3 {
			p.direct[j] = invert(func(x float64) float64 { return as.Curve(j, x) })
			p.dyes[j] = n.dyes[j]
			for k := range p.base {
				p.base[k] += n.base[k] / 3
			}
		}
		return p
	case m.Scan:
		for j, nm := range Filters {
			p.light[j] = band(nm)
		}
	default:
		printer := spectrum.Planck(m.Printer)
		for j := range 3 {
			s := lobes([]Lobe{m.Sensitivity[j]})
			p.light[j] = printer.Mul(&s)
			p.dyes[j] = lobes(m.Dyes[j])
		}
		p.base.Raise(m.DMin)
		if n.positive {
			p.before = newGeneration(p.before, &p.light, n.Mid(), interNeg).spectrum
		}
	}
	copies := m.Generations
	if dupe {
		copies += 2
	}
	for range copies {
		p.before = newGeneration(p.before, &p.light, n.Mid(), dupeSlope).spectrum
	}
	p.offset = p.exposure(n.Mid()) // the lights follow the rating
	if m.Scan {
		p.gain = p.scanGain()
	}
	return p
}

// ends are clear film and the negative's own clear film, projected.
func (p *Print) ends() (white, black [3]float64) {
	if p.Medium.Scan {
		return [3]float64{scanWhite[0], 1, scanWhite[2]}, [3]float64{}
	}
	return p.project([3]float64{}), p.Light(p.neg.Grey(-3.6), [3]float64{})
}

// With is the print made in another way. Where silver is left in, the lights are timed anew, so that mid grey
// stays at the aim.
func (p *Print) With(set Printing) *Print {
	if set == p.set {
		return p
	}
	q := *p
	q.set = set
	if p.Medium.Scan {
		return &q
	}
	if set.Whites != 0 {
		warm := warmBase
		if set.Whites < 0 {
			warm = coolBase
		}
		for k := range q.base {
			q.base[k] += math.Abs(set.Whites) * warm[k]
		}
	}
	if set.Silver > 0 {
		q.retain()
	}
	q.White, q.Black = q.ends()
	return &q
}

// What takes the whites of a print as far as paper goes: a yellowed base, and a blued one.
var (
	warmBase = lobes([]Lobe{{440, 45, 0.12}, {540, 60, 0.02}})
	coolBase = lobes([]Lobe{{620, 55, 0.07}, {540, 60, 0.02}})
)

// retain leaves silver in: neutral density beside the dyes, so that the print is steeper, darker where it is dark,
// and paler.
func (q *Print) retain() {
	for i := range q.dyes {
		q.dyes[i].Raise(q.set.Silver * silverDensity)
	}
	without := *q
	without.set.Silver = 0
	for i := range without.dyes {
		without.dyes[i].Raise(-q.set.Silver * silverDensity)
	}
	grey := q.neg.Mid()
	aim := without.Light(grey, [3]float64{})[1]
	// thinner by as much as a brighter grey prints thinner, layer by layer, so that greys stay
	lo, hi := 0.0, 1.5
	for range 50 {
		x := (lo + hi) / 2
		u := q.exposure(q.neg.Grey(q.neg.Flashed(0) + x))
		for j := range u {
			q.timed[j] = u[j] - q.offset[j]
			if q.Medium.Direct {
				q.timed[j] = -x
			}
		}
		if q.Light(grey, [3]float64{})[1] < aim {
			lo = x
		} else {
			hi = x
		}
	}
}

// exposure is the log exposure of the print's layers through layer densities d.
func (p *Print) exposure(d [3]float64) [3]float64 {
	if p.Medium.Direct {
		return [3]float64{-p.direct[0](d[0]), -p.direct[1](d[1]), -p.direct[2](d[2])}
	}
	return logExposure(p.before(d), &p.light)
}

// Exposure is the log exposure of the print's layers through layer densities d, by the lights as they were before timing.
func (p *Print) Exposure(d [3]float64) [3]float64 { return p.exposure(d) }

// project is the light of dye amounts, flare included: XYZ with open gate at Y = 1.
func (p *Print) project(c [3]float64) [3]float64 {
	var x [3]float64
	o := &spectrum.Observer
	for k := range p.lamp {
		d := p.base[k] + c[0]*p.dyes[0][k] + c[1]*p.dyes[1][k] + c[2]*p.dyes[2][k]
		l := p.lamp[k] * (spectrum.Transmit(d) + p.Medium.Flare)
		x[0] += l * o[0][k]
		x[1] += l * o[1][k]
		x[2] += l * o[2][k]
	}
	for i := range x {
		x[i] /= p.gate
	}
	return x
}

// Spectrum is the projected light of layer densities d, wavelength by wavelength, open gate at the lamp's: lamp says
// how bright the lamp is there. A scan has none.
func (p *Print) Spectrum(d, lights [3]float64) (light, lamp spectrum.Curve) {
	if p.Medium.Scan {
		return light, lamp
	}
	c := p.amounts(p.exposure(d), lights)
	for k := range light {
		light[k] = p.lamp[k] * (spectrum.Transmit(p.base[k]+c[0]*p.dyes[0][k]+c[1]*p.dyes[1][k]+c[2]*p.dyes[2][k]) + p.Medium.Flare)
	}
	return light, p.lamp
}

// Light prints and projects: XYZ, open gate at Y = 1, for layer densities d of the negative.
// lights are points away from the timed lights, red, green, blue; more light prints darker.
func (p *Print) Light(d, lights [3]float64) [3]float64 {
	return p.lightOf(p.exposure(d), lights)
}

func (p *Print) lightOf(u, lights [3]float64) [3]float64 {
	if p.Medium.Scan {
		return p.scanned(u, lights)
	}
	return p.project(p.amounts(u, lights))
}

// printed is the log exposure of the layers under the lights, mid grey as it is timed at 0: lights, flash and filters.
func (p *Print) printed(u, lights [3]float64) [3]float64 {
	t := &p.set
	for j := range u {
		u[j] += p.timed[j] - p.offset[j] + pointLog*lights[j]
		if t.Flash > 0 {
			u[j] = math.Log10((math.Pow(10, u[j]) + t.Flash) / (1 + t.Flash))
		}
		if t.Filter != [3][3]float64{} {
			w := zoneWeights(p.place(j, u[j])) // by the layer's own tone, so that it keeps rising
			u[j] -= w[0]*t.Filter[0][j] + w[1]*t.Filter[1][j] + w[2]*t.Filter[2][j]
		}
	}
	return u
}

// place is where a grey stands, of which a layer has this log exposure: that of its green layer.
func (p *Print) place(j int, u float64) float64 {
	if p.scale == nil {
		return u
	}
	return p.scale.place[j].At(u)
}

// amounts are those of the print's dyes for the log exposure of its layers.
func (p *Print) amounts(u, lights [3]float64) [3]float64 {
	t := &p.set
	v := p.printed(u, lights)
	for j := range v {
		v[j] = p.place(j, v[j])
	}
	if t.Contrast != 0 || t.Colour != 0 {
		mean := (v[0] + v[1] + v[2]) / 3
		for j := range v {
			v[j] = (1+t.Contrast)*mean + (1+t.Colour)*(v[j]-mean)
		}
	}
	for j := range v {
		v[j] = p.scale.amount[j].At(v[j])
	}
	return v
}

// zoneWeights are how far a printing log exposure, mid grey at 0, counts as shadow, mid and light; they sum to 1.
// They are ours, not physics: a printer's filter acts on all tones alike. They change slowly enough for filters of
// MostFilter to leave every scale rising.
func zoneWeights(v float64) [3]float64 {
	const edge, soft = 0.25, 5
	shadow, light := sigmoid(soft*(v-edge)), sigmoid(soft*(-v-edge))
	return [3]float64{shadow, 1 - shadow - light, light}
}

// Projector is the chromaticity of the projected white at Y = 1.
func (p *Print) Projector() [3]float64 {
	if p.Medium.Scan {
		return scanWhite
	}
	x := p.lamp.XYZ()
	return [3]float64{x[0] / x[1], 1, x[2] / x[1]}
}

// Lamp is the negative as seen against a lamp of the printer's colour: XYZ, the bare lamp at Y = 1.
func Lamp(n *Negative, d [3]float64) [3]float64 {
	t := n.Spectrum(d)
	for k := range t {
		t[k] = viewing[k] * spectrum.Transmit(t[k])
	}
	x := t.XYZ()
	y := viewing.XYZ()[1]
	return [3]float64{x[0] / y, x[1] / y, x[2] / y}
}

var viewing = spectrum.Daylight(5000)

// LampWhite is the chromaticity of the lamp that Lamp shows a negative against, at Y = 1.
func LampWhite() [3]float64 {
	x := viewing.XYZ()
	return [3]float64{x[0] / x[1], 1, x[2] / x[1]}
}
