//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// Products and sums are rounded apart and in order, as plain code does. Both back ends share the 8-lane form.
func spans8(dst, src *float32, s *Spans) {
	for j := range s.eight {
		e := &s.eight[j]
		pick := archsimd.LoadUint32x8(&e.pick)
		take, weight := unsafe.Pointer(unsafe.SliceData(e.take)), unsafe.Pointer(unsafe.SliceData(e.weight))
		sum := archsimd.BroadcastFloat32x8(0)
		switch len(e.take) {
		case 2:
			far := archsimd.LoadInt32x8((*[8]int32)(unsafe.Add(take, 32))).ToMask()
			for k := range e.weight {
				at := int(e.at) + k
				v := load8(src, at+8).Permute(pick).Merge(load8(src, at).Permute(pick), far)
				sum = sum.Add(load8((*float32)(weight), 8*k).Mul(v))
			}
		default:
			for k := range e.weight {
				at := int(e.at) + k
				v := archsimd.BroadcastInt32x8(0)
				for i := range e.take {
					here := load8(src, at+8*i).Permute(pick).AsInt32x8()
					v = v.Or(here.And(archsimd.LoadInt32x8((*[8]int32)(unsafe.Add(take, 32*i)))))
				}
				sum = sum.Add(load8((*float32)(weight), 8*k).Mul(v.AsFloat32x8()))
			}
		}
		sum.Store(at8(dst, 8*j))
	}
	archsimd.ClearAVXUpperBits()
}

func toScreen8(dst *byte, r, g, b *float32, n int) {
	zero, one := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1)
	most, half := archsimd.BroadcastFloat32x8(255), archsimd.BroadcastFloat32x8(0.5)
	opaque := archsimd.BroadcastInt32x8(-1 << 24)
	for i := 0; i < n; i += 8 {
		// Max of what is no number is its operand
		x := load8(r, i).Max(zero).Min(one).Mul(most).Add(half).ConvertToInt32()
		y := load8(g, i).Max(zero).Min(one).Mul(most).Add(half).ConvertToInt32()
		z := load8(b, i).Max(zero).Min(one).Mul(most).Add(half).ConvertToInt32()
		p := x.Or(y.ShiftAllLeft(8)).Or(z.ShiftAllLeft(16)).Or(opaque)
		p.Store((*[8]int32)(unsafe.Add(unsafe.Pointer(dst), 4*i)))
	}
	archsimd.ClearAVXUpperBits()
}
