package render

import (
	"context"
	"fmt"
	"slices"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
)

// Raster is the size at which a plan works, in pixels.
type Raster struct{ W, H int }

// Plan is a look made ready for a raster and a tap.
type Plan struct {
	raster   Raster
	follows  Raster // that of the picture after a draft, none without
	region   Region
	encoding *colour.Encoding
	// cleaning is what is done to the footage first, and draft that quick cleaning will do.
	cleaning []Cleaning
	draft    bool
	// head is the matrix that scene light meets first.
	head colour.Matrix
	// passes run in turn; each is either fused operations or one spatial operation.
	passes []pass
	// closed tells that the last pass takes no more operations.
	closed bool
	// under are paths that the picture is laid over in the end, one after the other.
	under []under
	// Display is what the plan's code values are for, from Screen on.
	Display *colour.Display
	// small is the plan for small pictures, where there is an operation that surveys the shot.
	small *Plan
}

// under is a path over which a picture is laid by a share: that without film, or without the treatment.
type under struct {
	*Plan
	share float64
}

// A pass is one spatial operation, or pointwise ones in a row, with one among them, at most, that looks at its near neighbours.
type pass struct {
	points []Pointwise
	near   Near
	then   []Pointwise // after near
	area   Spatial
}

func (s pass) key(number int) string {
	if s.area != nil {
		return s.area.Key()
	}
	k := keys(s.points)
	if s.near != nil {
		k += s.near.Key() + ";" + keys(s.then)
	}
	for _, op := range slices.Concat(s.points, s.then) {
		if _, ok := op.(Moving); ok {
			return fmt.Sprint(k, "#", number)
		}
	}
	return k
}

// last are the pointwise operations that another one joins.
func (s *pass) last() *[]Pointwise {
	if s.near != nil {
		return &s.then
	}
	return &s.points
}

// Compile makes a plan for footage of an encoding under a look, as the picture leaves the station tap. Footage whose
// encoding is not known (nil) is shown as the video that it may be, BT.709. It stops with the context's error when ctx is
// done. The look must have been checked.
func Compile(ctx context.Context, l *look.Look, e *colour.Encoding, r Raster, tap look.Station) (*Plan, error) {
	return compile(ctx, l, e, r, target{tap: tap, size: film.TableSize})
}

// Raster is that of the whole picture.
func (p *Plan) Raster() Raster { return p.raster }

// Once tells that a frame of the source is asked for once, not again for another picture that is mixed in.
func (p *Plan) Once() bool { return len(p.under) == 0 }

// CompileDraft is Compile with a coarser print table, an eighth of the work: for pictures that
// follow a drag.
func CompileDraft(ctx context.Context, l *look.Look, e *colour.Encoding, r Raster, tap look.Station) (*Plan, error) {
	return compile(ctx, l, e, r, target{tap: tap, size: film.DraftTableSize})
}

// CompileExposure makes a plan for the light that exposes the film, all that spreads before and in it included, in
// scene-linear terms; without film it is the light that leaves the lens.
func CompileExposure(ctx context.Context, l *look.Look, e *colour.Encoding, r Raster) (*Plan, error) {
	return compile(ctx, l, e, r, target{tap: look.Negative, size: film.TableSize, exposure: true})
}

// CompilePlaced is Compile with grain of clouds that are placed one by one (grain.Reference), a hundred times slower.
func CompilePlaced(ctx context.Context, l *look.Look, e *colour.Encoding, r Raster, tap look.Station) (*Plan, error) {
	return compile(ctx, l, e, r, target{tap: tap, size: film.TableSize, placed: true})
}

// target is how far a plan goes, and how fine its table is.
type target struct {
	tap      look.Station
	size     int
	exposure bool // it ends at the exposure of the film
	placed   bool // grain is made of clouds that are placed one by one
}

func compile(ctx context.Context, l *look.Look, e *colour.Encoding, r Raster, to target) (*Plan, error) {
	share := l.TreatedBy()
	if share == 0 {
		return compile(ctx, l.Untreated(), e, r, to)
	}
	if share < 1 { // until the last station it is whole
		whole := l.Clone()
		whole.Treatment = nil
		p, err := compile(ctx, whole, e, r, to)
		if err != nil || to.tap.Index() < look.Finish.Index() {
			return p, err
		}
		plain, err := compile(ctx, l.Untreated(), e, r, to)
		if err != nil {
			return nil, err
		}
		p.under = append(p.under, under{plain, share})
		return p, nil
	}
	p, err := compileAt(ctx, l, e, r, to)
	if err == nil && p.surveys() {
		to.size = film.DraftTableSize
		p.small, err = compileAt(ctx, l, e, r.small(), to)
	}
	return p, err
}

