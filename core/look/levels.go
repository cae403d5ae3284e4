package look

import (
	"fmt"
	"maps"
	"slices"
)

// Level is where a setting lives: a shot, its scene or its reel.
type Level string

// The levels, from the nearest to the picture upwards.
const (
	OfShot  Level = "shot"
	OfScene Level = "scene"
	OfReel  Level = "reel"
)

// ParseLevel returns the level of a name; an empty one is the shot's.
func ParseLevel(name string) (Level, error) {
	switch l := Level(name); l {
	case "":
		return OfShot, nil
	case OfShot, OfScene, OfReel:
		return l, nil
	}
	return "", fmt.Errorf("unknown level %q; the levels are shot, scene, reel", name)
}

// UnmarshalText reads a level's name.
func (l *Level) UnmarshalText(text []byte) (err error) {
	*l, err = ParseLevel(string(text))
	return err
}

// Follows tells whether a station is either a level's own or as the level above has it.
func (s Station) Follows() bool { return s == Lens || s == Negative || s == Print || s == Screen }

// Adds tells whether a station's steps of all levels act one after the other: the shot's, the scene's, the reel's.
func (s Station) Adds() bool { return s == Balance || s == Finish }

// Following is a clean look that has the stations that can follow do so: that of a new shot or scene.
func Following(name string) *Look {
	l := NewLook(name)
	for _, s := range Stations {
		if s.Follows() {
			l.Stations[s] = following()
		}
	}
	return l
}

func following() *StationInLook {
	return &StationInLook{On: true, Strength: 1, Follows: true, Steps: []*Step{}}
}

// IsFollowing tells whether a station of the look is as the level above has it.
func (l *Look) IsFollowing(s Station) bool { return l.Stations[s] != nil && l.Stations[s].Follows }

// Levels are the looks that make a shot's picture together: its own, and those of its scene and its reel, nil for none.
type Levels struct{ Shot, Scene, Reel *Look }

// With has another look at a level.
func (v Levels) With(of Level, l *Look) Levels {
	switch of {
	case OfScene:
		v.Scene = l
	case OfReel:
		v.Reel = l
	default:
		v.Shot = l
	}
	return v
}

// At is the look of a level, nil for none.
func (v Levels) At(of Level) *Look {
	switch of {
	case OfScene:
		return v.Scene
	case OfReel:
		return v.Reel
	}
	return v.Shot
}

// Above are the looks over a level, nearest first; there may be none.
func (v Levels) Above(of Level) []*Look {
	var list []*Look
	for _, l := range [][]*Look{{v.Scene, v.Reel}, {v.Reel}, nil}[slices.Index(upwards, of)] {
		if l != nil {
			list = append(list, l)
		}
	}
	return list
}

var upwards = []Level{OfShot, OfScene, OfReel}

// levelOrder is where the steps of a level act.
func levelOrder(of Level) int { return slices.Index(upwards, of) }

// Home is the level that a station of the shot is of: its own, or the first above that does not follow. Where all follow
// it is the highest there is.
func (v Levels) Home(s Station) Level {
	home := OfShot
	for _, of := range upwards {
		l := v.At(of)
		if l == nil {
			continue
		}
		home = of
		if !l.IsFollowing(s) {
			break
		}
	}
	return home
}

// Hide is what is left out of a picture while it is judged.
type Hide string

// What can be hidden.
const (
	HideNothing Hide = ""
	HideAbove   Hide = "above" // what comes from scene and reel, but for the screen
	HideOwn     Hide = "own"   // what is the shot's own, but for intake and screen: the picture as the levels above make it
)

// UnmarshalText reads what is to be hidden.
func (h *Hide) UnmarshalText(text []byte) error {
	switch *h = Hide(text); *h {
	case HideNothing, HideAbove, HideOwn:
		return nil
	}
	return fmt.Errorf("there is nothing called %q to hide; there are above and own", text)
}

// Without leaves something out.
func (v Levels) Without(h Hide) Levels {
	switch h {
	case HideAbove:
		return Levels{Shot: v.Shot, Reel: v.At(v.Home(Screen)).only(Screen)}
	case HideOwn:
		own := v.Shot.only(Intake)
		for _, s := range Stations {
			if s.Follows() {
				own.Stations[s] = following()
			}
		}
		if st := v.Shot.Stations[Screen]; !v.Shot.IsFollowing(Screen) {
			delete(own.Stations, Screen)
			if st != nil {
				own.take(Screen, v.Shot, "")
			}
		}
		v.Shot = own
	}
	return v
}

