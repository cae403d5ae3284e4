package grade

import (
	"math/rand/v2"
	"testing"
)

// What an operation costs a pixel.
func BenchmarkOps(b *testing.B) {
	families := Families{Saturation: [familyCount]float64{1, 1.2, 1, 0.8, 1, 1, 1}, Shift: [familyCount]float64{5, 0, 3}, Density: [familyCount]float64{0.1, 0, 0, 0.2}, Softness: 1}
	for i := range families.Saturation {
		families.Saturation[i] = 1.1
	}
	ops := map[string]Op{
		"families":   families.Op(),
		"saturation": (&Saturation{1.2, 0.8, 1.1, 1.2, 0.9}).Op(),
		"keep":       (&Keep{30, 30, 20, 0.5}).Op(),
		"split":      (&Split{200, 0.02, 60, 0.02, 0}).Op(),
		"guard":      (&Guard{UsualSkin, 3, 1.1, 0.1, 0.3}).Op(),
		"cdl":        &CDL{[3]float64{1.1, 1, 1}, [3]float64{0.01, 0, 0}, [3]float64{1.1, 1, 0.9}, 1.1, true, false},
		"primaries":  &Primaries{[3]float64{0.1, 0.1, 0.1}, [3]float64{1.1, 1, 1}, [3]float64{1, 1.1, 1}, [3]float64{}},
		"tone":       NewTone(ByBrightness, func(t float64) float64 { return 0.1 * t }),
		"channels":   NewTone(ByChannels, func(t float64) float64 { return 0.1 * t }),
		"matrix":     Matrix{0.9, 0.1, 0, 0, 1, 0, 0, 0, 1},
	}
	const w = 1280
	rnd := rand.New(rand.NewPCG(1, 2))
	var rows, src [3][]float32
	for i := range rows {
		rows[i], src[i] = scratch(w), scratch(w)
	}
	for x := range w {
		y := rnd.Float32()
		for i := range src {
			src[i][x] = y * y * (1 + 0.3*rnd.Float32())
		}
	}
	run := func(b *testing.B, f func(r, g, b []float32)) {
		for b.Loop() {
			for i := range rows {
				copy(rows[i], src[i])
			}
			f(rows[0], rows[1], rows[2])
		}
		b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/w, "ns/px")
		b.ReportMetric(0, "ns/op")
	}
	for name, op := range ops {
		b.Run(name, func(b *testing.B) { run(b, op.Rows(w)) })
	}
	m := scratch(w)
	b.Run("skin weight", func(b *testing.B) {
		rows := UsualSkin.Rows()
		run(b, func(r, g, b []float32) { rows(m, r, g, b) })
	})
}
