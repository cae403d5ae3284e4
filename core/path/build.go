package path

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/grain"
	"velours/core/scatter"
	"velours/core/shelf"
)

// builder gathers what the kinds of a look ask for.
type builder struct {
	look     *Look
	encoding *colour.Encoding
	place    frame.Placement
	compress float64
	// balance, lens and finish are what acts there, in order.
	balance []operation
	lens    []operation
	finish  []operation
	film    filmParts
	screen  film.Screen
	overall float64
	raster  Raster
	mask    *mask // of the step that is being gathered
	// pointwise leaves out what a pixel takes of its neighbours.
	pointwise bool
}

// filmParts is everything between the lens and the screen.
type filmParts struct {
	on       bool
	stock    *film.Stock
	process  film.Process
	width    float64 // of the picture on the film, mm
	halation float64
	backing  float64
	grain    float64
	cloud    float64
	link     float64
	seed     uint64
	medium   *film.Medium
	print    float64
	dupe     bool // the print is of a dupe negative
	printing film.Printing
	table    *film.Through // in the medium's place
	tableMix float64
	lights   [3]float64
	// scatter and adjacency are of the stock's sharpness, in shares of its own.
	scatter, adjacency float64
	// haloMask, crispMask and grainMask are where halation, sharpness and grain act, nil for everywhere.
	haloMask, crispMask, grainMask *mask
}

// matrix multiplies scene light.
func (b *builder) matrix(m colour.Matrix) {
	if b.mask == nil {
		b.add(Balance, &matrixOp{m})
		return
	}
	b.correct(Balance, fmt.Sprint("matrix", m), grade.Matrix(m), 1)
}

// correct corrects colours one by one, inside the step's mask.
func (b *builder) correct(s Station, id string, op grade.Op, strength float64) {
	g := &gradeOp{id, op, float32(strength), b.mask}
	if b.mask == nil || b.mask.matte.Pointwise() {
		b.add(s, g)
		return
	}
	whole := &gradeOp{id: id, op: op, strength: 1}
	b.area(s, id, strength, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
		return fuse(ctx, []pointwise{whole}, src, 0, 0, 0)
	})
}

// area adds a spatial operation, inside the step's mask.
func (b *builder) area(s Station, id string, strength float64, do func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error)) {
	b.add(s, &areaOp{id: id, strength: float32(strength), mask: b.mask, do: do})
}

func (b *builder) add(s Station, op operation) {
	switch s {
	case Balance:
		b.balance = append(b.balance, op)
	case Lens:
		b.lens = append(b.lens, op)
	case Finish:
		b.finish = append(b.finish, op)
	}
}

// gather applies every active step of a look.
func gather(l *Look, r Raster) *builder {
	b := &builder{look: l, overall: 1, place: frame.Placement{Scale: 1}, raster: r, pointwise: l.pointwise}
	b.film.width = gauges[usualGauge].width
	if p := l.Step(Negative, gaugeKind.ID); p != nil && l.active(gaugeKind, p) > 0 {
		b.film.width = widthOf(l.values(gaugeKind, p).choice("id")) // sizes on the film are asked for before
	}
	l.Steps(func(k *Kind, p *Step) {
		s := l.active(k, p)
		if s <= 0 {
			return
		}
		v := l.values(k, p)
		b.mask = l.maskOf(p, r)
		if k.grade != nil && (k.Still == nil || k.Still(v) == "") {
			id := fmt.Sprint(k.ID, v)
			op, _ := corrected.Get(id, func() (grade.Op, error) { return k.grade(v), nil })
			b.correct(k.Station, id, op, s)
		}
		if k.apply != nil {
			k.apply(b, v, s)
		}
		b.mask = nil
	})
	return b
}

// onFilm is a length on the film, in micrometres, as pixels of a picture w wide.
func (b *builder) onFilm(micrometres float64) func(w int) float64 {
	mm := b.film.width
	return func(w int) float64 { return micrometres / 1000 * float64(w) / mm }
}

// negative develops the stock of the look, or the straight negative that carries the other film steps. What is
// projected itself must be a positive.
func (f *filmParts) negative() *film.Negative {
	p := f.process
	if f.medium != nil && f.medium.Direct && f.table == nil {
		p.Crossed = !f.emulsion().Reversal
	}
	return film.Develop(f.stock, p)
}

func (f *filmParts) emulsion() *film.Stock {
	if f.stock != nil {
		return f.stock
	}
	return film.Straight()
}

func (f *filmParts) halo() scatter.Halo {
	s := f.emulsion()
	h := scatter.Halo{Thickness: s.Thickness, Index: s.Index, Backing: f.backing, Amount: f.halation}
	if s.Bare {
		h.Backing = 0
	}
	for i, l := range s.Layers {
		h.Held[i], h.Back[i] = l.Held, l.Back
	}
	return h
}

