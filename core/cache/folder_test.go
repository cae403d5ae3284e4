package cache

import (
	"bytes"
	"errors"
	"os"
	"path/filepath"
	"testing"
	"time"
)

// What was computed once is read by the next program of the same build, and by no other; damage is computed anew.
func TestFolderKeepsResults(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "tables")
	defer func() { Disk = nil }()
	computed := 0
	get := func(build, key string) string {
		t.Helper()
		Disk = NewFolder(dir, build, 1<<20)
		r := Results[string]{Size: 4} // a program of its own
		v, err := r.GetStored("words", key, func(s string) []byte { return []byte(s) }, func(b []byte) (string, bool) { return string(b), len(b) > 0 },
			func() (string, error) { computed++; return "made of " + key, nil })
		if err != nil || v != "made of "+key {
			t.Fatalf("%s: %q, %v", key, v, err)
		}
		return v
	}
	for i, c := range []struct {
		build, key string
		computed   int
	}{{"a", "x", 1}, {"a", "x", 1}, {"a", "y", 2}, {"b", "x", 3}, {"a", "x", 3}} {
		if get(c.build, c.key); computed != c.computed {
			t.Errorf("%d: computed %d times, want %d", i, computed, c.computed)
		}
	}
	list, err := os.ReadDir(dir)
	if err != nil || len(list) != 3 {
		t.Fatalf("%d files, want 3 (%v)", len(list), err)
	}
	for _, e := range list {
		name := filepath.Join(dir, e.Name())
		data, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		data[len(data)-1]++
		if err := os.WriteFile(name, data, 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if get("a", "x"); computed != 4 {
		t.Error("a damaged file was believed")
	}
	if get("a", "x"); computed != 4 {
		t.Error("a damaged file was not replaced")
	}
	Disk = NewFolder(filepath.Join(dir, list[0].Name(), "below a file"), "a", 1<<20)
	r := Results[string]{Size: 1}
	if v, err := r.GetStored("words", "x", func(s string) []byte { return []byte(s) }, func(b []byte) (string, bool) { return string(b), true }, func() (string, error) { return "made", nil }); v != "made" || err != nil {
		t.Errorf("where nothing can be kept: %q, %v", v, err)
	}
	failed := errors.New("failed")
	if _, err := r.GetStored("words", "z", nil, nil, func() (string, error) { return "", failed }); !errors.Is(err, failed) {
		t.Errorf("a computation that fails: %v", err)
	}
}

// The folder stays below its limit: what was used longest ago goes, and what a killed program has left.
func TestFolderIsTidied(t *testing.T) {
	dir := t.TempDir()
	data := bytes.Repeat([]byte("x"), 1000)
	for i, key := range []string{"a", "b", "c", "d"} {
		f := NewFolder(dir, "", 1<<20)
		f.Save(key, data)
		then := time.Now().Add(time.Duration(i-10) * time.Hour)
		if err := os.Chtimes(f.file(key), then, then); err != nil {
			t.Fatal(err)
		}
	}
	half := filepath.Join(dir, "1"+halfEnding)
	if err := os.WriteFile(half, data, 0o644); err != nil {
		t.Fatal(err)
	}
	then := time.Now().Add(-5 * time.Hour)
	if err := os.Chtimes(half, then, then); err != nil {
		t.Fatal(err)
	}
	f := NewFolder(dir, "", 3500)
	if f.Load("a") == nil { // used now
		t.Fatal("a is not there")
	}
	f.Save("e", data)
	for key, want := range map[string]bool{"a": true, "b": false, "c": false, "d": true, "e": true} {
		if got := f.Load(key) != nil; got != want {
			t.Errorf("%s is there: %v", key, got)
		}
	}
	if _, err := os.Stat(half); err == nil {
		t.Error("what a killed program has left is still there")
	}
}
