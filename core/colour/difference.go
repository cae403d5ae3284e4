package colour

import "math"

// Lab is CIE L*a*b* of XYZ against a white, both on the same scale (CIE 15:2004, 8.2.1).
func Lab(xyz, white [3]float64) [3]float64 {
	f := func(t float64) float64 {
		if t > 216.0/24389 {
			return math.Cbrt(t)
		}
		return (24389.0/27*t + 16) / 116
	}
	x, y, z := f(xyz[0]/white[0]), f(xyz[1]/white[1]), f(xyz[2]/white[2])
	return [3]float64{116*y - 16, 500 * (x - y), 200 * (y - z)}
}

// DeltaE2000 is the CIEDE2000 difference of two L*a*b* colours (CIE 142:2001; Sharma, Wu & Dalal 2005).
func DeltaE2000(p, q [3]float64) float64 {
	c1, c2 := math.Hypot(p[1], p[2]), math.Hypot(q[1], q[2])
	c7 := math.Pow((c1+c2)/2, 7)
	g := 0.5 * (1 - math.Sqrt(c7/(c7+math.Pow(25, 7))))
	a1, a2 := p[1]*(1+g), q[1]*(1+g)
	c1, c2 = math.Hypot(a1, p[2]), math.Hypot(a2, q[2])
	hue := func(a, b float64) float64 {
		if a == 0 && b == 0 {
			return 0
		}
		h := math.Atan2(b, a) * 180 / math.Pi
		if h < 0 {
			h += 360
		}
		return h
	}
	h1, h2 := hue(a1, p[2]), hue(a2, q[2])
	dl, dc := q[0]-p[0], c2-c1
	dh := h2 - h1
	switch {
	case c1*c2 == 0:
		dh = 0
	case dh > 180:
		dh -= 360
	case dh < -180:
		dh += 360
	}
	rad := math.Pi / 180
	dH := 2 * math.Sqrt(c1*c2) * math.Sin(dh/2*rad)
	l, c := (p[0]+q[0])/2, (c1+c2)/2
	h := h1 + h2
	if c1*c2 != 0 {
		switch {
		case math.Abs(h1-h2) <= 180:
			h /= 2
		case h < 360:
			h = (h + 360) / 2
		default:
			h = (h - 360) / 2
		}
	}
	t := 1 - 0.17*math.Cos((h-30)*rad) + 0.24*math.Cos(2*h*rad) + 0.32*math.Cos((3*h+6)*rad) - 0.20*math.Cos((4*h-63)*rad)
	sl := 1 + 0.015*(l-50)*(l-50)/math.Sqrt(20+(l-50)*(l-50))
	sc, sh := 1+0.045*c, 1+0.015*c*t
	c7 = math.Pow(c, 7)
	rt := -math.Sin(60*math.Exp(-math.Pow((h-275)/25, 2))*rad) * 2 * math.Sqrt(c7/(c7+math.Pow(25, 7)))
	return math.Sqrt(dl/sl*dl/sl + dc/sc*dc/sc + dH/sh*dH/sh + rt*dc/sc*dH/sh)
}
