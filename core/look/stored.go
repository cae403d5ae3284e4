package look

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"velours/core/strict"
)

// A look that is loaded is read strictly (ParseLook); one that was stored here is read tolerantly (ParseStored): what
// this program does not know, because a setting is gone or a newer program wrote it, is kept as it was, shown as such,
// and locks nothing.

// Unread is a part of a stored look that cannot be read here, kept as it was.
type Unread struct {
	// At is its place among the steps, where it is a step.
	At int `json:"at,omitempty"`
	// Why says what is wrong with it.
	Why string `json:"why"`
	// Part is the part itself.
	Part json.RawMessage `json:"part" ts:"unknown"`
}

// Stored writes a look for storage, signed.
func (l *Look) Stored() ([]byte, error) {
	c := l.Clone()
	c.Velours = Version
	c.Sign()
	return json.Marshal(c)
}

// ParseStored reads a look that was stored. It fails only for what is no JSON object at all.
func ParseStored(data []byte) (*Look, error) {
	var top map[string]json.RawMessage
	if err := json.Unmarshal(migrate(data), &top); err != nil || top == nil {
		return nil, fmt.Errorf("not a look: %v", err)
	}
	l := NewLook("")
	r := reading{l}
	take(top, "name", &l.Name)
	if !take(top, "trial", &l.Trial) || l.Trial < 0 {
		l.Trial = 0
	}
	if raw, ok := top["treatment"]; ok {
		t := &Treatment{}
		err := strict.JSON(raw, t)
		if err == nil {
			err = t.check()
		}
		if err != nil {
			r.keep("treatment", raw, strict.Plain(err).Error())
		} else {
			l.Treatment = t
		}
	}
	var version int
	take(top, "velours", &version)
	var made *Made
	take(top, "made", &made)
	// what could not be read before may be readable now
	var before map[string]*Unread
	take(top, "unread", &before)
	for name, u := range before {
		if u != nil && top[name] == nil {
			top[name] = u.Part
		} else if u != nil && name == "velours" { // it was written down again since, as far as it could be read
			r.keep(name, u.Part, u.Why)
		}
	}
	r.mattes(top)
	r.stations(top)
	for name, part := range top {
		switch name {
		case "name", "trial", "treatment", "velours", "made", "unread", "mattes", "stations":
		default:
			r.keep(name, part, "this program does not know it")
		}
	}
	if version < 1 || version > Version {
		r.keep("velours", top["velours"], fmt.Sprintf("a look of version %d; this program knows up to %d", version, Version))
	}
	if l.Made = made; l.Made == nil {
		l.Made = l.madeFirst()
	}
	if err := l.Check(); err != nil {
		return nil, fmt.Errorf("a stored look that was read does not hold: %w", err)
	}
	l.noteEarlier(made != nil)
	return l, nil
}

// has tells whether a look speaks of a kind, or cannot do without it.
func (l *Look) has(k *Kind) bool {
	if k.Fixed {
		return !l.IsFollowing(k.Station)
	}
	st := l.Stations[k.Station]
	return st != nil && slices.ContainsFunc(st.Steps, func(p *Step) bool { return p.Kind == k.ID })
}

// take reads a field into v, if it is there and fits.
func take(from map[string]json.RawMessage, name string, v any) bool {
	part, ok := from[name]
	return ok && json.Unmarshal(part, v) == nil
}

// reading is a stored look on its way in.
type reading struct{ l *Look }

// keep puts a part of the look aside.
func (r *reading) keep(name string, part json.RawMessage, why string) {
	if len(part) == 0 {
		return
	}
	if r.l.Unread == nil {
		r.l.Unread = map[string]*Unread{}
	}
	r.l.Unread[name] = &Unread{Why: why, Part: part}
}

// named takes the parts of a field by their names, with those that were put aside under their name after a prefix.
func named(top map[string]json.RawMessage, field, prefix string) map[string]json.RawMessage {
	var list map[string]json.RawMessage
	if !take(top, field, &list) || list == nil {
		list = map[string]json.RawMessage{}
	}
	for name, part := range top {
		if rest, ok := strings.CutPrefix(name, prefix); ok {
			if list[rest] == nil {
				list[rest] = part
			}
			delete(top, name)
		}
	}
	return list
}

