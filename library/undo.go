package library

import (
	"fmt"
	"strings"

	"gorm.io/gorm"
)

// Chain is what undo reaches from where a person stands: the looks of a shot, its scene and its reel, the facts of their trials,
// those of all else that the reel holds, and what was done to other shots from this one. Without a shot it is the reel's; without a reel it is the facts of all reels: the page of reels.
type Chain struct{ Shot, Scene, Reel uint }

// ChainOf is that of a shot.
func ChainOf(s *Shot) Chain { return Chain{s.ID, s.SceneID, s.ReelID} }

// within selects the changes that a chain reaches.
func (c Chain) within(tx *gorm.DB) *gorm.DB {
	if c.Reel == 0 {
		return tx.Where("owner = ?", ReelFacts)
	}
	trials := tx.Session(&gorm.Session{NewDB: true}).Model(&Trial{}).Select("id").Where("reel_id = ? AND (owner = ? AND owner_id = ? OR owner = ? AND owner_id = ? OR owner = ?)", c.Reel,
		ShotLook, c.Shot, SceneLook, c.Scene, ReelLook)
	return tx.Where("reel_id = ? AND (owner IN ? OR owner = ? AND owner_id = ? OR owner = ? AND owner_id = ? OR owner = ? OR owner = ? AND owner_id IN (?) OR origin <> 0 AND origin = ?)", c.Reel,
		[]Part{ShotFacts, SceneFacts, ReelFacts}, ShotLook, c.Shot, SceneLook, c.Scene, ReelLook, TrialFacts, trials, c.Shot)
}

// ends are the changes that undo and redo would begin with: the latest that is done, and the latest undone if nothing has been
// done since.
func (c Chain) ends(tx *gorm.DB, columns ...string) (undo, redo *Change, err error) {
	latest := func(done bool) (*Change, error) {
		var list []Change
		q := c.within(tx).Where("done = ?", done)
		if len(columns) > 0 {
			q = q.Select(columns)
		}
		err := q.Order("tick DESC").Limit(1).Find(&list).Error
		if err != nil || len(list) == 0 {
			return nil, err
		}
		return &list[0], nil
	}
	if undo, err = latest(true); err != nil {
		return nil, nil, err
	}
	if redo, err = latest(false); err != nil {
		return nil, nil, err
	}
	if redo == nil {
		return undo, nil, nil
	}
	var since int64
	if err := c.within(tx).Model(&Change{}).Where("done AND made > ?", redo.Tick).Count(&since).Error; err != nil {
		return nil, nil, err
	}
	if since > 0 {
		redo = nil
	}
	return undo, redo, nil
}

// Neighbour is a change that undo or redo would touch: its label, the window whose it is, and whose past it is in.
type Neighbour struct {
	ID            uint
	Label, Window string
	Owner         Owner
}

// Neighbours returns the changes that undo and redo would touch, empty where there is none.
func (l *Library) Neighbours(c Chain) (undo, redo Neighbour, err error) {
	u, r, err := c.ends(l.db, "id", "tick", "label", "window", "owner", "owner_id")
	if err != nil {
		return undo, redo, err
	}
	for at, x := range map[*Neighbour]*Change{&undo: u, &redo: r} {
		if x != nil {
			*at = Neighbour{x.ID, x.Label, x.Window, Owner{x.Owner, x.OwnerID}}
		}
	}
	return undo, redo, nil
}

// Before is the last change of a look that a chain reaches, as it was before it: its owner's text and encoding; nil for none.
func (l *Library) Before(c Chain) (*Document, error) {
	var list []Change
	q := c.within(l.db).Where("done AND owner IN ?", []Part{ShotLook, SceneLook, ReelLook})
	if err := q.Order("tick DESC").Limit(1).Find(&list).Error; err != nil || len(list) == 0 {
		return nil, err
	}
	d := &Document{Owner: Owner{list[0].Owner, list[0].OwnerID}, Look: list[0].Before}
	d.Encoding, _ = splitEncoded(list[0].Encoded)
	return d, nil
}

// Merge joins two changes of one text: what mine changed of base goes into theirs, where theirs is as base was.
type Merge func(base, mine, theirs string) (string, error)

