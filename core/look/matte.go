package look

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"velours/core/matte"
)

// Matte says where steps act: parts that join in turn. Grow, Blur and Refine are in per cent of the picture's
// width.
type Matte struct {
	Parts  []*MattePart `json:"parts"`
	Grow   float64      `json:"grow,omitempty"`
	Blur   float64      `json:"blur,omitempty"`
	Refine float64      `json:"refine,omitempty"`
	Invert bool         `json:"invert,omitempty"`
}

// MattePart is one part of a matte.
type MattePart struct {
	Kind string `json:"kind"`
	// Join is how it comes to those before it: add (the usual), within or without.
	Join   string `json:"join,omitempty"`
	Invert bool   `json:"invert,omitempty"`
	// Settings left out are at their defaults.
	Settings map[string]any `json:"settings"`
	// Keys are the settings of a shape at frames of the shot, rising; between them it moves smoothly.
	Keys []*Key `json:"keys,omitempty"`
}

// mostParts bounds a matte.
const mostParts = 32

// MatteKind declares one kind of part.
type MatteKind struct {
	ID       string    `json:"id"`
	Label    string    `json:"label"`
	Purpose  string    `json:"purpose"`
	Settings []Setting `json:"settings"`
	// Shape kinds lie somewhere in the picture; they have handles there, and can be keyed over frames.
	Shape bool `json:"shape,omitempty"`
	// Picks tells that a pixel of the picture can be picked for it.
	Picks bool `json:"picks,omitempty"`

	// Placed kinds go by where a pixel lies, not by its colour alone.
	Placed bool `json:"-"`
	// Place is where it stands in lists.
	Place int `json:"-"`
	// Part makes the part of a matte under settings.
	Part func(v Values) matte.Part `json:"-"`
}

var matteKinds []*MatteKind

// DeclareMatte adds a kind of part.
func DeclareMatte(k *MatteKind) {
	k.Placed = k.Placed || k.Shape
	matteKinds = append(matteKinds, k)
	slices.SortStableFunc(matteKinds, func(a, b *MatteKind) int { return cmp.Compare(a.Place, b.Place) })
}

// MatteKinds lists every kind of part.
func MatteKinds() []*MatteKind { return matteKinds }

func findMatteKind(id string) (*MatteKind, error) {
	var ids []string
	for _, k := range matteKinds {
		if k.ID == id {
			return k, nil
		}
		ids = append(ids, k.ID)
	}
	return nil, fmt.Errorf("there is no matte of kind %q; there are %s", id, strings.Join(ids, ", "))
}

// Clone copies the matte.
func (m *Matte) Clone() *Matte {
	c := *m
	c.Parts = make([]*MattePart, len(m.Parts))
	for i, p := range m.Parts {
		if p == nil { // refused by Check
			continue
		}
		q := *p
		q.Settings = maps.Clone(p.Settings)
		q.Keys = cloneKeys(p.Keys)
		c.Parts[i] = &q
	}
	return &c
}

// SetMatte puts a matte under a name, in place of one of that name.
func (l *Look) SetMatte(name string, m *Matte) {
	if l.Mattes == nil {
		l.Mattes = map[string]*Matte{}
	}
	l.Mattes[name] = m
}

func (l *Look) checkMattes() error {
	if n := len(l.Mattes); n > mostMattes {
		return fmt.Errorf("%d mattes are more than %d", n, mostMattes)
	}
	for _, name := range slices.Sorted(maps.Keys(l.Mattes)) {
		if name == "" || utf8.RuneCountInString(name) > mostLetters {
			return fmt.Errorf("%q is no name for a matte: it takes 1 to %d letters", name, mostLetters)
		}
		if l.Mattes[name] == nil {
			return fmt.Errorf("matte %q is empty", name)
		}
		if err := l.Mattes[name].Check(); err != nil {
			return fmt.Errorf("matte %q: %w", name, err)
		}
	}
	return nil
}

// Check validates every part and brings settings to their own form.
func (m *Matte) Check() error {
	if len(m.Parts) > mostParts {
		return fmt.Errorf("%d parts are more than %d", len(m.Parts), mostParts)
	}
	for _, s := range matteSettings {
		if _, err := s.Check(map[string]float64{"grow": m.Grow, "blur": m.Blur, "refine": m.Refine}[s.ID]); err != nil {
			return err
		}
	}
	for _, p := range m.Parts {
		if p == nil {
			return fmt.Errorf("an empty part")
		}
		k, err := findMatteKind(p.Kind)
		if err != nil {
			return err
		}
		if p.Settings == nil {
			p.Settings = map[string]any{}
		}
		if err := CheckSettings(k.ID, k.Settings, p.Settings); err != nil {
			return err
		}
		if _, ok := joins[p.Join]; !ok {
			return fmt.Errorf("%s: it joins by add, within or without, not %q", k.ID, p.Join)
		}
		if len(p.Keys) > 0 && !k.Shape {
			return fmt.Errorf("%s: only shapes move over frames", k.ID)
		}
		if err := checkKeys(k.ID, k.Settings, p.Keys); err != nil {
			return err
		}
	}
	return nil
}

var joins = map[string]matte.Join{"": matte.Union, "add": matte.Union, "within": matte.Intersection, "without": matte.Subtraction}

// ByColourAlone tells whether the matte goes by the colours of single pixels alone.
func (m *Matte) ByColourAlone() bool {
	for _, p := range m.Parts {
		if k, err := findMatteKind(p.Kind); err != nil || k.Placed {
			return false
		}
	}
	return m.Grow == 0 && m.Blur == 0 && m.Refine == 0
}

// Moves tells whether the matte changes from frame to frame by itself.
func (m *Matte) Moves() bool {
	return slices.ContainsFunc(m.Parts, func(p *MattePart) bool { return len(p.Keys) > 1 })
}

// At is the part's settings at a frame of the shot.
func (p *MattePart) At(frame int) map[string]any {
	if len(p.Keys) == 0 {
		return p.Settings
	}
	k, err := findMatteKind(p.Kind)
	if err != nil {
		return p.Settings
	}
	return keyedAt(k.Settings, p.Settings, p.Keys, frame)
}

// Compile makes the matte for a frame of the shot.
func (m *Matte) Compile(frame int) *matte.Matte {
	out := &matte.Matte{Grow: m.Grow / 100, Blur: m.Blur / 100, Refine: m.Refine / 100, Invert: m.Invert}
	for _, p := range m.Parts {
		if k, err := findMatteKind(p.Kind); err == nil {
			out.Members = append(out.Members, matte.Member{Part: k.Part(Filled(k.Settings, p.At(frame))), Join: joins[p.Join], Invert: p.Invert})
		}
	}
	return out
}
