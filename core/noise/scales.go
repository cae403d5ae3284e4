package noise

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// half brings the first planes of a picture to half its size, through (1 3 3 1)/8 each way.
func half(ctx context.Context, f *frame.Frame, planes int) (*frame.Frame, error) {
	g := frame.Get((f.W+1)/2, (f.H+1)/2, planes)
	err := frame.Bands(ctx, g.H, 32, func(y0, y1 int) {
		line := make([]float32, f.W+4*frame.LeftPad)
		weights := [4]float32{0.125, 0.375, 0.375, 0.125}
		for p := range planes {
			for y := y0; y < y1; y++ {
				row := func(k int) []float32 { return f.Row(p, mirrored(2*y+k, f.H)) }
				to := line[frame.LeftPad:][: f.W : len(line)-frame.LeftPad]
				vec.Weigh(to, row(-1), row(0), row(1), row(2), &weights)
				line[frame.LeftPad-1] = to[mirrored(-1, f.W)]
				for i := range 4 {
					line[frame.LeftPad+f.W+i] = to[mirrored(f.W+i, f.W)]
				}
				vec.Halve(g.Row(p, y), line[frame.LeftPad-1:])
			}
		}
	})
	return g, err
}

// addDouble adds a picture of half the size to one, through (3 1)/4 each way.
func addDouble(ctx context.Context, f, small *frame.Frame) error {
	return frame.Bands(ctx, f.H, 32, func(y0, y1 int) {
		line := make([]float32, small.W+64)
		for p := range f.Planes {
			for y := y0; y < y1; y++ {
				near := small.Row(p, y/2)
				far := small.Row(p, min(max(y/2-1+2*(y%2), 0), small.H-1))
				vec.Mix(line[1:][:small.W:len(line)-1], near, far, 0.75, 0.25)
				line[0] = line[1]
				line[1+small.W] = line[small.W]
				row := f.Row(p, y)
				vec.Double(row, row, line, 1, 1)
			}
		}
	})
}

// halved are the covariances of noise at half the size (half).
func (l *Lags) halved() (out Lags) {
	// how (1 3 3 1)/8 goes together with itself
	own := [7]float64{1, 6, 15, 20, 15, 6, 1}
	for y := -lags / 2; y <= lags/2; y++ {
		for x := -lags / 2; x <= lags/2; x++ {
			sum := 0.0
			for i, a := range own {
				for j, b := range own {
					sum += a * b * l.between(float64(2*y+i-3), float64(2*x+j-3))
				}
			}
			out[lags+y][lags+x] = sum / (64 * 64)
		}
	}
	return out
}

// larger are the covariances of noise whose spots are so many times as large.
func (l *Lags) larger(k float64) (out Lags) {
	if k == 1 {
		return *l
	}
	for y := range out {
		for x := range out[y] {
			out[y][x] = l.between(float64(y-lags)/k, float64(x-lags)/k)
		}
	}
	return out
}
