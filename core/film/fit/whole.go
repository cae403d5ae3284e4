package fit

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
)

// Evidence is what there is of a film. Each part may be missing; the more there are, the more of the card is measured.
type Evidence struct {
	// Wedges are of the same film, exposed by more or less.
	Wedges []*Wedge
	// Pairs are of charts and of scenes.
	Pairs []Pair
	// Edge is a slanted edge, Patches are even greys, Lamp is a small lamp on black.
	Edge, Patches, Lamp *Scan
	// Problems are why parts that were given cannot be read, by what they would tell.
	Problems map[PartOf][]string
}

// Scan is a picture of film: the light that came through.
type Scan struct {
	Name  string
	Light *frame.Frame
	// PerMM is how many pixels a millimetre of film has.
	PerMM float64
	// Stops is how bright a lamp is from mid grey, no number if nobody knows.
	Stops float64
	// Dark tells that no light came to its border.
	Dark bool
}

// PartOf is a part of a card that can be measured.
type PartOf string

// The parts of a card, in the order in which they are told.
const (
	Curves  PartOf = "curves"
	Colours PartOf = "colours"
	Detail  PartOf = "detail"
	Grain   PartOf = "grain"
	Base    PartOf = "halo"
)

var partsOf = []PartOf{Curves, Colours, Detail, Grain, Base}

// Part says of a part of a card whether it was measured, from what, and how sure it is.
type Part struct {
	Of       PartOf `json:"of"`
	Measured bool   `json:"measured"`
	// From is what it was measured from, or whose it is.
	From string `json:"from"`
	// Sure is how far it may be off, in words.
	Sure string `json:"sure,omitempty"`
	// Problem is why what was given for it tells nothing.
	Problem string `json:"problem,omitempty"`
}

// ErrNothing is why no card was made.
var ErrNothing = errors.New("nothing that was given could be measured")

// Whole makes a card of all there is. A part that cannot be measured is that of the card it starts from, and says why. tell, if not nil,
// hears what is under way.
func Whole(ctx context.Context, e Evidence, o Options, tell func(doing string)) (*film.Stock, *Report, error) {
	o.ctx = ctx
	w := whole{e: e, o: o, problems: map[PartOf][]string{}}
	for of, lines := range e.Problems {
		w.problems[of] = slices.Clone(lines)
	}
	doing := func(what string) error {
		if tell != nil {
			tell(what)
		}
		return ctx.Err()
	}
	if err := doing("fitting curves and colours"); err != nil {
		return nil, nil, err
	}
	if err := w.curvesAndColours(); err != nil {
		return nil, nil, err
	}
	for _, part := range []struct {
		what string
		scan *Scan
		do   func()
	}{{"measuring detail", w.e.Edge, w.detail}, {"measuring grain", w.e.Patches, w.grain}, {"measuring the halo", w.e.Lamp, w.base}} {
		if part.scan == nil {
			continue
		}
		if err := doing(part.what); err != nil {
			return nil, nil, err
		}
		part.do()
	}
	if err := ctx.Err(); err != nil {
		return nil, nil, err
	}
	measured := false
	for _, of := range partsOf {
		p := w.part(of)
		measured = measured || p.Measured
		w.report.Parts = append(w.report.Parts, p)
	}
	if !measured {
		var why []string
		for _, of := range partsOf {
			why = append(why, w.problems[of]...)
		}
		return nil, nil, fmt.Errorf("%w: %s", ErrNothing, strings.Join(why, "; "))
	}
	w.stock.Note = w.note()
	if err := w.stock.Ready(); err != nil {
		return nil, nil, err
	}
	return w.stock, w.report, nil
}

// whole is a card that is being measured.
type whole struct {
	e        Evidence
	o        Options
	stock    *film.Stock
	report   *Report
	told     [5]Part // by the order of partsOf
	problems map[PartOf][]string
	cast     *[3]float64 // the scanner's white, as density
}

func (w *whole) bad(of PartOf, err error) {
	w.problems[of] = append(w.problems[of], err.Error())
}

func (w *whole) tell(of PartOf, from, sure string) {
	w.told[slices.Index(partsOf, of)] = Part{Of: of, Measured: true, From: from, Sure: sure}
}

