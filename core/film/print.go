package film

import (
	"math"

	"velours/core/colour"
	"velours/core/curve"
	"velours/core/spectrum"
)

// PointsPerStop is how many printer points make a stop; one point is 0.025 in log exposure.
const (
	PointsPerStop = 12
	pointLog      = 0.025
)

// Print is a medium timed for a negative: its lights are set so that mid grey prints neutral at
// the medium's aim, and its dye curves are solved so that the whole grey scale is neutral on screen.
type Print struct {
	Medium *Medium
	neg    *Negative
	light  [3]spectrum.Curve // printer lamp × sensitivity
	offset [3]float64        // log exposure of mid grey
	dyes   [3]spectrum.Curve
	curves [3]*curve.Monotone // relative log exposure → dye amount
	silver float64            // what the bleach left in, 0…1
	timed  [3]float64         // log exposures by which the lights make up for it
	lamp   spectrum.Curve     // projector
	gate   float64            // its Y, open gate
	// White is the projected light of clear film, Black that of the negative's clear film, XYZ.
	White, Black [3]float64
}

// tone is the neutral scale: visual density for printing log exposure u, mid grey at 0.
func (m *Medium) tone(u, foot float64) float64 {
	top := m.DMax - m.DMin
	return m.DMin + top - softplus(top-m.Gamma*softplus(u-foot, m.Toe), m.Shoulder)
}

// foot places the scale so that mid grey comes to the aim.
func (m *Medium) foot() float64 {
	lo, hi := -3.0, 3.0
	for range 80 {
		mid := (lo + hi) / 2
		if m.tone(0, mid) > m.Aim {
			lo = mid
		} else {
			hi = mid
		}
	}
	return (lo + hi) / 2
}

// NewPrint times the medium for a negative and solves its dye curves. For each neutral tone the
// dye amounts whose projected light has the lamp's chromaticity and the scale's density are found
// by Newton's method on the logarithm of the three cone responses.
func NewPrint(m *Medium, n *Negative) *Print {
	p := &Print{Medium: m, neg: n, lamp: spectrum.Planck(m.Projector)}
	printer := spectrum.Planck(m.Printer)
	for j := range 3 {
		s := lobes([]Lobe{m.Sensitivity[j]})
		p.light[j] = printer.Mul(&s)
		p.dyes[j] = lobes(m.Dyes[j])
	}
	p.gate = p.lamp.XYZ()[1]
	p.offset = p.exposure(n.Grey(n.Shift())) // the lights follow the rating
	foot := m.foot()
	const count = 320
	var at, amount [3][]float64
	dye := [3]float64{1, 1, 1}
	for i := range count {
		// from dense negative (bright scene) to thin: printing exposure rises
		x := 3.6 - 7.2*float64(i)/(count-1)
		u := p.exposure(n.Grey(x))
		for j := range u {
			u[j] -= p.offset[j]
		}
		dye = p.neutral(m.tone(u[1], foot)-m.DMin, dye)
		if i > 0 && (u[0]-at[0][len(at[0])-1] < 1e-5 || u[1]-at[1][len(at[1])-1] < 1e-5 || u[2]-at[2][len(at[2])-1] < 1e-5) {
			continue
		}
		for j := range 3 {
			at[j] = append(at[j], u[j])
			amount[j] = append(amount[j], dye[j])
		}
	}
	for j := range 3 {
		p.curves[j] = curve.NewMonotone(at[j], amount[j])
	}
	p.White = p.project([3]float64{})
	p.Black = p.Light(n.Grey(-3.6), [3]float64{})
	return p
}

