package look

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Op says which edit is made.
type Op string

// The edits of a look. Each is a pure function of the look and what the edit says.
const (
	OpSet     Op = "set"      // give Setting of a step the value Value, or all Values theirs, and switch it on
	OpReset   Op = "reset"    // put Setting of a step back to its default
	OpClear   Op = "clear"    // put the whole step back to its defaults, or with no Kind the station
	OpOn      Op = "on"       // switch a step on, all of Names, or with neither the station
	OpOff     Op = "off"      // switch it off
	OpMix     Op = "strength" // set the strength of the step, or with no Kind of the station (0 to 1)
	OpAdd     Op = "add"      // put a step of a kind before the index Value, or at the end
	OpRemove  Op = "remove"   // take a step, or all of Names, out of the station
	OpMove    Op = "move"     // put a step where the index Value is
	OpTitle   Op = "title"    // call a step Name
	OpPaste   Op = "paste"    // put copies of Steps at the station's end, with the Mattes they need
	OpMask    Op = "matte"    // let a step act inside the matte Name; without a name everywhere
	OpOutside Op = "outside"  // let it act outside (Value true) or inside
	OpSource  Op = "source"   // let its matte act on the light that spreads (Value true) or on the result
	OpKey     Op = "key"      // make the frame Value a key of a step, with Values for what it keys
	OpUnkey   Op = "unkey"    // take the key at the frame Value away
	OpCover   Op = "cover"    // make Matte the matte Name
	OpUncover Op = "uncover"  // remove the matte Name; its steps act everywhere
	OpRename  Op = "rename"   // call the matte Name as Value says
	OpGroup   Op = "group"    // make a group of the steps Names, called Name
	OpUngroup Op = "ungroup"  // let the steps of Group stand by themselves
	OpLay     Op = "lay"      // lay Group over the one above it by Name, or without one have it act in turn
	OpTreat   Op = "treat"    // switch the treatment as a whole (Value true or false), or mix it (0 to 1)
	OpSeen    Op = "seen"     // take the marks away of what was to be looked at again: of Setting, or of all of the step, or the look
	OpFollow  Op = "follow"   // let the station be as the level above has it; what it has of its own goes
	OpOwn     Op = "own"      // of a level: make the station that follows its own, as it is
	OpLift    Op = "lift"     // of a level: move a step, or with no Kind the station, to the level Value
	OpEncode  Op = "declare"  // of the shot, not of its look: declare its encoding, Value is its id
	OpRestart Op = "restart"  // of the shot: put everything back to how it came
	OpReplace Op = "look"     // of the shot: put another look in the place of its own
)

// Ops lists the edits there are.
func Ops() []Op {
	return []Op{OpSet, OpReset, OpClear, OpOn, OpOff, OpMix, OpAdd, OpRemove, OpMove, OpTitle, OpPaste, OpMask, OpOutside, OpSource, OpKey, OpUnkey, OpCover, OpUncover, OpRename, OpGroup, OpUngroup, OpLay, OpTreat, OpSeen, OpFollow, OpOwn, OpLift, OpEncode, OpRestart, OpReplace}
}

// UnmarshalText reads an edit's name, refusing one that there is not.
func (o *Op) UnmarshalText(text []byte) error {
	*o = Op(text)
	if !slices.Contains(Ops(), *o) {
		return fmt.Errorf("there is no edit %q", text)
	}
	return nil
}

// Edit is one change. Kind is the name of a step: its own id, or its kind's.
type Edit struct {
	Op      Op             `json:"op"`
	Station Station        `json:"station,omitempty"`
	Kind    string         `json:"kind,omitempty"`
	Setting string         `json:"setting,omitempty"`
	Value   any            `json:"value,omitempty"`
	Values  map[string]any `json:"values,omitempty"`
	// Names are steps that are changed together, Name what something is called.
	Names []string `json:"names,omitempty"`
	Name  string   `json:"name,omitempty"`
	// Group is a group of the station that is changed, by on, off, strength, title, matte, outside, lay and ungroup.
	Group string `json:"group,omitempty"`
	// Steps and Mattes are pasted; Matte is put under Name.
	Steps  []*Step           `json:"steps,omitempty"`
	Mattes map[string]*Matte `json:"mattes,omitempty"`
	Matte  *Matte            `json:"matte,omitempty"`
	// Look takes the place of the whole look, which may be called Name.
	Look json.RawMessage `json:"look,omitempty"`
}

