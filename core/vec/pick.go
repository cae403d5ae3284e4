//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// chooser8 is the bit that tells odd quarters of a table from even ones; sixteen tells the halves.
func chooser8() archsimd.Int32x8 { return archsimd.BroadcastInt32x8(8) }

// place8 readies segment numbers for pick8: the lanes' places in a quarter of the table, and which quarter.
func place8(j, eight archsimd.Int32x8) (at archsimd.Uint32x8, odd, upper archsimd.Mask32x8) {
	sixteen := eight.Add(eight)
	return j.AsUint32x8(), j.And(eight).Equal(eight), j.And(sixteen).Equal(sixteen)
}

// pick8 looks up c in every lane: four permutes of a quarter each, then the right one.
func pick8(c *[Segments]float32, at archsimd.Uint32x8, odd, upper archsimd.Mask32x8) archsimd.Float32x8 {
	p := &c[0]
	a, b := load8(p, 0).Permute(at), load8(p, 8).Permute(at)
	d, e := load8(p, 16).Permute(at), load8(p, 24).Permute(at)
	return e.Merge(d, odd).Merge(b.Merge(a, odd), upper)
}

func chooser16() struct{} { return struct{}{} }

// place16 is place8 for 16 lanes, where the table is two registers and needs no choice.
func place16(j archsimd.Int32x16, _ struct{}) (at archsimd.Uint32x16, odd, upper struct{}) {
	return j.AsUint32x16(), odd, upper
}

// pick16 looks up c in every lane: one permute of two registers.
func pick16(c *[Segments]float32, at archsimd.Uint32x16, _, _ struct{}) archsimd.Float32x16 {
	p := unsafe.Pointer(&c[0])
	lo := archsimd.LoadFloat32x16((*[16]float32)(p))
	hi := archsimd.LoadFloat32x16((*[16]float32)(unsafe.Add(p, 64)))
	return lo.ConcatPermute(hi, at)
}

func index8(j archsimd.Int32x8) archsimd.Uint32x8    { return j.AsUint32x8() }
func index16(j archsimd.Int32x16) archsimd.Uint32x16 { return j.AsUint32x16() }
