//go:build goexperiment.simd && amd64

package vec

import (
	"simd/archsimd"
	"unsafe"
)

// Kernels of many weights. Both widths share the form of 8 lanes, twice a step: loads bound it.

func longTaps(dst, src *float32, n int, k *Symmetric) {
	w := &k.wide[0]
	end := 8 * len(k.h)
	for i := 0; i < n; i += 16 {
		p, q := unsafe.Add(unsafe.Pointer(src), 4*i), unsafe.Add(unsafe.Pointer(src), 4*i)
		weight := load8(w, 0)
		s, t := load8((*float32)(p), 0).Mul(weight), load8((*float32)(p), 8).Mul(weight)
		for j := 8; j < end; j += 8 {
			p, q = unsafe.Add(p, -4), unsafe.Add(q, 4)
			weight = load8(w, j)
			s = load8((*float32)(p), 0).Add(load8((*float32)(q), 0)).MulAdd(weight, s)
			t = load8((*float32)(p), 8).Add(load8((*float32)(q), 8)).MulAdd(weight, t)
		}
		s.Store(at8(dst, i))
		t.Store(at8(dst, i+8))
	}
	archsimd.ClearAVXUpperBits()
}

func columns8(dst *float32, rows *[]float32, n int, k *Symmetric, gain float32) {
	w, g := &k.wide[0], archsimd.BroadcastFloat32x8(gain)
	end := 8 * len(k.h)
	const slice = unsafe.Sizeof([]float32(nil))
	for i := 0; i < n; i += 16 {
		at := unsafe.Pointer(rows) // a slice begins with its pointer
		weight := load8(w, 0)
		c := *(**float32)(at)
		s, t := load8(c, i).Mul(weight), load8(c, i+8).Mul(weight)
		for j := 8; j < end; j += 8 {
			a, b := *(**float32)(unsafe.Add(at, slice)), *(**float32)(unsafe.Add(at, 2*slice))
			at = unsafe.Add(at, 2*slice)
			weight = load8(w, j)
			s = load8(a, i).Add(load8(b, i)).MulAdd(weight, s)
			t = load8(a, i+8).Add(load8(b, i+8)).MulAdd(weight, t)
		}
		s.MulAdd(g, load8(dst, i)).Store(at8(dst, i))
		t.MulAdd(g, load8(dst, i+8)).Store(at8(dst, i+8))
	}
	archsimd.ClearAVXUpperBits()
}
