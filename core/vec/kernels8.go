//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// The vector kernels, 8 lanes wide. kernels16.go is made from this file by go generate:
// types and lane counts change, nothing else, so that both widths give the same bits.
//
//go:generate go run ./widen

const lanes8 = 8

var avx2 = &table{
	name: "avx2", matrix: matrix8, log2: logs8, exp2: exps8, decode: decode8,
	curve: curve8, short: short8, mix: mix8, modulate: modulate8, taps: taps8,
	tetra: tetra8, average: average8, halve: halve8, double: double8, columns: columns8, noise: noise8, noiseRow: noiseRow8, bound: bound8, cubic: cubic4, oneSided: oneSided8,
	cosine: cosine8, cosineBack: cosineBack8, sumEight: sumEight8, weighEight: weighEight8, addSquares: addSquares8, addExcess: addExcess8, addProduct: addProduct8, strong: strong8, wiener: wiener8,
	fromBytes: fromBytes8, fromWords: fromWords8, toWords: toWords8, sum: sum8, every2: every2of8, between: between8,
	raise: raise8, affine: affine8, cube: cube8, cubeRoot: cubeRoot8, product: product8, bendTone: bendTone8, logistic: logistic8, fitGamut: fitGamut8, eighthRoot: eighthRoot8, gather: gather8, grow: grow8, spans: spans8, toScreen: toScreen8, turn: turn8, changed: changed8, where: where8, straight: straight8, addBelow: addBelow8, clamp: clamp8,
	turnColours: turnColours8, saturate: saturate8, fade: fade8, guard: guard8, chroma: chroma8, distance: distance8, within: within8, slideDown: slideDown4, slideAcross: slideAcross4, slope: slope8, line: line8, limit: limit8, mixBy: mixBy8, highest: highest8, shares: shares8, wordsOf: wordsOf8, numbers: numbers8, places: places8,
}

func load8(p *float32, i int) archsimd.Float32x8 {
	return archsimd.LoadFloat32x8((*[8]float32)(unsafe.Add(unsafe.Pointer(p), 4*i)))
}

func at8(p *float32, i int) *[8]float32 { return (*[8]float32)(unsafe.Add(unsafe.Pointer(p), 4*i)) }

func ints8(v *[4 * batchPixels]int32, i int) *[8]int32 {
	return (*[8]int32)(unsafe.Add(unsafe.Pointer(v), 4*i))
}

func matrix8(r, g, b *float32, n int, m *[12]float32) {
	m0, m1, m2, m3 := archsimd.BroadcastFloat32x8(m[0]), archsimd.BroadcastFloat32x8(m[1]), archsimd.BroadcastFloat32x8(m[2]), archsimd.BroadcastFloat32x8(m[3])
	m4, m5, m6, m7 := archsimd.BroadcastFloat32x8(m[4]), archsimd.BroadcastFloat32x8(m[5]), archsimd.BroadcastFloat32x8(m[6]), archsimd.BroadcastFloat32x8(m[7])
	m8, m9, m10, m11 := archsimd.BroadcastFloat32x8(m[8]), archsimd.BroadcastFloat32x8(m[9]), archsimd.BroadcastFloat32x8(m[10]), archsimd.BroadcastFloat32x8(m[11])
	for i := 0; i < n; i += lanes8 {
		x, y, z := load8(r, i), load8(g, i), load8(b, i)
		x.MulAdd(m0, y.MulAdd(m1, z.MulAdd(m2, m3))).Store(at8(r, i))
		x.MulAdd(m4, y.MulAdd(m5, z.MulAdd(m6, m7))).Store(at8(g, i))
		x.MulAdd(m8, y.MulAdd(m9, z.MulAdd(m10, m11))).Store(at8(b, i))
	}
	archsimd.ClearAVXUpperBits()
}

