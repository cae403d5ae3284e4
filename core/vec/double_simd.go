//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// These kernels move samples between lanes and are bound by memory, so both back ends share
// the 8-lane form.

var inOrder = [8]uint32{0, 1, 4, 5, 2, 3, 6, 7}

func halve8(dst, src *float32, n int) {
	order := archsimd.LoadUint32x8(&inOrder)
	outer, inner := archsimd.BroadcastFloat32x8(0.125), archsimd.BroadcastFloat32x8(0.375)
	for i := 0; i < n; i += 8 {
		a, b := load8(src, 2*i), load8(src, 2*i+8)
		c, d := load8(src, 2*i+2), load8(src, 2*i+10)
		q0, q1 := a.SelectFromPairGrouped(0, 2, 4, 6, b), a.SelectFromPairGrouped(1, 3, 5, 7, b)
		q2, q3 := c.SelectFromPairGrouped(0, 2, 4, 6, d), c.SelectFromPairGrouped(1, 3, 5, 7, d)
		q0.Add(q3).MulAdd(outer, q1.Add(q2).Mul(inner)).Permute(order).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func double8(dst, src, line *float32, n int, ka, kb float32) {
	a, near, far := archsimd.BroadcastFloat32x8(ka), archsimd.BroadcastFloat32x8(0.75*kb), archsimd.BroadcastFloat32x8(0.25*kb)
	for i := 0; i < n; i += 16 {
		l := load8(line, i/2)
		m := load8(line, i/2+1).Mul(near)
		r := load8(line, i/2+2)
		even, odd := l.MulAdd(far, m).AsInt32x8(), r.MulAdd(far, m).AsInt32x8()
		lo, hi := even.InterleaveLoGrouped(odd).AsFloat32x8(), even.InterleaveHiGrouped(odd).AsFloat32x8()
		load8(src, i).MulAdd(a, lo.Select128FromPair(0, 2, hi)).Store(at8(dst, i))
		load8(src, i+8).MulAdd(a, lo.Select128FromPair(1, 3, hi)).Store(at8(dst, i+8))
	}
	archsimd.ClearAVXUpperBits()
}

const mixA, mixB = 0xBF58476D1CE4E5B9, 0x94D049BB133111EB

// mul64 is the low 64 bits of x·c: AVX2 multiplies 32 bits at a time. Shifts take their counts from
// a vector: a constant count would come through a legacy move, which stalls on dirty upper halves.
func mul64(x, lo, hi, half archsimd.Uint64x4) archsimd.Uint64x4 {
	a, b, c := x.AsUint32x8(), lo.AsUint32x8(), hi.AsUint32x8()
	high := x.ShiftRight(half).AsUint32x8()
	cross := high.MulEvenWiden(b).Add(a.MulEvenWiden(c))
	return a.MulEvenWiden(b).Add(cross.ShiftLeft(half))
}

func noise8(dst *float32, n int, first, key uint64) {
	start := [4]uint64{first, first + Golden&(1<<64-1), first + 2*Golden&(1<<64-1), first + 3*Golden&(1<<64-1)}
	u := archsimd.LoadUint64x4(&start)
	step, k := archsimd.BroadcastUint64x4(4*Golden&(1<<64-1)), archsimd.BroadcastUint64x4(key)
	aLo, aHi := archsimd.BroadcastUint64x4(mixA&(1<<32-1)), archsimd.BroadcastUint64x4(mixA>>32)
	bLo, bHi := archsimd.BroadcastUint64x4(mixB&(1<<32-1)), archsimd.BroadcastUint64x4(mixB>>32)
	bytes, low := archsimd.BroadcastUint64x4(0x00FF00FF00FF00FF), archsimd.BroadcastUint64x4(0xFFFF)
	s30, s27, s31 := archsimd.BroadcastUint64x4(30), archsimd.BroadcastUint64x4(27), archsimd.BroadcastUint64x4(31)
	s32, s16, s8 := archsimd.BroadcastUint64x4(32), archsimd.BroadcastUint64x4(16), archsimd.BroadcastUint64x4(8)
	even := archsimd.LoadUint32x8(&evenLanes)
	mean, unit := archsimd.BroadcastFloat32x4(1020), archsimd.BroadcastFloat32x4(byteUnit)
	for i := 0; i < n; i += 4 {
		x := u
		u = u.Add(step)
		x = mul64(x.Xor(x.ShiftRight(s30)), aLo, aHi, s32)
		x = mul64(x.Xor(x.ShiftRight(s27)), bLo, bHi, s32)
		x = x.Xor(x.ShiftRight(s31)).Xor(k)
		x = mul64(x.Xor(x.ShiftRight(s30)), aLo, aHi, s32)
		x = mul64(x.Xor(x.ShiftRight(s27)), bLo, bHi, s32)
		x = x.Xor(x.ShiftRight(s31))
		x = x.And(bytes).Add(x.ShiftRight(s8).And(bytes))
		x = x.Add(x.ShiftRight(s32))
		x = x.Add(x.ShiftRight(s16)).And(low)
		s := x.AsInt32x8().Permute(even).GetLo()
		s.ConvertToFloat32().Sub(mean).Mul(unit).Store((*[4]float32)(unsafe.Add(unsafe.Pointer(dst), 4*i)))
	}
	archsimd.ClearAVXUpperBits()
}

var evenLanes = [8]uint32{0, 2, 4, 6, 0, 2, 4, 6}

func noise16(dst *float32, n int, first, key uint64) {
	var start [8]uint64
	for i := range start {
		start[i] = first + uint64(i)*Golden
	}
	u := archsimd.LoadUint64x8(&start)
	step, k := archsimd.BroadcastUint64x8(8*Golden&(1<<64-1)), archsimd.BroadcastUint64x8(key)
	a, b := archsimd.BroadcastUint64x8(mixA), archsimd.BroadcastUint64x8(mixB)
	bytes, low := archsimd.BroadcastUint64x8(0x00FF00FF00FF00FF), archsimd.BroadcastUint64x8(0xFFFF)
	s30, s27, s31 := archsimd.BroadcastUint64x8(30), archsimd.BroadcastUint64x8(27), archsimd.BroadcastUint64x8(31)
	s32, s16, s8 := archsimd.BroadcastUint64x8(32), archsimd.BroadcastUint64x8(16), archsimd.BroadcastUint64x8(8)
	mean, unit := archsimd.BroadcastFloat32x8(1020), archsimd.BroadcastFloat32x8(byteUnit)
	for i := 0; i < n; i += 8 {
		x := u
		u = u.Add(step)
		x = x.Xor(x.ShiftRight(s30)).Mul(a)
		x = x.Xor(x.ShiftRight(s27)).Mul(b)
		x = x.Xor(x.ShiftRight(s31)).Xor(k)
		x = x.Xor(x.ShiftRight(s30)).Mul(a)
		x = x.Xor(x.ShiftRight(s27)).Mul(b)
		x = x.Xor(x.ShiftRight(s31))
		x = x.And(bytes).Add(x.ShiftRight(s8).And(bytes))
		x = x.Add(x.ShiftRight(s32))
		x = x.Add(x.ShiftRight(s16)).And(low)
		x.TruncateToUint32().AsInt32x8().ConvertToFloat32().Sub(mean).Mul(unit).Store((*[8]float32)(unsafe.Add(unsafe.Pointer(dst), 4*i)))
	}
	archsimd.ClearAVXUpperBits()
}
