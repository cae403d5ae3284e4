package studio

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"velours/core/colour"
	"velours/core/look"
	"velours/library"
)

// Edit is one change to a shot. Op says which; Kind is the name of a step: its own id, or its kind's.
//
//	set       give Setting of a step the value Value, or all Values theirs, and switch it on
//	reset     put Setting of a step back to its default
//	clear     put the whole step back to its defaults
//	on, off   switch a step, all of Names, or with neither the station
//	strength  set the strength of the step, or with no Kind of the station (0 to 1)
//	add       put a step of a kind before the index Value, or at the end
//	remove    take a step, or all of Names, out of the station
//	move      put a step where the index Value is
//	title     call a step Name
//	paste     put copies of Steps at the station's end, with the Mattes they need
//	matte     let a step act inside the matte Name; without a name everywhere
//	outside   let it act outside (Value true) or inside
//	cover     make Matte the matte Name
//	uncover   remove the matte Name; its steps act everywhere
//	rename    call the matte Name as Value says
//	declare   declare the shot's encoding: Value is its id
//	restart   put everything back to how the shot came
//	look      replace the look by Look, which may be called Name
type Edit struct {
	Op      string          `json:"op"`
	Station look.Station    `json:"station,omitempty"`
	Kind    string          `json:"kind,omitempty"`
	Setting string          `json:"setting,omitempty"`
	Value   any             `json:"value,omitempty"`
	Values  map[string]any  `json:"values,omitempty"`
	Look    json.RawMessage `json:"look,omitempty"`
	// Names are steps that are changed together, Name what something is called.
	Names []string `json:"names,omitempty"`
	Name  string   `json:"name,omitempty"`
	// Steps and Mattes are pasted; Matte is put under Name.
	Steps  []*look.Step           `json:"steps,omitempty"`
	Mattes map[string]*look.Matte `json:"mattes,omitempty"`
	Matte  *look.Matte            `json:"matte,omitempty"`
	// Gesture joins the edits of one drag into one undoable step.
	Gesture string `json:"gesture,omitempty"`
	// Window is the window that makes the edit, and Revision, if it is given, that of the shot for which it is meant:
	// edits that put one whole look in place of another say it, so that none is lost that came between.
	Window   string `json:"window,omitempty"`
	Revision *int   `json:"revision,omitempty"`

	stored []byte // a look that was stored here, in place of Look
}

// mostName is how long the name of a look may be, in bytes, to be told by undo.
const mostName = 120

// Edit changes a shot and records the change.
func (s *Studio) Edit(id uint, e Edit) (*library.Shot, error) {
	was := -1
	shot, err := s.lib.Apply(id, library.By{Gesture: e.Gesture, Window: e.Window, Revision: e.Revision}, func(shot *library.Shot) (string, string, string, error) {
		if was < 0 {
			was = shot.Revision
		}
		e := e.clone()
		look, err := look.ParseStored([]byte(shot.Look))
		if err != nil {
			return "", "", "", fmt.Errorf("the look of %s: %w", shot.Name, err)
		}
		encoding := shot.Encoding
		label, err := e.apply(shot, &look, &encoding)
		if err != nil {
			return "", "", "", BadInput{err}
		}
		doc, err := marshal(look)
		return doc, encoding, label, err
	})
	if err != nil {
		return nil, err
	}
	if shot.Revision != was {
		s.changed(shot, e.Window)
	}
	return shot, nil
}

// clone is a copy that an edit's own doing does not change: it may be made upon several looks in turn.
func (e *Edit) clone() *Edit {
	c := *e
	c.Values, c.Names = maps.Clone(e.Values), slices.Clone(e.Names)
	c.Steps = nil
	for _, p := range e.Steps {
		if p == nil {
			c.Steps = append(c.Steps, nil)
			continue
		}
		c.Steps = append(c.Steps, p.Clone())
	}
	if e.Matte != nil {
		c.Matte = e.Matte.Clone()
	}
	return &c
}

