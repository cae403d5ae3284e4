package look

import (
	"fmt"
	"sort"
	"strings"
	"unicode/utf8"
)

// Check validates every part and brings settings to their own form.
func (l *Look) Check() error {
	if l.Made != nil {
		l.Made.check()
	}
	if err := l.Treatment.check(); err != nil {
		return err
	}
	if l.Stations == nil {
		l.Stations = map[Station]*StationInLook{}
	}
	if err := l.checkMattes(); err != nil {
		return err
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
		if !(st.Strength >= 0 && st.Strength <= 1) {
			return fmt.Errorf("station %s: strength is %g; it goes from 0 to 1", s, st.Strength)
		}
		if st.Follows && !s.Follows() {
			return fmt.Errorf("station %s follows nothing: its steps add up over the levels", s)
		}
		if st.Follows && len(st.Steps) > 0 {
			return fmt.Errorf("station %s follows the level above, so it has no steps of its own", s)
		}
		if len(st.Steps) > mostSteps {
			return fmt.Errorf("station %s: %d steps are more than %d", s, len(st.Steps), mostSteps)
		}
		seen := map[string]bool{}
		for _, step := range st.Steps {
			if step == nil {
				return fmt.Errorf("station %s: an empty step", s)
			}
			if err := l.checkStep(s, step); err != nil {
				return err
			}
			if seen[step.Name()] {
				return fmt.Errorf("station %s has two steps %q", s, step.Name())
			}
			seen[step.Name()] = true
		}
		if err := l.checkGroups(s, st); err != nil {
			return err
		}
	}
	return nil
}

func (l *Look) checkStep(s Station, p *Step) error {
	k, err := p.check(s)
	if err != nil {
		return err
	}
	if p.ID != "" {
		if of, err := KindOf(s, p.ID); err != nil || of != k || p.ID == k.ID {
			return fmt.Errorf("%s: a further step of this kind is called %s-2 or the like, not %q", k.Path(), k.ID, p.ID)
		}
		if !k.Repeatable {
			return fmt.Errorf("%s stands once in its station", k.Path())
		}
	}
	if utf8.RuneCountInString(p.Title) > mostLetters {
		return fmt.Errorf("%s: its title has more than %d letters", k.Path(), mostLetters)
	}
	if len(p.Keys) > 0 && len(k.Keyed) == 0 {
		return fmt.Errorf("%s has nothing that moves over frames", k.Path())
	}
	if err := checkKeys(k.Path(), k.keyed(), p.Keys); err != nil {
		return err
	}
	if p.Source && !k.Scatters {
		return fmt.Errorf("%s spreads no light: its matte has no source to act on", k.Path())
	}
	if p.Matte == nil {
		return nil
	}
	if !k.Masks {
		return fmt.Errorf("%s takes no matte", k.Path())
	}
	if l.Mattes[*p.Matte] == nil {
		return fmt.Errorf("%s: there is no matte %q", k.Path(), *p.Matte)
	}
	return nil
}

func (p *Step) check(s Station) (*Kind, error) {
	k, err := FindKind(s, p.Kind)
	if err != nil {
		return nil, err
	}
	if !(p.Strength >= 0 && p.Strength <= 1) {
		return nil, fmt.Errorf("%s: strength is %g; it goes from 0 to 1", k.Path(), p.Strength)
	}
	if p.Settings == nil {
		p.Settings = map[string]any{}
	}
	p.checkAgain(k)
	return k, CheckSettings(k.Path(), k.Settings, p.Settings)
}

// CheckSettings brings values to their own form; path names their owner.
func CheckSettings(path string, declared []Setting, values map[string]any) error {
	for id, v := range values {
		set := settingOf(declared, id)
		if set == nil {
			var ids []string
			for _, q := range declared {
				ids = append(ids, q.ID)
			}
			return fmt.Errorf("%s has no setting %q; it has %s", path, id, strings.Join(ids, ", "))
		}
		var err error
		if values[id], err = set.Check(v); err != nil {
			return fmt.Errorf("%s.%w", path, err)
		}
	}
	return nil
}
