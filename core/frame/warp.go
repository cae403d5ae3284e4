package frame

import (
	"context"

	"velours/core/vec"
)

// Places tells where a picture is read: for every sample of row y, counted from 0, the column u and the row v, which lie between
// samples, in samples from the middle of the first.
type Places func(y int, u, v []float32)

// Warp resamples f: plane c of the result is read at the places of that plane, the planes beyond the last of them at the last; nil
// leaves a plane as it is. Samples are by cubics held between the four nearest so that nothing rings. Beyond its edges a picture goes
// on as it ends. Values should be linear in light.
func Warp(ctx context.Context, f *Frame, places ...Places) (*Frame, error) {
	g := Get(f.W, f.H, f.Planes)
	return g, Bands(ctx, f.H, 16, func(y0, y1 int) {
		r := newReader(f)
		for y := y0; y < y1; y++ {
			for c := range f.Planes {
				i := min(c, len(places)-1)
				if places[i] == nil {
					copy(g.Row(c, y), f.Row(c, y))
					continue
				}
				if i == c { // a row's places serve all of its planes
					places[i](y, r.u, r.v)
					r.find()
				}
				r.read(g.Row(c, y), c)
			}
		}
	})
}

// reader reads a row of places of a picture.
type reader struct {
	f      *Frame
	u, v   []float32
	at     []int32   // the first of the sixteen samples about a place
	tx, ty []float32 // where it lies among them
	edge   []int     // the places whose sixteen are not all there
}

func newReader(f *Frame) *reader {
	row := func() []float32 { return make([]float32, f.W) }
	return &reader{f: f, u: row(), v: row(), at: make([]int32, f.W), tx: row(), ty: row()}
}

// find finds the samples about the places.
func (r *reader) find() {
	right, low := float32(r.f.W-2), float32(r.f.H-2)
	r.edge = r.edge[:0]
	if r.f.W < 4 || r.f.H < 4 {
		right = 0 // all is edge
	}
	for i, x := range r.u {
		y := r.v[i]
		if !(x >= 1 && y >= 1 && x < right && y < low) {
			r.edge = append(r.edge, i)
			r.at[i], r.tx[i], r.ty[i] = 0, 0, 0
			continue
		}
		j, k := int(x), int(y)
		r.at[i] = int32((k-1)*r.f.pitch + j - 1)
		r.tx[i], r.ty[i] = x-float32(j), y-float32(k)
	}
}

// read reads plane c.
func (r *reader) read(dst []float32, c int) {
	f := r.f
	if len(r.edge) < len(dst) {
		vec.Cubic(dst, f.data[c*f.H*f.pitch+LeftPad:], r.at, f.pitch, r.tx, r.ty)
	}
	for _, i := range r.edge {
		dst[i] = f.sample(c, float64(min(max(r.u[i], 0), float32(f.W-1))), float64(min(max(r.v[i], 0), float32(f.H-1))))
	}
}

// Sample reads plane c at a place between samples, bilinearly; beyond its edges a picture goes on as it ends.
func (f *Frame) Sample(c int, x, y float64) float32 {
	x, y = min(max(x, 0), float64(f.W-1)), min(max(y, 0), float64(f.H-1))
	i, j := min(int(x), max(f.W-2, 0)), min(int(y), max(f.H-2, 0))
	u, v := float32(x-float64(i)), float32(y-float64(j))
	a, b := f.Row(c, j), f.Row(c, min(j+1, f.H-1))
	k := min(i+1, f.W-1)
	top, low := a[i]+(a[k]-a[i])*u, b[i]+(b[k]-b[i])*u
	return top + (low-top)*v
}
