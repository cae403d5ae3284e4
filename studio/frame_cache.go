package studio

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"sync"

	"velours/core/cache"
	"velours/core/colour"
	"velours/library"
	"velours/media"
)

// frameCache keeps finished frames for playing: in memory up to a budget, beyond it on the disk up to another.
// What was used longest ago goes first. It is safe for concurrent use.
type frameCache struct {
	dir    string
	memory *cache.Cache[string, *Image]
	disk   *cache.Cache[string, onDisk]

	mu     sync.Mutex
	moving map[string]*Image // on their way from memory to the disk
	next   int
}

// onDisk is a frame on the disk: what it is, without its pixels, and the file that has them.
type onDisk struct {
	image Image
	file  string
	size  int64
}

// newFrameCache makes an empty cache whose files lie in dir; what an earlier run left there is taken away.
func newFrameCache(dir string, memory, disk int64) (*frameCache, error) {
	if err := os.RemoveAll(dir); err != nil {
		return nil, fmt.Errorf("clearing the frames of an earlier run: %w", err)
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("the folder for finished frames: %w", err)
	}
	return &frameCache{dir: dir, memory: cache.New[string, *Image](memory), disk: cache.New[string, onDisk](disk), moving: map[string]*Image{}}, nil
}

func (c *frameCache) onTheWay(key string) *Image {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.moving[key]
}

// has tells whether a frame is kept, without making it more recent.
func (c *frameCache) has(key string) bool {
	return c.memory.Has(key) || c.onTheWay(key) != nil || c.disk.Has(key)
}

// full tells whether another frame of this size would push one out.
func (c *frameCache) full(size int64) bool {
	return c.memory.Used()+c.disk.Used()+size > c.memory.Limit()+c.disk.Limit()
}

func (c *frameCache) get(key string) (*Image, bool) {
	if im, ok := c.memory.Get(key); ok {
		return im, true
	}
	if im := c.onTheWay(key); im != nil {
		return im, true
	}
	k, ok := c.disk.Get(key)
	if !ok {
		return nil, false
	}
	data, err := os.ReadFile(k.file)
	if err != nil || int64(len(data)) != k.size {
		c.disk.Remove(key) // gone meanwhile: it is rendered again
		return nil, false
	}
	im := k.image
	im.RGBA = data
	return &im, true
}

func (c *frameCache) put(key string, im *Image) {
	if c.has(key) {
		return
	}
	own := *im
	gone := c.memory.Put(key, &own, int64(len(im.RGBA)))
	c.mu.Lock()
	first := c.next
	c.next += len(gone)
	for _, e := range gone {
		c.moving[e.Key] = e.Value
	}
	c.mu.Unlock()
	for i, e := range gone { // no lock is held while the disk is waited for
		c.file(e.Key, e.Value, first+i)
	}
}

// file moves a frame's pixels to the disk, or drops the frame where that fails.
func (c *frameCache) file(key string, im *Image, number int) {
	defer func() {
		c.mu.Lock()
		delete(c.moving, key)
		c.mu.Unlock()
	}()
	k := onDisk{Image{W: im.W, H: im.H, SourceW: im.SourceW, SourceH: im.SourceH, Note: im.Note}, filepath.Join(c.dir, fmt.Sprintf("%d.rgba", number)), int64(len(im.RGBA))}
	if k.size > c.disk.Limit() {
		return
	}
	if err := os.WriteFile(k.file, im.RGBA, 0o644); err != nil {
		slog.Warn("a finished frame could not be kept on the disk", "error", err)
		os.Remove(k.file)
		return
	}
	for _, e := range c.disk.Put(key, k, k.size) {
		os.Remove(e.Value.file)
	}
}

// frameKeys names the finished pictures of a view, frame by frame: equal keys, equal pixels. They follow what the file,
// the encoding, cards and tables hold, not what they are called.
func (s *Sessions) frameKeys(ctx context.Context, v View) (func(View) string, error) {
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	content, err := c.look.Content()
	if err != nil {
		return nil, err
	}
	v.Look, v.Above, v.Encoding = nil, nil, ""
	v.Frame, v.Number, v.Draft, v.Share = 0, nil, false, 0
	doc, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	other, err := s.sideKey(c.shot, v.Side)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256([]byte(string(doc) + "|" + other + "|" + content + "|" + recorded(c.encoding) + "|" + c.src.Key()))
	return func(v View) string {
		key := fmt.Sprintf("%x %d", sum, v.Frame)
		if v.Number != nil {
			key += fmt.Sprintf(" as %d", *v.Number)
		}
		if v.Share > 0 {
			key += fmt.Sprintf(" at %g", v.Share)
		}
		return key
	}, nil
}

// recorded is a key of how a shot was recorded.
func recorded(e *colour.Encoding) string {
	if e == nil {
		return "undeclared"
	}
	return e.Key()
}

// sideKey is what a side shows beside the shot's own look.
func (s *Sessions) sideKey(shot *library.Shot, side Side) (string, error) {
	switch side.Of {
	case BeforeLast:
		was, err := s.lib.Before(library.ChainOf(shot))
		if was == nil || err != nil {
			return "", err
		}
		return fmt.Sprint(was.Owner, was.Look, "|", was.Encoding), nil
	case AnotherShot:
		other, err := s.lib.Shot(side.ID)
		if err != nil {
			return "", err
		}
		whole, e, err := s.lookOf(other)
		if err != nil {
			return "", err
		}
		content, err := whole.Content()
		return content + "|" + recorded(e) + "|" + strconv.Itoa(other.Frame), err
	}
	return "", nil
}

