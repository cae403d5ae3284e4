package library

import (
	"encoding/json"
	"fmt"

	"gorm.io/gorm"
)

// Owner is what has a past of its own: the look of a shot, a scene, a reel or a trial, or the facts of one.
type Owner struct {
	Of Part
	ID uint
}

// Part is a part of a shot, scene or reel that is changed, undone and done again by itself.
type Part string

// The parts. A shot's look goes with its declared encoding.
const (
	ShotLook   Part = "shot"
	SceneLook  Part = "scene"
	ReelLook   Part = "reel"
	ShotFacts  Part = "shot facts"
	SceneFacts Part = "scene facts"
	ReelFacts  Part = "reel facts"
	TrialLook  Part = "trial"
	TrialFacts Part = "trial facts"
)

// Facts is what is known of a shot, scene or reel beside its look.
type Facts struct {
	Name string `json:"name"`
	// Position is where it stands among its like, rising.
	Position float64 `json:"position"`
	// Removed tells that it is gone from all lists; it can be brought back.
	Removed bool `json:"removed,omitempty"`
	// Archived is a reel's: it is put aside.
	Archived bool `json:"archived,omitempty"`
	// Of a shot: its scene, 0 for none; a flag and a note; its first frame that counts and the one after the last, 0 for the end.
	SceneID uint   `json:"scene,omitempty"`
	Flag    bool   `json:"flag,omitempty"`
	Note    string `json:"note,omitempty"`
	In      int    `json:"in,omitempty"`
	Out     int    `json:"out,omitempty"`
	// Answer is a trial's: it is the chosen one.
	Answer bool `json:"answer,omitempty"`
}

// Document is an owner as it is: what a change may change.
type Document struct {
	Owner
	ReelID uint
	// Look is the text of a look, Encoding a shot's declared one.
	Look, Encoding string
	// Facts are those of the shot, scene or reel; they change with owners of facts alone.
	Facts Facts
	// Revision counts the changes of a look.
	Revision int
}

// text is what is kept of the document in its changes.
func (d *Document) text() (string, error) {
	switch d.Of {
	case ShotFacts, SceneFacts, ReelFacts, TrialFacts:
		data, err := json.Marshal(d.Facts)
		return string(data), err
	}
	return d.Look, nil
}

func (d *Document) setText(s string) error {
	switch d.Of {
	case ShotFacts, SceneFacts, ReelFacts, TrialFacts:
		d.Facts = Facts{}
		return json.Unmarshal([]byte(s), &d.Facts)
	}
	d.Look = s
	return nil
}

// load reads a document.
func load(tx *gorm.DB, o Owner) (*Document, error) {
	d := &Document{Owner: o}
	switch o.Of {
	case ShotLook, ShotFacts:
		var s Shot
		if err := tx.First(&s, o.ID).Error; err != nil {
			return nil, found(err, "shot", o.ID)
		}
		d.ReelID, d.Look, d.Encoding, d.Revision = s.ReelID, s.Look, s.Encoding, s.Revision
		d.Facts = Facts{Name: s.Name, Position: s.Position, Removed: s.Removed, SceneID: s.SceneID, Flag: s.Flag, Note: s.Note, In: s.In, Out: s.Out}
	case SceneLook, SceneFacts:
		var s Scene
		if err := tx.First(&s, o.ID).Error; err != nil {
			return nil, found(err, "scene", o.ID)
		}
		d.ReelID, d.Look, d.Revision = s.ReelID, s.Look, s.Revision
		d.Facts = Facts{Name: s.Name, Position: s.Position, Removed: s.Removed}
	case ReelLook, ReelFacts:
		var r Reel
		if err := tx.First(&r, o.ID).Error; err != nil {
			return nil, found(err, "reel", o.ID)
		}
		d.ReelID, d.Look, d.Revision = r.ID, r.Look, r.Revision
		d.Facts = Facts{Name: r.Name, Position: r.Position, Removed: r.Removed, Archived: r.Archived}
	case TrialLook, TrialFacts:
		var t Trial
		if err := tx.First(&t, o.ID).Error; err != nil {
			return nil, found(err, "trial", o.ID)
		}
		d.ReelID, d.Look, d.Encoding, d.Revision = t.ReelID, t.Look, t.Encoding, t.Revision
		d.Facts = Facts{Name: t.Name, Position: t.Position, Removed: t.Removed, Answer: t.Answer}
	default:
		return nil, fmt.Errorf("there is no part %q", o.Of)
	}
	return d, nil
}

// save writes a document.
func save(tx *gorm.DB, d *Document) error {
	f := d.Facts
	switch d.Of {
	case ShotLook:
		return tx.Model(&Shot{}).Where("id = ?", d.ID).Updates(map[string]any{"look": d.Look, "encoding": d.Encoding, "revision": d.Revision}).Error
	case SceneLook:
		return tx.Model(&Scene{}).Where("id = ?", d.ID).Updates(map[string]any{"look": d.Look, "revision": d.Revision}).Error
	case ReelLook:
		return tx.Model(&Reel{}).Where("id = ?", d.ID).Updates(map[string]any{"look": d.Look, "revision": d.Revision}).Error
	case TrialLook:
		return tx.Model(&Trial{}).Where("id = ?", d.ID).Updates(map[string]any{"look": d.Look, "encoding": d.Encoding, "revision": d.Revision}).Error
	case TrialFacts:
		return tx.Model(&Trial{}).Where("id = ?", d.ID).Updates(map[string]any{"name": f.Name, "position": f.Position, "removed": f.Removed, "answer": f.Answer}).Error
	case ShotFacts:
		return tx.Model(&Shot{}).Where("id = ?", d.ID).Updates(map[string]any{"name": f.Name, "position": f.Position, "removed": f.Removed, "scene_id": f.SceneID, "flag": f.Flag, "note": f.Note, "in": f.In, "out": f.Out}).Error
	case SceneFacts:
		return tx.Model(&Scene{}).Where("id = ?", d.ID).Updates(map[string]any{"name": f.Name, "position": f.Position, "removed": f.Removed}).Error
	}
	return tx.Model(&Reel{}).Where("id = ?", d.ID).Updates(map[string]any{"name": f.Name, "position": f.Position, "removed": f.Removed, "archived": f.Archived}).Error
}
