package studio

import (
	"context"
	"runtime"
	"sync"

	"velours/core/frame"
	"velours/core/render"
	"velours/media"
)

// workspace is the memory there is for work. Who works takes what it needs beforehand, and waits its turn where that is not there: usual
// pictures for the screen among themselves, large ones, and deliveries, each in the order in which they came, so that nobody's hand waits for
// another's large still. A piece of work that is larger than there is room for is done alone. What work needs beyond what is set apart for it,
// caches give up meanwhile. It is safe for concurrent use.
type workspace struct {
	all   int64 // bytes that work may take, caches empty
	apart int64 // of them, those that caches never have
	// lend changes what caches give up, in bytes.
	lend func(change int64)
	// outside, if set, is told what other programs that work for this one take.
	outside func(bytes int64)

	mu      sync.Mutex
	held    [purposes]int64
	working [purposes]int
	others  int64 // held by other programs
	lent    int64
	queue   [purposes][]*waiting
}

// purpose is what work is for.
type purpose int

const (
	usual purpose = iota
	large
	delivered
	purposes
)

// largeNeed is from how much on a picture counts as large, in bytes.
const largeNeed = 256 << 20

// onScreen is the purpose of a picture for the screen.
func onScreen(n need) purpose {
	if n.sum() > largeNeed {
		return large
	}
	return usual
}

// need is what a piece of work takes, in bytes: here, and in programs that it starts.
type need struct{ here, others int64 }

func (n need) sum() int64 { return n.here + n.others }

type waiting struct {
	need  need
	ready chan struct{}
	place chan int // the newest alone
}

// take waits for memory. told, if not nil, is told the place in the line, 1 for the next, whenever that
// changes, and 0 when the turn has come after a wait.
func (w *workspace) take(ctx context.Context, p purpose, n need, told func(place int)) (*ticket, error) {
	w.mu.Lock()
	t := &ticket{w: w, purpose: p, need: n}
	if len(w.queue[p]) == 0 && w.fits(p, n) {
		w.working[p]++
		w.hold(p, n, 1)
		w.mu.Unlock()
		return t, nil
	}
	if told == nil {
		told = func(int) {}
	}
	me := &waiting{n, make(chan struct{}), make(chan int, 1)}
	w.queue[p] = append(w.queue[p], me)
	me.place <- len(w.queue[p])
	w.mu.Unlock()
	for left := false; !left; {
		select {
		case place := <-me.place:
			told(place)
		case <-me.ready:
			told(0)
			return t, nil
		case <-ctx.Done():
			left = true
		}
	}
	w.mu.Lock()
	for i, other := range w.queue[p] {
		if other == me {
			w.queue[p] = append(w.queue[p][:i:i], w.queue[p][i+1:]...)
			w.admit()
			w.mu.Unlock()
			return nil, ctx.Err()
		}
	}
	w.mu.Unlock() // its turn came at the same moment
	t.release()
	return nil, ctx.Err()
}

// ticket is memory that was taken.
type ticket struct {
	w       *workspace
	purpose purpose
	need    need // what of it is still held
	done    bool
}

// release gives it back; again, it does nothing.
func (t *ticket) release() {
	t.w.mu.Lock()
	defer t.w.mu.Unlock()
	if t.done {
		return
	}
	t.done = true
	t.w.working[t.purpose]--
	t.w.hold(t.purpose, t.need, -1)
	t.w.admit()
}

// keep gives back what will be held by a cache from now on, and counts there.
func (t *ticket) keep(bytes int64) {
	t.w.mu.Lock()
	defer t.w.mu.Unlock()
	bytes = min(bytes, t.need.here)
	t.need.here -= bytes
	t.w.hold(t.purpose, need{here: bytes}, -1)
}

// fits tells that work can begin: usual pictures in what is set apart, large ones in what caches have beside deliveries, and these in half of
// all. What works alone can always. w.mu is held.
func (w *workspace) fits(p purpose, n need) bool {
	if w.working[p] == 0 {
		return true
	}
	switch p {
	case usual:
		return w.held[usual]+n.sum() <= w.apart
	case large:
		return w.held[large]+w.held[delivered]+n.sum() <= w.all-w.apart
	}
	return w.held[delivered]+n.sum() <= w.all/2
}

