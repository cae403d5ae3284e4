package steps

import (
	"context"
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
)

// Likened is a look with the film that comes near a reference in place of its own: stock and medium as they are meant, the lights, and
// the exposure on top of the look's. Halation, sharpness, grain, lens and finish stay; filters and tables in the printer go.
func Likened(l *look.Look, to *measure.Likeness) (*look.Look, error) {
	c := l.Clone()
	for _, s := range []look.Station{look.Negative, look.Print} {
		if c.IsFollowing(s) {
			delete(c.Stations, s)
		}
	}
	for _, k := range []*look.Kind{stockKind, mediumKind, lightsKind} {
		p, err := c.Ensure(k.Station, k.ID)
		if err != nil {
			return nil, err
		}
		c.Reset(k, p, "")
		p.On, p.Strength, p.Matte = true, 1, nil
		c.Station(k.Station).Strength = 1
	}
	for _, k := range []*look.Kind{filtrationKind, tableKind} {
		if p := c.Step(k.Station, k.ID); p != nil {
			p.On = false
		}
	}
	exposure := to.Exposure
	if p := c.Step(exposureKind.Station, exposureKind.ID); p != nil && p.On {
		exposure += c.Values(exposureKind, p).Number("stops")
	}
	set := func(k *look.Kind, setting string, v any) error {
		return c.Set(string(k.Station)+"."+k.ID+"."+setting, v)
	}
	for _, s := range []struct {
		kind    *look.Kind
		setting string
		value   any
	}{
		{stockKind, "id", to.Stock.ID}, {mediumKind, "id", to.Medium.ID},
		{lightsKind, "red", tenths(to.Lights[0])}, {lightsKind, "green", tenths(to.Lights[1])}, {lightsKind, "blue", tenths(to.Lights[2])},
		{exposureKind, "stops", math.Round(100*math.Max(-6, math.Min(6, exposure))) / 100},
	} {
		if err := set(s.kind, s.setting, s.value); err != nil {
			return nil, err
		}
	}
	return c, c.Check()
}

func tenths(v float64) float64 { return math.Round(10*v) / 10 }

// GlowOf is the light that exposes a stock in a look's negative station, halation among it, where light, ACEScg, comes to the film.
func GlowOf(ctx context.Context, l *look.Look, light *frame.Frame) func(*film.Stock) (*frame.Frame, error) {
	return func(s *film.Stock) (*frame.Frame, error) {
		c := l.Clone()
		c.Made = nil // today's card
		for name := range c.Stations {
			if name != look.Negative {
				delete(c.Stations, name)
			}
		}
		if err := c.Set(stockKind.Path()+".id", s.ID); err != nil {
			return nil, err
		}
		plan, err := render.CompileExposure(ctx, c, colour.Working(), render.Raster{W: light.W, H: light.H})
		if err != nil {
			return nil, err
		}
		return render.NewRenderer(0).Render(ctx, plan, render.Still{Picture: light}, 0)
	}
}
