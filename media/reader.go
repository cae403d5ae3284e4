package media

import (
	"context"
	"fmt"
	"os"
	"sync"
	"time"

	"velours/core/cache"
	"velours/core/fault"
	"velours/core/frame"
)

// Reader gives frames of one shot. It is safe for concurrent use. Whoever waits for a frame can leave at any moment,
// by the context; what is being decoded then goes on until the frame is there, for the next who asks, or until nobody
// has come for it.
type Reader struct {
	Info   *Info
	key    string
	layout layout
	seq    *sequence

	proxies *Proxies // nil for none

	turn chan struct{} // holds a token while somebody drives the decoder

	mu      sync.Mutex // of what follows; never held while a disk or a decoder is waited for
	closed  bool
	decoder *decoder                  // driven by whoever holds the token
	driving *call                     // for which it is
	rested  time.Time                 // when it was driven last
	last    int                       // the frame that was asked for last
	ahead   bool                      // frames are being read ahead
	cache   *cache.Cache[int, []byte] // of undecoded frames
	calls   map[int]*call
}

// call is a frame that is being read, for all who want it.
type call struct {
	done    chan struct{}
	leave   context.CancelFunc // when nobody wants it
	waiting int
	shared  bool // more than one waited
	got     any  // undecoded bytes, or a still's *frame.Frame
	err     error
}

// CacheBytes bounds the undecoded frames a reader keeps.
const CacheBytes = 128 << 20

// Open probes a file or sequence and prepares to read it.
func Open(ctx context.Context, path string) (*Reader, error) {
	in, err := Probe(ctx, path)
	if err != nil {
		return nil, err
	}
	r := &Reader{Info: in, layout: layoutOf(in), turn: make(chan struct{}, 1), cache: cache.New[int, []byte](CacheBytes), calls: map[int]*call{}}
	first := path
	if in.Kind == "sequence" {
		s, err := findSequence(path)
		if err != nil {
			return nil, err
		}
		r.seq = &s
		first = s.file(0)
	}
	st, err := os.Stat(first)
	if err != nil {
		return nil, &FileError{path, "cannot be looked at: " + cause(err), ""}
	}
	r.key = fmt.Sprintf("%s %d %d", path, st.Size(), st.ModTime().UnixNano())
	return r, nil
}

// Key names the data behind the reader: it changes when the file does.
func (r *Reader) Key() string { return r.key }

// Integral tells whether the file holds whole numbers, not floats.
func (r *Reader) Integral() bool { return r.Info.Codec != "exr" && r.Info.Depth <= 16 }

// Size is how many pixels frames have.
func (r *Reader) Size() (w, h int) { return r.Info.W, r.Info.H }

// Gives tells that every frame is a picture of its own, for whoever asked for it alone.
func (r *Reader) Gives() bool { return true }

// Close stops the decoder, unless somebody is waiting for it: that frame is still read. A closed reader goes on to give
// frames, but keeps no decoder warm.
func (r *Reader) Close() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.closed = true
	switch d := r.decoder; {
	case d == nil:
	case r.driving == nil:
		r.decoder = nil
		go d.stop()
	case r.driving.waiting == 0:
		d.end()
	}
}

// Stale tells whether the file has changed since the reader was opened.
func (r *Reader) Stale() bool {
	first := r.Info.Path
	if r.seq != nil {
		first = r.seq.file(0)
	}
	st, err := os.Stat(first)
	return err != nil || r.key != fmt.Sprintf("%s %d %d", r.Info.Path, st.Size(), st.ModTime().UnixNano())
}

// Frame returns frame n, counted from 0. It leaves with the context's error as soon as ctx is done.
func (r *Reader) Frame(ctx context.Context, n int) (*frame.Frame, error) {
	if n < 0 || n >= r.Info.Frames {
		return nil, &FileError{r.Info.Path, fmt.Sprintf("has no frame %d", n), fmt.Sprintf("its frames go from 0 to %d", r.Info.Frames-1)}
	}
	got, err := r.wait(ctx, n)
	if err != nil {
		return nil, err
	}
	if f, ok := got.(*frame.Frame); ok {
		return f, nil
	}
	return r.layout.decode(got.([]byte)), nil
}

