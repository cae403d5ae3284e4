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
		for _, size := range [][2]int{{640, 360}, {1000, 402}} {
			src := lamps(size[0], size[1])
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
