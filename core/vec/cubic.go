package vec

import "unsafe"

// Cubic samples a picture between its samples, by cubics through four of them each way (Catmull & Rom 1974), held between the four
// nearest so that nothing rings: dst[i] lies tx[i] of the way from the second to the third column, and ty[i] from the second to the
// third row, of the sixteen samples from data[at[i]] on; rows are pitch samples apart. All are as long as dst, and what stands past
// their end is not read.
func Cubic(dst, data []float32, at []int32, pitch int, tx, ty []float32) {
	n := len(dst)
	if n == 0 {
		return
	}
	at, tx, ty = at[:n], tx[:n], ty[:n]
	first, last := at[0], at[0]
	for _, a := range at {
		first, last = min(first, a), max(last, a)
	}
	_, _ = data[first], data[int(last)+3*pitch+3] // all that is read is there
	whole := n &^ 3
	if whole > 0 {
		active.cubic(&dst[0], &data[0], &at[0], pitch, &tx[0], &ty[0], whole)
	}
	if whole < n {
		plainCubic(&dst[whole], &data[0], &at[whole], pitch, &tx[whole], &ty[whole], n-whole)
	}
}

// cubicWeights are those of four samples at t from the second to the third.
func cubicWeights(t float32) [4]float32 {
	return [4]float32{
		t * (-0.5 + t*(1-0.5*t)),
		1 + t*t*(-2.5+1.5*t),
		t * (0.5 + t*(2-1.5*t)),
		t * t * (-0.5 + 0.5*t),
	}
}

func plainCubic(dst, data *float32, at *int32, pitch int, tx, ty *float32, n int) {
	d, u, v := rows(n, dst), rows(n, tx), rows(n, ty)
	for i, o := range unsafe.Slice(at, n) {
		wx, wy := cubicWeights(u[i]), cubicWeights(v[i])
		var column [4]float32
		var lo, hi float32
		for j := range 4 {
			s := (*[4]float32)(unsafe.Add(unsafe.Pointer(data), 4*(int(o)+j*pitch)))
			for k := range column {
				column[k] += wy[j] * s[k]
			}
			switch j {
			case 1:
				lo, hi = min(s[1], s[2]), max(s[1], s[2])
			case 2:
				lo, hi = min(lo, s[1], s[2]), max(hi, s[1], s[2])
			}
		}
		sum := wx[0]*column[0] + wx[1]*column[1] + wx[2]*column[2] + wx[3]*column[3]
		d[i] = min(max(sum, lo), hi)
	}
}
