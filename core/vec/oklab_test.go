package vec

import (
	"math"
	"testing"
)

// Angles against math.Atan2, round the circle and on the axes; every form has the bits of the plain one.
func TestTurn(t *testing.T) {
	const n = 20000
	type point struct{ a, b, want float64 }
	points := []point{{0, 0, 0}, {1, 0, 0}, {0, 1, 0.25}, {-1, 0, 0.5}, {0, -1, 0.75}, {1, -1e-9, 0}, {1e-30, 1e-30, 0.125}}
	for i := range n {
		want := float64(i) / n
		s, c := math.Sincos(want * 2 * math.Pi)
		points = append(points, point{c, s, want})
	}
	at := func(i int) point { return points[(i+len(points))%len(points)] }
	a := wide(len(points), func(i int) float32 { return float32(at(i).a) })
	b := wide(len(points), func(i int) float32 { return float32(at(i).b) })
	each(t, func(t *testing.T) {
		got := wide(len(points), func(int) float32 { return -1 })
		Turn(got, a, b)
		for i, p := range points {
			if d := math.Remainder(float64(got[i])-p.want, 1); !(math.Abs(d) <= 4e-6) || got[i] < 0 || got[i] >= 1 {
				t.Fatalf("%g, %g: %g turns, want %g", p.a, p.b, got[i], p.want)
			}
			if one := TurnOf(a[i], b[i]); one != got[i] {
				t.Fatalf("%g, %g: %g in a row, %g alone", p.a, p.b, got[i], one)
			}
		}
	})
}

// What has changed, by either colour or by light, is taken over; all else stays to the bit.
func TestWhereChanged(t *testing.T) {
	const n = 100
	still := func(int) float32 { return 0.3 }
	each(t, func(t *testing.T) {
		a, b, dst, src := random(n, -1, 1, 1), random(n, -1, 1, 2), random(n, 0, 1, 3), random(n, 0, 1, 4)
		a1, b1, c := wide(n, still), wide(n, still), wide(n, func(int) float32 { return 0 })
		copy(a1, a)
		copy(b1, b)
		a1[3], b1[20], c[41], c[42] = a[3]+0.01, b[20]-0.01, -0.02, 0.02
		was := append([]float32(nil), dst...)
		changed := wide(n, still)
		Changed(changed, a, a1, b, b1, c)
		Where(dst, src, changed)
		for i := range dst {
			want := was[i]
			if i == 3 || i == 20 || i == 41 || i == 42 {
				want = src[i]
			}
			if dst[i] != want {
				t.Fatalf("at %d: %g, want %g", i, dst[i], want)
			}
		}
	})
}

// A straight piece below a cut, what is below nothing, and bounds.
func TestPieces(t *testing.T) {
	const n = 70
	each(t, func(t *testing.T) {
		a, b := random(n, -1, 1, 5), random(n, -1, 1, 6)
		dst := wide(n, func(int) float32 { return 7 })
		Straight(dst, a, a[10], 0.25, 2, -1)
		sum := wide(n, func(int) float32 { return 7 })
		AddBelow(sum, a, b)
		in := append(make([]float32, 0, n+32), a...)
		Clamp(in, -0.5, 0.25)
		for i, v := range a {
			want := float32(7)
			if v <= a[10] {
				want = (v+0.25)*2 - 1
			}
			if dst[i] != want || sum[i] != v+min(b[i], 0) || in[i] != min(max(v, -0.5), 0.25) {
				t.Fatalf("at %d: %g, want %g; %g of %g and %g; %g", i, dst[i], want, sum[i], v, b[i], in[i])
			}
		}
	})
}

