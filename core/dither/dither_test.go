package dither

import (
	"encoding/binary"
	"math"
	"testing"

	"velours/core/dither/spread"
	"velours/core/vec"

	"gonum.org/v1/gonum/dsp/fourier"
)

// Every rank is there once, and a mask of so many of the first is even: the deviation of their number within a square of 16×16 is a tenth of
// that of places taken at random.
func TestMaskIsEven(t *testing.T) {
	m := Mask()
	var seen [all]bool
	for _, row := range m {
		for _, r := range row {
			if r < 0 || r >= all || seen[r] {
				t.Fatalf("rank %d twice, or none", r)
			}
			seen[r] = true
		}
	}
	for _, first := range []int32{128, 512, 1365, 2048, 3000, 3968} {
		const side = 16
		share, sum := float64(first)/all, 0.0
		for y := range edge {
			for x := range edge {
				n := 0.0
				for dy := range side {
					for dx := range side {
						if m[(y+dy)%edge][(x+dx)%edge] < first {
							n++
						}
					}
				}
				sum += math.Pow(n-share*side*side, 2)
			}
		}
		if got, white := math.Sqrt(sum/all), math.Sqrt(share*(1-share)*side*side); got > 0.32*white {
			t.Errorf("the first %d: %.2f in a square, %.2f at random", first, got, white)
		}
	}
}

// dithered is a ramp of codes that rises by rise a row's length from code 100 on, as whole codes, and what it was.
func dithered(w, h int, rise float64) (codes, want []float64) {
	rows := NewRows(0, w)
	src := make([]float32, w, w+16)
	dst := make([]byte, 2*w)
	for y := range h {
		for x := range src {
			src[x] = float32(100 + rise*float64(x)/float64(w) + 0.3*float64(y)/float64(h))
		}
		vec.ToWords(dst, src, rows.Row(y), 0, 1023)
		for x, v := range src {
			codes, want = append(codes, float64(binary.LittleEndian.Uint16(dst[2*x:]))), append(want, float64(v))
		}
	}
	return codes, want
}

// A grey ramp keeps its mean over 16×16: within 0.02 codes by its standard deviation over all such squares, across the seams of cells too, and
// from a field of grey to one that rises by a code every other sample. Of thresholds at random it would be 0.026. No square strays far.
func TestRampKeepsItsMean(t *testing.T) {
	const w, h, side = 1024, 192, 16
	for _, rise := range []float64{0, 0.7, 20, 80, 255, 600} {
		codes, want := dithered(w, h, rise)
		worst, squares, n := 0.0, 0.0, 0.0
		for y := 0; y+side <= h; y += 5 {
			for x := 0; x+side <= w; x += 3 {
				sum := 0.0
				for dy := range side {
					for dx := range side {
						i := (y+dy)*w + x + dx
						sum += codes[i] - want[i]
					}
				}
				off := sum / side / side
				worst, squares, n = max(worst, math.Abs(off)), squares+off*off, n+1
			}
		}
		off := math.Sqrt(squares / n)
		t.Logf("a rise of %g codes: %.4f, %.4f at worst", rise, off, worst)
		if off > 0.02 || rise < 100 && off > 0.012 || worst > 0.07 {
			t.Errorf("a rise of %g codes: squares are off by %.4f codes, one by %.4f", rise, off, worst)
		}
	}
}

