package scatter

import (
	"math"
	"testing"

	"velours/core/frame"
)

// Light that spreads twice is the same, to rounding, whether the picture is put together in between or not: at the edges, with rings of a worn
// backing, and by a lens that treats channels unlike.
func TestSpreadOverSpread(t *testing.T) {
	lamps := func(w, h int) *frame.Frame {
		f := frame.New(w, h, 3)
		for p := range 3 {
			for y := range h {
				row := f.Row(p, y)
				for x := range row {
					row[x] = float32(0.2 + 0.15*math.Sin(float64(x)/17+float64(p))*math.Cos(float64(y)/23))
					if (x-w/3)*(x-w/3)+(y-h/2)*(y-h/2) < 60 || x < 4 && y > h-6 {
						row[x] = 40
					}
				}
			}
		}
		return f
	}
	cloud := Cloud{Depth: 0.2, Lobes: []Gaussian{{0.012, 0.5}, {0.02, 0.3}, {0.08, 0.2}}}
	halo := Halo{Thickness: 0.13, Index: 1.48, Backing: 1, Held: [3]float64{0.9, 0.5, 0.2}, Back: [3]float64{0.8, 0.3, 0.1}, Amount: 1}.Plain()
	halo.PerMM = 77
	worn := halo
	worn.Backing = 0.4
	for name, h := range map[string]Halo{"intact": halo, "worn": worn} {
		// how often they are halved is what the smallest blur and the size allow
		for size, level := range map[[2]int]int{{640, 360}: 1, {1000, 402}: 1, {1600, 904}: 3, {1604, 900}: 2, {1602, 902}: 1} {
			src := lamps(size[0], size[1])
			h.PerMM = 0.12 * float64(size[0])
			first, err := cloud.Start(t.Context(), src, 0.9)
			if err != nil || first == nil {
				t.Fatalf("%s: %v, %v", name, first, err)
			}
			between, err := first.Frame(t.Context())
			if err != nil {
				t.Fatal(err)
			}
			want, err := h.Run(t.Context(), between, 1)
			if err != nil {
				t.Fatal(err)
			}
			second, err := h.StartOn(t.Context(), first, 1)
			if err != nil || second == nil {
				t.Fatalf("%s: %v, %v", name, second, err)
			}
			if second.level != level {
				t.Errorf("%s, %v: halved %d times, want %d", name, size, second.level, level)
			}
			first.Drop()
			got, err := second.Frame(t.Context())
			if err != nil {
				t.Fatal(err)
			}
			worst := 0.0
			for p := range 3 {
				for y := range got.H {
					for x, v := range got.Row(p, y) {
						w := float64(want.Row(p, y)[x])
						worst = max(worst, math.Abs(float64(v)-w)/(0.05+math.Abs(w)))
					}
				}
			}
			t.Logf("%s, %v: %.2g", name, size, worst)
			if !(worst < 5e-6) {
				t.Errorf("%s, %v: off by %.2g", name, size, worst)
			}
		}
	}
	// odd sizes and narrow glows are put together first
	first, err := cloud.Start(t.Context(), lamps(641, 360), 1)
	if err != nil {
		t.Fatal(err)
	}
	if s, err := halo.StartOn(t.Context(), first, 1); s != nil || err != nil {
		t.Errorf("an odd width: %v, %v", s, err)
	}
}

// Doubling and halving again is a kernel, with ends of its own, as pictures that are doubled and halved show.
func TestDownUp(t *testing.T) {
	for level := 1; level <= 4; level++ {
		d := newDownUp(level, 100)
		t.Logf("%d times: %v, ends %v", level, d.taps, d.ends)
		// once, it is (3 10 3)/16, and so it is at an end that goes on: 10 and 3 of 16 fall on the first sample
		if level == 1 && (d.taps.Reach() != 1 || d.taps.At(0) != 10./16 || d.taps.At(1) != 3./16 || d.ends[0][0] != 13./16 || d.ends[0][1] != 3./16) {
			t.Errorf("once: %v, ends %v", d.taps, d.ends)
		}
		for _, size := range [][2]int{{40, 37}, {24, 23}, {9, 2}, {2, 50}} {
			src := speckled(size[0], size[1])
			want := src
			for range level {
				up := frame.New(2*want.W, 2*want.H, 3)
				if err := (rowSum{begin: doubling(want)}).into(t.Context(), up); err != nil {
					t.Fatal(err)
				}
				want = up
			}
			for range level {
				low, err := down(t.Context(), want)
				if err != nil {
					t.Fatal(err)
				}
				want = low
			}
			got, err := downUpOf(t.Context(), src, level)
			if err != nil {
				t.Fatal(err)
			}
			for p := range 3 {
				for y := range got.H {
					for x, v := range got.Row(p, y) {
						if w := want.Row(p, y)[x]; math.Abs(float64(v-w)) > 5e-7 {
							t.Fatalf("%d times, %v: %g at %d %d of plane %d, want %g", level, size, v, x, y, p, w)
						}
					}
				}
			}
		}
	}
}

// Rows that are doubled as they are asked for are those of pictures that are doubled one after the other: of any size, in any part.
func TestLift(t *testing.T) {
	for _, size := range [][2]int{{64, 32}, {641, 37}, {90, 35}, {17, 9}} {
		for level := 1; level <= 3; level++ {
			all := sizes(size[0], size[1], level)
			small := speckled(all[level][0], all[level][1])
			want := small
			for l := level - 1; l >= 0; l-- {
				up := frame.New(all[l][0], all[l][1], 3)
				if err := (rowSum{begin: doubling(want)}).into(t.Context(), up); err != nil {
					t.Fatal(err)
				}
				want = up
			}
			base := frame.New(size[0], size[1], 3)
			s := &Spread{base: base, blur: small, level: level, b: [3]float32{1, 1, 1}}
			for x0 := 0; x0 < size[0]; x0 += 24 {
				w := min(24, size[0]-x0)
				columns := s.Columns(x0, w)
				rows := [3][]float32{make([]float32, w, w+64), make([]float32, w, w+64), make([]float32, w, w+64)}
				for y := x0 % 3; y < size[1]; y++ {
					columns(y, rows)
					for p := range 3 {
						for x, v := range rows[p] {
							if v != want.Row(p, y)[x0+x] {
								t.Fatalf("%v, doubled %d times: %g at %d %d of plane %d, want %g", size, level, v, x0+x, y, p, want.Row(p, y)[x0+x])
							}
						}
					}
				}
			}
		}
	}
}

// speckled is a picture that differs from pixel to pixel, its rows with their ends repeated.
func speckled(w, h int) *frame.Frame {
	f := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			for x, row := 0, f.Row(p, y); x < w; x++ {
				row[x] = float32(math.Mod(math.Sin(float64(p*991+y*57+x*13)+1)*437.58, 1))
			}
		}
	}
	repeatEdges(f)
	return f
}