// curvesAndColours fits wedges and pairs, together: dyes tell what a densitometer's reading means, and curves what
// a chart's densities do.
func (w *whole) curvesAndColours() error {
	o := w.o
	var joined *Wedge
	var offsets []float64
	if len(w.e.Wedges) > 0 {
		var err error
		if joined, offsets, err = Join(w.e.Wedges); err != nil {
			w.bad(Curves, err)
		}
	}
	if joined != nil {
		s, r, err := FitWedge(joined, o)
		if err != nil {
			w.bad(Curves, err)
			joined = nil
		} else {
			w.stock, w.report = s, r
		}
	}
	if len(w.e.Pairs) > 0 {
		if err := w.colours(joined); err != nil {
			w.bad(Colours, err)
		}
	}
	if w.stock == nil {
		from, err := like(o, false, false)
		if err != nil {
			return err
		}
		s := clone(from, o)
		if err := s.Ready(); err != nil {
			return err
		}
		w.stock, w.report = s, &Report{Like: from.Label, Limits: []string{}}
	}
	if joined != nil {
		of := fmt.Sprintf("a wedge of %d steps", len(joined.Steps))
		if len(w.e.Wedges) > 1 {
			var moved []string
			for _, x := range offsets[1:] {
				moved = append(moved, fmt.Sprintf("%+.2f", x))
			}
			of = fmt.Sprintf("%d wedges of %d steps in all, joined at %s of log exposure", len(w.e.Wedges), len(joined.Steps), strings.Join(moved, ", "))
		}
		rms, worst := apartFrom(w.report.Steps)
		w.tell(Curves, of, fmt.Sprintf("density %.3f off on the whole, %.3f at most", rms, worst))
	}
	return nil
}

// apartFrom is how far a card is from the steps of a wedge.
func apartFrom(steps []Compared) (rms, worst float64) {
	for _, c := range steps {
		for i := range c.Fitted {
			e := math.Abs(c.Fitted[i] - c.Measured[i])
			rms += e * e / float64(3*len(steps))
			worst = max(worst, e)
		}
	}
	return math.Sqrt(rms), worst
}

func (w *whole) colours(joined *Wedge) error {
	var names []string
	for _, p := range w.e.Pairs {
		names = append(names, p.Name)
	}
	o, like, grey := w.o, "", 0.0
	if joined != nil { // curves begin where the wedge alone has them
		o.Like, like, grey = w.stock, w.report.Like, w.report.Grey
	}
	s, r, err := fitPairs(w.e.Pairs, joined, grey, o)
	if err != nil {
		return err
	}
	w.stock, w.report = s, r
	if joined != nil {
		r.Like = like
	} else {
		w.tell(Curves, strings.Join(names, ", "), fmt.Sprintf("between its darkest and its brightest patch; density %.3f off on the whole", r.Rms))
	}
	w.tell(Colours, strings.Join(names, ", "), fmt.Sprintf("on a print ΔE %.1f over what was fitted, %.1f over what was kept out", r.Mean, r.MeanKeptOut))
	w.cast = r.Casts
	return nil
}

// reading is how densities of layers are read, nearly straight: what a density of 1 in each reads in each channel, above base.
func reading(n *film.Negative) (m colour.Matrix) {
	clear := n.Read([3]float64{})
	for k := range 3 {
		var d [3]float64
		d[k] = 1
		for i, v := range n.Read(d) {
			m[3*i+k] = v - clear[i]
		}
	}
	return m
}

// above are the densities that a scan reads above base, pixel by pixel.
func (w *whole) above(s *Scan) *frame.Frame {
	n := film.Develop(w.stock, film.Process{Strength: 1})
	clear := n.Read([3]float64{})
	out := frame.New(s.Light.W, s.Light.H, 3)
	for p := range 3 {
		for y := range out.H {
			row := out.Row(p, y)
			for x, v := range s.Light.Row(p, y) {
				if !(v > 1e-5) { // what is no number too
					v = 1e-5
				}
				row[x] = float32(-math.Log10(float64(v)))
			}
		}
		base := clear[p]
		switch {
		case s.Dark: // what no light came to is what such film reads
			base = border(out, p) - (n.Read(n.Grey(-3.6))[p] - clear[p])
		case w.cast != nil:
			base += w.cast[p]
		default: // what is clearest is the base
			base = quantile(out, p, 0.02)
		}
		for y := range out.H {
			row := out.Row(p, y)
			for x := range row {
				row[x] -= float32(base)
			}
		}
	}
	return out
}

