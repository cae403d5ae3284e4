package studio

import (
	"fmt"
	"slices"
	"strings"

	"velours/core/look"
	"velours/library"
)

// CarrySource is where settings are taken from: a shot, a pin, or a look by its id.
type CarrySource struct {
	Shot uint   `json:"shot,omitempty"`
	Pin  uint   `json:"pin,omitempty"`
	Look string `json:"look,omitempty"`
}

// CarryAsk takes parts of a look over to shots.
type CarryAsk struct {
	look.Carry
	From CarrySource `json:"from"`
	To   []uint      `json:"to"`
}

// Carry takes parts of a look over to shots as one act, and returns them as they are then. Where a station follows in the shot
// that it is taken from, it follows in those that hang on the same look above; the others have it as their own.
func (s *Sessions) Carry(q CarryAsk, by library.Author) ([]*library.Shot, error) {
	if len(q.To) == 0 {
		return nil, Bad("no shot is chosen to take it over to")
	}
	if len(q.Parts)+len(q.Steps) == 0 {
		return nil, Bad("nothing is chosen to be taken over")
	}
	from, err := s.carrySource(q.From)
	if err != nil {
		return nil, err
	}
	shots := map[uint]*library.Shot{}
	above := map[uint]look.Levels{}
	var owners []library.Owner
	for _, id := range q.To {
		shot, err := s.lib.Shot(id)
		if err != nil {
			return nil, err
		}
		if shots[id] != nil || q.From.Shot == id {
			continue
		}
		shots[id] = shot
		if above[id], err = s.levelsOf(shot, nil); err != nil {
			return nil, err
		}
		owners = append(owners, library.Owner{Of: library.ShotLook, ID: id})
	}
	if len(owners) == 0 {
		return nil, Bad("%s has these settings already; choose other shots to take them over to", from.name)
	}
	label := q.label(from.name)
	by.Origin = q.From.Shot
	docs, err := s.lib.Act(by, owners, func(d *library.Document) (string, error) {
		return relook(d, func(d *library.Document, l *look.Look) (*look.Look, string, error) {
			after, err := q.onto(l, from, shots[d.ID], above[d.ID])
			return after, label, err
		})
	})
	if err != nil {
		return nil, err
	}
	s.told(docs, by.Window)
	var out []*library.Shot
	for _, o := range owners {
		shot, err := s.lib.Shot(o.ID)
		if err != nil {
			return nil, err
		}
		out = append(out, shot)
	}
	return out, nil
}

// source is a look that things are taken from, with the shot whose it is, if it is one's.
type source struct {
	name   string
	shot   *library.Shot
	levels look.Levels // of the shot
	look   *look.Look  // standing for itself
}

func (s *Sessions) carrySource(from CarrySource) (*source, error) {
	switch {
	case from.Shot != 0:
		shot, err := s.lib.Shot(from.Shot)
		if err != nil {
			return nil, err
		}
		v, err := s.levelsOf(shot, nil)
		if err != nil {
			return nil, err
		}
		flat, _ := v.Flat()
		return &source{shot.Name, shot, v, flat}, nil
	case from.Pin != 0:
		p, err := s.lib.Pin(from.Pin)
		if err != nil {
			return nil, err
		}
		if p.Reference {
			return nil, Bad("%s is a reference: it has no settings to take", p.Name)
		}
		l, err := look.ParseStored([]byte(p.Look))
		return &source{name: p.Name, look: l}, err
	}
	list, err := s.Looks()
	if err != nil {
		return nil, err
	}
	for _, r := range list {
		if r.ID == from.Look {
			l, err := look.ParseStored(r.Look)
			return &source{name: r.Label, look: l}, err
		}
	}
	return nil, Bad("there is no look %q", from.Look)
}

// onto carries from a source over to a shot's look.
func (q *CarryAsk) onto(l *look.Look, from *source, shot *library.Shot, above look.Levels) (*look.Look, error) {
	if from.shot == nil || from.shot.ReelID != shot.ReelID {
		return q.Carry.To(l, from.look, nil)
	}
	return q.Carry.To(l, from.levels.Shot, func(s look.Station) *look.Look {
		home := from.levels.Home(s)
		there := look.Levels{Shot: look.Following(""), Scene: above.Scene, Reel: above.Reel}.Home(s)
		if home == there && (home == look.OfReel || from.shot.SceneID == shot.SceneID) {
			return nil
		}
		return from.levels.At(home)
	})
}

// label is what undo calls it.
func (q *CarryAsk) label(name string) string {
	var what []string
	for _, p := range look.Parts {
		if slices.Contains(q.Parts, p.ID) && p.ID != look.PartMattes {
			what = append(what, p.Label)
		}
	}
	switch {
	case len(what) == 0 && len(q.Steps) == 1:
		what = []string{"a step"}
	case len(what) == 0:
		what = []string{fmt.Sprintf("%d steps", len(q.Steps))}
	case len(what) > 2:
		what = []string{"settings"}
	}
	return fmt.Sprintf("Take %s from %s", strings.ToLower(strings.Join(what, " and ")), name)
}
