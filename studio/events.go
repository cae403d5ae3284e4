package studio

import (
	"context"
	"sync"

	"velours/library"
)

// Event is something that has changed, for whoever shows it. Exactly one of its parts is set.
type Event struct {
	// Shot is a shot as it is now; Window the window in which it was changed.
	Shot   *library.Shot
	Window string
	// Levels is a reel whose look, or a scene's look of it, has changed in Window.
	Levels uint
	// Delivery is how far a delivery is.
	Delivery *library.Delivery
	// Reels tells that shots have come, gone or changed their span; Assets that encodings, tables, stocks or pins
	// have, so that pictures may be others.
	Reels, Assets bool
}

// Watcher gathers events for one who watches. A slow one misses what was in between, never how things are in the end.
type Watcher struct {
	mu         sync.Mutex
	shots      map[uint]Event
	levels     map[uint]Event
	deliveries map[uint]library.Delivery
	reels      bool
	assets     bool
	wake       chan struct{} // holds a token while there is something
}

// Next waits until something has changed and returns it all; nothing once ctx is done.
func (w *Watcher) Next(ctx context.Context) []Event {
	select {
	case <-ctx.Done():
		return nil
	case <-w.wake:
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	var out []Event
	if w.reels {
		out = append(out, Event{Reels: true})
	}
	if w.assets {
		out = append(out, Event{Assets: true})
	}
	for _, e := range w.levels {
		out = append(out, e)
	}
	for _, e := range w.shots {
		out = append(out, e)
	}
	for _, d := range w.deliveries {
		out = append(out, Event{Delivery: &d})
	}
	w.shots, w.levels, w.deliveries, w.reels, w.assets = map[uint]Event{}, map[uint]Event{}, map[uint]library.Delivery{}, false, false
	return out
}

func (w *Watcher) add(e Event) {
	w.mu.Lock()
	switch {
	case e.Shot != nil:
		if have, ok := w.shots[e.Shot.ID]; !ok || have.Shot.Revision <= e.Shot.Revision {
			w.shots[e.Shot.ID] = e
		}
	case e.Levels != 0:
		w.levels[e.Levels] = e
	case e.Delivery != nil:
		w.deliveries[e.Delivery.ID] = *e.Delivery
	}
	w.reels, w.assets = w.reels || e.Reels, w.assets || e.Assets
	w.mu.Unlock()
	select {
	case w.wake <- struct{}{}:
	default:
	}
}

// hub passes events to all who watch.
type hub struct {
	mu       sync.Mutex
	watchers map[*Watcher]bool
}

func newHub() *hub { return &hub{watchers: map[*Watcher]bool{}} }

// Watch gathers events until the returned function is called.
func (h *hub) Watch() (*Watcher, func()) {
	w := &Watcher{shots: map[uint]Event{}, levels: map[uint]Event{}, deliveries: map[uint]library.Delivery{}, wake: make(chan struct{}, 1)}
	h.mu.Lock()
	defer h.mu.Unlock()
	h.watchers[w] = true
	return w, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.watchers, w)
	}
}

func (h *hub) tell(e Event) {
	if e.Assets {
		forgetParsed()
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	for w := range h.watchers {
		w.add(e)
	}
}

// changed tells that a shot has changed, in which window.
func (h *hub) changed(shot *library.Shot, window string) {
	c := *shot
	h.tell(Event{Shot: &c, Window: window})
}
