package spectrum

import (
	"math"
	"testing"
)

func xy(c Curve) (float64, float64) {
	v := c.XYZ()
	s := v[0] + v[1] + v[2]
	return v[0] / s, v[1] / s
}

// Chromaticities from CIE 15:2004; the observer fit is good to about 0.003.
func TestIlluminants(t *testing.T) {
	for _, c := range []struct {
		name string
		c    Curve
		x, y float64
	}{
		{"D65", Daylight(6504), 0.3127, 0.3290},
		{"D55", Daylight(5503), 0.3324, 0.3474},
		{"A", Planck(2856), 0.4476, 0.4074},
		{"equal energy", Of(func(float64) float64 { return 1 }), 1.0 / 3, 1.0 / 3},
	} {
		x, y := xy(c.c)
		if math.Hypot(x-c.x, y-c.y) > 0.004 {
			t.Errorf("%s is at %.4f %.4f, want %.4f %.4f", c.name, x, y, c.x, c.y)
		}
	}
}

func TestTransmitIsTheExponential(t *testing.T) {
	for d := -0.5; d < 9; d += 0.00137 {
		if got, want := Transmit(d), math.Pow(10, -d); math.Abs(got/want-1) > 1e-9 {
			t.Fatalf("density %g: %g, want %g", d, got, want)
		}
	}
}

// Points of the spectrum locus from CIE 15:2004, table T.4; the observer is a fit.
func TestLocus(t *testing.T) {
	l := Locus()
	for _, want := range [][2]float64{{0.1355, 0.0399}, {0.0743, 0.8338}, {0.3731, 0.6245}, {0.6270, 0.3725}} { // 470, 520, 560, 600 nm
		near := math.Inf(1)
		for _, p := range l {
			near = min(near, math.Hypot(p[0]-want[0], p[1]-want[1]))
		}
		if near > 0.02 {
			t.Errorf("the locus passes %v at a distance of %.4f", want, near)
		}
	}
	if last := l[len(l)-1]; last[0] < 0.7 || math.Abs(last[0]+last[1]-1) > 1e-3 {
		t.Errorf("it ends at %v", last)
	}
}
