package studio

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"velours/core/look"
)

// arrange makes the edits that move, name, copy and mask steps.
func (e *Edit) arrange(l *look.Look) (label string, err error) {
	switch e.Op {
	case "cover", "uncover", "rename":
		return e.mask(l)
	case "remove":
		return e.together(l)
	case "paste":
		return e.paste(l)
	case "add":
		p, err := l.Add(e.Station, e.Kind, e.index())
		if err != nil {
			return "", err
		}
		l.Station(e.Station).On = true
		return "Add " + called(l, e.Station, p), nil
	}
	p := l.Step(e.Station, e.Kind)
	if p == nil {
		// a card that stands on the desk without being in the look
		if p, err = l.Ensure(e.Station, e.Kind); err != nil {
			return "", err
		}
	}
	was := called(l, e.Station, p)
	switch e.Op {
	case "title":
		p.Title = strings.TrimSpace(e.Name)
		return "Name " + was, l.Check()
	case "matte":
		p.Matte = nil
		if e.Name != "" {
			name := e.Name
			p.Matte = &name
		}
		return "Matte of " + was, l.Check()
	case "outside":
		p.Outside, _ = e.Value.(bool)
		return "Matte of " + was, nil
	}
	// move
	k, err := look.KindOf(e.Station, e.Kind)
	if err != nil {
		return "", err
	}
	st := l.Station(e.Station)
	from, to := slices.Index(st.Steps, p), e.index()
	if !k.Many {
		return "", fmt.Errorf("%s keeps its place", was)
	}
	if to < 0 || to >= len(st.Steps) {
		return "", fmt.Errorf("a step moves to a place from 0 to %d", len(st.Steps)-1)
	}
	st.Steps = slices.Insert(slices.Delete(st.Steps, from, from+1), to, p)
	return "Move " + was, nil
}

// index is Value as a place; -1 for none.
func (e *Edit) index() int {
	if v, ok := e.Value.(float64); ok {
		return int(v)
	}
	return -1
}

func called(l *look.Look, s look.Station, p *look.Step) string {
	k, err := look.KindOf(s, p.Name())
	if err != nil {
		return p.Name()
	}
	return k.Called(p)
}

// together switches or removes several steps as one change.
func (e *Edit) together(l *look.Look) (string, error) {
	if len(e.Names) == 0 {
		e.Names = []string{e.Kind}
	}
	st := l.Station(e.Station)
	label := ""
	for _, name := range e.Names {
		p := l.Step(e.Station, name)
		if p == nil {
			return "", fmt.Errorf("station %s has no step %q", e.Station, name)
		}
		label = called(l, e.Station, p)
		switch e.Op {
		case "on":
			p.On, st.On = true, true
		case "off":
			p.On = false
		case "remove":
			st.Steps = slices.DeleteFunc(st.Steps, func(q *look.Step) bool { return q == p })
		default:
			return "", fmt.Errorf("there is no edit %q of several steps", e.Op)
		}
	}
	if len(e.Names) > 1 {
		label = fmt.Sprintf("%d steps", len(e.Names))
	}
	if e.Op == "remove" {
		return "Remove " + label, nil
	}
	return label + " " + e.Op, nil
}

// paste adds copies of steps, each under a name of its own, with the mattes they name: a matte of the same name
// that is another is given a new name.
func (e *Edit) paste(l *look.Look) (string, error) {
	if len(e.Steps) == 0 {
		return "", errors.New("there is nothing to paste")
	}
	renamed := map[string]string{}
	for _, p := range e.Steps {
		if p == nil {
			return "", errors.New("an empty step")
		}
		k, err := look.FindKind(e.Station, p.Kind)
		if err != nil {
			return "", fmt.Errorf("%s has no step %q, so it cannot be pasted there", e.Station.Label(), p.Kind)
		}
		n := l.Step(e.Station, p.Kind)
		if n == nil || k.Many {
			if n, err = l.Add(e.Station, p.Kind, -1); err != nil {
				return "", err
			}
		}
		c := p.Clone()
		c.ID = n.ID
		if c.Matte != nil {
			name := e.pasteMatte(l, *c.Matte, renamed)
			if c.Matte = &name; name == "" {
				c.Matte = nil
			}
		}
		*n = *c
	}
	what := fmt.Sprintf("%d steps", len(e.Steps))
	if len(e.Steps) == 1 {
		what = called(l, e.Station, e.Steps[0])
	}
	return "Paste " + what, l.Check()
}

// pasteMatte brings a pasted matte into the look, and returns its name there.
func (e *Edit) pasteMatte(l *look.Look, name string, renamed map[string]string) string {
	m := e.Mattes[name]
	if m == nil {
		if l.Mattes[name] == nil {
			return ""
		}
		return name
	}
	if to := renamed[name]; to != "" {
		return to
	}
	to := name
	for n := 2; l.Mattes[to] != nil; n++ {
		if same, err := sameMatte(l.Mattes[to], m); err == nil && same {
			break
		}
		to = fmt.Sprintf("%s %d", name, n)
	}
	l.SetMatte(to, m.Clone())
	renamed[name] = to
	return to
}

func sameMatte(a, b *look.Matte) (bool, error) {
	x, err := marshalAny(a)
	if err != nil {
		return false, err
	}
	y, err := marshalAny(b)
	return x == y, err
}

// mask changes the look's mattes.
func (e *Edit) mask(l *look.Look) (string, error) {
	switch e.Op {
	case "cover":
		if e.Matte == nil {
			return "", errors.New("a matte without its parts")
		}
		l.SetMatte(e.Name, e.Matte)
		return "Matte " + e.Name, l.Check()
	case "uncover":
		delete(l.Mattes, e.Name)
		use(l, e.Name, nil)
		return "Remove matte " + e.Name, nil
	}
	to, _ := e.Value.(string)
	to = strings.TrimSpace(to)
	m := l.Mattes[e.Name]
	switch {
	case m == nil:
		return "", fmt.Errorf("there is no matte %q", e.Name)
	case to == e.Name:
		return "", nil
	case l.Mattes[to] != nil:
		return "", fmt.Errorf("there is a matte %q already", to)
	}
	delete(l.Mattes, e.Name)
	l.SetMatte(to, m)
	use(l, e.Name, &to)
	return "Name matte " + to, l.Check()
}

// use gives all steps with one matte another.
func use(l *look.Look, from string, to *string) {
	for _, st := range l.Stations {
		for _, p := range st.Steps {
			if p.Matte != nil && *p.Matte == from {
				p.Matte = to
			}
		}
	}
}
