// Package spectrum integrates light over wavelength: 380 to 780 nm in steps of 5 nm.
//
// It holds the standard observer, daylight and black bodies. Densities are base 10.
package spectrum

import "math"

const (
	first = 380
	step  = 5
	// N is the number of samples of a Curve.
	N = 81
)

// Curve is a quantity sampled every 5 nm from 380 to 780 nm.
type Curve [N]float64

// Wavelength is that of sample i, in nanometres.
func Wavelength(i int) float64 { return float64(first + step*i) }

// Of samples a function of the wavelength in nanometres.
func Of(f func(nm float64) float64) Curve {
	var c Curve
	for i := range c {
		c[i] = f(float64(first + step*i))
	}
	return c
}

// At is the value at a wavelength, in a straight line between samples; beyond the ends it stays.
func (c *Curve) At(nm float64) float64 {
	u := min(max((nm-first)/step, 0), N-1)
	i := min(int(u), N-2)
	return c[i] + (c[i+1]-c[i])*(u-float64(i))
}

// Raise adds a constant.
func (c *Curve) Raise(v float64) {
	for i := range c {
		c[i] += v
	}
}

// Bell is a Gaussian of height 1 at peak with standard deviation width, in nanometres.
func Bell(nm, peak, width float64) float64 {
	t := (nm - peak) / width
	return math.Exp(-t * t / 2)
}

// Dot sums a·b.
func (a *Curve) Dot(b *Curve) float64 {
	s := 0.0
	for i := range a {
		s += a[i] * b[i]
	}
	return s
}

// Mul is a·b sample by sample.
func (a *Curve) Mul(b *Curve) Curve {
	var c Curve
	for i := range a {
		c[i] = a[i] * b[i]
	}
	return c
}

// Observer is the CIE 1931 2° observer, by the multi-lobe fit of Wyman, Sloan and Shirley
// (JCGT 2013, equation 4), scaled so that X = Y = Z for the equal-energy spectrum holds to their error.
var Observer = func() [3]Curve {
	lobe := func(nm, peak, lo, hi float64) float64 {
		k := hi
		if nm < peak {
			k = lo
		}
		t := (nm - peak) * k
		return math.Exp(-t * t / 2)
	}
	return [3]Curve{
		Of(func(l float64) float64 {
			return 1.056*lobe(l, 599.8, 0.0264, 0.0323) + 0.362*lobe(l, 442.0, 0.0624, 0.0374) - 0.065*lobe(l, 501.1, 0.0490, 0.0382)
		}),
		Of(func(l float64) float64 {
			return 0.821*lobe(l, 568.8, 0.0213, 0.0247) + 0.286*lobe(l, 530.9, 0.0613, 0.0322)
		}),
		Of(func(l float64) float64 {
			return 1.217*lobe(l, 437.0, 0.0845, 0.0278) + 0.681*lobe(l, 459.0, 0.0385, 0.0725)
		}),
	}
}()

// XYZ integrates a spectrum against the observer, not normalised.
func (a *Curve) XYZ() [3]float64 {
	return [3]float64{a.Dot(&Observer[0]), a.Dot(&Observer[1]), a.Dot(&Observer[2])}
}

// Planck is the relative radiance of a black body of t kelvin, 1 at 560 nm.
func Planck(t float64) Curve {
	p := func(nm float64) float64 {
		l := nm * 1e-9
		return math.Pow(l, -5) / math.Expm1(0.014387769/(l*t))
	}
	return Of(func(nm float64) float64 { return p(nm) / p(560) })
}

// Daylight is the CIE daylight of t kelvin, 4000 to 25000 K, 100 at 560 nm (CIE 15:2004, 3.1).
func Daylight(t float64) Curve {
	x := 0.244063 + 0.09911e3/t + 2.9678e6/(t*t) - 4.6070e9/(t*t*t)
	if t > 7000 {
		x = 0.237040 + 0.24748e3/t + 1.9018e6/(t*t) - 2.0064e9/(t*t*t)
	}
	y := -3*x*x + 2.870*x - 0.275
	m := 0.0241 + 0.2562*x - 0.7341*y
	m1, m2 := (-1.3515-1.7703*x+5.9114*y)/m, (0.0300-31.4424*x+30.0717*y)/m
	return Of(func(nm float64) float64 {
		u := (nm - first) / 10
		i := min(int(u), len(dayS0)-2)
		f := u - float64(i)
		at := func(s []float64) float64 { return s[i]*(1-f) + s[i+1]*f }
		return at(dayS0) + m1*at(dayS1) + m2*at(dayS2)
	})
}

// The daylight components from 380 nm in steps of 10 nm (CIE 15:2004, table T.2).
var (
	dayS0 = []float64{63.4, 65.8, 94.8, 104.8, 105.9, 96.8, 113.9, 125.6, 125.5, 121.3, 121.3, 113.5, 113.1, 110.8, 106.5, 108.8, 105.3, 104.4, 100.0, 96.0, 95.1, 89.1, 90.5, 90.3, 88.4, 84.0, 85.1, 81.9, 82.6, 84.9, 81.3, 71.9, 74.3, 76.4, 63.3, 71.7, 77.0, 65.2, 47.7, 68.6, 65.0}
	dayS1 = []float64{38.5, 35.0, 43.4, 46.3, 43.9, 37.1, 36.7, 35.9, 32.6, 27.9, 24.3, 20.1, 16.2, 13.2, 8.6, 6.1, 4.2, 1.9, 0, -1.6, -3.5, -3.5, -5.8, -7.2, -8.6, -9.5, -10.9, -10.7, -12.0, -14.0, -13.6, -12.0, -13.3, -12.9, -10.6, -11.6, -12.2, -10.2, -7.8, -11.2, -10.4}
	dayS2 = []float64{3.0, 1.2, -1.1, -0.5, -0.7, -1.2, -2.6, -2.9, -2.8, -2.6, -2.6, -1.8, -1.5, -1.3, -1.2, -1.0, -0.5, -0.3, 0, 0.2, 0.5, 2.1, 3.2, 4.1, 4.7, 5.1, 6.7, 7.3, 8.6, 9.8, 10.2, 8.3, 9.6, 8.5, 7.0, 7.6, 8.0, 6.7, 5.2, 7.4, 6.8}
)

// Locus is the edge of real colours on the chromaticity plane as x and y, from 400 nm to where it is
// reddest: beyond, both responses are so small that their fit says nothing of their ratio.
func Locus() [][2]float64 {
	var out [][2]float64
	for i := range N {
		if nm := first + step*i; nm < 400 || nm > 700 {
			continue
		}
		x, y, z := Observer[0][i], Observer[1][i], Observer[2][i]
		p := [2]float64{x / (x + y + z), y / (x + y + z)}
		if n := len(out); n > 0 && first+step*i > 600 && p[0] < out[n-1][0] {
			break
		}
		out = append(out, p)
	}
	return out
}