// Fetch reads frame n of a movie before it is asked for, if the reader has room to keep it. Of other footage it reads nothing: a still, which is
// not kept, would be read again.
func (r *Reader) Fetch(ctx context.Context, n int) {
	if r.Info.Kind == "movie" && n >= 0 && n < r.Info.Frames && int64(r.layout.bytes()) <= r.cache.Limit() {
		_, _ = r.wait(ctx, n) // who asks for it hears of errors
	}
}

// wait waits for what frame n is read as: undecoded bytes, or a still of its own.
func (r *Reader) wait(ctx context.Context, n int) (any, error) {
	r.mu.Lock()
	inOrder := n == r.last+1 && !r.closed && r.Info.Kind == "movie"
	r.last = n
	if data, ok := r.cache.Get(n); ok {
		r.mu.Unlock()
		r.readAhead(inOrder, n+1)
		return data, nil
	}
	c := r.calls[n]
	if c == nil {
		c = r.call(n)
	}
	c.waiting++
	r.mu.Unlock()
	select {
	case <-c.done:
	case <-ctx.Done():
	}
	r.mu.Lock()
	c.waiting--
	if c.waiting == 0 {
		c.leave()
		if r.calls[n] == c { // who comes now begins anew
			delete(r.calls, n)
		}
		if r.closed && r.driving == c && r.decoder != nil {
			r.decoder.end()
		}
	}
	others := c.waiting > 0 || c.shared
	c.shared = others
	r.mu.Unlock()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if c.err != nil {
		return nil, c.err
	}
	r.readAhead(inOrder, n+1)
	if f, ok := c.got.(*frame.Frame); ok && others { // each has a picture of its own
		return f.Clone(), nil
	}
	return c.got, nil
}

// call begins to read a frame. r.mu is held.
func (r *Reader) call(n int) *call {
	ctx, leave := context.WithCancel(context.Background())
	c := &call{done: make(chan struct{}), leave: leave}
	r.calls[n] = c
	go func() {
		var got any
		err := fault.Do(func() (err error) {
			got, err = r.read(ctx, c, n)
			return err
		})
		fault.Log("reading a frame", err, "file", r.Info.Path, "frame", n)
		r.mu.Lock()
		c.got, c.err = got, err
		if r.calls[n] == c {
			delete(r.calls, n)
		}
		r.mu.Unlock()
		close(c.done)
		leave()
	}()
	return c
}

// read reads frame n, unless ctx is done before its turn comes.
func (r *Reader) read(ctx context.Context, c *call, n int) (any, error) {
	path := r.Info.Path
	if r.seq != nil {
		path = r.seq.file(n)
		if _, err := os.Stat(path); err != nil && r.seq.missing(n) { // unless it was copied since
			return nil, &FileError{path, "is missing: there is a gap in the sequence", "copy it beside the others, or go around it with in and out"}
		}
	}
	if err := regular(path); err != nil {
		return nil, err
	}
	if isStill(path) {
		f, err := readStill(path)
		if err == nil && (f.W != r.Info.W || f.H != r.Info.H) {
			return nil, &FileError{path, fmt.Sprintf("is %d×%d in a sequence of %d×%d", f.W, f.H, r.Info.W, r.Info.H), "render it again at the sequence's size"}
		}
		if err != nil { // never an interface that holds a nil picture
			return nil, err
		}
		return f, nil
	}
	if data := r.proxies.get(proxyKey{r.key, n}, r.layout.bytes()); data != nil {
		r.keep(n, data)
		return data, nil
	}
	select {
	case r.turn <- struct{}{}:
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	defer func() { <-r.turn }()
	if r.Info.Kind != "movie" {
		return r.readOne(c, path, n)
	}
	return r.readMovie(ctx, c, path, n)
}

// readOne decodes the one frame of a file.
func (r *Reader) readOne(c *call, path string, n int) ([]byte, error) {
	if kind, err := containerOf(path); err != nil {
		return nil, err
	} else if kind != r.Info.container {
		return nil, &FileError{path, "is another kind of file than the others of its sequence", "render it again"}
	}
	d, err := r.start(path, 0)
	if err != nil {
		return nil, err
	}
	r.drive(d, c)
	defer r.drop()
	data, err := d.read(r.layout.bytes())
	if err != nil {
		return nil, &FileError{path, "cannot be decoded" + d.complaint(), "check that it is what its name says, or copy it again"}
	}
	r.cache.Put(n, data, int64(len(data)))
	return data, nil
}

// readMovie reads on to frame n with the decoder that is warm, or with a new one where that one is too far. It stops
// between two frames when ctx is done, which leaves the decoder where it is.
func (r *Reader) readMovie(ctx context.Context, c *call, path string, n int) ([]byte, error) {
	d := r.drive(nil, c)
	defer r.rest()
	if data, ok := r.cache.Get(n); ok { // somebody has read it meanwhile
		return data, nil
	}
	if d == nil || n < d.next || n > d.next+32 {
		if d != nil {
			r.drop()
		}
		var err error
		if d, err = r.start(path, n); err != nil {
			return nil, err
		}
		r.drive(d, c)
	}
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		at := d.next
		data, err := d.read(r.layout.bytes())
		if err != nil {
			what := fmt.Sprintf("frame %d cannot be decoded%s", at, d.complaint())
			r.drop()
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			return nil, &FileError{path, what, "the file may be cut short: copy it again"}
		}
		r.mu.Lock()
		d.next++
		r.mu.Unlock()
		r.keep(at, data)
		if at == n {
			return data, nil
		}
	}
}

