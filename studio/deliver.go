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
	"sync"
	"time"

	"velours/core/fault"
	"velours/core/look"
	"velours/library"
)

// Format is one way to deliver.
type Format struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Note  string `json:"note"`
	// Group is what it makes: a frame, a movie, a sequence, a table, or a sheet of several shots.
	Group string `json:"group"`
	// Whole delivers every frame of the shot, otherwise the current one alone.
	Whole bool `json:"whole"`
	Table bool `json:"table"`
	ext   string
	half  bool
	codec string
	depth int
	curve bool
	span  string
	// placed asks for grain of clouds that are placed one by one.
	placed bool
}

// Formats lists what a shot can be delivered as.
var Formats = []Format{
	{ID: "still-png", Label: "PNG, 16-bit", Note: "Display code values", Group: "frame", ext: ".png"},
	{ID: "still-png8", Label: "PNG, 8-bit", Note: "Dithered display code values", Group: "frame", ext: ".png", depth: 8},
	{ID: "still-tiff", Label: "TIFF, 16-bit", Note: "Display code values", Group: "frame", ext: ".tif"},
	{ID: "still-tiff32", Label: "TIFF, float", Note: "Display code values, unrounded", Group: "frame", ext: ".tif", depth: 32},
	{ID: "still-exr", Label: "EXR, half", Note: "Display code values in half float, with the display’s chromaticities", Group: "frame", ext: ".exr", half: true},
	{ID: "still-exr32", Label: "EXR, float", Note: "Display code values, unrounded, with the display’s chromaticities", Group: "frame", ext: ".exr"},
	{ID: "still-tiff8", Label: "TIFF, 8-bit", Note: "Dithered display code values", Group: "frame", ext: ".tif", depth: 8},
	{ID: "still-jpeg", Label: "JPEG", Note: "For looking at", Group: "frame", ext: ".jpg"},
	{ID: "movie-prores", Label: "ProRes 422 HQ", Note: "10-bit 4:2:2, legal range", Group: "movie", ext: ".mov", codec: "prores-hq", Whole: true},
	{ID: "movie-prores4444", Label: "ProRes 4444", Note: "10-bit 4:4:4, legal range", Group: "movie", ext: ".mov", codec: "prores-4444", Whole: true},
	{ID: "movie-h265", Label: "H.265, 10-bit", Note: "4:2:0, legal range, small", Group: "movie", ext: ".mp4", codec: "h265", Whole: true},
	{ID: "movie-h264", Label: "H.264, 10-bit", Note: "4:2:0, legal range", Group: "movie", ext: ".mp4", codec: "h264", Whole: true},
	{ID: "movie-ffv1", Label: "FFV1", Note: "Lossless 16-bit RGB", Group: "movie", ext: ".mkv", codec: "ffv1", Whole: true},
	{ID: "sequence-dpx", Label: "DPX, 10-bit", Note: "One file a frame, full range", Group: "sequence", ext: ".dpx", Whole: true},
	{ID: "sequence-dpx16", Label: "DPX, 16-bit", Note: "One file a frame, full range", Group: "sequence", ext: ".dpx", depth: 16, Whole: true},
	{ID: "sequence-dpx-legal", Label: "DPX, 10-bit legal", Note: "One file a frame, codes 64 to 940", Group: "sequence", ext: ".dpx", span: "legal", Whole: true},
	{ID: "sequence-exr", Label: "EXR, half", Note: "One file a frame", Group: "sequence", ext: ".exr", half: true, Whole: true},
	{ID: "sequence-png", Label: "PNG, 16-bit", Note: "One file a frame", Group: "sequence", ext: ".png", Whole: true},
	{ID: "table-cube", Label: "Table, .cube", Note: "The colour part of the look, 65 nodes an edge; bloom, halation and grain are left out", Group: "table", ext: ".cube", Table: true},
	{ID: "table-cube-curve", Label: ".cube with a curve", Note: "A 1D table before the cube: finer in the shadows, for programs that read both", Group: "table", ext: ".cube", Table: true, curve: true},
	{ID: "table-clf", Label: "Table, CLF", Note: "With a curve, in the Common LUT Format", Group: "table", ext: ".clf", Table: true},
	{ID: "sheet-pdf", Label: "PDF", Note: "Pages to print or send, a row for each chosen shot and a picture for each of its trials", Group: "sheet", ext: ".pdf"},
	{ID: "sheet-png", Label: "PNG", Note: "One still, a row for each chosen shot and a picture for each of its trials", Group: "sheet", ext: ".png"},
}

// deliveredSize is the edge of a delivered table: fine enough for the widest log curves, whose codes
// leave few nodes to the shadows.
const deliveredSize = 65

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

