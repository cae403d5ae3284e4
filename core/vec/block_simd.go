//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// Both back ends share the 8-lane form; products and sums are rounded apart, as in the plain one.

func gather8(dst, src *float32, n int, b *Blocks, count float32) {
	over, f := archsimd.BroadcastFloat32x8(count), b.f
	pick, take := unsafe.Pointer(unsafe.SliceData(b.pick)), unsafe.Pointer(unsafe.SliceData(b.take))
	for i := 0; i < n; i += 8 {
		out := archsimd.BroadcastInt32x8(0)
		for j := range f {
			at := i*f + 8*j
			s := load8(src, at)
			for k := 1; k < f; k++ {
				s = s.Add(load8(src, at+k))
			}
			here := s.Permute(archsimd.LoadUint32x8((*[8]uint32)(unsafe.Add(pick, 32*j)))).AsInt32x8()
			out = out.Or(here.And(archsimd.LoadInt32x8((*[8]int32)(unsafe.Add(take, 32*j)))))
		}
		out.AsFloat32x8().Div(over).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func grow8(dst, src *float32, n int, b *Blocks, vectors, first int) {
	at, low, part := unsafe.Pointer(unsafe.SliceData(b.at)), unsafe.Pointer(unsafe.SliceData(b.low)), unsafe.Pointer(unsafe.SliceData(b.part))
	from, j := 8*(vectors/b.f)-first, vectors%b.f
	for i := 0; i < n; i += 8 {
		o := from + int(*(*int32)(unsafe.Add(at, 4*j)))
		place := archsimd.LoadUint32x8((*[8]uint32)(unsafe.Add(low, 32*j)))
		a, c := load8(src, o).Permute(place), load8(src, o+1).Permute(place)
		grown := a.Add(c.Sub(a).Mul(load8((*float32)(unsafe.Add(part, 32*j)), 0)))
		load8(dst, i).Add(grown).Store(at8(dst, i))
		if j++; j == b.f {
			from, j = from+8, 0
		}
	}
	archsimd.ClearAVXUpperBits()
}
