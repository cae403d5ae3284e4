package studio

import (
	"context"
	"errors"
	"log/slog"
	"os"
	"path/filepath"

	"velours/core/cache"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/render"
	"velours/library"
	"velours/media"
)

// Studio is an open data folder, in three parts: shots that are worked on, what persons have added to what ships, and
// what is being delivered.
type Studio struct {
	shared
	*Sessions
	*Assets
	*Jobs
	folder *Folder
	budget Budget
}

// shared is what every part of the studio has.
type shared struct {
	lib *library.Library
	dir string // the data folder
	*hub
	clean *cleanFrames
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
	clean, err := newCleanFrames(filepath.Join(f.Path, "clean"), b.Clean)
	if err != nil {
		return nil, errors.Join(wrapInput(err), lib.Close())
	}
	part := shared{lib, f.Path, newHub(), clean}
	sessions := &Sessions{shared: part, render: render.NewRenderer(int(b.Pictures)), codes: cache.Results[*frame.Frame]{Size: 16}, readers: cache.New[string, *media.Reader](int64(b.Readers))}
	sessions.render.Clean = clean
	s := &Studio{
		shared:   part,
		Sessions: sessions,
		Assets:   &Assets{shared: part, sessions: sessions},
		Jobs:     &Jobs{shared: part, sessions: sessions, running: map[uint]context.CancelFunc{}, ended: map[uint]library.Delivery{}},
		folder:   f,
		budget:   b,
	}
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
	if s.frames, err = newFrameCache(filepath.Join(s.dir, "frames"), s.budget.Frames, s.budget.Disk); err != nil {
		return err
	}
	s.render.Keeping = keeping
	s.room = &workspace{all: s.budget.working + s.budget.Pictures + s.budget.Frames, apart: s.budget.working, lend: s.lender()}
	if s.proxies, err = media.NewProxies(filepath.Join(s.dir, "decoded"), s.budget.Proxies); err != nil {
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

// lender has what is kept give way to work: pictures on their way first, then finished frames.
func (s *Studio) lender() func(change int64) {
	lent := int64(0)
	return func(change int64) {
		was := min(lent, s.budget.Pictures)
		lent += change
		pictures := min(lent, s.budget.Pictures) - was
		s.render.Lend(pictures)
		s.frames.memory.Lend(change - pictures)
	}
}

// Others has f told how much memory other programs take that work for this one, whenever that changes.
func (s *Studio) Others(f func(bytes int64)) { s.room.outside = f }

// clearLeftovers removes parts of files and previews that a killed program has left.
func (s *Studio) clearLeftovers() error {
	folders := []string{filepath.Join(s.dir, "deliveries"), filepath.Join(s.dir, "pins"), filepath.Join(s.dir, "demo"), filepath.Join(s.dir, "thumbnails")}
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
		if _, err := film.Remember(c.Kind, c.Data); err != nil { // of a newer program, perhaps
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
	r, err := newReel("Rushes")
	if err != nil {
		return err
	}
	return lib.AddReel(r)
}

// Close cancels deliveries and closes the library; every change is on the disk already.
func (s *Studio) Close() error {
	s.Jobs.end()
	s.Sessions.close()
	return errors.Join(s.lib.Close(), s.folder.Release())
}

// NotFound tells whether an error means that there is no such thing.
func NotFound(err error) bool { return errors.Is(err, library.ErrNotFound) }
