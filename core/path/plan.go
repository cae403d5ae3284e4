package path

import (
	"context"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grain"
)

// Raster is the size at which a plan works, in pixels.
type Raster struct{ W, H int }

// Plan is a look made ready for a raster and a tap.
type Plan struct {
	raster   Raster
	encoding *colour.Encoding
	// head is the matrix that scene light meets first.
	head colour.Matrix
	// passes run in turn; each is either fused pointwise operations or one spatial operation.
	passes []pass
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

func (p pass) key() string {
	if p.area != nil {
		return p.area.key()
	}
	return keys(p.points)
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
	b := gather(l)
	p := &Plan{raster: r, encoding: b.encoding, head: colour.Identity, overall: 1, Display: b.screen.Display}
	at := tap.index()
	if at >= Balance.index() {
		p.head = b.balance
	}
	n := b.film.negative()
	exposing := b.film.on && at >= Negative.index()
	early := exposing
	for _, op := range b.lens {
		early = early && op.uniform()
	}
	if early { // the light of the layers passes such a lens as the scene's light does
		p.head = n.Exposure.Mul(p.head)
	}
	if at >= Lens.index() {
		for _, op := range b.lens {
			p.spatial(op)
		}
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
			p.point(newTone(b.screen))
		case at == Negative.index():
			p.point(newDevelop(film.Develop(nil, film.Process{})))
		default:
			p.point(&eachOp{"unprinted", unprinted(b.screen)})
		}
		return p, nil
	}
	if f.halation > 0 {
		p.spatial(&halationOp{f.halo(), float64(r.W) / f.width})
	}
	p.point(newDevelop(n))
	if f.grain > 0 {
		set := f.grainSetting(r.W)
		p.point(&grainOp{set, grain.New(set)})
	}
	if at == Negative.index() {
		return p, nil
	}
	if at == Print.index() {
		pos := b.positive(n)
		if pos.Print == nil {
			d, xyz := b.screen.Display, b.screen.Display.Gamut.ToXYZ()
			p.point(&eachOp{"read back " + negativeKey(n) + d.ID, func(c [3]float64) [3]float64 {
				v := pos.Code(c)
				return xyz.Apply([3]float64{d.Decode(v[0]), d.Decode(v[1]), d.Decode(v[2])})
			}})
		} else {
			lights := f.lights
			p.point(&eachOp{"light " + negativeKey(n) + f.medium.ID + " " + keyOf(lights), func(c [3]float64) [3]float64 { return pos.Print.Light(c, lights) }})
		}
		return p, nil
	}
	t, err := b.table(ctx, n, size)
	if err != nil {
		return nil, err
	}
	p.point(t)
	if at >= Finish.index() && b.overall < 1 {
		p.overall = b.overall
		if p.plain, err = compile(ctx, l.WithoutFilm(), r, tap, size); err != nil {
			return nil, err
		}
	}
	return p, nil
}

// unprinted is scene light by the neutral scale, as XYZ with display white at Y = 1.
func unprinted(s film.Screen) func([3]float64) [3]float64 {
	m, w, xyz := s.Display.FromACEScg(), s.Display.Luminance(), s.Display.Gamut.ToXYZ()
	return func(c [3]float64) [3]float64 {
		v := s.Tone.Render(c, s.Display, &m, &w)
		return xyz.Apply([3]float64{s.Display.Decode(v[0]), s.Display.Decode(v[1]), s.Display.Decode(v[2])})
	}
}

// point appends a pointwise operation, joining neighbours into one pass and matrices into one.
func (p *Plan) point(op pointwise) {
	if n := len(p.passes); n > 0 && p.passes[n-1].area == nil {
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
	p.passes = append(p.passes, pass{points: []pointwise{op}})
}

func (p *Plan) spatial(op spatial) { p.passes = append(p.passes, pass{area: op}) }

// name is what the pass does, in a word or two.
func (s pass) name() string {
	switch op := s.area.(type) {
	case *bloomOp:
		return "bloom"
	case *halationOp:
		return "halation"
	case nil:
		if _, ok := s.points[len(s.points)-1].(*tableOp); ok {
			return "film"
		}
		return "pointwise"
	default:
		return op.key()
	}
}

func (s pass) run(ctx context.Context, src *frame.Frame, number int) (*frame.Frame, error) {
	if s.area != nil {
		return s.area.run(ctx, src)
	}
	return fuse(ctx, s.points, src, number)
}