func logs8(dst, src *float32, n int, floor float32) {
	low := archsimd.BroadcastFloat32x8(floor)
	bias, mantissa := archsimd.BroadcastInt32x8(0x3f3504f3), archsimd.BroadcastInt32x8(23)
	one := archsimd.BroadcastFloat32x8(1)
	c1, c3, c5, c7 := archsimd.BroadcastFloat32x8(l1), archsimd.BroadcastFloat32x8(l3), archsimd.BroadcastFloat32x8(l5), archsimd.BroadcastFloat32x8(l7)
	for i := 0; i < n; i += lanes8 {
		bits := load8(src, i).Max(low).AsInt32x8()
		e := bits.Sub(bias).ShiftRight(mantissa)
		m := bits.Sub(e.ShiftLeft(mantissa)).AsFloat32x8()
		s := m.Sub(one).Div(m.Add(one))
		q := s.Mul(s)
		p := q.MulAdd(q.MulAdd(q.MulAdd(c7, c5), c3), c1)
		s.MulAdd(p, e.ConvertToFloat32()).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func exps8(dst, src *float32, n int) {
	lo, hi, magic, one := archsimd.BroadcastFloat32x8(-126), archsimd.BroadcastFloat32x8(127), archsimd.BroadcastFloat32x8(round), archsimd.BroadcastFloat32x8(1)
	k1, k2, k3 := archsimd.BroadcastFloat32x8(e1), archsimd.BroadcastFloat32x8(e2), archsimd.BroadcastFloat32x8(e3)
	k4, k5, k6 := archsimd.BroadcastFloat32x8(e4), archsimd.BroadcastFloat32x8(e5), archsimd.BroadcastFloat32x8(e6)
	mantissa := archsimd.BroadcastInt32x8(23)
	for i := 0; i < n; i += lanes8 {
		x := load8(src, i).Max(lo).Min(hi)
		k := x.Add(magic).Sub(magic)
		f := x.Sub(k)
		y := f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(k6, k5), k4), k3), k2), k1), one)
		y.AsInt32x8().Add(k.ConvertToInt32().ShiftLeft(mantissa)).AsFloat32x8().Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func decode8(dst, src *float32, n int, p *Log) {
	lo, hi, magic, one := archsimd.BroadcastFloat32x8(-126), archsimd.BroadcastFloat32x8(127), archsimd.BroadcastFloat32x8(round), archsimd.BroadcastFloat32x8(1)
	k1, k2, k3 := archsimd.BroadcastFloat32x8(e1), archsimd.BroadcastFloat32x8(e2), archsimd.BroadcastFloat32x8(e3)
	k4, k5, k6 := archsimd.BroadcastFloat32x8(e4), archsimd.BroadcastFloat32x8(e5), archsimd.BroadcastFloat32x8(e6)
	mantissa := archsimd.BroadcastInt32x8(23)
	cut, a, b, c := archsimd.BroadcastFloat32x8(p.Cut), archsimd.BroadcastFloat32x8(p.A), archsimd.BroadcastFloat32x8(p.B), archsimd.BroadcastFloat32x8(p.C)
	d, e, o := archsimd.BroadcastFloat32x8(p.D), archsimd.BroadcastFloat32x8(p.E), archsimd.BroadcastFloat32x8(p.F)
	for i := 0; i < n; i += lanes8 {
		v := load8(src, i)
		x := v.MulAdd(d, e).Max(lo).Min(hi)
		k := x.Add(magic).Sub(magic)
		f := x.Sub(k)
		y := f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(k6, k5), k4), k3), k2), k1), one)
		y = y.AsInt32x8().Add(k.ConvertToInt32().ShiftLeft(mantissa)).AsFloat32x8().MulAdd(c, o)
		v.MulAdd(a, b).Merge(y, v.Less(cut)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func short8(dst, src *float32, n int, c *Short) {
	lo, hi, k := archsimd.BroadcastFloat32x8(c.Lo), archsimd.BroadcastFloat32x8(c.Hi), archsimd.BroadcastFloat32x8(c.scale)
	last, zero := archsimd.BroadcastInt32x8(ShortSegments-1), archsimd.BroadcastFloat32x8(0)
	before, after := archsimd.BroadcastFloat32x8(c.before), archsimd.BroadcastFloat32x8(c.after)
	c0, c1, c2, c3 := load8(&c.c0[0], 0), load8(&c.c1[0], 0), load8(&c.c2[0], 0), load8(&c.c3[0], 0)
	for i := 0; i < n; i += lanes8 {
		x := load8(src, i)
		t := x.Max(lo).Min(hi)
		out := x.Sub(t)
		u := t.Sub(lo).Mul(k)
		if c.root {
			u = u.Sqrt()
		}
		j := u.ConvertToInt32().Min(last)
		u = u.Sub(j.ConvertToFloat32())
		at := index8(j)
		y := c3.Permute(at).MulAdd(u, c2.Permute(at)).MulAdd(u, c1.Permute(at)).MulAdd(u, c0.Permute(at))
		s := before.Merge(after, out.Less(zero))
		out.MulAdd(s, y).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func mix8(dst, a, b *float32, n int, ka, kb float32) {
	x, y := archsimd.BroadcastFloat32x8(ka), archsimd.BroadcastFloat32x8(kb)
	for i := 0; i < n; i += lanes8 {
		load8(a, i).MulAdd(x, load8(b, i).Mul(y)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func average8(dst, a, b *float32, n int, k *[4]float32, c, d *float32) {
	k0, k1, k2, k3 := archsimd.BroadcastFloat32x8(k[0]), archsimd.BroadcastFloat32x8(k[1]), archsimd.BroadcastFloat32x8(k[2]), archsimd.BroadcastFloat32x8(k[3])
	for i := 0; i < n; i += lanes8 {
		s := load8(d, i).Mul(k3)
		s = load8(c, i).MulAdd(k2, s)
		s = load8(b, i).MulAdd(k1, s)
		load8(a, i).MulAdd(k0, s).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func taps8(dst, src *float32, n int, k *Symmetric) {
	h := k.h
	h0 := archsimd.BroadcastFloat32x8(h[0])
	switch len(h) { // the short ones with their weights in registers
	case 2:
		h1 := archsimd.BroadcastFloat32x8(h[1])
		for i := 0; i < n; i += lanes8 {
			load8(src, i-1).Add(load8(src, i+1)).MulAdd(h1, load8(src, i).Mul(h0)).Store(at8(dst, i))
		}
		archsimd.ClearAVXUpperBits()
	case 3:
		h1, h2 := archsimd.BroadcastFloat32x8(h[1]), archsimd.BroadcastFloat32x8(h[2])
		for i := 0; i < n; i += lanes8 {
			s := load8(src, i-1).Add(load8(src, i+1)).MulAdd(h1, load8(src, i).Mul(h0))
			load8(src, i-2).Add(load8(src, i+2)).MulAdd(h2, s).Store(at8(dst, i))
		}
		archsimd.ClearAVXUpperBits()
	default:
		longTaps8(dst, src, n, k)
	}
}

// longTaps8 and columns8 take two vectors at once, so that a weight is loaded once for both, and one where n ends with one.

func longTaps8(dst, src *float32, n int, k *Symmetric) {
	h, i := k.h, 0
	for ; i+2*lanes8 <= n; i += 2 * lanes8 {
		w := archsimd.BroadcastFloat32x8(h[0])
		s, t := load8(src, i).Mul(w), load8(src, i+lanes8).Mul(w)
		p, q := unsafe.Add(unsafe.Pointer(src), 4*i), unsafe.Add(unsafe.Pointer(src), 4*i)
		for _, v := range h[1:] {
			p, q = unsafe.Add(p, -4), unsafe.Add(q, 4)
			w = archsimd.BroadcastFloat32x8(v)
			s = load8((*float32)(p), 0).Add(load8((*float32)(q), 0)).MulAdd(w, s)
			t = load8((*float32)(p), lanes8).Add(load8((*float32)(q), lanes8)).MulAdd(w, t)
		}
		s.Store(at8(dst, i))
		t.Store(at8(dst, i+lanes8))
	}
	for ; i < n; i += lanes8 {
		s := load8(src, i).Mul(archsimd.BroadcastFloat32x8(h[0]))
		for j, v := range h[1:] {
			s = load8(src, i-j-1).Add(load8(src, i+j+1)).MulAdd(archsimd.BroadcastFloat32x8(v), s)
		}
		s.Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func columns8(dst *float32, rows *[]float32, n int, k *Symmetric, gain float32) {
	h, g, i := k.h, archsimd.BroadcastFloat32x8(gain), 0
	const slice = unsafe.Sizeof([]float32(nil)) // which begins with its pointer
	for ; i+2*lanes8 <= n; i += 2 * lanes8 {
		at := unsafe.Pointer(rows)
		c, w := *(**float32)(at), archsimd.BroadcastFloat32x8(h[0])
		s, t := load8(c, i).Mul(w), load8(c, i+lanes8).Mul(w)
		for _, v := range h[1:] {
			a, b := *(**float32)(unsafe.Add(at, slice)), *(**float32)(unsafe.Add(at, 2*slice))
			at = unsafe.Add(at, 2*slice)
			w = archsimd.BroadcastFloat32x8(v)
			s = load8(a, i).Add(load8(b, i)).MulAdd(w, s)
			t = load8(a, i+lanes8).Add(load8(b, i+lanes8)).MulAdd(w, t)
		}
		s.MulAdd(g, load8(dst, i)).Store(at8(dst, i))
		t.MulAdd(g, load8(dst, i+lanes8)).Store(at8(dst, i+lanes8))
	}
	for ; i < n; i += lanes8 {
		at := unsafe.Pointer(rows)
		s := load8(*(**float32)(at), i).Mul(archsimd.BroadcastFloat32x8(h[0]))
		for _, v := range h[1:] {
			a, b := *(**float32)(unsafe.Add(at, slice)), *(**float32)(unsafe.Add(at, 2*slice))
			at = unsafe.Add(at, 2*slice)
			s = load8(a, i).Add(load8(b, i)).MulAdd(archsimd.BroadcastFloat32x8(v), s)
		}
		s.MulAdd(g, load8(dst, i)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func modulate8(dst, a, b *float32, n int, ka, kb float32, c *Short) {
	lo, hi, k := archsimd.BroadcastFloat32x8(c.Lo), archsimd.BroadcastFloat32x8(c.Hi), archsimd.BroadcastFloat32x8(c.scale)
	last := archsimd.BroadcastInt32x8(ShortSegments - 1)
	c0, c1, c2, c3 := load8(&c.c0[0], 0), load8(&c.c1[0], 0), load8(&c.c2[0], 0), load8(&c.c3[0], 0)
	wa, wb := archsimd.BroadcastFloat32x8(ka), archsimd.BroadcastFloat32x8(kb)
	for i := 0; i < n; i += lanes8 {
		x := load8(dst, i)
		u := x.Max(lo).Min(hi).Sub(lo).Mul(k)
		if c.root {
			u = u.Sqrt()
		}
		j := u.ConvertToInt32().Min(last)
		u = u.Sub(j.ConvertToFloat32())
		at := index8(j)
		y := c3.Permute(at).MulAdd(u, c2.Permute(at)).MulAdd(u, c1.Permute(at)).MulAdd(u, c0.Permute(at))
		load8(a, i).MulAdd(wa, load8(b, i).Mul(wb)).MulAdd(y, x).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func oneSided8(a, b, fa, fb *float32, n int, ka, kb float32, c *Short) {
	lo, hi, k, zero := archsimd.BroadcastFloat32x8(c.Lo), archsimd.BroadcastFloat32x8(c.Hi), archsimd.BroadcastFloat32x8(c.scale), archsimd.BroadcastFloat32x8(0)
	last := archsimd.BroadcastInt32x8(ShortSegments - 1)
	c0, c1, c2, c3 := load8(&c.c0[0], 0), load8(&c.c1[0], 0), load8(&c.c2[0], 0), load8(&c.c3[0], 0)
	wa, wb := archsimd.BroadcastFloat32x8(ka), archsimd.BroadcastFloat32x8(kb)
	for i := 0; i < n; i += lanes8 {
		d := load8(fb, i).Sub(load8(fa, i))
		u := d.Max(zero.Sub(d)).Max(lo).Min(hi).Sub(lo).Mul(k)
		if c.root {
			u = u.Sqrt()
		}
		j := u.ConvertToInt32().Min(last)
		u = u.Sub(j.ConvertToFloat32())
		at := index8(j)
		y := c3.Permute(at).MulAdd(u, c2.Permute(at)).MulAdd(u, c1.Permute(at)).MulAdd(u, c0.Permute(at))
		y.Masked(d.Greater(zero)).MulAdd(wa, load8(a, i)).Store(at8(a, i))
		y.Masked(zero.Greater(d)).MulAdd(wb, load8(b, i)).Store(at8(b, i))
	}
	archsimd.ClearAVXUpperBits()
}

func tetra8(r, g, b *float32, n int, t *Table3) {
	zero, one := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1)
	top, last := archsimd.BroadcastFloat32x8(float32(t.N-1)), archsimd.BroadcastFloat32x8(float32(t.N-2))
	// steps along the axes in bytes, whole numbers that float32 holds
	sx, sy, sz := archsimd.BroadcastFloat32x8(16), archsimd.BroadcastFloat32x8(float32(16*t.N)), archsimd.BroadcastFloat32x8(float32(16*t.N*t.N))
	all := sx.Add(sy).Add(sz)
	var room batchRoom
	q := room.aligned()
	for i := 0; i < n; i += batchPixels {
		m := min(batchPixels, n-i)
		for j := 0; j < m; j += lanes8 {
			x, y, z := load8(r, i+j).Max(zero).Min(one).Mul(top), load8(g, i+j).Max(zero).Min(one).Mul(top), load8(b, i+j).Max(zero).Min(one).Mul(top)
			ix, iy, iz := whole8(x).Min(last), whole8(y).Min(last), whole8(z).Min(last)
			x, y, z = x.Sub(ix), y.Sub(iy), z.Sub(iz)
			f1, f3 := x.Max(y).Max(z), x.Min(y).Min(z)
			f2 := x.Min(y).Max(x.Max(y).Min(z))
			// the axis of the largest fraction comes first, that of the smallest is missing from the
			// third vertex; of equals either may, the vertex then counts nothing
			first := sx.Merge(sy.Merge(sz, y.Equal(f1)), x.Equal(f1))
			miss := sx.Merge(sy.Merge(sz, y.Equal(f3)), x.Equal(f3))
			o := ix.MulAdd(sx, iy.MulAdd(sy, iz.Mul(sz)))
			o.ConvertToInt32().Store(ints8(&q.v, j))
			o.Add(first).ConvertToInt32().Store(ints8(&q.v, batchPixels+j))
			o = o.Add(all)
			o.Sub(miss).ConvertToInt32().Store(ints8(&q.v, 2*batchPixels+j))
			o.ConvertToInt32().Store(ints8(&q.v, 3*batchPixels+j))
			one.Sub(f1).Store(at8(&q.w[0], j))
			f1.Sub(f2).Store(at8(&q.w[0], batchPixels+j))
			f2.Sub(f3).Store(at8(&q.w[0], 2*batchPixels+j))
			f3.Store(at8(&q.w[0], 3*batchPixels+j))
		}
		o := 4 * i
		q.weigh(&t.Data[0], m, unsafe.Add(unsafe.Pointer(r), o), unsafe.Add(unsafe.Pointer(g), o), unsafe.Add(unsafe.Pointer(b), o))
	}
	archsimd.ClearAVXUpperBits()
}

func bendTone8(dst, src *float32, n int, toe, rollOff float32) {
	zero, two := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(2)
	down, up := archsimd.BroadcastFloat32x8(toe), archsimd.BroadcastFloat32x8(-rollOff)
	for i := 0; i < n; i += lanes8 {
		u := load8(src, i)
		below, above := u.Min(zero), u.Max(zero)
		u = below.Mul(below).Div(below.Sub(two)).MulAdd(down, u)
		above.Mul(above).Div(above.Add(two)).MulAdd(up, u).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func logistic8(dst, t, y *float32, n int) {
	zero, one := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1)
	for i := 0; i < n; i += lanes8 {
		l := load8(y, i)
		one.Div(load8(t, i).Add(one).Mul(l)).Masked(l.Greater(zero)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func fitGamut8(pr, pg, pb, pk *float32, n int, w *[3]float32) {
	w0, w1, w2 := archsimd.BroadcastFloat32x8(w[0]), archsimd.BroadcastFloat32x8(w[1]), archsimd.BroadcastFloat32x8(w[2])
	zero, one, knee := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(fitKnee)
	rest, rate := archsimd.BroadcastFloat32x8(fitKnee-1), archsimd.BroadcastFloat32x8(fitRate)
	far, magic, mantissa := archsimd.BroadcastFloat32x8(-126), archsimd.BroadcastFloat32x8(round), archsimd.BroadcastInt32x8(23)
	k1, k2, k3 := archsimd.BroadcastFloat32x8(e1), archsimd.BroadcastFloat32x8(e2), archsimd.BroadcastFloat32x8(e3)
	k4, k5, k6 := archsimd.BroadcastFloat32x8(e4), archsimd.BroadcastFloat32x8(e5), archsimd.BroadcastFloat32x8(e6)
	for i := 0; i < n; i += lanes8 {
		k := load8(pk, i)
		r, g, b := load8(pr, i).Mul(k), load8(pg, i).Mul(k), load8(pb, i).Mul(k)
		y := r.MulAdd(w0, g.MulAdd(w1, b.Mul(w2)))
		lo, hi := r.Min(g).Min(b), r.Max(g).Max(b)
		// how far the colour lies on the way from grey to the border; what is no number is as if it were there
		e := y.Sub(lo).Div(y).Max(hi.Sub(y).Div(one.Sub(y))).Max(knee)
		x := e.Sub(knee).Mul(rate).Max(far)
		j := x.Add(magic).Sub(magic)
		f := x.Sub(j)
		p := f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(k6, k5), k4), k3), k2), k1), one)
		p = p.AsInt32x8().Add(j.ConvertToInt32().ShiftLeft(mantissa)).AsFloat32x8()
		s := p.MulAdd(rest, one).Div(e)
		// black below, white above
		y = y.Max(zero).Min(one)
		s = s.Masked(y.Greater(zero)).Masked(one.Greater(y))
		r.Sub(y).MulAdd(s, y).Max(zero).Min(one).Store(at8(pr, i))
		g.Sub(y).MulAdd(s, y).Max(zero).Min(one).Store(at8(pg, i))
		b.Sub(y).MulAdd(s, y).Max(zero).Min(one).Store(at8(pb, i))
	}
	archsimd.ClearAVXUpperBits()
}

func eighthRoot8(dst, src *float32, n int) {
	zero := archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		load8(src, i).Max(zero).Sqrt().Sqrt().Sqrt().Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func cosine8(dst, src *Eight, n int) {
	half, low, near, far := archsimd.BroadcastFloat32x8(aanHalf), archsimd.BroadcastFloat32x8(aanLow), archsimd.BroadcastFloat32x8(aanNear), archsimd.BroadcastFloat32x8(aanFar)
	less := archsimd.BroadcastFloat32x8(-aanHalf)
	for i := 0; i < n; i += lanes8 {
		x, y := load8(src[0], i), load8(src[7], i)
		s0, d0 := x.Add(y), x.Sub(y)
		x, y = load8(src[1], i), load8(src[6], i)
		s1, d1 := x.Add(y), x.Sub(y)
		x, y = load8(src[2], i), load8(src[5], i)
		s2, d2 := x.Add(y), x.Sub(y)
		x, y = load8(src[3], i), load8(src[4], i)
		s3, d3 := x.Add(y), x.Sub(y)
		x, y = s0.Add(s3), s1.Add(s2)
		x.Add(y).Store(at8(dst[0], i))
		x.Sub(y).Store(at8(dst[4], i))
		x = s0.Sub(s3)
		y = s1.Sub(s2).Add(x)
		y.MulAdd(half, x).Store(at8(dst[2], i))
		y.MulAdd(less, x).Store(at8(dst[6], i))
		a, b, c := d3.Add(d2), d2.Add(d1), d1.Add(d0)
		z := a.Sub(c).Mul(low)
		x, y = b.MulAdd(half, d0), b.MulAdd(less, d0)
		a, c = a.MulAdd(near, z), c.MulAdd(far, z)
		x.Add(c).Store(at8(dst[1], i))
		x.Sub(c).Store(at8(dst[7], i))
		y.Add(a).Store(at8(dst[5], i))
		y.Sub(a).Store(at8(dst[3], i))
	}
	archsimd.ClearAVXUpperBits()
}

func cosineBack8(dst, src *Eight, n int) {
	root, more, up, down := archsimd.BroadcastFloat32x8(aanRoot), archsimd.BroadcastFloat32x8(aanMore), archsimd.BroadcastFloat32x8(aanUp), archsimd.BroadcastFloat32x8(aanDown)
	for i := 0; i < n; i += lanes8 {
		x, y := load8(src[5], i), load8(src[3], i)
		near, minus := x.Add(y), x.Sub(y)
		x, y = load8(src[1], i), load8(src[7], i)
		far, less := x.Add(y), x.Sub(y)
		o7 := far.Add(near)
		z := minus.Add(less).Mul(more)
		o6 := minus.MulAdd(down, z).Sub(o7)
		o5 := far.Sub(near).Mul(root).Sub(o6)
		o4 := less.MulAdd(up, o5).Sub(z)
		x, y = load8(src[2], i), load8(src[6], i)
		a := x.Add(y)
		b := x.Sub(y).Mul(root).Sub(a)
		x, y = load8(src[0], i), load8(src[4], i)
		c, d := x.Add(y), x.Sub(y)
		e0, e3, e1, e2 := c.Add(a), c.Sub(a), d.Add(b), d.Sub(b)
		e0.Add(o7).Store(at8(dst[0], i))
		e0.Sub(o7).Store(at8(dst[7], i))
		e1.Add(o6).Store(at8(dst[1], i))
		e1.Sub(o6).Store(at8(dst[6], i))
		e2.Add(o5).Store(at8(dst[2], i))
		e2.Sub(o5).Store(at8(dst[5], i))
		e3.Add(o4).Store(at8(dst[4], i))
		e3.Sub(o4).Store(at8(dst[3], i))
	}
	archsimd.ClearAVXUpperBits()
}

func sumEight8(dst *float32, from *Eight, n int) {
	for i := 0; i < n; i += lanes8 {
		a, b := load8(from[0], i).Add(load8(from[1], i)), load8(from[2], i).Add(load8(from[3], i))
		c, d := load8(from[4], i).Add(load8(from[5], i)), load8(from[6], i).Add(load8(from[7], i))
		a.Add(b).Add(c.Add(d)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func strong8(px, pv *float32, n int, q float32) {
	k, zero := archsimd.BroadcastFloat32x8(q), archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		x := load8(px, i)
		x.Merge(zero, load8(pv, i).Mul(k).Less(x.Mul(x))).Store(at8(px, i))
	}
	archsimd.ClearAVXUpperBits()
}

func wiener8(px, pp, pv *float32, n int, q float32) {
	k := archsimd.BroadcastFloat32x8(q)
	for i := 0; i < n; i += lanes8 {
		p := load8(pp, i)
		e := p.Mul(p)
		load8(px, i).Mul(e.Div(load8(pv, i).MulAdd(k, e))).Store(at8(px, i))
	}
	archsimd.ClearAVXUpperBits()
}

func weighEight8(dst *float32, from *Eight, k *Weights, n int) {
	k0, k1, k2, k3 := archsimd.BroadcastFloat32x8(k[0]), archsimd.BroadcastFloat32x8(k[1]), archsimd.BroadcastFloat32x8(k[2]), archsimd.BroadcastFloat32x8(k[3])
	k4, k5, k6, k7 := archsimd.BroadcastFloat32x8(k[4]), archsimd.BroadcastFloat32x8(k[5]), archsimd.BroadcastFloat32x8(k[6]), archsimd.BroadcastFloat32x8(k[7])
	for i := 0; i < n; i += lanes8 {
		a, b := load8(from[0], i).MulAdd(k0, load8(from[1], i).Mul(k1)), load8(from[2], i).MulAdd(k2, load8(from[3], i).Mul(k3))
		c, d := load8(from[4], i).MulAdd(k4, load8(from[5], i).Mul(k5)), load8(from[6], i).MulAdd(k6, load8(from[7], i).Mul(k7))
		a.Add(b).Add(c.Add(d)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func addSquares8(pd, ps *float32, n int, k float32) {
	c := archsimd.BroadcastFloat32x8(k)
	for i := 0; i < n; i += lanes8 {
		x := load8(ps, i)
		x.Mul(x).MulAdd(c, load8(pd, i)).Store(at8(pd, i))
	}
	archsimd.ClearAVXUpperBits()
}

func addExcess8(pd, ps *float32, n int, limit, k float32) {
	c, l, zero := archsimd.BroadcastFloat32x8(k), archsimd.BroadcastFloat32x8(limit), archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		load8(ps, i).Sub(l).Max(zero).MulAdd(c, load8(pd, i)).Store(at8(pd, i))
	}
	archsimd.ClearAVXUpperBits()
}

func addProduct8(pd, pa, pb *float32, n int) {
	for i := 0; i < n; i += lanes8 {
		load8(pa, i).MulAdd(load8(pb, i), load8(pd, i)).Store(at8(pd, i))
	}
	archsimd.ClearAVXUpperBits()
}
