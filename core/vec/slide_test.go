package vec

import (
	"math"
	"testing"
)

// Windows that slide against sums written out; every form has the bits of the plain one.
func TestSlide(t *testing.T) {
	const n, whole, share = 75, 6, 0.25
	const scale = 1 / (2*(whole+share) + 1)
	line := random(n+2*whole+2, -1, 1, 1)
	mean := func(row []float32, x int) float64 {
		sum := share * (float64(row[x]) + float64(row[x+2*whole+2]))
		for _, v := range row[x+1 : x+2*whole+2] {
			sum += float64(v)
		}
		return sum * scale
	}
	var plain [5][]float32
	each(t, func(t *testing.T) {
		var got [5][]float32
		for k := range got {
			got[k] = wide(n, func(int) float32 { return 7 })
		}
		var to, lines [4][]float32
		for k := range lines {
			to[k], lines[k] = got[k], wide(n+2*whole+2, func(int) float32 { return 0 })
			for x := range lines[k] {
				lines[k][x] = line[x] * float32(k+1)
			}
		}
		SlideAcross(&to, &lines, whole, share, scale)
		for k := range to {
			for x, v := range to[k] {
				if want := mean(lines[k], x); math.Abs(float64(v)-want) > 1e-6 {
					t.Fatalf("across, line %d at %d: %g, want %g", k, x, v, want)
				}
			}
		}
		// down, the same line stands in every column
		row := func(y int) []float32 { return wide(n, func(int) float32 { return line[y] }) }
		sum := make([]float64, n, n+16)
		for x := range sum {
			for y := 1; y < 2*whole+2; y++ {
				sum[x] += float64(line[y])
			}
		}
		for y := range n {
			SlideDown(got[4], sum, row(y), row(y+2*whole+2), row(y+1), share, scale)
			if want := mean(line, y); math.Abs(float64(got[4][y])-want) > 1e-6 {
				t.Fatalf("down, at %d: %g, want %g", y, got[4][y], want)
			}
		}
		if plain[0] == nil {
			plain = got
		}
		for k := range got {
			for x, v := range got[k] {
				if v != plain[k][x] {
					t.Fatalf("row %d at %d: %g, plainly %g", k, x, v, plain[k][x])
				}
			}
		}
	})
}

// The line through a place meets what its means were taken of; limits and mixtures are as their formulas have them.
func TestLinesLimitsMixtures(t *testing.T) {
	const n = 60
	p, g, k, o := random(n, -1, 1, 1), random(n, -1, 1, 2), random(n, -2, 2, 3), random(n, -1, 1, 4)
	pg, gg := wide(n, func(int) float32 { return 0 }), wide(n, func(int) float32 { return 0 })
	for i := range p { // g varies by 0.04 about its mean, and p by k times as much with it
		gg[i] = g[i]*g[i] + 0.04
		pg[i] = p[i]*g[i] + 0.04*k[i]
	}
	cover := random(n, 0, 1, 5)
	cover[3], cover[4] = 0, 1
	each(t, func(t *testing.T) {
		slope, offset, line := wide(n, func(int) float32 { return 0 }), wide(n, func(int) float32 { return 0 }), wide(n, func(int) float32 { return 0 })
		Slope(slope, offset, p, g, pg, gg, 0.01)
		Line(line, g, slope, offset)
		limited, mixed := append(make([]float32, 0, n+32), k...), append(make([]float32, 0, n+32), k...)
		Limit(limited, 0.5)
		MixBy(mixed, o, cover, 1)
		for i := range p {
			if want := float64(k[i]) * 0.04 / 0.05; math.Abs(float64(slope[i])-want) > 1e-5 || math.Abs(float64(line[i]-p[i])) > 1e-5 {
				t.Fatalf("at %d: slope %g, want %g; %g, want %g", i, slope[i], want, line[i], p[i])
			}
			if want := float64(k[i]) / math.Sqrt(1+4*float64(k[i])*float64(k[i])); math.Abs(float64(limited[i])-want) > 1e-6 {
				t.Fatalf("at %d: limited %g, want %g", i, limited[i], want)
			}
			want := o[i] + cover[i]*(k[i]-o[i])
			switch i {
			case 3:
				want = o[i]
			case 4:
				want = k[i]
			}
			if mixed[i] != want {
				t.Fatalf("at %d: mixed %g, want %g", i, mixed[i], want)
			}
		}
	})
}

