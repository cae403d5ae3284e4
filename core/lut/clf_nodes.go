package lut

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"velours/core/vec"
)

// node turns XML into the node it describes.
func (n *clfNode) node() (Node, error) {
	in, out := depths[n.In], depths[n.Out]
	if in == 0 || out == 0 {
		return nil, fmt.Errorf("bit depths %.8q to %.8q; each is one of 8i, 10i, 12i, 16i, 16f and 32f", n.In, n.Out)
	}
	if n.IndexMap != nil {
		return nil, errors.New("has an IndexMap, which version 3 of the format has no more")
	}
	switch n.XMLName.Local {
	case "Matrix":
		return n.matrix(in, out)
	case "LUT1D":
		return n.table1(out)
	case "LUT3D":
		return n.table3(out)
	case "Range":
		return n.limits(in, out)
	case "Log":
		return n.log()
	case "Exponent":
		return n.exponent()
	case "ASC_CDL":
		return n.cdl()
	}
	return nil, errors.New("is not a process node that is known here")
}

// array reads the numbers of an Array that has any of the shapes.
func (n *clfNode) array(max int, shape func(dim []int) (count int, ok bool)) ([]float64, []int, error) {
	if n.Array == nil {
		return nil, nil, errors.New("has no Array")
	}
	var dim []int
	for _, w := range strings.Fields(n.Array.Dim) {
		v, err := strconv.Atoi(w)
		if err != nil || v < 1 || v > max || len(dim) == 4 {
			return nil, nil, fmt.Errorf("dim is %.40q; its numbers go from 1 to %d", n.Array.Dim, max)
		}
		dim = append(dim, v)
	}
	count, ok := shape(dim)
	if !ok {
		return nil, nil, fmt.Errorf("dim is %.40q, which does not suit it", n.Array.Dim)
	}
	var out []float64
	for w := range strings.FieldsSeq(n.Array.Data) {
		v, err := strconv.ParseFloat(w, 64)
		if err != nil || math.IsNaN(v) || math.Abs(v) > math.MaxFloat32 {
			return nil, nil, fmt.Errorf("%.20q is not a number that can be used", w)
		}
		if len(out) == count {
			return nil, nil, fmt.Errorf("more than the %d numbers that dim asks for", count)
		}
		out = append(out, v)
	}
	if len(out) != count {
		return nil, nil, fmt.Errorf("%d numbers where dim asks for %d", len(out), count)
	}
	return out, dim, nil
}

func (n *clfNode) matrix(in, out float64) (Node, error) {
	v, dim, err := n.array(4, func(d []int) (int, bool) {
		if len(d) == 3 && d[2] == 3 { // as version 2 wrote it
			d = d[:2]
		}
		if len(d) != 2 || d[0] != 3 || d[1] < 3 {
			return 0, false
		}
		return d[0] * d[1], true
	})
	if err != nil {
		return nil, err
	}
	m := &Matrix{}
	for i := range 3 {
		for j := range dim[1] {
			k := in / out
			if j == 3 {
				k = 1 / out
			}
			m[4*i+j] = v[i*dim[1]+j] * k
		}
	}
	return m, nil
}

func (n *clfNode) table1(out float64) (Node, error) {
	if n.HueAdjust != "" {
		return nil, fmt.Errorf("hueAdjust %.20q is not known here", n.HueAdjust)
	}
	v, dim, err := n.array(Max1, func(d []int) (int, bool) {
		if len(d) != 2 || d[0] < 2 || d[1] != 1 && d[1] != 3 {
			return 0, false
		}
		return d[0] * d[1], true
	})
	if err != nil {
		return nil, err
	}
	t := &Table1{Hi: [3]float64{1, 1, 1}, HalfDomain: n.HalfDomain == "true"}
	if t.HalfDomain && dim[0] != Max1 {
		return nil, fmt.Errorf("a half-domain table has %d entries, not %d", Max1, dim[0])
	}
	for c := range 3 {
		t.Curves[c] = make([]float32, dim[0])
		for i := range dim[0] {
			x := v[i*dim[1]+c%dim[1]]
			if n.RawHalfs == "true" {
				if x != math.Trunc(x) || x < 0 || x > 65535 {
					return nil, fmt.Errorf("%g is not the bits of a half float", x)
				}
				if x = halfValue(uint16(x)); math.IsNaN(x) {
					x = 0
				}
			} else {
				x /= out
			}
			t.Curves[c][i] = float32(max(min(x, math.MaxFloat32), -math.MaxFloat32))
		}
	}
	return t, nil
}