// Colours in Oklab against the same in double precision; every form has the bits of the plain one.
func TestOklabRows(t *testing.T) {
	const n = 500
	ease := func(u float64) float64 { u = min(max(u, 0), 1); return u * u * (3 - 2*u) }
	l, a, b := random(n, -0.02, 1, 1), random(n, -0.2, 0.2, 2), random(n, -0.2, 0.2, 3)
	a[7], b[7], l[8] = 0, 0, 0
	u, v, w, tone := random(n, -1, 1, 4), random(n, -1, 1, 5), random(n, 0, 1, 6), random(n, -9, 5, 7)
	hue := random(n, 0, 1, 8)
	at := func(row []float32, i int) float64 { return float64(row[i]) }
	chroma := func(i int) float64 { return math.Hypot(at(a, i), at(b, i)) / at(l, i) }
	f, g := &Fading{0.03, 1 / 0.03, 0.16, 12.5, -5, 3.5}, &Guarded{0.03, 0.12, 0.3, 0.2, -0.4}
	from := &[3]float32{0.5, 0.1, -0.05}
	for _, c := range []struct {
		name string
		run  func(x, y, z []float32) // a, b and light
		want func(i int) [3]float64
	}{
		{"turned", func(x, y, z []float32) { TurnColours(x, y, z, l, u, v, w, tone, 0.08, 0.35) }, func(i int) [3]float64 {
			if l[i] <= 0 {
				return [3]float64{at(a, i), at(b, i), 0}
			}
			c2 := chroma(i) * chroma(i)
			d := at(tone, i) * c2 / (c2 + 0.08*0.08)
			k := at(w, i) * (1 + 0.35*d)
			return [3]float64{(at(a, i)*at(v, i) - at(b, i)*at(u, i)) * k, (at(a, i)*at(u, i) + at(b, i)*at(v, i)) * k, -d}
		}},
		{"saturated", func(x, y, _ []float32) { Saturate(x, y, l, w, -0.3, 0.5) }, func(i int) [3]float64 {
			if l[i] <= 0 {
				return [3]float64{at(a, i), at(b, i), 0}
			}
			over := ease(50 * chroma(i) * chroma(i))
			k := at(w, i) * (1 - 0.3*(1-over)) * (1 + 0.5*over)
			return [3]float64{at(a, i) * k, at(b, i) * k, 0}
		}},
		{"faded", func(x, y, z []float32) { copy(z, w); Fade(z, l, x, y, tone, f) }, func(i int) [3]float64 {
			k := 0.0
			if l[i] > 0 {
				c := chroma(i)
				k = at(w, i) * ease((c-0.03)/0.03) * (1 - ease((c-0.16)*12.5)) * ease(at(tone, i)+5+1) * (1 - ease(at(tone, i)-3.5))
			}
			return [3]float64{at(a, i), at(b, i), k}
		}},
		{"guarded", func(x, y, z []float32) { Guard(x, y, z, w, hue, g) }, func(i int) [3]float64 {
			turn := at(w, i) * (0.03 - 0.3*math.Remainder(at(hue, i)-0.12, 1))
			s, c := math.Sincos(2 * math.Pi * turn)
			k := 1 + 0.2*at(w, i)
			return [3]float64{(at(a, i)*c - at(b, i)*s) * k, (at(a, i)*s + at(b, i)*c) * k, -0.4 * at(w, i)}
		}},
		{"chroma", func(x, y, z []float32) { Chroma(z, l, x, y) }, func(i int) [3]float64 {
			if l[i] <= 0 {
				return [3]float64{at(a, i), at(b, i), 0}
			}
			return [3]float64{at(a, i), at(b, i), chroma(i)}
		}},
		{"distance", func(x, y, z []float32) { Distance(z, l, x, y, from, 2) }, func(i int) [3]float64 {
			return [3]float64{at(a, i), at(b, i), math.Hypot(at(l, i)-0.5, 2*math.Hypot(at(a, i)-0.1, at(b, i)+0.05))}
		}},
		{"within", func(_, _, z []float32) { copy(z, w); Within(z, tone, &Range{-3, 1, 0.5}) }, func(i int) [3]float64 {
			return [3]float64{at(a, i), at(b, i), at(w, i) * ease(1-max(-3-at(tone, i), at(tone, i)-1, 0)/2)}
		}},
	} {
		var plain [3][]float32
		each(t, func(t *testing.T) {
			var rows [3][]float32
			for k, of := range [3][]float32{a, b, nil} {
				rows[k] = wide(n, func(int) float32 { return 0 })
				copy(rows[k], of)
			}
			c.run(rows[0], rows[1], rows[2])
			for i := range n {
				want := c.want(i)
				for k, row := range rows {
					if d := math.Abs(float64(row[i]) - want[k]); !(d <= 2e-5*(1+math.Abs(want[k]))) {
						t.Fatalf("%s at %d, row %d: %g, want %g", c.name, i, k, row[i], want[k])
					}
					if plain[k] != nil && plain[k][i] != row[i] {
						t.Fatalf("%s at %d, row %d: %g, plainly %g", c.name, i, k, row[i], plain[k][i])
					}
				}
			}
			if plain[0] == nil {
				plain = rows
			}
		})
	}
}
