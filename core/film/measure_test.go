package film

import (
	"math"
	"testing"
)

// What the densitometer reads of the film agrees with a trapezoid sum over every nanometre, computed here from the
// card's own lobes.
func TestReadAgreesWithFineIntegration(t *testing.T) {
	at := func(l []Lobe, nm float64) float64 {
		v := 0.0
		for _, k := range l {
			v += k.Height * math.Exp(-(nm-k.Peak)*(nm-k.Peak)/(2*k.Width*k.Width))
		}
		return v
	}
	for _, s := range Stocks() {
		n := Develop(s, Process{Strength: 1})
		for _, d := range [][3]float64{{0, 0, 0}, {0.8, 0.9, 1}, {1.6, 0.2, 0.4}, {0.1, 1.9, 1.2}, {2, 2, 2}} {
			got := n.Read(d)
			for band, peak := range Filters {
				passed, all, before := 0.0, 0.0, [2]float64{}
				for nm := 380.0; nm <= 780; nm++ {
					density := at(s.Base, nm)
					for i, l := range s.Layers {
						density += (1 - s.Fade[i]) * (d[i]*at(l.Dye, nm) + s.Mask*max(l.DMax-d[i], 0)*at(l.Dye[1:], nm))
					}
					ear := math.Exp(-(nm - peak) * (nm - peak) / (2 * 12 * 12))
					now := [2]float64{ear * math.Pow(10, -density), ear}
					if nm > 380 {
						passed, all = passed+(now[0]+before[0])/2, all+(now[1]+before[1])/2
					}
					before = now
				}
				if want := -math.Log10(passed / all); math.Abs(got[band]-want) > 0.005 {
					t.Errorf("%s at %v: band %d reads %.4f, integrated %.4f", s.ID, d, band, got[band], want)
				}
			}
		}
	}
}

// The transfer of three kinds of film, as the measured table of the model has it.
func TestSharpnessIsTheModels(t *testing.T) {
	for _, c := range []struct {
		m    Sharpness
		at   [5]float64 // 10, 20, 30, 50, 80 cycles a millimetre
		half float64
	}{
		{Sharpness{1.9, 6.5, 0.72, 0.19, 26}, [5]float64{1.109, 1.071, 0.961, 0.758, 0.545}, 87},
		{Sharpness{2.6, 9.0, 0.70, 0.26, 28}, [5]float64{1.140, 1.035, 0.872, 0.639, 0.375}, 65},
		{Sharpness{3.6, 12.5, 0.68, 0.25, 32}, [5]float64{1.093, 0.884, 0.700, 0.449, 0.165}, 46},
	} {
		for i, f := range []float64{10, 20, 30, 50, 80} {
			if got := c.m.At(f); math.Abs(got-c.at[i]) > 0.002 {
				t.Errorf("%v at %g: %.3f, want %.3f", c.m, f, got, c.at[i])
			}
		}
		if got := c.m.Half(); math.Abs(got-c.half) > 1 {
			t.Errorf("%v has fallen to a half at %.1f, want %g", c.m, got, c.half)
		}
	}
}
