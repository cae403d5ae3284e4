package vec

// Halve sets dst[x] = (s[2x−1] + 3·s[2x] + 3·s[2x+1] + s[2x+2])/8, where src[1+x] is sample x: one
// sample stands before the row and at least two after it. src must hold 2·len(dst)+36 samples.
func Halve(dst, src []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:2*n+4]
	active.halve(&dst[0], &src[0], n)
}

// Double sets dst = ka·src + kb·u, where u is line at twice its length: u[2x] = (3·l[x] + l[x−1])/4,
// u[2x+1] = (3·l[x] + l[x+1])/4, and line[1+x] is l[x]. line must hold len(dst)/2+36 samples.
func Double(dst, src, line []float32, ka, kb float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src, line = dst[:n], src[:n], line[:n/2+2]
	active.double(&dst[0], &src[0], &line[0], n, ka, kb)
}

// Golden is the step of the noise counter.
const Golden = 0x9E3779B97F4A7C15

// Noise fills three rows of equal length with numbers of mean 0 and variance 1, near normal: row l
// with the byte sums of mix64(mix64(first + i·Golden) ^ keys[l]), where mix64 is the finaliser of
// SplitMix64. The inner hash is of the place alone, so three rows cost but two thirds of three.
func Noise(dst [3][]float32, first uint64, keys *[3]uint64) {
	n := up(len(dst[0]))
	if n == 0 {
		return
	}
	a, b, c := dst[0][:n], dst[1][:n], dst[2][:n]
	active.noise(&a[0], &b[0], &c[0], n, first, keys)
}

// NoiseRow is one row of Noise: that with a key of its own.
func NoiseRow(dst []float32, first, key uint64) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst = dst[:n]
	active.noiseRow(&dst[0], n, first, key)
}

// byteUnit scales the sum of eight bytes, of variance 8·(256²−1)/12, to variance 1.
const byteUnit = 0.0047841962

func mix64(z uint64) uint64 {
	z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
	z = (z ^ (z >> 27)) * 0x94D049BB133111EB
	return z ^ (z >> 31)
}

// byteSum is a number of mean 0 and variance 1 from the eight bytes of a hash.
func byteSum(z uint64) float32 {
	z = (z & 0x00FF00FF00FF00FF) + (z >> 8 & 0x00FF00FF00FF00FF)
	return (float32((z*0x0001000100010001)>>48) - 1020) * byteUnit
}

func plainNoiseRow(dst *float32, n int, first, key uint64) {
	d := rows(n, dst)
	for i := range d {
		d[i] = byteSum(mix64(mix64(first) ^ key))
		first += Golden
	}
}

func plainNoise(d0, d1, d2 *float32, n int, first uint64, keys *[3]uint64) {
	d := [3][]float32{rows(n, d0), rows(n, d1), rows(n, d2)}
	for i := range n {
		place := mix64(first)
		first += Golden
		for l, k := range keys {
			d[l][i] = byteSum(mix64(place ^ k))
		}
	}
}

func plainHalve(pd, ps *float32, n int) {
	d, s := rows(n, pd), rows(2*n+4, ps)
	for x := range d {
		d[x] = 0.125*(s[2*x]+s[2*x+3]) + 0.375*(s[2*x+1]+s[2*x+2])
	}
}

func plainDouble(pd, ps, pl *float32, n int, ka, kb float32) {
	d, s, l := rows(n, pd), rows(n, ps), rows(n/2+2, pl)
	for x := 0; x < n; x += 2 {
		q := l[x/2 : x/2+3]
		d[x] = ka*s[x] + kb*(0.75*q[1]+0.25*q[0])
		d[x+1] = ka*s[x+1] + kb*(0.75*q[1]+0.25*q[2])
	}
}
