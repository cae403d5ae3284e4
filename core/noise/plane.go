package noise

import (
	"math"
	"runtime"
	"sync"
	"sync/atomic"

	"velours/core/frame"
)

// plane is one channel of a picture.
type plane struct {
	w, h int
	v    []float32
}

func newPlane(w, h int) *plane { return &plane{w, h, make([]float32, w*h)} }

func (p *plane) row(y int) []float32 { return p.v[y*p.w : (y+1)*p.w] }

// picture is three channels and their luminance.
type picture struct{ c [4]*plane }

// lumaAt is where the luminance stands among a picture's planes.
const lumaAt = 3

// luma weighs code values as BT.709 does light: a measure of tone, no more.
var luma = [3]float32{0.2126, 0.7152, 0.0722}

// mostCode is beyond any code value.
const mostCode = 1 << 16

// opaque is the alpha from which on a picture is measured.
const opaque = 0.999

// part is a part of a frame's first three planes. What is transparent is left out as what is clipped.
func part(f *frame.Frame, x0, y0, w, h int) *picture {
	p := &picture{}
	for i := range 3 {
		p.c[i] = newPlane(w, h)
		for y := range h {
			for x, v := range f.Row(i, y0+y)[x0 : x0+w] {
				if !(v > -mostCode && v < mostCode) { // what is no number is left out as what is clipped
					v = 0
				}
				p.c[i].row(y)[x] = v
			}
			if f.Planes > 3 {
				for x, a := range f.Row(3, y0+y)[x0 : x0+w] {
					if a < opaque {
						p.c[i].row(y)[x] = 0
					}
				}
			}
		}
	}
	p.weigh()
	return p
}

// cut is a part of the picture, or the picture itself where that is all of it.
func (p *picture) cut(x, y, w, h int) *picture {
	if p.c[0].w == w && p.c[0].h == h {
		return p
	}
	out := &picture{}
	for i, c := range p.c {
		out.c[i] = newPlane(w, h)
		for j := range h {
			copy(out.c[i].row(j), c.row(y + j)[x:x+w])
		}
	}
	return out
}

// weigh makes the luminance of the channels.
func (p *picture) weigh() {
	l := newPlane(p.c[0].w, p.c[0].h)
	each(l.h, func(y int) {
		to, r, g, b := l.row(y), p.c[0].row(y), p.c[1].row(y), p.c[2].row(y)
		for x := range to {
			to[x] = luma[0]*r[x] + luma[1]*g[x] + luma[2]*b[x]
		}
	})
	p.c[lumaAt] = l
}

// smoothed is a plane through a Gaussian.
func (p *plane) smoothed(sigma float64) *plane {
	r := int(math.Ceil(3 * sigma))
	taps, sum := make([]float32, 2*r+1), float32(0)
	for i := range taps {
		d := float64(i - r)
		taps[i] = float32(math.Exp(-d * d / (2 * sigma * sigma)))
		sum += taps[i]
	}
	for i := range taps {
		taps[i] /= sum
	}
	across, out := newPlane(p.w, p.h), newPlane(p.w, p.h)
	each(p.h, func(y int) {
		src, dst := p.row(y), across.row(y)
		for x := range dst {
			v := float32(0)
			for k, t := range taps {
				v += t * src[min(max(x+k-r, 0), p.w-1)]
			}
			dst[x] = v
		}
	})
	each(p.h, func(y int) {
		dst := out.row(y)
		for k, t := range taps {
			src := across.row(min(max(y+k-r, 0), p.h-1))
			for x := range dst {
				dst[x] += t * src[x]
			}
		}
	})
	return out
}

// each calls work for 0…n−1 on every core.
func each(n int, work func(i int)) {
	var next atomic.Int64
	var wg sync.WaitGroup
	for range min(runtime.GOMAXPROCS(0), n) {
		wg.Go(func() {
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				work(i)
			}
		})
	}
	wg.Wait()
}
