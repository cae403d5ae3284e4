package scatter

import (
	"context"
	"math"

	"velours/core/frame"
)

// Focus lets a picture fall out of focus: every place is spread over a disc, as behind a lens, not over a bell. Radius is that of
// the largest disc, a fraction of the width; Rim, −1 to 1, makes discs brighter or darker towards their edge, as lenses do that
// correct too much or too little.
type Focus struct{ Radius, Rim float64 }

// focusLayers is how many discs are drawn: places between two of them are mixed of both.
const focusLayers = 6

// Run spreads every place by its share of the radius, 0 to 1, one plane. Light is kept where the share is even.
func (f Focus) Run(ctx context.Context, src, share *frame.Frame) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, src.Planes)
	if err := frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			m := share.Row(0, y)
			for p := range src.Planes {
				d, s := out.Row(p, y), src.Row(p, y)
				if p > 2 {
					copy(d, s)
					continue
				}
				for x, v := range m {
					if w := tent(v, 0); w > 0 {
						d[x] = w * s[x]
					} else {
						d[x] = 0
					}
				}
			}
		}
	}); err != nil {
		return nil, err
	}
	cells, err := newShares(ctx, share)
	if err != nil {
		return nil, err
	}
	var last *disc // discs on one grid draw from one picture
	for k := 1; k <= focusLayers; k++ {
		d, err := newDisc(ctx, src, f.Radius*float64(src.W)*float64(k)/focusLayers, f.Rim, last)
		if err == nil {
			err = d.each(ctx, func(x0, y0, x1, y1 int) bool {
				return cells.any(x0, y0, x1, y1, float32(k-1)/focusLayers, float32(k+1)/focusLayers)
			}, func(p, x, y int, row []float32) {
				m := share.Row(0, y)[x:]
				m = m[:len(row)]
				d := out.Row(p, y)[x : x+len(row)]
				for i, v := range row {
					if w := tent(m[i], k); w > 0 {
						d[i] += w * v
					}
				}
			})
		}
		if last != nil && (err != nil || last.src != d.src) {
			last.release()
		}
		if err != nil {
			return nil, err
		}
		last = d
	}
	last.release()
	return out, nil
}

// tent is how much of a place of some share the k-th disc draws: the discs next to a share draw all of it.
func tent(share float32, k int) float32 {
	d := share*focusLayers - float32(k)
	if d < 0 {
		d = -d
	}
	return 1 - d
}

// shares are the least and the most share of every cell of a picture, to pass over what no disc draws.
type shares struct {
	wide      int
	low, high []float32
}

// shareCell is how many pixels a cell has across and down.
const shareCell = 64

func newShares(ctx context.Context, share *frame.Frame) (*shares, error) {
	wide, high := (share.W+shareCell-1)/shareCell, (share.H+shareCell-1)/shareCell
	s := &shares{wide, make([]float32, wide*high), make([]float32, wide*high)}
	return s, frame.Bands(ctx, share.H, shareCell, func(y0, y1 int) {
		for i := range wide {
			lo, hi := float32(math.Inf(1)), float32(math.Inf(-1))
			for y := y0; y < y1; y++ {
				for _, v := range share.Row(0, y)[i*shareCell : min((i+1)*shareCell, share.W)] {
					if v < lo {
						lo = v
					}
					if v > hi {
						hi = v
					}
				}
			}
			s.low[y0/shareCell*wide+i], s.high[y0/shareCell*wide+i] = lo, hi
		}
	})
}

// any tells whether a cell of a rectangle may have a share between two.
func (s *shares) any(x0, y0, x1, y1 int, above, below float32) bool {
	for j := y0 / shareCell; j*shareCell < y1; j++ {
		for i := x0 / shareCell; i*shareCell < x1; i++ {
			if s.high[j*s.wide+i] > above && s.low[j*s.wide+i] < below {
				return true
			}
		}
	}
	return false
}

// Around is the share of the radius of every place: none within a distance of a point, all from Feather further on; lengths are
// fractions of the width.
type Around struct{ X, Y, Size, Feather float64 }

// Share fills a plane.
func (a Around) Share(ctx context.Context, w, h int) (*frame.Frame, error) {
	out := frame.Get(w, h, 1)
	unit, slope := 1/float64(w), float32(1/max(a.Feather, 1e-4))
	return out, frame.Bands(ctx, h, band(w), func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			row := out.Row(0, y)
			dy := (float64(y)+0.5)/float64(w) - a.Y*float64(h)/float64(w)
			for x := range row {
				dx := (float64(x)+0.5)*unit - a.X
				row[x] = smooth32(float32(math.Sqrt(dx*dx+dy*dy)-a.Size) * slope)
			}
		}
	})
}
