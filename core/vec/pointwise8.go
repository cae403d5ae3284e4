//go:build goexperiment.simd && amd64

package vec

import "simd/archsimd"

// Sample by sample, 8 lanes wide. pointwise16.go is made from this file as kernels16.go is from kernels8.go.

func raise8(dst, src *float32, n int) {
	for i := 0; i < n; i += lanes8 {
		load8(src, i).Max(load8(dst, i)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func affine8(dst, src *float32, n int, k, o float32) {
	scale, offset := archsimd.BroadcastFloat32x8(k), archsimd.BroadcastFloat32x8(o)
	for i := 0; i < n; i += lanes8 {
		load8(src, i).Mul(scale).Add(offset).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func cube8(row *float32, n int) {
	for i := 0; i < n; i += lanes8 {
		v := load8(row, i)
		v.Mul(v.Mul(v)).Store(at8(row, i))
	}
	archsimd.ClearAVXUpperBits()
}

func cubeRoot8(row *float32, n int) {
	zero, low, third := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(darkest), archsimd.BroadcastFloat32x8(1./3)
	bias, mantissa := archsimd.BroadcastInt32x8(0x3f3504f3), archsimd.BroadcastInt32x8(23)
	one, magic := archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(round)
	c1, c3, c5, c7 := archsimd.BroadcastFloat32x8(l1), archsimd.BroadcastFloat32x8(l3), archsimd.BroadcastFloat32x8(l5), archsimd.BroadcastFloat32x8(l7)
	k1, k2, k3 := archsimd.BroadcastFloat32x8(e1), archsimd.BroadcastFloat32x8(e2), archsimd.BroadcastFloat32x8(e3)
	k4, k5, k6 := archsimd.BroadcastFloat32x8(e4), archsimd.BroadcastFloat32x8(e5), archsimd.BroadcastFloat32x8(e6)
	for i := 0; i < n; i += lanes8 {
		v := load8(row, i)
		bits := v.Max(zero.Sub(v)).Max(low).AsInt32x8()
		e := bits.Sub(bias).ShiftRight(mantissa)
		m := bits.Sub(e.ShiftLeft(mantissa)).AsFloat32x8()
		s := m.Sub(one).Div(m.Add(one))
		q := s.Mul(s)
		p := q.MulAdd(q.MulAdd(q.MulAdd(c7, c5), c3), c1)
		x := s.MulAdd(p, e.ConvertToFloat32()).Mul(third) // far within what follows can do
		k := x.Add(magic).Sub(magic)
		f := x.Sub(k)
		y := f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(f.MulAdd(k6, k5), k4), k3), k2), k1), one)
		y = y.AsInt32x8().Add(k.ConvertToInt32().ShiftLeft(mantissa)).AsFloat32x8()
		zero.Sub(y).Merge(y, v.Less(zero)).Store(at8(row, i))
	}
	archsimd.ClearAVXUpperBits()
}

func product8(dst, a, b *float32, n int, k float32) {
	c := archsimd.BroadcastFloat32x8(k)
	for i := 0; i < n; i += lanes8 {
		load8(a, i).Mul(load8(b, i)).Mul(c).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func straight8(dst, src *float32, n int, cut, p, k, o float32) {
	c, before, slope, after := archsimd.BroadcastFloat32x8(cut), archsimd.BroadcastFloat32x8(p), archsimd.BroadcastFloat32x8(k), archsimd.BroadcastFloat32x8(o)
	for i := 0; i < n; i += lanes8 {
		v := load8(src, i)
		v.Add(before).Mul(slope).Add(after).Merge(load8(dst, i), v.LessEqual(c)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func addBelow8(dst, pa, pb *float32, n int) {
	zero := archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		load8(pa, i).Add(load8(pb, i).Min(zero)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func clamp8(row *float32, n int, lo, hi float32) {
	low, high := archsimd.BroadcastFloat32x8(lo), archsimd.BroadcastFloat32x8(hi)
	for i := 0; i < n; i += lanes8 {
		load8(row, i).Max(low).Min(high).Store(at8(row, i))
	}
	archsimd.ClearAVXUpperBits()
}

func changed8(dst, a0, a1, b0, b1, c *float32, n int) {
	zero := archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		a, b := load8(a0, i).Sub(load8(a1, i)), load8(b0, i).Sub(load8(b1, i))
		v := load8(c, i)
		a.Max(zero.Sub(a)).Add(b.Max(zero.Sub(b))).Add(v.Max(zero.Sub(v))).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func where8(dst, src, at *float32, n int) {
	zero := archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		load8(src, i).Merge(load8(dst, i), load8(at, i).NotEqual(zero)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func limit8(row *float32, n int, k float32) {
	one, c := archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(k)
	for i := 0; i < n; i += lanes8 {
		v := load8(row, i)
		v.Div(one.Add(v.Mul(v).Mul(c)).Sqrt()).Store(at8(row, i))
	}
	archsimd.ClearAVXUpperBits()
}

func mixBy8(dst, was, cover *float32, n int, k float32) {
	zero, one, c := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(k)
	for i := 0; i < n; i += lanes8 {
		d, w, m := load8(dst, i), load8(was, i), load8(cover, i).Mul(c)
		v := w.Add(m.Mul(d.Sub(w)))
		v = d.Merge(v, m.Equal(one))
		w.Merge(v, m.Equal(zero)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func highest8(dst, src *float32, from *[]int, n int) {
	i := 0
	for ; i+4*lanes8 <= n; i += 4 * lanes8 {
		a, b, c, d := load8(dst, i), load8(dst, i+lanes8), load8(dst, i+2*lanes8), load8(dst, i+3*lanes8)
		for _, o := range *from {
			o += i
			a, b, c, d = a.Max(load8(src, o)), b.Max(load8(src, o+lanes8)), c.Max(load8(src, o+2*lanes8)), d.Max(load8(src, o+3*lanes8))
		}
		a.Store(at8(dst, i))
		b.Store(at8(dst, i+lanes8))
		c.Store(at8(dst, i+2*lanes8))
		d.Store(at8(dst, i+3*lanes8))
	}
	for ; i < n; i += lanes8 {
		a := load8(dst, i)
		for _, o := range *from {
			a = a.Max(load8(src, o+i))
		}
		a.Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func bound8(row *float32, n int, limit float32) {
	hi, lo, none := archsimd.BroadcastFloat32x8(limit), archsimd.BroadcastFloat32x8(-limit), archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		v := load8(row, i)
		v.Min(hi).Max(lo).Merge(none, v.Equal(v)).Store(at8(row, i))
	}
	archsimd.ClearAVXUpperBits()
}

func slope8(slope, offset, pp, pg, ppg, pgg *float32, n int, edge float32) {
	zero, e := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(edge)
	for i := 0; i < n; i += lanes8 {
		p, g := load8(pp, i), load8(pg, i)
		k := load8(ppg, i).Sub(p.Mul(g)).Div(load8(pgg, i).Sub(g.Mul(g)).Max(zero).Add(e))
		k.Store(at8(slope, i))
		p.Sub(k.Mul(g)).Store(at8(offset, i))
	}
	archsimd.ClearAVXUpperBits()
}

func line8(dst, src, slope, offset *float32, n int) {
	for i := 0; i < n; i += lanes8 {
		load8(slope, i).Mul(load8(src, i)).Add(load8(offset, i)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}
