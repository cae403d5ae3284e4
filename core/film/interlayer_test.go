package film

import (
	"math"
	"testing"

	"velours/core/colour"
)

// The one-sided effect leaves greys alone, comes in without a corner, is held, and moves one layer alone.
func TestOneSidedEffect(t *testing.T) {
	for u := 0.0; u < 2; u += 0.01 {
		a, b, c := Felt(u), Felt(u+0.01), Felt(u+0.02)
		if b < a || b > feltMost || math.Abs(c-2*b+a) > 2e-3 {
			t.Fatalf("at %.2f: %.5f, %.5f, %.5f", u, a, b, c)
		}
	}
	if d := Felt(0.02); d > 2e-3 {
		t.Errorf("a difference of 0.02 counts %.5f", d)
	}
	s := *Reference()
	s.OneSided = [3][3]float64{{0, 0.8, 0}, {0, 0, 0}, {0, 0, 0}}
	n := Develop(&s, Process{Strength: 1})
	n.Coupling = colour.Matrix{}
	for _, f := range [][3]float64{{-1, -1, -1}, {0.4, 0.4, 0.4}, {0.3, 0, 0.1}} { // red does not lag behind green
		if x := n.Interlayer(f); x != [3]float64{} {
			t.Errorf("%v gains %v", f, x)
		}
	}
	if x := n.Interlayer([3]float64{0, 0.5, 0}); math.Abs(x[0]-0.8*Felt(0.5)) > 1e-12 || x[1] != 0 || x[2] != 0 {
		t.Errorf("green half a decade over red gives %v", x)
	}
}

// A stock whose layers hear alike can be read back: greys as they were, and no colour without end.
func TestLayersThatHearAlike(t *testing.T) {
	s, err := FindStock("duplex-10")
	if err != nil {
		t.Fatal(err)
	}
	n := Develop(s, Process{Strength: 1})
	if d := math.Abs(n.Exposure.Determinant()); d > alikeLayers {
		t.Fatalf("its layers are %.3f apart", d)
	}
	m := n.ToScene()
	for i := range 3 {
		sum := m[3*i] + m[3*i+1] + m[3*i+2]
		if math.Abs(sum-1) > 1e-9 {
			t.Errorf("a grey comes back as %.6f in channel %d", sum, i)
		}
		for j := range 3 {
			if math.Abs(m[3*i+j]) > 4 {
				t.Errorf("channel %d takes layer %d %.2f times", i, j, m[3*i+j])
			}
		}
	}
	if a := Develop(Reference(), Process{Strength: 1}); a.ToScene() != a.Exposure.Inverse() {
		t.Error("layers that part are not read back by the inverse")
	}
}

// What layers hear of spectra leaves greys and the reference alone, and brings leaves, skins and skies to what integrating their
// spectra says, on average.
func TestNaturalHearing(t *testing.T) {
	s := *Reference()
	s.ID, s.Natural = "reference that hears", 1
	n := Develop(&s, Process{Strength: 1})
	for _, c := range [][3]float64{{0.1, 0.13, 0.06}, {0.4, 0.3, 0.2}, {0.2, 0.2, 0.4}} {
		f := n.NaturalFactor(chromaticity(c))
		for _, v := range f {
			if math.Abs(v-1) > 1e-9 {
				t.Errorf("the reference against itself hears %v of %v", f, c)
			}
		}
	}
	g, err := FindStock("givre-200")
	if err != nil {
		t.Fatal(err)
	}
	n = Develop(g, Process{Strength: 1})
	if f := n.NaturalFactor(chromaticity([3]float64{0.18, 0.18, 0.18})); math.Abs(f[0]-1) > 0.02 {
		t.Errorf("grey is heard %.3f times", f[0])
	}
	light := g.Balance.Light()
	to := sceneColour(&light)
	miss, plain, count := 0.0, 0.0, 0.0
	for _, leaf := range naturals()[:420] {
		lit := leaf.Mul(&light)
		c := to.Apply(lit.XYZ())
		want := math.Log2(n.Hear(&leaf)[0])
		miss += math.Abs(math.Log2(n.Exposed(c)[0]) - want)
		plain += math.Abs(math.Log2(n.Exposure.Apply(c)[0]) - want)
		count++
	}
	if miss/count > 0.35 || miss > plain/2 {
		t.Errorf("leaves are %.2f stops off, by the matrix alone %.2f", miss/count, plain/count)
	}
}