// edits are what the edits do to a look that is the edit's own copy; each returns what undo calls it. Those of steps are
// given the step, made where it stands on the desk without being in the look.
var (
	lookEdits    = map[Op]func(e *Edit, l *Look) (string, error){OpCover: cover, OpUncover: uncover, OpRename: rename, OpTreat: treat, OpSeen: seen}
	stationEdits = map[Op]func(e *Edit, l *Look) (string, error){OpOn: switchStation, OpOff: switchStation, OpMix: mixStation, OpClear: clearStation, OpFollow: follow}
	groupEdits   = map[Op]func(e *Edit, l *Look) (string, error){OpOn: switchSteps, OpOff: switchSteps, OpRemove: removeSteps}
	newEdits     = map[Op]func(e *Edit, l *Look) (string, error){OpAdd: add, OpPaste: paste, OpSet: set, OpReset: reset, OpClear: clearStep}
	stepEdits    = map[Op]func(e *Edit, l *Look, k *Kind, p *Step) (string, error){OpOn: switchStep, OpOff: switchStep, OpMix: mixStep, OpMove: move, OpTitle: title, OpMask: maskStep, OpOutside: outside, OpSource: source, OpKey: setKey, OpUnkey: removeKey}
)

// Apply makes the edit: the result is another look, the given one stays as it is. The label is what undo calls it.
func (e *Edit) Apply(given *Look) (l *Look, label string, err error) {
	if e.Op == OpReplace {
		label = "Load a look"
		if e.Name != "" && len(e.Name) <= mostName { // else it is a look like any other
			label = "Take " + e.Name
		}
		l, err = ParseLookOver(e.Look, given)
		return l, label, err
	}
	l = given.Clone()
	label, err = e.own().do(l)
	if err != nil {
		return nil, "", err
	}
	if err := l.Check(); err != nil {
		return nil, "", err
	}
	return l, label, nil
}

// mostName is how long the name of a look may be, in bytes, to be told by undo.
const mostName = 120

// own is a copy, of which parts may become parts of a look.
func (e *Edit) own() *Edit {
	c := *e
	c.Values, c.Names = maps.Clone(e.Values), slices.Clone(e.Names)
	c.Steps = nil
	for _, p := range e.Steps {
		if p != nil {
			p = p.Clone()
		}
		c.Steps = append(c.Steps, p)
	}
	if e.Matte != nil {
		c.Matte = e.Matte.Clone()
	}
	return &c
}

func (e *Edit) do(l *Look) (string, error) {
	if f := lookEdits[e.Op]; f != nil {
		return f(e, l)
	}
	if _, err := ParseStation(string(e.Station)); err != nil {
		return "", err
	}
	if e.Op == OpGroup {
		return group(e, l)
	}
	if e.Group != "" {
		return e.doGroup(l)
	}
	if f := groupEdits[e.Op]; f != nil && (len(e.Names) > 0 || e.Op == OpRemove) {
		if len(e.Names) == 0 {
			e.Names = []string{e.Kind}
		}
		return f(e, l)
	}
	if e.Kind == "" && e.Op != OpPaste {
		if f := stationEdits[e.Op]; f != nil && len(e.Names) == 0 {
			return f(e, l)
		}
		return "", fmt.Errorf("there is no edit %q of a station", e.Op)
	}
	if e.Op == OpPaste {
		return paste(e, l)
	}
	k, err := KindOf(e.Station, e.Kind)
	if err != nil {
		return "", err
	}
	if f := newEdits[e.Op]; f != nil {
		return f(e, l)
	}
	f := stepEdits[e.Op]
	if f == nil {
		return "", fmt.Errorf("there is no edit %q", e.Op)
	}
	p, err := l.Ensure(e.Station, e.Kind)
	if err != nil {
		return "", err
	}
	return f(e, l, k, p)
}

