package vec

// Averages over a window that slides on by one sample at a time: sum is that of the samples which count whole, in double
// precision; the outermost on either side, a and b, count by a share. A place's average is (sum + share·(a + b))·scale. All forms
// give the same bits.

// SlideDown sets dst to the averages at a row, given the rows before and next of the window, and moves sum on: it gains next and
// loses last.
func SlideDown(dst []float32, sum []float64, before, next, last []float32, share, scale float64) {
	n := (len(dst) + 7) &^ 7
	if n == 0 {
		return
	}
	dst, sum, before, next, last = dst[:n], sum[:n], before[:n], next[:n], last[:n]
	active.slideDown(&dst[0], &sum[0], &before[0], &next[0], &last[0], n, share, scale)
}

// SlideAcross sets four rows to the averages along four lines, a window of 2·whole + 1 samples: a line holds its row from whole + 1
// on, and goes on beside it by as much at either end, with room for eight samples more.
func SlideAcross(dst, line *[4][]float32, whole int, share, scale float64) {
	n := (len(dst[0]) + 3) &^ 3
	if n == 0 {
		return
	}
	var d, l [4]*float32
	var sum [4]float64
	for k, row := range line {
		row = row[:n+2*whole+6]
		d[k], l[k] = &dst[k][:n][0], &row[0]
		for _, v := range row[1 : 2*whole+2] {
			sum[k] += float64(v)
		}
	}
	active.slideAcross(&d, &l, &sum, n, whole, share, scale)
}

func plainSlideDown(pd *float32, ps *float64, before, next, last *float32, n int, share, scale float64) {
	d, a, b, c := rows(n, pd), rows(n, before), rows(n, next), rows(n, last)
	sums := doubles(n, ps)
	for x, sum := range sums {
		d[x] = float32((sum + share*(float64(a[x])+float64(b[x]))) * scale)
		sums[x] = sum + (float64(b[x]) - float64(c[x]))
	}
}

func plainSlideAcross(pd, pl *[4]*float32, sums *[4]float64, n, whole int, share, scale float64) {
	for k := range pd {
		d, line, sum := rows(n, pd[k]), rows(n+2*whole+2, pl[k]), sums[k]
		ends := line[2*whole+2:]
		for x := range d {
			a, b := float64(line[x]), float64(ends[x])
			d[x] = float32((sum + share*(a+b)) * scale)
			sum += b - float64(line[x+1])
		}
	}
}

// Slope sets slope and offset to the line that best goes from g to p about a place, given the means of both, of their product and
// of g's square; the greater edge is beside the variance of g, the flatter.
func Slope(slope, offset, p, g, pg, gg []float32, edge float32) {
	n := up(len(slope))
	if n == 0 {
		return
	}
	slope, offset, p, g, pg, gg = slope[:n], offset[:n], p[:n], g[:n], pg[:n], gg[:n]
	active.slope(&slope[0], &offset[0], &p[0], &g[0], &pg[0], &gg[0], n, edge)
}

// Line sets dst = slope·src + offset, product and sum rounded apart.
func Line(dst, src, slope, offset []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src, slope, offset = dst[:n], src[:n], slope[:n], offset[:n]
	active.line(&dst[0], &src[0], &slope[0], &offset[0], n)
}

func plainSlope(ps, po, pp, pg, ppg, pgg *float32, n int, edge float32) {
	s, o, p, g, both, square := rows(n, ps), rows(n, po), rows(n, pp), rows(n, pg), rows(n, ppg), rows(n, pgg)
	for i, v := range p {
		k := (both[i] - v*g[i]) / (max(square[i]-g[i]*g[i], 0) + edge)
		s[i], o[i] = k, v-k*g[i]
	}
}

func plainLine(pd, ps, pk, po *float32, n int) {
	d, s, k, o := rows(n, pd), rows(n, ps), rows(n, pk), rows(n, po)
	for i := range d {
		d[i] = k[i]*s[i] + o[i]
	}
}