// What dithering adds has no line in its spectrum, and little at low frequencies: nothing stands out of the frequencies about it more than the
// greatest of so many random ones does.
func TestNoLinesInTheSpectrum(t *testing.T) {
	const n = 1024
	for _, rise := range []float64{0, 0.7, 5, 20} {
		codes, want := dithered(n, n, rise)
		power := spectrum(codes, want, n)
		// the mean over rings of frequency
		var sum, count [n]float64
		for ky := range n {
			for kx := range n {
				r := ring(kx, ky, n)
				sum[r] += power[ky*n+kx]
				count[r]++
			}
		}
		worst := 0.0
		for ky := range n {
			for kx := range n {
				if r := ring(kx, ky, n); r >= 8 {
					worst = max(worst, power[ky*n+kx]*count[r]/sum[r])
				}
			}
		}
		low, high := 0.0, 0.0
		for r := 1; r < n/2; r++ { // but the mean
			if r < n/16 {
				low += sum[r] / count[r] / (n / 16)
			} else if r > n/4 {
				high += sum[r] / count[r] / (n / 4)
			}
		}
		t.Logf("a rise of %g codes: greatest %.1f × its ring, low frequencies %.4f of high ones", rise, worst, low/high)
		// of a million exponential numbers the greatest is 14 ± 1.3 means
		if worst > 30 {
			t.Errorf("a rise of %g codes: a frequency stands out %.0f times", rise, worst)
		}
		if low > 0.1*high {
			t.Errorf("a rise of %g codes: low frequencies have %.3f of the power of high ones", rise, low/high)
		}
	}
}

// spectrum is the power of what was added, n×n.
func spectrum(codes, want []float64, n int) []float64 {
	f := fourier.NewCmplxFFT(n)
	grid := make([]complex128, n*n)
	for i := range grid {
		grid[i] = complex(codes[i]-want[i], 0)
	}
	line := make([]complex128, n)
	for y := range n {
		copy(grid[y*n:(y+1)*n], f.Coefficients(line, grid[y*n:(y+1)*n]))
	}
	column, power := make([]complex128, n), make([]float64, n*n)
	for x := range n {
		for y := range n {
			column[y] = grid[y*n+x]
		}
		f.Coefficients(line, column)
		for y, v := range line {
			power[y*n+x] = real(v)*real(v) + imag(v)*imag(v)
		}
	}
	return power
}

func ring(kx, ky, n int) int {
	x, y := min(kx, n-kx), min(ky, n-ky)
	return int(math.Hypot(float64(x), float64(y)))
}

// Whole codes pass as they are, also where they are whole but for rounding; what lies outside is held, and what is no number is the lowest.
func TestWholeCodesPass(t *testing.T) {
	const w = 300
	src := make([]float32, w, w+16)
	dst := make([]byte, 2*w)
	for y := range 70 {
		rows := NewRows(y%3, w)
		for x := range src {
			src[x] = float32((x*7+y*31)%1400-100) * 1.0000001
		}
		src[5] = float32(math.NaN())
		vec.ToWords(dst, src, rows.Row(y), 4, 1019)
		for x, v := range src {
			want := uint16(min(max(math.Round(float64(v)), 4), 1019))
			if x == 5 {
				want = 4
			}
			if got := binary.LittleEndian.Uint16(dst[2*x:]); got != want {
				t.Fatalf("row %d: %g became %d", y, v, got)
			}
		}
	}
}

// Planes have thresholds of their own, and rounding has none.
func TestPlanesDiffer(t *testing.T) {
	a, b := NewRows(0, 256).Row(3), NewRows(1, 256).Row(3)
	if a.Turns[0] == b.Turns[0] && a.Turns[1] == b.Turns[1] {
		t.Error("two planes have the same thresholds")
	}
	src, dst := []float32{1.49, 1.51, 2.5, 16: 0, 31: 0}, make([]byte, 6)
	vec.ToWords(dst, src[:3], Round(3), 0, 10)
	if dst[0] != 1 || dst[2] != 2 || dst[4] != 3 {
		t.Errorf("rounded to %v", dst)
	}
}

// The mask that ships is what the method makes.
func TestMaskIsAsMade(t *testing.T) {
	for y, row := range spread.Rank() {
		for x, r := range row {
			if Mask()[y][x] != int32(r) {
				t.Fatalf("at %d, %d: %d, made anew %d: go generate ./core/dither", x, y, Mask()[y][x], r)
			}
		}
	}
}