// number is Value as a share, from 0 to 1.
func (e *Edit) share(of string) (float64, error) {
	x, ok := e.Value.(float64)
	if !ok {
		return 0, fmt.Errorf("%s: a strength is a number from 0 to 1, not %v", of, e.Value)
	}
	return x, nil
}

// index is Value as a place; −1 for none.
func (e *Edit) index() int {
	if v, ok := e.Value.(float64); ok && v >= 0 && v < mostSteps {
		return int(v)
	}
	return -1
}

// Called is what a step of the look is called on the screen.
func (l *Look) Called(s Station, p *Step) string {
	k, err := KindOf(s, p.Name())
	if err != nil {
		return p.Name()
	}
	return k.Called(p)
}

func follow(e *Edit, l *Look) (string, error) {
	c, err := l.Follow(e.Station)
	if err != nil {
		return "", err
	}
	*l = *c
	return e.Station.Label() + " follows", nil
}

func switchStation(e *Edit, l *Look) (string, error) {
	l.Station(e.Station).On = e.Op == OpOn
	return e.Station.Label() + " " + string(e.Op), nil
}

func mixStation(e *Edit, l *Look) (string, error) {
	x, err := e.share(string(e.Station))
	l.Station(e.Station).Strength = x
	return e.Station.Label() + " strength", err
}

// clearStation takes every step out of a station; what is kept unread of it stays.
func clearStation(e *Edit, l *Look) (string, error) {
	if l.IsFollowing(e.Station) {
		return "", fmt.Errorf("%s follows the level above; reset it there", e.Station.Label())
	}
	if st := l.Stations[e.Station]; st != nil && len(st.Unread) > 0 {
		l.Stations[e.Station] = &StationInLook{On: true, Strength: 1, Unread: st.Unread}
	} else {
		delete(l.Stations, e.Station)
	}
	return "Reset " + e.Station.Label(), nil
}

// set gives settings their values and switches the step on.
func set(e *Edit, l *Look) (string, error) {
	if e.Values == nil {
		e.Values = map[string]any{e.Setting: e.Value}
	}
	if len(e.Values) == 0 {
		return "", errors.New("there is nothing to set")
	}
	for _, id := range slices.Sorted(maps.Keys(e.Values)) {
		if err := l.Set(string(e.Station)+"."+e.Kind+"."+id, e.Values[id]); err != nil {
			return "", err
		}
	}
	return l.Called(e.Station, l.Step(e.Station, e.Kind)), nil
}

func reset(e *Edit, l *Look) (string, error) { return resetting(e, l, e.Setting) }

func clearStep(e *Edit, l *Look) (string, error) {
	if p := l.Step(e.Station, e.Kind); p != nil {
		p.Strength = 1
	}
	return resetting(e, l, "")
}

func resetting(e *Edit, l *Look, setting string) (string, error) {
	k, err := KindOf(e.Station, e.Kind)
	if err != nil {
		return "", err
	}
	p := l.Step(e.Station, e.Kind)
	if p == nil {
		return "Reset " + k.Label, nil
	}
	l.Reset(k, p, setting)
	for _, key := range p.Keys {
		delete(key.Settings, setting)
	}
	if setting == "" {
		p.Keys = nil
	}
	return "Reset " + k.Called(p), nil
}

func switchStep(e *Edit, l *Look, k *Kind, p *Step) (string, error) {
	if p.On = e.Op == OpOn; p.On {
		l.Station(e.Station).On = true
	}
	return k.Called(p) + " " + string(e.Op), nil
}

func mixStep(e *Edit, _ *Look, k *Kind, p *Step) (string, error) {
	x, err := e.share(k.Path())
	p.Strength = x
	return k.Called(p) + " strength", err
}

func add(e *Edit, l *Look) (string, error) {
	p, err := l.Add(e.Station, e.Kind, e.index())
	if err != nil {
		return "", err
	}
	l.Station(e.Station).On = true
	return "Add " + l.Called(e.Station, p), nil
}

