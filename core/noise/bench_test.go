package noise

import (
	"math/rand/v2"
	"testing"

	"velours/core/frame"
)

func BenchmarkReduce(b *testing.B) {
	var frames []*frame.Frame
	p, r := photo(b, "courtyard"), rand.New(rand.NewPCG(1, 2))
	for n := range 5 {
		f := frame.New(1920, 1080, 3)
		each(f.H, func(y int) {
			for x := range f.W {
				for c := range 3 {
					f.Row(c, y)[x] = float32(p.read(c, (float64(x)+4.3*float64(n))*0.32, (float64(y)+2.1*float64(n))*0.32))
				}
			}
		})
		for c := range 3 {
			noise := spotted(r, f.W, f.H, 0.8)
			for y := range f.H {
				row := f.Row(c, y)
				for x := range row {
					row[x] += float32(0.03 * noise[y*f.W+x])
				}
			}
		}
		frames = append(frames, f)
	}
	m, err := Measure(b.Context(), frames, Options{}, nil)
	if err != nil {
		b.Fatal(err)
	}
	for _, c := range []struct {
		name string
		r    Reduction
	}{
		{"within", Reduction{Bright: 1, Colour: 1, Larger: 1, Within: 1}},
		{"over", Reduction{Bright: 1, Colour: 1, Larger: 1, Over: 1, Frames: 2}},
		{"all", Reduction{Bright: 1, Colour: 1, Larger: 1, Over: 1, Within: 1, Frames: 2, Texture: 0.5}},
	} {
		b.Run(c.name, func(b *testing.B) {
			for b.Loop() {
				if _, err := m.Reduce(b.Context(), c.r, frames, 2); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
	b.Run("measure", func(b *testing.B) {
		for b.Loop() {
			Measure(b.Context(), frames[:4], Options{}, nil)
		}
	})
}
