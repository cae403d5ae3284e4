package server

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"log/slog"
	"sync"
	"time"

	"github.com/coder/websocket"
	"github.com/gin-gonic/gin"

	"velours/library"
	"velours/studio"
)

// window is one open page: a socket, and for each channel the work under way.
type window struct {
	s     *Server
	conn  *websocket.Conn
	write sync.Mutex

	mu   sync.Mutex
	busy map[string]context.CancelFunc
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
	w := &window{s: s, conn: conn, busy: map[string]context.CancelFunc{}}
	progress, stop := s.studio.Watch()
	defer stop()
	go w.report(ctx, progress)
	for {
		_, data, err := conn.Read(ctx)
		if err != nil {
			return
		}
		var q Request
		if err := json.Unmarshal(data, &q); err != nil {
			w.send(ctx, Reply{Problem: "the request cannot be read: " + err.Error()}, nil)
			continue
		}
		w.start(ctx, q)
	}
}

func (w *window) report(ctx context.Context, progress <-chan library.Delivery) {
	for {
		select {
		case <-ctx.Done():
			return
		case d := <-progress:
			o := delivery(&d)
			w.send(ctx, Reply{Channel: "delivery", Delivery: &o}, nil)
		}
	}
}

// start cancels what the channel was doing and begins the new request.
func (w *window) start(ctx context.Context, q Request) {
	ctx, cancel := context.WithCancel(ctx)
	w.mu.Lock()
	if old := w.busy[q.Channel]; old != nil {
		old()
	}
	w.busy[q.Channel] = cancel
	w.mu.Unlock()
	go func() {
		defer cancel()
		if err := w.answer(ctx, q); err != nil && !errors.Is(err, context.Canceled) && ctx.Err() == nil {
			w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Problem: err.Error()}, nil)
		}
	}()
}

// answer sends a draft, then, unless only a draft was asked for, the exact picture.
func (w *window) answer(ctx context.Context, q Request) error {
	began := time.Now()
	pass := func(stage string, im *studio.Image) error {
		return w.send(ctx, Reply{Channel: q.Channel, Seq: q.Seq, Stage: stage, W: im.W, H: im.H, SourceW: im.SourceW, SourceH: im.SourceH, MS: float64(time.Since(began).Microseconds()) / 1000}, im.RGBA)
	}
	if q.Channel == "ribbon" {
		im, err := w.s.studio.Ribbon(ctx, q.View, q.BandW, q.BandH)
		if err != nil {
			return err
		}
		return pass("exact", im)
	}
	only := q.View.Draft
	q.View.Draft = true
	im, err := w.s.studio.Picture(ctx, q.View)
	if err != nil {
		return err
	}
	if err := pass("draft", im); err != nil || only {
		return err
	}
	q.View.Draft = false
	if im, err = w.s.studio.Picture(ctx, q.View); err != nil {
		return err
	}
	return pass("exact", im)
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
