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
	// Revision, if not nil, is what the shot's must be for the change to be made.
	Revision *int
}

// StaleError says that a shot has changed since the revision that a change was meant for.
type StaleError struct {
	Shot string
	// Since are the labels of what has been changed since, oldest first.
	Since []string
}

func (e *StaleError) Error() string {
	what := "taken back or done again"
	if len(e.Since) > 0 {
		what = strings.Join(e.Since, ", ")
	}
	return fmt.Sprintf("%s has changed in another window (%s); look at it as it is now, then try again", e.Shot, what)
}

// longestFold is how many steps back a gesture is looked for: as many as there may be windows that drag at once.
const longestFold = 8

// Apply changes a shot's look in one transaction and records the change; what had been undone is forgotten. change
// returns the new look, its encoding, and a label; it must follow from the shot's look and encoding alone, for it is
// also asked what it makes of those between two changes of its gesture.
func (l *Library) Apply(id uint, by Author, change func(s *Shot) (look, encoding, label string, err error)) (*Shot, error) {
	var s Shot
	err := l.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.First(&s, id).Error; err != nil {
			return found(err, "shot", id)
		}
		if by.Revision != nil && *by.Revision != s.Revision {
			return stale(tx, &s, *by.Revision)
		}
		look, encoding, label, err := change(&s)
		if err != nil {
			return err
		}
		if look == s.Look && encoding == s.Encoding {
			return nil
		}
		if err := tx.Where("shot_id = ? AND seq >= ?", id, s.Cursor).Delete(&Change{}).Error; err != nil {
			return err
		}
		s.Revision++
		joined, err := fold(tx, &s, by, change)
		if err != nil {
			return err
		}
		if !joined {
			c := Change{ShotID: id, Seq: s.Cursor, Label: label, Gesture: by.Gesture, Window: by.Window, Revision: s.Revision, Before: s.Look, After: look, Encoded: s.Encoding + "/" + encoding, At: now()}
			if err := tx.Create(&c).Error; err != nil {
				return err
			}
			s.Cursor++
		}
		s.Look, s.Encoding = look, encoding
		return tx.Save(&s).Error
	})
	return &s, writeProblem(err)
}

// stale is the error for a shot that has gone on since a revision.
func stale(tx *gorm.DB, s *Shot, since int) error {
	e := &StaleError{Shot: s.Name}
	var list []Change
	if err := tx.Where("shot_id = ? AND revision > ? AND seq < ?", s.ID, since, s.Cursor).Order("seq").Limit(5).Find(&list).Error; err != nil {
		return err
	}
	for _, c := range list {
		e.Since = append(e.Since, c.Label)
	}
	return e
}

// fold puts a change into the step of its gesture, if there is one among the last few: what came after that step is
// made anew on top of it. It reports whether it did.
func fold(tx *gorm.DB, s *Shot, by Author, change func(s *Shot) (look, encoding, label string, err error)) (bool, error) {
	if by.Gesture == "" {
		return false, nil
	}
	var list []Change
	if err := tx.Where("shot_id = ? AND seq < ? AND seq >= ?", s.ID, s.Cursor, s.Cursor-longestFold).Order("seq").Find(&list).Error; err != nil {
		return false, err
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
		then := *s
		then.Look, then.Encoding = c.After, after
		look, encoding, _, err := change(&then)
		if err != nil {
			return false, nil // it does not fit in there: it is a step of its own
		}
		c.After, c.Encoded, c.At = look, before+"/"+encoding, now()
	}
	list[0].Revision = s.Revision
	for i := range list {
		if err := tx.Save(&list[i]).Error; err != nil {
			return false, err
		}
	}
	return true, nil
}

// Travel undoes (−1) or redoes (+1) one change. It reports ErrNotFound at either end of the history. With a revision
// in by, a shot that has gone on since is left as it is (StaleError).
func (l *Library) Travel(id uint, direction int, by Author) (*Shot, error) {
	var s Shot
	err := l.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.First(&s, id).Error; err != nil {
			return found(err, "shot", id)
		}
		if by.Revision != nil && *by.Revision != s.Revision {
			return stale(tx, &s, *by.Revision)
		}
		at := s.Cursor
		if direction < 0 {
			at--
		}
		var c Change
		if err := tx.Where("shot_id = ? AND seq = ?", id, at).First(&c).Error; err != nil {
			return found(err, "change", uint(max(at, 0)))
		}
		before, after := splitEncoded(c.Encoded)
		if direction < 0 {
			s.Look, s.Encoding, s.Cursor = c.Before, before, s.Cursor-1
		} else {
			s.Look, s.Encoding, s.Cursor = c.After, after, s.Cursor+1
		}
		s.Revision++
		return tx.Save(&s).Error
	})
	return &s, writeProblem(err)
}

func splitEncoded(s string) (before, after string) {
	before, after, ok := strings.Cut(s, "/")
	if !ok {
		return s, s
	}
	return before, after
}

// Neighbour is a change that undo or redo would touch: its label and the window whose it is.
type Neighbour struct{ Label, Window string }

// Neighbours returns the changes that undo and redo would touch, empty where there is none.
func (l *Library) Neighbours(s *Shot) (undo, redo Neighbour, err error) {
	var c []Change
	err = l.db.Select("seq", "label", "window").Where("shot_id = ? AND seq IN ?", s.ID, []int{s.Cursor - 1, s.Cursor}).Find(&c).Error
	for _, x := range c {
		n := Neighbour{x.Label, x.Window}
		if x.Seq == s.Cursor {
			redo = n
		} else {
			undo = n
		}
	}
	return undo, redo, err
}
