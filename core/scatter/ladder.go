package scatter

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"

	"velours/core/cache"
)

// The deviations, as fractions of the width, of which every spread in the lens is made up, so that one pyramid serves any number
// of filters at once: each √2 times the one before.
const rungs, firstRung = 21, 0.000375

func rung(i int) float64 { return firstRung * math.Exp2(float64(i)/2) }

// fitted is what filters do one after the other: a share of light that goes straight on, and Gaussians for the rest. Their
// weights are the least-squares fit, without weights below 0, of the exact transfer; all the light is in them.
type fitted struct {
	direct [3]float64
	terms  []Term // σ as fractions of the width
}

var fits = cache.Results[*fitted]{Size: 64}

// fit joins filters. It takes a millisecond or two, and is kept.
func fit(chain []Filter) *fitted {
	f, _ := fits.Get(fmt.Sprint(chain), func() (*fitted, error) { return newFit(chain), nil })
	return f
}

func newFit(chain []Filter) *fitted {
	f := &fitted{direct: [3]float64{1, 1, 1}}
	for _, c := range chain {
		for i, d := range c.direct() {
			f.direct[i] *= d
		}
	}
	var cycles []float64
	for c := 0.2; c < 2500; c *= 1.16 {
		cycles = append(cycles, c)
	}
	f.terms = make([]Term, rungs)
	for k := range f.terms {
		f.terms[k].Sigma = rung(k)
	}
	for i := range 3 {
		if i > 0 && same(chain, i, 0) {
			for k := range f.terms {
				f.terms[k].Weight[i] = f.terms[k].Weight[0]
			}
			continue
		}
		spread := 1 - f.direct[i]
		if spread <= 0 {
			continue
		}
		a, b := mat.NewDense(len(cycles)+1, rungs, nil), make([]float64, len(cycles)+1)
		for r, c := range cycles {
			want := 1.0
			for _, s := range chain {
				want *= s.Transfer(c)[i]
			}
			b[r] = (want - f.direct[i]) / spread
			for k := range rungs {
				a.Set(r, k, gaussianTransfer(rung(k), c))
			}
		}
		const all = 100 // that no light is lost counts more than any contrast
		b[len(cycles)] = all
		for k := range rungs {
			a.Set(len(cycles), k, all)
		}
		x, sum := nonNegative(a, b), 0.0
		for _, v := range x {
			sum += v
		}
		for k, v := range x {
			f.terms[k].Weight[i] = v / sum * spread
		}
	}
	kept := f.terms[:0]
	for _, t := range f.terms {
		if t.Weight != [3]float64{} {
			kept = append(kept, t)
		}
	}
	f.terms = kept
	return f
}

func same(chain []Filter, i, k int) bool {
	for _, c := range chain {
		if c.Depth[i] != c.Depth[k] {
			return false
		}
	}
	return true
}

// pixels are the terms for a picture so wide.
func (f *fitted) pixels(width int) []Term {
	out := make([]Term, len(f.terms))
	for i, t := range f.terms {
		out[i] = Term{t.Sigma * float64(width), t.Weight}
	}
	return out
}
