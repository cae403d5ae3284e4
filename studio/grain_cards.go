package studio

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"image"
	"image/png"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/noise"
	"velours/core/render"
	"velours/core/steps"
	"velours/library"
)

// GrainAsk asks for the grain of a shot, or of a pin, to be measured.
type GrainAsk struct {
	Shot uint `json:"shot"`
	// Pin, if not 0, is measured in the shot's place: one frame.
	Pin uint `json:"pin,omitempty"`
	// Shown measures the finished pictures, otherwise the frames as they were recorded.
	Shown bool `json:"shown,omitempty"`
	// Frame is the first frame, Frames how many in a row, 0 for the usual number.
	Frame  int `json:"frame"`
	Frames int `json:"frames,omitempty"`
	// Boxes are where it is measured, in pixels of the shot; none is everywhere.
	Boxes []noise.Area `json:"boxes,omitempty"`
	// Name is what to call it, 60 bytes at most, empty for the shot's name.
	Name string `json:"name,omitempty"`
}

// MeasureGrain measures grain as a card, which is not kept yet. progress, if not nil, is told the share that is done.
func (s *Sessions) MeasureGrain(ctx context.Context, q GrainAsk, progress func(done float64)) (*noise.Card, error) {
	shot, err := s.lib.Shot(q.Shot)
	if err != nil {
		return nil, err
	}
	if q.Pin != 0 {
		return s.grainOfPin(ctx, q)
	}
	n := q.Frames
	if n == 0 {
		n = min(UsualGrainFrames, shot.Frames)
	}
	if n < 1 || n > mostGrainFrames {
		return nil, Bad("%d frames; grain is measured from 1 to %d", n, mostGrainFrames)
	}
	first := min(q.Frame, shot.Frames-n)
	if q.Frame < 0 || q.Frame >= shot.Frames || first < 0 {
		return nil, Bad("%s has frames 0 to %d, not %d frames from %d on", shot.Name, shot.Frames-1, n, q.Frame)
	}
	if err := checkBoxes(q.Boxes, shot.Width, shot.Height, shot.Name); err != nil {
		return nil, err
	}
	v := View{Shot: q.Shot}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	codes := shot.Encoding
	if q.Shown {
		codes = render.DisplayOf(c.look).ID
	} else if codes == "" {
		return nil, Bad("%s does not say how it was encoded; declare it in Intake first, or measure it as it is shown", shot.Name)
	}
	return s.grainOf(ctx, c, c.look, q, first, n, codes, progress)
}

// grainOf measures frames of a scene under a look; progress may be nil.
func (s *Sessions) grainOf(ctx context.Context, c *scene, l *look.Look, q GrainAsk, first, n int, codes string, progress func(done float64)) (*noise.Card, error) {
	const rendering = 0.5 // of the time, about
	if progress == nil {
		progress = func(float64) {}
	}
	at := noise.Looked(c.shot.Width, c.shot.Height, q.Boxes)
	var frames []*frame.Frame
	for k := first; k < first+n; k++ {
		var f *frame.Frame
		var err error
		if q.Shown {
			c.view.Frame = k
			f, _, err = s.at(ctx, c, l, look.Finish)
		} else {
			f, err = c.src.Frame(ctx, k)
		}
		if err != nil {
			return nil, wrapInput(err)
		}
		frames = append(frames, f.Crop(at.X, at.Y, at.W, at.H))
		progress(rendering * float64(k-first+1) / float64(n))
	}
	m, err := noise.Measure(ctx, frames, noise.Options{Boxes: noise.Within(at, q.Boxes)}, func(done float64) { progress(rendering + (1-rendering)*done) })
	if err != nil {
		return nil, untold(ctx, c.shot.Name, err)
	}
	name := q.Name
	if name == "" {
		name = c.shot.Name
	}
	from := fromFrames(c.shot.Name, first, first+n-1)
	if q.Shown {
		from += ", as shown"
	}
	return m.Card(cardID(name), name, from, codes, c.shot.Width).Named(cardID(name), name), nil
}

