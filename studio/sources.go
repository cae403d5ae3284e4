package studio

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"strings"

	"velours/core/colour"
	"velours/core/look"
	"velours/library"
	"velours/media"
)

// Listing is a folder as the browser of sources shows it.
type Listing struct {
	// Folder is empty for the list of the places that may be looked into.
	Folder  string  `json:"folder"`
	Parent  string  `json:"parent"`
	Entries []Entry `json:"entries"`
}

// Entry is a folder, movie, sequence or still.
type Entry struct {
	Name   string `json:"name"`
	Path   string `json:"path"`
	Kind   string `json:"kind"`
	Frames int    `json:"frames"`
	// Missing counts the frames that a sequence lacks.
	Missing int `json:"missing"`
}

// Allow adds folders that the browser may look into and shots may come from.
func (s *Sessions) Allow(folders ...string) error {
	for _, f := range folders {
		place, err := filepath.Abs(f)
		if err == nil {
			place, err = filepath.EvalSymlinks(place)
		}
		if st, e := os.Stat(place); err != nil || e != nil || !st.IsDir() {
			return Bad("%s: is not a folder; name one that holds pictures", f)
		}
		s.roots = append(s.roots, place)
	}
	return nil
}

// uploads is where what is sent from a browser lies.
func (s *Sessions) uploads() string { return filepath.Join(s.dir, "media") }

// places are all folders that may be looked into.
func (s *Sessions) places() []string {
	list := append([]string{}, s.roots...)
	if p, err := filepath.EvalSymlinks(s.uploads()); err == nil {
		list = append(list, p)
	}
	return list
}

// allowed returns the real place of a file or folder, if it lies in one of the places.
func (s *Sessions) allowed(name string) (string, error) {
	whole, err := filepath.Abs(name)
	if err != nil || strings.ContainsRune(name, 0) {
		return "", Bad("%q: is no path; check the name", name)
	}
	real, err := filepath.EvalSymlinks(whole)
	if errors.Is(err, os.ErrNotExist) { // a sequence has no file of its name
		if real, err = filepath.EvalSymlinks(filepath.Dir(whole)); err == nil {
			real = filepath.Join(real, filepath.Base(whole))
		}
	}
	if err != nil {
		return "", Bad("%s: its folder is not there; check the name", name)
	}
	if !s.below(real) {
		return "", Bad("%s: lies outside the folders that may be looked into; start with --media %s to allow it", name, filepath.Dir(real))
	}
	return real, nil
}

// below tells whether a path without links lies in one of the places.
func (s *Sessions) below(real string) bool {
	for _, r := range s.places() {
		if real == r || strings.HasPrefix(real, strings.TrimSuffix(r, "/")+"/") {
			return true
		}
	}
	return false
}

// noLinkOut refuses a sequence of which a file is a link that leads out of the places.
func (s *Sessions) noLinkOut(pattern string) error {
	list, err := os.ReadDir(filepath.Dir(pattern))
	if err != nil {
		return Bad("%s: its folder cannot be listed; check the name", pattern)
	}
	for _, e := range list {
		file := filepath.Join(filepath.Dir(pattern), e.Name())
		if e.Type()&os.ModeSymlink == 0 || media.Pattern(file) != pattern {
			continue
		}
		if real, err := filepath.EvalSymlinks(file); err != nil || !s.below(real) {
			return Bad("%s: is a link that leads outside the folders that may be looked into; put the file itself there", file)
		}
	}
	return nil
}

// Browse lists a folder: its folders first, then what can be brought in, every sequence once.
func (s *Sessions) Browse(folder string) (*Listing, error) {
	l := &Listing{Entries: []Entry{}}
	if folder == "" {
		for _, r := range s.places() {
			l.Entries = append(l.Entries, Entry{Name: r, Path: r, Kind: "folder"})
		}
		return l, nil
	}
	real, err := s.allowed(folder)
	if err != nil {
		return nil, err
	}
	list, err := os.ReadDir(real)
	if err != nil {
		return nil, Bad("%s: cannot be listed; name a folder that may be read", folder)
	}
	l.Folder = real
	if _, err := s.allowed(filepath.Dir(real)); err == nil {
		l.Parent = filepath.Dir(real)
	}
	seen := map[string]bool{}
	for _, e := range list {
		name := e.Name()
		place := filepath.Join(real, name)
		switch {
		case strings.HasPrefix(name, "."):
		case e.IsDir():
			l.Entries = append(l.Entries, Entry{Name: name, Path: place, Kind: "folder"})
		case EditList(name):
			l.Entries = append(l.Entries, Entry{Name: name, Path: place, Kind: "list"})
		case media.Movie(name):
			l.Entries = append(l.Entries, Entry{Name: name, Path: place, Kind: "movie"})
		case media.Picture(name):
			entry := Entry{Name: name, Path: place, Kind: "still", Frames: 1}
			pattern := media.Pattern(place)
			if pattern != "" && seen[pattern] {
				continue
			}
			if _, ok := media.Recognise(place); ok {
				seen[pattern] = true
				entry.Name, entry.Path, entry.Kind = filepath.Base(pattern), pattern, "sequence"
				entry.Frames, entry.Missing = media.Count(pattern)
			}
			l.Entries = append(l.Entries, entry)
		}
	}
	sort.SliceStable(l.Entries, func(i, j int) bool { return l.Entries[i].Kind == "folder" && l.Entries[j].Kind != "folder" })
	return l, nil
}

