package fit

import (
	"errors"
	"math"
	"slices"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grain"
)

// Speckle is how grainy a film is in one tone: the deviation of the density that is read of it through a round opening of 48 µm.
type Speckle struct {
	// Density is what is read above base, red, green and blue.
	Density  [3]float64 `json:"density"`
	Measured [3]float64 `json:"measured"`
	Fitted   [3]float64 `json:"fitted"`
	// Readings is of how many openings.
	Readings int `json:"readings"`
}

// Of even patches: the opening and the tile in which light counts as even (mm), the pixels that a millimetre must have at least, how
// many tiles tell a tone, and within what density tiles are of one.
const opening, tileOf, coarsest, fewestTiles, oneTone = 0.048, 0.6, 42, 4, 0.07

// ErrNoPatch is why no even patch was found.
var ErrNoPatch = errors.New("no even patch was found in it: fill the picture with even greys, each 2 mm wide or more on the film, in focus")

// Speckles reads the grain of even patches: density is what is read of a film above base, pixel by pixel, perMM how many
// pixels a millimetre of it has. Light that falls off is taken out, and dust does not count. Tones come from clear to dense.
func Speckles(density *frame.Frame, perMM float64) ([]Speckle, error) {
	if perMM < coarsest {
		return nil, errors.New("the scan of the patches is too coarse: 42 pixels to a millimetre (1070 an inch) are needed")
	}
	mask := openingOf(perMM)
	side := int(tileOf * perMM)
	type tile struct {
		mean [3]float64
		left [3][]float64
	}
	var tiles []tile
	for y := 0; y+side <= density.H; y += side {
		for x := 0; x+side <= density.W; x += side {
			var t tile
			even := true
			for p := range 3 {
				values, slope := mask.over(density, p, x, y, side)
				t.mean[p], t.left[p] = mean(values), levelled(values, slope)
				// an edge leaves more across the tile than grain does
				even = even && flat(t.left[p])
			}
			if even {
				tiles = append(tiles, t)
			}
		}
	}
	slices.SortFunc(tiles, func(a, b tile) int { return int(1e6 * (a.mean[1] - b.mean[1])) })
	var out []Speckle
	for i := 0; i < len(tiles); {
		k := i
		for k < len(tiles) && tiles[k].mean[1] < tiles[i].mean[1]+oneTone {
			k++
		}
		if k-i >= fewestTiles {
			var s Speckle
			for p := range 3 {
				var all []float64
				for _, t := range tiles[i:k] {
					all = append(all, t.left[p]...)
					s.Density[p] += t.mean[p] / float64(k-i)
				}
				s.Measured[p], s.Readings = mask.within*deviation(all), len(all)
			}
			out = append(out, s)
		}
		i = k
	}
	if len(out) == 0 {
		return nil, ErrNoPatch
	}
	return out, nil
}

// roundOpening is the opening as shares of the pixels that it covers.
type roundOpening struct {
	n, step int // pixels across, and from one to the next
	share   []float64
	// within is what a reading misses of the grain, because a pixel that the opening covers in part counts as if it were even.
	within float64
}

func openingOf(perMM float64) roundOpening {
	r := opening / 2 * perMM
	n := int(math.Ceil(2 * r))
	o := roundOpening{n: n, step: n, share: make([]float64, n*n)}
	sum := 0.0
	const fine = 8
	for i := range o.share {
		for j := range fine * fine {
			x := float64(i%n) + (float64(j%fine)+0.5)/fine - float64(n)/2
			y := float64(i/n) + (float64(j/fine)+0.5)/fine - float64(n)/2
			if x*x+y*y < r*r {
				o.share[i]++
				sum++
			}
		}
	}
	squares := 0.0
	for i := range o.share {
		o.share[i] /= sum
		squares += o.share[i] * o.share[i]
	}
	o.within = 1 / math.Sqrt(squares*math.Pi*r*r)
	return o
}

// over is what the opening reads, place by place, in a tile of one plane; places are those of the readings, for levelling.
func (o roundOpening) over(f *frame.Frame, p, x0, y0, side int) (values []float64, places [][2]float64) {
	for y := y0; y+o.n <= y0+side; y += o.step {
		for x := x0; x+o.n <= x0+side; x += o.step {
			sum := 0.0
			for j := range o.n {
				row := f.Row(p, y+j)[x : x+o.n]
				for i, v := range row {
					sum += o.share[j*o.n+i] * float64(v)
				}
			}
			values, places = append(values, sum), append(places, [2]float64{float64(x - x0), float64(y - y0)})
		}
	}
	return values, places
}