// hold notes memory that is taken, 1, or given back, −1, and has caches give up what is needed. w.mu is held.
func (w *workspace) hold(p purpose, n need, sign int64) {
	w.held[p] += sign * n.sum()
	w.others += sign * n.others
	sum := int64(0)
	for _, h := range w.held {
		sum += h
	}
	lent := min(max(sum-w.apart, 0), w.all-w.apart)
	if w.lend != nil && lent != w.lent {
		w.lend(lent - w.lent)
	}
	w.lent = lent
	if w.outside != nil && n.others != 0 {
		w.outside(w.others)
	}
}

// admit begins what can begin, and tells the others where they are now. w.mu is held.
func (w *workspace) admit() {
	for p := range w.queue {
		q := &w.queue[p]
		for len(*q) > 0 && w.fits(purpose(p), (*q)[0].need) {
			w.working[p]++
			w.hold(purpose(p), (*q)[0].need, 1)
			close((*q)[0].ready)
			*q = (*q)[1:]
		}
		for i, next := range *q {
			select { // one that was not told yet is out of date
			case <-next.place:
			default:
			}
			next.place <- i + 1
		}
	}
}

// sample is a pixel of a picture in memory, in bytes.
const sample = 3 * 4

// pictureNeed is what frame n of a source on a raster takes: the source's own, the raster's, what light that spreads is drawn on, and a
// decoder, where it is to be decoded.
func pictureNeed(src render.Source, n int, raster render.Raster) need {
	needs := need{here: 2 * sample * int64(raster.W) * int64(raster.H)}
	r, ok := src.(*media.Reader)
	if !ok {
		return needs
	}
	pixels := int64(r.Info.W) * int64(r.Info.H)
	if r.Info.W != raster.W || r.Info.H != raster.H {
		needs.here += sample * pixels
	}
	if r.Info.Kind == "movie" && !r.Decoded(n) {
		needs.others = media.DecoderBytes(pixels)
	}
	return needs
}

// deliveryNeed is what a delivery takes of which so many frames are under way at once, and whether it is made with as little as can be.
func deliveryNeed(src *media.Info, path string, raster render.Raster, frames int, frugal bool) need {
	from, to := int64(src.W)*int64(src.H), int64(raster.W)*int64(raster.H)
	queued, encoder := media.EncoderBytes(path, to, frugal)
	n := need{here: sample*max(from, to)*int64(frames) + sample*to*3/4 + queued, others: encoder}
	if src.Kind == "movie" {
		n.here += min(media.CacheBytes, 6*from*4)
		n.others += media.DecoderBytes(from)
	}
	return n
}

// toldKey is that of a context's value: who is told the place in the line.
type toldKey struct{}

// Told makes a context for work whose place in the line is told, should it have to wait for memory: 1 for the next, 0 for its turn.
func Told(ctx context.Context, told func(place int)) context.Context {
	return context.WithValue(ctx, toldKey{}, told)
}

func told(ctx context.Context) func(int) {
	f, _ := ctx.Value(toldKey{}).(func(int))
	return f
}

// ticketKey is that of a context's value: the memory that was taken for it.
type ticketKey struct{}

// keeping gives memory back that was taken for a picture which is now kept.
func keeping(ctx context.Context, bytes int) {
	if t, ok := ctx.Value(ticketKey{}).(*ticket); ok {
		t.keep(int64(bytes))
	}
}

// rendered renders frame n of a source as if it were frame number, once there is the memory for it.
func (s *Sessions) rendered(ctx context.Context, plan *render.Plan, src render.Source, n, number int) (*frame.Frame, error) {
	needs := pictureNeed(src, n, plan.Raster())
	if onScreen(needs) == large && s.render.Keeps(ctx, plan, src, n, number) { // no more than a part is made, of what is there
		return s.render.RenderAs(ctx, plan, src, n, number)
	}
	t, err := s.takeForScreen(ctx, needs)
	if err != nil {
		return nil, err
	}
	defer t.release()
	return s.render.RenderAs(context.WithValue(ctx, ticketKey{}, t), plan, src, n, number)
}

// takeForScreen takes memory for a picture. What was given up before is swept first for a large one: it would else lie there until the
// collector comes to it, beside what is made now.
func (s *Sessions) takeForScreen(ctx context.Context, n need) (*ticket, error) {
	p := onScreen(n)
	t, err := s.room.take(ctx, p, n, told(ctx))
	if err == nil && p == large {
		runtime.GC()
		runtime.GC() // released pictures are held through one collection
	}
	return t, err
}
