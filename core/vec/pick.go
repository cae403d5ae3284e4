//go:build goexperiment.simd && amd64

package vec

import "simd/archsimd"

// chooser8 is the bit that tells the upper half of a table from the lower.
func chooser8() archsimd.Int32x8 { return archsimd.BroadcastInt32x8(8) }

// place8 readies segment numbers for pick8: the lanes' places in a half of the table, and which half.
func place8(j, eight archsimd.Int32x8) (at archsimd.Uint32x8, upper archsimd.Mask32x8) {
	return j.AsUint32x8(), j.And(eight).Equal(eight)
}

// pick8 looks up c in every lane: a permute of each half, then the right one.
func pick8(c *[Segments]float32, at archsimd.Uint32x8, upper archsimd.Mask32x8) archsimd.Float32x8 {
	return load8(&c[0], 8).Permute(at).Merge(load8(&c[0], 0).Permute(at), upper)
}

func chooser16() struct{} { return struct{}{} }

// place16 is place8 for 16 lanes, where the table is one register and needs no choice.
func place16(j archsimd.Int32x16, _ struct{}) (at archsimd.Uint32x16, upper struct{}) {
	return j.AsUint32x16(), upper
}

// pick16 looks up c in every lane: one permute.
func pick16(c *[Segments]float32, at archsimd.Uint32x16, _ struct{}) archsimd.Float32x16 {
	return load16(&c[0], 0).Permute(at)
}

func index8(j archsimd.Int32x8) archsimd.Uint32x8    { return j.AsUint32x8() }
func index16(j archsimd.Int32x16) archsimd.Uint32x16 { return j.AsUint32x16() }
