package media

import (
	"math"
	"math/rand/v2"
	"testing"
)

// A slow ramp keeps its mean to a small part of a code, in every stretch of it.
func TestDitherKeepsTheMean(t *testing.T) {
	const w, h = 512, 64
	d := NewDither(w, 0, 255)
	var sums [w / 32]float64
	row := make([]float32, w)
	for range h {
		for x := range row {
			row[x] = 100 + 3*float32(x)/w
		}
		d.Row(row, func(x int, c uint16) {
			sums[x/32] += float64(c)
			if e := math.Abs(float64(c) - float64(row[x])); e > 1.01 {
				t.Fatalf("code %d for %g", c, row[x])
			}
		})
	}
	for i, s := range sums {
		want := 100 + 3*(32*float64(i)+15.5)/w
		if got := s / 32 / h; math.Abs(got-want) > 0.02 {
			t.Errorf("stretch %d: mean %.3f, want %.3f", i, got, want)
		}
	}
}

// Whole codes pass as they are, whatever lies outside is held, and NaN is black.
func TestDitherPassesWholeCodes(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	const w = 300
	d := NewDither(w, 4, 1019)
	row := make([]float32, w)
	for range 20 {
		for x := range row {
			row[x] = float32(r.IntN(1400) - 100)
		}
		d.Row(row, func(x int, c uint16) {
			if want := min(max(row[x], 4), 1019); float32(c) != want {
				t.Fatalf("%g became %d", row[x], c)
			}
		})
	}
	row[7] = float32(math.NaN())
	d.Row(row, func(x int, c uint16) {
		if x == 7 && c != 4 {
			t.Errorf("NaN became %d", c)
		}
	})
}

func TestLater(t *testing.T) {
	for _, c := range []struct {
		from string
		n    int
		rate float64
		want string
	}{
		{"10:00:00:12", 0, 24, "10:00:00:12"}, {"10:00:00:12", 13, 24, "10:00:01:01"}, {"23:59:59:24", 1, 25, "00:00:00:00"},
		{"01:00:00;00", 0, 29.97, "01:00:00;00"}, {"01:00:00;00", 5, 29.97, ""}, {"", 3, 24, ""}, {"00:59:59:23", 1, 23.976, "01:00:00:00"},
	} {
		if got := Later(c.from, c.n, c.rate); got != c.want {
			t.Errorf("%d frames after %q: %q, want %q", c.n, c.from, got, c.want)
		}
	}
}