// Travel undoes (−1) or redoes (+1) the chain's latest act, wherever it reached, and returns the documents that it
// touched. What has been changed since at other places stays: there the act is taken out of what came after it by merge, as a
// change of its own. It reports ErrNotFound at either end. If by names a change, and another's turn it is, or gives a revision that the shot no
// longer has, nothing is done (StaleError).
func (l *Library) Travel(c Chain, direction int, by Author, merge Merge) ([]*Document, error) {
	var out []*Document
	err := l.db.Transaction(func(tx *gorm.DB) error {
		out = nil
		if by.Revision != nil && c.Shot != 0 {
			d, err := load(tx, Owner{ShotLook, c.Shot})
			if err != nil {
				return err
			}
			if *by.Revision != d.Revision {
				return stale(tx, d, *by.Revision)
			}
		}
		undo, redo, err := c.ends(tx)
		if err != nil {
			return err
		}
		first := undo
		if direction > 0 {
			first = redo
		}
		if first == nil {
			return fmt.Errorf("nothing to go to: %w", ErrNotFound)
		}
		if by.Change != 0 && by.Change != first.ID {
			e := &StaleError{Name: "This"}
			if undo != nil && by.Change < undo.ID {
				e.Since = []string{undo.Label}
			}
			return e
		}
		k, err := newClock(tx)
		if err != nil {
			return err
		}
		acts := []Change{*first}
		if first.Act != 0 {
			q := tx.Where("act = ?", first.Act)
			if direction > 0 {
				q = tx.Where("act = ? OR inverse = ? AND done", first.Act, first.Act)
			}
			if err := q.Order("id").Find(&acts).Error; err != nil {
				return err
			}
		}
		for i := range acts {
			d, err := k.travel(tx, &acts[i], direction, by, merge)
			if err != nil {
				return err
			}
			if d != nil {
				out = append(out, d)
			}
		}
		return nil
	})
	return out, writeProblem(err)
}

// travel undoes or redoes one change of an act; it returns its document, nil if there was nothing to do.
func (k *clock) travel(tx *gorm.DB, c *Change, direction int, by Author, merge Merge) (*Document, error) {
	back := direction < 0 || c.Inverse != 0 // an inverse is undone for its act to be done again
	if c.Done != back {
		return nil, nil
	}
	d, err := load(tx, Owner{c.Owner, c.OwnerID})
	if err != nil {
		return nil, err
	}
	others := past(tx, d.Owner).Model(&Change{})
	if back {
		others = others.Where("done AND seq > ?", c.Seq)
	} else {
		others = others.Where("NOT done AND seq < ?", c.Seq)
	}
	var between int64
	if err := others.Count(&between).Error; err != nil {
		return nil, err
	}
	if between > 0 && !back {
		return nil, nil // what was undone before it comes first
	}
	if between > 0 {
		return d, k.takeOut(tx, c, d, by, merge)
	}
	before, after := splitEncoded(c.Encoded)
	text, encoding := c.After, after
	if back {
		text, encoding = c.Before, before
	}
	if err := d.setText(text); err != nil {
		return nil, err
	}
	d.Encoding = encoding
	d.Revision++
	if c.Inverse != 0 && direction > 0 {
		err = tx.Delete(c).Error
	} else {
		err = tx.Model(c).Updates(map[string]any{"done": !back, "tick": k.next()}).Error
	}
	if err != nil {
		return nil, err
	}
	return d, save(tx, d)
}

// takeOut takes a change back that others have come after, as a change of its own.
func (k *clock) takeOut(tx *gorm.DB, c *Change, d *Document, by Author, merge Merge) error {
	is, err := d.text()
	if err != nil {
		return err
	}
	text, err := merge(c.After, c.Before, is)
	if err != nil {
		return err
	}
	before, after := splitEncoded(c.Encoded)
	was := d.Encoding
	if d.Encoding == after {
		d.Encoding = before
	}
	if text == is && d.Encoding == was {
		return nil
	}
	if err := past(tx, d.Owner).Where("done = ?", false).Delete(&Change{}).Error; err != nil {
		return err
	}
	seq, err := next(tx, d.Owner)
	if err != nil {
		return err
	}
	d.Revision++
	act, tick := k.next(), k.next()
	n := Change{Owner: d.Of, OwnerID: d.ID, ReelID: d.ReelID, Seq: seq, Act: act, Tick: tick, Made: tick, Done: true, Label: "Take back " + c.Label, Window: by.Window, Origin: c.Origin, Revision: d.Revision,
		Before: is, After: text, Encoded: was + "/" + d.Encoding, At: now()}
	if c.Inverse == 0 {
		n.Inverse = c.Act
	} else {
		n.Label = strings.TrimPrefix(c.Label, "Take back ")
	}
	if err := tx.Create(&n).Error; err != nil {
		return err
	}
	if err := d.setText(text); err != nil {
		return err
	}
	return save(tx, d)
}