// Finished is Picture from the frames that are kept, and keeps what it had to render.
func (s *Sessions) Finished(ctx context.Context, v View) (*Image, error) {
	v.Draft = false
	keys, err := s.frameKeys(ctx, v)
	if err != nil {
		return nil, err
	}
	return s.finished(ctx, v, keys(v))
}

// finished is Finished of a view whose key is known.
func (s *Sessions) finished(ctx context.Context, v View, key string) (*Image, error) {
	if im, ok := s.frames.get(key); ok {
		return im, nil
	}
	im, err := s.Picture(ctx, v)
	if err != nil {
		return nil, err
	}
	s.frames.put(key, im)
	return im, nil
}

// Stretch is a run of frames to play: From up to but not including To, of the shot, or where Still is
// set, of the numbers that grain and other moving things go through while the view's own frame stands still.
type Stretch struct {
	From  int  `json:"from"`
	To    int  `json:"to"`
	Still bool `json:"still,omitempty"`
}

// at is the view of one frame of the stretch.
func (t Stretch) at(v View, n int) View {
	if t.Still {
		v.Number = &n
	} else {
		v.Frame, v.Number = n, nil
	}
	return v
}

// Kept lists the parts of a stretch that can be played from kept frames, each from its first frame up to
// but not including its last.
func (s *Sessions) Kept(ctx context.Context, v View, t Stretch) ([][2]int, error) {
	keys, err := s.frameKeys(ctx, v)
	if err != nil {
		return nil, err
	}
	return t.parts(func(n int) bool { return s.frames.has(keys(t.at(v, n))) }), nil
}

// Decoded lists the parts of a stretch of which the frames need not be decoded, of a movie that is slow to decode; none of another.
func (s *Sessions) Decoded(ctx context.Context, v View, t Stretch) ([][2]int, error) {
	r, err := s.slow(ctx, v, t)
	if r == nil || err != nil {
		return [][2]int{}, err
	}
	return t.parts(r.Decoded), nil
}

// Decode decodes what is missing of a stretch of a movie that is slow to decode, as much as can be kept, and calls told after each frame.
// Before each it waits for its turn.
func (s *Sessions) Decode(ctx context.Context, v View, t Stretch, turn func(context.Context) error, told func()) error {
	r, err := s.slow(ctx, v, t)
	if r == nil || err != nil {
		return err
	}
	for n := t.From; n < min(t.To, r.Length()); n++ {
		if r.Decoded(n) {
			continue
		}
		if err := turn(ctx); err != nil {
			return err
		}
		if err := r.Decode(ctx, n); err != nil {
			return wrapInput(err)
		}
		told()
	}
	return nil
}

// slow is the reader of a stretch of a movie that is slow to decode, or nil.
func (s *Sessions) slow(ctx context.Context, v View, t Stretch) (*media.Reader, error) {
	shot, err := s.lib.Shot(v.Shot)
	if err != nil || t.Still {
		return nil, err
	}
	r, err := s.reader(ctx, shot.Path)
	if err != nil {
		return nil, wrapInput(err)
	}
	if !r.Slow() {
		return nil, nil
	}
	return r, nil
}

// parts lists the runs of a stretch's frames of which something holds, each from its first frame up to but not including its last.
func (t Stretch) parts(holds func(n int) bool) [][2]int {
	out := [][2]int{}
	for n := t.From; n < t.To; n++ {
		if !holds(n) {
			continue
		}
		if k := len(out); k > 0 && out[k-1][1] == n {
			out[k-1][1] = n + 1
		} else {
			out = append(out, [2]int{n, n + 1})
		}
	}
	return out
}

// Fill renders what is missing of a stretch, in order from the view's frame on and around, and calls told after each frame. Before each it
// waits for its turn, which tells where to go on: with the first that is missing from there, or, below 0, behind the one before. It ends early
// when no more can be kept.
func (s *Sessions) Fill(ctx context.Context, v View, t Stretch, turn func(context.Context) (from int, err error), told func(n int)) error {
	length := t.To - t.From
	if length <= 0 {
		return nil
	}
	keys, err := s.frameKeys(ctx, v)
	if err != nil {
		return err
	}
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return err
	}
	gaps := Gaps(shot)
	missing := func(n int) bool {
		return !t.Still && slices.ContainsFunc(gaps, func(g media.Gap) bool { return n >= g.First && n <= g.Last })
	}
	ready := make([]bool, length)
	// next is the first that is missing from a frame on and around, if there is one.
	next := func(from int) (int, bool) {
		if from < t.From || from >= t.To {
			from = t.From
		}
		for i := range length {
			n := t.From + (from-t.From+i)%length
			if at := &ready[n-t.From]; !*at {
				if *at = missing(n) || s.frames.has(keys(t.at(v, n))); !*at {
					return n, true
				}
			}
		}
		return 0, false
	}
	from := t.From
	if !t.Still {
		from = v.Frame
	}
	for {
		n, ok := next(from)
		if !ok || s.frames.full(4*int64(max(v.W, v.CropW))*int64(max(v.H, v.CropH))) {
			return nil
		}
		at, err := turn(ctx)
		if err != nil {
			return err
		}
		if at >= 0 {
			if n, ok = next(at); !ok {
				return nil
			}
		}
		if _, err := s.Finished(ctx, t.at(v, n)); err != nil {
			return err
		}
		told(n)
		from = n + 1
	}
}
