package vec

import "math"

// Affine sets dst = k·src + o, product and sum rounded apart.
func Affine(dst, src []float32, k, o float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.affine(&dst[0], &src[0], n, k, o)
}

// Raise sets dst to src where that is greater; what is no number is not.
func Raise(dst, src []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.raise(&dst[0], &src[0], n)
}

// Changed sets dst to how far a1 is from a0, b1 from b0 and c from 0, together: 0 where nothing has changed.
func Changed(dst, a0, a1, b0, b1, c []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a0, a1, b0, b1, c = dst[:n], a0[:n], a1[:n], b0[:n], b1[:n], c[:n]
	active.changed(&dst[0], &a0[0], &a1[0], &b0[0], &b1[0], &c[0], n)
}

// Where sets dst to src where at is not 0.
func Where(dst, src, at []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src, at = dst[:n], src[:n], at[:n]
	active.where(&dst[0], &src[0], &at[0], n)
}

// Straight sets dst to (src + p)·k + o where src is at or below a cut, sums and product rounded apart.
func Straight(dst, src []float32, cut, p, k, o float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.straight(&dst[0], &src[0], n, cut, p, k, o)
}

// AddBelow sets dst to a and what b is below 0.
func AddBelow(dst, a, b []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a, b = dst[:n], a[:n], b[:n]
	active.addBelow(&dst[0], &a[0], &b[0], n)
}

// Clamp brings a row to within lo and hi.
func Clamp(row []float32, lo, hi float32) {
	n := up(len(row))
	if n == 0 {
		return
	}
	row = row[:n]
	active.clamp(&row[0], n, lo, hi)
}

// Limit bends a row towards ±most, which it comes near and never reaches: x/√(1 + x²/most²).
func Limit(row []float32, most float32) {
	n := up(len(row))
	if n == 0 {
		return
	}
	row = row[:n]
	active.limit(&row[0], n, 1/(most*most))
}

// MixBy sets dst to was + m·(dst − was), where m is k times cover: to was where m is 0, and left alone where it is 1, to the bit.
func MixBy(dst, was, cover []float32, k float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, was, cover = dst[:n], was[:n], cover[:n]
	active.mixBy(&dst[0], &was[0], &cover[0], n, k)
}

// Highest raises dst to the greatest of the parts of src, each as long as dst, that begin at from.
func Highest(dst, src []float32, from []int) {
	n := up(len(dst))
	if n == 0 || len(from) == 0 {
		return
	}
	dst = dst[:n]
	for _, o := range from {
		_ = src[o : o+n]
	}
	active.highest(&dst[0], &src[0], &from, n)
}

// Cube replaces a row by its cubes.
func Cube(row []float32) {
	n := up(len(row))
	if n == 0 {
		return
	}
	row = row[:n]
	active.cube(&row[0], n)
}

// darkest is the least number whose cube root is taken: what is nearer to 0 counts as that.
const darkest = 1e-30

// CubeRoot replaces a row by its cube roots, signs kept, relative error below 6e-7.
func CubeRoot(row []float32) {
	n := up(len(row))
	if n == 0 {
		return
	}
	row = row[:n]
	active.cubeRoot(&row[0], n)
}

func plainRaise(pd, ps *float32, n int) {
	d, s := rows(n, pd), rows(n, ps)
	for i, v := range s {
		if v > d[i] {
			d[i] = v
		}
	}
}

func plainChanged(pd, pa0, pa1, pb0, pb1, pc *float32, n int) {
	d, a0, a1, b0, b1, c := rows(n, pd), rows(n, pa0), rows(n, pa1), rows(n, pb0), rows(n, pb1), rows(n, pc)
	size := func(v float32) float32 { return max(v, -v) }
	for i := range d {
		d[i] = size(a0[i]-a1[i]) + size(b0[i]-b1[i]) + size(c[i])
	}
}

func plainWhere(pd, ps, pa *float32, n int) {
	d, s := rows(n, pd), rows(n, ps)
	for i, at := range rows(n, pa) {
		if at != 0 {
			d[i] = s[i]
		}
	}
}

func plainStraight(pd, ps *float32, n int, cut, p, k, o float32) {
	d := rows(n, pd)
	for i, v := range rows(n, ps) {
		if v <= cut {
			d[i] = (v+p)*k + o
		}
	}
}

func plainAddBelow(pd, pa, pb *float32, n int) {
	d, a, b := rows(n, pd), rows(n, pa), rows(n, pb)
	for i := range d {
		d[i] = a[i] + min(b[i], 0)
	}
}

func plainClamp(p *float32, n int, lo, hi float32) {
	row := rows(n, p)
	for i, v := range row {
		row[i] = min(max(v, lo), hi)
	}
}

func plainLimit(p *float32, n int, k float32) {
	row := rows(n, p)
	for i, v := range row {
		row[i] = v / float32(math.Sqrt(float64(1+v*v*k)))
	}
}

func plainMixBy(pd, pw, pc *float32, n int, k float32) {
	d, w := rows(n, pd), rows(n, pw)
	for i, m := range rows(n, pc) {
		switch m *= k; m {
		case 0:
			d[i] = w[i]
		case 1:
		default:
			d[i] = w[i] + m*(d[i]-w[i])
		}
	}
}

func plainHighest(pd, ps *float32, from *[]int, n int) {
	d := rows(n, pd)
	for _, o := range *from {
		for i, v := range rows(o+n, ps)[o:] {
			if v > d[i] {
				d[i] = v
			}
		}
	}
}

func plainAffine(pd, ps *float32, n int, k, o float32) {
	d, s := rows(n, pd), rows(n, ps)
	for i, v := range s {
		d[i] = v*k + o
	}
}

func plainCube(p *float32, n int) {
	row := rows(n, p)
	for i, v := range row {
		row[i] = v * (v * v)
	}
}

func plainCubeRoot(p *float32, n int) {
	row := rows(n, p)
	for i, v := range row {
		y := exp2(log2(max(v, -v, darkest)) * (1. / 3))
		if v < 0 {
			y = -y
		}
		row[i] = y
	}
}
