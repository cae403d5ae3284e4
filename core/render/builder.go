package render

import (
	"context"
	"fmt"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
)

// Work is what the steps of a kind do: how they contribute to a plan. A kind names it (Kind.Work); the compiler knows no
// kind, and asks it.
type Work struct {
	// Prepare, if set, is called before any Apply, for what steps of other stations need to know, as the gauge.
	Prepare func(b *Builder, v look.Values)
	// Apply contributes the step's operations, by its strength, above 0 and up to 1.
	Apply func(b *Builder, v look.Values, strength float64)
	// Grade makes the operation of a kind that corrects colours one by one. It is mixed in by strength, in linear light.
	Grade func(v look.Values) grade.Op
}

// Builder gathers what the steps of a look contribute.
type Builder struct {
	Look   *look.Look
	Raster Raster
	// Film is what lies between the lens and the screen.
	Film Film
	// Screen is what the picture is shown on.
	Screen film.Screen
	// Overall is the share of the film path in the end; the rest is the same look without film.
	Overall float64

	// at is what acts in each station, in order; film what acts in the film, slot by slot.
	at       map[look.Station][]Operation
	film     map[Slot][]contribution
	cleaning []Cleaning
	// details are what surrounds development, lasts what acts on the codes of the finished picture.
	details []Detail
	lasts   []last
	mask    *mask        // of the step that is being gathered
	station look.Station // its
	// source tells that its mask is of what feeds it, fed that what feeds it is shown in its place.
	source, fed bool
	// tabular leaves out what a pixel takes of its neighbours.
	tabular bool
}

// Film says how the picture is put on film and printed.
type Film struct {
	// On tells that there is film at all.
	On bool
	// Stock is the camera's film, nil for a straight one; Process how it was exposed and developed.
	Stock   *film.Stock
	Process film.Process
	// Width is that of the picture on the film, in millimetres; Squeeze how many times as wide as there it is shown, 1 if it is not squeezed.
	Width   float64
	Squeeze int
	// Clouds is the deviation of the clouds that the picture is made of, in micrometres, 0 for none; Drawn tells that a step draws detail with
	// them.
	Clouds float64
	Drawn  bool
	// Medium is what the film is printed on, nil for none, by a share of Mix; Dupe prints from a dupe negative.
	Medium   *film.Medium
	Mix      float64
	Dupe     bool
	Printing film.Printing
	// Lights are the printer's, in points from the timed print.
	Lights [3]float64
	// Table, if set, stands in the medium's place, by a share of TableMix.
	Table    *film.Through
	TableMix float64
}

// Slot is a place in the film where steps can contribute operations; in the order in which light comes to them.
type Slot int

// The light of the scene's copies, before the exposure that counts; the light on the emulsion's layers; the densities
// that were developed; the print as its display shows it, in code values.
const (
	CopiedLight Slot = iota
	EmulsionLight
	Density
	Projected
)

// Exposed is the film as an operation in a slot finds it.
type Exposed struct {
	*Film
	Negative *film.Negative
	Raster   Raster
	// Display is what shows the print.
	Display *colour.Display
	// Placed asks for grain of clouds that are placed one by one.
	Placed bool
	// Draft allows what is coarser and quicker; Tabular leaves out what needs neighbours; Printed tells that the
	// picture goes on to a print.
	Draft, Tabular, Printed bool
}

// Alike says how far densities of the layers deviate together, in greys, for codes of video to deviate as aim says: through the print as it is
// timed, whatever is done to it.
func (e *Exposed) Alike(aim [3]float64) film.Shares {
	if e.Draft { // a hand moves: the film's own greys are near enough
		return e.Negative.Alike(nil, aim)
	}
	printed := e.Medium != nil && e.Table == nil
	key := fmt.Sprint(negativeKey(e.Negative), aim, printed)
	if printed {
		key += fmt.Sprint(e.Medium.Key(), e.Dupe)
	}
	s, _ := alikes.Get(key, func() (film.Shares, error) {
		video, _ := colour.FindDisplay("bt1886")
		var p *film.Print
		if printed {
			p = printOf(e.Medium, e.Negative, e.Dupe)
		}
		shown := film.NewPositive(e.Negative, p, [3]float64{}, 1, film.Screen{Display: video, Tone: colour.DefaultTone})
		return e.Negative.Alike(shown.Code, aim), nil
	})
	return s
}