func (r *reading) mattes(top map[string]json.RawMessage) {
	list := named(top, "mattes", "matte ")
	for _, name := range slices.Sorted(maps.Keys(list)) {
		m := &Matte{}
		err := strict.JSON(list[name], m)
		if err == nil {
			one := NewLook("")
			one.SetMatte(name, m)
			err = one.checkMattes()
		}
		if err == nil && len(r.l.Mattes) >= mostMattes {
			err = fmt.Errorf("there are more than %d", mostMattes)
		}
		if err != nil {
			r.keep("matte "+name, list[name], strict.Plain(err).Error())
			continue
		}
		r.l.SetMatte(name, m)
	}
}

func (r *reading) stations(top map[string]json.RawMessage) {
	list := named(top, "stations", "station ")
	for _, name := range slices.Sorted(maps.Keys(list)) {
		s, err := ParseStation(name)
		if err != nil {
			r.keep("station "+name, list[name], "this program has no such station")
			continue
		}
		var in struct {
			On       *bool
			Strength *float64
			Follows  bool
			Groups   map[string]json.RawMessage
			Steps    []json.RawMessage
			Unread   []*Unread
		}
		if err := json.Unmarshal(list[name], &in); err != nil {
			r.keep("station "+name, list[name], strict.Plain(err).Error())
			continue
		}
		st := &StationInLook{On: in.On == nil || *in.On, Strength: 1}
		if in.Strength != nil {
			st.Strength = min(max(*in.Strength, 0), 1)
		}
		r.l.Stations[s] = st
		if in.Follows && s.Follows() && len(in.Steps)+len(in.Unread) == 0 {
			r.l.Stations[s] = following()
			continue
		}
		r.groups(s, st, top, in.Groups)
		steps := in.Steps
		for _, u := range in.Unread {
			if u != nil {
				steps = slices.Insert(steps, min(max(u.At, 0), len(steps)), u.Part)
			}
		}
		for _, part := range steps {
			if len(part) == 0 || string(part) == "null" {
				continue // nothing is lost
			}
			p, err := r.step(s, part)
			if err == nil && len(st.Steps) >= mostSteps {
				err = fmt.Errorf("the station has more than %d steps", mostSteps)
			}
			if err == nil {
				err = r.l.checkStep(s, p)
			}
			if err == nil && slices.ContainsFunc(st.Steps, func(q *Step) bool { return q.Name() == p.Name() }) {
				err = fmt.Errorf("there are two steps %q", p.Name())
			}
			if err != nil {
				st.Unread = append(st.Unread, &Unread{At: len(st.Steps) + len(st.Unread), Why: strict.Plain(err).Error(), Part: part})
				continue
			}
			st.Steps = append(st.Steps, p)
		}
	}
}

// groups reads the groups of a station, those that were put aside among them.
func (r *reading) groups(s Station, st *StationInLook, top, list map[string]json.RawMessage) {
	prefix := "group " + string(s) + " "
	all := map[string]json.RawMessage{}
	for name, part := range top {
		if rest, ok := strings.CutPrefix(name, prefix); ok {
			all[rest] = part
			delete(top, name)
		}
	}
	maps.Copy(all, list)
	for _, name := range slices.Sorted(maps.Keys(all)) {
		g := &Group{}
		err := strict.JSON(all[name], g)
		if err == nil && !groupName.MatchString(name) {
			err = fmt.Errorf("a group has no such name")
		}
		if err == nil {
			err = r.l.checkGroup(s, g)
		}
		if err != nil {
			r.keep(prefix+name, all[name], strict.Plain(err).Error())
			continue
		}
		st.setGroup(name, g)
	}
}

