package film

import (
	"math"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/curve"
	"velours/core/spectrum"
)

// scale is the neutral scale of a medium, solved once for the negative that it is balanced for: in what proportion
// its layers must be exposed, and how much of each dye that makes, for a grey to be grey on the screen.
type scale struct {
	// place takes a layer's log exposure, mid grey at 0, to that of the green layer in the same grey.
	place [3]*curve.Monotone
	// amount is the amount of dye that a layer makes there.
	amount [3]*curve.Monotone
}

var scales = cache.Results[*scale]{Size: 160}

// balanced is the negative for which the greys of a medium are neutral: the reference, but for black and white, and
// for positives: projected, themselves, as they are meant; printed, the stock that their card names, if it does.
func (n *Negative) balanced(projected bool) *Negative {
	if n.Stock.Mono || n.positive {
		s := *n.Stock
		if !projected && n.Stock.Reversal && n.positive && s.Greys != "" {
			if named, err := FindStock(s.Greys); err == nil && named.Reversal {
				s = *named
			}
		}
		s.Fade = [3]float64{} // what has faded since was balanced when it was new
		return Develop(&s, Process{Strength: 1, Crossed: n.Process.Crossed})
	}
	return Develop(Reference(), Process{Strength: 1})
}

// tone is the neutral scale of a medium: visual density for printing log exposure u, mid grey at 0.
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

// The scale is solved where the negative exposes it, and goes on beyond by so much log exposure, all layers alike:
// other negatives reach further.
const scaleBeyond, scaleSteps = 1.6, 320

// solve finds, for each neutral tone, the dye amounts whose projected light has the lamp's chromaticity, or the
// declared cast, and the scale's density, by Newton's method on the logarithm of the three cone responses.
func (p *Print) solve() *scale {
	ref := p.neg // which is balanced here
	var at, amount [3][]float64
	var green []float64
	dye := [3]float64{1, 1, 1}
	var foot float64
	if !p.Medium.Direct {
		foot = p.Medium.foot()
	}
	add := func(u [3]float64) {
		if k := len(green); k > 0 {
			for j := range u {
				if u[j]-at[j][k-1] < 1e-5 {
					return
				}
			}
		}
		d := 0.0
		if p.Medium.Direct {
			d = ref.Curve(1, -u[1])
		} else {
			d = p.Medium.tone(u[1], foot) - p.Medium.DMin
		}
		if p.Medium.Mono || ref.Stock.Mono && p.Medium.Direct {
			dye = [3]float64{d, d, d} // a third of the silver in each
		} else {
			dye = p.neutral(d, dye)
		}
		green = append(green, u[1])
		for j := range 3 {
			at[j], amount[j] = append(at[j], u[j]), append(amount[j], dye[j])
		}
	}
	grey := func(x float64) [3]float64 {
		u := p.exposure(ref.Grey(x))
		for j := range u {
			u[j] -= p.offset[j]
		}
		return u
	}
	from, to := grey(3.6), grey(-3.6)
	if !(from[1] < to[1]) { // a positive, or a print of one: what is bright exposes most
		from, to = to, from
	}
	const beyond = 40
	for i := beyond; i > 0; i-- {
		b := scaleBeyond * float64(i) / beyond
		add([3]float64{from[0] - b, from[1] - b, from[2] - b})
	}
	for i := range scaleSteps {
		x := 3.6 - 7.2*float64(i)/(scaleSteps-1)
		if grey(3.6) != from {
			x = -x
		}
		add(grey(x))
	}
	for i := 1; i <= beyond; i++ {
		b := scaleBeyond * float64(i) / beyond
		add([3]float64{to[0] + b, to[1] + b, to[2] + b})
	}
	s := &scale{}
	for j := range 3 {
		s.place[j], s.amount[j] = curve.NewMonotone(at[j], green), curve.NewMonotone(green, amount[j])
	}
	return s
}

// neutral finds the dye amounts whose light, base and flare left out, is the lamp's dimmed by density d and
// turned by the medium's cast.
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
		return logCone(x)
	}
	want := logCone(p.Medium.turned(p.lamp.XYZ(), d))
	c := start
	for range 60 {
		v := cone(c)
		var r [3]float64
		worst := 0.0
		for i := range r {
			r[i] = want[i] - v[i]
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

// logCone is the density to the three cones of a light.
func logCone(xyz [3]float64) [3]float64 {
	v := coneResponse.Apply(xyz)
	return [3]float64{-math.Log10(v[0]), -math.Log10(v[1]), -math.Log10(v[2])}
}

// castDepth is the lightness, of 1, at which a cast has faded to two thirds towards black.
const castDepth = 0.08

// turned is a white dimmed by density d, with the medium's declared cast: that of lights and that of darks, by
// lightness. It fades out towards clear film, which has no dyes to make it, and towards black, where it would be no
// colour of a print.
func (m *Medium) turned(white [3]float64, d float64) [3]float64 {
	y := math.Pow(10, -d)
	if m.Darks == [2]float64{} && m.Lights == [2]float64{} {
		return [3]float64{white[0] * y, white[1] * y, white[2] * y}
	}
	f := math.Cbrt(y)
	lightness := 1.16*f - 0.16
	if y < 0.008856 {
		lightness = 9.033 * y
		f = 7.787*y + 16.0/116
	}
	there := (1 - math.Pow(10, -4*d)) * (1 - math.Exp(-lightness/castDepth))
	a := there * (m.Darks[0] + (m.Lights[0]-m.Darks[0])*lightness)
	b := there * (m.Darks[1] + (m.Lights[1]-m.Darks[1])*lightness)
	back := func(t float64) float64 {
		if t > 6.0/29 {
			return t * t * t
		}
		return max((t-16.0/116)/7.787, 0.02*y)
	}
	return [3]float64{white[0] * back(f+a/500), white[1] * y, white[2] * back(f-b/200)}
}

// coneResponse is all-positive (Hunt–Pointer–Estévez, normalised to equal energy), so that its
// logarithm exists for every light.
var coneResponse = colour.Matrix{0.38971, 0.68898, -0.07868, -0.22981, 1.18340, 0.04641, 0, 0, 1}
