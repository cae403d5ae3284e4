package server

import (
	"context"
	"encoding/json"
	"log/slog"
	"reflect"
	"sync"
	"time"

	"velours/core/fault"
	"velours/core/strict"
	"velours/studio"
)

// request is one thing that a window can ask for over its socket: a type of its own, the types of its replies, and what
// answers it. A problem may come in place of a reply.
type request struct {
	name, summary string
	body          reflect.Type
	replies       []message
	answer        func(w *window, ctx context.Context, data []byte) error
}

// requests are all of them. The front end's types come from here.
var requests = []request{
	requestOf("picture", "A picture of a shot, a draft first, with its scopes after it", (*window).picture, pictures, scopes),
	requestOf("ribbon", "The beam: the frame as it leaves each station, side by side", (*window).ribbon, pictures),
	requestOf("pin", "The picture of a pin", (*window).pin, pictures),
	requestOf("play", "A finished frame of what plays; frames come one after the other, in the order in which they were asked for", (*window).play, pictures),
	requestOf("fill", "Make a stretch of frames ready while nothing else is asked for", (*window).fill, messageOf[FillReply]("fill")),
	requestOf("probe", "Read the pixel under the pointer", (*window).probe, messageOf[ProbeReply]("probe")),
	requestOf("pick", "Read a point as light enters a step", (*window).pick, messageOf[PickReply]("pick")),
	requestOf("tones", "Count the light that enters a step", (*window).tones, messageOf[TonesReply]("tones")),
	requestOf("skin", "Read how far skin moves through a station", (*window).skin, messageOf[SkinReply]("skin")),
	requestOf("no-effect", "Why steps that are on change nothing in this frame", (*window).noEffect, messageOf[NoEffectReply]("no-effect")),
	requestOf("likeness", "Which films bring a shot near one of its other sides, a pin, a still or another shot: how far the search is, again and again, then what it found", (*window).likeness, messageOf[LikenessReply]("likeness")),
	requestOf("grain", "Measure the grain of a shot or a pin: how far it is, again and again, then the card, which is not kept yet", (*window).grain, messageOf[GrainReply]("grain")),
	requestOf("alike", "Find the shots of a shot's reel of the same camera and light: how far the search is, again and again, then the shots, the nearest first", (*window).alike, messageOf[AlikeReply]("alike")),
	requestOf("cuts", "Find the shots that a shot's movie holds: how far the search is, again and again, then the cuts", (*window).cuts, messageOf[CutsReply]("cuts")),
	requestOf("measure", "Make a stock card of measurements: what is under way, again and again, then the card, which is not kept yet", (*window).measure, messageOf[MeasureReply]("measure")),
	requestOf("stop", "End the work of channels", (*window).stop),
}

// Asked is what every request says of itself. A newer request of a channel cancels the older one in the middle of its work.
type Asked struct {
	Type    string `json:"type"`
	Channel string `json:"channel"`
	Seq     int    `json:"seq"`
}

// requestOf makes a request of the method that answers it.
func requestOf[T any](name, summary string, answer func(w *window, ctx context.Context, q *T) error, replies ...message) request {
	return request{name, summary, reflect.TypeFor[T](), replies, func(w *window, ctx context.Context, data []byte) error {
		q := new(T)
		if err := strict.JSON(data, q); err != nil { // its depth was looked at
			return studio.Bad("the request cannot be read: %w", err)
		}
		return answer(w, ctx, q)
	}}
}

// findRequest returns the request of a name, or nil.
func findRequest(name string) *request {
	for i := range requests {
		if requests[i].name == name {
			return &requests[i]
		}
	}
	return nil
}

// arrival is what is told of a message before it is read as what it asks for.
type arrival struct {
	Asked
	// InTurn stands in it as in PictureRequest.
	InTurn bool `json:"inTurn"`
}

