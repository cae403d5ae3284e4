package scatter

import "math"

// Filter is a sheet of scatterers in front of the lens, or the lens's own: light meets a Poisson number of them, Depth on
// average, channel by channel, and each spreads it by the sum of Lobes (σ as a fraction of the picture's width, weights that
// sum to 1). Its transfer is exp(−Depth·(1 − K̂)); two filters of half the depth make one whole.
type Filter struct {
	Depth [3]float64
	Lobes []Gaussian
	// Mix is the share of the light that passes through it; the rest stays sharp.
	Mix float64
}

// Transfer is how much of a contrast of so many cycles across the picture's width is left in each channel.
func (f Filter) Transfer(cycles float64) [3]float64 {
	k := 0.0
	for _, l := range f.Lobes {
		k += l.Weight * gaussianTransfer(l.Sigma, cycles)
	}
	var out [3]float64
	for i, d := range f.Depth {
		out[i] = 1 - f.Mix + f.Mix*math.Exp(-d*(1-k))
	}
	return out
}

// direct is the share of light that meets no scatterer.
func (f Filter) direct() [3]float64 { return f.Transfer(math.Inf(1)) }

func gaussianTransfer(sigma, cycles float64) float64 {
	if math.IsInf(cycles, 1) {
		return 0
	}
	x := math.Pi * cycles * sigma
	return math.Exp(-2 * x * x)
}
