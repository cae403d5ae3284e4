package fit

import (
	"errors"
	"math"
	"slices"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/solve"
)

// Drawn is what a film leaves of a contrast of so many cycles a millimetre: Measured of it, and Fitted by the card.
type Drawn struct {
	Cycles   float64 `json:"cycles"`
	Measured float64 `json:"measured"`
	Fitted   float64 `json:"fitted"`
	// Layers is what was measured of each layer alone.
	Layers [3]float64 `json:"layers"`
}

// Of an edge: bins into which a pixel is cut, how far from it light is read (mm), and up to which cycles a millimetre.
const edgeBins, edgeReach, edgeCycles = 4, 0.07, 80.0

// ErrNoEdge is why no edge was found.
var ErrNoEdge = errors.New("no straight edge was found in it: fill the picture with one edge between dark and light, turned by 2 to 15 degrees against the border")

// Transfer measures how a film draws from one slanted edge (the method of ISO 12233): light is the exposure of the film's layers,
// perMM how many pixels a millimetre of film has. Measured is the mean of the layers, weighted 1 2 1; the pixel's own opening is taken
// out.
func Transfer(light *frame.Frame, perMM float64) ([]Drawn, error) {
	out, err := transfer(light, perMM, [3]float64{0.25, 0.5, 0.25})
	if err != nil {
		return nil, err
	}
	for p := range 3 {
		var alone [3]float64
		alone[p] = 1
		own, err := transfer(light, perMM, alone)
		if err != nil {
			return nil, err
		}
		for i, d := range own {
			out[i].Layers[p] = d.Measured
		}
	}
	return out, nil
}

// transfer is that of the layers' exposures, weighted.
func transfer(light *frame.Frame, perMM float64, weights [3]float64) ([]Drawn, error) {
	if perMM < 2*edgeCycles {
		return nil, errors.New("the scan of the edge is too coarse: 160 pixels to a millimetre (4000 a inch) are needed")
	}
	sum := make([]float64, light.W*light.H)
	for p, weight := range weights {
		for y := range light.H {
			for x, v := range light.Row(p, y) {
				sum[y*light.W+x] += weight * float64(v)
			}
		}
	}
	w, h := light.W, light.H
	at, slope, ok := line(sum, w, h)
	if !ok { // it may lie the other way
		turned := make([]float64, len(sum))
		for y := range h {
			for x := range w {
				turned[x*h+y] = sum[y*w+x]
			}
		}
		sum, w, h = turned, h, w
		if at, slope, ok = line(sum, w, h); !ok {
			return nil, ErrNoEdge
		}
	}
	cos := 1 / math.Sqrt(1+slope*slope)
	// the edge, over distance from it in parts of a pixel
	reach := int(edgeReach * perMM * edgeBins)
	value, count := make([]float64, 2*reach+1), make([]float64, 2*reach+1)
	for y := range h {
		for x := range w {
			d := (float64(x) - at - slope*float64(y)) * cos * edgeBins
			k := int(math.Round(d)) + reach
			if k >= 0 && k < len(value) {
				value[k] += sum[y*w+x]
				count[k]++
			}
		}
	}
	for k := range value {
		if count[k] == 0 {
			return nil, ErrNoEdge
		}
		value[k] /= count[k]
	}
	// its slope is how a line is drawn; a window lets it end
	slopeOf := make([]float64, len(value))
	for k := 1; k < len(value)-1; k++ {
		t := float64(k-reach) / float64(reach)
		slopeOf[k] = (value[k+1] - value[k-1]) / 2 * tapered(t)
	}
	var out []Drawn
	none := 0.0
	step := 1 / (perMM * edgeBins) // mm
	for f := 0.0; f <= edgeCycles; f += 2.5 {
		var re, im float64
		for k, v := range slopeOf {
			sin, cos := math.Sincos(2 * math.Pi * f * float64(k-reach) * step)
			re, im = re+v*cos, im+v*sin
		}
		m := math.Hypot(re, im)
		if f == 0 {
			none = m
			continue
		}
		// what differences over two bins, bins, and the pixel take away
		m /= none * sinc(2*f*step) * sinc(f*step) * sinc(f/perMM)
		out = append(out, Drawn{Cycles: f, Measured: m})
	}
	return out, nil
}

// tapered is 1 within two thirds of the reach, and falls to 0 at its end.
func tapered(t float64) float64 {
	t = (math.Abs(t) - 0.66) / 0.34
	if t <= 0 {
		return 1
	}
	return 0.5 + 0.5*math.Cos(math.Pi*min(t, 1))
}

func sinc(x float64) float64 {
	if x == 0 {
		return 1
	}
	return math.Sin(math.Pi*x) / (math.Pi * x)
}