// drive notes which decoder is driven, and for whom, and returns it; with nil it is the one there is.
func (r *Reader) drive(d *decoder, c *call) *decoder {
	r.mu.Lock()
	defer r.mu.Unlock()
	if d != nil {
		r.decoder = d
	}
	r.driving = c
	return r.decoder
}

// rest leaves the decoder warm for who comes next, but for a reader that is closed.
func (r *Reader) rest() {
	r.mu.Lock()
	r.driving = nil
	r.rested = time.Now()
	closed := r.closed
	r.mu.Unlock()
	switch {
	case closed:
		r.drop()
	case r.layout.bytes() > largeFrame:
		time.AfterFunc(warmth, r.cool)
	}
}

// largeFrame is the size of a frame in bytes from which on a decoder is not kept warm for longer than warmth, nor has frames of its own for each
// of its threads. Both are variable for tests.
var (
	largeFrame = 64 << 20
	warmth     = 3 * time.Second
)

// cool ends a decoder that has rested since warmth ago.
func (r *Reader) cool() {
	select {
	case r.turn <- struct{}{}: // nobody drives it
	default:
		return
	}
	defer func() { <-r.turn }()
	r.mu.Lock()
	rested := time.Since(r.rested) >= warmth
	r.mu.Unlock()
	if rested {
		r.drop()
	}
}

// drop ends the decoder, if there is one.
func (r *Reader) drop() {
	r.mu.Lock()
	d := r.decoder
	r.decoder = nil
	r.mu.Unlock()
	if d != nil {
		d.stop()
	}
}

// framesAhead is how many frames are decoded before they are asked for, once frames are taken in order.
const framesAhead = 4

// readAhead decodes the next frames while nobody asks for others, where frames are taken in order. It lets go between
// them, so that whoever asks waits for one frame at most.
func (r *Reader) readAhead(inOrder bool, from int) {
	if !inOrder || from >= r.Info.Frames {
		return
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	// none that would push out those before it
	ahead := min(framesAhead, int(r.cache.Limit()/int64(r.layout.bytes()))-1)
	if ahead < 1 || r.ahead || r.closed || r.cache.Has(from) || r.decoder == nil {
		return
	}
	r.ahead = true
	go func() {
		for n := from; n < min(from+ahead, r.Info.Frames); n++ {
			r.mu.Lock()
			if r.closed || r.last != from-1 || r.decoder == nil || r.decoder.next > n {
				r.ahead = false
				r.mu.Unlock()
				return
			}
			c := r.calls[n]
			if c == nil {
				c = r.call(n)
			}
			r.mu.Unlock()
			<-c.done // its error is told when somebody asks for that frame
		}
		r.mu.Lock()
		r.ahead = false
		r.mu.Unlock()
	}()
}

// Length is how many frames the shot has.
func (r *Reader) Length() int { return r.Info.Frames }