func (n *clfNode) table3(out float64) (Node, error) {
	v, dim, err := n.array(max3CLF, func(d []int) (int, bool) {
		if len(d) != 4 || d[0] < 2 || d[1] != d[0] || d[2] != d[0] || d[3] != 3 {
			return 0, false
		}
		return 3 * d[0] * d[0] * d[0], true
	})
	if err != nil {
		return nil, err
	}
	size := dim[0]
	t := &Table3{Hi: [3]float64{1, 1, 1}, Cube: vec.NewTable3(size)}
	for i := range size { // blue runs fastest
		for j := range size {
			for k := range size {
				t.Cube.Set(i, j, k, float32(v[0]/out), float32(v[1]/out), float32(v[2]/out))
				v = v[3:]
			}
		}
	}
	return t, nil
}

func (n *clfNode) limits(in, out float64) (Node, error) {
	r := &Range{Clamp: !strings.EqualFold(n.Style, "noClamp")}
	for _, f := range []struct {
		text *string
		to   *float64
		unit float64
	}{{n.MinIn, &r.MinIn, in}, {n.MaxIn, &r.MaxIn, in}, {n.MinOut, &r.MinOut, out}, {n.MaxOut, &r.MaxOut, out}} {
		*f.to = math.NaN()
		if f.text != nil {
			var v [1]float64
			if err := floats(*f.text, v[:]); err != nil {
				return nil, err
			}
			*f.to = v[0] / f.unit
		}
	}
	low, high := !math.IsNaN(r.MinIn), !math.IsNaN(r.MaxIn)
	switch {
	case low == math.IsNaN(r.MinOut) || high == math.IsNaN(r.MaxOut):
		return nil, errors.New("a bound for what comes in needs one for what goes out")
	case !low && !high, !r.Clamp && !(low && high):
		return nil, errors.New("lacks bounds")
	case low && high && (r.MinIn >= r.MaxIn || r.MinOut > r.MaxOut):
		return nil, errors.New("its lower bound is not below its upper one")
	case low && !high && math.Abs(r.MinIn-r.MinOut) > 1e-6, high && !low && math.Abs(r.MaxIn-r.MaxOut) > 1e-6:
		return nil, errors.New("one bound alone only clamps: what comes in there goes out there")
	}
	return r, nil
}

// perChannel calls set for the channels that "R", "G", "B" or nothing stands for.
func perChannel(channel string, set func(c int)) error {
	switch channel {
	case "":
		for c := range 3 {
			set(c)
		}
	case "R", "G", "B":
		set(strings.Index("RGB", channel))
	default:
		return fmt.Errorf("channel is %.10q; it is R, G or B", channel)
	}
	return nil
}

func number(name, s string, or float64) (float64, error) {
	if s == "" {
		return or, nil
	}
	var v [1]float64
	if err := floats(s, v[:]); err != nil {
		return 0, fmt.Errorf("%s: %w", name, err)
	}
	return v[0], nil
}

