package look

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
)

// Group is a run of steps of a station with one switch, strength and matte, under a title.
//
// In stations of light (Station.Lays) its picture is mixed in as one, by strength and matte; in those of the film, where light, layers
// and densities are apart, the strength is each step's, and the matte that of the steps which have none.
type Group struct {
	Title string `json:"title"`
	On    bool   `json:"on"`
	// Strength goes from 0, as if it were off, to 1.
	Strength float64 `json:"strength"`
	// Matte names the look's matte inside which (or Outside which) it acts; none for everywhere.
	Matte   *string `json:"matte"`
	Outside bool    `json:"outside,omitempty"`
	// Lay, if set, has the group take the picture from before the step or group above it, and be laid over that one's.
	Lay Lay `json:"lay,omitempty"`
}

// Lay is how a group's picture is laid over that of the one above, channel by channel in linear light, where 1 is the light of a
// perfect white.
type Lay string

// The ways to lay, for light a with b over it.
const (
	InTurn      Lay = ""         // after the one above
	LayMix      Lay = "mix"      // b
	LayLighten  Lay = "lighten"  // the greater of a and b
	LayDarken   Lay = "darken"   // the lesser
	LayScreen   Lay = "screen"   // a + b less what both have of white: a + b − ab up to 1, and light that adds beyond
	LayMultiply Lay = "multiply" // ab, with b held to 0…1: as a filter, it takes light away and adds none
)

// LayInfo names a way to lay, for the screen.
type LayInfo struct {
	ID    Lay    `json:"id"`
	Label string `json:"label"`
	Note  string `json:"note"`
}

// Lays lists the ways to lay.
var Lays = []LayInfo{
	{InTurn, "In turn", "after the one above"},
	{LayMix, "Mix", "beside the one above, mixed over it"},
	{LayLighten, "Lighten", "beside the one above; the lighter of both"},
	{LayDarken, "Darken", "beside the one above; the darker of both"},
	{LayScreen, "Screen", "beside the one above; as two lights on one wall"},
	{LayMultiply, "Multiply", "beside the one above, as a filter before it: it takes light away"},
}

// UnmarshalText reads a way to lay.
func (y *Lay) UnmarshalText(text []byte) error {
	*y = Lay(text)
	var ids []string
	for _, x := range Lays {
		if x.ID == *y {
			return nil
		}
		ids = append(ids, string(x.ID))
	}
	return fmt.Errorf("a group is not laid by %q; there are%s", text, strings.Join(ids, ", "))
}

// Lays tells whether groups of the station are mixed in as one, and can be laid over the one above.
func (s Station) Lays() bool { return s == Balance || s == Lens || s == Finish }

// Groups tells whether steps of the station can be grouped.
func (s Station) Groups() bool { return s.Lays() || s == Negative || s == Print }

// Clone copies the group.
func (g *Group) Clone() *Group {
	c := *g
	return &c
}

func cloneGroups(groups map[string]*Group) map[string]*Group {
	if groups == nil {
		return nil
	}
	c := map[string]*Group{}
	for name, g := range groups {
		c[name] = g.Clone()
	}
	return c
}

// Plain tells that the group is as its steps would be without it.
func (g *Group) Plain() bool { return g.On && g.Strength == 1 && g.Matte == nil && g.Lay == InTurn }

// GroupOf is the group that a step of the station is in, nil for none.
func (st *StationInLook) GroupOf(p *Step) *Group {
	if st == nil || p.Group == "" {
		return nil
	}
	return st.Groups[p.Group]
}

// Item is a step that is in no group, or a group: its steps from one index up to but not including another.
type Item struct {
	From, To int
	Name     string // of its group, empty for none
	Group    *Group
}

// Items are the station's steps as they are laid.
func (st *StationInLook) Items() []Item {
	var out []Item
	for i, p := range st.Steps {
		g := st.GroupOf(p)
		if n := len(out); g != nil && n > 0 && out[n-1].Name == p.Group {
			out[n-1].To = i + 1
			continue
		}
		item := Item{From: i, To: i + 1, Group: g}
		if g != nil {
			item.Name = p.Group
		}
		out = append(out, item)
	}
	return out
}

// settleGroups has groups hold together: a step that stands among those of one joins it, one that stands apart leaves it, and a
// group without steps goes.
func (st *StationInLook) settleGroups() {
	if len(st.Groups) == 0 {
		return
	}
	for i, p := range st.Steps {
		if i > 0 && i < len(st.Steps)-1 && p.Group != st.Steps[i-1].Group && st.Steps[i-1].Group != "" && st.Steps[i-1].Group == st.Steps[i+1].Group {
			p.Group = st.Steps[i-1].Group
		}
	}
	seen := map[string]bool{}
	for i, p := range st.Steps {
		if p.Group == "" {
			continue
		}
		if seen[p.Group] && st.Steps[i-1].Group != p.Group {
			p.Group = ""
			continue
		}
		seen[p.Group] = true
	}
	for name := range st.Groups {
		if !seen[name] {
			delete(st.Groups, name)
		}
	}
	if len(st.Groups) == 0 {
		st.Groups = nil
	}
}

// groupName is what groups are named by: levels put theirs before it (Levels.Whole), with a colon.
var groupName = regexp.MustCompile(`^group(-[1-9][0-9]{0,3})?$`)