// step reads one step. Settings that the kind does not have are put aside and the step acts without them; a step whose
// kind, matte or value cannot be read would act otherwise than it did, so it is an error and put aside whole.
func (r *reading) step(s Station, part json.RawMessage) (*Step, error) {
	var top map[string]json.RawMessage
	if err := json.Unmarshal(part, &top); err != nil {
		return nil, err
	}
	p := &Step{Settings: map[string]any{}}
	var before map[string]json.RawMessage
	take(top, "unread", &before)
	delete(top, "unread")
	var settings map[string]json.RawMessage
	if raw, ok := top["settings"]; ok {
		if err := json.Unmarshal(raw, &settings); err != nil {
			return nil, err
		}
		delete(top, "settings")
	}
	if settings == nil {
		settings = map[string]json.RawMessage{}
	}
	for name, raw := range before {
		if rest, ok := strings.CutPrefix(name, "/"); ok { // a field of the step, not a setting
			if top[rest] == nil {
				top[rest] = raw
			}
		} else if settings[name] == nil {
			settings[name] = raw
		}
	}
	for name, raw := range top {
		var to any
		switch name {
		case "kind":
			to = &p.Kind
		case "id":
			to = &p.ID
		case "title":
			to = &p.Title
		case "on":
			to = &p.On
		case "strength":
			to = &p.Strength
		case "matte":
			to = &p.Matte
		case "outside":
			to = &p.Outside
		case "source":
			to = &p.Source
		case "keys":
			to = &p.Keys
		case "again":
			to = &p.Again
		case "group":
			var name string
			if json.Unmarshal(raw, &name) != nil || r.l.Stations[s].Groups[name] == nil {
				p.aside("/group", raw)
				continue
			}
			to = &p.Group
		default:
			p.aside("/"+name, raw)
			continue
		}
		if err := json.Unmarshal(raw, to); err != nil {
			return nil, err
		}
	}
	k, err := FindKind(s, p.Kind)
	if err != nil {
		return nil, fmt.Errorf("this program has no step %s.%s", s, p.Kind)
	}
	for id, raw := range settings {
		set := k.Setting(id)
		if set == nil {
			p.aside(id, raw)
			continue
		}
		var v any
		if err := json.Unmarshal(raw, &v); err != nil {
			return nil, err
		}
		if p.Settings[id], err = set.Check(v); err != nil {
			return nil, fmt.Errorf("%s.%w", k.Path(), err)
		}
	}
	return p, nil
}

// aside keeps a setting, or after a slash a field, that cannot be read here.
func (p *Step) aside(name string, raw json.RawMessage) {
	if p.Unread == nil {
		p.Unread = map[string]json.RawMessage{}
	}
	p.Unread[name] = raw
}

// unreadPart names a part that was put aside, if there is one: a look that is loaded has none.
func (l *Look) unreadPart() string {
	for name := range l.Unread {
		return name
	}
	for s, st := range l.Stations {
		for _, u := range st.Unread {
			if u != nil {
				return fmt.Sprintf("a step of %s", s)
			}
		}
		for _, p := range st.Steps {
			for name := range p.Unread {
				return fmt.Sprintf("%s.%s.%s", s, p.Name(), strings.TrimPrefix(name, "/"))
			}
		}
	}
	return ""
}

// ParseLookOver is ParseLook of a look that takes the place of another: what that one keeps unread may be among it.
func ParseLookOver(data []byte, have *Look) (*Look, error) {
	l := &Look{}
	if err := strict.JSON(migrate(data), l); err != nil {
		return nil, fmt.Errorf("not a look: %w", err)
	}
	kept, err := json.Marshal(have)
	if err != nil {
		return nil, err
	}
	known := func(part any) bool {
		text, err := json.Marshal(part)
		return err == nil && strings.Contains(string(kept), string(text))
	}
	same := true
	for _, u := range l.Unread {
		same = same && u != nil && known(u.Part)
	}
	for _, st := range l.Stations {
		if st == nil {
			continue
		}
		for _, u := range st.Unread {
			same = same && u != nil && known(u.Part)
		}
		for _, p := range st.Steps {
			if p != nil {
				for _, part := range p.Unread {
					same = same && known(part)
				}
			}
		}
	}
	if !same {
		return ParseLook(data)
	}
	if l.Velours < 1 || l.Velours > Version {
		return nil, versionError(l.Velours)
	}
	if err := l.Check(); err != nil {
		return nil, err
	}
	noted := l.Made != nil
	if !noted {
		l.Made = l.madeFirst()
	}
	l.noteEarlier(noted)
	return l, nil
}