func (e *Edit) apply(shot *library.Shot, given **look.Look, encoding *string) (label string, err error) {
	l := *given
	switch e.Op {
	case "restart":
		*given, err = look.ParseStored([]byte(shot.Start))
		return "Reset everything", err
	case "look":
		if e.stored != nil {
			*given, err = look.ParseStored(e.stored)
		} else {
			*given, err = look.ParseLookOver(e.Look, l)
		}
		if e.Name != "" && len(e.Name) <= mostName { // else it is a look like any other
			return "Take " + e.Name, err
		}
		return "Load a look", err
	case "declare":
		id, _ := e.Value.(string)
		enc, err := colour.FindEncoding(id)
		if err != nil {
			return "", err
		}
		*encoding = id
		if err := enclose(l, enc); err != nil {
			return "", err
		}
		return "Encoding " + enc.Label, nil
	}
	switch e.Op {
	case "cover", "uncover", "rename":
	default:
		if _, err := look.ParseStation(string(e.Station)); err != nil {
			return "", err
		}
	}
	switch e.Op {
	case "add", "remove", "move", "title", "paste", "matte", "outside", "cover", "uncover", "rename":
		return e.arrange(l)
	}
	if len(e.Names) > 0 {
		return e.together(l)
	}
	if e.Kind == "" {
		if _, err := look.ParseStation(string(e.Station)); err != nil {
			return "", err
		}
		st := l.Station(e.Station)
		switch e.Op {
		case "on", "off":
			st.On = e.Op == "on"
			return e.Station.Label() + " " + e.Op, nil
		case "strength":
			x, ok := e.Value.(float64)
			if !ok {
				return "", fmt.Errorf("%s: a strength is a number from 0 to 1, not %v", e.Station, e.Value)
			}
			st.Strength = x
			return e.Station.Label() + " strength", l.Check()
		case "clear":
			delete(l.Stations, e.Station)
			return "Reset " + e.Station.Label(), nil
		}
		return "", fmt.Errorf("there is no edit %q of a station", e.Op)
	}
	k, err := look.KindOf(e.Station, e.Kind)
	if err != nil {
		return "", err
	}
	name := k.Label
	if p := l.Step(e.Station, e.Kind); p != nil {
		name = k.Called(p)
	}
	if k.Path() == "intake.encoding" {
		return "", fmt.Errorf("the encoding is declared, not set: it belongs to the shot")
	}
	switch e.Op {
	case "set":
		if e.Values == nil {
			e.Values = map[string]any{e.Setting: e.Value}
		}
		for id, v := range e.Values {
			if err := l.Set(string(e.Station)+"."+e.Kind+"."+id, v); err != nil {
				return "", err
			}
		}
		return name, nil
	case "reset":
		if p := l.Step(e.Station, e.Kind); p != nil {
			l.Reset(k, p, e.Setting)
		}
		return "Reset " + name, nil
	case "clear":
		if p := l.Step(e.Station, e.Kind); p != nil {
			p.Strength = 1
			l.Reset(k, p, "")
		}
		return "Reset " + name, nil
	}
	p, err := l.Ensure(e.Station, e.Kind)
	if err != nil {
		return "", err
	}
	switch e.Op {
	case "on", "off":
		if p.On = e.Op == "on"; p.On {
			l.Station(e.Station).On = true
		}
		return name + " " + e.Op, nil
	case "strength":
		x, ok := e.Value.(float64)
		if !ok {
			return "", fmt.Errorf("%s: a strength is a number from 0 to 1, not %v", k.Path(), e.Value)
		}
		p.Strength = x
		return name + " strength", l.Check()
	}
	return "", fmt.Errorf("there is no edit %q", e.Op)
}

// Undo takes the last change back; a revision in by guards against what came between.
func (s *Studio) Undo(id uint, by library.By) (*library.Shot, error) { return s.travel(id, -1, by) }

// Redo does again what Undo took back.
func (s *Studio) Redo(id uint, by library.By) (*library.Shot, error) { return s.travel(id, 1, by) }

func (s *Studio) travel(id uint, direction int, by library.By) (*library.Shot, error) {
	shot, err := s.lib.Travel(id, direction, by)
	if err != nil {
		return nil, err
	}
	s.changed(shot, by.Window)
	return shot, nil
}

// Neighbours returns what undo and redo would touch.
func (s *Studio) Neighbours(shot *library.Shot) (undo, redo library.Neighbour, err error) {
	return s.lib.Neighbours(shot)
}

// marshal writes a look in its canonical form.
func marshal(l *look.Look) (string, error) {
	data, err := l.Stored()
	return string(data), err
}

func marshalAny(v any) (string, error) {
	data, err := json.Marshal(v)
	return string(data), err
}

// LookOf is a shot's look with its declared encoding in it.
func LookOf(shot *library.Shot) (*look.Look, error) {
	l, err := look.ParseStored([]byte(shot.Look))
	if err != nil {
		return nil, err
	}
	return l, declare(l, shot.Encoding)
}

// enclose switches the camera gamut's step on for a camera's log curve, and off for all others.
func enclose(l *look.Look, e *colour.Encoding) error {
	if e.Camera {
		_, err := l.Ensure(look.Intake, "compress")
		return err
	}
	if p := l.Step(look.Intake, "compress"); p != nil {
		p.On = false
	}
	return nil
}

func declare(l *look.Look, encoding string) error {
	if encoding == "" {
		// undeclared: shown as it stands, as plain video, and marked so
		encoding = "bt709"
	}
	return l.Set("intake.encoding.id", encoding)
}
