package frame

import "context"

// Warp resamples f: sample x, y of plane c of the result, counted from 0 to W−1 and H−1, is read where at says, by cubics held
// between the four nearest samples so that nothing rings. Beyond its edges a picture goes on as it ends. Values should be linear in
// light.
func Warp(ctx context.Context, f *Frame, at func(c int, x, y float64) (float64, float64)) (*Frame, error) {
	g := Get(f.W, f.H, f.Planes)
	return g, Bands(ctx, f.H, 16, func(y0, y1 int) {
		for c := range f.Planes {
			for y := y0; y < y1; y++ {
				row := g.Row(c, y)
				for x := range row {
					u, v := at(c, float64(x), float64(y))
					row[x] = f.sample(c, min(max(u, 0), float64(f.W-1)), min(max(v, 0), float64(f.H-1)))
				}
			}
		}
	})
}

// Sample reads plane c at a place between samples, bilinearly; beyond its edges a picture goes on as it ends.
func (f *Frame) Sample(c int, x, y float64) float32 {
	x, y = min(max(x, 0), float64(f.W-1)), min(max(y, 0), float64(f.H-1))
	i, j := min(int(x), max(f.W-2, 0)), min(int(y), max(f.H-2, 0))
	u, v := float32(x-float64(i)), float32(y-float64(j))
	a, b := f.Row(c, j), f.Row(c, min(j+1, f.H-1))
	k := min(i+1, f.W-1)
	top, low := a[i]+(a[k]-a[i])*u, b[i]+(b[k]-b[i])*u
	return top + (low-top)*v
}
