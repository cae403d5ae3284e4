//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// four is w[p] in four lanes. A plain scalar load would be a legacy move, which stalls on dirty
// upper halves; a load of four and a shuffle is not. w needs three samples more.
func four(w *float32, p int) archsimd.Float32x4 {
	v := archsimd.LoadFloat32x4((*[4]float32)(unsafe.Add(unsafe.Pointer(w), 4*p)))
	return v.SelectFromPair(0, 0, 0, 0, v)
}

// planes turns four pixels, lying one after the other, into four samples of each plane.
func planes(px *[4]float32, r, g, b unsafe.Pointer) {
	at := func(k int) archsimd.Int32x4 {
		return archsimd.LoadInt32x4((*[4]int32)(unsafe.Add(unsafe.Pointer(px), 16*k)))
	}
	p0, p1, p2, p3 := at(0), at(1), at(2), at(3)
	rg0, rg1 := p0.InterleaveLo(p1).AsFloat32x4(), p2.InterleaveLo(p3).AsFloat32x4()
	b0, b1 := p0.InterleaveHi(p1).AsFloat32x4(), p2.InterleaveHi(p3).AsFloat32x4()
	rg0.SelectFromPair(0, 1, 4, 5, rg1).Store((*[4]float32)(r))
	rg0.SelectFromPair(2, 3, 6, 7, rg1).Store((*[4]float32)(g))
	b0.SelectFromPair(0, 1, 4, 5, b1).Store((*[4]float32)(b))
}