// compileAt is compile for one raster.
func compileAt(ctx context.Context, l *look.Look, e *colour.Encoding, r Raster, to target) (*Plan, error) {
	if e == nil {
		e = colour.Undeclared()
	}
	b := gather(l, r)
	p := &Plan{raster: r, encoding: e, head: colour.Identity, Display: b.Screen.Display, cleaning: b.cleaning, draft: to.size == film.DraftTableSize}
	at := to.tap.Index()
	balance, lens := b.at[look.Balance], b.at[look.Lens]
	if at < look.Balance.Index() {
		balance = nil
	}
	if at < look.Lens.Index() {
		lens = nil
	}
	for len(balance) > 0 { // what begins as a matrix is one with decoding
		m, ok := balance[0].(*matrixOp)
		if !ok {
			break
		}
		p.head, balance = m.m.Mul(p.head), balance[1:]
	}
	n := b.Film.negative()
	exposes := b.Film.On && at >= look.Negative.Index()
	early := exposes && !n.Natural() // which goes by the colour of the light as it reaches the film
	for _, op := range lens {
		early = early && isUniform(op)
	}
	if early && len(balance) == 0 { // the light of the layers passes such a lens as the scene's light does
		p.head = n.Exposure.Mul(p.head)
	}
	for _, op := range b.at[look.Intake] { // between decoding and what would be its first matrix
		p.add(op)
		if !isUniform(op) && p.head != colour.Identity {
			p.point(&matrixOp{p.head})
			p.head = colour.Identity
		}
	}
	if len(balance) > 0 {
		for _, op := range balance {
			p.add(op)
		}
		if early {
			p.point(&matrixOp{n.Exposure})
		}
		p.closed = true // kept, so that what comes after may change without it
	}
	for _, op := range joined(lens) {
		if o, ok := op.(*spreadOp); ok && early {
			op = o.of(n.ToScene())
		}
		p.add(op)
	}
	if exposes && !early {
		p.point(exposing(n))
	}
	if at < look.Negative.Index() {
		return p, nil
	}
	if !b.Film.On {
		if !to.exposure {
			p.unfilmed(b, at)
		}
		return p, nil
	}
	exposed := &Exposed{Film: &b.Film, Negative: n, Raster: r, Display: b.Screen.Display, Placed: to.placed, Draft: to.size == film.DraftTableSize, Tabular: b.tabular, Printed: at >= look.Print.Index()}
	for _, s := range []Slot{CopiedLight, EmulsionLight} {
		for _, c := range b.film[s] {
			if op := c.make(exposed); op != nil {
				p.add(c.within(op, n))
			}
		}
	}
	if to.exposure {
		p.point(&matrixOp{n.ToScene()})
		return p, nil
	}
	p.develop(b, exposed)
	if at == look.Negative.Index() {
		return p, nil
	}
	if at == look.Print.Index() {
		p.printed(b, n)
		return p, nil
	}
	t, err := b.table(ctx, n, to.size)
	if err != nil {
		return nil, err
	}
	p.point(t)
	for _, c := range b.film[Projected] {
		if op := c.make(exposed); op != nil {
			p.add(op)
		}
	}
	p.finish(b, at)
	if at >= look.Finish.Index() && b.Overall < 1 {
		plain, err := compile(ctx, l.WithoutFilm(), e, r, to)
		if err != nil {
			return nil, err
		}
		p.under = append(p.under, under{plain, b.Overall})
	}
	return p, nil
}

// isUniform tells that an operation does the same linear thing to every channel, so that a matrix may act before it as
// well as after.
func isUniform(op Operation) bool {
	u, ok := op.(interface{ Uniform() bool })
	return ok && u.Uniform()
}

