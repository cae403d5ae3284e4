package studio

import (
	"context"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"sync"

	"velours/demo/standin"
	"velours/library"
)

// standInReel is what the reel of the stand-in set is called.
const standInReel = "Stand-in for measuring"

// standInTurn lets one window at a time bring the set in.
var standInTurn sync.Mutex

// StandIn brings the stand-in set in, as a reel of declared shots, if it is not there yet, and asks for all of it to be measured.
func (s *Sessions) StandIn(ctx context.Context) (*FilmAsk, error) {
	standInTurn.Lock()
	defer standInTurn.Unlock()
	dir := filepath.Join(s.dir, "stand-in")
	if err := standin.Write(ctx, dir); err != nil {
		return nil, err
	}
	reel, err := s.standInReel(ctx, dir)
	if err != nil {
		return nil, err
	}
	grey := 0.0 // its wedges were exposed by known light
	q := &FilmAsk{FitAsk: FitAsk{Name: standin.Label, Grey: &grey}, Status: "m"}
	var digital uint
	for _, f := range standin.Files {
		if f.Shows == "wedge" {
			text, err := os.ReadFile(filepath.Join(dir, f.Name))
			if err != nil {
				return nil, err
			}
			q.Wedges = append(q.Wedges, WedgeText{f.Name, string(text)})
			continue
		}
		var shot uint
		for _, of := range reel.Shots {
			if filepath.Base(of.Path) == f.Name {
				shot = of.ID
			}
		}
		what, whose, _ := strings.Cut(f.Shows, ", ")
		if whose == "digital" {
			digital = shot
			continue
		}
		p := FilmPicture{Shows: TestShot(what), Film: shot, Width: f.Width}
		switch {
		case whose == "film":
			stops := f.Stops
			p.Digital, p.Stops = digital, &stops
		case p.Shows == ShowsLamp:
			bright := standin.LampStops
			p.Stops = &bright
		}
		q.Pictures = append(q.Pictures, p)
	}
	return q, nil
}

// standInReel is the reel of the set, made if it is missing or no longer whole.
func (s *Sessions) standInReel(ctx context.Context, dir string) (*library.Reel, error) {
	var pictures []standin.File
	for _, f := range standin.Files {
		if f.Shows != "wedge" {
			pictures = append(pictures, f)
		}
	}
	find := func() (*library.Reel, error) {
		reels, err := s.lib.Reels()
		if err != nil {
			return nil, err
		}
		for i, r := range reels {
			if r.Name == standInReel && len(r.Shots) >= len(pictures) {
				return &reels[i], nil
			}
		}
		return nil, nil
	}
	if r, err := find(); err != nil || r != nil {
		return r, err
	}
	var shots []*library.Shot
	for _, f := range pictures {
		shot, err := s.inspect(ctx, filepath.Join(dir, f.Name), strings.TrimSuffix(f.Name, ".png"), f.Encoding, nil)
		if err != nil {
			return nil, err
		}
		shots = append(shots, shot)
	}
	r, err := newReel(standInReel)
	if err != nil {
		return nil, err
	}
	if err := s.lib.AddFullReel(r, nil, shots); err != nil {
		return nil, err
	}
	slog.Info("made the stand-in reel", "shots", len(shots))
	s.tell(Event{Reels: true})
	return find()
}