// grainOfPin measures a pin or a reference.
func (s *Sessions) grainOfPin(ctx context.Context, q GrainAsk) (*noise.Card, error) {
	pin, err := s.lib.Pin(q.Pin)
	if err != nil {
		return nil, err
	}
	if err := checkBoxes(q.Boxes, pin.Width, pin.Height, pin.Name); err != nil {
		return nil, err
	}
	r, err := s.reader(ctx, pin.File)
	if err != nil {
		return nil, wrapInput(err)
	}
	f, err := r.Frame(ctx, 0)
	if err != nil {
		return nil, wrapInput(err)
	}
	at := noise.Looked(pin.Width, pin.Height, q.Boxes)
	m, err := noise.Measure(ctx, []*frame.Frame{f.Crop(at.X, at.Y, at.W, at.H)}, noise.Options{Boxes: noise.Within(at, q.Boxes)}, nil)
	if err != nil {
		return nil, untold(ctx, pin.Name, err)
	}
	name := q.Name
	if name == "" {
		name = pin.Name
	}
	return m.Card(cardID(name), name, pin.Name, pin.Display, pin.Width).Named(cardID(name), name), nil
}

// AddGrain keeps a grain card in the library.
func (s *Assets) AddGrain(c *noise.Card) (*library.Asset, error) {
	c, err := noise.ParseCard(c.JSON()) // it comes from elsewhere
	if err != nil {
		return nil, BadInput{err}
	}
	if c.Label == "" {
		c.Label = "Grain"
	}
	if !c.Sealed() { // it was changed, or comes from elsewhere: looks that name another stay with that
		c = c.Named(cardID(c.Label), c.Label)
	}
	a := &library.Asset{Kind: "grain", Key: c.ID, Name: c.Label, File: c.ID + ".json", Data: c.JSON()}
	return a, s.keep(a)
}

// AddGrainFile keeps a grain card that comes as a file.
func (s *Assets) AddGrainFile(data []byte) (*library.Asset, error) {
	c, err := noise.ParseCard(data)
	if err != nil {
		return nil, BadInput{err}
	}
	return s.AddGrain(c)
}

// LoadGrain makes the grain card of a file known to this process, and returns its id.
func LoadGrain(file string) (string, error) {
	data, err := readCardFile(file)
	if err != nil {
		return "", err
	}
	c, err := noise.ParseCard(data)
	if err != nil {
		return "", Bad("%s: %w", file, err)
	}
	noise.Know(c)
	return c.ID, nil
}

// Matched is what a match came to: the grain that the shot had, that which was aimed at, and that which it has now.
type Matched struct {
	Shot *library.Shot `json:"-"`
	// Was is nil where there was none to be measured, Is where what there is now cannot be; Why says so.
	Was *noise.Card `json:"was,omitempty"`
	Aim *noise.Card `json:"aim"`
	Is  *noise.Card `json:"is,omitempty"`
	Why string      `json:"why,omitempty"`
}

