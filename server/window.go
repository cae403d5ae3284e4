package server

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"log/slog"
	"strings"
	"sync"
	"time"

	"github.com/coder/websocket"
	"github.com/gin-gonic/gin"

	"velours/core/fault"
	"velours/studio"
)

// window is one open page: a socket, and for each channel the work under way.
type window struct {
	s     *Server
	conn  *websocket.Conn
	write sync.Mutex

	turn, strip sync.Mutex // of frames that are played, of pictures of a test strip

	mu   sync.Mutex
	busy map[string]*work

	mute bool // nothing is sent, in tests
}

func (s *Server) window(c *gin.Context) {
	conn, err := websocket.Accept(c.Writer, c.Request, &websocket.AcceptOptions{CompressionMode: websocket.CompressionDisabled})
	if err != nil {
		slog.Warn("a window's socket was refused", "error", err)
		return
	}
	defer conn.CloseNow()
	conn.SetReadLimit(1 << 20)
	ctx, cancel := context.WithCancel(c.Request.Context())
	defer cancel()
	w := &window{s: s, conn: conn, busy: map[string]*work{}}
	events, stop := s.studio.Watch()
	defer stop()
	go w.report(ctx, events)
	for {
		_, data, err := conn.Read(ctx)
		if err != nil {
			return
		}
		var q Request
		err = checkDepth(data)
		if err == nil {
			err = json.Unmarshal(data, &q)
		}
		if err != nil {
			w.send(ctx, Reply{Problem: "the request cannot be read: " + err.Error()}, nil)
			continue
		}
		w.start(ctx, q)
	}
}

// report passes on what changes, by whichever window.
func (w *window) report(ctx context.Context, events *studio.Watcher) {
	for ctx.Err() == nil {
		for _, e := range events.Next(ctx) {
			err := fault.Do(func() error { return w.pass(ctx, e) })
			if !fault.Log("telling a window", err) && err != nil && ctx.Err() == nil {
				slog.Warn("a window could not be told", "error", err)
			}
		}
	}
}

func (w *window) pass(ctx context.Context, e studio.Event) error {
	r := Reply{Channel: "event", Window: e.Window, Reels: e.Reels, Assets: e.Assets}
	if e.Delivery != nil {
		o := delivery(e.Delivery)
		r.Channel, r.Delivery = "delivery", &o
	}
	if e.Shot != nil {
		o, err := w.s.shot(e.Shot)
		if err != nil {
			return err
		}
		r.Shot = &o
	}
	return w.send(ctx, r, nil)
}

// work is what a channel is doing.
type work struct {
	cancel context.CancelFunc
	done   chan struct{}
}

// start cancels what the channel was doing and begins the new request when that has stopped, which is
// soon: so that at most one stale render is under way on a channel.
func (w *window) start(ctx context.Context, q Request) {
	if q.Stop {
		w.mu.Lock()
		for name, old := range w.busy {
			if strings.HasPrefix(name, q.Channel) {
				old.cancel()
			}
		}
		w.mu.Unlock()
		return
	}
	ctx, cancel := context.WithCancel(ctx)
	mine := &work{cancel, make(chan struct{})}
	w.mu.Lock()
	old := w.busy[q.Channel]
	if old != nil {
		old.cancel()
	}
	w.busy[q.Channel] = mine
	w.mu.Unlock()
	go func() {
		defer func() {
			cancel()
			close(mine.done)
			w.mu.Lock()
			if w.busy[q.Channel] == mine {
				delete(w.busy, q.Channel)
			}
			w.mu.Unlock()
		}()
		if old != nil {
			<-old.done
		}
		if ctx.Err() != nil {
			return
		}
		err := fault.Do(func() error { return w.answer(ctx, q) })
		fault.Log("a message of a window", err, "channel", q.Channel, "shot", q.View.Shot)
		if err != nil && !errors.Is(err, context.Canceled) && ctx.Err() == nil {
			w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Problem: err.Error()}, nil)
		}
	}()
}