func (l *Look) checkGroups(s Station, st *StationInLook) error {
	for name, g := range st.Groups {
		if !groupName.MatchString(name) {
			return fmt.Errorf("station %s: a group has no name like %q; group, group-2 and so on are names", s, name)
		}
		if g == nil {
			return fmt.Errorf("station %s: the group %q is empty", s, name)
		}
		if err := l.checkGroup(s, g); err != nil {
			return fmt.Errorf("station %s: the group %q: %w", s, name, err)
		}
	}
	for _, p := range st.Steps {
		if p.Group != "" && st.Groups[p.Group] == nil {
			return fmt.Errorf("station %s: there is no group %q for %s", s, p.Group, p.Name())
		}
	}
	st.settleGroups()
	return nil
}

func (l *Look) checkGroup(s Station, g *Group) error {
	switch {
	case !s.Groups():
		return fmt.Errorf("steps of %s are not grouped", s.Label())
	case !(g.Strength >= 0 && g.Strength <= 1):
		return fmt.Errorf("its strength is %g; it goes from 0 to 1", g.Strength)
	case utf8.RuneCountInString(g.Title) > mostLetters:
		return fmt.Errorf("its title has more than %d letters", mostLetters)
	case g.Lay != InTurn && !s.Lays():
		return fmt.Errorf("groups of %s act in turn", s.Label())
	case g.Matte != nil && l.Mattes[*g.Matte] == nil:
		return fmt.Errorf("there is no matte %q", *g.Matte)
	}
	return nil
}

// freeGroup is a name that no group of the station has.
func (st *StationInLook) freeGroup() string {
	name := "group"
	for n := 2; st.Groups[name] != nil; n++ {
		name = fmt.Sprintf("group-%d", n)
	}
	return name
}

// setGroup puts a group under a name.
func (st *StationInLook) setGroup(name string, g *Group) {
	if st.Groups == nil {
		st.Groups = map[string]*Group{}
	}
	st.Groups[name] = g
}

// The edits of groups; Group is the group's name.
var groupOps = map[Op]func(e *Edit, st *StationInLook, g *Group) (string, error){
	OpOn:  switchGroup,
	OpOff: switchGroup,
	OpMix: func(e *Edit, _ *StationInLook, g *Group) (label string, err error) {
		g.Strength, err = e.share(g.Title)
		return g.Title + " strength", err
	},
	OpTitle: func(e *Edit, _ *StationInLook, g *Group) (string, error) {
		was := g.Title
		g.Title = strings.TrimSpace(e.Name)
		return "Name " + was, nil
	},
	OpMask: maskGroup,
	OpOutside: func(e *Edit, _ *StationInLook, g *Group) (string, error) {
		g.Outside, _ = e.Value.(bool)
		return "Matte of " + g.Title, nil
	},
	OpLay:     layGroup,
	OpUngroup: ungroup,
}

// doGroup makes an edit of a group.
func (e *Edit) doGroup(l *Look) (string, error) {
	st := l.Stations[e.Station]
	var g *Group
	if st != nil {
		g = st.Groups[e.Group]
	}
	if g == nil {
		return "", fmt.Errorf("station %s has no group %q", e.Station, e.Group)
	}
	f := groupOps[e.Op]
	if f == nil {
		return "", fmt.Errorf("there is no edit %q of a group", e.Op)
	}
	return f(e, st, g)
}

func switchGroup(e *Edit, st *StationInLook, g *Group) (string, error) {
	if g.On = e.Op == OpOn; g.On {
		st.On = true
	}
	return g.Title + " " + string(e.Op), nil
}

func maskGroup(e *Edit, _ *StationInLook, g *Group) (string, error) {
	g.Matte = nil
	if name := e.Name; name != "" {
		g.Matte = &name
	}
	return "Matte of " + g.Title, nil
}

func layGroup(e *Edit, _ *StationInLook, g *Group) (string, error) {
	return g.Title + " laid otherwise", g.Lay.UnmarshalText([]byte(e.Name))
}

// ungroup lets the steps of a group stand by themselves.
func ungroup(e *Edit, st *StationInLook, g *Group) (string, error) {
	for _, p := range st.Steps {
		if p.Group == e.Group {
			p.Group = ""
		}
	}
	delete(st.Groups, e.Group)
	return "Ungroup " + g.Title, nil
}

// group makes a group of the steps Names, which stand beside each other, with the title Name. They leave the groups that they
// were in.
func group(e *Edit, l *Look) (string, error) {
	st := l.Stations[e.Station]
	if !e.Station.Groups() {
		return "", fmt.Errorf("steps of %s are not grouped", e.Station.Label())
	}
	if len(e.Names) == 0 || st == nil {
		return "", errors.New("choose the steps that are to be a group")
	}
	var at []int
	for _, name := range e.Names {
		i := slices.IndexFunc(st.Steps, func(p *Step) bool { return p.Name() == name })
		if i < 0 {
			return "", fmt.Errorf("station %s has no step %q", e.Station, name)
		}
		at = append(at, i)
	}
	slices.Sort(at)
	at = slices.Compact(at)
	if at[len(at)-1]-at[0] != len(at)-1 {
		return "", errors.New("a group is of steps that stand beside each other; move them together first")
	}
	g := &Group{Title: strings.TrimSpace(e.Name), On: true, Strength: 1}
	if g.Title == "" {
		g.Title = "Group"
	}
	name := st.freeGroup()
	st.setGroup(name, g)
	for _, i := range at {
		st.Steps[i].Group = name
	}
	return "Group " + g.Title, nil
}
