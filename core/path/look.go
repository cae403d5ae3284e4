package path

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"sort"
	"strings"
)

// Version is the version of the look format that this program writes.
const Version = 1

// Look is a set of station settings: the open JSON document that carries a picture's making.
type Look struct {
	Velours  int                        `json:"velours"`
	Name     string                     `json:"name"`
	Stations map[Station]*StationInLook `json:"stations"`
}

// StationInLook is one station's part of a look.
type StationInLook struct {
	On       bool    `json:"on"`
	Strength float64 `json:"strength"`
	Steps    []*Step `json:"steps"`
}

// Step is one operation with its settings. Settings left out are at their defaults.
type Step struct {
	Kind     string         `json:"kind"`
	On       bool           `json:"on"`
	Strength float64        `json:"strength"`
	Settings map[string]any `json:"settings"`
	Matte    *string        `json:"matte"`
}

// NewLook is the clean look: conversion and display alone.
func NewLook(name string) *Look {
	return &Look{Velours: Version, Name: name, Stations: map[Station]*StationInLook{}}
}

// ParseLook reads and checks a look. Unknown fields, stations, kinds and settings are refused by name.
func ParseLook(data []byte) (*Look, error) {
	l := &Look{}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(l); err != nil {
		return nil, fmt.Errorf("not a look: %s", plain(err))
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return nil, errors.New("not a look: there is more after its end")
	}
	if l.Velours < 1 || l.Velours > Version {
		return nil, fmt.Errorf("a look of version %d; this program reads versions up to %d", l.Velours, Version)
	}
	return l, l.Check()
}

// plain words a JSON error without the package's name.
func plain(err error) string {
	return strings.TrimPrefix(strings.ReplaceAll(err.Error(), "Go struct field ", ""), "json: ")
}

// Check validates every part and brings settings to their own form.
func (l *Look) Check() error {
	if l.Stations == nil {
		l.Stations = map[Station]*StationInLook{}
	}
	names := make([]string, 0, len(l.Stations))
	for s := range l.Stations {
		names = append(names, string(s))
	}
	sort.Strings(names)
	for _, name := range names {
		s, err := ParseStation(name)
		if err != nil {
			return err
		}
		st := l.Stations[s]
		if st == nil {
			return fmt.Errorf("station %s is empty", s)
		}
		if st.Strength < 0 || st.Strength > 1 {
			return fmt.Errorf("station %s: strength is %g; it goes from 0 to 1", s, st.Strength)
		}
		seen := map[string]bool{}
		for _, step := range st.Steps {
			if step == nil {
				return fmt.Errorf("station %s: an empty step", s)
			}
			if err := step.check(s); err != nil {
				return err
			}
			if seen[step.Kind] {
				return fmt.Errorf("station %s has two steps %q", s, step.Kind)
			}
			seen[step.Kind] = true
		}
	}
	return nil
}

func (p *Step) check(s Station) error {
	k, err := FindKind(s, p.Kind)
	if err != nil {
		return err
	}
	if p.Strength < 0 || p.Strength > 1 {
		return fmt.Errorf("%s: strength is %g; it goes from 0 to 1", k.Path(), p.Strength)
	}
	if p.Matte != nil {
		return fmt.Errorf("%s: there is no matte %q", k.Path(), *p.Matte)
	}
	if p.Settings == nil {
		p.Settings = map[string]any{}
	}
	for id, v := range p.Settings {
		set := k.setting(id)
		if set == nil {
			var ids []string
			for _, q := range k.Settings {
				ids = append(ids, q.ID)
			}
			return fmt.Errorf("%s has no setting %q; it has %s", k.Path(), id, strings.Join(ids, ", "))
		}
		if p.Settings[id], err = set.Check(v); err != nil {
			return fmt.Errorf("%s.%w", k.Path(), err)
		}
	}
	return nil
}

