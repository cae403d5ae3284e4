package scatter

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// downUp is what doubling a picture by (3 1)/4 level times, and halving it as often by (1 3 3 1)/8, makes of it: a symmetric kernel along
// either axis, but for a few samples at the ends, since a picture that is halved goes on as its halves end.
type downUp struct {
	taps *vec.Symmetric
	ends [][]float32 // the weights of the first samples for sample i; those of the last are the same backwards
}

// newDownUp works out the weights for lines of n samples, in double precision, by doing it to one sample after another.
func newDownUp(level, n int) downUp {
	const enough = 24 // samples, that none at the middle sees the ends
	n = min(n, enough)
	all := make([][]float64, n) // what becomes of each sample
	for j := range all {
		line := make([]float64, n)
		line[j] = 1
		for range level {
			line = doubleLine(line)
		}
		for range level {
			line = halveLine(line)
		}
		all[j] = line
	}
	var d downUp
	if n < enough { // too short for a middle
		for i := range (n + 1) / 2 {
			d.ends = append(d.ends, column(all, i, n))
		}
		d.taps = vec.NewSymmetric([]float32{1})
		return d
	}
	middle, half := n/2, []float32{}
	for j := middle; j < n && all[j][middle] != 0; j++ {
		half = append(half, float32(all[j][middle]))
	}
	d.taps = vec.NewSymmetric(half)
	d.ends = [][]float32{column(all, 0, len(half))} // the first sample alone sees the end
	return d
}

// column are the weights of the first n samples for sample i.
func column(all [][]float64, i, n int) (out []float32) {
	for j := range min(n, len(all)) {
		out = append(out, float32(all[j][i]))
	}
	return out
}

func doubleLine(in []float64) []float64 {
	out, n := make([]float64, 2*len(in)), len(in)
	for x, v := range in {
		out[2*x], out[2*x+1] = 0.75*v+0.25*in[max(x-1, 0)], 0.75*v+0.25*in[min(x+1, n-1)]
	}
	return out
}

func halveLine(in []float64) []float64 {
	out, n := make([]float64, len(in)/2), len(in)
	for x := range out {
		out[x] = (in[max(2*x-1, 0)] + 3*in[2*x] + 3*in[2*x+1] + in[min(2*x+2, n-1)]) / 8
	}
	return out
}

// across sets dst to a row of it; line is room.
func (d downUp) across(dst, src, line []float32) {
	r, n := d.taps.Reach(), len(src)
	replicate(line, src, r)
	vec.Taps(dst, line[:n+2*r], d.taps)
	for i, weights := range d.ends {
		var first, last float32
		for j, w := range weights {
			first += w * src[j]
			last += w * src[n-1-j]
		}
		dst[i], dst[n-1-i] = first, last
	}
}

// down sets dst to row y of it, of h that at returns.
func (d downUp) down(dst []float32, y, h int, at func(y int) []float32, list [][]float32) {
	clear(dst[:cap(dst)])
	if i := min(y, h-1-y); i < len(d.ends) {
		for j, w := range d.ends[i] {
			if y != i { // from the end
				j = h - 1 - j
			}
			vec.Mix(dst, dst, at(j), 1, w)
		}
		return
	}
	for k := range d.taps.Reach() + 1 {
		if k == 0 {
			list[0] = at(y)
			continue
		}
		list[2*k-1], list[2*k] = at(max(y-k, 0)), at(min(y+k, h-1))
	}
	vec.Columns(dst, list, d.taps, 1)
}

// downUpOf is what becomes of the first three planes of a picture.
func downUpOf(ctx context.Context, src *frame.Frame, level int) (*frame.Frame, error) {
	wide, high := newDownUp(level, src.W), newDownUp(level, src.H)
	between := frame.Get(src.W, src.H, 3)
	defer between.Release()
	if err := frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		line := make([]float32, src.W+2*frame.LeftPad+frame.RightPad)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				wide.across(between.Row(p, y), src.Row(p, y), line)
			}
		}
	}); err != nil {
		return nil, err
	}
	dst := frame.Get(src.W, src.H, 3)
	return dst, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		list := make([][]float32, 2*high.taps.Reach()+1)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				high.down(dst.Row(p, y), y, src.H, func(y int) []float32 { return between.Row(p, y) }, list)
			}
		}
	})
}
