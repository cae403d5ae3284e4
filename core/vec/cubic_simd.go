//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// Four columns fit a vector of four lanes, so both back ends share the form: a place's rows are weighed, then four places are
// turned so that a lane is a place, and their columns weighed.

// weights4 are cubicWeights of four places.
func weights4(t archsimd.Float32x4) (a, b, c, d archsimd.Float32x4) {
	half, one, two := archsimd.BroadcastFloat32x4(0.5), archsimd.BroadcastFloat32x4(1), archsimd.BroadcastFloat32x4(2)
	more, much := archsimd.BroadcastFloat32x4(1.5), archsimd.BroadcastFloat32x4(2.5)
	t2 := t.Mul(t)
	a = one.Sub(t.Mul(half)).MulAdd(t, half.Sub(one)).Mul(t)
	b = t.Mul(more).Sub(much).MulAdd(t2, one)
	c = two.Sub(t.Mul(more)).MulAdd(t, half).Mul(t)
	d = t.Mul(half).Sub(half).Mul(t2)
	return a, b, c, d
}

func cubic4(dst, data *float32, at *int32, pitch int, tx, ty *float32, n int) {
	step := 4 * pitch
	for i := 0; i < n; i += 4 {
		o := (*[4]int32)(unsafe.Add(unsafe.Pointer(at), 4*i))
		y0, y1, y2, y3 := weights4(load4(ty, i))
		s0, lo0, hi0 := rows4(data, o[0], step, y0.SelectFromPair(0, 0, 0, 0, y0), y1.SelectFromPair(0, 0, 0, 0, y1), y2.SelectFromPair(0, 0, 0, 0, y2), y3.SelectFromPair(0, 0, 0, 0, y3))
		s1, lo1, hi1 := rows4(data, o[1], step, y0.SelectFromPair(1, 1, 1, 1, y0), y1.SelectFromPair(1, 1, 1, 1, y1), y2.SelectFromPair(1, 1, 1, 1, y2), y3.SelectFromPair(1, 1, 1, 1, y3))
		s2, lo2, hi2 := rows4(data, o[2], step, y0.SelectFromPair(2, 2, 2, 2, y0), y1.SelectFromPair(2, 2, 2, 2, y1), y2.SelectFromPair(2, 2, 2, 2, y2), y3.SelectFromPair(2, 2, 2, 2, y3))
		s3, lo3, hi3 := rows4(data, o[3], step, y0.SelectFromPair(3, 3, 3, 3, y0), y1.SelectFromPair(3, 3, 3, 3, y1), y2.SelectFromPair(3, 3, 3, 3, y2), y3.SelectFromPair(3, 3, 3, 3, y3))

		a, b := s0.SelectFromPair(0, 1, 4, 5, s1), s2.SelectFromPair(0, 1, 4, 5, s3)
		c, d := s0.SelectFromPair(2, 3, 6, 7, s1), s2.SelectFromPair(2, 3, 6, 7, s3)
		x0, x1, x2, x3 := weights4(load4(tx, i))
		sum := a.SelectFromPair(0, 2, 4, 6, b).Mul(x0)
		sum = a.SelectFromPair(1, 3, 5, 7, b).MulAdd(x1, sum)
		sum = c.SelectFromPair(0, 2, 4, 6, d).MulAdd(x2, sum)
		sum = c.SelectFromPair(1, 3, 5, 7, d).MulAdd(x3, sum)

		// the middle two columns
		a, b = lo0.SelectFromPair(1, 2, 5, 6, lo1), lo2.SelectFromPair(1, 2, 5, 6, lo3)
		c, d = hi0.SelectFromPair(1, 2, 5, 6, hi1), hi2.SelectFromPair(1, 2, 5, 6, hi3)
		lo := a.SelectFromPair(0, 2, 4, 6, b).Min(a.SelectFromPair(1, 3, 5, 7, b))
		hi := c.SelectFromPair(0, 2, 4, 6, d).Max(c.SelectFromPair(1, 3, 5, 7, d))
		sum.Max(lo).Min(hi).Store((*[4]float32)(unsafe.Add(unsafe.Pointer(dst), 4*i)))
	}
	archsimd.ClearAVXUpperBits()
}

// rows4 weighs the four rows of a place, and finds the least and the most of its middle two.
func rows4(data *float32, at int32, step int, w0, w1, w2, w3 archsimd.Float32x4) (sum, lo, hi archsimd.Float32x4) {
	p := unsafe.Add(unsafe.Pointer(data), 4*int(at))
	a, b := archsimd.LoadFloat32x4((*[4]float32)(p)), archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(p, step)))
	c, d := archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(p, 2*step))), archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(p, 3*step)))
	return d.MulAdd(w3, c.MulAdd(w2, b.MulAdd(w1, a.Mul(w0)))), b.Min(c), b.Max(c)
}

func load4(p *float32, i int) archsimd.Float32x4 {
	return archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(unsafe.Pointer(p), 4*i)))
}
