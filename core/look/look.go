package look

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
)

// Look is a set of station settings: the open JSON document that carries a picture's making.
type Look struct {
	Velours  int                        `json:"velours"`
	Name     string                     `json:"name"`
	Stations map[Station]*StationInLook `json:"stations"`
	// Mattes are the look's, by the names under which its steps share them.
	Mattes map[string]*Matte `json:"mattes,omitempty"`
	// Treatment is the switch and strength of all that is done to the balanced picture, nil for on and whole.
	Treatment *Treatment `json:"treatment,omitempty"`
	// Trial is the number of the trial that is in use where the look is kept, 0 for none.
	Trial int `json:"trial,omitempty"`
	// Made is what the look was made with, once it has been stored.
	Made *Made `json:"made,omitempty"`
	// Unread are parts of a stored look that cannot be read here, by what they are.
	Unread map[string]*Unread `json:"unread,omitempty"`

	// Tabular leaves out what a pixel takes of its neighbours, where a step is more than that.
	Tabular bool `json:"-"`
	// Fed, if set, names a step that spreads light: in its place the picture is the light that feeds it.
	Fed StepPath `json:"-"`
}

// StationInLook is one station's part of a look.
type StationInLook struct {
	On       bool    `json:"on"`
	Strength float64 `json:"strength"`
	Steps    []*Step `json:"steps"`
	// Groups are runs of steps that are switched, mixed and covered together, by the names under which their steps are of one.
	Groups map[string]*Group `json:"groups,omitempty"`
	// Follows tells that the station is as the level above has it (Levels); it has no steps of its own then.
	Follows bool `json:"follows,omitempty"`
	// Unread are steps of a stored look that cannot be read here.
	Unread []*Unread `json:"unread,omitempty"`
}

// Step is one operation with its settings. Settings left out are at their defaults.
type Step struct {
	Kind string `json:"kind"`
	// ID tells further steps of a kind from its first, which has none: exposure-2, exposure-3.
	ID string `json:"id,omitempty"`
	// Title is what a person calls the step.
	Title    string         `json:"title,omitempty"`
	On       bool           `json:"on"`
	Strength float64        `json:"strength"`
	Settings map[string]any `json:"settings"`
	// Group names the station's group that the step is in.
	Group string `json:"group,omitempty"`
	// Matte names the look's matte inside which (or Outside which) the step acts; none for everywhere.
	Matte   *string `json:"matte"`
	Outside bool    `json:"outside,omitempty"`
	// Source lets the matte of a step that spreads light choose the light that spreads; without it the light spreads from
	// everywhere, and is kept where the matte covers.
	Source bool `json:"source,omitempty"`
	// Keys are settings at frames of the shot, rising (Kind.Keyed).
	Keys []*Key `json:"keys,omitempty"`
	// Again are settings that came from another picture and are to be looked at on this one (MarksOf).
	Again []string `json:"again,omitempty"`
	// Unread are settings, and after a slash fields, of a stored step that cannot be read here.
	Unread map[string]json.RawMessage `json:"unread,omitempty" ts:"Record<string, unknown>"`

	// Level is that of a step that came from above a shot (Levels.Whole), empty for its own.
	Level Level `json:"-"`
}

// mostLetters is how long the title of a step or the name of a matte may be.
const mostLetters = 80

// mostSteps is how many steps a station may have, and mostMattes how many mattes a look.
const mostSteps, mostMattes = 100, 100

// Name is what a step is found by in its station: its ID, or its kind; with the level before it where it came from above.
func (p *Step) Name() string {
	name := p.Kind
	if p.ID != "" {
		name = p.ID
	}
	if p.Level != "" {
		return string(p.Level) + ":" + name
	}
	return name
}

// NewLook is the clean look: conversion and display alone.
func NewLook(name string) *Look {
	return &Look{Velours: Version, Name: name, Stations: map[Station]*StationInLook{}}
}

