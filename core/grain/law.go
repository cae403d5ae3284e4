package grain

import "math"

// speedLayer is one of the fast, medium and slow emulsions that make up a record.
type speedLayer struct{ top, centre, slope, integral, order, cloud float64 }

// The three speed layers of a medium-speed record: density D = top/(1+e^{−slope(x−centre)}),
// density integral of a cloud relative to the medium layer, order of its sites (1 is a lattice),
// and cloud size relative to the record's.
var speedLayers = [3]speedLayer{
	{0.55, -1.15, 2.9, 2.4, 0.9, 1.25},
	{0.70, -0.05, 2.5, 1.0, 0.8, 1},
	{0.75, 1.15, 2.3, 0.45, 0.6, 0.8},
}

const fogDensity, fogIntegral = 0.06, 1.2

// Law is the deviation of a record at density d above base, relative to that at density 1:
// little at D-min where only fog is left, flat in the middle where layers take over from each
// other, W(0) = Σ q·D·(1 − β·D/D_r)·η + q_f·D_f·η_f.
func Law(cloud float64) func(d float64) float64 {
	eta := func(scale float64) float64 { return 1 - 2/math.Sqrt(math.Pi)*cloud*scale/24 }
	power := func(x float64) (d, w float64) {
		for _, l := range speedLayers {
			dl := l.top / (1 + math.Exp(-l.slope*(x-l.centre)))
			d += dl
			w += l.integral * dl * (1 - l.order*dl/l.top) * eta(l.cloud)
		}
		return d, w + fogIntegral*fogDensity*eta(speedLayers[0].cloud)
	}
	at := func(want float64) float64 {
		lo, hi := -8.0, 8.0
		for range 60 {
			if m := (lo + hi) / 2; first(power(m)) < want {
				lo = m
			} else {
				hi = m
			}
		}
		_, w := power((lo + hi) / 2)
		return math.Sqrt(w)
	}
	one := at(1)
	return func(d float64) float64 { return at(max(d, 0)) / one }
}

func first(a, _ float64) float64 { return a }
