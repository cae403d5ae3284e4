package library

import (
	"errors"
	"path/filepath"
	"strings"
	"testing"
)

func open(t *testing.T, file string) *Library {
	t.Helper()
	l, err := Open(file)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { l.Close() })
	return l
}

func shot(t *testing.T, l *Library) *Shot {
	t.Helper()
	r := &Reel{Name: "Test", Look: "R0"}
	if err := l.AddReel(r); err != nil {
		t.Fatal(err)
	}
	return another(t, l, r.ID)
}

func another(t *testing.T, l *Library, reel uint) *Shot {
	t.Helper()
	s := &Shot{ReelID: reel, Name: "A", Path: "a.mov", Look: "L0", Start: "L0"}
	if err := l.AddShots(Author{}, "Bring in A", []*Shot{s}, nil, nil); err != nil {
		t.Fatal(err)
	}
	return s
}

// set gives the look of a shot, scene or reel another text.
func set(t *testing.T, l *Library, o Owner, gesture, look string) {
	t.Helper()
	if _, err := l.Act(Author{Gesture: gesture}, []Owner{o}, func(d *Document) (string, error) {
		d.Look = look
		if o.Of == ShotLook {
			d.Encoding = "logc3"
		}
		return "to " + look, nil
	}); err != nil {
		t.Fatal(err)
	}
}

func ofShot(s *Shot) Owner { return Owner{ShotLook, s.ID} }

// theirs keeps what is there now.
func theirs(_, _, theirs string) (string, error) { return theirs, nil }

func travel(t *testing.T, l *Library, c Chain, direction int, want string) {
	t.Helper()
	docs, err := l.Travel(c, direction, Author{}, theirs)
	if err != nil {
		t.Fatal(err)
	}
	if len(docs) != 1 || docs[0].Look != want {
		t.Fatalf("%d documents, the first %+v; want %q", len(docs), docs[0], want)
	}
}

func TestUndoAndRedoSurviveReopening(t *testing.T) {
	file := filepath.Join(t.TempDir(), "library.db")
	l := open(t, file)
	s := shot(t, l)
	set(t, l, ofShot(s), "", "L1")
	set(t, l, ofShot(s), "", "L2")
	if err := l.Close(); err != nil {
		t.Fatal(err)
	}
	l = open(t, file)
	travel(t, l, ChainOf(s), -1, "L1")
	travel(t, l, ChainOf(s), -1, "L0")
	if docs, err := l.Travel(ChainOf(s), -1, Author{}, theirs); err != nil || !docs[0].Facts.Removed {
		t.Errorf("the shot's coming is not undone: %v", err)
	}
	if _, err := l.Travel(ChainOf(s), -1, Author{}, theirs); !errors.Is(err, ErrNotFound) {
		t.Errorf("undo beyond the beginning: %v", err)
	}
	if docs, err := l.Travel(ChainOf(s), 1, Author{}, theirs); err != nil || docs[0].Facts.Removed {
		t.Errorf("the shot's coming is not done again: %v", err)
	}
	docs, err := l.Travel(ChainOf(s), 1, Author{}, theirs)
	if err != nil || docs[0].Look != "L1" || docs[0].Encoding != "logc3" {
		t.Fatalf("redo gives %+v, %v", docs[0], err)
	}
	undo, redo, err := l.Neighbours(ChainOf(s))
	if err != nil || undo.Label != "to L1" || redo.Label != "to L2" || undo.Owner != ofShot(s) {
		t.Errorf("neighbours %v and %v, %v", undo, redo, err)
	}
	set(t, l, ofShot(s), "", "L9")
	if _, err := l.Travel(ChainOf(s), 1, Author{}, theirs); !errors.Is(err, ErrNotFound) {
		t.Errorf("a new change must end the redo branch: %v", err)
	}
}

func TestOneDragIsOneStep(t *testing.T) {
	l := open(t, filepath.Join(t.TempDir(), "library.db"))
	s := shot(t, l)
	for _, look := range []string{"L1", "L2", "L3"} {
		set(t, l, ofShot(s), "drag-1", look)
	}
	set(t, l, ofShot(s), "drag-2", "L4")
	travel(t, l, ChainOf(s), -1, "L3")
	travel(t, l, ChainOf(s), -1, "L0")
}

// Undo reaches over levels in the order in which things were done, and not into the looks of other shots.
func TestUndoReachesOverLevels(t *testing.T) {
	l := open(t, filepath.Join(t.TempDir(), "library.db"))
	a := shot(t, l)
	b := another(t, l, a.ReelID)
	reel := Owner{ReelLook, a.ReelID}
	set(t, l, ofShot(a), "", "A1")
	set(t, l, ofShot(b), "", "B1")
	set(t, l, reel, "", "R1")
	set(t, l, ofShot(a), "", "A2")
	set(t, l, ofShot(b), "", "B2")
	for _, want := range []string{"A1", "R0", "L0"} {
		travel(t, l, ChainOf(a), -1, want)
	}
	for _, want := range []string{"A1", "R1", "A2"} {
		travel(t, l, ChainOf(a), 1, want)
	}
	travel(t, l, ChainOf(b), -1, "R0") // it was done again after
	travel(t, l, ChainOf(b), -1, "B1")
	if now, err := l.Shot(a.ID); err != nil || now.Look != "A2" {
		t.Errorf("the other shot is %q, %v", now.Look, err)
	}
}

