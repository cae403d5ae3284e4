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

// weigh sums the vertices of n pixels, a multiple of 8, and writes them to three planes. A register holds two pixels, the first and the
// fifth of eight and so on, so that a weight is spread within its half. Weights are loaded by eight and spread: a scalar load would be a
// legacy move, which stalls on dirty upper halves, and a load across the end of what was just stored waits for the store.
func (q *batch) weigh(table *float32, n int, r, g, b unsafe.Pointer) {
	data := unsafe.Pointer(table)
	v, w := unsafe.Pointer(&q.v), unsafe.Pointer(&q.w)
	for i := 0; i < n; i += 8 {
		u := weights(w, 0)
		p0 := vertices(data, v, 0, 0).Mul(u.SelectFromPairGrouped(0, 0, 0, 0, u))
		p1 := vertices(data, v, 0, 1).Mul(u.SelectFromPairGrouped(1, 1, 1, 1, u))
		p2 := vertices(data, v, 0, 2).Mul(u.SelectFromPairGrouped(2, 2, 2, 2, u))
		p3 := vertices(data, v, 0, 3).Mul(u.SelectFromPairGrouped(3, 3, 3, 3, u))

		u = weights(w, 1)
		p0 = vertices(data, v, 1, 0).MulAdd(u.SelectFromPairGrouped(0, 0, 0, 0, u), p0)
		p1 = vertices(data, v, 1, 1).MulAdd(u.SelectFromPairGrouped(1, 1, 1, 1, u), p1)
		p2 = vertices(data, v, 1, 2).MulAdd(u.SelectFromPairGrouped(2, 2, 2, 2, u), p2)
		p3 = vertices(data, v, 1, 3).MulAdd(u.SelectFromPairGrouped(3, 3, 3, 3, u), p3)

		u = weights(w, 2)
		p0 = vertices(data, v, 2, 0).MulAdd(u.SelectFromPairGrouped(0, 0, 0, 0, u), p0)
		p1 = vertices(data, v, 2, 1).MulAdd(u.SelectFromPairGrouped(1, 1, 1, 1, u), p1)
		p2 = vertices(data, v, 2, 2).MulAdd(u.SelectFromPairGrouped(2, 2, 2, 2, u), p2)
		p3 = vertices(data, v, 2, 3).MulAdd(u.SelectFromPairGrouped(3, 3, 3, 3, u), p3)

		u = weights(w, 3)
		p0 = vertices(data, v, 3, 0).MulAdd(u.SelectFromPairGrouped(0, 0, 0, 0, u), p0)
		p1 = vertices(data, v, 3, 1).MulAdd(u.SelectFromPairGrouped(1, 1, 1, 1, u), p1)
		p2 = vertices(data, v, 3, 2).MulAdd(u.SelectFromPairGrouped(2, 2, 2, 2, u), p2)
		p3 = vertices(data, v, 3, 3).MulAdd(u.SelectFromPairGrouped(3, 3, 3, 3, u), p3)

		rg0, rg1 := p0.AsInt32x8().InterleaveLoGrouped(p1.AsInt32x8()).AsFloat32x8(), p2.AsInt32x8().InterleaveLoGrouped(p3.AsInt32x8()).AsFloat32x8()
		b0, b1 := p0.AsInt32x8().InterleaveHiGrouped(p1.AsInt32x8()).AsFloat32x8(), p2.AsInt32x8().InterleaveHiGrouped(p3.AsInt32x8()).AsFloat32x8()
		rg0.SelectFromPairGrouped(0, 1, 4, 5, rg1).Store((*[8]float32)(r))
		rg0.SelectFromPairGrouped(2, 3, 6, 7, rg1).Store((*[8]float32)(g))
		b0.SelectFromPairGrouped(0, 1, 4, 5, b1).Store((*[8]float32)(b))
		v, w = unsafe.Add(v, 32), unsafe.Add(w, 32)
		r, g, b = unsafe.Add(r, 32), unsafe.Add(g, 32), unsafe.Add(b, 32)
	}
}

// weights are the weights of eight pixels for vertex k.
func weights(w unsafe.Pointer, k uintptr) archsimd.Float32x8 {
	return archsimd.LoadFloat32x8((*[8]float32)(unsafe.Add(w, 4*batchPixels*k)))
}

// vertices are vertex k of pixels p and p + 4. The first comes with what lies after it in the table, in place of which the other is put.
func vertices(data, v unsafe.Pointer, k, p uintptr) archsimd.Float32x8 {
	first := *(*uint32)(unsafe.Add(v, 4*batchPixels*k+4*p))
	other := *(*uint32)(unsafe.Add(v, 4*batchPixels*k+4*(p+4)))
	return archsimd.LoadFloat32x8((*[8]float32)(unsafe.Add(data, first))).SetHi(archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(data, other))))
}
