package media

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"sync"

	"velours/core/cache"
)

// Proxies are frames of movies on the disk, as they were decoded, bit for bit: those of long groups of pictures, which are slow to decode
// and slower to go back in. What was used longest ago goes first. They are safe for concurrent use.
type Proxies struct {
	dir     string
	kept    *cache.Cache[proxyKey, string] // files
	writing chan struct{}                  // a token for each that is being written

	mu     sync.Mutex
	next   int
	closed bool
	under  sync.WaitGroup // those that are being written, or are about to be
}

type proxyKey struct {
	movie string
	frame int
}

// proxiesAtOnce is how many frames are written at the same time; a reader waits when it has more.
const proxiesAtOnce = 2

// NewProxies keeps frames in a folder, up to a size in bytes. What an earlier run left there is taken away.
func NewProxies(dir string, limit int64) (*Proxies, error) {
	if err := os.RemoveAll(dir); err != nil {
		return nil, fmt.Errorf("clearing the decoded frames of an earlier run: %w", err)
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("the folder for decoded frames: %w", err)
	}
	return &Proxies{dir: dir, kept: cache.New[proxyKey, string](limit), writing: make(chan struct{}, proxiesAtOnce)}, nil
}

func (p *Proxies) has(k proxyKey) bool { return p != nil && p.kept.Has(k) }

// get returns a frame of so many bytes, or nil.
func (p *Proxies) get(k proxyKey, size int) []byte {
	if p == nil {
		return nil
	}
	file, ok := p.kept.Get(k)
	if !ok {
		return nil
	}
	data, err := os.ReadFile(file)
	if err != nil || len(data) != size { // gone meanwhile: it is decoded again
		p.kept.Remove(k)
		return nil
	}
	return data
}

// Close waits for what is being written; nothing is kept from here on.
func (p *Proxies) Close() {
	p.mu.Lock()
	p.closed = true
	p.mu.Unlock()
	p.under.Wait()
}

// put keeps a frame, by and by.
func (p *Proxies) put(k proxyKey, data []byte) {
	if p == nil || p.has(k) || int64(len(data)) > p.kept.Limit() {
		return
	}
	p.mu.Lock()
	if p.closed {
		p.mu.Unlock()
		return
	}
	p.under.Add(1)
	p.mu.Unlock()
	p.writing <- struct{}{}
	go func() {
		defer p.under.Done()
		defer func() { <-p.writing }()
		p.mu.Lock()
		p.next++
		file := filepath.Join(p.dir, fmt.Sprintf("%d.raw", p.next))
		p.mu.Unlock()
		if err := os.WriteFile(file, data, 0o644); err != nil {
			slog.Warn("a decoded frame could not be kept on the disk", "error", err)
			os.Remove(file)
			return
		}
		for _, gone := range p.kept.Put(k, file, int64(len(data))) {
			os.Remove(gone.Value)
		}
		if now, _ := p.kept.Get(k); now != file { // somebody was quicker
			os.Remove(file)
		}
	}()
}

// whole are codecs of which each frame is decoded by itself: as quick as reading what was decoded.
var whole = []string{"prores", "dnxhd", "mjpeg", "v210", "rawvideo", "ffv1", "jpeg2000", "cfhd", "png", "tiff", "huffyuv", "utvideo"}

// KeepOn has the reader of a movie of long groups keep decoded frames on the disk, beyond those that it has in memory.
func (r *Reader) KeepOn(p *Proxies) {
	if r.Info.Kind == "movie" && !slices.Contains(whole, r.Info.Codec) {
		r.proxies = p
	}
}

// Decode has a frame that is slow to decode ready for Frame; it does nothing where frames are not kept on the disk, or where no more can be.
func (r *Reader) Decode(ctx context.Context, n int) error {
	if r.proxies == nil || r.Decoded(n) || r.cache.Used()+r.proxies.kept.Used()+int64(r.layout.bytes()) > r.cache.Limit()+r.proxies.kept.Limit() {
		return nil
	}
	_, err := r.wait(ctx, n)
	return err
}

// Slow tells that frames of the movie are kept as they were decoded, because decoding takes long.
func (r *Reader) Slow() bool { return r.proxies != nil }

// Decoded tells whether a frame of a movie can be had without decoding.
func (r *Reader) Decoded(n int) bool { return r.cache.Has(n) || r.proxies.has(proxyKey{r.key, n}) }

// keep keeps a frame in memory, and on the disk what had to go for it.
func (r *Reader) keep(n int, data []byte) {
	for _, gone := range r.cache.Put(n, data, int64(len(data))) {
		r.proxies.put(proxyKey{r.key, gone.Key}, gone.Value)
	}
}
