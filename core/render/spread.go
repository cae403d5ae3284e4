package render

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/scatter"
	"velours/core/vec"
)

// Spread adds light that spreads to a station of light, under a name. Its matte, if the step has one, acts on what feeds it or on
// the result. Compensate, 0 to 1, is the share of the lift of mid tones that is taken back: as one factor for the whole shot, so
// that it cannot pump.
func (b *Builder) Spread(s look.Station, name string, g *scatter.Glow, compensate float64) {
	b.Add(s, &spreadOp{name: name, glow: g, compensate: compensate, mask: b.mask, source: b.source, fed: b.fed})
}

// NewSpread is light that spreads in the film (Builder.In), whose exposures the glow's luminance is made of.
func NewSpread(name string, g *scatter.Glow) Operation { return &spreadOp{name: name, glow: g} }

// spreadOp is light that spreads.
type spreadOp struct {
	name       string
	glow       *scatter.Glow
	compensate float64
	mask       *mask
	source     bool // the mask is of what feeds it
	fed        bool // what feeds it is shown in its place
	light      *film.Negative
	// parts are what it was joined of; they are surveyed one by one.
	parts []*spreadOp
}

func (o *spreadOp) Name() string { return o.name }
func (o *spreadOp) Key() string {
	return fmt.Sprintf("%s %s %g%s %t %t", o.name, o.glow.Key(), o.compensate, o.mask.Key(), o.source, o.fed)
}

// Uniform operations treat all channels alike.
func (o *spreadOp) Uniform() bool {
	return o.mask == nil && !o.fed && o.glow.Plain() && o.glow.By.Uniform()
}

// of is a uniform operation where its channels are not those of scene light, but what m takes to it: luminance is then made
// otherwise.
func (o *spreadOp) of(m colour.Matrix) *spreadOp {
	n := *o
	g := *o.glow
	for j := range g.Luma {
		g.Luma[j] = 0
		for i, k := range o.glow.Luma {
			g.Luma[j] += k * m[3*i+j]
		}
	}
	n.glow, n.parts = &g, nil
	for _, p := range o.parts {
		n.parts = append(n.parts, p.of(m))
	}
	return &n
}

func (o *spreadOp) At(frame int) Operation {
	m := o.mask.at(frame)
	if m == o.mask {
		return o
	}
	n := *o
	n.mask = m
	return &n
}

func (o *spreadOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	cover, err := o.mask.over(ctx, src, o.light)
	if err != nil {
		return nil, err
	}
	if cover != nil {
		defer cover.Release()
	}
	chosen := cover
	if !o.source {
		chosen = nil
	}
	if o.fed {
		light, share, err := o.glow.Fed(ctx, src, chosen)
		if share != nil {
			share.Release()
		}
		if light == src {
			return src.Clone(), err
		}
		return light, err
	}
	out, err := o.glow.Run(ctx, src, chosen)
	if err != nil || o.mask == nil {
		return out, err
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				d := out.Row(p, y)
				vec.Bound(d, grade.MostLight)
				if !o.source {
					vec.MixBy(d, src.Row(p, y), cover.Row(0, y), 1)
				}
			}
		}
	})
}

func (o *spreadOp) Start(ctx context.Context, src *frame.Frame) (*scatter.Spread, error) {
	if o.mask != nil || o.fed {
		return nil, nil
	}
	return o.glow.Start(ctx, src)
}

func (o *spreadOp) StartOn(ctx context.Context, src *scatter.Spread) (*scatter.Spread, error) {
	if o.mask != nil || o.fed {
		return nil, nil
	}
	return o.glow.StartOn(ctx, src)
}

// joined puts neighbours that can be one operation together: one pyramid then serves them.
func joined(list []Operation) []Operation {
	var out []Operation
	for _, op := range list {
		if n := len(out); n > 0 {
			if a, ok := out[n-1].(*spreadOp); ok {
				if b, ok := op.(*spreadOp); ok {
					if both := a.then(b); both != nil {
						out[n-1] = both
						continue
					}
				}
			}
		}
		out = append(out, op)
	}
	return out
}

// then is both operations as one, nil if they cannot be.
func (o *spreadOp) then(next *spreadOp) *spreadOp {
	if o.mask != nil || next.mask != nil || o.fed || next.fed || !o.glow.Plain() || !next.glow.Plain() {
		return nil
	}
	a, b := lensOf(o.glow.By), lensOf(next.glow.By)
	if a == nil || b == nil {
		return nil
	}
	both := a.Then(b)
	if both == nil {
		return nil
	}
	g := *o.glow
	g.By = both
	g.Gain *= next.glow.Gain
	out := &spreadOp{name: o.name, glow: &g, parts: append(o.list(), next)}
	for _, p := range out.parts {
		out.compensate += p.compensate
	}
	return out
}

func (o *spreadOp) list() []*spreadOp {
	if o.parts != nil {
		return o.parts[:len(o.parts):len(o.parts)]
	}
	return []*spreadOp{o}
}

func lensOf(s scatter.Spreader) *scatter.Lens {
	switch l := s.(type) {
	case scatter.Cloud:
		return l.Lens()
	case *scatter.Lens:
		return l
	}
	return nil
}

// Surveys tells that it must see the shot before it can act.
func (o *spreadOp) Surveys() bool { return o.compensate > 0 && !o.fed }

// Survey finds the factor that takes the lift of mid tones back, from pictures of the shot as they come to it.
func (o *spreadOp) Survey(ctx context.Context, pictures []*frame.Frame) ([]float64, error) {
	gain := 1.0
	at := pictures
	for _, part := range o.list() {
		if !part.source && part.mask != nil { // inside, it is what it would be without
			whole := *part
			whole.mask = nil
			part = &whole
		}
		var after []*frame.Frame
		for _, f := range at {
			out, err := part.Run(ctx, f)
			if err != nil {
				return nil, err
			}
			after = append(after, out)
		}
		if part.compensate > 0 {
			lift, err := scatter.Lift(ctx, at, after, part.glow.Luma)
			if err != nil {
				return nil, err
			}
			k := math.Exp2(-part.compensate * lift)
			gain *= k
			for _, f := range after {
				for p := range 3 {
					for y := range f.H {
						vec.Mix(f.Row(p, y), f.Row(p, y), f.Row(p, y), float32(k), 0)
					}
				}
			}
		}
		at = after
	}
	return []float64{gain}, nil
}

// Knowing is the operation with the factor that was found.
func (o *spreadOp) Knowing(found []float64) Operation {
	n := *o
	g := *o.glow
	g.Gain *= found[0]
	n.glow, n.compensate, n.parts = &g, 0, nil
	return &n
}