// line finds a straight edge that goes down a picture: where it is at the top, and by how much it moves to the right a row.
func line(v []float64, w, h int) (at, slope float64, ok bool) {
	rows := max(1, h/200) // together, so that grain is gone
	var xs, ys []float64
	for y := 0; y+rows <= h; y += rows {
		sum := make([]float64, w)
		for j := range rows {
			for x := range w {
				sum[x] += v[(y+j)*w+x] / float64(rows)
			}
		}
		lo, hi := mean(sum[:w/6]), mean(sum[w-w/6:])
		if math.Abs(hi-lo) < 0.25*max(lo, hi) {
			continue
		}
		half := (lo + hi) / 2
		// the middle of what lies above half
		n := 0.0
		for x := range w {
			n += min(max((sum[x]-half)/(hi-lo)*4+0.5, 0), 1)
		}
		place := float64(w) - n
		xs, ys = append(xs, place-0.5), append(ys, float64(y)+float64(rows-1)/2)
	}
	if len(xs) < 20 {
		return 0, 0, false
	}
	keep := make([]bool, len(xs))
	for i := range keep {
		keep[i] = true
	}
	for range 4 { // without rows that dust spoiled
		var n, sx, sy, sxy, syy float64
		for i := range xs {
			if keep[i] {
				n, sx, sy, sxy, syy = n+1, sx+xs[i], sy+ys[i], sxy+xs[i]*ys[i], syy+ys[i]*ys[i]
			}
		}
		slope = (sxy - sx*sy/n) / (syy - sy*sy/n)
		at = (sx - slope*sy) / n
		miss := make([]float64, len(xs))
		for i := range xs {
			miss[i] = math.Abs(xs[i] - at - slope*ys[i])
		}
		sorted := slices.Clone(miss)
		slices.Sort(sorted)
		usual := max(sorted[len(sorted)/2]*3, 0.3)
		for i := range keep {
			keep[i] = miss[i] <= usual
		}
		if sorted[len(sorted)/2] > 3 {
			return 0, 0, false
		}
	}
	return at, slope, math.Abs(slope) > 0.02 && math.Abs(slope) < 0.3
}

func mean(v []float64) float64 {
	s := 0.0
	for _, x := range v {
		s += x / float64(len(v))
	}
	return s
}

// fitSharpness gives a card how it draws from what was measured, layer by layer where they differ, and writes down what it comes to.
func fitSharpness(s *film.Stock, drawn []Drawn) {
	s.MTF = fitTransfer(s.MTF, drawn)
	for p := range s.Layers {
		s.Layers[p].Scatter = 0
		if s.Mono {
			continue
		}
		best, at := math.Inf(1), 1.0
		for k := 0.4; k <= 2.5; k *= 1.01 {
			m, miss := s.MTF, 0.0
			m.Fine, m.Wide = k*m.Fine, k*m.Wide
			for _, d := range drawn {
				if d.Cycles <= sureCycles {
					miss += math.Pow(m.At(d.Cycles)-d.Layers[p], 2)
				}
			}
			if miss < best {
				best, at = miss, k
			}
		}
		if math.Abs(at-1) > tellsScatter {
			s.Layers[p].Scatter = round(at)
		}
	}
}

// sureCycles are up to how many cycles a millimetre one layer of an edge can be believed, tellsScatter by how much layers must differ.
const sureCycles, tellsScatter = 50.0, 0.12

// fitTransfer finds the sharpness that comes nearest to what was measured.
func fitTransfer(from film.Sharpness, drawn []Drawn) film.Sharpness {
	set := func(p []float64) film.Sharpness {
		return film.Sharpness{Fine: p[0], Wide: p[1], Share: p[2], Adjacency: p[3], Reach: p[4]}
	}
	start := []float64{from.Fine, from.Wide, from.Share, from.Adjacency, from.Reach}
	scale := []float64{2, 6, 0.3, 0.2, 15}
	limits := [][2]float64{{0.2, 15}, {2, 40}, {0.05, 0.98}, {0, 0.6}, {10, 60}}
	s := set(solve.Least(start, limits, 80, func(p []float64) []float64 {
		m := set(p)
		var r []float64
		for _, d := range drawn {
			if d.Measured > 0.05 {
				r = append(r, m.At(d.Cycles)-d.Measured)
			}
		}
		was := [5]float64{from.Fine, from.Wide, from.Share, from.Adjacency, from.Reach}
		for i := range p {
			r = append(r, pull*(p[i]-was[i])/scale[i])
		}
		return r
	}))
	for i := range drawn {
		drawn[i].Fitted = s.At(drawn[i].Cycles)
	}
	return s
}