// contribution makes an operation for a slot, nil for none; mask is where it acts.
type contribution struct {
	make func(e *Exposed) Operation
	mask *mask
	// source and fed are those of an operation that spreads light (Builder.Spread).
	source, fed bool
}

// Detail is how a film draws detail: Before acts on the exposure of the layers, After on their densities. Key tells
// details apart.
type Detail struct {
	Key           func(e *Exposed) string
	Before, After func(ctx context.Context, e *Exposed, src *frame.Frame) (*frame.Frame, error)
	mask          *mask
}

// Masked tells that the step acts inside a matte.
func (b *Builder) Masked() bool { return b.mask != nil }

// Process is the number of the light path under which the step that is being gathered was made: an operation whose picture
// was changed on purpose goes on as before for a lower one.
func (b *Builder) Process() int { return b.Look.ProcessOf(b.station) }

// Matrix multiplies scene light, inside the step's matte.
func (b *Builder) Matrix(s look.Station, m colour.Matrix) {
	if b.mask == nil {
		b.Add(s, &matrixOp{m})
		return
	}
	b.correct(s, fmt.Sprint("matrix", m), grade.Matrix(m), 1)
}

// correct corrects colours one by one, inside the step's mask.
func (b *Builder) correct(s look.Station, id string, op grade.Op, strength float64) {
	g := &gradeOp{id, op, float32(strength), b.mask}
	if b.mask == nil || b.mask.matte.Pointwise() {
		b.Add(s, g)
		return
	}
	whole := &gradeOp{id: id, op: op, strength: 1}
	b.Area(s, id, strength, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
		return fuse(ctx, []Pointwise{whole}, src, 0, 0, 0)
	})
}

// Area adds a spatial operation, inside the step's matte; id tells what it does, cover is where it is to act, nil for
// everywhere.
func (b *Builder) Area(s look.Station, id string, strength float64, do func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error)) {
	b.Add(s, &areaOp{id: id, strength: float32(strength), mask: b.mask, do: do})
}

// Map is Area for what takes the step's matte as a map of its own, how far it goes at each place: it is not mixed in by it.
func (b *Builder) Map(s look.Station, id string, do func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error)) {
	b.Add(s, &areaOp{id: id, strength: 1, mask: b.mask, do: do, mapped: true})
}

// Place adds a pointwise operation that goes by the pixel's place, inside the step's matte.
func (b *Builder) Place(s look.Station, op Pointwise) {
	if b.mask == nil {
		b.Add(s, op)
		return
	}
	b.Area(s, op.Key(), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
		return fuse(ctx, []Pointwise{op}, src, 0, 0, 0)
	})
}

// Add adds an operation to a station.
func (b *Builder) Add(s look.Station, op Operation) { b.at[s] = append(b.at[s], op) }

// In adds an operation to a slot of the film, inside the step's matte. make may return nil for none.
func (b *Builder) In(s Slot, make func(e *Exposed) Operation) {
	b.Film.On = true
	b.film[s] = append(b.film[s], contribution{make, b.mask, b.source, b.fed})
}

// Draws surrounds development, inside the step's matte.
func (b *Builder) Draws(d Detail) {
	b.Film.On = true
	d.mask = b.mask
	b.details = append(b.details, d)
}

// Stock is the stock of an id, as it was when the look was made.
func (b *Builder) Stock(id string) *film.Stock {
	s, _ := film.StockAs(id, b.Look.DigestFor("stock", id))
	return s
}

