package studio

import (
	"context"
	"encoding/json"
	"log/slog"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/demo"
	"velours/library"
	"velours/media"
)

// Sessions are shots that are worked on: what there is of them, the changes of their looks, and pictures of them.
type Sessions struct {
	shared
	roots  []string // folders that persons may look into for footage
	render *render.Renderer
	frames *frameCache
	room   *workspace
	// proxies are decoded frames on the disk.
	proxies *media.Proxies

	codes cache.Results[*frame.Frame] // as they were recorded, of the beam's first band

	opening sync.Mutex                          // of readers
	readers *cache.Cache[string, *media.Reader] // by file

	thumbnails atomic.Int64 // that were written since the program began
}

// close ends the readers, and waits for what they keep on the disk.
func (s *Sessions) close() {
	for _, r := range s.readers.All() {
		r.Close()
	}
	if s.proxies != nil {
		s.proxies.Close()
	}
}

// LoadDemo makes the demo reel if it is missing, its shots under their house look.
func (s *Sessions) LoadDemo(ctx context.Context) error { return s.loadDemo(ctx, demo.Housed) }

// LoadDemoApart is LoadDemo of a reel in which each shot has a look of its own.
func (s *Sessions) LoadDemoApart(ctx context.Context) error { return s.loadDemo(ctx, demo.Apart) }

func (s *Sessions) loadDemo(ctx context.Context, made func() (*demo.Reel, error)) error {
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
	if gone, err := s.lib.DemoRemoved(); err != nil || gone { // who took it away does not want it back
		return err
	}
	plan, err := made()
	if err != nil {
		return err
	}
	r := &library.Reel{Name: demo.Name, Demo: true}
	if r.Look, err = marshal(plan.House); err != nil {
		return err
	}
	var scenes []*library.Scene
	for _, c := range plan.Scenes {
		doc, err := marshal(c.Look)
		if err != nil {
			return err
		}
		scenes = append(scenes, &library.Scene{Name: c.Name, Look: doc})
	}
	var shots []*library.Shot
	for _, d := range plan.Shots {
		shot, err := s.inspect(ctx, filepath.Join(dir, d.File), d.Name, d.Encoding, d.Look)
		if err != nil {
			return err
		}
		shot.SceneID = uint(d.Scene + 1)
		shots = append(shots, shot)
	}
	if err := s.lib.AddFullReel(r, scenes, shots); err != nil { // whole or not at all: a start may be interrupted
		return err
	}
	slog.Info("made the demo reel", "reel", r.Name, "shots", len(shots))
	return nil
}

// repoint follows the data folder when it has moved.
func (s *Sessions) repoint(r library.Reel, dir string) error {
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
func (s *Sessions) AddShot(ctx context.Context, reel uint, file string) (*library.Shot, error) {
	if name, ok := media.Recognise(file); ok {
		file = name
	}
	shot, err := s.inspect(ctx, file, "", "", nil)
	if err != nil {
		return nil, err
	}
	shot.ReelID = reel
	return shot, s.lib.AddShots(library.Author{}, "Bring in "+shot.Name, []*library.Shot{shot}, nil, nil)
}

// inspect looks a file over and makes the shot that it is, not yet kept. Without a look it is clean, and follows what is above.
func (s *Sessions) inspect(ctx context.Context, file, name, encoding string, given *look.Look) (*library.Shot, error) {
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
	l := given
	if l == nil {
		l = look.Following("clean")
		if e, err := colour.FindEncoding(encoding); err == nil {
			if err := enclose(l, e); err != nil {
				return nil, err
			}
		}
	}
	t, err := s.takeForScreen(ctx, pictureNeed(r, 0, render.Raster{}))
	if err != nil {
		return nil, err
	}
	defer t.release()
	first, err := r.Frame(ctx, 0)
	if err != nil {
		return nil, wrapInput(err)
	}
	gaps, err := json.Marshal(in.Gaps)
	if err != nil {
		return nil, err
	}
	w, h := in.Shape()
	doc, err := marshal(l)
	if err != nil {
		return nil, err
	}
	return &library.Shot{Name: name, Path: file, Kind: in.Kind, Width: w, Height: h, Frames: in.Frames, Rate: in.Rate, RateText: in.RateText, Depth: in.Depth, Codec: in.Codec,
		Full: in.Full, Matrix: in.Matrix, Transfer: in.Transfer, Primaries: in.Primaries, Timecode: in.Timecode, Rotated: in.Rotated, Dark: darkness(first), Aspect: in.Aspect, Gaps: string(gaps), First: in.Start,
		Encoding: encoding, Look: doc, Start: doc}, nil
}

// reader returns the open reader of a file, reopened when the file has changed. The reader that has rested longest is
// closed when there are too many.
func (s *Sessions) reader(ctx context.Context, file string) (*media.Reader, error) {
	r, ok := s.readers.Get(file)
	if ok && !r.Stale() {
		return r, nil
	}
	n, err := media.Open(ctx, file)
	if err != nil {
		return nil, err
	}
	n.KeepOn(s.proxies)
	s.opening.Lock()
	defer s.opening.Unlock()
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

// Shot finds a shot.
func (s *Sessions) Shot(id uint) (*library.Shot, error) { return s.lib.Shot(id) }

// SetFrame remembers where a shot was looked at.
func (s *Sessions) SetFrame(id uint, frame int) error {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return err
	}
	if frame < 0 || frame >= shot.Frames {
		return Bad("%s has frames 0 to %d, not %d", shot.Name, shot.Frames-1, frame)
	}
	return s.lib.SetFrame(id, frame)
}
