package studio

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"time"

	"velours/core/film"
	"velours/core/path"
	"velours/library"
)

// Format is one way to deliver.
type Format struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Note  string `json:"note"`
	// Whole delivers every frame of the shot, otherwise the current one alone.
	Whole bool `json:"whole"`
	Table bool `json:"table"`
	ext   string
	half  bool
}

// Formats lists what a shot can be delivered as.
var Formats = []Format{
	{ID: "still-png", Label: "Frame, PNG 16-bit", Note: "This frame, display code values", ext: ".png"},
	{ID: "still-tiff", Label: "Frame, TIFF 16-bit", Note: "This frame, display code values", ext: ".tif"},
	{ID: "still-exr", Label: "Frame, EXR half", Note: "This frame, display code values in half float", ext: ".exr", half: true},
	{ID: "movie-prores", Label: "Movie, ProRes 422 HQ", Note: "All frames, 10-bit 4:2:2, BT.709, legal range", ext: ".mov", Whole: true},
	{ID: "sequence-png", Label: "Sequence, PNG 16-bit", Note: "All frames, one file each, in a folder", ext: ".png", Whole: true},
	{ID: "table-cube", Label: "Table, .cube", Note: "The colour part of the look; bloom, halation and grain are left out", ext: ".cube", Table: true},
}

func format(id string) (Format, error) {
	var ids []string
	for _, f := range Formats {
		if f.ID == id {
			return f, nil
		}
		ids = append(ids, f.ID)
	}
	return Format{}, Bad("there is no delivery %q; there are %s", id, strings.Join(ids, ", "))
}

var unsafeName = regexp.MustCompile(`[^A-Za-z0-9_-]+`)

// Deliver starts a delivery of a shot and returns at once; it goes on when nobody watches.
func (s *Studio) Deliver(id uint, formatID string, frame int) (*library.Delivery, error) {
	f, err := format(formatID)
	if err != nil {
		return nil, err
	}
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	if frame < 0 || frame >= shot.Frames {
		return nil, Bad("%s has frames 0 to %d, not %d", shot.Name, shot.Frames-1, frame)
	}
	if shot.Encoding == "" {
		return nil, Bad("%s does not say how it was encoded; declare it in Intake first", shot.Name)
	}
	look, err := LookOf(shot)
	if err != nil {
		return nil, err
	}
	d := &library.Delivery{ShotID: id, Format: f.ID, State: "running", Total: 1, Frame: frame, CreatedAt: time.Now()}
	if f.Whole {
		d.Total = shot.Frames
	}
	if err := s.lib.SaveDelivery(d); err != nil {
		return nil, err
	}
	base := fmt.Sprintf("%s-%04d", strings.ToLower(unsafeName.ReplaceAllString(shot.Name, "-")), d.ID)
	name := filepath.Join(s.dir, "deliveries", base+f.ext)
	switch {
	case f.Whole && f.ext == ".png":
		dir := filepath.Join(s.dir, "deliveries", base)
		if err := os.MkdirAll(dir, 0o755); err != nil {
			return nil, fmt.Errorf("making the folder of the sequence: %w", err)
		}
		name = filepath.Join(dir, base+".%06d.png")
	case !f.Whole && !f.Table && shot.Frames > 1:
		name = filepath.Join(s.dir, "deliveries", fmt.Sprintf("%s.%06d%s", base, frame, f.ext))
	}
	d.Path = name
	if err := s.lib.SaveDelivery(d); err != nil {
		return nil, err
	}
	ctx, cancel := context.WithCancel(context.Background())
	s.mu.Lock()
	s.running[d.ID] = cancel
	s.mu.Unlock()
	s.wait.Add(1)
	began := *d
	go s.deliver(ctx, began, f, shot, look)
	return d, nil
}

func (s *Studio) deliver(ctx context.Context, d library.Delivery, f Format, shot *library.Shot, look *path.Look) {
	defer s.wait.Done()
	var err error
	if f.Table {
		var left []string
		if left, err = (Bake{Out: d.Path, Look: look, Size: film.TableSize}).Run(ctx); err == nil {
			d.Done = 1
			if len(left) > 0 {
				d.Note = "left out: " + strings.Join(left, ", ")
			}
		}
	} else {
		first, last := d.Frame, d.Frame
		if f.Whole {
			first, last = 0, shot.Frames-1
		}
		told := time.Time{}
		err = Job{In: shot.Path, Out: d.Path, Look: look, First: first, Last: last, Half: f.half}.Run(ctx, func(done, total int) {
			d.Done = done
			if time.Since(told) > 100*time.Millisecond {
				told = time.Now()
				s.tell(d)
			}
		})
	}
	switch {
	case err == nil:
		d.State = "done"
	case errors.Is(err, context.Canceled):
		d.State, d.Note = "cancelled", "nothing was left behind"
	default:
		d.State, d.Note = "failed", err.Error()
		slog.Warn("a delivery failed", "delivery", d.ID, "error", err)
	}
	s.mu.Lock()
	delete(s.running, d.ID)
	s.mu.Unlock()
	s.tell(d)
}

// tell saves a delivery's progress and passes it to whoever watches.
func (s *Studio) tell(d library.Delivery) {
	if err := s.lib.SaveDelivery(&d); err != nil {
		slog.Error("saving a delivery's progress", "error", err)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for ch := range s.watch {
		select {
		case ch <- d:
		default: // a slow watcher gets the next one
		}
	}
}

// Watch passes the progress of deliveries on until the returned function is called.
func (s *Studio) Watch() (<-chan library.Delivery, func()) {
	ch := make(chan library.Delivery, 64)
	s.mu.Lock()
	s.watch[ch] = true
	s.mu.Unlock()
	return ch, func() {
		s.mu.Lock()
		delete(s.watch, ch)
		s.mu.Unlock()
	}
}

// CancelDelivery stops a running delivery; one that has ended stays as it is.
func (s *Studio) CancelDelivery(id uint) error {
	if _, err := s.lib.Delivery(id); err != nil {
		return err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if cancel := s.running[id]; cancel != nil {
		cancel()
	}
	return nil
}

// Deliveries lists the newest first.
func (s *Studio) Deliveries() ([]library.Delivery, error) { return s.lib.Deliveries(40) }

// Delivery finds one.
func (s *Studio) Delivery(id uint) (*library.Delivery, error) { return s.lib.Delivery(id) }
