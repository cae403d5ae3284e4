package lut

import "math"

// halfValue is the number that 16 bits stand for (IEEE 754 binary16).
func halfValue(h uint16) float64 {
	s := 1.0
	if h&0x8000 != 0 {
		s = -1
	}
	e, m := int(h>>10&31), float64(h&0x3ff)
	switch e {
	case 0:
		return s * math.Ldexp(m, -24)
	case 31:
		if m != 0 {
			return math.NaN()
		}
		return s * math.Inf(1)
	}
	return s * math.Ldexp(1+m/1024, e-15)
}

// halfBelow is the largest half float not above v, for v from 0 to 65504.
func halfBelow(v float64) uint16 {
	if v < math.Ldexp(1, -14) {
		return uint16(math.Ldexp(v, 24))
	}
	f, e := math.Frexp(v) // v = f·2^e, ½ ≤ f < 1
	return uint16(e+14)<<10 | uint16((2*f-1)*1024)
}
