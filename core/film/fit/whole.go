package fit

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"velours/core/film"
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
