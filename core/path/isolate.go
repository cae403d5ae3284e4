package path

import (
	"fmt"
)

// Without is the look with one step switched off. A step that is part of every path rests instead: it
// keeps what a picture cannot do without.
func (l *Look) Without(s Station, kind string) *Look {
	c := l.Clone()
	k, err := FindKind(s, kind)
	if err != nil {
		return c
	}
	if !k.Fixed {
		if p := c.Step(s, kind); p != nil {
			p.On = false
		}
		return c
	}
	p, _ := c.Ensure(s, kind)
	for id, v := range k.Rest {
		p.Settings[id] = v
	}
	return c
}

// WithoutStation is the look with every step of a station at rest, but for the encoding, without which
// there is no picture.
func (l *Look) WithoutStation(s Station) *Look {
	c := l.Clone()
	for _, k := range kinds {
		if k.Station == s && k != encodingKind {
			c = c.Without(s, k.ID)
		}
	}
	return c
}

// Solo is the look with all other steps of the step's station at rest, and the station at full
// strength.
func (l *Look) Solo(s Station, kind string) *Look {
	c := l.Clone()
	for _, k := range kinds {
		if k.Station == s && k.ID != kind {
			if k == encodingKind {
				continue // without it there is no picture
			}
			c = c.Without(s, k.ID)
		}
	}
	if p := c.Step(s, kind); p != nil {
		c.Station(s).On, c.Station(s).Strength, p.On = true, 1, true
	}
	return c
}

// Far is how many times over a step is shown when it is exaggerated but has no top to go to.
const Far = 4

// Exaggerated is the look with one step pushed to the top of its range: what it has of an amount goes to
// the end, what goes both ways goes on in its direction, Far times as far. The result tells how many
// times over the step's own effect is to be shown beside that: 1 if the settings did it, Far if the step
// has none that could.
func (l *Look) Exaggerated(s Station, kind string) (*Look, float64) {
	c := l.Clone()
	k, err := FindKind(s, kind)
	if err != nil {
		return c, 1
	}
	p, err := c.Ensure(s, kind)
	if err != nil {
		return c, 1
	}
	pushed := false
	now := p.values(k)
	for _, id := range k.Lead {
		set := k.setting(id)
		v := now.number(id)
		to := set.Max
		if set.Min < 0 && set.Max > 0 {
			to = min(max(v*Far, set.Min), set.Max)
		}
		if to != v {
			p.Settings[id], pushed = to, true
		}
	}
	if pushed && k.Mixes {
		p.Strength = 1
	}
	if pushed {
		return c, 1
	}
	return c, Far
}

// Rests tells why a step changes nothing whatever the frame, by its settings alone; empty if it may.
func (l *Look) Rests(k *Kind) string {
	p, strength := l.active(k)
	if p == nil || k.Still == nil {
		return ""
	}
	if strength == 0 {
		return "At strength 0 nothing is mixed in."
	}
	return k.Still(p.values(k))
}

// still is the reason of a kind whose settings all do nothing at a value.
func still(why string, at float64, ids ...string) func(values) string {
	return func(v values) string {
		for _, id := range ids {
			if v.number(id) != at {
				return ""
			}
		}
		return fmt.Sprintf("Resting: %s.", why)
	}
}

// Acts tells whether a kind's step is on with some strength.
func (l *Look) Acts(k *Kind) bool {
	p, s := l.active(k)
	return p != nil && s > 0
}
