package library

import (
	"fmt"
	"strings"

	"gorm.io/gorm"
)

// Author says whose a change is.
type Author struct {
	// Gesture joins the changes of one drag into one step, also when another window's come between.
	Gesture string
	// Window is the window that makes the change.
	Window string
	// Revision, if not nil, is what that of the look must be for the change to be made.
	Revision *int
	// Origin is a shot from which others are changed: undo reaches that from there too.
	Origin uint
	// Change, if not 0, is the change that undo or redo is meant for.
	Change uint
}

// StaleError says that something has changed since the revision that a change was meant for.
type StaleError struct {
	Name string
	// Since are the labels of what has been changed since, oldest first.
	Since []string
}

func (e *StaleError) Error() string {
	what := "taken back or done again"
	if len(e.Since) > 0 {
		what = strings.Join(e.Since, ", ")
	}
	return fmt.Sprintf("%s has changed in another window (%s); look at it as it is now, then try again", e.Name, what)
}

// longestFold is how many steps back a gesture is looked for: as many as there may be windows that drag at once.
const longestFold = 8

// Act changes documents in one transaction and records it, as one thing that is undone as one; what had been undone of them is
// forgotten. change is asked for each in turn and returns a label. With a gesture and one owner it must follow from the document
// alone, for it is also asked what it makes of the document between two changes of its gesture. A revision is that of the
// first owner. Act returns the documents as they are then.
func (l *Library) Act(by Author, owners []Owner, change func(d *Document) (label string, err error)) ([]*Document, error) {
	var out []*Document
	err := l.db.Transaction(func(tx *gorm.DB) error {
		out = nil
		k, err := newClock(tx)
		if err != nil {
			return err
		}
		act := k.next()
		for i, o := range owners {
			d, err := load(tx, o)
			if err != nil {
				return err
			}
			if by.Revision != nil && i == 0 && *by.Revision != d.Revision {
				return stale(tx, d, *by.Revision)
			}
			if err := k.record(tx, act, by, d, change, len(owners) == 1); err != nil {
				return err
			}
			out = append(out, d)
		}
		return nil
	})
	return out, writeProblem(err)
}

// clock gives the moments of changes, each later than all that were.
type clock struct{ last uint }

func newClock(tx *gorm.DB) (*clock, error) {
	k := &clock{}
	err := tx.Model(&Change{}).Select("coalesce(max(tick), 0)").Scan(&k.last).Error
	return k, err
}

func (k *clock) next() uint {
	k.last++
	return k.last
}

// record makes a change of a document and writes it down.
func (k *clock) record(tx *gorm.DB, act uint, by Author, d *Document, change func(*Document) (string, error), alone bool) error {
	before, err := d.text()
	if err != nil {
		return err
	}
	was := d.Encoding
	then := *d
	label, err := change(&then)
	if err != nil {
		return err
	}
	after, err := then.text()
	if err != nil || after == before && then.Encoding == was {
		return err
	}
	if err := past(tx, d.Owner).Where("done = ?", false).Delete(&Change{}).Error; err != nil {
		return err
	}
	*d = then
	d.Revision++
	joined := false
	if alone {
		if joined, err = k.fold(tx, d, by, change); err != nil {
			return err
		}
	}
	if !joined {
		seq, err := next(tx, d.Owner)
		if err != nil {
			return err
		}
		tick := k.next()
		c := Change{Owner: d.Of, OwnerID: d.ID, ReelID: d.ReelID, Seq: seq, Act: act, Tick: tick, Made: tick, Done: true, Label: label, Gesture: by.Gesture, Window: by.Window, Origin: by.Origin, Revision: d.Revision,
			Before: before, After: after, Encoded: was + "/" + d.Encoding, At: now()}
		if err := tx.Create(&c).Error; err != nil {
			return err
		}
	}
	return save(tx, d)
}

// began writes down that something has come: undone, it is removed.
func (k *clock) began(tx *gorm.DB, act uint, by Author, label string, o Owner) error {
	d, err := load(tx, o)
	if err != nil {
		return err
	}
	after, err := d.text()
	if err != nil {
		return err
	}
	d.Facts.Removed = true
	before, err := d.text()
	if err != nil {
		return err
	}
	tick := k.next()
	return tx.Create(&Change{Owner: o.Of, OwnerID: o.ID, ReelID: d.ReelID, Act: act, Tick: tick, Made: tick, Done: true, Label: label, Window: by.Window, Before: before, After: after, Encoded: d.Encoding, At: now()}).Error
}

// past are the changes of an owner.
func past(tx *gorm.DB, o Owner) *gorm.DB { return tx.Where("owner = ? AND owner_id = ?", o.Of, o.ID) }

// next is the place of the next change in an owner's past, of which nothing is undone.
func next(tx *gorm.DB, o Owner) (seq int, err error) {
	err = past(tx, o).Model(&Change{}).Select("coalesce(max(seq), -1) + 1").Scan(&seq).Error
	return seq, err
}

// stale is the error for what has gone on since a revision.
func stale(tx *gorm.DB, d *Document, since int) error {
	e := &StaleError{Name: d.Facts.Name}
	var list []Change
	if err := past(tx, d.Owner).Where("revision > ? AND done", since).Order("seq").Limit(5).Find(&list).Error; err != nil {
		return err
	}
	for _, c := range list {
		e.Since = append(e.Since, c.Label)
	}
	return e
}

// fold puts a change into the step of its gesture, if there is one among the last few: what came after that step is
// made anew on top of it. It reports whether it did.
func (k *clock) fold(tx *gorm.DB, d *Document, by Author, change func(*Document) (string, error)) (bool, error) {
	if by.Gesture == "" {
		return false, nil
	}
	var list []Change
	if err := past(tx, d.Owner).Order("seq DESC").Limit(longestFold).Find(&list).Error; err != nil {
		return false, err
	}
	for i, j := 0, len(list)-1; i < j; i, j = i+1, j-1 {
		list[i], list[j] = list[j], list[i]
	}
	for len(list) > 0 && list[0].Gesture != by.Gesture {
		list = list[1:]
	}
	if len(list) == 0 {
		return false, nil
	}
	for i := range list {
		c := &list[i]
		if i > 0 {
			c.Before = list[i-1].After
		}
		before, after := splitEncoded(c.Encoded)
		if i > 0 {
			_, before = splitEncoded(list[i-1].Encoded)
		}
		then := *d
		then.Encoding = after
		if err := then.setText(c.After); err != nil {
			return false, err
		}
		if _, err := change(&then); err != nil {
			return false, nil // it does not fit in there: it is a step of its own
		}
		text, err := then.text()
		if err != nil {
			return false, err
		}
		c.After, c.Encoded, c.At = text, before+"/"+then.Encoding, now()
	}
	list[0].Revision = d.Revision
	for i := range list {
		if err := tx.Save(&list[i]).Error; err != nil {
			return false, err
		}
	}
	return true, nil
}

func splitEncoded(s string) (before, after string) {
	before, after, ok := strings.Cut(s, "/")
	if !ok {
		return s, s
	}
	return before, after
}
