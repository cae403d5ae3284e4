package film

import (
	"math"

	"velours/core/solve"
)

// Shares are how far densities of the layers deviate together, over the densities of greys.
type Shares struct {
	// Scene are the greys, log exposures of the scene from mid grey, rising.
	Scene []float64
	// Density is that of each layer for each of them, Share how far it deviates against the green layer.
	Density, Share [][3]float64
}

// The greys for which shares are found, decades of exposure from mid grey, and the step of density by which codes are compared.
const sharesFrom, sharesTo, sharesSteps, sharesBy = -1.6, 1.8, 34, 2e-3

// weakly is how little codes follow densities, of the most they do at any grey, where shares go by the film's own greys instead: in what
// prints as black or as paper.
const weakly = 0.008

// Alike finds the shares by which codes of greys deviate as aim says: 1, 1, 1 for deviations that are neutral. code is what a picture of
// densities is shown as. The film's own greys, brightened, are nearly that, within 15 % or so; what is left of it is solved for, by least squares.
// Without code (nil) it is left, and layers deviate as the channels they make are to.
func (n *Negative) Alike(code func(densities [3]float64) [3]float64, aim [3]float64) Shares {
	var s Shares
	var slopes [][3][3]float64
	most := 0.0
	for i := range sharesSteps + 1 {
		x := sharesFrom + (sharesTo-sharesFrom)*float64(i)/sharesSteps
		at := n.Flashed(x)
		d, up := n.Grey(at), n.Grey(at+0.01)
		s.Scene, s.Density = append(s.Scene, x), append(s.Density, d)
		var share [3]float64
		const least = 1e-4 // where nothing develops all is alike
		for j := range share {
			share[j] = (math.Abs(up[j]-d[j]) + least) / (math.Abs(up[1]-d[1]) + least)
		}
		s.Share = append(s.Share, share)
		if code == nil {
			for j := range 3 {
				s.Share[i][j] *= aim[j] / aim[1]
			}
			continue
		}
		var m [3][3]float64
		for j := range 3 {
			a, b := d, d
			a[j], b[j] = a[j]-sharesBy, b[j]+sharesBy
			ca, cb := code(a), code(b)
			for c := range 3 {
				m[c][j] = (cb[c] - ca[c]) / (2 * sharesBy)
				most = max(most, math.Abs(m[c][j]))
			}
		}
		slopes = append(slopes, m)
	}
	for i, m := range slopes {
		t := s.Share[i]
		var is, left [3]float64
		mean := 0.0
		for c := range 3 {
			is[c] = m[c][0]*t[0] + m[c][1]*t[1] + m[c][2]*t[2]
			mean += is[c] / (aim[0] + aim[1] + aim[2])
		}
		for c := range 3 {
			left[c] = mean*aim[c] - is[c]
		}
		a, b := make([][]float64, 3), make([]float64, 3)
		for j := range 3 {
			a[j] = make([]float64, 3)
			for k := range 3 {
				for c := range 3 {
					a[j][k] += m[c][j] * m[c][k]
				}
			}
			a[j][j] += weakly * weakly * most * most
			for c := range 3 {
				b[j] += m[c][j] * left[c]
			}
		}
		for j, by := range solve.Linear(a, b, 0) {
			t[j] += by
		}
		if t[1] > 0.1 {
			s.Share[i] = [3]float64{max(t[0]/t[1], 0), 1, max(t[2]/t[1], 0)}
		}
	}
	return s
}

// Of is the grey for which a layer has a density, as a log exposure of the scene, and what the three layers then have and deviate by.
func (s *Shares) Of(layer int, density float64) (scene float64, densities, shares [3]float64) {
	last := len(s.Scene) - 1
	falls := s.Density[0][layer] > s.Density[last][layer]
	i := 0
	for i < last-1 && (s.Density[i+1][layer] < density) != falls {
		i++
	}
	a, b := s.Density[i][layer], s.Density[i+1][layer]
	t := 0.0
	if a != b {
		t = min(max((density-a)/(b-a), 0), 1)
	}
	for j := range 3 {
		densities[j] = (1-t)*s.Density[i][j] + t*s.Density[i+1][j]
		shares[j] = (1-t)*s.Share[i][j] + t*s.Share[i+1][j]
	}
	return (1-t)*s.Scene[i] + t*s.Scene[i+1], densities, shares
}
