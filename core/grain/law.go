package grain

import (
	"math"
	"sync"
)

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
	at := func(want float64) float64 {
		x, w := exposed(want), 0.0
		for _, l := range speedLayers {
			dl := l.density(x)
			w += l.integral * dl * (1 - l.order*dl/l.top) * eta(l.cloud)
		}
		return math.Sqrt(w + fogIntegral*fogDensity*eta(speedLayers[0].cloud))
	}
	one := at(1)
	return func(d float64) float64 { return at(max(d, 0)) / one }
}

func (l *speedLayer) density(x float64) float64 {
	return l.top / (1 + math.Exp(-l.slope*(x-l.centre)))
}

// exposures remembers the last answers of exposed: they are asked for again and again, at the same densities, while a hand moves.
var exposures struct {
	sync.Mutex
	of map[float64]float64
}

const mostExposures = 1 << 14

// exposed is the log exposure, from mid grey, at which the speed layers have a density together.
func exposed(density float64) float64 {
	exposures.Lock()
	x, ok := exposures.of[density]
	exposures.Unlock()
	if ok {
		return x
	}
	lo, hi := -8.0, 8.0
	for range 60 {
		m, d := (lo+hi)/2, 0.0
		for i := range speedLayers {
			d += speedLayers[i].density(m)
		}
		if d < density {
			lo = m
		} else {
			hi = m
		}
	}
	x = (lo + hi) / 2
	exposures.Lock()
	defer exposures.Unlock()
	if exposures.of == nil || len(exposures.of) >= mostExposures {
		exposures.of = map[float64]float64{}
	}
	exposures.of[density] = x
	return x
}