// read tells what a message asks for.
func read(data []byte) (arrival, *request, error) {
	var a arrival
	if err := checkDepth(data); err != nil {
		return a, nil, err
	}
	if err := json.Unmarshal(data, &a); err != nil {
		return a, nil, studio.Bad("the request cannot be read: %w", err)
	}
	r := findRequest(a.Type)
	if r == nil {
		return a, nil, studio.Bad("there is no request %q", a.Type)
	}
	return a, r, nil
}

// PictureRequest asks for a picture. Its View's Draft asks for the draft alone.
type PictureRequest struct {
	Asked
	View studio.View `json:"view"`
	// Exact leaves the draft out.
	Exact bool `json:"exact,omitempty"`
	// InTurn makes pictures that ask for it one after the other: those of a test strip fill it in order.
	InTurn bool `json:"inTurn,omitempty"`
	// Scopes are measured of the picture.
	Scopes []studio.ScopeAsk `json:"scopes,omitempty"`
}

func (w *window) picture(ctx context.Context, q *PictureRequest) error {
	if q.View.Keep {
		began := time.Now()
		im, err := w.s.studio.Thumbnail(ctx, q.View)
		if err != nil {
			return err
		}
		return w.send(ctx, pictureReply(q.Asked, Draft, im, began), im.RGBA)
	}
	only := q.View.Draft
	if !q.Exact || only {
		if err := w.pass(ctx, q, Draft); err != nil || only {
			return err
		}
	}
	return w.pass(ctx, q, Exact)
}

// pass shows a draft, or the picture itself, and measures it.
func (w *window) pass(ctx context.Context, q *PictureRequest, stage Stage) error {
	began := time.Now()
	q.View.Draft = stage == Draft
	p, err := w.s.studio.Show(ctx, q.View)
	if err != nil {
		return err
	}
	im := p.Image()
	r := pictureReply(q.Asked, stage, im, began)
	r.Bands = p.Bands
	if err := w.send(ctx, r, im.RGBA); err != nil {
		return err
	}
	for _, ask := range q.Scopes {
		v, im, err := p.Scope(ctx, ask)
		if err != nil {
			return err
		}
		r := &ScopeReply{Replied: replied("scope", q.Asked), Stage: stage, Scope: *v}
		var pixels []byte
		if im != nil {
			r.W, r.H, pixels = im.W, im.H, im.RGBA
		}
		if err := w.send(ctx, r, pixels); err != nil {
			return err
		}
	}
	return nil
}

// RibbonRequest asks for the beam, with bands of a size in pixels.
type RibbonRequest struct {
	Asked
	View  studio.View `json:"view"`
	BandW int         `json:"bandWidth"`
	BandH int         `json:"bandHeight"`
}

func (w *window) ribbon(ctx context.Context, q *RibbonRequest) error {
	began := time.Now()
	im, err := w.s.studio.Ribbon(ctx, q.View, q.BandW, q.BandH)
	if err != nil {
		return err
	}
	return w.send(ctx, pictureReply(q.Asked, Exact, im, began), im.RGBA)
}

// PinRequest asks for the picture of a pin, fitted into a size.
type PinRequest struct {
	Asked
	Pin uint `json:"pin"`
	W   int  `json:"width"`
	H   int  `json:"height"`
}

func (w *window) pin(ctx context.Context, q *PinRequest) error {
	began := time.Now()
	im, err := w.s.studio.PinImage(ctx, q.Pin, q.W, q.H)
	if err != nil {
		return err
	}
	return w.send(ctx, pictureReply(q.Asked, Exact, im, began), im.RGBA)
}

// PlayRequest asks for one frame of what plays.
type PlayRequest struct {
	Asked
	View studio.View `json:"view"`
	// Within is how many milliseconds there are for a frame: what cannot be there in time is made at a lower raster. 0 is as long as it
	// takes.
	Within float64 `json:"within,omitempty"`
}