// A dupe adds the grain of its two films to that of the camera's, and scatters a little.
const (
	dupeGrain = 1.3
	dupeBlur  = 7.0 // standard deviation on the film, µm
)

// crisp is the sharpness of the look on a raster w pixels wide, nil where it is off.
func (f *filmParts) crisp(w int) *crisp {
	if f.scatter == 0 && f.adjacency == 0 {
		return nil
	}
	return crispOn(f.emulsion().MTF, f.width*1000/float64(w), f.scatter, f.adjacency)
}

// grainSetting describes the grain on a raster w pixels wide.
func (f *filmParts) grainSetting(w int) grain.Setting {
	s := f.emulsion()
	cloud := s.Cloud * f.cloud
	set := grain.Setting{Pitch: f.width * 1000 / float64(w), Link: f.link, Seed: f.seed}
	coarser := math.Pow(1+s.Development.Grain, f.process.Push)
	if f.dupe && f.medium != nil { // two films more, each finer than the camera's
		coarser *= dupeGrain
	}
	if s.Mono {
		set.Link = 1 // one layer, and silver
	}
	for i, l := range s.Layers {
		set.Cloud[i] = cloud
		set.S[i] = grain.Selwyn(s.Granularity*l.Grain, cloud) * f.grain * coarser
		set.Top = max(set.Top, l.DMax+0.4)
	}
	return set
}

// positive joins print and screen.
func (b *builder) positive(n *film.Negative) *film.Positive {
	f := &b.film
	if f.table != nil {
		p := film.NewPositive(n, nil, f.lights, f.tableMix, b.screen)
		p.Through = f.table.On(b.screen)
		if f.stock != nil && f.table.From.ID == "printing-density" {
			p.Scan = film.NewScan(n)
		}
		return p
	}
	var p *film.Print
	if f.medium != nil {
		p = printOf(f.medium, n, f.dupe).With(f.printing)
	}
	return film.NewPositive(n, p, f.lights, f.print, b.screen)
}

func negativeKey(n *film.Negative) string { return fmt.Sprintf("%s %v", n.Stock.Key(), n.Process) }

// prints, tables and generators take some milliseconds each and serve many frames, so the last few are kept; so are
// corrections, because a look is compiled for its picture, its ribbon, its scopes and its readings.
var (
	corrected  = shelf.Shelf[grade.Op]{Size: 64}
	prints     = shelf.Shelf[*film.Print]{Size: 24}
	tables     = shelf.Shelf[*film.Table]{Size: 24}
	generators = shelf.Shelf[*grain.Generator]{Size: 24}
)

func generatorOf(s grain.Setting) *grain.Generator {
	g, _ := generators.Get(fmt.Sprintf("%v", s), func() (*grain.Generator, error) { return grain.New(s), nil })
	return g
}

func printOf(m *film.Medium, n *film.Negative, dupe bool) *film.Print {
	p, _ := prints.Get(fmt.Sprint(m.Key(), " ", dupe, " ", negativeKey(n)), func() (*film.Print, error) {
		if dupe {
			return film.NewDupe(m, n), nil
		}
		return film.NewPrint(m, n), nil
	})
	return p
}

// printKey tells prints of one negative apart.
func (f *filmParts) printKey() string {
	return fmt.Sprint(f.medium.Key(), " ", f.dupe, " ", f.printing)
}

func (b *builder) table(ctx context.Context, n *film.Negative, size int) (*tableOp, error) {
	f := &b.film
	medium := "none"
	if f.medium != nil {
		medium = f.printKey()
	}
	if f.table != nil {
		medium = fmt.Sprintf("%s %g", f.table.ID, f.tableMix)
	}
	id := fmt.Sprintf("table %d %s %s %v %g %s", size, negativeKey(n), medium, f.lights, f.print, b.screen.Key())
	t, err := tables.Get(id, func() (*film.Table, error) { return film.NewTable(ctx, b.positive(n), size) })
	if err != nil {
		return nil, err
	}
	return &tableOp{id, t}, nil
}

// NegativeOf is the developed negative of a look, nil where the look has no film.
func NegativeOf(l *Look) *film.Negative {
	b := gather(l, Raster{})
	if !b.film.on {
		return nil
	}
	return b.film.negative()
}

// DisplayOf is the display that a look is made for.
func DisplayOf(l *Look) (*colour.Display, error) {
	v := l.values(displayKind, l.fixed(displayKind))
	d, err := colour.FindDisplay(v.choice("id"))
	if err != nil {
		return nil, err
	}
	return d.At(v.number("white"), v.number("peak")), nil
}
