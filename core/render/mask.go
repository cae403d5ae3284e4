package render

import (
	"context"
	"fmt"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/matte"
)

// mask is where a step acts, ready for a frame and a raster.
type mask struct {
	id      string
	size    matte.Size
	doc     *look.Matte
	matte   *matte.Matte
	outside bool
}

// maskOf is the mask of a step, nil if it acts everywhere: where groups are not mixed in as one, that of its group if it has none.
func maskOf(l *look.Look, s look.Station, p *look.Step, r Raster) *mask {
	if g := l.Stations[s].GroupOf(p); g != nil && p.Matte == nil && !s.Lays() {
		return maskIn(l, g.Matte, g.Outside, r)
	}
	return maskIn(l, p.Matte, p.Outside, r)
}

// maskIn is the mask of a matte of the look, nil if none is named.
func maskIn(l *look.Look, name *string, outside bool, r Raster) *mask {
	if name == nil || l.Mattes[*name] == nil {
		return nil
	}
	m := &mask{size: matte.Size{W: r.W, H: r.H}, doc: l.Mattes[*name], outside: outside}
	return m.at(0)
}

func (m *mask) at(frame int) *mask {
	if m == nil || m.matte != nil && !m.doc.Moves() {
		return m
	}
	q := *m
	q.matte = m.doc.Compile(frame)
	if q.outside {
		q.matte.Invert = !q.matte.Invert
	}
	// by what is written, not by what it became: a picture is told by its name, not by where it lies
	q.id = fmt.Sprintf(" in %g %g %g %t", m.doc.Grow, m.doc.Blur, m.doc.Refine, q.matte.Invert)
	for _, p := range m.doc.Parts {
		q.id += fmt.Sprintf(" %s %s %t %v", p.Kind, p.Join, p.Invert, p.At(frame))
	}
	return &q
}

func (m *mask) Key() string {
	if m == nil {
		return ""
	}
	return m.id
}

// over is the coverage of a picture of scene light, or of the exposure that a negative makes of it; nil for no mask.
func (m *mask) over(ctx context.Context, src *frame.Frame, of *film.Negative) (*frame.Frame, error) {
	if m == nil {
		return nil, nil
	}
	if of == nil {
		return m.matte.Frame(ctx, src)
	}
	light, err := fuse(ctx, []Pointwise{&matrixOp{of.ToScene()}}, src, 0, 0, 0)
	if err != nil {
		return nil, err
	}
	defer light.Release()
	return m.matte.Frame(ctx, light)
}

// Cover is the coverage of a step's matte at a frame of the shot, one plane, given the light that enters the step
// in scene-linear terms; everything is covered if it has none.
func Cover(ctx context.Context, l *look.Look, s look.Station, step string, light *frame.Frame, n int) (*frame.Frame, error) {
	p := l.Step(s, step)
	if p == nil {
		return nil, fmt.Errorf("station %s has no step %q", s, step)
	}
	m := maskOf(l, s, p, Raster{light.W, light.H})
	if m == nil {
		return (&matte.Matte{}).Frame(ctx, light)
	}
	return m.at(n).matte.Frame(ctx, light)
}