func (w *window) play(ctx context.Context, q *PlayRequest) error {
	began := time.Now()
	n := q.View.Frame
	if q.View.Number != nil {
		n = *q.View.Number
	}
	w.playhead.Store(int64(n))
	im, share, err := w.s.studio.Play(ctx, q.View, &w.pace, time.Duration(min(max(q.Within, 0), 1e4)*1e6))
	if err != nil {
		return err
	}
	stage := Exact
	if share < 1 {
		stage = Draft
	}
	r := pictureReply(q.Asked, stage, im, began)
	r.Share = share
	return w.send(ctx, r, im.RGBA)
}

// FillRequest asks for the frames of a stretch, from the view's own frame on.
type FillRequest struct {
	Asked
	View    studio.View     `json:"view"`
	Stretch *studio.Stretch `json:"stretch" ts:"Stretch"`
	// Playing tells that the stretch plays: it is made ready near the frame that was asked for last, in the time that playing leaves.
	Playing bool `json:"playing,omitempty"`
}

// maxStretch is the longest stretch that is made ready at once: a quarter of an hour.
const maxStretch = 15 * 60 * 24

func (w *window) fill(ctx context.Context, q *FillRequest) error {
	if q.Stretch == nil || q.Stretch.From < 0 || q.Stretch.To-q.Stretch.From > maxStretch {
		return studio.Bad("a stretch goes from one frame to another, at most %d on", maxStretch)
	}
	tell := func() error {
		kept, err := w.s.studio.Kept(ctx, q.View, *q.Stretch)
		if err != nil {
			return err
		}
		decoded, err := w.s.studio.Decoded(ctx, q.View, *q.Stretch)
		if err != nil {
			return err
		}
		return w.send(ctx, &FillReply{replied("fill", q.Asked), kept, decoded}, nil)
	}
	if err := tell(); err != nil {
		return err
	}
	last := time.Now()
	told := func() {
		if time.Since(last) > 250*time.Millisecond {
			last = time.Now()
			if err := tell(); err != nil {
				slog.Debug("telling how far a stretch is", "error", err)
			}
		}
	}
	turn := func(ctx context.Context) (int, error) { return -1, w.quiet(ctx) }
	if q.Playing {
		turn = w.meanwhile
	} else if err := w.s.studio.Decode(ctx, q.View, *q.Stretch, w.quiet, told); err != nil {
		return err
	}
	if err := w.s.studio.Fill(ctx, q.View, *q.Stretch, turn, func(int) { told() }); err != nil {
		return err
	}
	return tell()
}

