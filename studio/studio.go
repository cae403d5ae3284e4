package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"sync"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/film"
	"velours/core/look"
	"velours/core/render"
	"velours/demo"
	"velours/library"
	"velours/media"
)

// Studio is an open library with its readers, its renderer and its running deliveries.
type Studio struct {
	folder *Folder
	lib    *library.Library
	dir    string
	roots  []string
	render *render.Renderer
	spool  *spool
	budget Budget

	mu      sync.Mutex
	readers *cache.Cache[string, *media.Reader] // by file
	running map[uint]context.CancelFunc
	wait    sync.WaitGroup
	ended   map[uint]library.Delivery // deliveries whose end could not be kept

	events hub
}

// Open opens the studio on a data folder, making it if it is missing, with the usual budget.
func Open(dir string) (*Studio, error) { return OpenWithin(dir, Within(UsualMemory)) }

// OpenWithin is Open with a budget.
func OpenWithin(dir string, b Budget) (*Studio, error) {
	f, err := Take(dir)
	if err != nil {
		return nil, err
	}
	s, err := f.Open(b)
	if err != nil {
		return nil, errors.Join(err, f.Release())
	}
	return s, nil
}

// Open opens the studio on a folder that was taken; Close releases it.
func (f *Folder) Open(b Budget) (*Studio, error) {
	if err := os.MkdirAll(filepath.Join(f.Path, "deliveries"), 0o755); err != nil {
		return nil, Bad("%s: the folder of deliveries cannot be made (%w); make room, or choose another with --data", f.Path, err)
	}
	file := filepath.Join(f.Path, "library.db")
	if err := f.checkLibrary(file); err != nil {
		return nil, err
	}
	lib, err := library.Open(file)
	if err != nil {
		return nil, wrapInput(err)
	}
	s := &Studio{folder: f, lib: lib, dir: f.Path, render: render.NewRenderer(int(b.Pictures)), budget: b, readers: cache.New[string, *media.Reader](int64(b.Readers)), running: map[uint]context.CancelFunc{}, ended: map[uint]library.Delivery{}}
	if err := s.prepareFolder(); err != nil {
		return nil, errors.Join(wrapInput(err), lib.Close())
	}
	return s, nil
}

// checkLibrary refuses to begin a new library where there is work of one that is gone.
func (f *Folder) checkLibrary(file string) error {
	if _, err := os.Stat(file); !errors.Is(err, os.ErrNotExist) {
		return nil
	}
	for _, name := range []string{"deliveries", "pins", "media"} {
		list, err := os.ReadDir(filepath.Join(f.Path, name))
		if err == nil && len(list) > 0 {
			return Bad("%s is missing, but %s holds what was made with it; put it back (copies end in .schema…), or move %s away to begin anew", file, filepath.Join(f.Path, name), name)
		}
	}
	return nil
}

// prepareFolder clears what a killed program has left, and makes known what the library holds.
func (s *Studio) prepareFolder() error {
	if err := s.lib.EndRunning("the program was stopped; deliver again"); err != nil {
		return err
	}
	if err := s.clearLeftovers(); err != nil {
		return err
	}
	if err := ownReel(s.lib); err != nil {
		return err
	}
	var err error
	if s.spool, err = newSpool(filepath.Join(s.dir, "frames"), s.budget.Frames, s.budget.Disk); err != nil {
		return err
	}
	media.SetMemory(s.budget.Total())
	if err := s.knowCards(); err != nil {
		return err
	}
	if err := s.knowPins(); err != nil {
		return err
	}
	return s.loadAssets()
}

// clearLeftovers removes parts of files and previews that a killed program has left.
func (s *Studio) clearLeftovers() error {
	folders := []string{filepath.Join(s.dir, "deliveries"), filepath.Join(s.dir, "pins"), filepath.Join(s.dir, "demo")}
	batches, err := filepath.Glob(filepath.Join(s.uploads(), "*"))
	if err != nil {
		return err
	}
	for _, dir := range append(folders, batches...) {
		n, err := media.ClearParts(dir)
		if err != nil && !errors.Is(err, os.ErrNotExist) {
			return Bad("%s: what a stopped program left there cannot be cleared (%w)", dir, err)
		}
		if n > 0 {
			slog.Info("cleared what a stopped program left", "folder", dir, "parts", n)
		}
	}
	for _, dir := range batches { // of an upload that was broken off
		if err := os.Remove(dir); err == nil {
			slog.Info("cleared an empty folder of uploads", "folder", dir)
		}
	}
	previews, err := filepath.Glob(filepath.Join(s.dir, "preview-*"))
	if err != nil {
		return err
	}
	for _, dir := range previews {
		if err := os.RemoveAll(dir); err != nil {
			return err
		}
	}
	return nil
}

