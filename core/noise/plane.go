package noise

import (
	"runtime"
	"sync"
	"sync/atomic"

	"velours/core/frame"
	"velours/core/vec"
)

// plane is one channel of a picture.
type plane struct {
	w, h int
	v    []float32
}

func newPlane(w, h int) *plane { return &plane{w, h, make([]float32, w*h, w*h+vecRoom)} }

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
	soft := vec.NewSymmetric(gaussian(sigma))
	r := soft.Reach()
	across, out := newPlane(p.w, p.h), newPlane(p.w, p.h)
	const together = 16 // rows, for which room is made once
	bands := (p.h + together - 1) / together
	each(bands, func(k int) {
		line, room := make([]float32, p.w+2*r+vecRoom), make([]float32, p.w+vecRoom)
		for y := k * together; y < min((k+1)*together, p.h); y++ {
			row := p.row(y)
			copy(line[r:], row)
			for i := range r {
				line[i], line[r+p.w+i] = row[0], row[p.w-1]
			}
			vec.Taps(room[:p.w], line, soft)
			copy(across.row(y), room)
		}
	})
	each(bands, func(k int) {
		room := make([]float32, p.w+vecRoom)
		rows := make([][]float32, 2*r+1)
		at := func(y int) []float32 { return across.roomy(min(max(y, 0), p.h-1)) }
		for y := k * together; y < min((k+1)*together, p.h); y++ {
			rows[0] = at(y)
			for i := 1; i <= r; i++ {
				rows[2*i-1], rows[2*i] = at(y-i), at(y+i)
			}
			clear(room)
			vec.Columns(room[:p.w], rows, soft, 1)
			copy(out.row(y), room)
		}
	})
	return out
}

// vecRoom is how far beyond the end of a row vector kernels may reach.
const vecRoom = 32

// roomy is a row with room beyond its end, in which the next one stands, or nothing.
func (p *plane) roomy(y int) []float32 { return p.v[y*p.w : (y+1)*p.w : len(p.v)+vecRoom] }

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
