package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// Gaussian is one term of a point spread: standard deviation in pixels, and weight.
type Gaussian struct{ Sigma, Weight float64 }

// Blur is the weighted sum of Gaussian blurs of the first three planes of src, all served by one
// pyramid at a cost that hardly grows with their width. Each term is a short kernel at the level
// where its σ is 1.5 to 3 samples, less the variance ½(4ᴸ−1) px² that going down (1 3 3 1)/8 and
// up (3 1)/4 adds by itself.
func Blur(ctx context.Context, src *frame.Frame, terms []Gaussian) (*frame.Frame, error) {
	byLevel := map[int][]kernel{}
	top := 0
	for _, t := range terms {
		l, k := plan(t, src.W, src.H)
		byLevel[l] = append(byLevel[l], k)
		top = max(top, l)
	}
	levels := make([]*frame.Frame, top+1)
	levels[0] = src
	for l := 1; l <= top; l++ {
		var err error
		if levels[l], err = down(ctx, levels[l-1]); err != nil {
			return nil, err
		}
	}
	var acc *frame.Frame
	for l := top; l >= 0; l-- {
		sum := frame.New(levels[l].W, levels[l].H, 3)
		for _, k := range byLevel[l] {
			if err := k.add(ctx, sum, levels[l]); err != nil {
				return nil, err
			}
		}
		if acc != nil {
			if err := addUp(ctx, sum, acc); err != nil {
				return nil, err
			}
		}
		acc = sum
	}
	return acc, nil
}

type kernel struct {
	taps   []float32
	weight float32
}

func plan(t Gaussian, w, h int) (int, kernel) {
	l := 0
	for t.Sigma/math.Exp2(float64(l+1)) >= 1.5 && min(w, h)>>(l+1) >= 2 {
		l++
	}
	four := math.Exp2(float64(2 * l))
	v := max((t.Sigma*t.Sigma-0.5*(four-1))/four, 0)
	return l, kernel{gaussianTaps(math.Sqrt(v)), float32(t.Weight)}
}

// gaussianTaps is half of a discrete Gaussian of sum 1, centre first.
func gaussianTaps(sigma float64) []float32 {
	if sigma < 0.05 {
		return []float32{1}
	}
	r := min(int(math.Ceil(4*sigma)), frame.LeftPad-1)
	// averaging over a sample adds 1/12 of variance, so take it off first
	sigma = math.Sqrt(max(sigma*sigma-1.0/12, 0.01))
	h := make([]float64, r+1)
	sum := 0.0
	for k := range h {
		// the integral over a sample's width keeps the sum right for small σ
		h[k] = math.Erf((float64(k)+0.5)/sigma/math.Sqrt2) - math.Erf((float64(k)-0.5)/sigma/math.Sqrt2)
		if k == 0 {
			sum += h[k]
		} else {
			sum += 2 * h[k]
		}
	}
	out := make([]float32, r+1)
	for k := range out {
		out[k] = float32(h[k] / sum)
	}
	return out
}

const band = 16

// add adds the kernel's blur of src to dst.
func (k kernel) add(ctx context.Context, dst, src *frame.Frame) error {
	r := len(k.taps) - 1
	if r == 0 {
		return frame.Bands(ctx, src.H, band, func(y0, y1 int) {
			for p := range 3 {
				for y := y0; y < y1; y++ {
					d := dst.Row(p, y)
					vec.Mix(d, d, src.Row(p, y), 1, k.weight)
				}
			}
		})
	}
	across := frame.New(src.W, src.H, 3)
	if err := frame.Bands(ctx, src.H, band, func(y0, y1 int) {
		line := make([]float32, src.W+2*frame.LeftPad+frame.RightPad)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				replicate(line, src.Row(p, y), r)
				vec.Taps(across.Row(p, y), line[:src.W+2*r], k.taps)
			}
		}
	}); err != nil {
		return err
	}
	return frame.Bands(ctx, src.H, band, func(y0, y1 int) {
		for p := range 3 {
			row := func(y int) []float32 { return across.Row(p, min(max(y, 0), src.H-1)) }
			for y := y0; y < y1; y++ {
				d := dst.Row(p, y)
				vec.Mix(d, d, row(y), 1, k.weight*k.taps[0])
				for i := 1; i <= r; i++ {
					w := k.weight * k.taps[i]
					vec.Weigh(d, d, row(y-i), row(y+i), d, &[4]float32{1, w, w, 0})
				}
			}
		}
	})
}

// replicate writes row to line with r samples of its edges on either side (and enough more for
// a kernel's overrun).
func replicate(line, row []float32, r int) {
	n := copy(line[r:], row)
	for i := range r {
		line[i] = row[0]
	}
	for i := r + n; i < min(r+n+r+16, len(line)); i++ {
		line[i] = row[n-1]
	}
}

// down halves a picture by (1 3 3 1)/8 along both axes.
func down(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	dst := frame.New((src.W+1)/2, (src.H+1)/2, 3)
	k := &[4]float32{0.125, 0.375, 0.375, 0.125}
	err := frame.Bands(ctx, dst.H, band, func(y0, y1 int) {
		buf := make([]float32, src.W+frame.LeftPad+frame.RightPad)
		line := buf[frame.LeftPad : frame.LeftPad+src.W : len(buf)]
		for p := range 3 {
			row := func(y int) []float32 { return src.Row(p, min(max(y, 0), src.H-1)) }
			for y := y0; y < y1; y++ {
				vec.Weigh(line, row(2*y-1), row(2*y), row(2*y+1), row(2*y+2), k)
				last := line[src.W-1]
				buf[frame.LeftPad-1] = line[0]
				for i := src.W; i < src.W+4; i++ {
					buf[frame.LeftPad+i] = last
				}
				d, s := dst.Row(p, y), buf[frame.LeftPad-1:]
				for x := range d {
					q := s[2*x : 2*x+4 : 2*x+4]
					d[x] = 0.125*(q[0]+q[3]) + 0.375*(q[1]+q[2])
				}
			}
		}
	})
	return dst, err
}

// addUp adds src, bilinearly doubled, to dst.
func addUp(ctx context.Context, dst, src *frame.Frame) error {
	return frame.Bands(ctx, dst.H, band, func(y0, y1 int) {
		buf := make([]float32, src.W+frame.LeftPad+frame.RightPad)
		line := buf[frame.LeftPad : frame.LeftPad+src.W : len(buf)]
		for p := range 3 {
			row := func(y int) []float32 { return src.Row(p, min(max(y, 0), src.H-1)) }
			for y := y0; y < y1; y++ {
				near, far := y/2, y/2-1+2*(y&1)
				vec.Mix(line, row(near), row(far), 0.75, 0.25)
				buf[frame.LeftPad-1], buf[frame.LeftPad+src.W] = line[0], line[src.W-1]
				d, s := dst.Row(p, y), buf[frame.LeftPad-1:]
				for x := 0; x+1 < len(d); x += 2 {
					q := s[x/2 : x/2+3 : x/2+3]
					d[x] += 0.75*q[1] + 0.25*q[0]
					d[x+1] += 0.75*q[1] + 0.25*q[2]
				}
				if x := len(d) - 1; x&1 == 0 {
					d[x] += 0.75*s[x/2+1] + 0.25*s[x/2]
				}
			}
		}
	})
}