// only is the look with one station alone.
func (l *Look) only(s Station) *Look {
	c := l.Clone()
	c.Treatment, c.Trial = nil, 0
	maps.DeleteFunc(c.Stations, func(t Station, _ *StationInLook) bool { return t != s })
	return c
}

// Whole is the one look that makes the picture. Steps and mattes that come from above keep their level in their name, as
// reel:exposure, in the stations that add up; so they are told from the shot's own.
func (v Levels) Whole() *Look {
	c := v.Shot.Clone()
	for _, s := range Stations {
		if s.Follows() && c.IsFollowing(s) {
			home := v.Home(s)
			delete(c.Stations, s)
			if l := v.At(home); home != OfShot && !l.IsFollowing(s) {
				c.take(s, l, home)
			}
		}
	}
	for _, of := range upwards[1:] {
		if l := v.At(of); l != nil {
			c.lay(Balance, l, of)
			c.lay(Finish, l, of)
			c.Treatment = c.Treatment.joined(l.Treatment)
		}
	}
	return c
}

// WithIntakeOf is the look with the intake of another: for that one's shot.
func (l *Look) WithIntakeOf(other *Look) *Look {
	c := l.Clone()
	delete(c.Stations, Intake)
	c.take(Intake, other, "")
	return c
}

// take makes a station as another look has it: its settings act as they do there. Mattes that it names come with it, their
// level before their names where it is given.
func (l *Look) take(s Station, from *Look, of Level) {
	st := from.Stations[s]
	l.madeAs(s, from)
	if st == nil {
		return
	}
	n := *st
	n.Groups = l.bringGroups(st.Groups, from, of)
	n.Steps = make([]*Step, 0, len(st.Steps))
	for _, p := range st.Steps {
		q := p.Clone()
		l.bringMatte(q, from, of)
		n.Steps = append(n.Steps, q)
	}
	l.Stations[s] = &n
}

// madeAs notes that a station is made as in another look: by its defaults, cards and process.
func (l *Look) madeAs(s Station, from *Look) {
	if l.Made == nil && from.Made == nil {
		return
	}
	theirs := from.Made
	if theirs == nil {
		theirs = &Made{Process: Process}
	}
	if l.Made == nil {
		l.Made = &Made{Process: Process}
	}
	m := l.Made
	for _, k := range kinds {
		if k.Station != s {
			continue
		}
		delete(m.Defaults, k.Path())
		if d := theirs.Defaults[k.Path()]; d != nil {
			if m.Defaults == nil {
				m.Defaults = map[string]map[string]any{}
			}
			m.Defaults[k.Path()] = maps.Clone(d)
		}
	}
	m.noteProcess(s, theirs.processOf(s))
	for key, digest := range from.cardsOf(s) {
		if m.Cards == nil {
			m.Cards = map[string]string{}
		}
		m.Cards[key] = digest
	}
}

// cardsOf are the noted cards that a station names.
func (l *Look) cardsOf(s Station) map[string]string {
	cards := map[string]string{}
	if l.Made == nil {
		return cards
	}
	l.Steps(func(k *Kind, p *Step) {
		for i := range k.Settings {
			if r := k.Settings[i].Refers; r != nil && k.Station == s {
				key := r.Card + " " + l.Values(k, p).Choice(k.Settings[i].ID)
				if digest := l.Made.Cards[key]; digest != "" {
					cards[key] = digest
				}
			}
		}
	})
	return cards
}

// bringMatte brings the matte of a step of another look, under its own name or with the level before it.
func (l *Look) bringMatte(p *Step, from *Look, of Level) { p.Matte = l.matteFrom(p.Matte, from, of) }

// bringGroups copies groups of another look, with their mattes.
func (l *Look) bringGroups(groups map[string]*Group, from *Look, of Level) map[string]*Group {
	c := cloneGroups(groups)
	for _, g := range c {
		g.Matte = l.matteFrom(g.Matte, from, of)
	}
	return c
}

