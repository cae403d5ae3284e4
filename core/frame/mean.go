package frame

import (
	"context"
	"math"
)

// Mean is the average of every plane over squares that reach radius samples to each side, not only by
// whole samples: the outermost count by their share, so that a picture and a smaller copy of it agree. Beyond
// its edges a picture goes on as it ends. The cost does not grow with the radius.
func Mean(ctx context.Context, src *Frame, radius float64) (*Frame, error) {
	if radius <= 0 {
		return src.Clone(), ctx.Err()
	}
	across := Get(src.W, src.H, src.Planes)
	defer across.Release()
	if err := Bands(ctx, src.H, 16, func(y0, y1 int) {
		line := make([]float32, src.W+2*int(radius)+2)
		for p := range src.Planes {
			for y := y0; y < y1; y++ {
				meanRow(across.Row(p, y), src.Row(p, y), line, radius)
			}
		}
	}); err != nil {
		return nil, err
	}
	out := Get(src.W, src.H, src.Planes)
	return out, Bands(ctx, src.H, 64, func(y0, y1 int) {
		sum := make([]float64, src.W)
		for p := range src.Planes {
			meanDown(out, across, p, y0, y1, radius, sum)
		}
	})
}

// reach is how many samples count whole on each side, and the share of the next.
func reach(radius float64) (whole int, share, scale float64) {
	whole = int(radius)
	return whole, radius - float64(whole), 1 / (2*radius + 1)
}

// meanRow averages a row; line is scratch, to hold the row with what goes on beside its ends.
func meanRow(dst, src, line []float32, radius float64) {
	n, share, scale := reach(radius)
	line = line[:len(src)+2*n+2]
	copy(line[n+1:], src)
	for i := range n + 1 {
		line[i], line[len(line)-1-i] = src[0], src[len(src)-1]
	}
	sum := 0.0
	for _, v := range line[1 : 2*n+2] {
		sum += float64(v)
	}
	// of sample x: line[x] and line[x+2n+2] are the outermost, line[x+1] to line[x+2n+1] count whole
	ends := line[2*n+2:]
	for x := range dst {
		a, b := float64(line[x]), float64(ends[x])
		dst[x] = float32((sum + share*(a+b)) * scale)
		sum += b - float64(line[x+1])
	}
}

func meanDown(dst, src *Frame, p, y0, y1 int, radius float64, sum []float64) {
	n, share, scale := reach(radius)
	row := func(y int) []float32 { return src.Row(p, min(max(y, 0), src.H-1)) }
	clear(sum)
	for y := y0 - n; y <= y0+n; y++ {
		for x, v := range row(y) {
			sum[x] += float64(v)
		}
	}
	for y := y0; y < y1; y++ {
		d := dst.Row(p, y)
		before, next, last := row(y - n - 1)[:len(d)], row(y + n + 1)[:len(d)], row(y - n)[:len(d)]
		sum := sum[:len(d)]
		for x := range d {
			d[x] = float32((sum[x] + share*(float64(before[x])+float64(next[x]))) * scale)
			sum[x] += float64(next[x]) - float64(last[x])
		}
	}
}

// Soften is a blur of standard deviation sigma, in samples: four averages in turn, which have a Gaussian's
// variance and come within a thirteenth of its peak.
func Soften(ctx context.Context, src *Frame, sigma float64) (*Frame, error) {
	// n whole samples and a share s each side have the variance (n(n+1)(2n+1)/3 + 2s(n+1)²)/(2n+1+2s)
	v := sigma * sigma / 4
	n := math.Floor((math.Sqrt(1+12*v) - 1) / 2)
	r := n + (2*n+1)*(v-n*(n+1)/3)/(2*((n+1)*(n+1)-v))
	out := src
	for range 4 {
		next, err := Mean(ctx, out, r)
		if out != src {
			out.Release()
		}
		if err != nil {
			return nil, err
		}
		out = next
	}
	return out, nil
}