// Added is what became of a wish to bring sources in.
type Added struct {
	Shots []*library.Shot
	// Problems are the sources that could not be read, a line each.
	Problems []string
}

// Add brings sources into the reel of a person's own shots from wherever they lie: the word of whoever
// starts the program is enough.
func (s *Sessions) Add(ctx context.Context, names []string) (*Added, error) {
	reels, err := s.lib.Reels()
	if err != nil {
		return nil, err
	}
	for _, r := range reels {
		if r.Demo {
			continue
		}
		var whole []string
		for _, n := range names {
			full, err := filepath.Abs(n)
			if err != nil {
				return nil, Bad("%s: %w", n, err)
			}
			folder := full
			if st, err := os.Stat(full); err != nil || !st.IsDir() {
				folder = filepath.Dir(full)
			}
			if err := s.Allow(folder); err != nil {
				return nil, err
			}
			whole = append(whole, full)
		}
		return s.AddSources(ctx, r.ID, whole)
	}
	return nil, errors.New("the library has no reel")
}

// AddSources brings files, sequences and all that lies directly in folders into a reel. What cannot be
// read is told and stops nothing else.
func (s *Sessions) AddSources(ctx context.Context, reel uint, names []string) (*Added, error) {
	if err := s.lib.HasReel(reel); err != nil {
		return nil, err
	}
	out := &Added{}
	for _, name := range names {
		real, err := s.allowed(name)
		if err != nil {
			return nil, err
		}
		list := []string{real}
		if st, err := os.Stat(real); err == nil && st.IsDir() {
			l, err := s.Browse(real)
			if err != nil {
				return nil, err
			}
			list = nil
			for _, e := range l.Entries {
				if e.Kind != "folder" && e.Kind != "list" {
					list = append(list, e.Path)
				}
			}
			if len(list) == 0 {
				out.Problems = append(out.Problems, fmt.Sprintf("%s: holds nothing that can be brought in", name))
			}
		}
		for _, file := range list {
			if strings.Contains(filepath.Base(file), "%") || media.Pattern(file) != "" {
				pattern := file
				if p := media.Pattern(file); p != "" {
					pattern = p
				}
				if err := s.noLinkOut(pattern); err != nil {
					out.Problems = append(out.Problems, err.Error())
					continue
				}
			}
			if real, err := s.allowed(file); err != nil { // a link in a folder
				out.Problems = append(out.Problems, err.Error())
				continue
			} else {
				file = real
			}
			shot, err := s.AddShot(ctx, reel, file)
			var bad BadInput
			switch {
			case errors.As(err, &bad):
				out.Problems = append(out.Problems, err.Error())
			case err != nil:
				return nil, err
			default:
				out.Shots = append(out.Shots, shot)
			}
		}
	}
	if len(out.Shots) > 0 {
		s.tell(Event{Reels: true})
	}
	return out, nil
}

// shotName is what a shot is called at first: its file's name without counter and extension.
func shotName(file string) string {
	base := strings.TrimSuffix(filepath.Base(file), filepath.Ext(file))
	if i := strings.IndexByte(base, '%'); i >= 0 {
		base = strings.TrimRight(base[:i], "._- ")
	}
	if base == "" {
		base = filepath.Base(filepath.Dir(file))
	}
	return base
}

// Declare declares the encoding of several shots in one act.
func (s *Sessions) Declare(ids []uint, encoding string, by library.Author) ([]*library.Shot, error) {
	if _, err := colour.FindEncoding(encoding); err != nil {
		return nil, BadInput{err}
	}
	return s.EditAll(ids, look.Edit{Op: look.OpEncode, Value: encoding}, by)
}

// SetSpan sets the in and out points: the first frame that counts, and the one after the last or 0 for the end.
func (s *Sessions) SetSpan(id uint, in, out int, by library.Author) (*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	if out >= shot.Frames {
		out = 0
	}
	if end := spanEnd(shot.Frames, out); in < 0 || out < 0 || in >= end {
		return nil, Bad("%s: from frame %d up to %d is no span of its %d frames", shot.Name, in, end, shot.Frames)
	}
	docs, err := s.lib.Act(by, []library.Owner{{Of: library.ShotFacts, ID: id}}, func(d *library.Document) (string, error) {
		d.Facts.In, d.Facts.Out = in, out
		return "In and out", nil
	})
	if err != nil {
		return nil, err
	}
	s.told(docs, by.Window)
	return s.lib.Shot(id)
}

func spanEnd(frames, out int) int {
	if out == 0 {
		return frames
	}
	return out
}

// Gaps are the frames that a shot's sequence lacks: what was missing when it came in and is still.
func Gaps(s *library.Shot) []media.Gap {
	if s.Kind != "sequence" || s.Gaps == "" || s.Gaps == "null" {
		return nil
	}
	return media.Gaps(s.Path)
}
