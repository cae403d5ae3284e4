package look

import (
	"maps"
	"slices"
)

// Without is the look with one step switched off, by its name. A step that is part of every path rests instead: it
// keeps what a picture cannot do without.
func (l *Look) Without(s Station, name string) *Look {
	c := l.Clone()
	c.rest(s, name)
	return c
}

func (l *Look) rest(s Station, name string) {
	k, err := KindOf(s, name)
	if err != nil {
		return
	}
	if !k.Fixed {
		if p := l.Step(s, name); p != nil {
			p.On = false
		}
		return
	}
	if p, err := l.Ensure(s, name); err == nil {
		maps.Copy(p.Settings, k.Rest)
	}
}

// restAll puts all steps of a station at rest but the one of a name.
func (l *Look) restAll(s Station, but string) {
	var names []string
	l.Steps(func(k *Kind, p *Step) {
		if k.Station == s && p.Name() != but {
			names = append(names, p.Name())
		}
	})
	for _, n := range names {
		l.rest(s, n)
	}
}

// WithoutStation is the look with every step of a station at rest.
func (l *Look) WithoutStation(s Station) *Look {
	c := l.Clone()
	c.restAll(s, "")
	return c
}

// Upto is the look as it is before a step of it acts: the step and those after it in its station are off, and so are those that its
// group is laid over.
func (l *Look) Upto(s Station, name string) *Look {
	c := l.Clone()
	if _, err := c.Ensure(s, name); err != nil { // one that is not there yet has a place all the same
		return c
	}
	if st := c.Stations[s]; st != nil {
		items := st.Items()
		for i, it := range items {
			if !slices.ContainsFunc(st.Steps[it.From:it.To], func(p *Step) bool { return p.Name() == name }) || it.Group == nil {
				continue
			}
			for j := i; j > 0 && items[j].Group != nil && items[j].Group.Lay != InTurn; j-- {
				for _, p := range st.Steps[items[j-1].From:items[j-1].To] {
					p.On = false
				}
			}
			*it.Group = Group{Title: it.Group.Title, On: true, Strength: 1}
		}
		after := false
		for _, p := range st.Steps {
			after = after || p.Name() == name
			if after {
				p.On = false
			}
		}
	}
	return c
}

// Solo is the look with all other steps of the step's station at rest, and the station at full
// strength.
func (l *Look) Solo(s Station, name string) *Look {
	c := l.Clone()
	c.restAll(s, name)
	if p := c.Step(s, name); p != nil {
		c.Station(s).On, c.Station(s).Strength, p.On, p.Group = true, 1, true, ""
	}
	return c
}

// Alone is Solo with all other stations at rest too, but for what brings the shot in and shows it.
func (l *Look) Alone(s Station, name string) *Look {
	c := l.Solo(s, name)
	for _, t := range Stations {
		if t != s && (t == Balance || t.Treats()) {
			c.restAll(t, "")
		}
	}
	c.Treatment = nil
	return c
}

// FedAlone is the look with what feeds a step that spreads light in the step's place, and nothing else that spreads it.
func (l *Look) FedAlone(s Station, name string) *Look {
	c := l.Clone()
	p, err := c.Ensure(s, name)
	if err != nil {
		return c
	}
	c.Steps(func(k *Kind, q *Step) {
		if k.Scatters && q != p {
			q.On = false
		}
	})
	c.Station(s).On, c.Station(s).Strength, p.On, p.Strength, p.Group = true, 1, true, 1, ""
	c.Fed = StepPath{s, name}
	return c
}

// TakesAll tells that a kind with a Range takes all light under settings.
func (k *Kind) TakesAll(v Values) bool {
	low := k.Setting(k.Range.Low)
	if v.Number(low.ID) != low.Default {
		return false
	}
	high := k.Setting(k.Range.High)
	return high == nil || v.Number(high.ID) == high.Default
}

// Far is how many times over a step is shown when it is exaggerated but has no top to go to.
const Far = 4

// Exaggerated is the look with one step pushed to the top of its range: what it has of an amount goes to
// the end, what goes both ways goes on in its direction, Far times as far. The result tells how many
// times over the step's own effect is to be shown beside that: 1 if the settings did it, Far if the step
// has none that could.
func (l *Look) Exaggerated(s Station, name string) (*Look, float64) {
	c := l.Clone()
	k, err := KindOf(s, name)
	if err != nil {
		return c, 1
	}
	p, err := c.Ensure(s, name)
	if err != nil {
		return c, 1
	}
	pushed := false
	now := c.Values(k, p)
	for _, id := range k.Lead {
		set := k.Setting(id)
		v := now.Number(id)
		to := set.Max
		if set.Min < 0 && set.Max > 0 {
			to = min(max(v*Far, set.Min), set.Max)
		}
		if to != v {
			p.Settings[id], pushed = to, true
		}
	}
	if pushed && k.HasStrength {
		p.Strength = 1
	}
	if pushed {
		return c, 1
	}
	return c, Far
}

// NoEffect tells why a step changes nothing whatever the frame, by its settings alone; empty if it may.
func (l *Look) NoEffect(k *Kind, p *Step) string {
	if st := l.Stations[k.Station]; k.NoEffect == nil || !k.Fixed && (!p.On || st != nil && !st.On) {
		return ""
	}
	if g := l.Stations[k.Station].GroupOf(p); g != nil && !g.On {
		return ""
	}
	if k.HasStrength && l.Strength(k, p) == 0 {
		return "At strength 0 nothing is mixed in."
	}
	return k.NoEffect(l.Values(k, p))
}

// Acts tells whether a step is on with some strength.
func (l *Look) Acts(k *Kind, p *Step) bool { return l.Strength(k, p) > 0 }
