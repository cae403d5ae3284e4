package render

import (
	"context"
	"fmt"
	"time"

	"velours/core/cache"
	"velours/core/frame"
)

// Cleaning takes what is unwanted out of the frames of a shot before anything else is done to them. It may look at other frames of the shot,
// so it works on footage: sources of no length, as wedges and frames that were read elsewhere, are let through as they are.
type Cleaning interface {
	// Key tells cleanings apart.
	Key() string
	// Clean is frame n of a source that is so many frames long, of code values. It is not to change what the source gives.
	Clean(ctx context.Context, src Source, length, n int) (*frame.Frame, error)
	// Quick is a quicker one for pictures that follow a drag.
	Quick() Cleaning
}

// Clean adds a cleaning, which acts before all that leaves the camera's code values.
func (b *Builder) Clean(c Cleaning) { b.cleaning = append(b.cleaning, c) }

// Store keeps clean frames beyond a renderer's memory. It is safe for concurrent use.
type Store interface {
	Get(key string) *frame.Frame
	Put(key string, f *frame.Frame)
}

// Footage is a source as a plan cleans it, for those who read frames apart from rendering them.
func (r *Renderer) Footage(p *Plan, src Source) Source { return r.footage(p, src, -1) }

// footage is the source of frame n: a draft takes a quick cleaning unless there is a full one of the frame already.
func (r *Renderer) footage(p *Plan, src Source, n int) Source {
	l, ok := src.(lengthy)
	if !ok {
		return src
	}
	for _, c := range p.cleaning {
		f := &footage{src, c, r, l.Length()}
		if p.draft && n >= 0 && f.kept(n) == nil {
			f.cleaning = c.Quick()
		}
		src = f
	}
	return src
}

// footage is a source that is cleaned.
type footage struct {
	src      Source
	cleaning Cleaning
	r        *Renderer
	length   int
}

func (f *footage) Key() string { return f.src.Key() + " " + f.cleaning.Key() }

func (f *footage) Length() int { return f.length }

func (f *footage) frameKey(n int) string { return fmt.Sprintf("clean %s#%d", f.Key(), n) }

// kept is frame n if it was cleaned before, nil if not.
func (f *footage) kept(n int) *frame.Frame {
	key := f.frameKey(n)
	if got := f.r.get(key); got != nil {
		return got
	}
	if f.r.Clean == nil {
		return nil
	}
	got := f.r.Clean.Get(key)
	if got != nil {
		f.r.put(key, got)
	}
	return got
}

// Frame is frame n, cleaned; it may be shared.
func (f *footage) Frame(ctx context.Context, n int) (*frame.Frame, error) {
	if got := f.kept(n); got != nil {
		return got, nil
	}
	key := f.frameKey(n)
	return f.r.cleaning.Do(ctx, key, func(ctx context.Context) (*frame.Frame, error) {
		began := time.Now()
		got, err := f.cleaning.Clean(ctx, f.src, f.length, n)
		if err != nil {
			return nil, err
		}
		f.r.trace("clean", began)
		f.r.put(key, got)
		if f.r.Clean != nil {
			f.r.Clean.Put(key, got)
		}
		return got, nil
	})
}

// cleanLinger is how long the cleaning of a frame goes on when nobody waits for it any more: requests that follow a hand come and go.
const cleanLinger = 2 * time.Second

// cleaningWork is frames that are being cleaned.
type cleaningWork = cache.Shared[*frame.Frame]