// An act over many is undone as one; where something has come since, it is taken out of that, and done again there too.
func TestAnActIsUndoneWhole(t *testing.T) {
	l := open(t, filepath.Join(t.TempDir(), "library.db"))
	a := shot(t, l)
	b, c := another(t, l, a.ReelID), another(t, l, a.ReelID)
	all := []Owner{ofShot(a), ofShot(b), ofShot(c)}
	if _, err := l.Act(Author{}, all, func(d *Document) (string, error) {
		d.Look += "+x"
		return "to all", nil
	}); err != nil {
		t.Fatal(err)
	}
	if _, err := l.Act(Author{}, all[1:2], func(d *Document) (string, error) {
		d.Look += "+own"
		return "own", nil
	}); err != nil {
		t.Fatal(err)
	}
	merge := func(base, mine, theirs string) (string, error) { // a text is its parts
		if strings.HasPrefix(base, mine) {
			return strings.Replace(theirs, base[len(mine):], "", 1), nil
		}
		return theirs + mine[len(base):], nil
	}
	looks := func(want ...string) {
		t.Helper()
		for i, o := range all {
			if s, err := l.Shot(o.ID); err != nil || s.Look != want[i] {
				t.Errorf("shot %d is %q, %v; want %q", i, s.Look, err, want[i])
			}
		}
	}
	looks("L0+x", "L0+x+own", "L0+x")
	for range 2 {
		if _, err := l.Travel(ChainOf(a), -1, Author{}, merge); err != nil {
			t.Fatal(err)
		}
		looks("L0", "L0+own", "L0")
		if _, err := l.Travel(ChainOf(a), 1, Author{}, merge); err != nil {
			t.Fatal(err)
		}
		looks("L0+x", "L0+x+own", "L0+x")
	}
	// from the other shot: first its own, then the act
	if _, err := l.Travel(ChainOf(b), -1, Author{}, merge); err != nil {
		t.Fatal(err)
	}
	looks("L0+x", "L0+x", "L0+x")
	if _, err := l.Travel(ChainOf(b), -1, Author{}, merge); err != nil {
		t.Fatal(err)
	}
	looks("L0", "L0", "L0")
}

// What is meant for one change takes no other, and what fails changes nothing.
func TestActsAreWholeOrNot(t *testing.T) {
	l := open(t, filepath.Join(t.TempDir(), "library.db"))
	a := shot(t, l)
	b := another(t, l, a.ReelID)
	set(t, l, ofShot(a), "", "A1")
	undo, _, err := l.Neighbours(ChainOf(a))
	if err != nil {
		t.Fatal(err)
	}
	set(t, l, Owner{ReelLook, a.ReelID}, "", "R1")
	var old *StaleError
	if _, err := l.Travel(ChainOf(a), -1, Author{Change: undo.ID}, theirs); !errors.As(err, &old) {
		t.Errorf("an undo took another change: %v", err)
	}
	n := 0
	if _, err := l.Act(Author{}, []Owner{ofShot(a), ofShot(b)}, func(d *Document) (string, error) {
		if n++; n == 2 {
			return "", errors.New("no")
		}
		d.Look = "half"
		return "half", nil
	}); err == nil {
		t.Error("half an act was done")
	}
	if s, err := l.Shot(a.ID); err != nil || s.Look != "A1" {
		t.Errorf("half an act has left %q, %v", s.Look, err)
	}
}

// Facts of shots are the reel's to undo, from whichever shot.
func TestFactsAreUndoneFromAnyShot(t *testing.T) {
	l := open(t, filepath.Join(t.TempDir(), "library.db"))
	a := shot(t, l)
	b := another(t, l, a.ReelID)
	scene := &Scene{ReelID: a.ReelID, Name: "Night", Look: "S0"}
	if err := l.AddScene(Author{}, "Scene Night", scene, []Owner{{ShotFacts, a.ID}}, func(d *Document) (string, error) {
		d.Facts.SceneID = scene.ID
		return "Scene Night", nil
	}); err != nil {
		t.Fatal(err)
	}
	order := func(want ...uint) {
		t.Helper()
		r, err := l.Reel(a.ReelID)
		if err != nil || len(r.Shots) != len(want) {
			t.Fatalf("%d shots, %v; want %v", len(r.Shots), err, want)
		}
		for i, id := range want {
			if r.Shots[i].ID != id {
				t.Errorf("shot %d is %d, want %d", i, r.Shots[i].ID, id)
			}
		}
	}
	order(a.ID, b.ID)
	if _, err := l.Act(Author{}, []Owner{{ShotFacts, a.ID}}, func(d *Document) (string, error) {
		d.Facts.Removed = true
		return "Remove A", nil
	}); err != nil {
		t.Fatal(err)
	}
	order(b.ID)
	if _, err := l.Travel(ChainOf(b), -1, Author{}, theirs); err != nil {
		t.Fatal(err)
	}
	order(a.ID, b.ID)
	docs, err := l.Travel(ChainOf(b), -1, Author{}, theirs)
	if err != nil || len(docs) != 2 {
		t.Fatalf("the scene's act has %d documents, %v", len(docs), err)
	}
	if r, err := l.Reel(a.ReelID); err != nil || len(r.Scenes) != 0 || r.Shots[0].SceneID != 0 {
		t.Errorf("the scene is still there: %+v, %v", r, err)
	}
}

func TestMissingThingsAreNotFound(t *testing.T) {
	l := open(t, filepath.Join(t.TempDir(), "library.db"))
	if _, err := l.Shot(5); !errors.Is(err, ErrNotFound) {
		t.Error(err)
	}
	if _, err := l.Delivery(5); !errors.Is(err, ErrNotFound) {
		t.Error(err)
	}
	for _, of := range []Part{ShotLook, SceneFacts, ReelLook} {
		if _, err := l.Act(Author{}, []Owner{{of, 5}}, nil); !errors.Is(err, ErrNotFound) {
			t.Error(err)
		}
	}
}
