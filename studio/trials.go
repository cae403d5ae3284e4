package studio

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"velours/core/look"
	"velours/library"
)

// TrialsOf lists the trials of a shot and of the levels above it, nearest first.
func (s *Sessions) TrialsOf(shot *library.Shot) ([]library.Trial, error) { return s.trialsOf(shot) }

func (s *shared) trialsOf(shot *library.Shot) ([]library.Trial, error) {
	owners := ownersOf(shot)
	list, err := s.lib.Trials(owners...)
	slices.SortStableFunc(list, func(a, b library.Trial) int {
		return slices.Index(owners, a.Of()) - slices.Index(owners, b.Of())
	})
	return list, err
}

// ownersOf are whose looks make a shot's picture, nearest first.
func ownersOf(shot *library.Shot) []library.Owner {
	list := []library.Owner{{Of: library.ShotLook, ID: shot.ID}}
	if shot.SceneID != 0 {
		list = append(list, library.Owner{Of: library.SceneLook, ID: shot.SceneID})
	}
	return append(list, library.Owner{Of: library.ReelLook, ID: shot.ReelID})
}

// TrialLevel is the level at which a trial is.
func TrialLevel(t *library.Trial) look.Level { return look.Level(t.Owner) }

// AddTrial keeps what a level of a shot has now as a trial, and goes on in a new one that begins as it is. The first of a level
// makes two: that which is there, and the new one.
func (s *Sessions) AddTrial(id uint, level look.Level, by library.Author) (*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	o, err := owner(shot, level)
	if err != nil {
		return nil, err
	}
	have, err := s.lib.Trials(o)
	if err != nil {
		return nil, err
	}
	if len(have) >= mostTrials {
		return nil, Bad("there are %d trials already; remove one first", mostTrials)
	}
	names := map[string]bool{}
	for _, t := range have {
		names[t.Name] = true
	}
	fresh := func() *library.Trial {
		n := 1
		for names[fmt.Sprintf("Trial %d", n)] {
			n++
		}
		t := &library.Trial{Owner: o.Of, OwnerID: o.ID, Name: fmt.Sprintf("Trial %d", n)}
		names[t.Name] = true
		return t
	}
	left, err := s.inUse(shot, o, have)
	if err != nil {
		return nil, err
	}
	var add []*library.Trial
	owners := []library.Owner{o}
	if left == nil {
		add = append(add, fresh())
	} else {
		owners = append(owners, library.Owner{Of: library.TrialLook, ID: left.ID})
	}
	begun := fresh()
	add = append(add, begun)
	label := "Begin " + begun.Name
	var was library.Document
	err = s.lib.AddTrials(by, label, add, owners, func(d *library.Document) (string, error) {
		if d.Owner != o {
			d.Look, d.Encoding = was.Look, was.Encoding
			return label, nil
		}
		was = *d
		if err := stillIn(d, left); err != nil {
			return "", err
		}
		return label, inTrial(d, d.Look, d.Encoding, begun.Number)
	})
	if err != nil {
		return nil, err
	}
	s.tell(Event{Reels: true})
	return s.lib.Shot(id)
}

// mostTrials is how many trials a look may have.
const mostTrials = 50

// inUse is the trial of a level that is in use, nil for none.
func (s *Sessions) inUse(shot *library.Shot, o library.Owner, list []library.Trial) (*library.Trial, error) {
	v, err := s.levelsOf(shot, nil)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if list[i].Of() == o && list[i].Number == v.At(look.Level(o.Of)).Trial {
			return &list[i], nil
		}
	}
	return nil, nil
}

// stillIn is an error if a document is no longer in the trial that is to be left, for another window was quicker: what is there now
// would be kept as that trial, in place of its own.
func stillIn(d *library.Document, left *library.Trial) error {
	l, err := look.ParseStored([]byte(d.Look))
	if err != nil {
		return err
	}
	if left != nil && l.Trial != left.Number {
		return &library.StaleError{Name: d.Facts.Name, Since: []string{"another trial put in use"}}
	}
	return nil
}

// inTrial gives a document the look of a trial, which was kept under an encoding.
func inTrial(d *library.Document, text, encoding string, number int) error {
	l, err := look.ParseStored([]byte(text))
	if err != nil {
		return err
	}
	if encoding != d.Encoding { // the shot has been declared otherwise since
		e, err := encodingOf(d.Encoding)
		if err == nil && e != nil {
			err = enclose(l, e)
		}
		if err != nil {
			return err
		}
	}
	l.Trial = number
	d.Look, err = marshal(l)
	return err
}

// UseTrial puts a trial of a shot, or of a level above it, in use, as one act; the one that is left keeps what there is.
func (s *Sessions) UseTrial(id, trial uint, by library.Author) (*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	to, err := s.trialFor(shot, trial)
	if err != nil {
		return nil, err
	}
	return shot, s.useTrial(shot, to, nil, by)
}

// trialFor finds a trial of a shot or of a level above it.
func (s *Sessions) trialFor(shot *library.Shot, id uint) (*library.Trial, error) {
	t, err := s.lib.Trial(id)
	if err != nil {
		return nil, err
	}
	if t.Removed || !slices.Contains(ownersOf(shot), t.Of()) {
		return nil, Bad("%s is no trial of %s", t.Name, shot.Name)
	}
	return t, nil
}

