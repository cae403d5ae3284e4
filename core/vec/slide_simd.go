//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// Four lines fill a vector of four lanes, so both back ends share the form across; down, each has its own.

func loadDoubles4(p *float64, i int) archsimd.Float64x4 {
	return archsimd.LoadFloat64x4((*[4]float64)(unsafe.Add(unsafe.Pointer(p), 8*i)))
}

func at4(p *float32, i int) *[4]float32 { return (*[4]float32)(unsafe.Add(unsafe.Pointer(p), 4*i)) }

func slideDown4(dst *float32, sum *float64, before, next, last *float32, n int, share, scale float64) {
	part, k := archsimd.BroadcastFloat64x4(share), archsimd.BroadcastFloat64x4(scale)
	for i := 0; i < n; i += 4 {
		s := loadDoubles4(sum, i)
		a, b, c := load4(before, i).ConvertToFloat64(), load4(next, i).ConvertToFloat64(), load4(last, i).ConvertToFloat64()
		s.Add(part.Mul(a.Add(b))).Mul(k).ConvertToFloat32().Store(at4(dst, i))
		s.Add(b.Sub(c)).Store((*[4]float64)(unsafe.Add(unsafe.Pointer(sum), 8*i)))
	}
	archsimd.ClearAVXUpperBits()
}

// slideDown8 has twice the lanes, of the wider kind.
func slideDown8(dst *float32, sum *float64, before, next, last *float32, n int, share, scale float64) {
	part, k := archsimd.BroadcastFloat64x8(share), archsimd.BroadcastFloat64x8(scale)
	for i := 0; i < n; i += 8 {
		at := (*[8]float64)(unsafe.Add(unsafe.Pointer(sum), 8*i))
		s := archsimd.LoadFloat64x8(at)
		a, b, c := load8(before, i).ConvertToFloat64(), load8(next, i).ConvertToFloat64(), load8(last, i).ConvertToFloat64()
		s.Add(part.Mul(a.Add(b))).Mul(k).ConvertToFloat32().Store(at8(dst, i))
		s.Add(b.Sub(c)).Store(at)
	}
	archsimd.ClearAVXUpperBits()
}

// turn4 makes rows of columns, or columns of rows.
func turn4(a, b, c, d archsimd.Float32x4) (w, x, y, z archsimd.Float32x4) {
	p, q := a.SelectFromPair(0, 1, 4, 5, b), c.SelectFromPair(0, 1, 4, 5, d)
	r, s := a.SelectFromPair(2, 3, 6, 7, b), c.SelectFromPair(2, 3, 6, 7, d)
	return p.SelectFromPair(0, 2, 4, 6, q), p.SelectFromPair(1, 3, 5, 7, q), r.SelectFromPair(0, 2, 4, 6, s), r.SelectFromPair(1, 3, 5, 7, s)
}

// slideAcross4 turns four samples of four lines at a time, so that a lane is a line.
func slideAcross4(dst, line *[4]*float32, sums *[4]float64, n, whole int, share, scale float64) {
	part, k := archsimd.BroadcastFloat64x4(share), archsimd.BroadcastFloat64x4(scale)
	sum := archsimd.LoadFloat64x4(sums)
	far := 2*whole + 2
	p, q, r, s := turn4(load4(line[0], 0), load4(line[1], 0), load4(line[2], 0), load4(line[3], 0))
	a0, a1, a2, a3 := p.ConvertToFloat64(), q.ConvertToFloat64(), r.ConvertToFloat64(), s.ConvertToFloat64()
	for i := 0; i < n; i += 4 {
		p, q, r, s = turn4(load4(line[0], i+far), load4(line[1], i+far), load4(line[2], i+far), load4(line[3], i+far))
		b0, b1, b2, b3 := p.ConvertToFloat64(), q.ConvertToFloat64(), r.ConvertToFloat64(), s.ConvertToFloat64()
		p, q, r, s = turn4(load4(line[0], i+4), load4(line[1], i+4), load4(line[2], i+4), load4(line[3], i+4))
		next := p.ConvertToFloat64()

		w := sum.Add(part.Mul(a0.Add(b0))).Mul(k).ConvertToFloat32()
		sum = sum.Add(b0.Sub(a1))
		x := sum.Add(part.Mul(a1.Add(b1))).Mul(k).ConvertToFloat32()
		sum = sum.Add(b1.Sub(a2))
		y := sum.Add(part.Mul(a2.Add(b2))).Mul(k).ConvertToFloat32()
		sum = sum.Add(b2.Sub(a3))
		z := sum.Add(part.Mul(a3.Add(b3))).Mul(k).ConvertToFloat32()
		sum = sum.Add(b3.Sub(next))

		w, x, y, z = turn4(w, x, y, z)
		w.Store(at4(dst[0], i))
		x.Store(at4(dst[1], i))
		y.Store(at4(dst[2], i))
		z.Store(at4(dst[3], i))
		a0, a1, a2, a3 = next, q.ConvertToFloat64(), r.ConvertToFloat64(), s.ConvertToFloat64()
	}
	archsimd.ClearAVXUpperBits()
}
