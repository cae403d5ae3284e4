package library

import (
	"errors"
	"path/filepath"
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
	r := &Reel{Name: "Test"}
	if err := l.AddReel(r); err != nil {
		t.Fatal(err)
	}
	s := &Shot{ReelID: r.ID, Name: "A", Path: "a.mov", Look: "L0", Start: "L0"}
	if err := l.AddShot(s); err != nil {
		t.Fatal(err)
	}
	return s
}

func set(t *testing.T, l *Library, id uint, gesture, look string) {
	t.Helper()
	if _, err := l.Apply(id, Author{Gesture: gesture}, func(*Shot) (string, string, string, error) { return look, "logc3", "to " + look, nil }); err != nil {
		t.Fatal(err)
	}
}

func TestUndoAndRedoSurviveReopening(t *testing.T) {
	file := filepath.Join(t.TempDir(), "library.db")
	l := open(t, file)
	s := shot(t, l)
	set(t, l, s.ID, "", "L1")
	set(t, l, s.ID, "", "L2")
	if err := l.Close(); err != nil {
		t.Fatal(err)
	}
	l = open(t, file)
	for _, want := range []string{"L1", "L0"} {
		got, err := l.Travel(s.ID, -1, Author{})
		if err != nil || got.Look != want {
			t.Fatalf("undo gives %q, %v; want %q", got.Look, err, want)
		}
	}
	if _, err := l.Travel(s.ID, -1, Author{}); !errors.Is(err, ErrNotFound) {
		t.Errorf("undo beyond the beginning: %v", err)
	}
	got, err := l.Travel(s.ID, 1, Author{})
	if err != nil || got.Look != "L1" || got.Encoding != "logc3" {
		t.Fatalf("redo gives %q %q, %v", got.Look, got.Encoding, err)
	}
	undo, redo, err := l.Neighbours(got)
	if err != nil || undo.Label != "to L1" || redo.Label != "to L2" {
		t.Errorf("neighbours %v and %v, %v", undo, redo, err)
	}
	set(t, l, s.ID, "", "L9")
	if _, err := l.Travel(s.ID, 1, Author{}); !errors.Is(err, ErrNotFound) {
		t.Errorf("a new change must end the redo branch: %v", err)
	}
}

func TestOneDragIsOneStep(t *testing.T) {
	l := open(t, filepath.Join(t.TempDir(), "library.db"))
	s := shot(t, l)
	for _, look := range []string{"L1", "L2", "L3"} {
		set(t, l, s.ID, "drag-1", look)
	}
	set(t, l, s.ID, "drag-2", "L4")
	if got, err := l.Travel(s.ID, -1, Author{}); err != nil || got.Look != "L3" {
		t.Fatalf("undo gives %q, %v", got.Look, err)
	}
	if got, err := l.Travel(s.ID, -1, Author{}); err != nil || got.Look != "L0" {
		t.Fatalf("undo of the drag gives %q, %v", got.Look, err)
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
	if _, err := l.Apply(5, Author{}, nil); !errors.Is(err, ErrNotFound) {
		t.Error(err)
	}
}
