package path

import (
	"context"
	"fmt"
	"slices"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
)

// Raster is the size at which a plan works, in pixels.
type Raster struct{ W, H int }

// Plan is a look made ready for a raster and a tap.
type Plan struct {
	raster   Raster
	region   Region
	encoding *colour.Encoding
	// head is the matrix that scene light meets first.
	head colour.Matrix
	// passes run in turn; each is either fused pointwise operations or one spatial operation.
	passes []pass
	// closed tells that the last pass takes no more operations.
	closed bool
	// plain is the path without film, mixed in by 1 − overall at the end.
	plain   *Plan
	overall float64
	// Display is what the plan's code values are for, from Screen on.
	Display *colour.Display
}

type pass struct {
	points []pointwise
	area   spatial
}

func (p pass) key(number int) string {
	if p.area != nil {
		return p.area.key()
	}
	k := keys(p.points)
	for _, op := range p.points {
		if _, ok := op.(moving); ok {
			return fmt.Sprint(k, "#", number)
		}
	}
	return k
}

// Compile makes a plan for the picture as it leaves the station tap. It stops with the context's
// error when ctx is done. The look must have been checked.
func Compile(ctx context.Context, l *Look, r Raster, tap Station) (*Plan, error) {
	return compile(ctx, l, r, tap, film.TableSize)
}

// CompileDraft is Compile with a coarser print table, an eighth of the work: for pictures that
// follow a moving hand.
func CompileDraft(ctx context.Context, l *Look, r Raster, tap Station) (*Plan, error) {
	return compile(ctx, l, r, tap, film.DraftTableSize)
}

func compile(ctx context.Context, l *Look, r Raster, tap Station, size int) (*Plan, error) {
	b := gather(l, r)
	p := &Plan{raster: r, encoding: b.encoding, head: colour.Identity, overall: 1, Display: b.screen.Display}
	at := tap.index()
	balance, lens := b.balance, b.lens
	if at < Balance.index() {
		balance = nil
	}
	if at < Lens.index() {
		lens = nil
	}
	for len(balance) > 0 { // what begins as a matrix is one with decoding
		m, ok := balance[0].(*matrixOp)
		if !ok {
			break
		}
		p.head, balance = m.m.Mul(p.head), balance[1:]
	}
	n := b.film.negative()
	exposing := b.film.on && at >= Negative.index()
	early := exposing
	for _, op := range lens {
		u, ok := op.(interface{ uniform() bool })
		early = early && ok && u.uniform()
	}
	if early && len(balance) == 0 { // the light of the layers passes such a lens as the scene's light does
		p.head = n.Exposure.Mul(p.head)
	}
	if !b.place.Plain() {
		p.spatial(&reframeOp{b.place})
	}
	if b.compress > 0 { // between decoding and what would be its first matrix
		p.point(&compressOp{b.compress})
		if p.head != colour.Identity { // a new place commutes with it
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
	for _, op := range lens {
		p.add(op)
	}
	if exposing && !early {
		p.point(&matrixOp{n.Exposure})
	}
	if at < Negative.index() {
		return p, nil
	}
	f := &b.film
	if !f.on {
		switch {
		case at >= Screen.index():
			p.point(b.showing())
			p.finish(b, at)
		case at == Negative.index():
			p.point(newDevelop(film.Develop(nil, film.Process{})))
		default:
			code, d, xyz := b.unprinted(), b.screen.Display, b.screen.Display.Gamut.ToXYZ()
			p.point(&eachOp{"light of " + b.showing().key(), func(c [3]float64) [3]float64 { return xyz.Apply(d.Light(code(c))) }})
		}
		return p, nil
	}
	if f.dupe && f.medium != nil && !b.pointwise && at >= Print.index() {
		sigma := dupeBlur / 1000 * float64(r.W) / f.width
		p.spatial(&areaOp{id: fmt.Sprint("dupe ", sigma), strength: 1, do: func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return frame.Soften(ctx, src, sigma)
		}})
	}
	if f.halation > 0 {
		halo, perMM := f.halo(), float64(r.W)/f.width
		halo.Quick = size == film.DraftTableSize
		op := &halationOp{halo, perMM}
		if f.haloMask == nil {
			p.spatial(op)
		} else {
			p.spatial(&areaOp{id: op.key(), strength: 1, mask: f.haloMask, light: n, do: func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
				return op.run(ctx, src)
			}})
		}
	}
	p.develop(b, n)
	if at == Negative.index() {
		return p, nil
	}
	if at == Print.index() {
		pos := b.positive(n)
		if pos.Print == nil {
			d, xyz := b.screen.Display, b.screen.Display.Gamut.ToXYZ()
			p.point(&eachOp{"read back " + negativeKey(n) + d.Key(), func(c [3]float64) [3]float64 {
				return xyz.Apply(d.Light(pos.Code(c)))
			}})
		} else {
			lights := f.lights
			p.point(&eachOp{"light " + negativeKey(n) + f.printKey() + " " + keyOf(lights), func(c [3]float64) [3]float64 { return pos.Print.Light(c, lights) }})
		}
		return p, nil
	}
	t, err := b.table(ctx, n, size)
	if err != nil {
		return nil, err
	}
	p.point(t)
	p.finish(b, at)
	if at >= Finish.index() && b.overall < 1 {
		p.overall = b.overall
		if p.plain, err = compile(ctx, l.WithoutFilm(), r, tap, size); err != nil {
			return nil, err
		}
	}
	return p, nil
}

