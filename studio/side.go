package studio

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/library"
)

// Side says which picture a view shows: the shot as it is (the zero Side), or one to compare it with.
type Side struct {
	Of SideOf
	// Station is that of WithoutStation; Step that of WithoutStep.
	Station look.Station
	Step    look.StepPath
	// ID is that of AnotherShot, OntoShot, APin or ATrial.
	ID uint
}

// SideOf tells the sorts of sides apart.
type SideOf string

// The sorts of sides, with what they are called as text.
const (
	AsItIs         SideOf = ""         // the shot
	WithoutFilm    SideOf = "film"     // film: it without its film steps
	AsItEntered    SideOf = "entered"  // entered: conversion alone
	BeforeLast     SideOf = "previous" // previous: before its last change
	WithoutStep    SideOf = "step"     // station.name: without one step
	WithoutStation SideOf = "station"  // station:ID: without all steps of a station
	AnotherShot    SideOf = "shot"     // shot:ID: another shot, where it was last looked at
	OntoShot       SideOf = "onto"     // onto:ID: this shot's look on another shot, as that came in
	APin           SideOf = "pin"      // pin:ID: a pin or a reference still
	ATrial         SideOf = "trial"    // trial:ID: the shot under another trial, of its own or of a level above it
)

// ParseSide reads a side as text.
func ParseSide(text string) (Side, error) {
	switch of := SideOf(text); of {
	case AsItIs, WithoutFilm, AsItEntered, BeforeLast:
		return Side{Of: of}, nil
	}
	nothing := Bad("there is nothing called %q to compare with", text)
	word, id, numbered := strings.Cut(text, ":")
	if !numbered {
		step, err := look.ParseStepPath(text)
		if err != nil {
			return Side{}, nothing
		}
		return Side{Of: WithoutStep, Step: step}, nil
	}
	switch of := SideOf(word); of {
	case WithoutStation:
		st, err := look.ParseStation(id)
		if err != nil {
			return Side{}, BadInput{err}
		}
		return Side{Of: of, Station: st}, nil
	case AnotherShot, OntoShot, APin, ATrial:
		n, err := strconv.ParseUint(id, 10, 32)
		if err != nil {
			return Side{}, nothing
		}
		return Side{Of: of, ID: uint(n)}, nil
	}
	return Side{}, nothing
}

// String is the side as text.
func (s Side) String() string {
	switch s.Of {
	case WithoutStep:
		return s.Step.String()
	case WithoutStation:
		return fmt.Sprintf("%s:%s", s.Of, s.Station)
	case AnotherShot, OntoShot, APin, ATrial:
		return fmt.Sprintf("%s:%d", s.Of, s.ID)
	}
	return string(s.Of)
}

// MarshalText writes the side as text.
func (s Side) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// UnmarshalText reads the side.
func (s *Side) UnmarshalText(text []byte) (err error) {
	*s, err = ParseSide(string(text))
	return err
}

// side renders the side that the view asks for.
func (s *Sessions) side(ctx context.Context, v View) (*Shown, error) {
	switch v.Side.Of {
	case APin:
		return s.pinned(ctx, v, v.Side.ID)
	case AnotherShot:
		return s.otherShot(ctx, v, v.Side.ID)
	case OntoShot:
		return s.onto(ctx, v, v.Side.ID)
	case BeforeLast:
		return s.beforeLast(ctx, v)
	case ATrial:
		return s.underTrial(ctx, v, v.Side.ID)
	}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	return s.plain(ctx, c, sideLook(c.look, v.Side))
}

// beforeLast shows the shot before its last change.
func (s *Sessions) beforeLast(ctx context.Context, v View) (*Shown, error) {
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	was, err := s.lib.Before(library.ChainOf(shot))
	if err != nil {
		return nil, err
	}
	v.Look, v.Above, v.Encoding = nil, nil, ""
	encoding := shot.Encoding
	if was != nil {
		l, err := look.ParseStored([]byte(was.Look))
		if err != nil {
			return nil, err
		}
		switch was.Of {
		case library.ShotLook:
			v.Look, encoding = l, was.Encoding
		case library.SceneLook:
			v.Above = map[look.Level]*look.Look{look.OfScene: l}
		case library.ReelLook:
			v.Above = map[look.Level]*look.Look{look.OfReel: l}
		}
	}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	if c.encoding, err = encodingOf(encoding); err != nil {
		return nil, err
	}
	return s.plain(ctx, c, c.look)
}

// plain is the scene under a look, as the display shows it.
func (s *Sessions) plain(ctx context.Context, c *scene, l *look.Look) (*Shown, error) {
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
func sideLook(l *look.Look, side Side) *look.Look {
	switch side.Of {
	case WithoutFilm:
		return l.WithoutFilm()
	case AsItEntered:
		c := look.NewLook(l.Name)
		for _, s := range []look.Station{look.Intake, look.Screen} {
			if l.Stations[s] != nil {
				c.Stations[s] = l.Stations[s]
			}
		}
		return c
	case WithoutStation:
		return l.WithoutStation(side.Station)
	case WithoutStep:
		return l.Without(side.Step.Station, side.Step.Name)
	}
	return l
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

func (s *Sessions) otherShot(ctx context.Context, v View, id uint) (*Shown, error) {
	from, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	to, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	v = v.placed(from.Width, from.Height, to.Width, to.Height)
	v.Shot, v.Frame, v.Number, v.Look, v.Above, v.Encoding = id, to.Frame, nil, nil, nil, ""
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	return s.plain(ctx, c, c.look)
}

// onto shows another shot under this one's look; how that shot came in stays its own.
func (s *Sessions) onto(ctx context.Context, v View, id uint) (*Shown, error) {
	from, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	mine, err := s.levels(&v, from)
	if err != nil {
		return nil, err
	}
	to, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	theirs, err := s.levelsOf(to, nil)
	if err != nil {
		return nil, err
	}
	v = v.placed(from.Width, from.Height, to.Width, to.Height)
	v.Shot, v.Frame, v.Number, v.Look, v.Above, v.Encoding, v.Hide = id, to.Frame, nil, nil, nil, "", look.HideNothing
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	c.look = mine.Whole().WithIntakeOf(theirs.Shot)
	p, err := s.plain(ctx, c, c.look)
	if err == nil {
		p.Note = fmt.Sprintf("the look of %s on %s", from.Name, to.Name)
	}
	return p, err
}

// pinned shows a pin, converted to the display that the shot is made for.
func (s *Sessions) pinned(ctx context.Context, v View, id uint) (*Shown, error) {
	pin, err := s.lib.Pin(id)
	if err != nil {
		return nil, err
	}
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	levels, err := s.levels(&v, shot)
	if err != nil {
		return nil, err
	}
	to := render.DisplayOf(levels.Whole())
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
var placedPins = cache.Results[*frame.Frame]{Size: 4}

func pinDisplay(p *library.Pin) (*colour.Display, error) {
	d, err := colour.FindDisplay(p.Display)
	if err != nil {
		return nil, err
	}
	return d.At(p.White, p.Peak), nil
}