// Jobs are deliveries under way.
type Jobs struct {
	shared
	sessions *Sessions // for pictures of contact sheets

	mu      sync.Mutex
	running map[uint]context.CancelFunc
	wait    sync.WaitGroup
	ended   map[uint]library.Delivery // deliveries whose end could not be kept
}

// end cancels what is under way, and waits for it.
func (s *Jobs) end() {
	s.mu.Lock()
	for _, cancel := range s.running {
		cancel()
	}
	s.mu.Unlock()
	s.wait.Wait()
}

// Deliver starts a delivery of a shot and returns at once; it goes on when nobody watches. What cannot begin is told
// here and leaves nothing behind. Grain that is placed is made of clouds one by one, a hundred times slower.
func (s *Jobs) Deliver(id uint, formatID string, frame int, placed bool) (*library.Delivery, error) {
	f, err := format(formatID)
	if err != nil {
		return nil, err
	}
	if f.placed = placed; placed && f.Table {
		return nil, Bad("a table carries no grain; deliver frames or a movie for clouds that are placed")
	}
	if f.Group == "sheet" {
		return s.DeliverSheet([]uint{id}, formatID)
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
	look, _, err := s.lookOf(shot)
	if err != nil {
		return nil, err
	}
	d := &library.Delivery{ShotID: id, Format: f.ID, State: "running", Total: 1, Frame: frame, CreatedAt: time.Now()}
	if f.Whole {
		d.Total = spanEnd(shot.Frames, shot.Out) - shot.In
	}
	if d.Trial, err = s.heldTrials(shot); err != nil {
		return nil, err
	}
	return d, s.start(d, shot.Name, f, shot, func(ctx context.Context, d *library.Delivery) error {
		return s.make(ctx, d, f, shot, look)
	})
}

// DeliverSheet starts a contact sheet of shots and their trials.
func (s *Jobs) DeliverSheet(ids []uint, formatID string) (*library.Delivery, error) {
	f, err := format(formatID)
	if err != nil {
		return nil, err
	}
	if f.Group != "sheet" {
		return nil, Bad("%s is no contact sheet", f.Label)
	}
	if len(ids) == 0 {
		return nil, Bad("choose the shots of the contact sheet")
	}
	sheet, err := s.sheetOf(ids)
	if err != nil {
		return nil, err
	}
	total, columns := sheet.count()
	if w, h := sheet.size(); f.ext == ".png" && columns*w*len(sheet.rows)*h > mostSheetPixels {
		return nil, Bad("that is too much for one still; take pages (PDF), or fewer shots")
	}
	shot := sheet.rows[0].shot
	d := &library.Delivery{ShotID: shot.ID, Format: f.ID, State: "running", Total: total, CreatedAt: time.Now()}
	return d, s.start(d, "contact-sheet", f, shot, func(ctx context.Context, d *library.Delivery) error {
		return s.makeSheet(ctx, d.Path, f, sheet, s.progress(d))
	})
}

// start takes a delivery up and makes it by itself.
func (s *Jobs) start(d *library.Delivery, name string, f Format, shot *library.Shot, do func(ctx context.Context, d *library.Delivery) error) error {
	err := s.lib.AddDelivery(d, func(id uint) (string, error) {
		base := fmt.Sprintf("%s-%04d", strings.ToLower(unsafeName.ReplaceAllString(name, "-")), id)
		return s.deliveryPath(base, f, shot, d.Frame)
	})
	if err != nil {
		return err
	}
	ctx, cancel := context.WithCancel(context.Background())
	s.mu.Lock()
	s.running[d.ID] = cancel
	s.mu.Unlock()
	s.wait.Add(1)
	began := *d
	go s.deliver(ctx, began, do)
	return nil
}

// progress tells how far a delivery is, not more often than eyes follow.
func (s *Jobs) progress(d *library.Delivery) func(done int) {
	told := time.Time{}
	return func(done int) {
		d.Done = done
		if time.Since(told) > 100*time.Millisecond {
			told = time.Now()
			now := *d
			s.tell(Event{Delivery: &now})
		}
	}
}

// deliveryPath is a path that no file has yet: that of the file, or of the numbered files in a folder of their own.
func (s *Jobs) deliveryPath(base string, f Format, shot *library.Shot, frame int) (string, error) {
	dir := filepath.Join(s.dir, "deliveries")
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", Bad("%s: the folder of deliveries cannot be made (%w)", dir, err)
	}
	for n := 1; n < 10000; n++ {
		name := base
		if n > 1 { // of a library that is gone
			name = fmt.Sprintf("%s-%d", base, n)
		}
		place, path := filepath.Join(dir, name+f.ext), filepath.Join(dir, name+f.ext)
		switch {
		case f.Group == "sequence":
			place = filepath.Join(dir, name)
			path = filepath.Join(place, name+".%06d"+f.ext)
		case f.Group == "frame" && shot.Frames > 1:
			place = filepath.Join(dir, fmt.Sprintf("%s.%06d%s", name, frame, f.ext))
			path = place
		}
		if _, err := os.Lstat(place); errors.Is(err, os.ErrNotExist) {
			return path, nil
		} else if err != nil {
			return "", Bad("%s: cannot be looked at (%w)", place, err)
		}
	}
	return "", Bad("%s: too many files have names like %s", dir, base)
}

