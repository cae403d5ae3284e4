package fit

import (
	"context"
	"fmt"
	"math"
	"slices"

	"velours/core/film"
	"velours/core/solve"
)

// Options are what the measurements do not tell.
type Options struct {
	// Label is what the stock will be called; ID its id.
	ID, Label string
	// Like is the card that the fit starts from; nil chooses one of the same sort.
	Like *film.Stock
	// Grey is the log exposure of mid grey in a wedge; NaN places it by the film's speed.
	Grey float64
	// Above tells that the densities of a chart leave base and fog out: those of the other card are taken.
	Above bool
	// Status is that of the densitometer that read a wedge, nil for a scanner.
	Status *film.Status

	ctx context.Context // of a whole measurement: a fit ends with it
}

// Report is what a fit came to.
type Report struct {
	// Grey is the log exposure at which mid grey was placed.
	Grey float64 `json:"grey"`
	// Like is the label of the card that the fit started from.
	Like string `json:"like"`
	// Rms and Worst are the differences of density between what was measured and what the card reads.
	Rms   float64 `json:"rms"`
	Worst float64 `json:"worst"`
	// Steps are what was measured and what the card reads of it.
	Steps []Compared `json:"steps,omitempty"`
	// Patches, of a chart or a scene, are its colours; Pairs say how well each is met.
	Patches []Patch  `json:"patches,omitempty"`
	Pairs   []Judged `json:"pairs,omitempty"`
	// Mean and MeanKeptOut are the mean colour differences (CIEDE2000) of the patches that were fitted and of those
	// that were kept out to judge it.
	Mean        float64 `json:"mean,omitempty"`
	MeanKeptOut float64 `json:"meanKeptOut,omitempty"`
	// Casts is the scanner's white, as density channel by channel, where wedges tell what the base reads.
	Casts *[3]float64 `json:"casts,omitempty"`
	// Parts say which parts of the card are measured. Drawn, Speckles and Ring are what was measured of detail, grain and halo.
	Parts    []Part    `json:"parts,omitempty"`
	Drawn    []Drawn   `json:"drawn,omitempty"`
	Speckles []Speckle `json:"speckles,omitempty"`
	Ring     *Ring     `json:"ring,omitempty"`
	// Limits say in words what the measurements do not tell.
	Limits []string `json:"limits"`
}

// Compared is one step of a wedge.
type Compared struct {
	LogE     float64    `json:"logE"`
	Measured [3]float64 `json:"measured"`
	Fitted   [3]float64 `json:"fitted"`
}

// like finds the card that a fit starts from.
func like(o Options, positive, mono bool) (*film.Stock, error) {
	if o.Like != nil {
		if o.Like.Reversal != positive {
			want := map[bool]string{true: "falls, as of a reversal stock", false: "rises, as of a negative"}
			return nil, fmt.Errorf("density %s, and %s is not of that sort; start from another card", want[positive], o.Like.Label)
		}
		if o.Like.Mono && !mono {
			return nil, fmt.Errorf("red, green and blue differ, and %s is black and white; start from a colour card", o.Like.Label)
		}
		return o.Like, nil
	}
	id := "aubade-250d"
	switch {
	case positive:
		id = "soierie-64"
	case mono:
		id = "fusain-125"
	}
	return film.FindStock(id)
}

// speedPoint is the density above base at which a film's speed is read, and above it, in log exposure, where mid grey
// lies if nothing else is known.
const speedPoint, greyAbove = 0.1, 1.4

