package film

import (
	"math"

	"velours/core/colour"
	"velours/core/spectrum"
)

// A scan reads printing density at 0.002 a code of 10 bits, the trade's way of writing negatives down: what lies
// below is black at 95, mid grey comes to 445. Of a positive, twice as dense, a code is 0.004.
const (
	scanStep = 0.002
	scanMid  = 445.0
	scanTop  = 1023.0
)

var (
	scanPrimaries = colour.BT709
	scanWhite     = scanPrimaries.White.XYZ()
)

// band is the narrow ear of a densitometer or scanner at a wavelength.
func band(nm float64) spectrum.Curve { return lobes([]Lobe{{nm, bandWidth, 1}}) }

const bandWidth = 12

// scanGain is codes for a decade of printing density, layer by layer: a scanner is balanced for the roll, so that
// the layers of the stock, as it is meant, rise alike.
func (p *Print) scanGain() [3]float64 {
	of := Develop(p.neg.Stock, Process{Strength: 1, Crossed: p.neg.Process.Crossed})
	at := func(x float64) [3]float64 { return logExposure(of.Spectrum(of.Grey(x)), &p.light) }
	lo, hi := at(-0.3), at(0.3)
	var slope [3]float64
	mean := 0.0
	for j := range slope {
		slope[j] = lo[j] - hi[j]
		mean += slope[j] / 3
	}
	step := scanStep
	if p.neg.positive { // which falls, and is twice as dense
		step, mean = 2*scanStep, -mean
	}
	for j := range slope {
		slope[j] = mean / slope[j] / step
	}
	return slope
}

// codes is the scan of layers of this log exposure, as 10-bit codes over 1023. The lights of a scanner go the way of a
// printer's: more of them is darker.
func (p *Print) codes(u, lights [3]float64) [3]float64 {
	c := p.printed(u, lights)
	for j := range c {
		c[j] = (scanMid - p.gain[j]*c[j]) / scanTop
	}
	return c
}

// scanned is a scan shown as it is, on a display of power 2.4.
func (p *Print) scanned(u, lights [3]float64) [3]float64 {
	c := p.codes(u, lights)
	for j := range c {
		c[j] = math.Pow(min(softplus(c[j], 20), 1), 2.4) // what is darker than black comes softly
	}
	return scanPrimaries.ToXYZ().Apply(c)
}

// Scan makes a scanner for a negative; Codes is what it reads of layer densities.
type Scan struct{ p *Print }

// NewScan prepares a scan of a negative, balanced as those of media are.
func NewScan(n *Negative) *Scan {
	return &Scan{makeReady(&Medium{ID: "scan", Scan: true, Projector: 5400}, n, false)}
}

// Codes are 10-bit codes over 1023: mid grey at 445.
func (s *Scan) Codes(d [3]float64) [3]float64 { return s.p.codes(s.p.exposure(d), [3]float64{}) }
