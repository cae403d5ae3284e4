package vec

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
