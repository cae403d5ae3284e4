package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"sync"

	"velours/core/colour"
	"velours/core/path"
	"velours/demo"
	"velours/library"
	"velours/media"
)

// Studio is an open library with its readers, its renderer and its running deliveries.
type Studio struct {
	lib    *library.Library
	dir    string
	roots  []string
	render *path.Renderer
	spool  *spool
	budget Budget

	mu      sync.Mutex
	readers map[string]*media.Reader
	recent  []string // the files of the readers, the one used last at the end
	running map[uint]context.CancelFunc
	wait    sync.WaitGroup
	watch   map[chan library.Delivery]bool
}

// Open opens the studio on a data folder, making it if it is missing, with the usual budget.
func Open(dir string) (*Studio, error) { return OpenWithin(dir, Within(UsualMemory)) }

// OpenWithin is Open with a budget.
func OpenWithin(dir string, b Budget) (*Studio, error) {
	if err := os.MkdirAll(filepath.Join(dir, "deliveries"), 0o755); err != nil {
		return nil, Bad("%s: the data folder cannot be made: %w", dir, err)
	}
	lib, err := library.Open(filepath.Join(dir, "library.db"))
	if err != nil {
		return nil, err
	}
	if err := lib.EndRunning("the program was stopped; deliver again"); err != nil {
		return nil, err
	}
	if err := ownReel(lib); err != nil {
		return nil, err
	}
	frames, err := newSpool(filepath.Join(dir, "frames"), b.Frames, b.Disk)
	if err != nil {
		return nil, err
	}
	s := &Studio{lib: lib, dir: dir, render: path.NewRenderer(int(b.Pictures)), spool: frames, budget: b, readers: map[string]*media.Reader{}, running: map[uint]context.CancelFunc{}, watch: map[chan library.Delivery]bool{}}
	if err := s.knowPins(); err != nil {
		return nil, err
	}
	return s, s.loadAssets()
}

// ownReel makes sure that there is a reel for a person's own shots.
func ownReel(lib *library.Library) error {
	reels, err := lib.Reels()
	if err != nil {
		return err
	}
	for _, r := range reels {
		if !r.Demo {
			return nil
		}
	}
	return lib.AddReel(&library.Reel{Name: "Rushes"})
}

// Close cancels deliveries and closes the library; every change is on the disk already.
func (s *Studio) Close() error {
	s.mu.Lock()
	for _, cancel := range s.running {
		cancel()
	}
	s.mu.Unlock()
	s.wait.Wait()
	s.mu.Lock()
	for _, r := range s.readers {
		r.Close()
	}
	s.mu.Unlock()
	return s.lib.Close()
}

// LoadDemo makes the demo reel if it is missing.
func (s *Studio) LoadDemo(ctx context.Context) error {
	dir := filepath.Join(s.dir, "demo")
	if err := demo.Unpack(dir); err != nil {
		return err
	}
	reels, err := s.lib.Reels()
	if err != nil {
		return err
	}
	for _, r := range reels {
		if r.Demo {
			return s.repoint(r, dir)
		}
	}
	r := &library.Reel{Name: demo.Name, Demo: true}
	if err := s.lib.AddReel(r); err != nil {
		return err
	}
	for _, d := range demo.Shots {
		data, err := demo.LookOf(d)
		if err != nil {
			return err
		}
		look, err := path.ParseLook(data)
		if err != nil {
			return fmt.Errorf("demo look %s: %w", d.Look, err)
		}
		if _, err := s.add(ctx, r.ID, filepath.Join(dir, d.File), d.Name, d.Scene, d.Encoding, look); err != nil {
			return err
		}
	}
	slog.Info("made the demo reel", "reel", r.Name, "shots", len(demo.Shots))
	return nil
}