func quantile(f *frame.Frame, p int, share float64) float64 {
	var v []float64
	for y := 0; y < f.H; y += 2 {
		for x := 0; x < f.W; x += 2 {
			v = append(v, float64(f.Row(p, y)[x]))
		}
	}
	slices.Sort(v)
	return v[int(share*float64(len(v)-1))]
}

// border is the middle of what lies in the outer twentieth of a picture.
func border(f *frame.Frame, p int) float64 {
	wide := max(f.W/20, 1)
	var v []float64
	for y := range f.H {
		for x, d := range f.Row(p, y) {
			if x < wide || y < wide || x >= f.W-wide || y >= f.H-wide {
				v = append(v, float64(d))
			}
		}
	}
	slices.Sort(v)
	return v[len(v)/2]
}

// edgeMost is how many pixels of an edge are read each way, lampRoom how much around a lamp, in mm: a scan of a whole frame is large.
const edgeMost, lampRoom = 2000, 3.5

// middle is the middle of a scan, where it is larger than so many pixels.
func (s *Scan) middle(most int) *Scan {
	w, h := min(s.Light.W, most), min(s.Light.H, most)
	return s.part((s.Light.W-w)/2, (s.Light.H-h)/2, w, h)
}

// aroundLamp is what lies around what differs most from the rest of a scan.
func (s *Scan) aroundLamp() *Scan {
	const block = 8
	w, h := s.Light.W/block, s.Light.H/block
	room := int(lampRoom * s.PerMM)
	if w < 4 || h < 4 || 2*room >= min(s.Light.W, s.Light.H) {
		return s
	}
	logs := make([]float64, w*h)
	for y := range h * block {
		for x, v := range s.Light.Row(1, y)[:w*block] {
			logs[y/block*w+x/block] += math.Log(max(float64(v), 1e-5))
		}
	}
	sorted := slices.Clone(logs)
	slices.Sort(sorted)
	usual, at, most := sorted[len(sorted)/2], 0, 0.0
	for i, v := range logs {
		if d := math.Abs(v - usual); d > most {
			at, most = i, d
		}
	}
	clip := func(v, to int) int { return max(0, min(v, to)) }
	x, y := clip(at%w*block-room, s.Light.W-2*room), clip(at/w*block-room, s.Light.H-2*room)
	return s.part(x, y, 2*room, 2*room)
}

func (s *Scan) part(x, y, w, h int) *Scan {
	if w == s.Light.W && h == s.Light.H {
		return s
	}
	p := *s
	p.Light = s.Light.Crop(x, y, w, h)
	return &p
}

// exposure is the light of a scan's layers, mid grey at 0.18: densities back through curves and interlayer effect.
func (w *whole) exposure(s *Scan) *frame.Frame {
	d := w.above(s)
	n := film.Develop(w.stock, film.Process{Strength: 1})
	m := reading(n)
	toLayers := m.Inverse()
	var back [3]func(float64) float64
	for i := range back {
		back[i] = inverseOf(func(x float64) float64 { return n.Curve(i, x) })
	}
	// a row cannot fail, and the fit asks in between whether it is to end
	_ = frame.Bands(context.Background(), d.H, 16, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			rows := [3][]float32{d.Row(0, y), d.Row(1, y), d.Row(2, y)}
			for x := range d.W {
				var felt [3]float64
				for i, v := range toLayers.Apply([3]float64{float64(rows[0][x]), float64(rows[1][x]), float64(rows[2][x])}) {
					felt[i] = back[i](v)
				}
				e := felt
				for range 4 {
					by := n.Interlayer([3]float64{n.Developing(e[0]), n.Developing(e[1]), n.Developing(e[2])})
					for i := range e {
						e[i] = felt[i] - by[i]
					}
				}
				for i := range e {
					rows[i][x] = float32(0.18 * math.Pow(10, e[i]))
				}
			}
		}
	})
	return d
}

