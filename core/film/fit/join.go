package fit

import (
	"fmt"
	"math"
	"slices"
)

// mostOff is how far, in decades, the exposure of one wedge may be off against another's: two thirds of a stop.
const mostOff = 0.2

// Join makes one wedge of several of the same film, exposed by more or less: each is moved in log exposure so that it lies on those
// before it, and offsets are by how much. The error tells which has nothing in common with the rest.
func Join(wedges []*Wedge) (joined *Wedge, offsets []float64, err error) {
	joined = &Wedge{Positive: wedges[0].Positive, Steps: slices.Clone(wedges[0].Steps)}
	offsets = []float64{0}
	for i, w := range wedges[1:] {
		if w.Positive != joined.Positive {
			return nil, nil, fmt.Errorf("density rises with exposure in one wedge, and falls in wedge %d; they are of two films", i+2)
		}
		best, at := math.Inf(1), 0.0
		for off := -mostOff; off <= mostOff+1e-9; off += 0.002 {
			if miss, ok := apartBy(joined, w, off); ok && miss < best {
				best, at = miss, off
			}
		}
		if math.IsInf(best, 1) {
			return nil, nil, fmt.Errorf("wedge %d shares less than three steps with the others; expose them so that they overlap by two stops", i+2)
		}
		if best > 0.1 {
			return nil, nil, fmt.Errorf("wedge %d differs from the others by %.2f of density where they overlap; was it developed together with them?", i+2, best)
		}
		offsets = append(offsets, at)
		for _, s := range w.Steps {
			s.LogE += at
			joined.Steps = append(joined.Steps, s)
		}
		slices.SortStableFunc(joined.Steps, byExposure)
		joined.merge()
	}
	return joined, offsets, nil
}

// apartBy is how far the densities of two wedges are apart where they overlap, the second moved; ok tells that three steps do.
func apartBy(a, b *Wedge, off float64) (miss float64, ok bool) {
	n := 0.0
	for _, s := range b.Steps {
		x := s.LogE + off
		k, _ := slices.BinarySearchFunc(a.Steps, x, func(s Step, x float64) int {
			if s.LogE < x {
				return -1
			}
			return 1
		})
		if k == 0 || k == len(a.Steps) {
			continue
		}
		p, q := a.Steps[k-1], a.Steps[k]
		t := (x - p.LogE) / (q.LogE - p.LogE)
		for c := range s.D {
			d := s.D[c] - (p.D[c] + t*(q.D[c]-p.D[c]))
			miss += d * d / 3
		}
		n++
	}
	return math.Sqrt(miss / max(n, 1)), n >= 3
}

// merge takes the mean of steps that lie within a fiftieth of a decade.
func (w *Wedge) merge() {
	var out []Step
	for i := 0; i < len(w.Steps); {
		sum, n := Step{}, 0.0
		for first := w.Steps[i].LogE; i < len(w.Steps) && w.Steps[i].LogE < first+0.02; i++ {
			s := w.Steps[i]
			sum.LogE += s.LogE
			for c, d := range s.D {
				sum.D[c] += d
			}
			n++
		}
		sum.LogE /= n
		for c := range sum.D {
			sum.D[c] /= n
		}
		out = append(out, sum)
	}
	w.Steps = out
}

func byExposure(a, b Step) int {
	switch {
	case a.LogE < b.LogE:
		return -1
	case a.LogE > b.LogE:
		return 1
	}
	return 0
}