func move(e *Edit, l *Look, k *Kind, p *Step) (string, error) {
	st := l.Station(e.Station)
	from, to := slices.Index(st.Steps, p), e.index()
	if !k.Repeatable {
		return "", fmt.Errorf("%s keeps its place", k.Called(p))
	}
	if to < 0 || to >= len(st.Steps) {
		return "", fmt.Errorf("a step moves to a place from 0 to %d", len(st.Steps)-1)
	}
	st.Steps = slices.Insert(slices.Delete(st.Steps, from, from+1), to, p)
	return "Move " + k.Called(p), nil
}

func title(e *Edit, _ *Look, k *Kind, p *Step) (string, error) {
	was := k.Called(p)
	p.Title = strings.TrimSpace(e.Name)
	return "Name " + was, nil
}

func maskStep(e *Edit, _ *Look, k *Kind, p *Step) (string, error) {
	p.Matte = nil
	if name := e.Name; name != "" {
		p.Matte = &name
	}
	return "Matte of " + k.Called(p), nil
}

func outside(e *Edit, _ *Look, k *Kind, p *Step) (string, error) {
	p.Outside, _ = e.Value.(bool)
	return "Matte of " + k.Called(p), nil
}

func source(e *Edit, _ *Look, k *Kind, p *Step) (string, error) {
	p.Source, _ = e.Value.(bool)
	return "Matte of " + k.Called(p), nil
}

// switchSteps switches several steps as one change.
func switchSteps(e *Edit, l *Look) (string, error) {
	label, err := e.each(l, func(st *StationInLook, p *Step) {
		p.On = e.Op == OpOn
		st.On = st.On || p.On
	})
	return label + " " + string(e.Op), err
}

func removeSteps(e *Edit, l *Look) (string, error) {
	label, err := e.each(l, func(st *StationInLook, p *Step) {
		st.Steps = slices.DeleteFunc(st.Steps, func(q *Step) bool { return q == p })
	})
	return "Remove " + label, err
}

// each does something to all steps of Names, and words which they are.
func (e *Edit) each(l *Look, do func(st *StationInLook, p *Step)) (string, error) {
	label := ""
	for _, name := range e.Names {
		p := l.Step(e.Station, name)
		if p == nil {
			return "", fmt.Errorf("station %s has no step %q", e.Station, name)
		}
		label = l.Called(e.Station, p)
		do(l.Station(e.Station), p)
	}
	if len(e.Names) > 1 {
		label = fmt.Sprintf("%d steps", len(e.Names))
	}
	return label, nil
}

// paste adds copies of steps, each under a name of its own, with the mattes they name: a matte of the same name that is
// another is given a new name.
func paste(e *Edit, l *Look) (string, error) {
	if len(e.Steps) == 0 {
		return "", errors.New("there is nothing to paste")
	}
	renamed := map[string]string{}
	for _, p := range e.Steps {
		if p == nil {
			return "", errors.New("an empty step")
		}
		k, err := FindKind(e.Station, p.Kind)
		if err != nil {
			return "", fmt.Errorf("%s has no step %q, so it cannot be pasted there", e.Station.Label(), p.Kind)
		}
		n := l.Step(e.Station, p.Kind)
		if n == nil || k.Repeatable {
			if n, err = l.Add(e.Station, p.Kind, -1); err != nil {
				return "", err
			}
		}
		c := p.Clone()
		c.ID, c.Group = n.ID, n.Group
		if c.Matte != nil {
			name := e.pasteMatte(l, *c.Matte, renamed)
			if c.Matte = &name; name == "" {
				c.Matte = nil
			}
		}
		*n = *c
	}
	if len(e.Steps) == 1 {
		return "Paste " + l.Called(e.Station, e.Steps[0]), nil
	}
	return fmt.Sprintf("Paste %d steps", len(e.Steps)), nil
}

// seen takes marks away.
func seen(e *Edit, l *Look) (string, error) {
	for s, st := range l.Stations {
		for _, p := range st.Steps {
			if e.Station != "" && e.Station != s || e.Kind != "" && e.Kind != p.Name() {
				continue
			}
			if e.Setting != "" {
				p.seen(e.Setting)
			} else {
				p.seen()
			}
		}
	}
	return "Looked at again", nil
}
