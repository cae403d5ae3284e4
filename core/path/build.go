package path

import (
	"context"
	"fmt"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grain"
	"velours/core/scatter"
	"velours/core/shelf"
)

// builder gathers what the kinds of a look ask for.
type builder struct {
	encoding *colour.Encoding
	place    frame.Placement
	compress float64
	balance  colour.Matrix
	lens     []spatial
	film     filmParts
	screen   film.Screen
	overall  float64
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
	table    *film.Through // in the medium's place
	tableMix float64
	lights   [3]float64
}

func (b *builder) matrix(m colour.Matrix) { b.balance = m.Mul(b.balance) }
func (b *builder) spatial(op spatial)     { b.lens = append(b.lens, op) }

// gather applies every active step of a look.
func gather(l *Look) *builder {
	b := &builder{balance: colour.Identity, overall: 1, place: frame.Placement{Scale: 1}}
	b.film.width = gauges[usualGauge].width
	for _, k := range kinds {
		if p, s := l.active(k); p != nil && s > 0 {
			k.apply(b, p.values(k), s)
		}
	}
	return b
}

// negative develops the stock of the look, or the straight negative that carries the other film steps.
func (f *filmParts) negative() *film.Negative { return film.Develop(f.stock, f.process) }

func (f *filmParts) emulsion() *film.Stock {
	if f.stock != nil {
		return f.stock
	}
	return film.Straight()
}

func (f *filmParts) halo() scatter.Halo {
	s := f.emulsion()
	h := scatter.Halo{Thickness: s.Thickness, Index: s.Index, Backing: f.backing, Amount: f.halation}
	for i, l := range s.Layers {
		h.Held[i], h.Back[i] = l.Held, l.Back
	}
	return h
}

// grainSetting describes the grain on a raster w pixels wide.
func (f *filmParts) grainSetting(w int) grain.Setting {
	s := f.emulsion()
	cloud := s.Cloud * f.cloud
	set := grain.Setting{Pitch: f.width * 1000 / float64(w), Link: f.link, Seed: f.seed}
	pushed := 1.0
	for n := f.process.Push; n != 0; {
		step := min(max(n, -1), 1)
		pushed *= 1 + 0.15*step
		n -= step
	}
	for i, l := range s.Layers {
		set.Cloud[i] = cloud
		set.S[i] = grain.Selwyn(s.Granularity*l.Grain, cloud) * f.grain * pushed
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
		return p
	}
	var p *film.Print
	if f.medium != nil {
		p = printOf(f.medium, n)
	}
	return film.NewPositive(n, p, f.lights, f.print, b.screen)
}

func negativeKey(n *film.Negative) string { return fmt.Sprintf("%s %v", n.Stock.ID, n.Process) }

// prints, tables and generators take some milliseconds each and serve many frames, so the last few are kept.
var (
	prints     = shelf.Shelf[*film.Print]{Size: 24}
	tables     = shelf.Shelf[*film.Table]{Size: 24}
	generators = shelf.Shelf[*grain.Generator]{Size: 24}
)

func generatorOf(s grain.Setting) *grain.Generator {
	g, _ := generators.Get(fmt.Sprintf("%v", s), func() (*grain.Generator, error) { return grain.New(s), nil })
	return g
}

func printOf(m *film.Medium, n *film.Negative) *film.Print {
	p, _ := prints.Get(m.ID+" "+negativeKey(n), func() (*film.Print, error) { return film.NewPrint(m, n), nil })
	return p
}

func (b *builder) table(ctx context.Context, n *film.Negative, size int) (*tableOp, error) {
	f := &b.film
	medium := "none"
	if f.medium != nil {
		medium = f.medium.ID
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
	b := gather(l)
	if !b.film.on {
		return nil
	}
	return b.film.negative()
}

// DisplayOf is the display that a look is made for.
func DisplayOf(l *Look) (*colour.Display, error) {
	k, err := FindKind(Screen, "display")
	if err != nil {
		return nil, err
	}
	p, _ := l.active(k)
	v := p.values(k)
	d, err := colour.FindDisplay(v.choice("id"))
	if err != nil {
		return nil, err
	}
	return d.At(v.number("white"), v.number("peak")), nil
}