// The highest of parts of a row, for parts longer and shorter than what is taken at once.
func TestHighest(t *testing.T) {
	each(t, func(t *testing.T) {
		for _, n := range []int{1, 16, 75, 300} {
			src, was := random(n+300, -1, 1, 4), random(n, -1, 1, 5)
			from := []int{7, 0, 123, 64, 7, 299}
			dst := random(n, -1, 1, 5)
			Highest(dst, src, from)
			for x, v := range dst {
				want := was[x]
				for _, o := range from {
					want = max(want, src[o+x])
				}
				if v != want {
					t.Fatalf("%d samples, at %d: %g, want %g", n, x, v, want)
				}
			}
			Highest(dst, src, nil)
		}
	})
}

// Words of channels that alternate, in both orders, and what they are of their top; every form takes the same.
func TestWordsOf(t *testing.T) {
	const count = 61
	src := make([]byte, 2*4*count)
	for i := range src {
		src[i] = byte(i*i + i/7)
	}
	each(t, func(t *testing.T) {
		for n := 1; n <= 4; n++ {
			for p := range n {
				for _, big := range []bool{false, true} {
					dst := make([]byte, 2*count)
					WordsOf(dst, src[:2*n*count], n, p, big)
					shares := wide(count, func(int) float32 { return 0 })
					Shares(shares, dst, 65535)
					for x := range count {
						a, b := src[2*(x*n+p)], src[2*(x*n+p)+1]
						if big {
							a, b = b, a
						}
						if want := float32(uint16(a)|uint16(b)<<8) / 65535; dst[2*x] != a || dst[2*x+1] != b || shares[x] != want {
							t.Fatalf("%d of %d channels at %d: %d %d, want %d %d; %g, want %g", p, n, x, dst[2*x], dst[2*x+1], a, b, shares[x], want)
						}
					}
				}
			}
		}
	})
}

// Shares of a top are told from what is none, and are the numbers that they are of it.
func TestNumbers(t *testing.T) {
	const n = 64
	each(t, func(t *testing.T) {
		row := wide(n, func(i int) float32 { return float32((i+32)*801%65536) / 65535 })
		at := make([]int32, n)
		if !Numbers(at, row, 65535) {
			t.Error("shares of 65535 were not known")
		}
		for i, k := range at {
			if int(k) != (i+32)*801%65536 {
				t.Errorf("at %d: %d, want %d", i, k, (i+32)*801%65536)
			}
		}
		for _, off := range []float32{0.1, -1.0 / 65535, 65536.0 / 65535, float32(math.NaN()), float32(math.Inf(1))} {
			was := row[37]
			row[37] = off
			if Numbers(at, row, 65535) {
				t.Errorf("%g counts as a share of 65535", off)
			}
			row[37] = was
		}
	})
}

// Places in a table, and how far each lies on the way to the next; what lies outside is at its ends, and what is no number at the first.
func TestPlaces(t *testing.T) {
	const n, top = 64, 1000
	each(t, func(t *testing.T) {
		row := random(n, -0.2, 1.2, 9)
		row[5], row[6], row[7] = float32(math.NaN()), 0, 1
		at, part := make([]int32, n), make([]float32, n)
		Places(at, part, row, top)
		for i, v := range row {
			want := int32(min(max(math.Floor(float64(v*top)), 0), top-1))
			if i == 5 {
				want = 0
			} else if d := float64(v)*top - float64(want) - float64(part[i]); math.Abs(d) > 1e-4 {
				t.Errorf("%g: off by %g", v, d)
			}
			if at[i] != want {
				t.Errorf("%g is at %d, want %d", v, at[i], want)
			}
		}
	})
}