// useTrial is UseTrial, which may remove the trial that is left.
func (s *Sessions) useTrial(shot *library.Shot, to, remove *library.Trial, by library.Author) error {
	o := to.Of()
	list, err := s.lib.Trials(o)
	if err != nil {
		return err
	}
	left, err := s.inUse(shot, o, list)
	if err != nil {
		return err
	}
	if left != nil && left.ID == to.ID {
		return nil
	}
	owners := []library.Owner{o}
	if left != nil {
		owners = append(owners, library.Owner{Of: library.TrialLook, ID: left.ID})
	}
	label := "Use " + to.Name
	if remove != nil {
		owners = append(owners, library.Owner{Of: library.TrialFacts, ID: remove.ID})
		label = "Remove " + remove.Name
	}
	var was library.Document
	return s.act(by, owners, func(d *library.Document) (string, error) {
		switch d.Of {
		case library.TrialFacts:
			d.Facts.Removed = true
			return label, nil
		case library.TrialLook:
			d.Look, d.Encoding = was.Look, was.Encoding
			return label, nil
		}
		was = *d
		if err := stillIn(d, left); err != nil {
			return "", err
		}
		return label, inTrial(d, to.Look, to.Encoding, to.Number)
	})
}

// TrialChange is what is to be changed of a trial; what is nil stays.
type TrialChange struct {
	Name *string `json:"name,omitempty"`
	// Answer marks it as the chosen one, which it is then alone, or no longer.
	Answer *bool `json:"answer,omitempty"`
	// Removed takes it away. Where it is in use, the next one is then.
	Removed *bool `json:"removed,omitempty"`
}

// ChangeTrial names, marks or removes a trial of a shot or of a level above it.
func (s *Sessions) ChangeTrial(id, trial uint, c TrialChange, by library.Author) (*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	t, err := s.trialFor(shot, trial)
	if err != nil {
		return nil, err
	}
	if c.Name != nil {
		name, err := nameOf("trial", *c.Name)
		if err != nil {
			return nil, err
		}
		c.Name = &name
	}
	list, err := s.lib.Trials(t.Of())
	if err != nil {
		return nil, err
	}
	if c.Removed != nil && *c.Removed {
		used, err := s.inUse(shot, t.Of(), list)
		if err != nil {
			return nil, err
		}
		if at := slices.IndexFunc(list, func(x library.Trial) bool { return x.ID == t.ID }); used != nil && used.ID == t.ID && len(list) > 1 {
			next := at + 1
			if next == len(list) {
				next = at - 1
			}
			to, err := s.lib.Trial(list[next].ID)
			if err != nil {
				return nil, err
			}
			return shot, s.useTrial(shot, to, t, by)
		}
	}
	owners := []library.Owner{{Of: library.TrialFacts, ID: t.ID}}
	if c.Answer != nil && *c.Answer {
		for _, x := range list {
			if x.Answer && x.ID != t.ID {
				owners = append(owners, library.Owner{Of: library.TrialFacts, ID: x.ID})
			}
		}
	}
	return shot, s.act(by, owners, func(d *library.Document) (string, error) {
		f := &d.Facts
		if d.ID != t.ID {
			f.Answer = false
			return t.Name + " is the answer", nil
		}
		label := "Change " + t.Name
		if c.Name != nil {
			f.Name, label = *c.Name, "Name "+*c.Name
		}
		if c.Removed != nil {
			f.Removed, label = *c.Removed, "Remove "+t.Name
		}
		if c.Answer != nil {
			f.Answer = *c.Answer
			if label = t.Name + " is the answer"; !*c.Answer {
				label = t.Name + " is no answer"
			}
		}
		return label, nil
	})
}

// withTrial is a shot's levels with a trial in use, beside those that stand in place of what is kept.
func (s *Sessions) withTrial(v look.Levels, shot *library.Shot, t *library.Trial) (look.Levels, error) {
	level := TrialLevel(t)
	if v.At(level).Trial == t.Number { // it is in use: as it is now
		return v, nil
	}
	d := library.Document{Owner: t.Of(), Encoding: shot.Encoding}
	encoding := t.Encoding
	if level != look.OfShot {
		encoding = shot.Encoding
	}
	if err := inTrial(&d, t.Look, encoding, t.Number); err != nil {
		return v, fmt.Errorf("the trial %s: %w", t.Name, err)
	}
	l, err := parse(d.Look)
	return v.With(level, l), err
}

// underTrial shows the shot under a trial.
func (s *Sessions) underTrial(ctx context.Context, v View, id uint) (*Shown, error) {
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	t, err := s.trialFor(shot, id)
	if err != nil {
		return nil, err
	}
	hide := v.Hide
	v.Hide = look.HideNothing
	levels, err := s.levels(&v, shot)
	if err != nil {
		return nil, err
	}
	if levels, err = s.withTrial(levels, shot, t); err != nil {
		return nil, err
	}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	c.levels = levels.Without(hide)
	c.look = c.levels.Whole()
	return s.plain(ctx, c, c.look)
}

// heldTrials words which trials a shot is in, with the levels above it: "Warm, the answer; scene: Trial 2".
func (s *shared) heldTrials(shot *library.Shot) (string, error) {
	list, err := s.trialsOf(shot)
	if err != nil || len(list) == 0 {
		return "", err
	}
	v, err := s.levelsOf(shot, nil)
	if err != nil {
		return "", err
	}
	var out []string
	for i := range list {
		t := &list[i]
		if level := TrialLevel(t); v.At(level) != nil && v.At(level).Trial == t.Number {
			out = append(out, trialWords(t))
		}
	}
	return strings.Join(out, "; "), nil
}

// trialWords is a trial by its name, with its level where that is not the shot, and whether it is the answer.
func trialWords(t *library.Trial) string {
	name := t.Name
	if level := TrialLevel(t); level != look.OfShot {
		name = string(level) + ": " + name
	}
	if t.Answer {
		name += ", the answer"
	}
	return name
}