// Medium is the medium of an id, as it was when the look was made.
func (b *Builder) Medium(id string) *film.Medium {
	m, _ := film.MediumAs(id, b.Look.DigestFor("medium", id))
	return m
}

// OnFilm is a length on the film, in micrometres, as pixels of a picture w wide.
func (b *Builder) OnFilm(micrometres float64) func(w int) float64 {
	mm := b.Film.Width
	return func(w int) float64 { return micrometres / 1000 * float64(w) / mm }
}

// UsualWidth is how wide a picture is on 35 mm film, in millimetres, where no gauge is chosen.
const UsualWidth = 24.9

// gather lets every active step of a look contribute.
func gather(l *look.Look, r Raster) *Builder {
	if l.TreatedBy() == 0 {
		l = l.Untreated()
	}
	b := &Builder{Look: l, Overall: 1, Raster: r, tabular: l.Tabular, at: map[look.Station][]Operation{}, film: map[Slot][]contribution{}}
	b.Film.Width, b.Film.Squeeze = UsualWidth, 1
	l.Steps(func(k *look.Kind, p *look.Step) {
		if w, ok := k.Work.(Work); ok && w.Prepare != nil && l.Strength(k, p) > 0 {
			w.Prepare(b, l.Values(k, p))
		}
	})
	g := grouping{Builder: b}
	l.Steps(func(k *look.Kind, p *look.Step) {
		g.enter(k.Station, p)
		s := l.Strength(k, p)
		w, ok := k.Work.(Work)
		if s <= 0 || !ok {
			return
		}
		v := l.Values(k, p)
		b.mask, b.source, b.station = maskOf(l, k.Station, p, r), p.Source, k.Station
		b.fed = l.Fed == look.StepPath{Station: k.Station, Name: p.Name()}
		if w.Grade != nil && (k.NoEffect == nil || k.NoEffect(v) == "") {
			id := fmt.Sprint(k.ID, v)
			op, _ := corrected.Get(id, func() (grade.Op, error) { return w.Grade(v), nil })
			b.correct(k.Station, id, op, s)
		}
		if w.Apply != nil {
			if len(p.Keys) > 1 {
				b.applyKeyed(k, p, s)
			} else {
				w.Apply(b, l.ValuesAt(k, p, 0), s)
			}
		}
		b.mask, b.source, b.fed = nil, false, false
	})
	g.close()
	return b
}

// negative develops the stock, or the straight negative that carries the other film steps. What is projected itself
// must be a positive.
func (f *Film) negative() *film.Negative {
	p := f.Process
	if f.Medium != nil && f.Medium.Direct && f.Table == nil {
		p.Crossed = !f.Emulsion().Reversal
	}
	return film.Develop(f.Stock, p)
}

// Emulsion is the stock, or the straight one in its place.
func (f *Film) Emulsion() *film.Stock {
	if f.Stock != nil {
		return f.Stock
	}
	return film.Straight()
}

// positive joins print and screen.
func (b *Builder) positive(n *film.Negative) *film.Positive {
	f := &b.Film
	if f.Table != nil {
		p := film.NewPositive(n, nil, f.Lights, f.TableMix, b.Screen)
		p.Through = f.Table.On(b.Screen)
		if f.Stock != nil && f.Table.From.ID == "printing-density" {
			p.Scan = film.NewScan(n)
		}
		return p
	}
	var p *film.Print
	if f.Medium != nil {
		p = printOf(f.Medium, n, f.Dupe).With(f.Printing)
	}
	return film.NewPositive(n, p, f.Lights, f.Mix, b.Screen)
}

func negativeKey(n *film.Negative) string { return fmt.Sprintf("%s %v", n.Stock.Key(), n.Process) }

