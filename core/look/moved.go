package look

import "fmt"

// Moved is what goes from one level to another: a step with its matte, or a whole station.
type Moved struct {
	Station Station
	// Called is what it is called on the screen.
	Called string
	// from is the look with nothing but what goes.
	from *Look
	// whole tells that it is the station.
	whole bool
}

// Take takes a step out of a look, or without a name what a station has of its own: one that can follow does so then.
func (l *Look) Take(s Station, name string) (*Look, Moved, error) {
	m := Moved{Station: s, Called: s.Label(), whole: name == ""}
	if m.whole {
		if !s.Follows() {
			return nil, m, fmt.Errorf("%s goes to another level step by step", s.Label())
		}
		if l.IsFollowing(s) {
			return nil, m, fmt.Errorf("%s follows the level above; there is nothing to move", s.Label())
		}
		m.from = l.only(s)
		m.from.Station(s)
		c, err := l.Follow(s)
		return c, m, err
	}
	if !s.Adds() {
		return nil, m, fmt.Errorf("%s goes to another level as a whole", s.Label())
	}
	p := l.Step(s, name)
	if p == nil {
		return nil, m, fmt.Errorf("station %s has no step %q", s, name)
	}
	m.Called = l.Called(s, p)
	m.from = l.only(s)
	st := m.from.Station(s)
	st.Steps = []*Step{m.from.Step(s, name)}
	st.Steps[0].Group, st.Groups = "", nil // it leaves its group
	c := l.Clone()
	edit := Edit{Op: OpRemove, Station: s, Kind: name, Names: []string{name}}
	if _, err := removeSteps(&edit, c); err != nil {
		return nil, m, err
	}
	return c, m, c.Check()
}

// Give brings what was taken at another level into the look: a step to the end of its station, a station in the place of the one that
// is there.
func (l *Look) Give(m Moved) (*Look, error) {
	c := l.Clone()
	if m.whole {
		delete(c.Stations, m.Station)
		c.take(m.Station, m.from, "")
		return c, c.Check()
	}
	k, err := FindKind(m.Station, m.from.Stations[m.Station].Steps[0].Kind)
	if err != nil {
		return nil, err
	}
	p := m.from.Stations[m.Station].Steps[0].Clone()
	if c.Step(m.Station, p.Kind) != nil && !k.Repeatable {
		return nil, fmt.Errorf("%s stands there already, and stands once in its station", k.Called(p))
	}
	c.bringMatte(p, m.from, "")
	c.settleAs(m.Station, p, m.from)
	n, err := c.Add(m.Station, p.Kind, -1)
	if err != nil {
		return nil, err
	}
	p.ID = n.ID
	if st := m.from.Stations[m.Station]; !st.On || st.Strength != 1 {
		p.On, p.Strength = p.On && st.On, p.Strength*st.Strength
	}
	*n = *p
	return c, c.Check()
}
