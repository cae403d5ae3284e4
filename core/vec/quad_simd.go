//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// batchPixels is how many pixels the table kernels take at a time: first where they lie among the
// nodes, 8 or 16 pixels at once, then the weighing, a node at once.
const batchPixels = 64

// batch holds, for each of the four vertices of batchPixels pixels, its place in bytes and its weight.
type batch struct {
	v [4 * batchPixels]int32
	w [4 * batchPixels]float32
}

// batchRoom has room for a batch that starts with a cache line: vectors across lines cost twice.
type batchRoom [unsafe.Sizeof(batch{}) + 64]byte

func (b *batchRoom) aligned() *batch {
	p := unsafe.Pointer(b)
	return (*batch)(unsafe.Add(p, -uintptr(p)&63))
}

func whole8(x archsimd.Float32x8) archsimd.Float32x8    { return x.Floor() }
func whole16(x archsimd.Float32x16) archsimd.Float32x16 { return x.FloorScaled(0) }

// weigh sums the vertices of n pixels and writes them to three planes. Weights are loaded by four
// and spread: a scalar load would be a legacy move, which stalls on dirty upper halves, and a load
// across the end of what was just stored waits for the store.
func (q *batch) weigh(table *float32, n int, r, g, b unsafe.Pointer) {
	data := unsafe.Pointer(table)
	v, w := unsafe.Pointer(&q.v), unsafe.Pointer(&q.w)
	for i := 0; i < n; i += 4 {
		w0, w1, w2, w3 := four(w, 0), four(w, 1), four(w, 2), four(w, 3)

		p0 := vertex(data, v, 0, 0).Mul(w0.SelectFromPair(0, 0, 0, 0, w0))
		p1 := vertex(data, v, 0, 1).Mul(w0.SelectFromPair(1, 1, 1, 1, w0))
		p2 := vertex(data, v, 0, 2).Mul(w0.SelectFromPair(2, 2, 2, 2, w0))
		p3 := vertex(data, v, 0, 3).Mul(w0.SelectFromPair(3, 3, 3, 3, w0))

		p0 = vertex(data, v, 1, 0).MulAdd(w1.SelectFromPair(0, 0, 0, 0, w1), p0)
		p1 = vertex(data, v, 1, 1).MulAdd(w1.SelectFromPair(1, 1, 1, 1, w1), p1)
		p2 = vertex(data, v, 1, 2).MulAdd(w1.SelectFromPair(2, 2, 2, 2, w1), p2)
		p3 = vertex(data, v, 1, 3).MulAdd(w1.SelectFromPair(3, 3, 3, 3, w1), p3)

		p0 = vertex(data, v, 2, 0).MulAdd(w2.SelectFromPair(0, 0, 0, 0, w2), p0)
		p1 = vertex(data, v, 2, 1).MulAdd(w2.SelectFromPair(1, 1, 1, 1, w2), p1)
		p2 = vertex(data, v, 2, 2).MulAdd(w2.SelectFromPair(2, 2, 2, 2, w2), p2)
		p3 = vertex(data, v, 2, 3).MulAdd(w2.SelectFromPair(3, 3, 3, 3, w2), p3)

		p0 = vertex(data, v, 3, 0).MulAdd(w3.SelectFromPair(0, 0, 0, 0, w3), p0)
		p1 = vertex(data, v, 3, 1).MulAdd(w3.SelectFromPair(1, 1, 1, 1, w3), p1)
		p2 = vertex(data, v, 3, 2).MulAdd(w3.SelectFromPair(2, 2, 2, 2, w3), p2)
		p3 = vertex(data, v, 3, 3).MulAdd(w3.SelectFromPair(3, 3, 3, 3, w3), p3)

		rg0, rg1 := p0.AsInt32x4().InterleaveLo(p1.AsInt32x4()).AsFloat32x4(), p2.AsInt32x4().InterleaveLo(p3.AsInt32x4()).AsFloat32x4()
		b0, b1 := p0.AsInt32x4().InterleaveHi(p1.AsInt32x4()).AsFloat32x4(), p2.AsInt32x4().InterleaveHi(p3.AsInt32x4()).AsFloat32x4()
		rg0.SelectFromPair(0, 1, 4, 5, rg1).Store((*[4]float32)(r))
		rg0.SelectFromPair(2, 3, 6, 7, rg1).Store((*[4]float32)(g))
		b0.SelectFromPair(0, 1, 4, 5, b1).Store((*[4]float32)(b))
		v, w = unsafe.Add(v, 16), unsafe.Add(w, 16)
		r, g, b = unsafe.Add(r, 16), unsafe.Add(g, 16), unsafe.Add(b, 16)
	}
}

func four(w unsafe.Pointer, k uintptr) archsimd.Float32x4 {
	return archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(w, 4*batchPixels*k)))
}

func vertex(data, v unsafe.Pointer, k, p uintptr) archsimd.Float32x4 {
	o := *(*uint32)(unsafe.Add(v, 4*batchPixels*k+4*p))
	return archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(data, o)))
}