// prints and tables take some milliseconds each and serve many frames, so the last few are kept; so are corrections,
// because a look is compiled for its picture, its ribbon, its scopes and its readings.
var (
	corrected = cache.Results[grade.Op]{Size: 64}
	developed = cache.Results[*developOp]{Size: 64}
	prints    = cache.Results[*film.Print]{Size: 24}
	tables    = cache.Results[*film.Table]{Size: 24}
	alikes    = cache.Results[film.Shares]{Size: 24}
)

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
func (f *Film) printKey() string { return fmt.Sprint(f.Medium.Key(), " ", f.Dupe, " ", f.Printing) }

func (b *Builder) table(ctx context.Context, n *film.Negative, size int) (*tableOp, error) {
	f := &b.Film
	medium := "none"
	if f.Medium != nil {
		medium = f.printKey()
	}
	if f.Table != nil {
		medium = fmt.Sprintf("%s %g", f.Table.ID, f.TableMix)
	}
	id := fmt.Sprintf("table %d %s %s %v %g %s", size, negativeKey(n), medium, f.Lights, f.Mix, b.Screen.Key())
	t, err := tables.Get(id, func() (*film.Table, error) { return film.NewTable(ctx, b.positive(n), size) })
	if err != nil {
		return nil, err
	}
	return &tableOp{id, t}, nil
}

// FilmPath is the film of a look, ready to be measured: its negative, and what is made of it.
type FilmPath struct {
	Film
	Negative *film.Negative
	Positive *film.Positive
}

// FilmOf is the film of a look, nil where it has none.
func FilmOf(l *look.Look) *FilmPath {
	b := gather(l, Raster{})
	if !b.Film.On {
		return nil
	}
	n := b.Film.negative()
	return &FilmPath{b.Film, n, b.positive(n)}
}

// NegativeOf is the developed negative of a look, nil where the look has no film.
func NegativeOf(l *look.Look) *film.Negative {
	b := gather(l, Raster{})
	if !b.Film.On {
		return nil
	}
	return b.Film.negative()
}

// DisplayOf is the display that a look is made for.
func DisplayOf(l *look.Look) *colour.Display { return gather(l, Raster{}).Screen.Display }

// Tabular is a look with every step switched off that no table can carry, and what they are called.
func Tabular(l *look.Look) (*look.Look, []string) {
	c := l.Clone()
	c.Tabular = true
	var left []string
	if b := gather(c, Raster{}); b.Film.Dupe && b.Film.Medium != nil {
		left = append(left, "softness of the dupe negative")
	}
	c.Steps(func(k *look.Kind, p *look.Step) {
		if c.Strength(k, p) > 0 && (k.NeedsNeighbours(c, p) || placed(c, p.Matte) || grouped(c, k.Station, p)) {
			p.On = false
			left = append(left, k.Called(p))
		}
	})
	return c, left
}

// placed tells that a matte of the look does not go by colour alone; grouped that this is so of a step's group.
func placed(l *look.Look, name *string) bool {
	return name != nil && !l.Mattes[*name].ByColourAlone()
}

func grouped(l *look.Look, s look.Station, p *look.Step) bool {
	g := l.Stations[s].GroupOf(p)
	return g != nil && placed(l, g.Matte)
}

// Exposed is the film as operations in its slots find it, on a raster.
func (f *FilmPath) Exposed(r Raster) *Exposed {
	return &Exposed{Film: &f.Film, Negative: f.Negative, Raster: r}
}

// Correction is what a kind that corrects colours one by one does under settings, nil for other kinds.
func Correction(k *look.Kind, v look.Values) grade.Op {
	w, ok := k.Work.(Work)
	switch {
	case !ok:
		return nil
	case w.Grade != nil:
		return w.Grade(v)
	case w.Apply == nil:
		return nil
	}
	b := &Builder{Look: look.NewLook(""), at: map[look.Station][]Operation{}, film: map[Slot][]contribution{}}
	w.Apply(b, v, 1)
	if list := b.at[k.Station]; len(list) == 1 {
		if m, ok := list[0].(*matrixOp); ok {
			return grade.Matrix(m.m)
		}
	}
	return nil
}