// develop turns the exposure of the layers into their densities: sharpness, development and grain.
func (p *Plan) develop(b *builder, n *film.Negative) {
	f := &b.film
	w := p.raster.W
	crisp := f.crisp(w)
	var grain *grainOp
	if f.grain > 0 {
		set := f.grainSetting(w)
		grain = &grainOp{set, generatorOf(set)}
	}
	if crisp != nil && f.crispMask != nil || grain != nil && f.grainMask != nil {
		p.spatial(&developInOp{newDevelop(n), crisp, grain, f.crispMask, f.grainMask, 0})
		return
	}
	if crisp != nil {
		p.spatial(&areaOp{id: crisp.key() + " scatter", strength: 1, do: crisp.scatter})
	}
	p.point(newDevelop(n))
	if crisp != nil {
		p.spatial(&areaOp{id: crisp.key() + " adjacency", strength: 1, do: crisp.sharpen})
	}
	if grain != nil {
		p.point(grain)
	}
}

// showing takes scene light to the display without a negative: by the table if there is one, otherwise
// by the neutral scale.
func (b *builder) showing() pointwise {
	f := &b.film
	if f.table == nil {
		return newTone(b.screen)
	}
	id := fmt.Sprint("through ", f.table.ID, " ", f.tableMix, " ", b.screen.Key())
	if t := f.table.On(b.screen); t.Direct() && f.tableMix == 1 {
		return &throughOp{id, t}
	}
	return &eachOp{id, b.unprinted()}
}

// unprinted is showing for one colour in double precision.
func (b *builder) unprinted() func([3]float64) [3]float64 {
	s, k := b.screen, b.film.tableMix
	m, w := s.Display.FromACEScg(), s.Display.Luminance()
	plain := func(c [3]float64) [3]float64 { return s.Tone.Render(c, s.Display, s.Surround, &m, &w) }
	if b.film.table == nil {
		return plain
	}
	t := b.film.table.On(s)
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

// finish adds the corrections of the finished picture, which work in the terms of light.
func (p *Plan) finish(b *builder, at int) {
	if at < Finish.index() || len(b.finish) == 0 {
		return
	}
	p.closed = true
	p.point(&enterOp{b.screen})
	for _, op := range b.finish {
		p.add(op)
	}
	p.point(&leaveOp{b.screen})
}

// add appends an operation of either sort.
func (p *Plan) add(op operation) {
	if s, ok := op.(spatial); ok {
		p.spatial(s)
		return
	}
	p.point(op.(pointwise))
}

// point appends a pointwise operation, joining neighbours into one pass and matrices into one.
func (p *Plan) point(op pointwise) {
	if n := len(p.passes); n > 0 && p.passes[n-1].area == nil && !p.closed {
		last := &p.passes[n-1]
		a, ok1 := last.points[len(last.points)-1].(*matrixOp)
		b, ok2 := op.(*matrixOp)
		if ok1 && ok2 {
			last.points[len(last.points)-1] = &matrixOp{b.m.Mul(a.m)}
			return
		}
		last.points = append(last.points, op)
		return
	}
	p.passes, p.closed = append(p.passes, pass{points: []pointwise{op}}), false
}

func (p *Plan) spatial(op spatial) { p.passes, p.closed = append(p.passes, pass{area: op}), false }

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
		if f, ok := s.area.(following); ok {
			if op := f.at(n); op != operation(s.area) {
				own(i).area = op.(spatial)
			}
		}
		if g, ok := out[i].area.(*developInOp); ok {
			own(i).area = g.numbered(number)
		}
		points := s.points
		for k, op := range s.points {
			if f, ok := op.(following); ok {
				if now := f.at(n); now != operation(op) {
					if &points[0] == &s.points[0] {
						points = slices.Clone(points)
					}
					points[k] = now.(pointwise)
					own(i).points = points
				}
			}
		}
	}
	return out
}

// name is what the pass does, in a word or two.
func (s pass) name() string {
	switch op := s.area.(type) {
	case *bloomOp:
		return "bloom"
	case *halationOp:
		return "halation"
	case *reframeOp:
		return "reframe"
	case *areaOp:
		return "correction"
	case nil:
		if _, ok := s.points[len(s.points)-1].(*tableOp); ok {
			return "film"
		}
		return "pointwise"
	default:
		return op.key()
	}
}

// run is the pass over a picture, or over one that lies at part of a whole.
func (s pass) run(ctx context.Context, src *frame.Frame, number int, part Region) (*frame.Frame, error) {
	if s.area != nil {
		return s.area.run(ctx, src)
	}
	return fuse(ctx, s.points, src, number, part.X, part.Y)
}