// knowCards keeps the cards that ship, so that looks made with them can be reproduced when they ship otherwise, and
// makes known those that were kept before.
func (s *Studio) knowCards() error {
	var list []library.Card
	for _, st := range film.Stocks() {
		if data := film.ShippedCard("stock", st.ID); data != nil {
			list = append(list, library.Card{Digest: "stock " + st.Key(), Kind: "stock", Key: st.ID, Data: data})
		}
	}
	for _, m := range film.Media() {
		list = append(list, library.Card{Digest: "medium " + m.Key(), Kind: "medium", Key: m.ID, Data: film.ShippedCard("medium", m.ID)})
	}
	if err := s.lib.KeepCards(list); err != nil {
		return err
	}
	kept, err := s.lib.Cards()
	if err != nil {
		return err
	}
	for _, c := range kept {
		if err := film.Remember(c.Kind, c.Data); err != nil { // of a newer program, perhaps
			slog.Warn("a card that was kept cannot be read", "card", c.Key, "error", err)
		}
	}
	return nil
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
	for _, r := range s.readers.All() {
		r.Close()
	}
	return errors.Join(s.lib.Close(), s.folder.Release())
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
	var shots []*library.Shot
	for _, d := range demo.Shots {
		data, err := demo.LookOf(d)
		if err != nil {
			return err
		}
		look, err := look.ParseLook(data)
		if err != nil {
			return fmt.Errorf("demo look %s: %w", d.Look, err)
		}
		shot, err := s.inspect(ctx, filepath.Join(dir, d.File), d.Name, d.Scene, d.Encoding, look)
		if err != nil {
			return err
		}
		shots = append(shots, shot)
	}
	r := &library.Reel{Name: demo.Name, Demo: true}
	if err := s.lib.AddFullReel(r, shots); err != nil { // whole or not at all: a start may be interrupted
		return err
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
	shot, err := s.inspect(ctx, file, "", "", "", look.NewLook("clean"))
	if err != nil {
		return nil, err
	}
	shot.ReelID = reel
	return shot, s.lib.AddShot(shot)
}

// inspect looks a file over and makes the shot that it is, not yet kept.
func (s *Studio) inspect(ctx context.Context, file, name, scene, encoding string, look *look.Look) (*library.Shot, error) {
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
	return &library.Shot{Name: name, Scene: scene, Path: file, Kind: in.Kind, Width: w, Height: h, Frames: in.Frames, Rate: in.Rate, RateText: in.RateText, Depth: in.Depth, Codec: in.Codec,
		Full: in.Full, Matrix: in.Matrix, Transfer: in.Transfer, Primaries: in.Primaries, Timecode: in.Timecode, Rotated: in.Rotated, Dark: darkness(first), Aspect: in.Aspect, Gaps: string(gaps), First: in.Start,
		Encoding: encoding, Look: doc, Start: doc}, nil
}

// reader returns the open reader of a file, reopened when the file has changed. The reader that has rested longest is
// closed when there are too many.
func (s *Studio) reader(ctx context.Context, file string) (*media.Reader, error) {
	r, ok := s.readers.Get(file)
	if ok && !r.Stale() {
		return r, nil
	}
	n, err := media.Open(ctx, file)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if now, ok := s.readers.Get(file); ok && now != r { // somebody else was quicker
		n.Close()
		return now, nil
	}
	if old, ok := s.readers.Remove(file); ok {
		old.Close()
	}
	for _, e := range s.readers.Put(file, n, 1) {
		go e.Value.Close() // it may be in the middle of a frame
	}
	return n, nil
}

// Reels lists what there is.
func (s *Studio) Reels() ([]library.Reel, error) { return s.lib.Reels() }

// Shot finds a shot.
func (s *Studio) Shot(id uint) (*library.Shot, error) { return s.lib.Shot(id) }

// SetFrame remembers where a shot was looked at.
func (s *Studio) SetFrame(id uint, frame int) error {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return err
	}
	if frame < 0 || frame >= shot.Frames {
		return Bad("%s has frames 0 to %d, not %d", shot.Name, shot.Frames-1, frame)
	}
	return s.lib.SetFrame(id, frame)
}

// NotFound tells whether an error means that there is no such thing.
func NotFound(err error) bool { return errors.Is(err, library.ErrNotFound) }