// inverseOf tabulates the inverse of a curve over log exposure.
func inverseOf(f func(float64) float64) func(float64) float64 {
	const lo, hi, n = -3.6, 3.6, 900
	x, y := make([]float64, n+1), make([]float64, n+1)
	for i := range y {
		x[i] = lo + (hi-lo)*float64(i)/n
		y[i] = f(x[i])
	}
	if y[n] < y[0] {
		slices.Reverse(x)
		slices.Reverse(y)
	}
	return func(v float64) float64 {
		k, _ := slices.BinarySearch(y, v)
		switch {
		case k <= 0:
			return x[0]
		case k > n:
			return x[n]
		case y[k] == y[k-1]:
			return x[k]
		}
		return x[k-1] + (x[k]-x[k-1])*(v-y[k-1])/(y[k]-y[k-1])
	}
}

func (w *whole) detail() {
	drawn, err := Transfer(w.exposure(w.e.Edge.middle(edgeMost)), w.e.Edge.PerMM)
	if err != nil {
		w.bad(Detail, fmt.Errorf("%s: %w", w.e.Edge.Name, err))
		return
	}
	fitSharpness(w.stock, drawn)
	w.report.Drawn = drawn
	off := 0.0
	for _, d := range drawn {
		if d.Cycles <= 50 {
			off = max(off, math.Abs(d.Fitted-d.Measured))
		}
	}
	layers := ""
	for p, name := range [3]string{"red", "green", "blue"} {
		if k := w.stock.Layers[p].Scatter; k != 0 {
			layers += fmt.Sprintf("; the %s layer scatters %.1f times as far", name, k)
		}
	}
	w.tell(Detail, w.e.Edge.Name, fmt.Sprintf("half is left at %.0f cycles/mm; the card within %.0f %% of what was measured up to 50%s", w.stock.MTF.Half(), 100*off, layers))
}

func (w *whole) grain() {
	all, err := Speckles(w.above(w.e.Patches), w.e.Patches.PerMM)
	if err != nil {
		w.bad(Grain, fmt.Errorf("%s: %w", w.e.Patches.Name, err))
		return
	}
	fitGrain(w.stock, reading(film.Develop(w.stock, film.Process{Strength: 1})), all)
	w.report.Speckles = all
	fewest := all[0].Readings
	for _, s := range all {
		fewest = min(fewest, s.Readings)
	}
	w.tell(Grain, fmt.Sprintf("%s, %d tones", w.e.Patches.Name, len(all)), fmt.Sprintf("granularity %.1f; each tone within %.0f %%", w.stock.Granularity, 100/math.Sqrt(2*float64(fewest))))
}

func (w *whole) base() {
	stops := w.e.Lamp.Stops
	ring, thick, err := Halo(w.exposure(w.e.Lamp.aroundLamp()), w.e.Lamp.PerMM, w.stock.Index, stops)
	if err != nil {
		w.bad(Base, fmt.Errorf("%s: %w", w.e.Lamp.Name, err))
		return
	}
	fitHalo(w.stock, ring, thick)
	w.report.Ring = ring
	sure := fmt.Sprintf("a ring of %.3f mm, hue %.0f°", ring.Radius, ring.Hue)
	if !ring.Seen {
		sure = fmt.Sprintf("no ring stands out: a backing; hue %.0f°", ring.Hue)
	}
	if !ring.Known {
		sure += "; how strong is not known, because the lamp's brightness is not"
	}
	w.tell(Base, w.e.Lamp.Name, sure)
}

// part is what is known of a part.
func (w *whole) part(of PartOf) Part {
	p := w.told[slices.Index(partsOf, of)]
	if !p.Measured {
		p = Part{Of: of, From: "as " + w.report.Like}
	}
	p.Problem = strings.Join(w.problems[of], "; ")
	return p
}

// note is the sentence of the card.
func (w *whole) note() string {
	var measured, rest []string
	for _, p := range w.report.Parts {
		name := string(p.Of)
		if p.Measured {
			measured = append(measured, name)
		} else {
			rest = append(rest, name)
		}
	}
	if len(rest) == 0 {
		return "Measured whole: " + strings.Join(measured, ", ") + "."
	}
	return fmt.Sprintf("Measured: %s. Like %s in: %s.", strings.Join(measured, ", "), w.report.Like, strings.Join(rest, ", "))
}
