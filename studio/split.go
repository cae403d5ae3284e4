package studio

import (
	"context"
	"fmt"
	"slices"

	"velours/core/cuts"
	"velours/library"
)

// Cuts finds the first frames of the shots that a shot's movie holds beside its first; progress is told the share that was seen.
func (s *Sessions) Cuts(ctx context.Context, id uint, progress func(done float64)) ([]int, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	r, err := s.reader(ctx, shot.Path)
	if err != nil {
		return nil, wrapInput(err)
	}
	end := spanEnd(shot.Frames, shot.Out)
	var small []*cuts.Small
	for n := shot.In; n < end; n++ {
		f, err := r.Frame(ctx, n)
		if err != nil {
			return nil, wrapInput(err)
		}
		small = append(small, cuts.Of(f))
		if progress != nil {
			progress(float64(n-shot.In+1) / float64(end-shot.In))
		}
	}
	out := []int{}
	for _, at := range cuts.Find(small) {
		out = append(out, shot.In+at)
	}
	return out, nil
}

// Split makes shots of a shot, each from one of the frames at on; the first begins where the shot does. They have its look and
// encoding, and stand in its place, as one act: undone, the shot is whole again.
func (s *Sessions) Split(id uint, at []int, by library.Author) ([]*library.Shot, error) {
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	end := spanEnd(shot.Frames, shot.Out)
	at = slices.Clone(at)
	slices.Sort(at)
	at = slices.Compact(at)
	if len(at) == 0 {
		return nil, Bad("%s: no cut is chosen; find cuts, or put one at the open frame", shot.Name)
	}
	if len(at) > 9999 || at[0] <= shot.In || at[len(at)-1] >= end {
		return nil, Bad("%s: a cut lies within frames %d to %d", shot.Name, shot.In+1, end-1)
	}
	reel, err := s.lib.Reel(shot.ReelID)
	if err != nil {
		return nil, err
	}
	like := slices.DeleteFunc(reel.Shots, func(x library.Shot) bool { return x.SceneID != shot.SceneID })
	place := slices.IndexFunc(like, func(x library.Shot) bool { return x.ID == id })
	gap := 1.0
	if place+1 < len(like) {
		gap = like[place+1].Position - shot.Position
	}
	var shots []*library.Shot
	first := shot.In
	for i, next := range append(at, end) {
		n := *shot
		n.ID, n.Name, n.In, n.Out, n.Frame, n.Revision = 0, fmt.Sprintf("%s %d", shot.Name, i+1), first, next, first, 0
		n.Position = shot.Position + gap*float64(i)/float64(len(at)+1)
		if next >= shot.Frames {
			n.Out = 0
		}
		shots = append(shots, &n)
		first = next
	}
	label := fmt.Sprintf("Split %s into %d", shot.Name, len(shots))
	err = s.lib.AddShots(by, label, shots, factsOf([]uint{id}), func(d *library.Document) (string, error) {
		d.Facts.Removed = true
		return label, nil
	})
	if err != nil {
		return nil, err
	}
	s.tell(Event{Reels: true})
	return shots, nil
}

// AddProgramme brings in what an edit list shows: a shot for each event, in order, from and up to the frames that it shows with handles.
// Recordings are looked for in the places that may be looked into.
func (s *Sessions) AddProgramme(ctx context.Context, reel uint, list, rate string, handles int, by library.Author) (*Added, error) {
	if err := s.lib.HasReel(reel); err != nil {
		return nil, err
	}
	real, err := s.allowed(list)
	if err != nil {
		return nil, err
	}
	p, err := readProgramme(ctx, real, rate, s.places(), handles)
	if err != nil {
		return nil, err
	}
	out := &Added{Problems: append([]string{}, p.Told...)}
	known := map[string]*library.Shot{}
	for _, e := range p.Events {
		if e.File == "" {
			out.Problems = append(out.Problems, fmt.Sprintf("event %s, %s at %s: %s", e.Number, e.Name, e.Record, e.Why))
			continue
		}
		shot := known[e.File]
		if shot == nil {
			if shot, err = s.inspect(ctx, e.File, "", "", nil); err != nil {
				out.Problems = append(out.Problems, err.Error())
				continue
			}
			known[e.File] = shot
		}
		n := *shot
		n.ReelID, n.Name, n.In, n.Out, n.Frame = reel, e.Name, e.From, e.To+1, e.First
		if n.Out >= n.Frames {
			n.Out = 0
		}
		n.Note = fmt.Sprintf("event %s, at %s", e.Number, e.Record)
		if e.Speed != 1 {
			n.Note += fmt.Sprintf(", at %g of its speed", e.Speed)
		}
		if e.Transition != "" {
			n.Note += fmt.Sprintf(", begins by a %s of %d frames", e.Transition, e.Over)
		}
		if e.Why != "" {
			out.Problems = append(out.Problems, fmt.Sprintf("event %s, %s: %s", e.Number, e.Name, e.Why))
		}
		out.Shots = append(out.Shots, &n)
	}
	if len(out.Shots) == 0 {
		return out, nil
	}
	if err := s.lib.AddShots(by, fmt.Sprintf("Bring in %d shots of %s", len(out.Shots), p.Title), out.Shots, nil, nil); err != nil {
		return nil, err
	}
	s.tell(Event{Reels: true})
	return out, nil
}