func (n *clfNode) log() (Node, error) {
	l := &Log{}
	base := 2.0
	plain := true
	switch n.Style {
	case "log10", "antiLog10":
		base, l.ToLog = 10, n.Style == "log10"
	case "log2", "antiLog2":
		l.ToLog = n.Style == "log2"
	case "linToLog", "cameraLinToLog", "logToLin", "cameraLogToLin":
		plain, l.ToLog = false, strings.HasSuffix(n.Style, "inToLog")
	default:
		return nil, fmt.Errorf("style %.20q is not known", n.Style)
	}
	for c := range l.Params {
		l.Params[c] = PlainLog(base)
	}
	if plain {
		return l, nil
	}
	var given [3]bool
	for _, p := range n.LogParams {
		q := PlainLog(2)
		for _, f := range []struct {
			name, text string
			to         *float64
		}{
			{"base", p.Base, &q.Base}, {"logSideSlope", p.LogSlope, &q.LogSlope}, {"logSideOffset", p.LogOffset, &q.LogOffset},
			{"linSideSlope", p.LinSlope, &q.LinSlope}, {"linSideOffset", p.LinOffset, &q.LinOffset},
			{"linSideBreak", p.Break, &q.Break}, {"linearSlope", p.LinearSlope, &q.LinearSlope},
		} {
			v, err := number(f.name, f.text, *f.to)
			if err != nil {
				return nil, err
			}
			*f.to = v
		}
		if err := q.Check(); err != nil {
			return nil, err
		}
		if camera := strings.HasPrefix(n.Style, "camera"); camera == math.IsNaN(q.Break) {
			return nil, errors.New("a camera style, and no other, has a linSideBreak")
		}
		if err := perChannel(p.Channel, func(c int) { l.Params[c], given[c] = q, true }); err != nil {
			return nil, err
		}
	}
	if given != [3]bool{true, true, true} {
		return nil, errors.New("has no LogParams for all three channels")
	}
	return l, nil
}

// exponents are the styles of an Exponent node.
var exponents = map[string]Exponent{
	"basicFwd": {Style: Basic}, "basicRev": {Style: Basic, Reverse: true},
	"basicMirrorFwd": {Style: Mirror}, "basicMirrorRev": {Style: Mirror, Reverse: true},
	"basicPassThruFwd": {Style: Pass}, "basicPassThruRev": {Style: Pass, Reverse: true},
	"monCurveFwd": {Style: Monitor}, "monCurveRev": {Style: Monitor, Reverse: true},
	"monCurveMirrorFwd": {Style: MonMirr}, "monCurveMirrorRev": {Style: MonMirr, Reverse: true},
}

func (n *clfNode) exponent() (Node, error) {
	e, ok := exponents[n.Style]
	if !ok {
		return nil, fmt.Errorf("style %.20q is not known", n.Style)
	}
	e.Gamma = [3]float64{1, 1, 1}
	if len(n.ExponentParams) == 0 {
		return nil, errors.New("has no ExponentParams")
	}
	monitor := e.Style == Monitor || e.Style == MonMirr
	for _, p := range n.ExponentParams {
		g, err := number("exponent", p.Exponent, math.NaN())
		if err != nil {
			return nil, err
		}
		o, err := number("offset", p.Offset, 0)
		if err != nil {
			return nil, err
		}
		switch {
		case !monitor && !(g >= 0.01 && g <= 100):
			return nil, fmt.Errorf("exponent is %.20q; it goes from 0.01 to 100", p.Exponent)
		case monitor && !(g >= 1 && g <= 10):
			return nil, fmt.Errorf("exponent is %.20q; it goes from 1 to 10 here", p.Exponent)
		case monitor && !(o >= 0 && o <= 0.9), !monitor && o != 0:
			return nil, fmt.Errorf("offset is %.20q; it goes from 0 to 0.9, for the monCurve styles", p.Offset)
		}
		if err := perChannel(p.Channel, func(c int) { e.Gamma[c], e.Offset[c] = g, o }); err != nil {
			return nil, err
		}
	}
	return &e, nil
}

func (n *clfNode) cdl() (Node, error) {
	c := NewCDL()
	switch n.Style {
	case "", "Fwd", "v1.2_Fwd":
	case "Rev", "v1.2_Rev":
		c.Reverse = true
	case "FwdNoClamp", "noClampFwd":
		c.NoClamp = true
	case "RevNoClamp", "noClampRev":
		c.NoClamp, c.Reverse = true, true
	default:
		return nil, fmt.Errorf("style %.20q is not known", n.Style)
	}
	return c, c.values(n.SOP, n.Sat)
}
