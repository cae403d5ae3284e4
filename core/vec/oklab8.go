//go:build goexperiment.simd && amd64

package vec

import (
	"math"
	"simd/archsimd"
)

// Colours in Oklab, 8 lanes wide. oklab16.go is made from this file as kernels16.go is from kernels8.go.

// smooth8 rises from 0 at 0 to 1 at 1 with level ends.
func smooth8(u, zero, one, two, three archsimd.Float32x8) archsimd.Float32x8 {
	u = u.Max(zero).Min(one)
	return u.Mul(u).Mul(three.Sub(two.Mul(u)))
}

func turnColours8(pa, pb, light, pl, sine, cosine, factor, density *float32, n int, half, rich float32) {
	zero, one, least := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(tiny)
	h, r := archsimd.BroadcastFloat32x8(half), archsimd.BroadcastFloat32x8(rich)
	for i := 0; i < n; i += lanes8 {
		a, b, l := load8(pa, i), load8(pb, i), load8(pl, i)
		s, c := load8(sine, i), load8(cosine, i)
		there := l.Greater(zero)
		strong := a.Mul(a).Add(b.Mul(b))
		d := load8(density, i).Mul(strong.Div(strong.Add(h.Mul(l).Mul(l)).Max(least)))
		k := load8(factor, i).Mul(one.Add(r.Mul(d)))
		a.Mul(c).Sub(b.Mul(s)).Mul(k).Merge(a, there).Store(at8(pa, i))
		a.Mul(s).Add(b.Mul(c)).Mul(k).Merge(b, there).Store(at8(pb, i))
		zero.Sub(d).Masked(there).Store(at8(light, i))
	}
	archsimd.ClearAVXUpperBits()
}

func saturate8(pa, pb, pl, pk *float32, n int, muted, strong float32) {
	zero, one, two, three := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(2), archsimd.BroadcastFloat32x8(3)
	steep, least := archsimd.BroadcastFloat32x8(50), archsimd.BroadcastFloat32x8(tiny)
	pale, rich := archsimd.BroadcastFloat32x8(muted), archsimd.BroadcastFloat32x8(strong)
	for i := 0; i < n; i += lanes8 {
		a, b, l := load8(pa, i), load8(pb, i), load8(pl, i)
		over := smooth8(a.Mul(a).Add(b.Mul(b)).Div(l.Mul(l).Max(least)).Mul(steep), zero, one, two, three)
		k := load8(pk, i).Mul(one.Add(pale.Mul(one.Sub(over))).Mul(one.Add(rich.Mul(over))))
		k = k.Merge(one, l.Greater(zero))
		a.Mul(k).Store(at8(pa, i))
		b.Mul(k).Store(at8(pb, i))
	}
	archsimd.ClearAVXUpperBits()
}

func fade8(pw, pl, pa, pb, pt *float32, n int, f *Fading) {
	zero, one, two, three := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(2), archsimd.BroadcastFloat32x8(3)
	pale, rise, strong, fall := archsimd.BroadcastFloat32x8(f.Pale), archsimd.BroadcastFloat32x8(f.Rise), archsimd.BroadcastFloat32x8(f.Strong), archsimd.BroadcastFloat32x8(f.Fall)
	low, high := archsimd.BroadcastFloat32x8(f.Low), archsimd.BroadcastFloat32x8(f.High)
	for i := 0; i < n; i += lanes8 {
		l, a, b, t := load8(pl, i), load8(pa, i), load8(pb, i), load8(pt, i)
		c := a.Mul(a).Add(b.Mul(b)).Sqrt().Div(l)
		rising := smooth8(c.Sub(pale).Mul(rise), zero, one, two, three)
		falling := one.Sub(smooth8(c.Sub(strong).Mul(fall), zero, one, two, three))
		w := load8(pw, i).Mul(rising.Mul(falling)).Mul(smooth8(t.Sub(low).Add(one), zero, one, two, three)).Mul(one.Sub(smooth8(t.Sub(high), zero, one, two, three)))
		w.Masked(l.Greater(zero)).Store(at8(pw, i))
	}
	archsimd.ClearAVXUpperBits()
}

