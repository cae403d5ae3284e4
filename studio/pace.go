package studio

import (
	"context"
	"sync"
	"time"
)

// shares are the parts of its raster, along either side, at which a picture is played, the finest first.
var shares = [...]float64{1, 3. / 4, 1. / 2, 3. / 8, 1. / 4}

// Of the time there is for a picture, a raster is left for a lower one above most, and taken up again where no more than wish would be
// taken. What is between is for the exact pictures that are made behind, and for whatever else the machine does.
const paceMost, paceWish = 0.9, 0.65

// playedWidth is how wide pictures are played at least.
const playedWidth = 320

// patience is how many pictures in a row a finer raster must have had time for before it is taken up.
const patience = 12

// Pace finds the finest raster at which pictures are there in time, of how long they took. The zero value begins in the middle. It is safe
// for concurrent use.
type Pace struct {
	mu     sync.Mutex
	begun  bool
	at     int                  // of shares
	took   [len(shares)]float64 // milliseconds, the newest counting most; 0: not known
	spare  int                  // pictures in a row that left time for a finer raster
	seen   int                  // pictures since the raster was changed
	within float64              // what the figures are for
	last   int                  // the coarsest share that is still a picture
}

// Share is the part of its raster at which the next picture, so many pixels wide, is made, where there are within milliseconds for it.
func (p *Pace) Share(within float64, width int) float64 {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.last = 0
	for p.last+1 < len(shares) && shares[p.last+1]*float64(width) >= playedWidth {
		p.last++
	}
	if !p.begun {
		p.begun, p.at = true, 2
	}
	p.at = min(p.at, p.last)
	p.within = within
	return shares[p.at]
}

// Took notes that a picture at a share of its raster was made in so many milliseconds.
func (p *Pace) Took(share, ms float64) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.within <= 0 || share != shares[p.at] { // asked for before the raster was changed
		return
	}
	now := &p.took[p.at]
	p.seen++
	if p.seen <= 3 { // the first makes what the others only use
		*now = ms
	} else {
		*now += (ms - *now) / 4
	}
	if p.seen > 1 && *now > paceMost*p.within && p.at < p.last {
		p.at, p.spare, p.seen = p.at+1, 0, 0
		return
	}
	if p.at > 0 && p.finer(*now) < paceWish*p.within {
		p.spare++
	} else {
		p.spare = 0
	}
	for i := range p.took[:p.at] { // what was seen long ago may be otherwise now
		p.took[i] *= 0.995
	}
	if p.spare >= patience {
		p.at, p.spare, p.seen = p.at-1, 0, 0
	}
}

// Pressed tells that even the lowest raster leaves no time for anything else, as far as is known.
func (p *Pace) Pressed() bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.begun && p.at == p.last && (p.seen < patience || p.took[p.at] > paceWish*p.within)
}

// finer is how long a picture at the next finer raster would take: what it was seen to, or, by its pixels, of which half the time is.
func (p *Pace) finer(ms float64) float64 {
	if seen := p.took[p.at-1]; seen > 0 {
		return seen
	}
	r := shares[p.at-1] / shares[p.at]
	return ms * (0.5 + 0.5*r*r)
}

// Play is a picture of what plays: the exact one where it is kept, and where there is not the time for it one at the raster that pace finds.
// It tells at which share of its raster it was made.
func (s *Sessions) Play(ctx context.Context, v View, pace *Pace, within time.Duration) (*Image, float64, error) {
	v.Draft, v.Share = false, 0
	keys, err := s.frameKeys(ctx, v)
	if err != nil {
		return nil, 0, err
	}
	if im, ok := s.frames.get(keys(v)); ok {
		return im, 1, nil
	}
	share := 1.0
	if within > 0 {
		w := v.CropW
		if w == 0 {
			w = v.W
		}
		if share = pace.Share(float64(within)/1e6, w); share < 1 {
			v.Share = share
		}
	}
	began := time.Now()
	im, err := s.finished(ctx, v, keys(v))
	if err != nil {
		return nil, 0, err
	}
	if within > 0 {
		pace.Took(share, float64(time.Since(began))/1e6)
	}
	return im, share, nil
}
