package studio

import (
	"fmt"
	"maps"
	"slices"

	"velours/core/colour"
	"velours/core/look"
	"velours/library"
)

// Edit changes a shot and records the change. by says whose it is; edits that put one whole look in place of another
// give the revision for which they are meant, so that none is lost that came between.
func (s *Sessions) Edit(id uint, e look.Edit, by library.Author) (*library.Shot, error) {
	return s.EditAt(id, look.OfShot, e, by)
}

// EditAt is Edit of a shot's level: its own look, or that of its scene or reel, with all that follow it.
func (s *Sessions) EditAt(id uint, level look.Level, e look.Edit, by library.Author) (*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	if level != look.OfShot && slices.Contains([]look.Op{look.OpEncode, look.OpRestart}, e.Op) {
		return nil, Bad("a %s has no encoding and no beginning of its own; that is each shot's", level)
	}
	if e.Station == look.Intake && level != look.OfShot {
		return nil, Bad("intake is each shot's own; change it there")
	}
	if level == look.OfReel && e.Op == look.OpFollow {
		return nil, Bad("the reel is the highest level; there is nothing for it to follow")
	}
	if e.Op == look.OpLift {
		return s.lift(shot, level, e, by)
	}
	above, err := s.levelsOf(shot, nil)
	if err != nil {
		return nil, err
	}
	return s.changeAt(shot, level, by, func(d *library.Document, l *look.Look) (*look.Look, string, error) {
		if e.Op == look.OpOwn {
			after, err := l.Own(e.Station, above.Above(level)...)
			return after, e.Station.Label() + " made own", err
		}
		if e.Kind != "" && l.IsFollowing(e.Station) { // who sets a step here wants this one to leave: as it is, and then so
			var err error
			if l, err = l.Own(e.Station, above.Above(level)...); err != nil {
				return nil, "", err
			}
		}
		return edited(shot.Start, d, l, e)
	})
}

// EditAll makes one edit to the looks of several shots, as one act.
func (s *Sessions) EditAll(ids []uint, e look.Edit, by library.Author) ([]*library.Shot, error) {
	var owners []library.Owner
	start := map[uint]string{}
	for _, id := range ids {
		shot, err := s.lib.Shot(id)
		if err != nil {
			return nil, err
		}
		start[id] = shot.Start
		owners = append(owners, library.Owner{Of: library.ShotLook, ID: id})
	}
	docs, err := s.lib.Act(by, owners, func(d *library.Document) (string, error) {
		return relook(d, func(d *library.Document, l *look.Look) (*look.Look, string, error) {
			return edited(start[d.ID], d, l, e)
		})
	})
	if err != nil {
		return nil, err
	}
	s.told(docs, by.Window)
	var out []*library.Shot
	for _, id := range ids {
		shot, err := s.lib.Shot(id)
		if err != nil {
			return nil, err
		}
		out = append(out, shot)
	}
	return out, nil
}

// edited is what an edit makes of a look and its document, and what undo calls that.
func edited(start string, d *library.Document, l *look.Look, e look.Edit) (after *look.Look, label string, err error) {
	switch e.Op {
	case look.OpRestart:
		after, err = look.ParseStored([]byte(start))
		return after, "Reset everything", err
	case look.OpEncode:
		id, _ := e.Value.(string)
		enc, err := colour.FindEncoding(id)
		if err != nil {
			return nil, "", err
		}
		d.Encoding = id
		return l, "Encoding " + enc.Label, enclose(l, enc)
	}
	return e.Apply(l)
}

// lift moves a step, or a whole station, from one level of a shot to another, as one act. The picture of the shot stays but for
// where other levels' steps come between.
func (s *Sessions) lift(shot *library.Shot, from look.Level, e look.Edit, by library.Author) (*library.Shot, error) {
	name, _ := e.Value.(string)
	to, err := look.ParseLevel(name)
	if err != nil {
		return nil, BadInput{err}
	}
	if from == to {
		return nil, Bad("it is at that level already")
	}
	var owners []library.Owner
	for _, of := range []look.Level{from, to} {
		o, err := owner(shot, of)
		if err != nil {
			return nil, err
		}
		owners = append(owners, o)
	}
	var moved look.Moved
	docs, err := s.lib.Act(by, owners, func(d *library.Document) (string, error) {
		l, err := look.ParseStored([]byte(d.Look))
		if err != nil {
			return "", err
		}
		if d.Owner == owners[0] {
			l, moved, err = l.Take(e.Station, e.Kind)
		} else {
			l, err = l.Give(moved)
		}
		if err != nil {
			return "", BadInput{err}
		}
		d.Look, err = marshal(l)
		return fmt.Sprintf("%s to the %s", moved.Called, to), err
	})
	if err != nil {
		return nil, err
	}
	s.told(docs, by.Window)
	return s.lib.Shot(shot.ID)
}