// repoint follows the data folder when it has moved.
func (s *Studio) repoint(r library.Reel, dir string) error {
	for _, shot := range r.Shots {
		if want := filepath.Join(dir, filepath.Base(shot.Path)); shot.Path != want {
			if _, err := os.Stat(want); err == nil {
				if err := s.lib.SetPath(shot.ID, want); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// AddShot brings a file or sequence into a reel, clean: nothing is on but its conversion. A file of a
// sequence brings the whole sequence. An encoding is declared only where the file's own tags settle it.
func (s *Studio) AddShot(ctx context.Context, reel uint, file string) (*library.Shot, error) {
	if name, ok := media.Recognise(file); ok {
		file = name
	}
	return s.add(ctx, reel, file, "", "", "", path.NewLook("clean"))
}

func (s *Studio) add(ctx context.Context, reel uint, file, name, scene, encoding string, look *path.Look) (*library.Shot, error) {
	r, err := s.reader(ctx, file)
	if err != nil {
		return nil, wrapInput(err)
	}
	in := r.Info
	if encoding == "" {
		encoding = SettledEncoding(in)
	}
	if name == "" {
		name = shotName(file)
	}
	if e, err := colour.FindEncoding(encoding); err == nil && scene == "" {
		if err := enclose(look, e); err != nil {
			return nil, err
		}
	}
	first, err := r.Frame(ctx, 0)
	if err != nil {
		return nil, wrapInput(err)
	}
	gaps, err := json.Marshal(in.Gaps)
	if err != nil {
		return nil, err
	}
	w, h := in.Shape()
	doc, err := marshal(look)
	if err != nil {
		return nil, err
	}
	shot := &library.Shot{ReelID: reel, Name: name, Scene: scene, Path: file, Kind: in.Kind, Width: w, Height: h, Frames: in.Frames, Rate: in.Rate, RateText: in.RateText, Depth: in.Depth, Codec: in.Codec,
		Full: in.Full, Matrix: in.Matrix, Transfer: in.Transfer, Primaries: in.Primaries, Timecode: in.Timecode, Rotated: in.Rotated, Dark: darkness(first), Aspect: in.Aspect, Gaps: string(gaps), First: in.Start,
		Encoding: encoding, Look: doc, Start: doc}
	return shot, s.lib.AddShot(shot)
}

// reader returns the open reader of a file, reopened when the file has changed.
func (s *Studio) reader(ctx context.Context, file string) (*media.Reader, error) {
	s.mu.Lock()
	r := s.readers[file]
	s.mu.Unlock()
	if r != nil && !r.Stale() {
		s.touch(file)
		return r, nil
	}
	n, err := media.Open(ctx, file)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if now := s.readers[file]; now != nil && now != r { // somebody else was quicker
		n.Close()
		s.use(file)
		return now, nil
	}
	if r != nil {
		r.Close()
	}
	s.readers[file] = n
	s.use(file)
	return n, nil
}

func (s *Studio) touch(file string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.use(file)
}

// use notes that a file is in use, and closes the reader that has rested longest beyond the limit.
func (s *Studio) use(file string) {
	s.recent = append(slices.DeleteFunc(s.recent, func(f string) bool { return f == file }), file)
	for len(s.recent) > s.budget.Readers {
		old := s.recent[0]
		s.recent = s.recent[1:]
		if r := s.readers[old]; r != nil {
			go r.Close() // it may be in the middle of a frame
			delete(s.readers, old)
		}
	}
}

// Reels lists what there is.
func (s *Studio) Reels() ([]library.Reel, error) { return s.lib.Reels() }

// Shot finds a shot.
func (s *Studio) Shot(id uint) (*library.Shot, error) { return s.lib.Shot(id) }

// SetFrame remembers where a shot was looked at.
func (s *Studio) SetFrame(id uint, frame int) error { return s.lib.SetFrame(id, frame) }

// NotFound tells whether an error means that there is no such thing.
func NotFound(err error) bool { return errors.Is(err, library.ErrNotFound) }