// matteFrom brings a matte of another look, and returns its name here.
func (l *Look) matteFrom(named *string, from *Look, of Level) *string {
	if named == nil {
		return nil
	}
	m := from.Mattes[*named]
	if m == nil {
		return nil
	}
	first := *named
	if of != "" {
		first = string(of) + ":" + first
	}
	name := first
	for n := 2; l.Mattes[name] != nil && !sameMatte(l.Mattes[name], m); n++ {
		name = fmt.Sprintf("%s %d", first, n)
	}
	l.SetMatte(name, m.Clone())
	return &name
}

// lay puts the steps of a station of a level above after those that are there.
func (l *Look) lay(s Station, from *Look, of Level) {
	st := from.Stations[s]
	if st == nil || len(st.Steps) == 0 {
		return
	}
	to := l.Station(s)
	for _, p := range to.Steps { // the station's own switch and strength are these steps' alone now
		p.On, p.Strength = p.On && to.On, p.Strength*to.Strength
	}
	to.On, to.Strength = true, 1
	for name, g := range l.bringGroups(st.Groups, from, of) {
		to.setGroup(string(of)+":"+name, g)
	}
	for _, p := range st.Steps {
		q := p.Clone()
		q.Level = of
		if q.Group != "" {
			q.Group = string(of) + ":" + q.Group
		}
		q.On, q.Strength = p.On && st.On, p.Strength*st.Strength
		l.bringMatte(q, from, of)
		l.settleAs(s, q, from)
		to.Steps = append(to.Steps, q)
	}
	for key, digest := range from.cardsOf(s) {
		if l.Made != nil && l.Made.Cards[key] == "" {
			if l.Made.Cards == nil {
				l.Made.Cards = map[string]string{}
			}
			l.Made.Cards[key] = digest
		}
	}
}

// settleAs writes into a step of another look what it leaves out there and would have otherwise here.
func (l *Look) settleAs(s Station, p *Step, from *Look) {
	k, err := FindKind(s, p.Kind)
	if err != nil {
		return
	}
	for i := range k.Settings {
		set := &k.Settings[i]
		if v := from.initial(k, set); p.Settings[set.ID] == nil && v != l.initial(k, set) {
			p.Settings[set.ID] = v
		}
	}
}

// Own makes a station that follows the look's own, as the looks above have it: nearest first.
func (l *Look) Own(s Station, above ...*Look) (*Look, error) {
	switch {
	case !s.Follows():
		return nil, fmt.Errorf("%s follows nothing: its steps add up over the levels", s.Label())
	case !l.IsFollowing(s):
		return nil, fmt.Errorf("%s is its own already", s.Label())
	}
	c := l.Clone()
	delete(c.Stations, s)
	for _, a := range above {
		if !a.IsFollowing(s) {
			c.take(s, a, "")
			break
		}
	}
	c.Station(s)
	return c, nil
}

// Follow makes a station as the level above has it again: what it had of its own goes, with the mattes that no other step uses.
func (l *Look) Follow(s Station) (*Look, error) {
	if !s.Follows() {
		return nil, fmt.Errorf("%s follows nothing: its steps add up over the levels", s.Label())
	}
	c := l.Clone()
	if st := c.Stations[s]; st != nil && len(st.Unread) > 0 {
		return nil, fmt.Errorf("%s has steps that this program cannot read; remove them first", s.Label())
	}
	used := map[string]bool{}
	if st := c.Stations[s]; st != nil {
		for _, p := range st.Steps {
			if p.Matte != nil {
				used[*p.Matte] = true
			}
		}
		for _, g := range st.Groups {
			if g.Matte != nil {
				used[*g.Matte] = true
			}
		}
	}
	c.Stations[s] = following()
	for _, st := range c.Stations {
		for _, g := range st.Groups {
			if g.Matte != nil {
				delete(used, *g.Matte)
			}
		}
		for _, p := range st.Steps {
			if p.Matte != nil {
				delete(used, *p.Matte)
			}
		}
	}
	maps.DeleteFunc(c.Mattes, func(name string, _ *Matte) bool { return used[name] })
	if len(c.Mattes) == 0 {
		c.Mattes = nil
	}
	if c.Made != nil {
		delete(c.Made.Stations, s)
		if len(c.Made.Stations) == 0 {
			c.Made.Stations = nil
		}
		for _, k := range kinds {
			if k.Station == s {
				delete(c.Made.Defaults, k.Path())
			}
		}
	}
	return c, nil
}