// Clone copies the look.
func (l *Look) Clone() *Look {
	c := &Look{Velours: l.Velours, Name: l.Name, Stations: map[Station]*StationInLook{}, Trial: l.Trial, Made: l.Made.clone(), Unread: maps.Clone(l.Unread), Tabular: l.Tabular, Fed: l.Fed}
	if l.Treatment != nil {
		t := *l.Treatment
		c.Treatment = &t
	}
	for s, st := range l.Stations {
		n := *st
		n.Steps = make([]*Step, len(st.Steps))
		for i, p := range st.Steps {
			n.Steps[i] = p.Clone()
		}
		n.Groups = cloneGroups(st.Groups)
		c.Stations[s] = &n
	}
	for name, m := range l.Mattes {
		c.SetMatte(name, m.Clone())
	}
	return c
}

// Clone copies the step.
func (p *Step) Clone() *Step {
	q := *p
	q.Settings, q.Keys, q.Again = maps.Clone(p.Settings), cloneKeys(p.Keys), slices.Clone(p.Again)
	if q.Settings == nil {
		q.Settings = map[string]any{}
	}
	return &q
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

// Step returns a station's step by its name, or nil.
func (l *Look) Step(s Station, name string) *Step {
	if st := l.Stations[s]; st != nil {
		for _, p := range st.Steps {
			if p.Name() == name {
				return p
			}
		}
	}
	return nil
}

// KindOf returns the kind of the step that has a name, or would have it: exposure-2 is an exposure, and so is
// reel:exposure.
func KindOf(s Station, name string) (*Kind, error) {
	name = nearName(name)
	if i := strings.LastIndexByte(name, '-'); i > 0 {
		if n, err := strconv.Atoi(name[i+1:]); err == nil && n > 1 {
			if k, err := FindKind(s, name[:i]); err == nil && k.Repeatable {
				return k, nil
			}
		}
	}
	return FindKind(s, name)
}

// Ensure returns the step of a name, added in its kind's place and switched on if it is missing. Steps that
// are there keep their order.
func (l *Look) Ensure(s Station, name string) (*Step, error) {
	k, err := KindOf(s, name)
	if err != nil {
		return nil, err
	}
	if p := l.Step(s, name); p != nil {
		return p, nil
	}
	p := &Step{Kind: k.ID, On: true, Strength: 1, Settings: map[string]any{}}
	near := nearName(name)
	if near != k.ID {
		p.ID = near
	}
	if near != name {
		p.Level = Level(strings.TrimSuffix(name, ":"+near))
	}
	st := l.Station(s)
	st.Steps = slices.Insert(st.Steps, st.place(s, p), p)
	return p, nil
}

// place is the index at which a step usually acts, among those of its level.
func (st *StationInLook) place(s Station, p *Step) int {
	at := 0
	for i, q := range st.Steps {
		if q.Level == p.Level && order(s, q.Kind) <= order(s, p.Kind) || levelOrder(q.Level) < levelOrder(p.Level) {
			at = i + 1
		}
	}
	return at
}

// order is a kind's usual place in its station.
func order(s Station, id string) int {
	return slices.IndexFunc(kinds, func(k *Kind) bool { return k.Station == s && k.ID == id })
}

// Add puts a step of a kind before the index at, or if that is negative at the station's end, in the lens where such a thing
// stands, and gives it a name of its own. It starts as its kind begins.
func (l *Look) Add(s Station, kind string, at int) (*Step, error) {
	k, err := FindKind(s, kind)
	if err != nil {
		return nil, err
	}
	if !k.Repeatable && l.Step(s, kind) != nil {
		return nil, fmt.Errorf("%s stands once in its station", k.Path())
	}
	p := &Step{Kind: kind, ID: l.free(s, kind), On: true, Strength: 1, Settings: map[string]any{}}
	maps.Copy(p.Settings, k.Begin)
	st := l.Station(s)
	if at < 0 && s == Lens {
		at = st.place(s, p)
	} else if at < 0 || at > len(st.Steps) {
		at = len(st.Steps)
	}
	st.Steps = slices.Insert(st.Steps, at, p)
	return p, nil
}

// free is an ID that no step of a kind has, none for the first.
func (l *Look) free(s Station, kind string) string {
	if l.Step(s, kind) == nil {
		return ""
	}
	n := 2
	for l.Step(s, fmt.Sprintf("%s-%d", kind, n)) != nil {
		n++
	}
	return fmt.Sprintf("%s-%d", kind, n)
}

// Set gives the setting at a path, station.step.setting, a value and switches its step on.
func (l *Look) Set(path string, v any) error {
	part := strings.Split(path, ".")
	if len(part) != 3 {
		return fmt.Errorf("%q is not station.kind.setting", path)
	}
	s, err := ParseStation(part[0])
	if err != nil {
		return err
	}
	k, err := KindOf(s, part[1])
	if err != nil {
		return err
	}
	one := map[string]any{part[2]: v}
	if err := CheckSettings(k.Path(), k.Settings, one); err != nil {
		return err
	}
	p, err := l.Ensure(s, part[1])
	if err != nil {
		return err
	}
	p.On = true
	l.Station(s).On = true
	maps.Copy(p.Settings, one)
	if len(p.Again) > 0 {
		p.seen(part[2])
	}
	return nil
}

// SetAll is Set for each of station.step.setting=value.
func (l *Look) SetAll(sets ...string) error {
	for _, s := range sets {
		path, v, _ := strings.Cut(s, "=")
		if err := l.Set(path, v); err != nil {
			return err
		}
	}
	return nil
}

// Filled are given settings with the defaults there are now for those left out.
func Filled(declared []Setting, given map[string]any) Values {
	v := Values{}
	for i := range declared {
		s := &declared[i]
		v[s.ID] = s.Initial()
		if x, ok := given[s.ID]; ok {
			v[s.ID] = x
		}
	}
	return v
}

// Strength is that with which a step acts: 0 when it or its station is off.
func (l *Look) Strength(k *Kind, p *Step) float64 {
	switch {
	case k.Fixed:
		return 1
	case !p.On || !l.Stations[k.Station].On:
		return 0
	}
	g := l.Stations[k.Station].GroupOf(p)
	switch {
	case g != nil && !g.On:
		return 0
	case !k.HasStrength:
		return 1
	case g != nil && !k.Station.Lays(): // elsewhere it is that of the group as a whole
		return p.Strength * l.Stations[k.Station].Strength * g.Strength
	}
	return p.Strength * l.Stations[k.Station].Strength
}

// Steps calls f for every step there is, station by station in the order of action; fixed kinds that the look
// does not speak of are among them, at their defaults.
func (l *Look) Steps(f func(k *Kind, p *Step)) {
	for _, s := range Stations {
		for _, k := range kinds {
			if k.Station == s && k.Fixed && l.Step(s, k.ID) == nil {
				f(k, &Step{Kind: k.ID, On: true, Strength: 1})
			}
		}
		if st := l.Stations[s]; st != nil {
			for _, p := range st.Steps {
				if k, err := FindKind(s, p.Kind); err == nil { // a checked look has no other
					f(k, p)
				}
			}
		}
	}
}

// WithoutFilm is the look with every film step switched off.
func (l *Look) WithoutFilm() *Look {
	c := l.Clone()
	c.Steps(func(k *Kind, p *Step) {
		if k.Film {
			p.On = false
		}
	})
	return c
}

// NeedsNeighbours tells whether a step needs neighbouring pixels, or the place of its own.
func (k *Kind) NeedsNeighbours(l *Look, p *Step) bool {
	return k.Spatial || k.Spreads != nil && k.Spreads(l.Values(k, p))
}

// Called is what a step is called on the screen: its title, or its kind's label and number.
func (k *Kind) Called(p *Step) string {
	switch {
	case p.Title != "":
		return p.Title
	case p.ID != "":
		return k.Label + " " + p.ID[strings.LastIndexByte(p.ID, '-')+1:]
	}
	return k.Label
}