// change makes a change to a shot's own look and encoding.
func (s *Sessions) change(id uint, by library.Author, do func(d *library.Document, l *look.Look) (after *look.Look, label string, err error)) (*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	return s.changeAt(shot, look.OfShot, by, do)
}

// changeAt makes a change to the look of a shot's level, and tells who watches. do may be asked several times.
func (s *Sessions) changeAt(shot *library.Shot, level look.Level, by library.Author, do func(d *library.Document, l *look.Look) (after *look.Look, label string, err error)) (*library.Shot, error) {
	o, err := owner(shot, level)
	if err != nil {
		return nil, err
	}
	was := -1
	docs, err := s.lib.Act(by, []library.Owner{o}, func(d *library.Document) (string, error) {
		if was < 0 {
			was = d.Revision
		}
		return relook(d, func(d *library.Document, l *look.Look) (*look.Look, string, error) {
			after, label, err := do(d, l)
			if err == nil && level == look.OfReel { // it follows nothing
				maps.DeleteFunc(after.Stations, func(_ look.Station, st *look.StationInLook) bool { return st.Follows })
			}
			return after, label, err
		})
	})
	if err != nil {
		return nil, err
	}
	if docs[0].Revision != was {
		s.told(docs, by.Window)
	}
	return s.lib.Shot(shot.ID)
}

// relook gives a document the look that do makes of its own.
func relook(d *library.Document, do func(d *library.Document, l *look.Look) (after *look.Look, label string, err error)) (string, error) {
	l, err := look.ParseStored([]byte(d.Look))
	if err != nil {
		return "", fmt.Errorf("the look of %s: %w", d.Facts.Name, err)
	}
	after, label, err := do(d, l)
	if err != nil {
		return "", BadInput{err}
	}
	if after.Trial != l.Trial { // which trial is in use changes with the trial alone
		after = after.Clone()
		after.Trial = l.Trial
	}
	d.Look, err = marshal(after)
	return label, err
}

// mostTold is of how many documents windows are told one by one; of more they look for themselves.
const mostTold = 12

// told tells who watches of documents that have changed, in which window.
func (s *Sessions) told(docs []*library.Document, window string) {
	facts := false
	if len(docs) > mostTold {
		docs, facts = nil, true
	}
	for _, d := range docs {
		switch d.Of {
		case library.ShotLook:
			if shot, err := s.lib.Shot(d.ID); err == nil {
				s.changed(shot, window)
			}
		case library.SceneLook, library.ReelLook:
			s.tell(Event{Levels: d.ReelID, Window: window})
		case library.TrialLook: // it changes with the look that it is of
		default:
			facts = true
		}
	}
	if facts {
		s.tell(Event{Reels: true})
	}
}

// Undo takes the last act back that reaches the shot: on its own look, on its scene's or reel's, or on the facts of the reel. by
// guards against what came between.
func (s *Sessions) Undo(id uint, by library.Author) (*library.Shot, error) {
	return s.travel(id, -1, by)
}

// Redo does again what Undo took back.
func (s *Sessions) Redo(id uint, by library.Author) (*library.Shot, error) {
	return s.travel(id, 1, by)
}

func (s *Sessions) travel(id uint, direction int, by library.Author) (*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	if err := s.travelChain(library.ChainOf(shot), direction, by); err != nil {
		return nil, err
	}
	return s.lib.Shot(id)
}

func (s *Sessions) travelChain(c library.Chain, direction int, by library.Author) error {
	docs, err := s.lib.Travel(c, direction, by, look.Merge)
	if err != nil {
		return err
	}
	s.told(docs, by.Window)
	return nil
}

// Neighbours returns what undo and redo would touch.
func (s *Sessions) Neighbours(c library.Chain) (undo, redo library.Neighbour, err error) {
	return s.lib.Neighbours(c)
}

// marshal writes a look as it is stored.
func marshal(l *look.Look) (string, error) {
	data, err := l.Stored()
	return string(data), err
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
