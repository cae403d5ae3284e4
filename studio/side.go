package studio

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/shelf"
	"velours/library"
)

// Sides are the pictures that a shot can be compared with:
//
//	film            itself without its film steps
//	entered         itself as it entered, conversion alone
//	previous        itself before its last change
//	station.kind    itself without one step
//	station:ID      itself without all steps of a station
//	shot:ID         another shot, where it was last looked at
//	pin:ID          a pin or a reference still
//
// side renders the one that the view asks for.
func (s *Studio) side(ctx context.Context, v View) (*Shown, error) {
	if kind, id, ok := strings.Cut(v.Side, ":"); ok && kind != "station" {
		n, err := strconv.ParseUint(id, 10, 32)
		if err != nil {
			return nil, Bad("there is nothing called %q to compare with", v.Side)
		}
		switch kind {
		case "pin":
			return s.pinned(ctx, v, uint(n))
		case "shot":
			return s.otherShot(ctx, v, uint(n))
		}
		return nil, Bad("there is nothing called %q to compare with", v.Side)
	}
	if v.Side == "previous" {
		shot, err := s.lib.Shot(v.Shot)
		if err != nil {
			return nil, err
		}
		doc, encoding, err := s.lib.Before(shot)
		if err != nil {
			return nil, err
		}
		if v.Look, err = look.ParseStored([]byte(doc)); err != nil {
			return nil, err
		}
		v.Encoding = ""
		c, err := s.prepare(ctx, &v)
		if err != nil {
			return nil, err
		}
		if c.encoding, err = encodingOf(encoding); err != nil {
			return nil, err
		}
		return s.plain(ctx, c, c.look)
	}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	look, err := sideLook(c.look, v.Side)
	if err != nil {
		return nil, err
	}
	return s.plain(ctx, c, look)
}

// plain is the scene under a look, as the display shows it.
func (s *Studio) plain(ctx context.Context, c *scene, l *look.Look) (*Shown, error) {
	f, plan, err := s.at(ctx, c, l, look.Finish)
	if err != nil {
		return nil, err
	}
	c.look = l
	at := func(ctx context.Context, tap look.Station) (*frame.Frame, error) {
		f, _, err := s.at(ctx, c, l, tap)
		return f, err
	}
	return &Shown{Frame: f, Display: plan.Display, SourceW: c.shot.Width, SourceH: c.shot.Height, scene: c, at: at}, nil
}

// sideLook is the look that a comparison within the shot shows.
func sideLook(l *look.Look, side string) (*look.Look, error) {
	switch side {
	case "":
		return l, nil
	case "film":
		return l.WithoutFilm(), nil
	case "entered":
		c := look.NewLook(l.Name)
		for _, s := range []look.Station{look.Intake, look.Screen} {
			if l.Stations[s] != nil {
				c.Stations[s] = l.Stations[s]
			}
		}
		return c, nil
	}
	if name, ok := strings.CutPrefix(side, "station:"); ok {
		st, err := look.ParseStation(name)
		if err != nil {
			return nil, BadInput{err}
		}
		return l.WithoutStation(st), nil
	}
	st, step, err := stepNamed(side)
	if err != nil {
		return nil, Bad("there is nothing called %q to compare with", side)
	}
	return l.Without(st, step), nil
}

// stepNamed reads station.step.
func stepNamed(name string) (look.Station, string, error) {
	station, step, _ := strings.Cut(name, ".")
	st, err := look.ParseStation(station)
	if err == nil {
		_, err = look.KindOf(st, step)
	}
	if err != nil {
		return "", "", Bad("there is no step %q", name)
	}
	return st, step, nil
}

// placed moves the seen part of a view from a picture of one size to the like place in one of another.
func (v View) placed(fromW, fromH, toW, toH int) View {
	if v.CropW == 0 {
		return v
	}
	w, h := min(v.CropW, toW), min(v.CropH, toH)
	share := func(at, room int) float64 {
		if room <= 0 {
			return 0.5
		}
		return float64(at) / float64(room)
	}
	x, y := share(v.X, fromW-v.CropW), share(v.Y, fromH-v.CropH)
	v.X, v.Y, v.CropW, v.CropH = int(x*float64(toW-w)+0.5), int(y*float64(toH-h)+0.5), w, h
	return v
}

func (s *Studio) otherShot(ctx context.Context, v View, id uint) (*Shown, error) {
	from, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	to, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	v = v.placed(from.Width, from.Height, to.Width, to.Height)
	v.Shot, v.Frame, v.Number, v.Look, v.Encoding = id, to.Frame, nil, nil, ""
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	return s.plain(ctx, c, c.look)
}

// pinned shows a pin, converted to the display that the shot is made for.
func (s *Studio) pinned(ctx context.Context, v View, id uint) (*Shown, error) {
	pin, err := s.lib.Pin(id)
	if err != nil {
		return nil, err
	}
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	l := v.Look
	if l == nil {
		if l, err = look.ParseStored([]byte(shot.Look)); err != nil {
			return nil, err
		}
	}
	to := render.DisplayOf(l)
	from, err := pinDisplay(pin)
	if err != nil {
		return nil, err
	}
	r, err := s.reader(ctx, pin.File)
	if err != nil {
		return nil, wrapInput(err)
	}
	v = v.placed(shot.Width, shot.Height, pin.Width, pin.Height)
	raster, region := v.window(pin.Width, pin.Height)
	out, err := placedPins.Get(fmt.Sprint(pin.File, raster, to.Key()), func() (*frame.Frame, error) {
		f, err := r.Frame(ctx, 0)
		if err != nil {
			return nil, wrapInput(err)
		}
		return onDisplay(ctx, f, raster, from, to)
	})
	if err != nil {
		return nil, err
	}
	if region.W > 0 {
		out = out.Crop(region.X, region.Y, region.W, region.H)
	}
	return &Shown{Frame: out, Display: to, SourceW: pin.Width, SourceH: pin.Height}, nil
}

// placedPins are the last few pins, brought to a raster on a display: they are looked at again and again.
var placedPins = shelf.Shelf[*frame.Frame]{Size: 4}

func pinDisplay(p *library.Pin) (*colour.Display, error) {
	d, err := colour.FindDisplay(p.Display)
	if err != nil {
		return nil, err
	}
	return d.At(p.White, p.Peak), nil
}
