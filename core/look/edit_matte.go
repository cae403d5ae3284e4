package look

import (
	"encoding/json"
	"errors"
	"fmt"
	"strings"
)

func cover(e *Edit, l *Look) (string, error) {
	if e.Matte == nil {
		return "", errors.New("a matte without its parts")
	}
	l.SetMatte(e.Name, e.Matte)
	return "Matte " + e.Name, nil
}

func uncover(e *Edit, l *Look) (string, error) {
	delete(l.Mattes, e.Name)
	l.useMatte(e.Name, nil)
	return "Remove matte " + e.Name, nil
}

func rename(e *Edit, l *Look) (string, error) {
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
	l.useMatte(e.Name, &to)
	return "Name matte " + to, nil
}

// useMatte gives all steps with one matte another.
func (l *Look) useMatte(from string, to *string) {
	for _, st := range l.Stations {
		for _, p := range st.Steps {
			if p.Matte != nil && *p.Matte == from {
				p.Matte = to
			}
		}
		for _, g := range st.Groups {
			if g.Matte != nil && *g.Matte == from {
				g.Matte = to
			}
		}
	}
}

// pasteMatte brings a pasted matte into the look, and returns its name there.
func (e *Edit) pasteMatte(l *Look, name string, renamed map[string]string) string {
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
	for n := 2; l.Mattes[to] != nil && !sameMatte(l.Mattes[to], m); n++ {
		to = fmt.Sprintf("%s %d", name, n)
	}
	l.SetMatte(to, m.Clone())
	renamed[name] = to
	return to
}

func sameMatte(a, b *Matte) bool {
	x, err := json.Marshal(a)
	y, err2 := json.Marshal(b)
	return err == nil && err2 == nil && string(x) == string(y)
}
