//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// These kernels are bound by memory, so both back ends share the 8-lane form. Products
// and sums of samples are rounded apart, as plain code does: what a file holds is the same number on every machine.

func fromBytes8(dst *float32, src *byte, n int, k, o float32) {
	scale, offset := archsimd.BroadcastFloat32x8(k), archsimd.BroadcastFloat32x8(o)
	for i := 0; i < n; i += 16 {
		v := archsimd.LoadUint8x16((*[16]byte)(unsafe.Add(unsafe.Pointer(src), i))).ExtendToUint16()
		v.GetLo().ExtendToUint32().AsInt32x8().ConvertToFloat32().Mul(scale).Add(offset).Store(at8(dst, i))
		v.GetHi().ExtendToUint32().AsInt32x8().ConvertToFloat32().Mul(scale).Add(offset).Store(at8(dst, i+8))
	}
	archsimd.ClearAVXUpperBits()
}

func fromWords8(dst *float32, src *byte, n int, k, o float32) {
	scale, offset := archsimd.BroadcastFloat32x8(k), archsimd.BroadcastFloat32x8(o)
	for i := 0; i < n; i += 8 {
		v := archsimd.LoadUint16x8((*[8]uint16)(unsafe.Add(unsafe.Pointer(src), 2*i)))
		v.ExtendToUint32().AsInt32x8().ConvertToFloat32().Mul(scale).Add(offset).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func shares8(dst *float32, src *byte, n int, top float32) {
	whole := archsimd.BroadcastFloat32x8(top)
	for i := 0; i < n; i += 8 {
		v := archsimd.LoadUint16x8((*[8]uint16)(unsafe.Add(unsafe.Pointer(src), 2*i)))
		v.ExtendToUint32().AsInt32x8().ConvertToFloat32().Div(whole).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func numbers8(dst *int32, src *float32, n int, top float32) bool {
	most, half, zero := archsimd.BroadcastFloat32x8(top), archsimd.BroadcastFloat32x8(0.5), archsimd.BroadcastFloat32x8(0)
	one := archsimd.BroadcastFloat32x8(1)
	off := zero
	for i := 0; i < n; i += 8 {
		v := load8(src, i)
		k := v.Mul(most).Add(half).ConvertToInt32()
		k.Store((*[8]int32)(unsafe.Add(unsafe.Pointer(dst), 4*i)))
		f := k.ConvertToFloat32()
		// what is no number equals nothing
		off = zero.Merge(one, f.Div(most).Equal(v).And(f.GreaterEqual(zero)).And(f.LessEqual(most))).Max(off)
	}
	var sum [8]float32
	off.Store(&sum)
	archsimd.ClearAVXUpperBits()
	return sum == [8]float32{}
}

func places8(at *int32, part, src *float32, n int, top float32) {
	most, last, zero := archsimd.BroadcastFloat32x8(top), archsimd.BroadcastFloat32x8(top-1), archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += 8 {
		v := load8(src, i).Mul(most)
		k := v.Max(zero).Min(last).Floor() // Max of what is no number is its operand
		k.ConvertToInt32().Store((*[8]int32)(unsafe.Add(unsafe.Pointer(at), 4*i)))
		v.Sub(k).Store(at8(part, i))
	}
	archsimd.ClearAVXUpperBits()
}

func wordsOf8(dst, src *byte, count, n int, from *[4][16]int8) {
	for x := 0; x < 2*count; x += 16 {
		at := unsafe.Add(unsafe.Pointer(src), x*n)
		v := archsimd.LoadUint8x16((*[16]byte)(at)).PermuteOrZero(archsimd.LoadInt8x16(&from[0]))
		for k := 1; k < n; k++ {
			v = v.Or(archsimd.LoadUint8x16((*[16]byte)(unsafe.Add(at, 16*k))).PermuteOrZero(archsimd.LoadInt8x16(&from[k])))
		}
		v.Store((*[16]byte)(unsafe.Add(unsafe.Pointer(dst), x)))
	}
	archsimd.ClearAVXUpperBits()
}

func toWords8(dst *byte, src *float32, n int, t *Thresholds, from int, lo, hi float32) {
	low, high := archsimd.BroadcastFloat32x8(lo), archsimd.BroadcastFloat32x8(hi)
	unit, first := archsimd.BroadcastFloat32x8(t.Unit), archsimd.BroadcastFloat32x8(t.First)
	most, order := archsimd.BroadcastInt32x8(Ranks-1), archsimd.LoadUint32x8(&inOrder)
	ranks, turns := unsafe.Pointer(t.Ranks), unsafe.Pointer(unsafe.SliceData(t.Turns))
	for i := 0; i < n; i += 16 {
		x := from + i
		turn := archsimd.LoadInt32x8((*[8]int32)(unsafe.Add(turns, 32*(x/Cell))))
		r := unsafe.Add(ranks, 4*(x%Cell))
		a := archsimd.LoadInt32x8((*[8]int32)(r)).Add(turn).And(most).ConvertToFloat32().MulAdd(unit, first)
		b := archsimd.LoadInt32x8((*[8]int32)(unsafe.Add(r, 32))).Add(turn).And(most).ConvertToFloat32().MulAdd(unit, first)
		// Max of what is no number is its operand
		a = load8(src, i).Max(low).Min(high).Add(a)
		b = load8(src, i+8).Max(low).Min(high).Add(b)
		// packed by halves of registers, then brought into order
		w := a.ConvertToInt32().SaturateToUint16ConcatGrouped(b.ConvertToInt32())
		w.AsUint32x8().Permute(order).AsUint16x16().Store((*[16]uint16)(unsafe.Add(unsafe.Pointer(dst), 2*i)))
	}
	archsimd.ClearAVXUpperBits()
}

func sum8(dst, a, b, c *float32, n int, k *[4]float32) {
	k0, k1, k2, k3 := archsimd.BroadcastFloat32x8(k[0]), archsimd.BroadcastFloat32x8(k[1]), archsimd.BroadcastFloat32x8(k[2]), archsimd.BroadcastFloat32x8(k[3])
	for i := 0; i < n; i += 8 {
		load8(a, i).MulAdd(k0, load8(b, i).MulAdd(k1, load8(c, i).MulAdd(k2, k3))).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func every2of8(dst, src *float32, n int) {
	order := archsimd.LoadUint32x8(&inOrder)
	outer, inner := archsimd.BroadcastFloat32x8(0.25), archsimd.BroadcastFloat32x8(0.5)
	for i := 0; i < n; i += 8 {
		a, b := load8(src, 2*i), load8(src, 2*i+8)
		c, d := load8(src, 2*i+2), load8(src, 2*i+10)
		q0, q1, q2 := a.SelectFromPairGrouped(0, 2, 4, 6, b), a.SelectFromPairGrouped(1, 3, 5, 7, b), c.SelectFromPairGrouped(0, 2, 4, 6, d)
		q0.Add(q2).MulAdd(outer, q1.Mul(inner)).Permute(order).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func between8(dst, src *float32, n int) {
	half := archsimd.BroadcastFloat32x8(0.5)
	for i := 0; i < n; i += 16 {
		l := load8(src, i/2)
		even, odd := l.AsInt32x8(), l.Add(load8(src, i/2+1)).Mul(half).AsInt32x8()
		lo, hi := even.InterleaveLoGrouped(odd).AsFloat32x8(), even.InterleaveHiGrouped(odd).AsFloat32x8()
		lo.Select128FromPair(0, 2, hi).Store(at8(dst, i))
		lo.Select128FromPair(1, 3, hi).Store(at8(dst, i+8))
	}
	archsimd.ClearAVXUpperBits()
}