// answer does what a request asks for.
func (w *window) answer(ctx context.Context, q Request) error {
	began := time.Now()
	reply := func(stage string, im *studio.Image) Reply {
		return Reply{Channel: q.Channel, Seq: q.Seq, Stage: stage, W: im.W, H: im.H, SourceW: im.SourceW, SourceH: im.SourceH, Note: im.Note, MS: float64(time.Since(began).Microseconds()) / 1000}
	}
	st := w.s.studio
	kind, _, _ := strings.Cut(q.Channel, ":")
	switch kind {
	case "ribbon":
		im, err := st.Ribbon(ctx, q.View, q.BandW, q.BandH)
		if err != nil {
			return err
		}
		return w.send(ctx, reply("exact", im), im.RGBA)
	case "pin":
		im, err := st.PinImage(ctx, q.Pin, q.View.W, q.View.H)
		if err != nil {
			return err
		}
		return w.send(ctx, reply("exact", im), im.RGBA)
	case "play":
		// one after the other, in the order in which they will be shown
		w.turn.Lock()
		defer w.turn.Unlock()
		if ctx.Err() != nil {
			return ctx.Err()
		}
		im, err := st.Finished(ctx, q.View)
		if err != nil {
			return err
		}
		return w.send(ctx, reply("exact", im), im.RGBA)
	case "fill":
		return w.fill(ctx, q)
	case "probe":
		if q.Probe == nil {
			return studio.Bad("a probe without its pixel")
		}
		r, err := st.Probe(ctx, q.View, *q.Probe)
		if err != nil {
			return err
		}
		return w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Reading: r}, nil)
	case "pick":
		if q.Probe == nil {
			return studio.Bad("a pick without its pixel")
		}
		p, err := st.Pick(ctx, q.View, *q.Probe)
		if err != nil {
			return err
		}
		return w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Picked: p}, nil)
	case "tones":
		t, err := st.Tones(ctx, q.View)
		if err != nil {
			return err
		}
		return w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Tones: t}, nil)
	case "skin", "back":
		m, err := st.SkinMove(ctx, q.View, kind == "back")
		if err != nil {
			return err
		}
		return w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Skin: m}, nil)
	case "rests":
		why, err := st.Rests(ctx, q.View)
		if err != nil {
			return err
		}
		return w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Rests: &why}, nil)
	}
	if kind == "try" { // a strip fills in order
		w.strip.Lock()
		defer w.strip.Unlock()
		if ctx.Err() != nil {
			return ctx.Err()
		}
	}
	pass := func(stage string, draft bool) error {
		q.View.Draft = draft
		p, err := st.Show(ctx, q.View)
		if err != nil {
			return err
		}
		im := p.Image()
		r := reply(stage, im)
		r.Bands = p.Bands
		if err := w.send(ctx, r, im.RGBA); err != nil {
			return err
		}
		return w.scopes(ctx, q, stage, p)
	}
	only := q.View.Draft
	if !q.Exact || only {
		if err := pass("draft", true); err != nil || only {
			return err
		}
	}
	return pass("exact", false)
}

// fill makes a stretch ready while nothing else is asked for, and tells how far it is.
func (w *window) fill(ctx context.Context, q Request) error {
	if q.Stretch == nil || q.Stretch.From < 0 || q.Stretch.To-q.Stretch.From > maxStretch {
		return studio.Bad("a stretch goes from one frame to another, at most %d on", maxStretch)
	}
	tell := func() error {
		kept, err := w.s.studio.Kept(ctx, q.View, *q.Stretch)
		if err != nil {
			return err
		}
		return w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Kept: &kept}, nil)
	}
	if err := tell(); err != nil {
		return err
	}
	last := time.Now()
	err := w.s.studio.Fill(ctx, q.View, *q.Stretch, w.quiet, func(int) {
		if time.Since(last) > 250*time.Millisecond {
			last = time.Now()
			if err := tell(); err != nil {
				slog.Debug("telling how far a stretch is", "error", err)
			}
		}
	})
	if err != nil {
		return err
	}
	return tell()
}

// maxStretch is the longest stretch that is made ready at once: a quarter of an hour.
const maxStretch = 15 * 60 * 24

// quiet waits until no channel but that of filling is at work.
func (w *window) quiet(ctx context.Context) error {
	for {
		w.mu.Lock()
		busy := len(w.busy)
		if w.busy["fill"] != nil {
			busy--
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

// scopes measures a picture that has been sent.
func (w *window) scopes(ctx context.Context, q Request, stage string, p *studio.Shown) error {
	name := "scope:"
	if q.Channel == "other" {
		name = "under:"
	}
	for _, ask := range q.Scopes {
		v, im, err := p.Scope(ctx, ask)
		if err != nil {
			return err
		}
		r := Reply{Channel: name + ask.ID, Seq: q.Seq, Stage: stage, Scope: v}
		var pixels []byte
		if im != nil {
			r.W, r.H, r.SourceW, r.SourceH, pixels = im.W, im.H, im.SourceW, im.SourceH, im.RGBA
		}
		if err := w.send(ctx, r, pixels); err != nil {
			return err
		}
	}
	return nil
}

// send writes a message: the length of the header, the header, the pixels.
func (w *window) send(ctx context.Context, r Reply, pixels []byte) error {
	head, err := json.Marshal(r)
	if err != nil {
		return err
	}
	// four-byte steps, so that the page can view the pixels where they lie
	for (4+len(head))%4 != 0 {
		head = append(head, ' ')
	}
	msg := make([]byte, 0, 4+len(head)+len(pixels))
	msg = binary.LittleEndian.AppendUint32(msg, uint32(len(head)))
	msg = append(append(msg, head...), pixels...)
	if w.mute {
		return nil
	}
	w.write.Lock()
	defer w.write.Unlock()
	if err := ctx.Err(); err != nil {
		return err // a newer request has taken over
	}
	// not the request's own context: a message cut in its middle would end the socket
	limit, cancel := context.WithTimeout(context.WithoutCancel(ctx), 20*time.Second)
	defer cancel()
	return w.conn.Write(limit, websocket.MessageBinary, msg)
}
