//go:build goexperiment.simd && amd64

package vec

import "simd/archsimd"

func available() []*table {
	t := []*table{plain}
	if archsimd.X86.AVX2() && archsimd.X86.FMA() {
		t = append(t, avx2)
		if archsimd.X86.AVX512() {
			t = append(t, avx512)
		}
	}
	return t
}