// meanwhile waits until what plays leaves time for something else, and tells which of its frames was asked for last: near it, frames are
// decoded.
func (w *window) meanwhile(ctx context.Context) (int, error) {
	for {
		if err := w.quiet(ctx); err != nil || !w.pace.Pressed() {
			return int(w.playhead.Load()), err
		}
		select {
		case <-ctx.Done():
			return 0, ctx.Err()
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// quiet waits until nothing but filling is under way.
func (w *window) quiet(ctx context.Context) error {
	for {
		w.mu.Lock()
		busy := 0
		for _, k := range w.busy {
			if k.asked.Type != "fill" {
				busy++
			}
		}
		w.mu.Unlock()
		if busy == 0 {
			return ctx.Err()
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// ProbeRequest asks for what can be said of a pixel of the view.
type ProbeRequest struct {
	Asked
	View  studio.View   `json:"view"`
	Probe *studio.Probe `json:"probe" ts:"Probe"`
}

func (w *window) probe(ctx context.Context, q *ProbeRequest) error {
	if q.Probe == nil {
		return studio.Bad("a probe without its pixel")
	}
	r, err := w.s.studio.Probe(ctx, q.View, *q.Probe)
	if err != nil {
		return err
	}
	return w.send(ctx, &ProbeReply{replied("probe", q.Asked), *r}, nil)
}

// PickRequest asks for a point as light enters the view's step.
type PickRequest struct {
	Asked
	View  studio.View   `json:"view"`
	Probe *studio.Probe `json:"probe" ts:"Probe"`
}

func (w *window) pick(ctx context.Context, q *PickRequest) error {
	if q.Probe == nil {
		return studio.Bad("a pick without its pixel")
	}
	p, err := w.s.studio.Pick(ctx, q.View, *q.Probe)
	if err != nil {
		return err
	}
	return w.send(ctx, &PickReply{replied("pick", q.Asked), *p}, nil)
}

// TonesRequest asks for how often each brightness enters the view's step.
type TonesRequest struct {
	Asked
	View studio.View `json:"view"`
}

func (w *window) tones(ctx context.Context, q *TonesRequest) error {
	t, err := w.s.studio.Tones(ctx, q.View)
	if err != nil {
		return err
	}
	return w.send(ctx, &TonesReply{replied("tones", q.Asked), *t}, nil)
}

// SkinRequest asks how skin moves, as the view's step, a skin guard, finds it; with Back also for the way back.
type SkinRequest struct {
	Asked
	View studio.View `json:"view"`
	Back bool        `json:"back,omitempty"`
}

func (w *window) skin(ctx context.Context, q *SkinRequest) error {
	m, err := w.s.studio.SkinMove(ctx, q.View, q.Back)
	if err != nil {
		return err
	}
	return w.send(ctx, &SkinReply{replied("skin", q.Asked), *m}, nil)
}

// LikenessRequest asks for the films that bring the view's shot near the view's side.
type LikenessRequest struct {
	Asked
	View studio.View `json:"view"`
}

func (w *window) likeness(ctx context.Context, q *LikenessRequest) error {
	found, err := w.s.studio.Likeness(ctx, q.View, now(func(done float64) {
		if err := w.send(ctx, &LikenessReply{Replied: replied("likeness", q.Asked), Done: done}, nil); err != nil {
			slog.Debug("telling how far a search is", "error", err)
		}
	}))
	if err != nil {
		return err
	}
	return w.send(ctx, &LikenessReply{replied("likeness", q.Asked), 1, found}, nil)
}

// now tells how far something is a few times a second, whoever says so, and however often.
func now(tell func(done float64)) func(done float64) {
	last := time.Now()
	var mu sync.Mutex
	return func(done float64) {
		mu.Lock()
		defer mu.Unlock()
		if time.Since(last) > 150*time.Millisecond {
			last = time.Now()
			tell(done)
		}
	}
}

// MeasureRequest asks for a stock card of measurements.
type MeasureRequest struct {
	Asked
	Film *studio.FilmAsk `json:"film" ts:"FilmAsk"`
}

func (w *window) measure(ctx context.Context, q *MeasureRequest) error {
	if q.Film == nil {
		return studio.Bad("a measurement without anything to measure")
	}
	made, err := w.s.studio.MeasureShots(ctx, *q.Film, func(doing string) {
		if err := w.send(ctx, &MeasureReply{Replied: replied("measure", q.Asked), Doing: doing}, nil); err != nil {
			slog.Debug("telling what is measured", "error", err)
		}
	})
	if err != nil {
		return err
	}
	return w.send(ctx, &MeasureReply{Replied: replied("measure", q.Asked), Fitted: made}, nil)
}

// NoEffectRequest asks which steps change nothing in a frame.
type NoEffectRequest struct {
	Asked
	View studio.View `json:"view"`
}

func (w *window) noEffect(ctx context.Context, q *NoEffectRequest) error {
	why, err := w.s.studio.NoEffect(ctx, q.View)
	if err != nil {
		return err
	}
	return w.send(ctx, &NoEffectReply{replied("no-effect", q.Asked), why}, nil)
}

// StopRequest ends the work of all channels whose names begin with its own, and is not answered.
type StopRequest struct{ Asked }

func (w *window) stop(_ context.Context, q *StopRequest) error {
	w.cancel(q.Channel)
	return nil
}

// answer does what a message asks for; a fault in it is that message's alone.
func (w *window) answer(ctx context.Context, r *request, data []byte) error {
	return fault.Do(func() error { return r.answer(w, ctx, data) })
}
