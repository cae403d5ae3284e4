package film

import (
	"context"
	"math"
	"math/rand/v2"
	"sync"

	"velours/core/cache"
	"velours/core/frame"
	"velours/core/spectrum"
)

// A matrix from three channels cannot hear what a spectrum says: leaves are bright beyond red, skins have the dips of blood,
// petals sharp edges. So a stock may add what its layers hear of such things more than its matrix does (Stock.Natural): a
// correction of log exposure by chromaticity, found from made-up spectra of leaves, skins, skies, petals, paints and greys under
// the stock's light, minus the same for the reference stock, which so stays as it is.

// naturals are spectra of what is filmed: reflectances, the same on every run.
var naturals = sync.OnceValue(func() []spectrum.Curve {
	r := rand.New(rand.NewPCG(1839, 8))
	var out []spectrum.Curve
	edge := func(nm, at, w float64) float64 { return sigmoid((nm - at) / w) }
	between := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	for range 420 { // leaves: a bump of green, and the red edge; some on the way to autumn
		floor, bump, width := between(0.025, 0.06), between(0.05, 0.22), between(22, 34)
		far, at := between(0.45, 0.65), between(698, 712)
		turned := math.Max(0, between(-1, 0.6))
		out = append(out, spectrum.Of(func(nm float64) float64 {
			v := floor + bump*spectrum.Bell(nm, 552, width) + turned*0.25*edge(nm, 560, 14)
			return v + (far-v)*edge(nm, at, 9)
		}))
	}
	for range 220 { // skins: melanin, with the dips of blood
		light := r.Float64()
		low, high := 0.03+0.25*light, 0.12+0.55*light
		blood := between(0.02, 0.10) * (0.3 + light)
		out = append(out, spectrum.Of(func(nm float64) float64 {
			v := low + (high-low)*edge(nm, 588, 34) + 0.06*light*edge(nm, 480, 30)
			return math.Max(0.015, v-blood*(0.6*spectrum.Bell(nm, 545, 14)+0.6*spectrum.Bell(nm, 577, 11)+0.8*spectrum.Bell(nm, 420, 22)))
		}))
	}
	for range 160 { // skies: scattered light over a haze
		power, haze, k := between(2, 4), between(0.1, 0.8), between(0.15, 0.7)
		out = append(out, spectrum.Of(func(nm float64) float64 { return k * (haze + (1-haze)*math.Pow(550/nm, power)) }))
	}
	for range 200 { // petals: sharp edges; blue and purple ones with a second one beyond red
		floor, high := between(0.02, 0.08), between(0.4, 0.85)
		at, w := between(480, 620), between(6, 16)
		bump, bumpAt := 0.0, between(430, 470)
		if r.IntN(4) == 0 {
			bump, at = between(0.15, 0.5), between(620, 690)
		}
		out = append(out, spectrum.Of(func(nm float64) float64 {
			return floor + (high-floor)*edge(nm, at, w) + bump*spectrum.Bell(nm, bumpAt, 32)
		}))
	}
	for range 260 { // paints and cloths: soft bands; most dyes that are not blue let far red through
		at, w, bump := between(420, 660), between(28, 60), between(0.1, 0.6)
		floor := between(0.015, 0.03+0.09*edge(at, 520, 20))
		far, farAt := between(0, 0.5)*edge(at, 520, 20), between(690, 740)
		out = append(out, spectrum.Of(func(nm float64) float64 {
			v := floor + bump*spectrum.Bell(nm, at, w)
			return math.Min(0.95, v+math.Max(0, far-v)*edge(nm, farAt, 14))
		}))
	}
	return out
})

// natural is a correction of log exposure by chromaticity, layer by layer, on a grid over the shares of red and green.
type natural [NaturalNodes][NaturalNodes][3]float64

// NaturalNodes is how many shares of red, and of green, the correction is known for.
const NaturalNodes = 49

const (
	// naturalReach is how near, in shares of the channels, a spectrum must be to count, naturalDoubt how many are needed to
	// outweigh the matrix by half, and naturalMost the largest correction, in decades.
	naturalReach, naturalDoubt, naturalMost = 0.03, 1.5, 0.9
	// naturalGrey is within which distance of neutral the correction fades, so that greys stay.
	naturalGrey = 0.045
)

var naturalTables = cache.Results[*natural]{Size: 64}

// naturalOf is the correction of a stock before the reference's is taken off.
func naturalOf(s *Stock) *natural {
	t, _ := naturalTables.Get(s.Key(), func() (*natural, error) { return fitNatural(s), nil })
	return t
}

