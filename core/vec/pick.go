//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// pick8 looks up c[j] in every lane: four permutes of a quarter each, then the right one.
func pick8(c *[Segments]float32, j archsimd.Int32x8) archsimd.Float32x8 {
	i := j.AsUint32x8()
	p := &c[0]
	a, b := load8(p, 0).Permute(i), load8(p, 8).Permute(i)
	d, e := load8(p, 16).Permute(i), load8(p, 24).Permute(i)
	odd := j.ShiftAllLeft(28).Less(archsimd.BroadcastInt32x8(0))
	upper := j.Greater(archsimd.BroadcastInt32x8(15))
	return e.Merge(d, odd).Merge(b.Merge(a, odd), upper)
}

// pick16 looks up c[j] in every lane: one permute of two registers.
func pick16(c *[Segments]float32, j archsimd.Int32x16) archsimd.Float32x16 {
	p := unsafe.Pointer(&c[0])
	lo := archsimd.LoadFloat32x16((*[16]float32)(p))
	hi := archsimd.LoadFloat32x16((*[16]float32)(unsafe.Add(p, 64)))
	return lo.ConcatPermute(hi, j.AsUint32x16())
}
