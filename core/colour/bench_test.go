package colour

import "testing"

// What decoding takes a sample: of codes of 16 bits, and of others.
func BenchmarkDecodeRow(b *testing.B) {
	e := Undeclared()
	for name, step := range map[string]float32{"whole codes": 1.0 / 65535, "others": 1.0 / 65536.3} {
		src, dst := make([]float32, 4096, 4160), make([]float32, 4096, 4160)
		for i := range src {
			src[i] = float32((i*7919)%65536) * step
		}
		if step == 1.0/65535 {
			for i := range src {
				src[i] = float32((i*7919)%65536) / 65535
			}
		}
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				e.DecodeRow(dst, src)
			}
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/float64(len(src)), "ns/sample")
		})
	}
}