func (s *Jobs) deliver(ctx context.Context, d library.Delivery, do func(ctx context.Context, d *library.Delivery) error) {
	defer s.wait.Done()
	err := fault.Do(func() error { return do(ctx, &d) })
	switch {
	case err == nil:
		d.State = "done"
	case errors.Is(err, context.Canceled):
		d.State, d.Note = "cancelled", "nothing was left behind"
	default:
		d.State, d.Note = "failed", err.Error()
		if !fault.Log("a delivery", err, "delivery", d.ID, "file", d.Path) {
			slog.Warn("a delivery failed", "delivery", d.ID, "error", err)
		}
	}
	if err := s.lib.SaveDelivery(&d); err != nil {
		slog.Error("a delivery has ended, and that could not be kept", "delivery", d.ID, "state", d.State, "error", err)
		d.Note = strings.TrimPrefix(d.Note+"; that it ended could not be kept: "+err.Error(), "; ")
		s.mu.Lock()
		s.ended[d.ID] = d
		s.mu.Unlock()
	}
	s.mu.Lock()
	delete(s.running, d.ID)
	s.mu.Unlock()
	s.tell(Event{Delivery: &d})
}

// make makes the files of a delivery. A sequence's folder has its name only once it is whole.
func (s *Jobs) make(ctx context.Context, d *library.Delivery, f Format, shot *library.Shot, look *look.Look) error {
	if f.Table {
		b, err := (Bake{Out: d.Path, Look: look, From: shot.Encoding, Size: deliveredSize, Curve: f.curve}).Run(ctx)
		if err != nil {
			return err
		}
		d.Done = 1
		d.Note = fmt.Sprintf("mean ΔE %.2f, worst %.1f", b.Error.Mean, b.Error.Worst)
		if len(b.Left) > 0 {
			d.Note += "; left out: " + strings.Join(b.Left, ", ")
		}
		return nil
	}
	first, last := d.Frame, d.Frame
	if f.Whole {
		first, last = shot.In, spanEnd(shot.Frames, shot.Out)-1
	}
	out, dir := d.Path, ""
	if f.Group == "sequence" {
		dir = filepath.Dir(d.Path)
		if err := os.MkdirAll(dir+partEnding, 0o755); err != nil {
			return Bad("%s: the folder of the sequence cannot be made (%w)", dir, err)
		}
		out = filepath.Join(dir+partEnding, filepath.Base(d.Path))
	}
	progress := s.progress(d)
	err := Job{In: shot.Path, Out: out, Encoding: shot.Encoding, Look: look, First: first, Last: last, W: shot.Width, H: shot.Height, Half: f.half, Codec: f.codec, Depth: f.depth, Range: f.span, Clean: s.clean, PlacedGrain: f.placed, room: s.sessions.room, waits: s.waits(d)}.Run(ctx, func(done, _ int) { progress(done) })
	if dir == "" {
		return err
	}
	if err == nil {
		err = os.Rename(dir+partEnding, dir)
	}
	if err != nil {
		os.RemoveAll(dir + partEnding)
	}
	return err
}

// waits tells that a delivery has to wait for memory, and where in the line it is.
func (s *Jobs) waits(d *library.Delivery) func(place int) {
	began := *d
	return func(place int) {
		now := began
		switch place {
		case 0:
		case 1:
			now.Note = "waits for memory, the next in line"
		default:
			now.Note = fmt.Sprintf("waits for memory, number %d in line", place)
		}
		s.tell(Event{Delivery: &now})
	}
}

// partEnding ends the names of what is not whole yet.
const partEnding = ".velours-part"

// CancelDelivery stops a running delivery; one that has ended stays as it is.
func (s *Jobs) CancelDelivery(id uint) error {
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
func (s *Jobs) Deliveries() ([]library.Delivery, error) {
	list, err := s.lib.Deliveries(40)
	s.mu.Lock()
	defer s.mu.Unlock()
	for i := range list {
		if d, ok := s.ended[list[i].ID]; ok {
			list[i] = d
		}
	}
	return list, err
}

// Delivery finds one.
func (s *Jobs) Delivery(id uint) (*library.Delivery, error) {
	s.mu.Lock()
	d, ok := s.ended[id]
	s.mu.Unlock()
	if ok {
		return &d, nil
	}
	return s.lib.Delivery(id)
}
