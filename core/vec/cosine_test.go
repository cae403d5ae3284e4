package vec

import (
	"math"
	"testing"
)

// eight are rows of random samples, and where they begin.
func eight(n int, seed uint64) (rows [8][]float32, at *Eight) {
	at = &Eight{}
	for k := range rows {
		rows[k] = random(n, -1, 1, seed+uint64(k))
		at[k] = &rows[k][0]
	}
	return rows, at
}

func TestCosineIsTheTransform(t *testing.T) {
	const n = 64
	src, from := eight(n, 1)
	each(t, func(t *testing.T) {
		dst, to := eight(n, 20)
		Cosine(to, from, n)
		for i := range n {
			for k := range 8 {
				want := 0.0 // X(k) = s(k) Σ x(j) cos((2j+1)kπ/16), s(0) = √(1/8), else √(2/8), all times its scale
				for j := range 8 {
					want += float64(src[j][i]) * math.Cos(float64(2*j+1)*float64(k)*math.Pi/16)
				}
				if want *= 0.5; k == 0 {
					want *= math.Sqrt(0.5)
				}
				if want *= CosineScales[k]; math.Abs(float64(dst[k][i])-want) > 4e-6 {
					t.Fatalf("frequency %d is %g, not %g", k, dst[k][i], want)
				}
			}
		}
		back, again := eight(n, 40)
		CosineBack(again, to, n)
		for j := range 8 {
			for i := range n {
				if math.Abs(float64(back[j][i]/8-src[j][i])) > 1e-6 {
					t.Fatalf("sample %d comes back as %g, not 8 times %g", j, back[j][i], src[j][i])
				}
			}
		}
	})
}

func TestCoefficientsAreKeptByTheirNoise(t *testing.T) {
	const n = 48
	each(t, func(t *testing.T) {
		x, p, v := random(n, -2, 2, 3), random(n, -2, 2, 4), random(n, 0.5, 2, 5)
		strong, scaled := wide(n, func(i int) float32 { return 0 }), wide(n, func(i int) float32 { return 0 })
		copy(strong, x)
		copy(scaled, x)
		Strong(strong, v, n, 0.7)
		Wiener(scaled, p, v, n, 0.7)
		for i := range n {
			want := x[i]
			if x[i]*x[i] <= 0.7*v[i] {
				want = 0
			}
			if strong[i] != want {
				t.Fatalf("%g of variance %g is kept as %g", x[i], v[i], strong[i])
			}
			e := float64(p[i]) * float64(p[i])
			if w := float64(x[i]) * e / (e + 0.7*float64(v[i])); math.Abs(float64(scaled[i])-w) > 1e-6 {
				t.Fatalf("%g beside %g is %g, not %g", x[i], p[i], scaled[i], w)
			}
		}
		rows, at := eight(n, 7)
		sum := wide(n, func(int) float32 { return 1 })
		SumEight(sum, at, n)
		weights := Weights{0.5, -1, 2, 0.25, 1, -0.75, 3, -2}
		weighed := wide(n, func(int) float32 { return 1 })
		WeighEight(weighed, at, &weights, n)
		for i := range n {
			want := 0.0
			for k := range rows {
				want += float64(weights[k]) * float64(rows[k][i])
			}
			if math.Abs(float64(weighed[i])-want) > 1e-5 {
				t.Fatalf("the weighed sum is %g, not %g", weighed[i], want)
			}
		}
		for i := range n {
			want := 0.0
			for k := range rows {
				want += float64(rows[k][i])
			}
			if math.Abs(float64(sum[i])-want) > 1e-5 {
				t.Fatalf("the sum is %g, not %g", sum[i], want)
			}
		}
	})
}

func TestRowsAreAdded(t *testing.T) {
	const n = 64
	each(t, func(t *testing.T) {
		a, b := random(n, -2, 2, 3), random(n, -2, 2, 4)
		squares, excess, product := wide(n, func(int) float32 { return 1 }), wide(n, func(int) float32 { return 2 }), wide(n, func(int) float32 { return 3 })
		AddSquares(squares, a, n, 0.5)
		AddExcess(excess, a, n, 0.3, -4)
		AddProduct(product, a, b, n)
		for i := range n {
			x, y := float64(a[i]), float64(b[i])
			for k, pair := range [3][2]float64{{float64(squares[i]), 1 + x*x/2}, {float64(excess[i]), 2 - 4*max(x-0.3, 0)}, {float64(product[i]), 3 + x*y}} {
				if math.Abs(pair[0]-pair[1]) > 1e-5 {
					t.Fatalf("%d of %g and %g: %g, not %g", k, x, y, pair[0], pair[1])
				}
			}
		}
	})
}
