//go:build goexperiment.simd && amd64

package vec

import "simd/archsimd"

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

// finish64 is the second half of a hash, the finaliser of SplitMix64.
func finish64(x, aLo, aHi, bLo, bHi, s30, s27, s31, s32 archsimd.Uint64x4) archsimd.Uint64x4 {
	x = mul64(x.Xor(x.ShiftRight(s30)), aLo, aHi, s32)
	x = mul64(x.Xor(x.ShiftRight(s27)), bLo, bHi, s32)
	return x.Xor(x.ShiftRight(s31))
}

// noise8 makes pixels 0 1 4 5 and 2 3 6 7 side by side, so that the shuffle that brings their byte
// sums together leaves them in order.
func noise8(d0, d1, d2 *float32, n int, first uint64, keys *[3]uint64) {
	var start [8]uint64
	for i, px := range [8]uint64{0, 1, 4, 5, 2, 3, 6, 7} {
		start[i] = first + px*Golden
	}
	u, v := archsimd.LoadUint64x4((*[4]uint64)(start[:4])), archsimd.LoadUint64x4((*[4]uint64)(start[4:]))
	step, zero := archsimd.BroadcastUint64x4(8*Golden&(1<<64-1)), archsimd.BroadcastUint8x32(0)
	k0, k1, k2 := archsimd.BroadcastUint64x4(keys[0]), archsimd.BroadcastUint64x4(keys[1]), archsimd.BroadcastUint64x4(keys[2])
	aLo, aHi := archsimd.BroadcastUint64x4(mixA&(1<<32-1)), archsimd.BroadcastUint64x4(mixA>>32)
	bLo, bHi := archsimd.BroadcastUint64x4(mixB&(1<<32-1)), archsimd.BroadcastUint64x4(mixB>>32)
	s30, s27, s31, s32 := archsimd.BroadcastUint64x4(30), archsimd.BroadcastUint64x4(27), archsimd.BroadcastUint64x4(31), archsimd.BroadcastUint64x4(32)
	mean, unit := archsimd.BroadcastInt32x8(1020), archsimd.BroadcastFloat32x8(byteUnit)
	for i := 0; i < n; i += 8 {
		x, y := finish64(u, aLo, aHi, bLo, bHi, s30, s27, s31, s32), finish64(v, aLo, aHi, bLo, bHi, s30, s27, s31, s32)
		u, v = u.Add(step), v.Add(step)

		p := finish64(x.Xor(k0), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		q := finish64(y.Xor(k0), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		p.SelectFromPairGrouped(0, 2, 4, 6, q).AsInt32x8().Sub(mean).ConvertToFloat32().Mul(unit).Store(at8(d0, i))

		p = finish64(x.Xor(k1), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		q = finish64(y.Xor(k1), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		p.SelectFromPairGrouped(0, 2, 4, 6, q).AsInt32x8().Sub(mean).ConvertToFloat32().Mul(unit).Store(at8(d1, i))

		p = finish64(x.Xor(k2), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		q = finish64(y.Xor(k2), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		p.SelectFromPairGrouped(0, 2, 4, 6, q).AsInt32x8().Sub(mean).ConvertToFloat32().Mul(unit).Store(at8(d2, i))
	}
	archsimd.ClearAVXUpperBits()
}

// noiseRow8 is noise8 for one row.
func noiseRow8(dst *float32, n int, first, key uint64) {
	var start [8]uint64
	for i, px := range [8]uint64{0, 1, 4, 5, 2, 3, 6, 7} {
		start[i] = first + px*Golden
	}
	u, v := archsimd.LoadUint64x4((*[4]uint64)(start[:4])), archsimd.LoadUint64x4((*[4]uint64)(start[4:]))
	step, zero, k := archsimd.BroadcastUint64x4(8*Golden&(1<<64-1)), archsimd.BroadcastUint8x32(0), archsimd.BroadcastUint64x4(key)
	aLo, aHi := archsimd.BroadcastUint64x4(mixA&(1<<32-1)), archsimd.BroadcastUint64x4(mixA>>32)
	bLo, bHi := archsimd.BroadcastUint64x4(mixB&(1<<32-1)), archsimd.BroadcastUint64x4(mixB>>32)
	s30, s27, s31, s32 := archsimd.BroadcastUint64x4(30), archsimd.BroadcastUint64x4(27), archsimd.BroadcastUint64x4(31), archsimd.BroadcastUint64x4(32)
	mean, unit := archsimd.BroadcastInt32x8(1020), archsimd.BroadcastFloat32x8(byteUnit)
	for i := 0; i < n; i += 8 {
		x, y := finish64(u, aLo, aHi, bLo, bHi, s30, s27, s31, s32), finish64(v, aLo, aHi, bLo, bHi, s30, s27, s31, s32)
		u, v = u.Add(step), v.Add(step)
		p := finish64(x.Xor(k), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		q := finish64(y.Xor(k), aLo, aHi, bLo, bHi, s30, s27, s31, s32).AsUint8x32().SumAbsDiff(zero).AsFloat32x8()
		p.SelectFromPairGrouped(0, 2, 4, 6, q).AsInt32x8().Sub(mean).ConvertToFloat32().Mul(unit).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func noise16(d0, d1, d2 *float32, n int, first uint64, keys *[3]uint64) {
	var start [8]uint64
	for i := range start {
		start[i] = first + uint64(i)*Golden
	}
	u := archsimd.LoadUint64x8(&start)
	step, zero := archsimd.BroadcastUint64x8(8*Golden&(1<<64-1)), archsimd.BroadcastUint8x64(0)
	a, b := archsimd.BroadcastUint64x8(mixA), archsimd.BroadcastUint64x8(mixB)
	s30, s27, s31 := archsimd.BroadcastUint64x8(30), archsimd.BroadcastUint64x8(27), archsimd.BroadcastUint64x8(31)
	k0, k1, k2 := archsimd.BroadcastUint64x8(keys[0]), archsimd.BroadcastUint64x8(keys[1]), archsimd.BroadcastUint64x8(keys[2])
	mean, unit := archsimd.BroadcastInt32x8(1020), archsimd.BroadcastFloat32x8(byteUnit)
	finish := func(x archsimd.Uint64x8) archsimd.Uint64x8 {
		x = x.Xor(x.ShiftRight(s30)).Mul(a)
		x = x.Xor(x.ShiftRight(s27)).Mul(b)
		return x.Xor(x.ShiftRight(s31))
	}
	for i := 0; i < n; i += 8 {
		x := finish(u)
		u = u.Add(step)
		p, q, r := finish(x.Xor(k0)), finish(x.Xor(k1)), finish(x.Xor(k2))
		sum := func(x archsimd.Uint64x8) archsimd.Float32x8 {
			return x.AsUint8x64().SumAbsDiff(zero).AsUint64x8().TruncateToUint32().AsInt32x8().Sub(mean).ConvertToFloat32().Mul(unit)
		}
		sum(p).Store(at8(d0, i))
		sum(q).Store(at8(d1, i))
		sum(r).Store(at8(d2, i))
	}
	archsimd.ClearAVXUpperBits()
}

func noiseRow16(dst *float32, n int, first, key uint64) {
	var start [8]uint64
	for i := range start {
		start[i] = first + uint64(i)*Golden
	}
	u := archsimd.LoadUint64x8(&start)
	step, zero, k := archsimd.BroadcastUint64x8(8*Golden&(1<<64-1)), archsimd.BroadcastUint8x64(0), archsimd.BroadcastUint64x8(key)
	a, b := archsimd.BroadcastUint64x8(mixA), archsimd.BroadcastUint64x8(mixB)
	s30, s27, s31 := archsimd.BroadcastUint64x8(30), archsimd.BroadcastUint64x8(27), archsimd.BroadcastUint64x8(31)
	mean, unit := archsimd.BroadcastInt32x8(1020), archsimd.BroadcastFloat32x8(byteUnit)
	finish := func(x archsimd.Uint64x8) archsimd.Uint64x8 {
		x = x.Xor(x.ShiftRight(s30)).Mul(a)
		x = x.Xor(x.ShiftRight(s27)).Mul(b)
		return x.Xor(x.ShiftRight(s31))
	}
	for i := 0; i < n; i += 8 {
		x := finish(u)
		u = u.Add(step)
		finish(x.Xor(k)).AsUint8x64().SumAbsDiff(zero).AsUint64x8().TruncateToUint32().AsInt32x8().Sub(mean).ConvertToFloat32().Mul(unit).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}
