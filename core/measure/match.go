package measure

import (
	"errors"
	"math"
	"slices"

	"velours/core/solve"
)

// Balance is a correction of light: exposure in stops, a white balance in mired and mDuv (colour.WhiteBalance), and contrast in per
// cent about mid grey.
type Balance struct{ Stops, Mired, Tint, Contrast float64 }

// reach is how far a match goes to either side of where it begins, in the units of Balance: between pictures of one scene, and of
// others, where less can be told.
var reach, shorter = Balance{3, 90, 30, 25}, Balance{1.5, 30, 10, 8}

// least is how much a match changes at least to be worth a step.
var least = Balance{0.02, 1, 0.5, 1}

// Matched is what a match found: the balance to add to the one there is, how far the pictures were apart, and how far they are
// then: the mean ΔE*ab of places that can be compared, or of another scene how far tones and colours are as a whole.
type Matched struct {
	Balance
	Was, Is float64
}

// Match finds the balance that brings a picture nearest to a reference. ref are colours of the reference, CIELAB, no number where there
// is none to compare with; shown gives those of the picture under a balance, always of the same places. With same they are
// the same places of one scene and are compared one by one; else tones are compared by their distribution, and colours as a whole,
// and little is changed without need. It is a bounded least-squares fit, in which what is far off counts less.
func Match(ref [][3]float64, same bool, shown func(Balance) ([][3]float64, error)) (*Matched, error) {
	if len(ref) == 0 {
		return nil, errors.New("nothing to compare")
	}
	var failed error
	at := func(p []float64) Balance { return Balance{p[0], p[1], p[2], p[3]} }
	// parameters are told in these, so that a step of the fit's differences, 1e-5, is seen in a picture of single precision
	scale := []float64{1000, 30000, 10000, 10000}
	of := func(p []float64) Balance {
		return at([]float64{p[0] * scale[0], p[1] * scale[1], p[2] * scale[2], p[3] * scale[3]})
	}
	theirs := summaryOf(ref)
	residuals := func(p []float64) []float64 {
		labs, err := shown(of(p))
		if err != nil || len(labs) != len(ref) {
			if failed == nil && err == nil {
				err = errors.New("the picture has other places than the reference")
			}
			failed = errors.Join(failed, err)
			return make([]float64, 1)
		}
		var out []float64
		if same {
			n := math.Sqrt(float64(len(ref)))
			for i, r := range ref {
				for c := range 3 {
					d := labs[i][c] - r[c]
					if math.IsNaN(d) {
						d = 0
					}
					out = append(out, soft(d, 6)/n)
				}
			}
		} else {
			ours := summaryOf(labs)
			for i, d := range ours.apart(theirs) {
				out = append(out, soft(d, 12)*summaryWeights[i])
			}
		}
		// what does not matter stays as it is
		for i, v := range p {
			care := 0.002
			if !same {
				care = [4]float64{2, 4, 4, 5}[i]
			}
			out = append(out, care*1000*v)
		}
		return out
	}
	far := reach
	if !same {
		far = shorter
	}
	var limits [][2]float64
	for i, v := range []float64{far.Stops, far.Mired, far.Tint, far.Contrast} {
		limits = append(limits, [2]float64{-v / scale[i], v / scale[i]})
	}
	steps := 24
	if !same { // there is less to be found
		steps = 8
	}
	p := solve.Least(make([]float64, 4), limits, steps, residuals)
	if failed != nil {
		return nil, failed
	}
	b := of(p)
	for _, v := range []struct {
		of   *float64
		step float64
	}{{&b.Stops, least.Stops}, {&b.Mired, least.Mired}, {&b.Tint, least.Tint}, {&b.Contrast, least.Contrast}} {
		if math.Abs(*v.of) < v.step {
			*v.of = 0
		}
	}
	apart := func(b Balance) (float64, error) {
		labs, err := shown(b)
		if err != nil {
			return 0, err
		}
		if !same {
			s, n := 0.0, 0.0
			for i, d := range summaryOf(labs).apart(theirs) {
				s += math.Abs(d) * summaryWeights[i]
				n += summaryWeights[i]
			}
			return s / n, nil
		}
		s, n := 0.0, 0.0
		for i, r := range ref {
			d := math.Hypot(math.Hypot(labs[i][0]-r[0], labs[i][1]-r[1]), labs[i][2]-r[2])
			if !math.IsNaN(d) {
				s, n = s+d, n+1
			}
		}
		return s / math.Max(n, 1), nil
	}
	was, err := apart(Balance{})
	if err != nil {
		return nil, err
	}
	is, err := apart(b)
	if err != nil {
		return nil, err
	}
	if is >= was { // it was as near already
		return &Matched{Was: was, Is: was}, nil
	}
	return &Matched{b, was, is}, nil
}

// soft is a difference of which what is more than k counts as its root.
func soft(d, k float64) float64 {
	a := math.Abs(d)
	if a <= k {
		return d
	}
	return math.Copysign(2*math.Sqrt(k*a)-k, d)
}

// summary is what can be compared of pictures of different things: lightness at shares of the picture, and the mean colour of what is
// dark, of middling lightness and light.
type summary struct {
	lightness [9]float64
	colour    [3][2]float64
	// neutral is the share of each third that tells of the light.
	neutral [3]float64
}

var shares = [9]float64{0.02, 0.1, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9, 0.98}

// summaryWeights are how much each difference of summaries counts.
var summaryWeights = []float64{0.4, 0.6, 0.8, 1, 1, 1, 0.8, 0.6, 0.4, 0.5, 0.5, 0.7, 0.7, 0.5, 0.5}

func summaryOf(labs [][3]float64) summary {
	var s summary
	list := slices.DeleteFunc(slices.Clone(labs), func(c [3]float64) bool { return math.IsNaN(c[0]) })
	if len(list) == 0 {
		return s
	}
	slices.SortFunc(list, func(a, b [3]float64) int {
		switch {
		case a[0] < b[0]:
			return -1
		case a[0] > b[0]:
			return 1
		}
		return 0
	})
	for i, q := range shares {
		s.lightness[i] = list[min(int(q*float64(len(list))), len(list)-1)][0]
	}
	for k := range 3 {
		part := list[k*len(list)/3 : (k+1)*len(list)/3]
		n := 0.0
		for _, c := range part {
			w := 1 / (1 + (c[1]*c[1]+c[2]*c[2])/150) // near neutral they tell of the light, far from it of things
			s.colour[k][0] += w * c[1]
			s.colour[k][1] += w * c[2]
			n += w
		}
		s.colour[k][0] /= math.Max(n, 1e-9)
		s.colour[k][1] /= math.Max(n, 1e-9)
		s.neutral[k] = n / math.Max(float64(len(part)), 1)
	}
	return s
}

func (s summary) apart(o summary) []float64 {
	var out []float64
	for i := range s.lightness {
		out = append(out, s.lightness[i]-o.lightness[i])
	}
	for k := range s.colour {
		trust := math.Min(s.neutral[k], o.neutral[k])
		out = append(out, trust*(s.colour[k][0]-o.colour[k][0]), trust*(s.colour[k][1]-o.colour[k][1]))
	}
	return out
}
