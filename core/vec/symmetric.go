package vec

import "unsafe"

// Symmetric is a kernel that is the same forwards and backwards.
type Symmetric struct {
	h []float32 // from the centre out
}

// NewSymmetric makes a kernel of its weights, the centre's first.
func NewSymmetric(h []float32) *Symmetric { return &Symmetric{h} }

// Reach is how many samples the kernel extends to either side.
func (k *Symmetric) Reach() int { return len(k.h) - 1 }

// At is the weight of a sample i away from the centre.
func (k *Symmetric) At(i int) float32 { return k.h[i] }

// Taps convolves a row: dst[x] = h₀·src[x] + Σ hₖ·(src[x−k]+src[x+k]). Src has Reach samples before
// its first: src[Reach+x] is sample x, and as many more after the last.
func Taps(dst, src []float32, k *Symmetric) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	r := k.Reach()
	dst, src = dst[:n], src[:n+2*r]
	active.taps(&dst[0], &src[r], n, k)
}

// Columns adds gain times the convolution across rows to dst: dst += gain·(h₀·rows[0] +
// Σ hₖ·(rows[2k−1] + rows[2k])), where rows[0] is the row itself, and rows[2k−1] and rows[2k] stand
// k above and below it.
func Columns(dst []float32, rows [][]float32, k *Symmetric, gain float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	rows = rows[:2*len(k.h)-1]
	for i := range rows {
		rows[i] = rows[i][:n]
	}
	active.columns(&dst[:n][0], &rows[0], n, k, gain)
}

func plainTaps(pd, ps *float32, n int, k *Symmetric) {
	d := rows(n, pd)
	r := k.Reach()
	s := unsafe.Slice((*float32)(unsafe.Add(unsafe.Pointer(ps), -4*r)), n+2*r)
	for i := range d {
		sum := k.h[0] * s[i+r]
		for j := 1; j <= r; j++ {
			sum += k.h[j] * (s[i+r-j] + s[i+r+j])
		}
		d[i] = sum
	}
}

func plainColumns(pd *float32, first *[]float32, n int, k *Symmetric, gain float32) {
	d, in := rows(n, pd), unsafe.Slice(first, 2*len(k.h)-1)
	for i := range d {
		sum := k.h[0] * in[0][i]
		for j := 1; j < len(k.h); j++ {
			sum += k.h[j] * (in[2*j-1][i] + in[2*j][i])
		}
		d[i] += gain * sum
	}
}
