package frame

import "context"

// Each is f of every pixel's first three samples, as a picture of three planes, on every core. It stops
// early, with the context's error, when ctx is done. It is for what is computed a colour at a time in
// double precision; row kernels are many times faster.
func Each(ctx context.Context, src *Frame, f func([3]float64) [3]float64) (*Frame, error) {
	return Pair(ctx, src, src, func(a, _ [3]float64) [3]float64 { return f(a) })
}

// Pair is Each of two pictures of one size, pixel by pixel.
func Pair(ctx context.Context, a, b *Frame, f func(a, b [3]float64) [3]float64) (*Frame, error) {
	out := New(a.W, a.H, 3)
	return out, Bands(ctx, out.H, 8, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			var p, q, to [3][]float32
			for c := range 3 {
				p[c], q[c], to[c] = a.Row(c, y), b.Row(c, y), out.Row(c, y)
			}
			for x := range out.W {
				v := f([3]float64{float64(p[0][x]), float64(p[1][x]), float64(p[2][x])}, [3]float64{float64(q[0][x]), float64(q[1][x]), float64(q[2][x])})
				to[0][x], to[1][x], to[2][x] = float32(v[0]), float32(v[1]), float32(v[2])
			}
		}
	})
}

// At is the first three samples of a pixel.
func (f *Frame) At(x, y int) [3]float64 {
	return [3]float64{float64(f.Row(0, y)[x]), float64(f.Row(1, y)[x]), float64(f.Row(2, y)[x])}
}
