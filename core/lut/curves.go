package lut

import (
	"errors"
	"fmt"
	"math"
)

// Log is a logarithmic or exponential curve, channel by channel (S-2014-006, Log). With the values
// of CameraLog it is the six-parameter curve of camera makers, with a straight piece below Break.
type Log struct {
	// ToLog goes from light to code, otherwise from code to light.
	ToLog  bool
	Params [3]LogParams
}

// LogParams: code = LogSlope·log_base(LinSlope·light + LinOffset) + LogOffset. A curve with a break
// goes on below it as LinearSlope·light + what meets there; a NaN LinearSlope means the slope there.
type LogParams struct {
	Base                                     float64
	LogSlope, LogOffset, LinSlope, LinOffset float64
	Break, LinearSlope                       float64 // light; NaN for none
}

// PlainLog is the curve log_base(x) with no break.
func PlainLog(base float64) LogParams {
	return LogParams{Base: base, LogSlope: 1, LinSlope: 1, Break: math.NaN(), LinearSlope: math.NaN()}
}

// tiny keeps logarithms finite, as the specification asks: the smallest normal float32.
const tiny = 1.1754943508222875e-38

// Code is the code value of light x.
func (p *LogParams) Code(x float64) float64 {
	if !math.IsNaN(p.Break) && x <= p.Break {
		k, o := p.linear()
		return k*x + o
	}
	return p.LogSlope*math.Log(math.Max(p.LinSlope*x+p.LinOffset, tiny))/math.Log(p.Base) + p.LogOffset
}

// Light is what code value y stands for.
func (p *LogParams) Light(y float64) float64 {
	if !math.IsNaN(p.Break) {
		k, o := p.linear()
		if y <= k*p.Break+o {
			return (y - o) / k
		}
	}
	return (math.Pow(p.Base, (y-p.LogOffset)/p.LogSlope) - p.LinOffset) / p.LinSlope
}

// linear is the straight piece: it meets the curve at the break.
func (p *LogParams) linear() (slope, offset float64) {
	at := p.LinSlope*p.Break + p.LinOffset
	slope = p.LinearSlope
	if math.IsNaN(slope) {
		slope = p.LogSlope * p.LinSlope / (at * math.Log(p.Base))
	}
	return slope, p.LogSlope*math.Log(at)/math.Log(p.Base) + p.LogOffset - slope*p.Break
}

// Apply implements Node.
func (l *Log) Apply(c [3]float64) [3]float64 {
	for i := range c {
		if l.ToLog {
			c[i] = l.Params[i].Code(c[i])
		} else {
			c[i] = l.Params[i].Light(c[i])
		}
	}
	return c
}

// How an Exponent treats numbers below zero, or below its straight piece.
const (
	Basic   = "basic"     // below zero is zero
	Mirror  = "mirror"    // odd: the curve turned about zero
	Pass    = "passThru"  // below zero passes unchanged
	Monitor = "monCurve"  // a straight piece near black, through zero and on
	MonMirr = "monMirror" // the same, turned about zero
)

// Exponent is a power curve (S-2014-006, Exponent).
type Exponent struct {
	Style   string
	Reverse bool
	Gamma   [3]float64
	Offset  [3]float64 // of the monitor styles
}

// Apply implements Node.
func (e *Exponent) Apply(c [3]float64) [3]float64 {
	for i, v := range c {
		g := e.Gamma[i]
		if e.Reverse {
			g = 1 / g
		}
		switch e.Style {
		case Basic:
			v = math.Pow(math.Max(v, 0), g)
		case Mirror:
			v = math.Copysign(math.Pow(math.Abs(v), g), v)
		case Pass:
			if v > 0 {
				v = math.Pow(v, g)
			}
		case Monitor:
			v = e.monitor(v, i)
		case MonMirr:
			v = math.Copysign(e.monitor(math.Abs(v), i), v)
		}
		c[i] = v
	}
	return c
}

// monitor is ((x + o)/(1 + o))^g with a tangent through zero, or its inverse.
func (e *Exponent) monitor(v float64, i int) float64 {
	g, o := e.Gamma[i], e.Offset[i]
	if g == 1 || o == 0 {
		if e.Reverse {
			g = 1 / g
		}
		if v < 0 {
			return v
		}
		return math.Pow(v, g)
	}
	at := o / (g - 1) // where the tangent through zero touches
	slope := math.Pow((at+o)/(1+o), g) / at
	if e.Reverse {
		if v >= at*slope {
			return (1+o)*math.Pow(v, 1/g) - o
		}
		return v / slope
	}
	if v >= at {
		return math.Pow((v+o)/(1+o), g)
	}
	return v * slope
}

// CDL is an ASC colour decision: slope, offset and power for each channel, then saturation about
// the BT.709 luma. Without NoClamp, it is held to 0…1 after each of the two parts.
type CDL struct {
	ID                   string // how a collection names it
	Note                 string
	Slope, Offset, Power [3]float64
	Saturation           float64
	Reverse, NoClamp     bool
}

// NewCDL changes nothing.
func NewCDL() *CDL {
	one := [3]float64{1, 1, 1}
	return &CDL{Slope: one, Power: one, Saturation: 1}
}

// Apply implements Node (ASC CDL 1.2; S-2014-006, ASC_CDL).
func (d *CDL) Apply(c [3]float64) [3]float64 {
	clamp := func(v float64) float64 { return math.Min(math.Max(v, 0), 1) }
	if d.NoClamp {
		clamp = func(v float64) float64 { return v }
	}
	power := func(v, p float64) float64 {
		if v < 0 && d.NoClamp {
			return v
		}
		return math.Pow(v, p)
	}
	luma := func() float64 { return 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2] }
	if d.Reverse {
		for i := range c {
			c[i] = clamp(c[i])
		}
		y := luma()
		for i := range c {
			v := clamp(y + (c[i]-y)/d.Saturation)
			c[i] = clamp((power(v, 1/d.Power[i]) - d.Offset[i]) / d.Slope[i])
		}
		return c
	}
	for i := range c {
		c[i] = power(clamp(c[i]*d.Slope[i]+d.Offset[i]), d.Power[i])
	}
	y := luma()
	for i := range c {
		c[i] = clamp(y + d.Saturation*(c[i]-y))
	}
	return c
}

// Check says why the numbers cannot make a curve.
func (p *LogParams) Check() error {
	switch {
	case !(p.Base > 0) || p.Base == 1:
		return fmt.Errorf("a base of %g; it is above 0 and not 1", p.Base)
	case p.LogSlope == 0 || p.LinSlope == 0:
		return errors.New("a slope of 0")
	case p.LinearSlope == 0:
		return errors.New("a linear slope of 0")
	case !math.IsNaN(p.Break) && p.LinSlope*p.Break+p.LinOffset <= 0:
		return errors.New("a break where the logarithm has no value")
	}
	return nil
}