// within keeps a spatial operation on the exposure of layers to a mask, which goes by the light before the film.
func (c contribution) within(op Operation, n *film.Negative) Operation {
	if o, ok := op.(*spreadOp); ok {
		o.mask, o.source, o.fed, o.light = c.mask, c.source, c.fed, n
		return o
	}
	s, ok := op.(Spatial)
	if c.mask == nil || !ok {
		return op
	}
	return &areaOp{id: op.Key(), strength: 1, mask: c.mask, light: n, do: func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
		return s.Run(ctx, src)
	}}
}

// unfilmed shows scene light where there is no film.
func (p *Plan) unfilmed(b *Builder, at int) {
	switch {
	case at >= look.Screen.Index():
		p.point(b.showing())
		p.finish(b, at)
	case at == look.Negative.Index():
		p.point(developOf(film.Develop(nil, film.Process{})))
	default:
		code, d, xyz := b.unprinted(), b.Screen.Display, b.Screen.Display.Gamut.ToXYZ()
		p.point(&eachOp{"light of " + b.showing().Key(), func(c [3]float64) [3]float64 { return xyz.Apply(d.Light(code(c))) }})
	}
}

// printed gives the print's projected light in place of a picture on the screen.
func (p *Plan) printed(b *Builder, n *film.Negative) {
	pos := b.positive(n)
	if pos.Print == nil {
		d, xyz := b.Screen.Display, b.Screen.Display.Gamut.ToXYZ()
		p.point(&eachOp{"read back " + negativeKey(n) + d.Key(), func(c [3]float64) [3]float64 {
			return xyz.Apply(d.Light(pos.Code(c)))
		}})
		return
	}
	lights := b.Film.Lights
	p.point(&eachOp{"light " + negativeKey(n) + b.Film.printKey() + " " + keyOf(lights), func(c [3]float64) [3]float64 { return pos.Print.Light(c, lights) }})
}

// develop turns the exposure of the layers into their densities, with what surrounds that and what comes to density.
func (p *Plan) develop(b *Builder, e *Exposed) {
	d := developOf(e.Negative)
	var onDensity []maskedOp
	masked := false
	for _, c := range b.film[Density] {
		if op := c.make(e); op != nil {
			onDensity = append(onDensity, maskedOp{op, c.mask})
			masked = masked || c.mask != nil
		}
	}
	for _, g := range b.details {
		masked = masked || g.mask != nil
	}
	if masked {
		p.spatial(&developInOp{d, e, b.details, onDensity, 0})
		return
	}
	for _, g := range b.details {
		p.spatial(&areaOp{id: g.Key(e) + " before", strength: 1, do: func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) { return g.Before(ctx, e, src) }})
	}
	p.point(d)
	for _, g := range b.details {
		p.spatial(&areaOp{id: g.Key(e) + " after", strength: 1, do: func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) { return g.After(ctx, e, src) }})
	}
	for _, op := range onDensity {
		p.add(op.op)
	}
}

// showing takes scene light to the display without a negative: by the table if there is one, otherwise
// by the neutral scale.
func (b *Builder) showing() Pointwise {
	f := &b.Film
	if f.Table == nil {
		return newTone(b.Screen)
	}
	id := fmt.Sprint("through ", f.Table.ID, " ", f.TableMix, " ", b.Screen.Key())
	if t := f.Table.On(b.Screen); t.Direct() && f.TableMix == 1 {
		return &throughOp{id, t}
	}
	return &eachOp{id, b.unprinted()}
}

// unprinted is showing for one colour in double precision.
func (b *Builder) unprinted() func([3]float64) [3]float64 {
	s, k := b.Screen, b.Film.TableMix
	m, w := s.Display.FromACEScg(), s.Display.Luminance()
	plain := func(c [3]float64) [3]float64 { return s.Tone.Render(c, s.Display, s.Surround, &m, &w) }
	if b.Film.Table == nil {
		return plain
	}
	t := b.Film.Table.On(s)
	return func(c [3]float64) [3]float64 {
		v := t.Code(c)
		if k < 1 {
			for i, x := range plain(c) {
				v[i] = k*v[i] + (1-k)*x
			}
		}
		return v
	}
}

// finish adds the corrections of the finished picture, which work in the terms of light, and what acts on its codes.
func (p *Plan) finish(b *Builder, at int) {
	if at < look.Finish.Index() {
		return
	}
	if len(b.at[look.Finish]) > 0 {
		p.closed = true
		p.point(&enterOp{b.Screen})
		for _, op := range b.at[look.Finish] {
			p.add(op)
		}
		p.point(&leaveOp{b.Screen})
	}
	p.shown(b)
}

