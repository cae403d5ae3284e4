package server

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"log/slog"
	"strings"
	"sync"
	"sync/atomic"
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

	played, strip line         // of frames that are played, of pictures of a test strip
	pace          studio.Pace  // of what plays
	playhead      atomic.Int64 // the frame that was asked for last to be played

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
	w := &window{s: s, conn: conn, strip: line{besides: 1}, busy: map[string]*work{}}
	events, stop := s.studio.Watch()
	defer stop()
	go w.report(ctx, events)
	for {
		_, data, err := conn.Read(ctx)
		if err != nil {
			return
		}
		asked, r, err := read(data)
		switch {
		case err != nil:
			w.send(ctx, &ProblemReply{replied("problem", asked.Asked), err.Error()}, nil)
		case r.name == "stop": // at once, not behind what it is to end
			if err := w.answer(ctx, r, data); err != nil {
				w.send(ctx, &ProblemReply{replied("problem", asked.Asked), err.Error()}, nil)
			}
		default:
			w.start(ctx, asked, r, data)
		}
	}
}

// report passes on what changes, by whichever window.
func (w *window) report(ctx context.Context, events *studio.Watcher) {
	for ctx.Err() == nil {
		for _, e := range events.Next(ctx) {
			err := fault.Do(func() error { return w.notify(ctx, e) })
			if !fault.Log("telling a window", err) && err != nil && ctx.Err() == nil {
				slog.Warn("a window could not be told", "error", err)
			}
		}
	}
}

func (w *window) notify(ctx context.Context, e studio.Event) error {
	switch {
	case e.Delivery != nil:
		return w.send(ctx, &DeliveryNotice{"delivery", delivery(e.Delivery)}, nil)
	case e.Shot != nil:
		o, err := w.s.shot(e.Shot)
		if err != nil {
			return err
		}
		return w.send(ctx, &ShotNotice{"shot", e.Window, o}, nil)
	case e.Levels != 0:
		r, err := w.s.studio.Levels(e.Levels)
		if err != nil {
			return err
		}
		return w.send(ctx, &LevelsNotice{"levels", e.Window, levels(r)}, nil)
	case e.Reels:
		return w.send(ctx, &ReelsNotice{"reels"}, nil)
	case e.Assets:
		return w.send(ctx, &AssetsNotice{"assets"}, nil)
	}
	return nil
}

// work is what a channel is doing.
type work struct {
	asked  Asked
	cancel context.CancelFunc
	done   chan struct{}
}

// line is where requests wait that are answered in the order in which they came. A few of them are worked on at once: much of a
// picture's tables is made by one core.
type line struct {
	besides int             // how many are worked on besides the first
	ends    []chan struct{} // of the last, so many and one
}

// place is one in a line. All its channels are closed when those ahead have ended; nil is closed already.
type place struct {
	begin, tell, end chan struct{}
}

// join stands at the end of the line; requests join in the order in which they come, from one goroutine. Who has joined must leave.
func (l *line) join() *place {
	p := &place{end: make(chan struct{})}
	if n := len(l.ends); n > 0 {
		p.tell = l.ends[n-1]
	}
	if len(l.ends) > l.besides {
		p.begin, l.ends = l.ends[0], l.ends[1:]
	}
	l.ends = append(l.ends, p.end)
	return p
}

// leave ends a place, once those ahead have ended.
func (p *place) leave() {
	if p.tell != nil {
		<-p.tell
	}
	close(p.end)
}

// placeKey is where a context has the place of its request.
type placeKey struct{}

// lineOf is the line in which a request stands, nil for none.
func (w *window) lineOf(a arrival) *line {
	switch {
	case a.Type == "play":
		return &w.played
	case a.InTurn:
		return &w.strip
	}
	return nil
}

// cancel ends the work of all channels whose names begin so.
func (w *window) cancel(prefix string) {
	w.mu.Lock()
	defer w.mu.Unlock()
	for name, k := range w.busy {
		if strings.HasPrefix(name, prefix) {
			k.cancel()
		}
	}
}

// start cancels what the channel was doing and begins the new request when that has stopped, which is
// soon: so that at most one stale render is under way on a channel.
func (w *window) start(ctx context.Context, a arrival, r *request, data []byte) {
	q := a.Asked
	ctx, cancel := context.WithCancel(ctx)
	mine := &work{q, cancel, make(chan struct{})}
	w.mu.Lock()
	old := w.busy[q.Channel]
	if old != nil {
		old.cancel()
	}
	w.busy[q.Channel] = mine
	w.mu.Unlock()
	var at *place
	if l := w.lineOf(a); l != nil {
		at = l.join()
	}
	go func() {
		if at != nil {
			defer at.leave() // who is called off waits too: the next may not begin before those ahead
			if at.begin != nil {
				<-at.begin
			}
		}
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
		ctx := studio.Told(ctx, func(place int) {
			if err := w.send(ctx, &WaitNotice{"wait", q.Channel, place}, nil); err != nil {
				slog.Debug("telling a window that it waits", "error", err)
			}
		})
		if at != nil {
			ctx = context.WithValue(ctx, placeKey{}, at)
		}
		err := w.answer(ctx, r, data)
		fault.Log("a message of a window", err, "request", r.name, "channel", q.Channel)
		if err != nil && !errors.Is(err, context.Canceled) && ctx.Err() == nil {
			w.send(ctx, &ProblemReply{replied("problem", q), err.Error()}, nil)
		}
	}()
}

// send writes a message: the length of the header, the header, the pixels.
func (w *window) send(ctx context.Context, header any, pixels []byte) error {
	head, err := json.Marshal(header)
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
	if at, ok := ctx.Value(placeKey{}).(*place); ok && at.tell != nil {
		<-at.tell
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