// FitWedge makes a card of a wedge: base and curves are the film's, all else that of the card it is like.
func FitWedge(w *Wedge, o Options) (*film.Stock, *Report, error) {
	from, err := like(o, w.Positive, w.Mono())
	if err != nil {
		return nil, nil, err
	}
	s, status := clone(from, o), o.Status
	if status == nil {
		status = scanner
	}
	s.Reversal = w.Positive
	lowest := [3]float64{math.Inf(1), math.Inf(1), math.Inf(1)}
	for _, step := range w.Steps {
		for i, d := range step.D {
			lowest[i] = min(lowest[i], d)
		}
	}
	n := len(w.Steps)
	x := make([]float64, n)
	var d [3][]float64
	grey := o.Grey
	for range 3 { // the mask is stronger where a layer can be denser, and the base is what is left of the lowest reading
		setBase(s, lowest, status)
		reader := film.Develop(s, film.Process{Strength: 1})
		d = [3][]float64{}
		for _, step := range w.Steps {
			v := layersOf(reader, step.D, status)
			for i := range d {
				d[i] = append(d[i], v[i])
			}
		}
		for k, step := range w.Steps {
			x[k] = step.LogE
		}
		if math.IsNaN(o.Grey) {
			grey = placeGrey(x, d[1], w.Positive)
		}
		for k := range x {
			x[k] -= grey
		}
		for i := range s.Layers {
			s.Layers[i] = fitLayer(from.Layers[i], x, d[i], w.Positive)
		}
		if s.Mono {
			s.Layers[1], s.Layers[2] = s.Layers[0], s.Layers[0]
		}
	}
	if err := s.Ready(); err != nil {
		return nil, nil, err
	}
	r := &Report{Grey: grey, Like: from.Label}
	made := film.Develop(s, film.Process{Strength: 1})
	for k, step := range w.Steps {
		c := Compared{LogE: step.LogE, Measured: step.D, Fitted: made.ReadIn(status, made.Grey(x[k]))}
		for i := range c.Fitted {
			e := math.Abs(c.Fitted[i] - c.Measured[i])
			r.Rms += e * e / float64(3*n)
			r.Worst = max(r.Worst, e)
		}
		r.Steps = append(r.Steps, c)
	}
	r.Rms = math.Sqrt(r.Rms)
	r.Limits = wedgeLimits(s, from, x, d)
	return s, r, nil
}

// wedgeLimits says what a wedge leaves open.
func wedgeLimits(s, from *film.Stock, x []float64, d [3][]float64) []string {
	out := []string{fmt.Sprintf("A wedge tells curves and base alone: how sensitive the film is to colours, how its layers hold each other back, its dyes and its grain are those of %s.", from.Label)}
	first, last := x[0]/math.Log10(2), x[len(x)-1]/math.Log10(2)
	if first > -4 {
		out = append(out, fmt.Sprintf("The wedge begins %.1f stops from mid grey; what is darker goes on as the curve does.", first))
	}
	if last < 3.5 {
		out = append(out, fmt.Sprintf("The wedge ends %.1f stops from mid grey; what is brighter goes on as the curve does.", last))
	}
	if !s.Reversal && slices.Max(d[1]) < 0.8*s.Layers[1].DMax {
		out = append(out, "The shoulder lies beyond the wedge and is the other card's.")
	}
	return out
}

// clone is a card of one's own like another.
func clone(from *film.Stock, o Options) *film.Stock {
	s := *from
	s.Velours, s.ID, s.Label, s.Family, s.Era = film.CardVersion, o.ID, o.Label, "Own", "measured"
	s.Note = "Measured; in all that was not, like " + from.Label + "."
	s.Tags, s.Cast, s.Fade = []string{"own"}, nil, [3]float64{}
	s.Claims, s.Printed = nil, nil // which were the other card's
	s.Base = slices.Clone(from.Base)
	return &s
}

// scanner is the status of a scan.
var scanner = film.Statuses[len(film.Statuses)-1]

// setBase gives a card a base that reads as the lowest densities measured, with no dye formed.
func setBase(s *film.Stock, lowest [3]float64, status *film.Status) {
	heights := lowest
	for range 30 { // the three bells overlap a little
		s.Base = []film.Lobe{{Peak: 690, Width: 70, Height: heights[0]}, {Peak: 550, Width: 38, Height: heights[1]}, {Peak: 445, Width: 52, Height: heights[2]}}
		at := film.Develop(s, film.Process{Strength: 1}).ReadIn(status, [3]float64{})
		for i := range heights {
			heights[i] += lowest[i] - at[i]
		}
	}
}

