package studio

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/steps"
	"velours/library"
	"velours/media"
)

// AddPin freezes a shot's frame, at its full size, together with the settings that make it.
func (s *Assets) AddPin(ctx context.Context, shotID uint, n int) (*library.Pin, error) {
	shot, err := s.lib.Shot(shotID)
	if err != nil {
		return nil, err
	}
	if n < 0 || n >= shot.Frames {
		return nil, Bad("%s has no frame %d", shot.Name, n)
	}
	p, err := s.sessions.Show(ctx, View{Shot: shotID, Frame: n})
	if err != nil {
		return nil, err
	}
	v, err := s.levelsOf(shot, nil)
	if err != nil {
		return nil, err
	}
	flat, _ := v.Flat()
	doc, err := marshal(flat)
	if err != nil {
		return nil, err
	}
	pin := &library.Pin{ReelID: shot.ReelID, Name: fmt.Sprintf("%s %d", shot.Name, n), ShotID: shot.ID, Shot: shot.Name, Frame: n, Look: doc, Encoding: shot.Encoding,
		Display: p.Display.ID, White: p.Display.White, Peak: p.Display.Peak, Width: p.W, Height: p.H}
	file, err := s.pinFile(".png")
	if err != nil {
		return nil, err
	}
	w, err := media.Create(file, 0, media.Options{Depth: 16})
	if err != nil {
		return nil, err
	}
	if err := w.Write(ctx, p.Frame); err != nil {
		w.Abort()
		return nil, fmt.Errorf("pinning %s: %w", pin.Name, err)
	}
	if err := w.Close(); err != nil {
		return nil, fmt.Errorf("pinning %s: %w", pin.Name, err)
	}
	pin.File = file
	return pin, s.savePin(pin)
}

// savePin keeps a pin, and lets mattes name it.
func (s *Assets) savePin(p *library.Pin) error {
	if err := s.lib.SavePin(p); err != nil {
		return err
	}
	s.knowPin(p)
	s.tell(Event{Assets: true})
	return nil
}

// pictureID is the name of a pin among the pictures of mattes; no other pin ever has it.
func pictureID(p *library.Pin) string {
	return "pin-" + strings.TrimSuffix(filepath.Base(p.File), filepath.Ext(p.File))
}

// pictureTime is how long the picture of a matte may take to be read.
const pictureTime = 30 * time.Second

func (s *Assets) knowPin(p *library.Pin) {
	file := p.File
	steps.KnowPicture(&steps.MattePicture{ID: pictureID(p), Label: p.Name, Load: func() (*frame.Frame, error) {
		ctx, cancel := context.WithTimeout(context.Background(), pictureTime)
		defer cancel()
		r, err := s.sessions.reader(ctx, file)
		if err != nil {
			return nil, err
		}
		return r.Frame(ctx, 0)
	}})
}

// knowPins lets mattes name all pins there are.
func (s *Assets) knowPins() error {
	pins, err := s.lib.Pins()
	for i := range pins {
		s.knowPin(&pins[i])
	}
	return err
}

// pinFile is a new name in the folder of pins.
func (s *Assets) pinFile(ext string) (string, error) {
	dir := filepath.Join(s.dir, "pins")
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", fmt.Errorf("the folder of pins: %w", err)
	}
	return filepath.Join(dir, fmt.Sprintf("%d%s", time.Now().UnixNano(), ext)), nil
}

// referenceDisplays are the displays for which files of a settled encoding are made.
var referenceDisplays = map[string]string{"srgb": "srgb", "bt709": "bt1886", "p3-d65": "p3-d65", "pq": "pq", "hlg": "hlg"}

// AddReference puts a still from elsewhere on the pinboard of a shot's reel. It must be made for a
// display; name is what to call it.
func (s *Assets) AddReference(ctx context.Context, reel uint, name string, data []byte) (*library.Pin, error) {
	if err := s.lib.HasReel(reel); err != nil {
		return nil, err
	}
	ext := strings.ToLower(filepath.Ext(name))
	if !media.Picture(name) {
		return nil, Bad("%s: a reference is a picture file: PNG, JPEG, TIFF, EXR or DPX", name)
	}
	file, err := s.pinFile(ext)
	if err != nil {
		return nil, err
	}
	if err := os.WriteFile(file, data, 0o644); err != nil {
		return nil, fmt.Errorf("keeping %s: %w", name, err)
	}
	pin, err := s.reference(ctx, reel, name, file)
	if err != nil {
		os.Remove(file)
		return nil, err
	}
	return pin, s.savePin(pin)
}