// MatchGrain gives a shot so much grain on top that what it shows has, with what is there already, the grain of a card of the library.
func (s *Studio) MatchGrain(ctx context.Context, id uint, card string, by library.Author) (*Matched, error) {
	aim, err := noise.Find(card)
	if err != nil {
		return nil, BadInput{err}
	}
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	v := View{Shot: id}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	if display := render.DisplayOf(c.look); aim.Codes != display.ID {
		return nil, Bad("%s is of %s codes, and %s is made for %s; measure the other shot as it is shown, for the same display", aim.Label, aim.Codes, shot.Name, display.ID)
	}
	n := min(UsualGrainFrames, shot.Frames)
	first := min(shot.Frame, shot.Frames-n)
	out := &Matched{Aim: aim}
	q := GrainAsk{Shot: id, Shown: true}
	bare := c.look.Without(look.Finish, "grain")
	if out.Was, err = s.Sessions.grainOf(ctx, c, bare, q, first, n, aim.Codes, nil); err != nil {
		if ctx.Err() != nil {
			return nil, err
		}
		out.Was = nil // none that can be told
	}
	follow := aim
	if less := aim.Less(out.Was); out.Was != nil && less != aim {
		label := fmt.Sprintf("%s less %s", aim.Label, shot.Name)
		follow = less.Named(cardID(label), label)
		if _, err := s.AddGrain(follow); err != nil {
			return nil, err
		}
	}
	edit := look.Edit{Op: look.OpSet, Station: look.Finish, Kind: "grain", Values: map[string]any{"card": follow.ID, "amount": 100.0, "size": 100.0}}
	if out.Shot, err = s.Edit(id, edit, by); err != nil {
		return nil, err
	}
	after, _, err := s.lookOf(out.Shot)
	if err != nil {
		return nil, err
	}
	if n == 1 { // a still: its grain goes on while it stands
		out.Is, err = s.grainOfStill(ctx, c, after, q, aim.Codes)
	} else {
		out.Is, err = s.Sessions.grainOf(ctx, c, after, q, first, n, aim.Codes, nil)
	}
	if err != nil {
		if ctx.Err() != nil {
			return nil, err
		}
		out.Is, out.Why = nil, err.Error()
	}
	return out, nil
}

// Regrain gives a shot whose noise is taken out its own grain again, on top: as its finished pictures have it while the noise is in.
func (s *Studio) Regrain(ctx context.Context, id uint, by library.Author) (*Matched, error) {
	v := View{Shot: id}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	n := min(UsualGrainFrames, c.shot.Frames)
	first := min(c.shot.Frame, c.shot.Frames-n)
	before := c.look.Without(look.Intake, "denoise").Without(look.Finish, "grain")
	q := GrainAsk{Shot: id, Shown: true, Name: c.shot.Name + ", its own"}
	card, err := s.Sessions.grainOf(ctx, c, before, q, first, n, render.DisplayOf(c.look).ID, nil)
	if err != nil {
		return nil, err
	}
	if _, err := s.AddGrain(card); err != nil {
		return nil, err
	}
	return s.MatchGrain(ctx, id, card.ID, by)
}

// grainOfStill measures the grain that goes on over a still.
func (s *Sessions) grainOfStill(ctx context.Context, c *scene, l *look.Look, q GrainAsk, codes string) (*noise.Card, error) {
	at := noise.Looked(c.shot.Width, c.shot.Height, nil)
	var frames []*frame.Frame
	for k := range UsualGrainFrames {
		c.view.Frame, c.view.Number = 0, &k
		f, _, err := s.at(ctx, c, l, look.Finish)
		if err != nil {
			return nil, err
		}
		frames = append(frames, f.Crop(at.X, at.Y, at.W, at.H))
	}
	m, err := noise.Measure(ctx, frames, noise.Options{}, nil)
	if err != nil {
		return nil, untold(ctx, c.shot.Name, err)
	}
	return m.Card(cardID(c.shot.Name), c.shot.Name, c.shot.Name+", its grain moving", codes, c.shot.Width), nil
}

// patchSize is how large a patch of a card's grain is, and patchCodes the greys that it is shown on.
const patchSize = 90

var patchCodes = [3]float64{0.25, 0.45, 0.7}

// GrainPatch draws a card's grain pixel for pixel on three greys side by side, as a PNG in a data URL.
func GrainPatch(ctx context.Context, c *noise.Card) (string, error) {
	f := frame.New(len(patchCodes)*patchSize, patchSize, 3)
	for p := range 3 {
		for y := range f.H {
			row := f.Row(p, y)
			for x := range row {
				row[x] = float32(patchCodes[x/patchSize])
			}
		}
	}
	out, err := steps.OnCodes(ctx, c, f)
	if err != nil {
		return "", err
	}
	im := image.NewRGBA(image.Rect(0, 0, f.W, f.H))
	im.Pix = rgba(out)
	var data bytes.Buffer
	if err := png.Encode(&data, im); err != nil {
		return "", fmt.Errorf("drawing grain: %w", err)
	}
	return "data:image/png;base64," + base64.StdEncoding.EncodeToString(data.Bytes()), nil
}