func fitNatural(s *Stock) *natural {
	light := s.Balance.Light()
	toRGB := sceneColour(&light)
	m := taking(s)
	sens, full := s.hearing(&light)
	// a spectrum counts at a node by how near it lies there by its share of red, times how near by that of green
	count := len(naturals())
	var red, green [NaturalNodes][]float64
	for i := range red {
		red[i], green[i] = make([]float64, count), make([]float64, count)
	}
	near := func(w *[NaturalNodes][]float64, n int, at float64) {
		for i := range w {
			away := at - float64(i)/(NaturalNodes-1)
			w[i][n] = math.Exp(-away * away / (2 * naturalReach * naturalReach))
		}
	}
	off := make([][3]float64, count)
	for n, p := range naturals() {
		lit := p.Mul(&light)
		c := toRGB.Apply(lit.XYZ())
		by := m.Apply(c)
		x, y := chromaticity(c)
		near(&red, n, x)
		near(&green, n, y)
		for j := range 3 {
			off[n][j] = math.Log10(p.Dot(&sens[j])/full[j]) - math.Log10(math.Max(by[j], MinExposure))
		}
	}
	t := &natural{}
	err := frame.Bands(context.Background(), NaturalNodes, 1, func(i, _ int) {
		for k := range NaturalNodes {
			x, y := float64(i)/(NaturalNodes-1), float64(k)/(NaturalNodes-1)
			byRed, byGreen := red[i], green[k]
			weight, r, g, b := naturalDoubt, 0.0, 0.0, 0.0 // an array's sums would go through memory
			for n, d := range off {
				w := byRed[n] * byGreen[n]
				weight += w
				r, g, b = r+w*d[0], g+w*d[1], b+w*d[2]
			}
			away := 1 - math.Exp(-((x-1.0/3)*(x-1.0/3)+(y-1.0/3)*(y-1.0/3))/(naturalGrey*naturalGrey))
			for j, sum := range [3]float64{r, g, b} {
				t[i][k][j] = away * min(max(sum/weight, -naturalMost), naturalMost)
			}
		}
	})
	if err != nil { // a fault in a band, told where it would have been told without them
		panic(err)
	}
	return t
}

// chromaticity is the shares of red and green of a colour; what lies outside is brought to the border.
func chromaticity(c [3]float64) (x, y float64) {
	r, g, b := math.Max(c[0], 0), math.Max(c[1], 0), math.Max(c[2], 0)
	sum := r + g + b
	if sum <= 0 {
		return 1.0 / 3, 1.0 / 3
	}
	return r / sum, g / sum
}

// at reads the correction between its nodes.
func (t *natural) at(x, y float64) (d [3]float64) {
	u, v := x*(NaturalNodes-1), y*(NaturalNodes-1)
	i, k := min(int(u), NaturalNodes-2), min(int(v), NaturalNodes-2)
	u, v = u-float64(i), v-float64(k)
	for j := range d {
		a, b := t[i][k][j]+(t[i+1][k][j]-t[i][k][j])*u, t[i][k+1][j]+(t[i+1][k+1][j]-t[i][k+1][j])*u
		d[j] = a + (b-a)*v
	}
	return d
}

// hears is the correction of a stock, the reference's taken off, times a share; nil for none.
func (s *Stock) hears(share float64) *natural {
	if share == 0 || s.Natural == 0 {
		return nil
	}
	t, reference := *naturalOf(s), naturalOf(Reference())
	for i := range t {
		for k := range t[i] {
			for j := range 3 {
				if !s.Mono { // the reference has no layer that hears all
					t[i][k][j] -= reference[i][k][j]
				}
				t[i][k][j] *= share * s.Natural
			}
		}
	}
	return &t
}

// Natural tells whether the stock hears more than a matrix says.
func (n *Negative) Natural() bool { return n.hears != nil }

// NaturalFactor is what the exposure of the layers is multiplied by where red and green have these shares of the light.
func (n *Negative) NaturalFactor(x, y float64) [3]float64 {
	d := n.hears.at(x, y)
	for j := range d {
		d[j] = math.Pow(10, d[j])
	}
	return d
}

// Hear is the exposure of the three layers by a reflectance under the light that the stock is made for, integrated, a perfect white
// at 1.
func (n *Negative) Hear(reflectance *spectrum.Curve) (e [3]float64) {
	light := n.Stock.Balance.Light()
	heard, all := n.Stock.hearing(&light)
	for j := range e {
		e[j] = reflectance.Dot(&heard[j]) / all[j]
	}
	return e
}
