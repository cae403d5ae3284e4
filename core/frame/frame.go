// Package frame holds pictures: planar float32, rows padded so that vector kernels may
// read and write a little past either end. It also runs work over bands of rows on every core.
//
// A picture knows nothing of colour; what its planes mean is the caller's business.
package frame

import (
	"fmt"
	"sync"
)

const (
	// LeftPad and RightPad are the samples that may be touched before and after a row.
	LeftPad  = 32
	RightPad = 64
)

// Frame is a picture of W×H samples in Planes planes.
type Frame struct {
	W, H, Planes int
	pitch        int
	data         []float32
}

// New makes a picture of zeros. It panics if a size is not positive.
func New(w, h, planes int) *Frame {
	if w <= 0 || h <= 0 || planes <= 0 {
		panic(fmt.Sprintf("frame: size %d×%d×%d", w, h, planes))
	}
	pitch := (LeftPad + w + RightPad + 15) &^ 15
	return &Frame{W: w, H: h, Planes: planes, pitch: pitch, data: make([]float32, pitch*h*planes+16)}
}

// pools keeps released pictures by size: a UHD picture is 100 MB of fresh pages otherwise.
var pools sync.Map

// Get is New without the zeros: a picture whose samples are whatever was there before.
func Get(w, h, planes int) *Frame {
	if p, ok := pools.Load([3]int{w, h, planes}); ok {
		if f, ok := p.(*sync.Pool).Get().(*Frame); ok {
			return f
		}
	}
	return New(w, h, planes)
}

// Release gives a picture's memory to the next Get of its size. Nobody may use it afterwards.
func (f *Frame) Release() {
	p, _ := pools.LoadOrStore([3]int{f.W, f.H, f.Planes}, &sync.Pool{})
	p.(*sync.Pool).Put(f)
}

// Row is row y of plane p, W samples long, with RightPad more in its capacity.
func (f *Frame) Row(p, y int) []float32 {
	o := (p*f.H+y)*f.pitch + LeftPad
	return f.data[o : o+f.W : o+f.W+RightPad]
}

// Around is row y of plane p together with its left pad: sample x stands at index LeftPad+x.
func (f *Frame) Around(p, y int) []float32 {
	o := (p*f.H + y) * f.pitch
	return f.data[o : o+LeftPad+f.W+RightPad]
}

// Part is columns x to x+n of row y of plane p.
func (f *Frame) Part(p, y, x, n int) []float32 {
	o := (p*f.H+y)*f.pitch + LeftPad + x
	return f.data[o : o+n : o+n+RightPad]
}

// SameSize reports whether two pictures have equal width, height and planes.
func (f *Frame) SameSize(g *Frame) bool {
	return f.W == g.W && f.H == g.H && f.Planes == g.Planes
}

// Bytes is the memory that the picture holds.
func (f *Frame) Bytes() int { return 4 * len(f.data) }

// Clone copies the picture.
func (f *Frame) Clone() *Frame {
	g := *f
	g.data = append([]float32(nil), f.data...)
	return &g
}

// Crop copies the rectangle of w×h samples at (x, y); it is cut to fit the picture.
func (f *Frame) Crop(x, y, w, h int) *Frame {
	x, y = min(max(x, 0), f.W-1), min(max(y, 0), f.H-1)
	g := New(min(w, f.W-x), min(h, f.H-y), f.Planes)
	for p := range f.Planes {
		for j := range g.H {
			copy(g.Row(p, j), f.Row(p, y+j)[x:])
		}
	}
	return g
}
