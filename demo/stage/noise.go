package stage

import "math"

func mix(z uint64) uint64 {
	z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
	z = (z ^ (z >> 27)) * 0x94D049BB133111EB
	return z ^ (z >> 31)
}

// Rand is a uniform number in [0, 1) that depends on its keys alone.
func Rand(a, b, c int) float64 {
	h := mix(uint64(int64(a))*0x9E3779B97F4A7C15 + mix(uint64(int64(b))*0xD1342543DE82EF95+mix(uint64(int64(c))+0x632BE59BD9B4E019)))
	return float64(h>>11) / (1 << 53)
}

// Noise is smooth value noise in [-1, 1] with unit lattice.
func Noise(p V) float64 {
	fx, fy, fz := math.Floor(p.X), math.Floor(p.Y), math.Floor(p.Z)
	x, y, z := int(fx), int(fy), int(fz)
	s := func(t float64) float64 { return t * t * (3 - 2*t) }
	u, v, w := s(p.X-fx), s(p.Y-fy), s(p.Z-fz)
	l := func(a, b, t float64) float64 { return a + (b-a)*t }
	c := func(i, j, k int) float64 { return Rand(x+i, y+j, z+k) }
	return 2*l(l(l(c(0, 0, 0), c(1, 0, 0), u), l(c(0, 1, 0), c(1, 1, 0), u), v),
		l(l(c(0, 0, 1), c(1, 0, 1), u), l(c(0, 1, 1), c(1, 1, 1), u), v), w) - 1
}

// Fractal sums octaves of Noise, each half as strong and twice as fine.
func Fractal(p V, octaves int) float64 {
	sum, amp := 0.0, 0.5
	for range octaves {
		sum += amp * Noise(p)
		p = p.Scale(2.03).Add(V{17.1, 5.3, 9.7})
		amp *= 0.5
	}
	return sum
}

// Step rises smoothly from 0 at a to 1 at b.
func Step(a, b, x float64) float64 {
	t := min(1, max(0, (x-a)/(b-a)))
	return t * t * (3 - 2*t)
}

// sin is the sine to 3e-6, by an odd polynomial on the folded angle; folds, waves and
// weaves call it some thousand million times a frame.
func sin(x float64) float64 {
	k := math.Floor(x*(1/math.Pi) + 0.5)
	r := x - k*math.Pi
	q := r * r
	s := r * (0.99999661 + q*(-0.16664824+q*(0.00830629+q*-0.00018363)))
	if int64(k)&1 != 0 {
		return -s
	}
	return s
}

func cos(x float64) float64 { return sin(x + math.Pi/2) }
