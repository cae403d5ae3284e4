package look

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Told is what a look does, for a person to read: its stations in the order of light, each with the steps that are in it.
type Told struct {
	Name string `json:"name"`
	// Treatment is what holds of lens, negative, print and finish together, empty where they are on and whole.
	Treatment string        `json:"treatment,omitempty"`
	Stations  []ToldStation `json:"stations"`
	// Mattes are those that steps act in.
	Mattes []ToldMatte `json:"mattes"`
}

// ToldStation is a station of it. Strength is in per cent.
type ToldStation struct {
	Station  Station `json:"station"`
	Label    string  `json:"label"`
	Off      bool    `json:"off,omitempty"`
	Strength float64 `json:"strength"`
	// Groups are its groups in words, in the order of their steps.
	Groups []string   `json:"groups,omitempty"`
	Steps  []ToldStep `json:"steps"`
}

// ToldStep is a step: what it is called, whose it is if it came from above, and all of its values that are not at rest.
type ToldStep struct {
	Kind   string `json:"kind"` // station.kind
	Called string `json:"called"`
	Level  Level  `json:"level,omitempty"`
	// Group is that of the station's groups which it is in.
	Group    string      `json:"group,omitempty"`
	Off      bool        `json:"off,omitempty"`
	Strength float64     `json:"strength"`
	Matte    string      `json:"matte,omitempty"`
	Outside  bool        `json:"outside,omitempty"`
	Source   bool        `json:"source,omitempty"`
	Values   []ToldValue `json:"values"`
}

// ToldValue is a setting in words. Frame is that of a key, −1 for none.
type ToldValue struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Says  string `json:"says"`
	Frame int    `json:"frame"`
}

// ToldMatte is a matte with its parts in words.
type ToldMatte struct {
	Name  string   `json:"name"`
	Parts []string `json:"parts"`
}

// Tell puts a look into words: every value that is not at its default, and steps that are in it though all of theirs are.
func (l *Look) Tell() *Told {
	t := &Told{Name: l.Name, Stations: []ToldStation{}, Mattes: []ToldMatte{}}
	if x := l.Treatment; x != nil {
		t.Treatment = "Lens, negative, print and finish together" + noted(!x.On, 100*x.Strength)
	}
	used := map[string]bool{}
	for _, s := range Stations {
		st := l.Stations[s]
		if st == nil || len(st.Steps) == 0 && st.On && st.Strength == 1 {
			continue
		}
		out := ToldStation{Station: s, Label: s.Label(), Off: !st.On, Strength: 100 * st.Strength, Steps: []ToldStep{}}
		for _, item := range st.Items() {
			if item.Group != nil {
				out.Groups = append(out.Groups, item.Group.tell(used))
			}
		}
		for _, p := range st.Steps {
			k, err := FindKind(s, p.Kind)
			if err != nil {
				continue
			}
			step := ToldStep{Kind: k.Path(), Called: k.Called(p), Level: p.Level, Off: !p.On, Strength: 100 * p.Strength, Outside: p.Outside, Source: p.Source, Values: []ToldValue{}}
			if g := st.GroupOf(p); g != nil {
				step.Group = g.Title
			}
			if p.Matte != nil {
				step.Matte = nearName(*p.Matte)
				used[*p.Matte] = true
			}
			v := l.Values(k, p)
			for i := range k.Settings {
				set := &k.Settings[i]
				if v[set.ID] != set.Initial() || set.List() != nil && p.Settings[set.ID] != nil {
					step.Values = append(step.Values, ToldValue{set.ID, set.Label, set.Say(v[set.ID]), -1})
				}
			}
			for _, key := range p.Keys {
				for i := range k.Settings {
					set := &k.Settings[i]
					if x, ok := key.Settings[set.ID]; ok {
						step.Values = append(step.Values, ToldValue{set.ID, set.Label, set.Say(x), key.Frame})
					}
				}
			}
			out.Steps = append(out.Steps, step)
		}
		t.Stations = append(t.Stations, out)
	}
	for _, name := range slices.Sorted(keysOf(l.Mattes)) {
		if used[name] {
			t.Mattes = append(t.Mattes, ToldMatte{nearName(name), l.Mattes[name].tell()})
		}
	}
	return t
}

// tell puts a group into words, and notes its matte.
func (g *Group) tell(used map[string]bool) string {
	text := g.Title + noted(!g.On, 100*g.Strength)
	if g.Matte != nil {
		used[*g.Matte] = true
		text += (&ToldStep{Matte: nearName(*g.Matte), Outside: g.Outside}).where()
	}
	for _, y := range Lays {
		if y.ID == g.Lay && g.Lay != InTurn {
			text += ", laid over the one above: " + strings.ToLower(y.Label)
		}
	}
	return text
}

