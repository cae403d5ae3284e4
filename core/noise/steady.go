package noise

import (
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// steady brings code values to a scale on which the noise of every channel deviates by 1 at every tone, and apart into what the channels share
// and what they do not, and back: f(x) = ∫ dx/σ(x), channel by channel (the variance-stabilising transform of scatter-and-grain, part D3).
type steady struct{ on, back [3]*vec.Curve }

// steadyFrom and steadyTo are the code values between which the scale is drawn finely.
const steadyFrom, steadyTo = -0.125, 1.125

// leastDeviation is the least that noise is taken to deviate by, in code values: half a step of 12 bits.
const leastDeviation = 0.5 / 4095

func newSteady(m *Measured) *steady {
	s := &steady{}
	for c := range s.on {
		const n = 2048
		var sums [n + 1]float64
		step := (steadyTo - steadyFrom) / float64(n)
		most := leastDeviation
		for i := range 65 {
			most = max(most, m.Own[c].Deviation(float64(i)/64))
		}
		at := func(x float64) float64 { return 1 / max(m.Own[c].Deviation(x), leastDeviation, most/16) }
		for i := range n {
			x := steadyFrom + step*float64(i)
			sums[i+1] = sums[i] + step/6*(at(x)+4*at(x+step/2)+at(x+step))
		}
		end := sums[n]
		value := func(x float64) float64 {
			u := (x - steadyFrom) / step
			if u <= 0 {
				return (x - steadyFrom) * at(steadyFrom)
			}
			if u >= n {
				return end + (x-steadyTo)*at(steadyTo)
			}
			i := int(u)
			return sums[i] + (u-float64(i))*(sums[i+1]-sums[i])
		}
		inverse := func(y float64) float64 {
			if y <= 0 {
				return steadyFrom + y/at(steadyFrom)
			}
			if y >= end {
				return steadyTo + (y-end)/at(steadyTo)
			}
			lo, hi := 0, n
			for hi-lo > 1 {
				if mid := (lo + hi) / 2; sums[mid] <= y {
					lo = mid
				} else {
					hi = mid
				}
			}
			return steadyFrom + step*(float64(lo)+(y-sums[lo])/(sums[lo+1]-sums[lo]))
		}
		s.on[c], s.back[c] = vec.NewCurve(steadyFrom, steadyTo, value), vec.NewCurve(0, end, inverse)
	}
	return s
}

// apart takes three channels into what they share and what they do not, an orthonormal turn: white noise of deviation 1 stays so.
func apart(r, g, b float32) (shared, warm, green float32) {
	const k, l, m = 0.57735027, 0.70710678, 0.40824829 // 1/√3, 1/√2, 1/√6
	return k * (r + g + b), l * (r - b), m * (2*g - r - b)
}

// The matrices of apart, and back.
var (
	apartRows    = turn([3][3]float64{{1, 1, 1}, {1, 0, -1}, {-1, 2, -1}})
	togetherRows = transposed(apartRows)
)

// turn normalises rows, as a matrix of three factors and an offset a row.
func turn(rows [3][3]float64) (m [12]float32) {
	for i, r := range rows {
		l := math.Sqrt(r[0]*r[0] + r[1]*r[1] + r[2]*r[2])
		for j, v := range r {
			m[4*i+j] = float32(v / l)
		}
	}
	return m
}

func transposed(m [12]float32) (t [12]float32) {
	for i := range 3 {
		for j := range 3 {
			t[4*i+j] = m[4*j+i]
		}
	}
	return t
}

// apartFrame is a frame of code values on the steady scale, its channels apart, mirrored.
func (s *steady) apartFrame(f *frame.Frame, y0, y1 int, to *frame.Frame) {
	for y := y0; y < y1; y++ {
		for c := range 3 {
			row := to.Row(c, y)
			copy(row, f.Row(c, y))
			vec.Bound(row, mostCode)
			vec.ApplyCurve(row, row, s.on[c])
		}
		vec.Matrix(to.Row(0, y), to.Row(1, y), to.Row(2, y), &apartRows)
		for c := range 3 {
			mirrorRow(to.Around(c, y), to.W)
		}
	}
}
