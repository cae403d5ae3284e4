package studio

import (
	"fmt"

	"velours/core/colour"
	"velours/core/look"
	"velours/library"
)

// Edit changes a shot and records the change. by says whose it is; edits that put one whole look in place of another
// give the revision for which they are meant, so that none is lost that came between.
func (s *Sessions) Edit(id uint, e look.Edit, by library.Author) (*library.Shot, error) {
	return s.change(id, by, func(shot *library.Shot, l *look.Look) (*look.Look, string, string, error) {
		return edited(shot, l, e)
	})
}

// edited is what an edit makes of a shot: its look, its encoding, and what undo calls that.
func edited(shot *library.Shot, l *look.Look, e look.Edit) (after *look.Look, encoding, label string, err error) {
	encoding = shot.Encoding
	switch e.Op {
	case look.OpRestart:
		after, err = look.ParseStored([]byte(shot.Start))
		return after, encoding, "Reset everything", err
	case look.OpEncode:
		id, _ := e.Value.(string)
		enc, err := colour.FindEncoding(id)
		if err != nil {
			return nil, "", "", err
		}
		return l, id, "Encoding " + enc.Label, enclose(l, enc)
	}
	after, label, err = e.Apply(l)
	return after, encoding, label, err
}

// change makes a change to a shot's look and encoding, and tells who watches. do may be asked several times.
func (s *Sessions) change(id uint, by library.Author, do func(*library.Shot, *look.Look) (after *look.Look, encoding, label string, err error)) (*library.Shot, error) {
	was := -1
	shot, err := s.lib.Apply(id, by, func(shot *library.Shot) (string, string, string, error) {
		if was < 0 {
			was = shot.Revision
		}
		l, err := look.ParseStored([]byte(shot.Look))
		if err != nil {
			return "", "", "", fmt.Errorf("the look of %s: %w", shot.Name, err)
		}
		after, encoding, label, err := do(shot, l)
		if err != nil {
			return "", "", "", BadInput{err}
		}
		doc, err := marshal(after)
		return doc, encoding, label, err
	})
	if err != nil {
		return nil, err
	}
	if shot.Revision != was {
		s.changed(shot, by.Window)
	}
	return shot, nil
}

// Undo takes the last change back; a revision in by guards against what came between.
func (s *Sessions) Undo(id uint, by library.Author) (*library.Shot, error) {
	return s.travel(id, -1, by)
}

// Redo does again what Undo took back.
func (s *Sessions) Redo(id uint, by library.Author) (*library.Shot, error) {
	return s.travel(id, 1, by)
}

func (s *Sessions) travel(id uint, direction int, by library.Author) (*library.Shot, error) {
	shot, err := s.lib.Travel(id, direction, by)
	if err != nil {
		return nil, err
	}
	s.changed(shot, by.Window)
	return shot, nil
}

// Neighbours returns what undo and redo would touch.
func (s *Sessions) Neighbours(shot *library.Shot) (undo, redo library.Neighbour, err error) {
	return s.lib.Neighbours(shot)
}

// marshal writes a look as it is stored.
func marshal(l *look.Look) (string, error) {
	data, err := l.Stored()
	return string(data), err
}

// lookOf is a shot's look, and its encoding as encodingOf has it.
func lookOf(shot *library.Shot) (*look.Look, *colour.Encoding, error) {
	l, err := look.ParseStored([]byte(shot.Look))
	if err != nil {
		return nil, nil, err
	}
	e, err := encodingOf(shot.Encoding)
	return l, e, err
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

// Encodings are those that a shot can be declared to be recorded in, with those that were put away.
func Encodings() []look.Choice {
	var list []look.Choice
	for _, e := range colour.Encodings() {
		list = append(list, look.Choice{ID: e.ID, Label: e.Label, Away: look.IsAway(e.ID)})
	}
	return list
}

// encodingOf is the encoding of an id, nil for none: of a shot that is not declared yet.
func encodingOf(id string) (*colour.Encoding, error) {
	if id == "" {
		return nil, nil
	}
	return colour.FindEncoding(id)
}