func keysOf[V any](m map[string]V) func(yield func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

// tell puts the parts of a matte into words.
func (m *Matte) tell() []string {
	var out []string
	for i, p := range m.Parts {
		k, err := findMatteKind(p.Kind)
		if err != nil {
			continue
		}
		words := []string{strings.ToLower(k.Label)}
		if i > 0 && p.Join != "" && p.Join != "add" {
			words[0] = p.Join + " " + words[0]
		}
		if p.Invert {
			words[0] += ", turned round"
		}
		for j := range k.Settings {
			set := &k.Settings[j]
			if x, ok := p.Settings[set.ID]; ok && x != set.Initial() {
				words = append(words, strings.ToLower(set.Label)+" "+set.Say(x))
			}
		}
		if len(p.Keys) > 0 {
			words = append(words, fmt.Sprintf("%d keys", len(p.Keys)))
		}
		out = append(out, strings.Join(words, ", "))
	}
	for _, s := range matteSettings {
		if v := map[string]float64{"grow": m.Grow, "blur": m.Blur, "refine": m.Refine}[s.ID]; v != 0 {
			out = append(out, strings.ToLower(s.Label)+" "+s.Say(v))
		}
	}
	if m.Invert {
		out = append(out, "turned round as a whole")
	}
	return out
}

// Say puts a value of the setting into words, with its unit.
func (s *Setting) Say(v any) string {
	if list := s.List(); len(list) > 0 {
		for _, c := range list {
			if c.ID == v {
				return c.Label
			}
		}
		return fmt.Sprint(v)
	}
	if s.Points != "" {
		text, _ := v.(string)
		if text == "" {
			return "none"
		}
		return fmt.Sprintf("through %d points: %s", len(strings.Fields(text)), text)
	}
	x, ok := v.(float64)
	if !ok {
		return fmt.Sprint(v)
	}
	for word, n := range s.Names {
		if n == x {
			return word
		}
	}
	text := strconv.FormatFloat(x, 'f', -1, 64)
	if s.Min < 0 && x > 0 {
		text = "+" + text
	}
	return strings.TrimSpace(text + " " + s.Unit)
}

// String is what is told as plain text.
func (t *Told) String() string {
	var b strings.Builder
	if t.Name != "" {
		fmt.Fprintf(&b, "%s\n%s\n", t.Name, strings.Repeat("=", len([]rune(t.Name))))
	}
	if t.Treatment != "" {
		fmt.Fprintf(&b, "%s\n", t.Treatment)
	}
	for _, st := range t.Stations {
		fmt.Fprintf(&b, "\n%s%s\n", st.Label, noted(st.Off, st.Strength))
		for _, g := range st.Groups {
			fmt.Fprintf(&b, "  group %s\n", g)
		}
		for _, p := range st.Steps {
			of := ""
			if p.Group != "" {
				of = fmt.Sprintf(" (in %s)", p.Group)
			}
			if p.Level != "" {
				of += fmt.Sprintf(" (of the %s)", p.Level)
			}
			fmt.Fprintf(&b, "  %s%s%s%s\n", p.Called, of, noted(p.Off, p.Strength), p.where())
			for _, v := range p.Values {
				at := ""
				if v.Frame >= 0 {
					at = fmt.Sprintf(" at frame %d", v.Frame)
				}
				fmt.Fprintf(&b, "    %s%s: %s\n", v.Label, at, v.Says)
			}
		}
	}
	for i, m := range t.Mattes {
		if i == 0 {
			b.WriteString("\nMattes\n")
		}
		fmt.Fprintf(&b, "  %s: %s\n", m.Name, strings.Join(m.Parts, "; "))
	}
	return b.String()
}

// where is in which matte a step acts, in words.
func (p *ToldStep) where() string {
	switch {
	case p.Matte == "":
		return ""
	case p.Outside:
		return fmt.Sprintf(", outside the matte %s", p.Matte)
	case p.Source:
		return fmt.Sprintf(", of the light inside the matte %s", p.Matte)
	}
	return fmt.Sprintf(", inside the matte %s", p.Matte)
}

func noted(off bool, strength float64) string {
	text := ""
	if off {
		text = ", off"
	}
	if strength != 100 {
		text += ", at " + strconv.FormatFloat(strength, 'f', -1, 64) + " %"
	}
	return text
}
