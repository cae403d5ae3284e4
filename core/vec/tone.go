package vec

import "math"

// The neutral scale from scene to display, a row at a time; package colour has it in double precision.

// Product sets dst = k·a·b.
func Product(dst, a, b []float32, k float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a, b = dst[:n], a[:n], b[:n]
	active.product(&dst[0], &a[0], &b[0], n, k)
}

// BendTone sets dst to src, in stops from mid grey, bent by a toe and a roll-off (colour.Tone.Bend).
func BendTone(dst, src []float32, toe, rollOff float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.bendTone(&dst[0], &src[0], n, toe, rollOff)
}

// Logistic sets dst = 1/((1 + t)·y), 0 where y is not above 0: what brings a luminance y to its place on a scale.
func Logistic(dst, t, y []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, t, y = dst[:n], t[:n], y[:n]
	active.logistic(&dst[0], &t[0], &y[0], n)
}

// fitKnee is where the gamut fit begins to squeeze (colour.Fit), fitRate how steeply, in octaves.
const (
	fitKnee = 0.8
	fitRate = -math.Log2E / (1 - fitKnee)
)

// FitGamut multiplies r, g and b by k and brings them into the unit cube towards the grey of their luminance, by weights w (colour.Fit).
func FitGamut(r, g, b, k []float32, w *[3]float32) {
	n := up(len(r))
	if n == 0 {
		return
	}
	r, g, b, k = r[:n], g[:n], b[:n], k[:n]
	active.fitGamut(&r[0], &g[0], &b[0], &k[0], n, w)
}

// EighthRoot sets dst = src^(1/8), 0 for what is below 0: display curves are smooth over it.
func EighthRoot(dst, src []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.eighthRoot(&dst[0], &src[0], n)
}

func plainProduct(pd, pa, pb *float32, n int, k float32) {
	d, a, b := rows(n, pd), rows(n, pa), rows(n, pb)
	for i := range d {
		d[i] = a[i] * b[i] * k
	}
}

func plainBendTone(pd, ps *float32, n int, toe, rollOff float32) {
	d, s := rows(n, pd), rows(n, ps)
	for i, u := range s {
		below, above := min(u, 0), max(u, 0)
		d[i] = u + toe*(below*below/(below-2)) - rollOff*(above*above/(above+2))
	}
}

func plainLogistic(pd, pt, py *float32, n int) {
	d, t, y := rows(n, pd), rows(n, pt), rows(n, py)
	for i, l := range y {
		d[i] = 0
		if l > 0 {
			d[i] = 1 / ((1 + t[i]) * l)
		}
	}
}

func plainFitGamut(pr, pg, pb, pk *float32, n int, w *[3]float32) {
	r, g, b, k := rows(n, pr), rows(n, pg), rows(n, pb), rows(n, pk)
	for i, k := range k {
		x, y, z := r[i]*k, g[i]*k, b[i]*k
		l := w[0]*x + w[1]*y + w[2]*z
		switch {
		case !(l > 0):
			r[i], g[i], b[i] = 0, 0, 0
			continue
		case l >= 1:
			r[i], g[i], b[i] = 1, 1, 1
			continue
		}
		lo, hi := min(x, y, z), max(x, y, z)
		e := max((l-lo)/l, (hi-l)/(1-l), fitKnee)
		s := (1 - (1-fitKnee)*exp2((e-fitKnee)*fitRate)) / e
		in := func(v float32) float32 { return min(max(l+(v-l)*s, 0), 1) }
		r[i], g[i], b[i] = in(x), in(y), in(z)
	}
}

func plainEighthRoot(pd, ps *float32, n int) {
	d, s := rows(n, pd), rows(n, ps)
	root := func(v float32) float32 { return float32(math.Sqrt(float64(v))) }
	for i, v := range s {
		d[i] = root(root(root(max(v, 0))))
	}
}