// Clone copies the look.
func (l *Look) Clone() *Look {
	c := &Look{l.Velours, l.Name, map[Station]*StationInLook{}}
	for s, st := range l.Stations {
		n := *st
		n.Steps = make([]*Step, len(st.Steps))
		for i, p := range st.Steps {
			q := *p
			q.Settings = map[string]any{}
			for k, v := range p.Settings {
				q.Settings[k] = v
			}
			n.Steps[i] = &q
		}
		c.Stations[s] = &n
	}
	return c
}

// Station returns the look's part for a station, made if it is missing.
func (l *Look) Station(s Station) *StationInLook {
	st := l.Stations[s]
	if st == nil {
		st = &StationInLook{On: true, Strength: 1}
		l.Stations[s] = st
	}
	return st
}

// Step returns the step of a kind, or nil.
func (l *Look) Step(s Station, kind string) *Step {
	if st := l.Stations[s]; st != nil {
		for _, p := range st.Steps {
			if p.Kind == kind {
				return p
			}
		}
	}
	return nil
}

// Ensure returns the step of a kind, added in its place and switched on if it is missing.
func (l *Look) Ensure(s Station, kind string) (*Step, error) {
	k, err := FindKind(s, kind)
	if err != nil {
		return nil, err
	}
	if p := l.Step(s, kind); p != nil {
		return p, nil
	}
	p := &Step{Kind: k.ID, On: true, Strength: 1, Settings: map[string]any{}}
	st := l.Station(s)
	st.Steps = append(st.Steps, p)
	order := func(id string) int {
		for i, k := range kinds {
			if k.Station == s && k.ID == id {
				return i
			}
		}
		return len(kinds)
	}
	sort.SliceStable(st.Steps, func(i, j int) bool { return order(st.Steps[i].Kind) < order(st.Steps[j].Kind) })
	return p, nil
}

// Set gives the setting at a path, station.kind.setting, a value and switches its step on.
func (l *Look) Set(path string, v any) error {
	part := strings.Split(path, ".")
	if len(part) != 3 {
		return fmt.Errorf("%q is not station.kind.setting", path)
	}
	s, err := ParseStation(part[0])
	if err != nil {
		return err
	}
	k, err := FindKind(s, part[1])
	if err != nil {
		return err
	}
	set := k.setting(part[2])
	if set == nil {
		return (&Step{Kind: k.ID, Settings: map[string]any{part[2]: v}}).check(s)
	}
	if v, err = set.Check(v); err != nil {
		return fmt.Errorf("%s.%w", k.Path(), err)
	}
	p, err := l.Ensure(s, part[1])
	if err != nil {
		return err
	}
	p.On = true
	l.Station(s).On = true
	p.Settings[part[2]] = v
	return nil
}

// values are the step's settings with defaults filled in.
func (p *Step) values(k *Kind) values {
	v := values{}
	for i := range k.Settings {
		s := &k.Settings[i]
		v[s.ID] = s.Initial()
		if x, ok := p.Settings[s.ID]; ok {
			v[s.ID] = x
		}
	}
	return v
}

// active is the strength with which a kind acts in the look: 0 when it or its station is off.
func (l *Look) active(k *Kind) (*Step, float64) {
	p := l.Step(k.Station, k.ID)
	if k.Fixed {
		if p == nil {
			p = &Step{Kind: k.ID}
		}
		return p, 1
	}
	if p == nil || !p.On || !l.Stations[k.Station].On {
		return nil, 0
	}
	if !k.Mixes {
		return p, 1
	}
	return p, p.Strength * l.Stations[k.Station].Strength
}

// WithoutFilm is the look with every film step switched off.
func (l *Look) WithoutFilm() *Look {
	c := l.Clone()
	for _, k := range kinds {
		if k.Film {
			if p := c.Step(k.Station, k.ID); p != nil {
				p.On = false
			}
		}
	}
	return c
}

// Pointwise is the look with every step switched off that no table can carry.
func (l *Look) Pointwise() (*Look, []string) {
	c := l.Clone()
	var left []string
	for _, k := range kinds {
		if p, s := c.active(k); k.Spatial && p != nil && s > 0 {
			c.Step(k.Station, k.ID).On = false
			left = append(left, k.Label)
		}
	}
	return c, left
}