// layersOf finds the layer densities that read as measured: Newton's method on the densitometer.
func layersOf(n *film.Negative, read [3]float64, status *film.Status) [3]float64 {
	d := [3]float64{}
	base := n.ReadIn(status, d)
	for i := range d {
		d[i] = max(read[i]-base[i], 0)
	}
	for range 30 {
		at := n.ReadIn(status, d)
		var a [][]float64
		b := make([]float64, 3)
		const h = 1e-4
		cols := [3][3]float64{}
		for k := range d {
			q := d
			q[k] += h
			cols[k] = n.ReadIn(status, q)
		}
		worst := 0.0
		for i := range d {
			row := make([]float64, 3)
			for k := range d {
				row[k] = (cols[k][i] - at[i]) / h
			}
			a, b[i] = append(a, row), read[i]-at[i]
			worst = max(worst, math.Abs(b[i]))
		}
		if worst < 1e-7 {
			break
		}
		if n.Stock.Mono { // three like layers: the mean of what is missing, in each
			m := (b[0] + b[1] + b[2]) / 3
			for i := range d {
				d[i] += m
			}
			continue
		}
		for i, v := range solve.Linear(a, b, 0) {
			d[i] += min(max(v, -0.5), 0.5)
		}
	}
	return d
}

// placeGrey puts mid grey by the film's speed: 1.4 above where density begins; of a positive, where it has 0.95
// of density left.
func placeGrey(x, d []float64, positive bool) float64 {
	if positive {
		for k := range x {
			if d[k] < 0.95 {
				return x[max(k-1, 0)] + (x[k]-x[max(k-1, 0)])*0.5
			}
		}
		return x[len(x)/2]
	}
	least := slices.Min(d)
	for k := range x {
		if d[k] > least+speedPoint {
			return x[k] + greyAbove
		}
	}
	return x[len(x)/2]
}

// Curve parameters in the order in which they are fitted, and between what they lie.
var curveLimits = [][2]float64{{0.2, 3.5}, {-3.5, 0.5}, {1, 12}, {1, 4.5}, {1, 12}}

// pull is the weight of a density by which parameters that the wedge says nothing of are held at the other card's.
const pull = 0.01

// fitLayer fits a layer's figures to densities, and refines them with points where the film bends otherwise.
func fitLayer(from film.Layer, x, d []float64, positive bool) film.Layer {
	l := from
	l.Measured = nil
	set := func(p []float64) film.Layer {
		l.Gamma, l.Speed, l.Toe, l.DMax, l.Shoulder = p[0], p[1], p[2], p[3], p[4]
		return l
	}
	at := func(q *film.Layer, x float64) float64 {
		if positive {
			return q.Top() - q.Stated(x)
		}
		return q.Stated(x)
	}
	start := []float64{from.Gamma, from.Speed, from.Toe, from.DMax, from.Shoulder}
	if positive {
		start[3] = max(slices.Max(d), 1)
	}
	scale := []float64{0.3, 0.5, 3, 0.5, 3}
	p := solve.Least(slices.Clone(start), curveLimits, 80, func(p []float64) []float64 {
		q := set(p)
		var r []float64
		for k := range x {
			r = append(r, (at(&q, x[k])-d[k])/(1+d[k])) // noise grows with density
		}
		for i := range p {
			r = append(r, pull*(p[i]-start[i])/scale[i])
		}
		return r
	})
	l = set(p)
	l.Measured = refinement(&l, x, d, at, positive)
	return l
}

// What the figures leave over is smoothed over so much log exposure, and counts if it is more than this and a share
// of the density, which is a densitometer's noise.
const smoothOver, tells, tellsShare = 0.18, 0.02, 0.02

// refinement are the points by which a film bends otherwise than its figures say, nil where it does not tell.
func refinement(l *film.Layer, x, d []float64, at func(*film.Layer, float64) float64, positive bool) [][2]float64 {
	if positive {
		return nil // its ends are what the eye sees; the figures hold them
	}
	left := make([]float64, len(x))
	worst := 0.0
	for k := range x {
		sum, weight := 0.0, 0.0
		for m := range x {
			w := math.Exp(-(x[m] - x[k]) * (x[m] - x[k]) / (2 * smoothOver * smoothOver))
			sum, weight = sum+w*(d[m]-at(l, x[m])), weight+w
		}
		left[k] = sum / weight
		worst = max(worst, math.Abs(left[k])/(tells+tellsShare*d[k]))
	}
	if worst < 1 {
		return nil
	}
	var out [][2]float64
	last := -1.0
	for k := range x {
		v := max(at(l, x[k])+left[k], 0)
		if v > last+0.002 {
			out = append(out, [2]float64{round(x[k]), round(v)})
			last = v
		}
	}
	if len(out) < 4 {
		return nil
	}
	return out
}

func round(v float64) float64 { return math.Round(v*1e4) / 1e4 }