func guard8(pa, pb, light, pw, hue *float32, n int, g *Guarded) {
	zero, one, half, circle := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(0.5), archsimd.BroadcastFloat32x8(2*math.Pi)
	turn, at, line := archsimd.BroadcastFloat32x8(g.Turn), archsimd.BroadcastFloat32x8(g.At), archsimd.BroadcastFloat32x8(g.Line)
	chroma, stops := archsimd.BroadcastFloat32x8(g.Chroma), archsimd.BroadcastFloat32x8(g.Light)
	s3, s5, s7 := archsimd.BroadcastFloat32x8(1.0/6), archsimd.BroadcastFloat32x8(1.0/120), archsimd.BroadcastFloat32x8(1.0/5040)
	c4, c6, c8 := archsimd.BroadcastFloat32x8(1.0/24), archsimd.BroadcastFloat32x8(1.0/720), archsimd.BroadcastFloat32x8(1.0/40320)
	for i := 0; i < n; i += lanes8 {
		a, b, w := load8(pa, i), load8(pb, i), load8(pw, i)
		d := load8(hue, i).Sub(at)
		d = d.Sub(one).Merge(d, d.Greater(half))
		d = d.Add(one).Merge(d, d.Less(zero.Sub(half)))
		x := w.Mul(turn).Sub(w.Mul(line).Mul(d)).Mul(circle)
		q := x.Mul(x)
		s := x.Mul(one.Sub(q.Mul(s3.Sub(q.Mul(s5.Sub(q.Mul(s7)))))))
		c := one.Sub(q.Mul(half.Sub(q.Mul(c4.Sub(q.Mul(c6.Sub(q.Mul(c8))))))))
		k := one.Add(w.Mul(chroma))
		a.Mul(c).Sub(b.Mul(s)).Mul(k).Store(at8(pa, i))
		a.Mul(s).Add(b.Mul(c)).Mul(k).Store(at8(pb, i))
		w.Mul(stops).Store(at8(light, i))
	}
	archsimd.ClearAVXUpperBits()
}

func chroma8(dst, pl, pa, pb *float32, n int) {
	zero := archsimd.BroadcastFloat32x8(0)
	for i := 0; i < n; i += lanes8 {
		l, a, b := load8(pl, i), load8(pa, i), load8(pb, i)
		a.Mul(a).Add(b.Mul(b)).Sqrt().Div(l).Masked(l.Greater(zero)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func distance8(dst, pl, pa, pb *float32, n int, from *[3]float32, k float32) {
	l0, a0, b0, far := archsimd.BroadcastFloat32x8(from[0]), archsimd.BroadcastFloat32x8(from[1]), archsimd.BroadcastFloat32x8(from[2]), archsimd.BroadcastFloat32x8(k)
	for i := 0; i < n; i += lanes8 {
		x, y, z := load8(pl, i).Sub(l0), load8(pa, i).Sub(a0), load8(pb, i).Sub(b0)
		x.Mul(x).Add(far.Mul(y.Mul(y).Add(z.Mul(z)))).Sqrt().Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func within8(dst, src *float32, n int, r *Range) {
	zero, one, two, three := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(2), archsimd.BroadcastFloat32x8(3)
	lo, hi, steep := archsimd.BroadcastFloat32x8(r.Lo), archsimd.BroadcastFloat32x8(r.Hi), archsimd.BroadcastFloat32x8(r.Steep)
	for i := 0; i < n; i += lanes8 {
		v := load8(src, i)
		u := one.Sub(lo.Sub(v).Max(v.Sub(hi)).Max(zero).Mul(steep).Min(one))
		load8(dst, i).Mul(u.Mul(u).Mul(three.Sub(two.Mul(u)))).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}

func turn8(dst, pa, pb *float32, n int) {
	zero, one, half, quarter := archsimd.BroadcastFloat32x8(0), archsimd.BroadcastFloat32x8(1), archsimd.BroadcastFloat32x8(0.5), archsimd.BroadcastFloat32x8(0.25)
	c1, c3, c5 := archsimd.BroadcastFloat32x8(turn1), archsimd.BroadcastFloat32x8(turn3), archsimd.BroadcastFloat32x8(turn5)
	c7, c9, scale := archsimd.BroadcastFloat32x8(turn7), archsimd.BroadcastFloat32x8(turn9), archsimd.BroadcastFloat32x8(perRadian)
	for i := 0; i < n; i += lanes8 {
		a, b := load8(pa, i), load8(pb, i)
		x, y := a.Max(zero.Sub(a)), b.Max(zero.Sub(b))
		long := x.Max(y)
		z := x.Min(y).Div(long)
		q := z.Mul(z)
		u := z.Mul(q.Mul(q.Mul(q.Mul(q.Mul(c9).Add(c7)).Add(c5)).Add(c3)).Add(c1)).Mul(scale)
		u = quarter.Sub(u).Merge(u, y.Greater(x))
		u = half.Sub(u).Merge(u, a.Less(zero))
		u = one.Sub(u).Merge(u, b.Less(zero))
		u = u.Sub(one).Merge(u, u.GreaterEqual(one))
		u.Masked(long.Greater(zero)).Store(at8(dst, i))
	}
	archsimd.ClearAVXUpperBits()
}