// levelled is what a plane through values leaves of them.
func levelled(values []float64, at [][2]float64) []float64 {
	n := float64(len(values))
	var mx, my, mv float64
	for i, v := range values {
		mx, my, mv = mx+at[i][0]/n, my+at[i][1]/n, mv+v/n
	}
	var xx, yy, xy, xv, yv float64
	for i, v := range values {
		x, y := at[i][0]-mx, at[i][1]-my
		xx, yy, xy, xv, yv = xx+x*x, yy+y*y, xy+x*y, xv+x*(v-mv), yv+y*(v-mv)
	}
	det := xx*yy - xy*xy
	a, b := (xv*yy-yv*xy)/det, (yv*xx-xv*xy)/det
	out := make([]float64, len(values))
	// the plane takes three from the freedom of the rest
	k := math.Sqrt(n / (n - 3))
	for i, v := range values {
		out[i] = k * (v - mv - a*(at[i][0]-mx) - b*(at[i][1]-my))
	}
	return out
}

// flat tells that what is left of a tile is grain: neighbours differ as much as any two do. At an edge they are alike.
func flat(left []float64) bool {
	n := int(math.Round(math.Sqrt(float64(len(left)))))
	if n < 3 || n*n != len(left) {
		return false
	}
	most := 4 * deviation(left) // dust is no edge
	clipped := func(i int) float64 { return max(-most, min(most, left[i])) }
	for _, step := range []int{1, n} {
		all, apart, pairs := 0.0, 0.0, 0.0
		for i := range left {
			all += clipped(i) * clipped(i) / float64(len(left))
			if step == 1 && i%n == n-1 || i+step >= len(left) {
				continue
			}
			d := clipped(i) - clipped(i+step)
			apart, pairs = apart+d*d/2, pairs+1
		}
		if all == 0 || apart/pairs < alikeShare*all {
			return false
		}
	}
	return true
}

// alikeShare is how much less than any two neighbours may differ, as squares.
const alikeShare = 0.65

// deviation is the standard deviation without what is no grain: beyond four of them.
func deviation(v []float64) float64 {
	abs := make([]float64, len(v))
	for i, x := range v {
		abs[i] = math.Abs(x)
	}
	slices.Sort(abs)
	if len(abs) == 0 {
		return 0
	}
	most := 4 * 1.4826 * abs[len(abs)/2] // of a bell, the middle of distances lies at 0.6745 deviations
	sum, n := 0.0, 0.0
	for _, x := range abs {
		if x <= most {
			sum, n = sum+x*x, n+1
		}
	}
	return math.Sqrt(sum / max(n, 1))
}

// fitGrain gives a card the granularity that was measured, and writes down what it comes to by tone. reading is how densities of its
// layers are read; the grain of each layer is by chance, so that squares of deviations add.
func fitGrain(s *film.Stock, reading colour.Matrix, all []Speckle) {
	law := grain.Law(s.Cloud)
	toLayers := reading.Inverse()
	var squares colour.Matrix
	for i, v := range reading {
		squares[i] = v * v
	}
	apart := squares.Inverse()
	var shares [3][]float64
	for _, k := range all {
		d := toLayers.Apply(k.Density)
		var read [3]float64
		for p, v := range k.Measured {
			read[p] = v * v
		}
		for p, v := range apart.Apply(read) {
			v = math.Sqrt(max(v, 0.25*read[p]))
			if d[p] > 0.15 || len(all) == 1 { // where there is dye
				shares[p] = append(shares[p], v/law(max(d[p], 0)))
			}
		}
	}
	var at [3]float64
	for p := range at {
		if len(shares[p]) == 0 {
			return
		}
		slices.Sort(shares[p])
		at[p] = shares[p][len(shares[p])/2]
	}
	s.Granularity = round(1000 * at[1])
	for p := range s.Layers {
		s.Layers[p].Grain = min(round(at[p]/at[1]), 4)
	}
	for i := range all {
		var own [3]float64
		for p, d := range toLayers.Apply(all[i].Density) {
			own[p] = math.Pow(at[p]*law(max(d, 0)), 2)
		}
		for p, v := range squares.Apply(own) {
			all[i].Fitted[p] = math.Sqrt(v)
		}
	}
}
