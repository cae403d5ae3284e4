package film

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/colour"
)

// The table against the spectral computation, over colours a picture holds.
func TestTableFollowsTheSpectralPath(t *testing.T) {
	d := display(t, "bt1886")
	white := d.Gamut.White.XYZ()
	toXYZ := d.Gamut.ToXYZ()
	lab := func(c [3]float64) [3]float64 {
		return colour.Lab(toXYZ.Apply([3]float64{d.Decode(c[0]), d.Decode(c[1]), d.Decode(c[2])}), white)
	}
	for _, pair := range []struct {
		stock, medium string
		mean, worst   float64
	}{
		{"aubade-250d", "rideau", 0.1, 0.8}, {"serein-500t", "papier", 0.1, 0.8}, {"fusain-125", "rideau", 0.1, 0.8}, {"damas-800", "scan", 0.1, 0.8},
		{"trame-12", "loge", 0.1, 0.8}, {"brocart-100", "direct", 0.1, 0.8}, {"vitrail-100", "foyer", 0.1, 0.8}, {"percale-400", "direct", 0.1, 0.8},
		// reading a negative back is steep in its toe, where no picture lives for long
		{"aubade-250d", "", 0.25, 8},
	} {
		s, err := FindStock(pair.stock)
		if err != nil {
			t.Fatal(err)
		}
		var m *Medium
		if pair.medium != "" {
			if m, err = FindMedium(pair.medium); err != nil {
				t.Fatal(err)
			}
		}
		r := rand.New(rand.NewPCG(3, 3))
		p := positive(t, s, m)
		table, err := NewTable(context.Background(), p, TableSize)
		if err != nil {
			t.Fatal(err)
		}
		sum, worst, n := 0.0, 0.0, 10000
		for range n {
			k := 0.18 * math.Exp2(r.Float64()*9-5)
			dens := p.Negative.Develop([3]float64{k * (0.2 + r.Float64()), k * (0.2 + r.Float64()), k * (0.2 + r.Float64())})
			want := p.Code(dens)
			x, y, z := table.Cube.At(table.Shapers[0].At(float32(dens[0])), table.Shapers[1].At(float32(dens[1])), table.Shapers[2].At(float32(dens[2])))
			e := colour.DeltaE2000(lab(want), lab([3]float64{float64(x), float64(y), float64(z)}))
			sum += e
			worst = max(worst, e)
		}
		t.Logf("%s on %q: mean ΔE2000 %.3f, worst %.3f", pair.stock, pair.medium, sum/float64(n), worst)
		if sum/float64(n) > pair.mean || worst > pair.worst {
			t.Errorf("%s on %q: mean ΔE2000 %.3f, worst %.3f", pair.stock, pair.medium, sum/float64(n), worst)
		}
	}
}
