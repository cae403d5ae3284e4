package vec

import "math"

// Turn sets dst to the angles of a, b in turns, 0…1, 0 where both are 0 (Abramowitz & Stegun 4.4.49, five terms; within 2e-6).
// Products and sums are rounded apart, so that all forms give the same bits.
func Turn(dst, a, b []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a, b = dst[:n], a[:n], b[:n]
	active.turn(&dst[0], &a[0], &b[0], n)
}

const (
	turn1, turn3, turn5, turn7, turn9 = 0.9998660, -0.3302995, 0.1801410, -0.0851330, 0.0208351

	perRadian = 1 / (2 * math.Pi)
)

// TurnOf is the angle of a, b in turns, as Turn has it.
func TurnOf(a, b float32) float32 {
	x, y := max(a, -a), max(b, -b)
	if x == 0 && y == 0 {
		return 0
	}
	swap := y > x
	if swap {
		x, y = y, x
	}
	z := y / x
	q := z * z
	u := z * (turn1 + q*(turn3+q*(turn5+q*(turn7+q*turn9)))) * perRadian
	if swap {
		u = 0.25 - u
	}
	if a < 0 {
		u = 0.5 - u
	}
	if b < 0 {
		u = 1 - u
	}
	if u >= 1 {
		u--
	}
	return u
}

func plainTurn(pd, pa, pb *float32, n int) {
	d, a, b := rows(n, pd), rows(n, pa), rows(n, pb)
	for i := range d {
		d[i] = TurnOf(a[i], b[i])
	}
}