func (s *Assets) reference(ctx context.Context, reel uint, name, file string) (*library.Pin, error) {
	r, err := s.sessions.reader(ctx, file)
	if err != nil {
		return nil, Bad("%s cannot be read as a picture: %w", name, err)
	}
	if _, err := r.Frame(ctx, 0); err != nil {
		return nil, Bad("%s cannot be read as a picture: %w", name, err)
	}
	id, ok := referenceDisplays[SettledEncoding(r.Info)]
	if !ok {
		return nil, Bad("%s is not made for a display; a reference is compared as it stands, so convert it first", name)
	}
	w, h := r.Info.Shape()
	pin := &library.Pin{ReelID: reel, Name: strings.TrimSuffix(filepath.Base(name), filepath.Ext(name)), Reference: true, File: file, Display: id, Width: w, Height: h}
	d, err := pinDisplay(pin)
	if err != nil {
		return nil, err
	}
	pin.White, pin.Peak = d.White, d.Peak
	return pin, nil
}

// Pins lists all pins, newest first.
func (s *Assets) Pins() ([]library.Pin, error) { return s.lib.Pins() }

// RenamePin gives a pin another name.
func (s *Assets) RenamePin(id uint, name string) (*library.Pin, error) {
	p, err := s.lib.Pin(id)
	if err != nil {
		return nil, err
	}
	if name = strings.TrimSpace(name); name == "" {
		return nil, Bad("a pin needs a name")
	}
	p.Name = name
	return p, s.savePin(p)
}

// RemovePin takes a pin off the board and its file away.
func (s *Assets) RemovePin(id uint) error {
	p, err := s.lib.Pin(id)
	if err != nil {
		return err
	}
	if n, err := s.lib.Uses(pictureID(p)); err != nil {
		return err
	} else if n > 0 {
		return Bad("%s is the picture of a matte in %d shots; give those another first", p.Name, n)
	}
	if err := s.lib.RemovePin(id); err != nil {
		return err
	}
	steps.ForgetPicture(pictureID(p))
	s.tell(Event{Assets: true})
	if err := os.Remove(p.File); err != nil && !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("the file of %s: %w", p.Name, err)
	}
	return nil
}

// TakePin gives a shot the settings of a pin, as one change; by says whose it is.
func (s *Assets) TakePin(shot, pin uint, by library.Author) (*library.Shot, error) {
	p, err := s.lib.Pin(pin)
	if err != nil {
		return nil, err
	}
	if p.Reference {
		return nil, Bad("%s is a reference: it has no settings to take", p.Name)
	}
	return s.sessions.change(shot, by, func(*library.Document, *look.Look) (*look.Look, string, error) {
		l, err := look.ParseStored([]byte(p.Look))
		return l, "Load a look", err
	})
}

// PinImage is a pin for the pinboard, inside w×h, for the sRGB screen it stands on as it was made.
func (s *Assets) PinImage(ctx context.Context, id uint, w, h int) (*Image, error) {
	p, err := s.lib.Pin(id)
	if err != nil {
		return nil, err
	}
	r, err := s.sessions.reader(ctx, p.File)
	if err != nil {
		return nil, wrapInput(err)
	}
	f, err := r.Frame(ctx, 0)
	if err != nil {
		return nil, wrapInput(err)
	}
	d, err := pinDisplay(p)
	if err != nil {
		return nil, err
	}
	fw, fh := fitSize(p.Width, p.Height, w, h)
	if f, err = onDisplay(ctx, f, render.Raster{W: fw, H: fh}, d, d); err != nil {
		return nil, err
	}
	return &Image{W: fw, H: fh, RGBA: rgba(f), SourceW: p.Width, SourceH: p.Height}, nil
}
