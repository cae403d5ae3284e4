package studio

import (
	"context"
	"fmt"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// Ribbon is the beam: the frame as it leaves each of the seven stations, side by side, each band w
// pixels wide and h high, cut from the middle of the frame. It is drawn with a draft's tables: it shows the way, and is not what is judged.
func (s *Sessions) Ribbon(ctx context.Context, v View, w, h int) (*Image, error) {
	if w < 8 || h < 8 || w > 1024 || h > 1024 {
		return nil, Bad("a band of %d×%d; each side goes from 8 to 1024", w, h)
	}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	shot := c.shot
	n := len(look.Stations)
	out := &Image{W: w * n, H: h, RGBA: make([]byte, 4*w*n*h), SourceW: shot.Width, SourceH: shot.Height}
	bw := w
	bh := max(1, w*shot.Height/shot.Width)
	if bh < h {
		bw, bh = h*shot.Width/shot.Height, h
	}
	for i, st := range look.Stations {
		middle := func(f *frame.Frame) *frame.Frame { return f.Crop((f.W-w)/2, (f.H-h)/2, w, h) }
		f, err := s.band(ctx, c, render.Raster{W: bw, H: bh}, st, render.CompileDraft, middle)
		if err != nil {
			return nil, fmt.Errorf("the %s band: %w", st, err)
		}
		px := rgba(f)
		for y := range f.H {
			copy(out.RGBA[4*(y*out.W+i*w):], px[4*y*f.W:4*(y+1)*f.W])
		}
	}
	return out, nil
}

// tapped is the view of the picture as it leaves its Tap.
func (s *Sessions) tapped(ctx context.Context, v View) (*Shown, error) {
	if _, err := look.ParseStation(string(v.Tap)); err != nil {
		return nil, BadInput{err}
	}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	raster, region := v.window(c.shot.Width, c.shot.Height)
	seen := func(f *frame.Frame) *frame.Frame {
		if region.W > 0 {
			return f.Crop(region.X, region.Y, region.W, region.H)
		}
		return f
	}
	f, err := s.band(ctx, c, raster, v.Tap, render.Compile, seen)
	if err != nil {
		return nil, err
	}
	at := func(ctx context.Context, tap look.Station) (*frame.Frame, error) {
		f, _, err := s.at(ctx, c, c.look, tap)
		return f, err
	}
	return &Shown{Frame: f, Display: render.DisplayOf(c.look), Note: "as it leaves " + v.Tap.Label(), SourceW: c.shot.Width, SourceH: c.shot.Height, scene: c, at: at, altered: true}, nil
}

// A compiler makes a plan of a look.
type compiler func(ctx context.Context, l *look.Look, e *colour.Encoding, r render.Raster, tap look.Station) (*render.Plan, error)

// band is a part of the picture as it leaves a station, made visible.
func (s *Sessions) band(ctx context.Context, c *scene, r render.Raster, st look.Station, compile compiler, part func(*frame.Frame) *frame.Frame) (*frame.Frame, error) {
	switch st {
	case look.Intake:
		if c.encoding == colour.Working() {
			break // light has no code values to show
		}
		f, err := s.recorded(ctx, c, r)
		if err != nil {
			return nil, err
		}
		return part(f), nil
	case look.Negative:
		if f, ok, err := s.againstLamp(ctx, c, r, compile, part); ok || err != nil {
			return f, err
		}
	}
	// leave out what comes after the station; the screen always shows
	upTo := c.look.Clone()
	after := false
	for _, t := range look.Stations {
		if after && t != look.Screen {
			delete(upTo.Stations, t)
		}
		after = after || t == st
	}
	tap := look.Finish
	if st == look.Print {
		if err := upTo.Set("screen.display.range", 0); err != nil {
			return nil, err
		}
	}
	if st == look.Intake || st == look.Balance || st == look.Lens || st == look.Negative {
		upTo = upTo.WithoutFilm()
	}
	plan, err := compile(ctx, upTo, c.encoding, r, tap)
	if err != nil {
		return nil, err
	}
	f, err := s.rendered(ctx, plan, c.src, c.view.Frame, c.view.Frame)
	if err != nil {
		return nil, err
	}
	return part(f), nil
}

// recorded is a frame's codes as they were recorded, at a raster. The last few are kept: they are the same under every look.
func (s *Sessions) recorded(ctx context.Context, c *scene, r render.Raster) (*frame.Frame, error) {
	return s.codes.Get(fmt.Sprint(c.src.Key(), " ", c.view.Frame, " ", r), func() (*frame.Frame, error) {
		t, err := s.takeForScreen(ctx, pictureNeed(c.src, c.view.Frame, r))
		if err != nil {
			return nil, err
		}
		defer t.release()
		f, err := c.src.Frame(context.WithValue(ctx, ticketKey{}, t), c.view.Frame)
		if err != nil {
			return nil, wrapInput(err)
		}
		return frame.Scale(ctx, f, r.W, r.H)
	})
}

// againstLamp shows the negative as it hangs before a lamp; ok is false where there is none.
func (s *Sessions) againstLamp(ctx context.Context, c *scene, r render.Raster, compile compiler, part func(*frame.Frame) *frame.Frame) (f *frame.Frame, ok bool, err error) {
	neg := render.NegativeOf(c.look)
	if neg == nil {
		return nil, false, nil
	}
	plan, err := compile(ctx, c.look, c.encoding, r, look.Negative)
	if err != nil {
		return nil, false, err
	}
	d, err := s.rendered(ctx, plan, c.src, c.view.Frame, c.view.Frame)
	if err != nil {
		return nil, false, wrapInput(err)
	}
	srgb, err := colour.FindDisplay("srgb")
	if err != nil {
		return nil, false, err
	}
	m := srgb.Gamut.ToXYZ().Inverse().Mul(colour.Adapt(film.LampWhite(), srgb.Gamut.White.XYZ()))
	w := srgb.Luminance()
	f, err = frame.Each(ctx, part(d), func(c [3]float64) [3]float64 {
		v := m.Apply(film.Lamp(neg, c))
		v = colour.Fit([3]float64{v[0] * 1.35, v[1] * 1.35, v[2] * 1.35}, w)
		return [3]float64{srgb.Encode(v[0]), srgb.Encode(v[1]), srgb.Encode(v[2])}
	})
	return f, true, err
}
