//go:build goexperiment.simd && amd64

package vec

import "simd/archsimd"

func index8(j archsimd.Int32x8) archsimd.Uint32x8    { return j.AsUint32x8() }
func index16(j archsimd.Int32x16) archsimd.Uint32x16 { return j.AsUint32x16() }

// curve8 looks up a curve, whose coefficients are two registers each. Neighbours in a picture are most often in the same half of a
// curve: then the other half is left out. Where they are not, both quartics are computed and the right one is taken.
func curve8(dst, src *float32, n int, c *Curve) {
	lo, hi, k := archsimd.BroadcastFloat32x8(c.Lo), archsimd.BroadcastFloat32x8(c.Hi), archsimd.BroadcastFloat32x8(c.scale)
	last, zero, eight := archsimd.BroadcastInt32x8(Segments-1), archsimd.BroadcastFloat32x8(0), archsimd.BroadcastInt32x8(Segments/2)
	before, after := archsimd.BroadcastFloat32x8(c.before), archsimd.BroadcastFloat32x8(c.after)
	c0, c1, c2, c3, c4 := &c.c[0][0], &c.c[1][0], &c.c[2][0], &c.c[3][0], &c.c[4][0]
	for i := 0; i < n; i += lanes8 {
		x := load8(src, i)
		t := x.Max(lo).Min(hi)
		out := x.Sub(t)
		u := t.Sub(lo).Mul(k)
		j := u.ConvertToInt32().Min(last)
		u = u.Sub(j.ConvertToFloat32())
		at, upper := j.AsUint32x8(), j.And(eight)
		var y archsimd.Float32x8
		switch {
		case upper.IsZero():
			y = load8(c4, 0).Permute(at).MulAdd(u, load8(c3, 0).Permute(at)).MulAdd(u, load8(c2, 0).Permute(at)).MulAdd(u, load8(c1, 0).Permute(at)).MulAdd(u, load8(c0, 0).Permute(at))
		case upper.Xor(eight).IsZero():
			y = load8(c4, 8).Permute(at).MulAdd(u, load8(c3, 8).Permute(at)).MulAdd(u, load8(c2, 8).Permute(at)).MulAdd(u, load8(c1, 8).Permute(at)).MulAdd(u, load8(c0, 8).Permute(at))
		default:
			y = load8(c4, 0).Permute(at).MulAdd(u, load8(c3, 0).Permute(at)).MulAdd(u, load8(c2, 0).Permute(at)).MulAdd(u, load8(c1, 0).Permute(at)).MulAdd(u, load8(c0, 0).Permute(at))
			z := load8(c4, 8).Permute(at).MulAdd(u, load8(c3, 8).Permute(at)).MulAdd(u, load8(c2, 8).Permute(at)).MulAdd(u, load8(c1, 8).Permute(at)).MulAdd(u, load8(c0, 8).Permute(at))
			y = z.Merge(y, upper.Equal(eight))
		}
		s := before.Merge(after, out.Less(zero))
		out.MulAdd(s, y).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

// curve16 is curve8 for 16 lanes, where a coefficient of all segments is one register.
func curve16(dst, src *float32, n int, c *Curve) {
	lo, hi, k := archsimd.BroadcastFloat32x16(c.Lo), archsimd.BroadcastFloat32x16(c.Hi), archsimd.BroadcastFloat32x16(c.scale)
	last, zero := archsimd.BroadcastInt32x16(Segments-1), archsimd.BroadcastFloat32x16(0)
	before, after := archsimd.BroadcastFloat32x16(c.before), archsimd.BroadcastFloat32x16(c.after)
	c0, c1, c2, c3, c4 := load16(&c.c[0][0], 0), load16(&c.c[1][0], 0), load16(&c.c[2][0], 0), load16(&c.c[3][0], 0), load16(&c.c[4][0], 0)
	for i := 0; i < n; i += lanes16 {
		x := load16(src, i)
		t := x.Max(lo).Min(hi)
		out := x.Sub(t)
		u := t.Sub(lo).Mul(k)
		j := u.ConvertToInt32().Min(last)
		u = u.Sub(j.ConvertToFloat32())
		at := j.AsUint32x16()
		y := c4.Permute(at).MulAdd(u, c3.Permute(at)).MulAdd(u, c2.Permute(at)).MulAdd(u, c1.Permute(at)).MulAdd(u, c0.Permute(at))
		s := before.Merge(after, out.Less(zero))
		out.MulAdd(s, y).Store(at16(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}
