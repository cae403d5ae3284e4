package frame

import (
	"fmt"
	"testing"
)

// What an average takes a sample, by its radius.
func BenchmarkMean(b *testing.B) {
	f := New(1280, 720, 2)
	for y := range f.H {
		for x := range f.W {
			f.Row(0, y)[x], f.Row(1, y)[x] = float32(x^y), float32(x&y)
		}
	}
	for _, r := range []float64{3.2, 13, 52} {
		b.Run(fmt.Sprint(r), func(b *testing.B) {
			for b.Loop() {
				g, err := Mean(ctx, f, r)
				if err != nil {
					b.Fatal(err)
				}
				g.Release()
			}
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/float64(2*f.W*f.H), "ns/sample")
		})
	}
}

// What a softening of one plane takes a sample.
func BenchmarkSoften(b *testing.B) {
	f := New(1280, 720, 1)
	for b.Loop() {
		g, err := Soften(ctx, f, 12.8)
		if err != nil {
			b.Fatal(err)
		}
		g.Release()
	}
	b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/float64(f.W*f.H), "ns/sample")
}