// Retain is the print with a share of its silver left in, 0…1: neutral density beside its dyes, so that it is
// steeper, darker where it is dark, and paler. Its lights are timed anew, so that mid grey stays at the aim.
func (p *Print) Retain(silver float64) *Print {
	if silver == 0 {
		return p
	}
	q := *p
	q.silver = silver
	for i := range q.dyes {
		q.dyes[i].Raise(silver * silverDensity)
	}
	at := p.neg.Shift()
	grey := p.neg.Grey(at)
	aim := p.Light(grey, [3]float64{})[1]
	// thinner by as much as a brighter grey prints thinner, layer by layer, so that greys stay
	lo, hi := 0.0, 1.5
	for range 50 {
		x := (lo + hi) / 2
		u := p.exposure(p.neg.Grey(at + x))
		for j := range u {
			q.timed[j] = u[j] - p.offset[j]
		}
		if q.Light(grey, [3]float64{})[1] < aim {
			lo = x
		} else {
			hi = x
		}
	}
	q.Black = q.Light(p.neg.Grey(-3.6), [3]float64{})
	return &q
}

// exposure is the log exposure of the print's layers through layer densities d.
func (p *Print) exposure(d [3]float64) [3]float64 {
	t := p.neg.Spectrum(d)
	for k := range t {
		t[k] = spectrum.Transmit(t[k])
	}
	return [3]float64{math.Log10(t.Dot(&p.light[0])), math.Log10(t.Dot(&p.light[1])), math.Log10(t.Dot(&p.light[2]))}
}

// project is the light of dye amounts, flare included: XYZ with open gate at Y = 1.
func (p *Print) project(c [3]float64) [3]float64 {
	var x [3]float64
	o := &spectrum.Observer
	for k := range p.lamp {
		d := p.Medium.DMin + c[0]*p.dyes[0][k] + c[1]*p.dyes[1][k] + c[2]*p.dyes[2][k]
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

// neutral finds the dye amounts whose light, flare left out, is the lamp's dimmed by density d.
func (p *Print) neutral(d float64, start [3]float64) [3]float64 {
	o := &spectrum.Observer
	cone := func(c [3]float64) [3]float64 {
		var x [3]float64
		for k := range p.lamp {
			l := p.lamp[k] * math.Exp(-math.Ln10*(c[0]*p.dyes[0][k]+c[1]*p.dyes[1][k]+c[2]*p.dyes[2][k]))
			x[0] += l * o[0][k]
			x[1] += l * o[1][k]
			x[2] += l * o[2][k]
		}
		v := coneResponse.Apply(x)
		return [3]float64{-math.Log10(v[0]), -math.Log10(v[1]), -math.Log10(v[2])}
	}
	zero := cone([3]float64{})
	c := start
	for range 60 {
		v := cone(c)
		var r [3]float64
		worst := 0.0
		for i := range r {
			r[i] = d + zero[i] - v[i]
			worst = max(worst, math.Abs(r[i]))
		}
		if worst < 1e-10 {
			break
		}
		var j colour.Matrix
		const e = 1e-5
		for k := range 3 {
			q := c
			q[k] += e
			w := cone(q)
			for i := range 3 {
				j[3*i+k] = (w[i] - v[i]) / e
			}
		}
		s := j.Inverse().Apply(r)
		for i := range c {
			c[i] += min(max(s[i], -0.5), 0.5)
		}
	}
	return c
}

// coneResponse is all-positive (Hunt–Pointer–Estévez, normalised to equal energy), so that its
// logarithm exists for every light.
var coneResponse = colour.Matrix{0.38971, 0.68898, -0.07868, -0.22981, 1.18340, 0.04641, 0, 0, 1}

// Light prints and projects: XYZ, open gate at Y = 1, for layer densities d of the negative.
// lights are points away from the timed lights, red, green, blue; more light prints darker.
func (p *Print) Light(d, lights [3]float64) [3]float64 {
	return p.lightOf(p.exposure(d), lights)
}

func (p *Print) lightOf(u, lights [3]float64) [3]float64 {
	var c [3]float64
	for j := range c {
		c[j] = p.curves[j].At(u[j] - p.offset[j] + p.timed[j] + pointLog*lights[j])
	}
	return p.project(c)
}

// Projector is the chromaticity of the projected white at Y = 1.
func (p *Print) Projector() [3]float64 {
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