// add appends an operation of either sort.
func (p *Plan) add(op Operation) {
	switch o := op.(type) {
	case Spatial:
		p.spatial(o)
	case Near:
		p.beside(o)
	default:
		p.point(op.(Pointwise))
	}
}

// open is the pass that takes more operations, nil if there is none.
func (p *Plan) open() *pass {
	if n := len(p.passes); n > 0 && p.passes[n-1].area == nil && !p.closed {
		return &p.passes[n-1]
	}
	return nil
}

// beside appends an operation that looks at near neighbours, to the pass that is open unless it has one.
func (p *Plan) beside(op Near) {
	if last := p.open(); last != nil && last.near == nil {
		last.near = op
		return
	}
	p.passes, p.closed = append(p.passes, pass{near: op}), false
}

// point appends a Pointwise operation, joining neighbours into one pass and matrices into one.
func (p *Plan) point(op Pointwise) {
	if open := p.open(); open != nil {
		last := open.last()
		if n := len(*last); n > 0 {
			a, ok1 := (*last)[n-1].(*matrixOp)
			b, ok2 := op.(*matrixOp)
			if ok1 && ok2 {
				(*last)[n-1] = &matrixOp{b.m.Mul(a.m)}
				return
			}
		}
		*last = append(*last, op)
		return
	}
	p.passes, p.closed = append(p.passes, pass{points: []Pointwise{op}}), false
}

func (p *Plan) spatial(op Spatial) { p.passes, p.closed = append(p.passes, pass{area: op}), false }

// at are the passes for a frame of the shot, with what moves at a number.
func (p *Plan) at(n, number int) []pass {
	out := p.passes
	own := func(i int) *pass { // copied before it is changed
		if &out[0] == &p.passes[0] {
			out = slices.Clone(p.passes)
		}
		return &out[i]
	}
	for i, s := range p.passes {
		if f, ok := s.area.(Following); ok {
			if op := f.At(n); op != Operation(s.area) {
				own(i).area = op.(Spatial)
			}
		}
		if g, ok := out[i].area.(Numbered); ok {
			own(i).area = g.Numbered(number)
		}
		if now, moved := followed(s.points, n); moved {
			own(i).points = now
		}
		if now, moved := followed(s.then, n); moved {
			own(i).then = now
		}
	}
	return out
}

// followed are operations as they are at a frame, and whether any is another than usual.
func followed(ops []Pointwise, n int) (out []Pointwise, moved bool) {
	out = ops
	for k, op := range ops {
		if f, ok := op.(Following); ok {
			if now := f.At(n); now != Operation(op) {
				if !moved {
					out, moved = slices.Clone(ops), true
				}
				out[k] = now.(Pointwise)
			}
		}
	}
	return out, moved
}

// name is what the pass does, in a word or two.
func (s pass) name() string {
	switch op := s.area.(type) {
	case interface{ Name() string }:
		return op.Name()
	case *areaOp:
		return "correction"
	case nil:
		if all := *s.last(); len(all) > 0 {
			if _, ok := all[len(all)-1].(*tableOp); ok {
				return "film"
			}
		}
		return "Pointwise"
	default:
		return op.Key()
	}
}

// run is the pass over a picture, or over one that lies at part of a whole.
func (s pass) Run(ctx context.Context, src *frame.Frame, number int, part Region) (*frame.Frame, error) {
	if op, ok := s.area.(Local); ok {
		return op.RunAt(ctx, src, part.X, part.Y)
	}
	if s.area != nil {
		return s.area.Run(ctx, src)
	}
	if s.near == nil {
		return fuse(ctx, s.points, src, number, part.X, part.Y)
	}
	dst := frame.Get(src.W, src.H, src.Planes)
	return dst, s.fuseNear(ctx, dst, src, number, part.X, part.Y)
}

// reach is how far beside a pixel the pass looks.
func (s pass) reach() int {
	if op, ok := s.area.(Local); ok {
		return op.Reach()
	}
	if s.near == nil {
		return 0
	}
	return s.near.Reach()
}

// whole tells that the pass needs the whole picture.
func (s pass) whole() bool {
	_, local := s.area.(Local)
	return s.area != nil && !local
}
