package colour

import (
	"math"
	"testing"
)

// A grey under black bodies from 2500 to 10000 K, and under greener and redder lights, comes out neutral under
// the balance found for it, at its own luminance.
func TestGreysUnderAnyLightBecomeNeutral(t *testing.T) {
	white := aces.XYZ()
	for _, kelvin := range []float64{2500, 2856, 3200, 4000, 5000, 5600, 6000, 6500, 7500, 10000} {
		for _, green := range []float64{-12, 0, 8} {
			u, v := planckian(kelvin)
			c := AP1.ToXYZ().Inverse().Apply(uvToXY(u, v+green*1e-3).XYZ())
			for i := range c {
				c[i] *= 0.4
			}
			mired, tint, ok := Neutralise(c)
			if !ok {
				t.Fatalf("%g K: no balance", kelvin)
			}
			xyz := AP1.ToXYZ().Apply(WhiteBalance(mired, tint).Apply(c))
			lab := Lab(xyz, white)
			if chroma := math.Hypot(lab[1], lab[2]); chroma > 0.1 {
				t.Errorf("%g K, %+g green: chroma %.3f under %+.1f mired, %+.1f", kelvin, green, chroma, mired, tint)
			}
			if math.Abs(xyz[1]-0.4) > 1e-4 {
				t.Errorf("%g K: luminance goes from 0.4 to %g", kelvin, xyz[1])
			}
			if green == 0 && math.Abs(mired-(WhiteMired-1e6/kelvin)) > 14 {
				t.Errorf("%g K reads as %g mired", kelvin, mired)
			}
		}
	}
	if _, _, ok := Neutralise([3]float64{}); ok {
		t.Error("black has no chromaticity")
	}
}

// Right is warmer, and magenta; the two ways meet at nothing.
func TestBalanceGoesTheRightWay(t *testing.T) {
	warm := WhiteBalance(40, 0).Apply([3]float64{0.18, 0.18, 0.18})
	if !(warm[0] > warm[1] && warm[1] > warm[2]) {
		t.Errorf("+40 mired makes grey %v", warm)
	}
	magenta := WhiteBalance(0, 10).Apply([3]float64{0.18, 0.18, 0.18})
	if !(magenta[1] < magenta[0] && magenta[1] < magenta[2]) {
		t.Errorf("+10 makes grey %v", magenta)
	}
	near := WhiteBalance(1e-9, 0)
	for i, v := range near {
		if math.Abs(v-Identity[i]) > 1e-6 {
			t.Errorf("next to nothing is not next to the identity: %v", near)
		}
	}
}
