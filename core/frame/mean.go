package frame

import (
	"context"
	"math"

	"velours/core/vec"
)

// Mean is the average of every plane over squares that reach radius samples to each side, not only by
// whole samples: the outermost count by their share, so that a picture and a smaller copy of it agree. Beyond
// its edges a picture goes on as it ends. The cost does not grow with the radius.
func Mean(ctx context.Context, src *Frame, radius float64) (*Frame, error) {
	return means(ctx, src, radius, 1)
}

// MeanOf is Mean of a picture of w×h whose rows, one a plane, fill makes as they are needed, once each, on every core. The
// radius is above 0.
func MeanOf(ctx context.Context, w, h, planes int, radius float64, fill func(rows [][]float32, y int)) (*Frame, error) {
	s := newSlide(radius)
	across, err := s.across(ctx, w, h, planes, 1, fill)
	if err != nil {
		return nil, err
	}
	defer across.Release()
	return s.down(ctx, across, 1)
}

// means is Mean so many times over. Averages along rows do not mind those along columns, so each go together.
func means(ctx context.Context, src *Frame, radius float64, times int) (*Frame, error) {
	if radius <= 0 {
		return src.Clone(), ctx.Err()
	}
	s := newSlide(radius)
	across, err := s.across(ctx, src.W, src.H, src.Planes, times, func(rows [][]float32, y int) {
		for p, row := range rows {
			copy(row, src.Row(p, y))
		}
	})
	if err != nil {
		return nil, err
	}
	defer across.Release()
	return s.down(ctx, across, times)
}

// slide is a window of averages: so many samples count whole on each side, and a share of the next.
type slide struct {
	whole        int
	share, scale float64
}

func newSlide(radius float64) slide {
	whole := int(radius)
	return slide{whole, radius - float64(whole), 1 / (2*radius + 1)}
}

// across averages along rows, times over.
func (s slide) across(ctx context.Context, w, h, planes, times int, fill func(rows [][]float32, y int)) (*Frame, error) {
	out := Get(w, h, planes)
	return out, Bands(ctx, h, 16, func(y0, y1 int) {
		lines, rows := newLines(w, planes, s.whole+1)
		other, rowsOfOther := newLines(w, min(times-1, 1), s.whole+1)
		var to [4][]float32
		for y := y0; y < y1; y += len(to) {
			for k := range to {
				fill(rows[k], min(y+k, y1-1))
			}
			for p := range lines {
				for t := range times {
					from := &lines[p]
					if t%2 == 1 {
						from = &other[0]
					}
					for k, line := range from {
						extend(line, w, s.whole+1)
						switch {
						case t == times-1:
							to[k] = out.Row(p, min(y+k, y1-1))
						case t%2 == 1:
							to[k] = rows[k][p]
						default:
							to[k] = rowsOfOther[k][0]
						}
					}
					vec.SlideAcross(&to, from, s.whole, s.share, s.scale)
				}
			}
		}
	})
}

// down averages along columns, times over. Strips of columns go all the way down, so that a window is summed once.
func (s slide) down(ctx context.Context, src *Frame, times int) (*Frame, error) {
	w, h := src.W, src.H
	out := Get(w, h, src.Planes)
	strips := (w + meanStrip - 1) / meanStrip
	return out, Bands(ctx, strips*src.Planes, 1, func(k, _ int) {
		p, x := k/strips, k%strips*meanStrip
		n := min(meanStrip, w-x)
		sum := newSums(n)
		from := func(y int) []float32 { return src.Part(p, y, x, n) }
		var between [2]*Frame
		for t := range times {
			to := func(y int) []float32 { return out.Part(p, y, x, n) }
			if t < times-1 {
				f := Get(n, h, 1)
				between[t%2] = f
				to = func(y int) []float32 { return f.Row(0, y) }
			}
			s.strip(to, from, h, sum)
			if old := between[(t+1)%2]; old != nil {
				between[(t+1)%2] = nil
				old.Release()
			}
			from = to
		}
	})
}

// strip averages the columns of h rows.
func (s slide) strip(to, from func(y int) []float32, h int, sum []float64) {
	row := func(y int) []float32 { return from(min(max(y, 0), h-1)) }
	clear(sum)
	for y := -s.whole; y <= s.whole; y++ {
		for x, v := range row(y) {
			sum[x] += float64(v)
		}
	}
	for y := range h {
		vec.SlideDown(to(y), sum, row(y-s.whole-1), row(y+s.whole+1), row(y-s.whole), s.share, s.scale)
	}
}

// meanStrip is how many columns are averaged together.
const meanStrip = 640

func newSums(n int) []float64 { return make([]float64, n, n+RightPad) }

// newLines is four lines a plane with room for n samples beside either end, and, four times, one row a plane within them.
func newLines(w, planes, n int) (lines [][4][]float32, rows [4][][]float32) {
	lines = make([][4][]float32, planes)
	for p := range lines {
		for k := range lines[p] {
			line := make([]float32, w+2*n+RightPad)
			lines[p][k] = line
			rows[k] = append(rows[k], line[n:n+w])
		}
	}
	return lines, rows
}

// extend has the w samples that a line holds from n on go on as they end, by n to either side.
func extend(line []float32, w, n int) {
	for i := range n {
		line[i], line[n+w+i] = line[n], line[n+w-1]
	}
}

// Soften is a blur of standard deviation sigma, in samples: four averages in turn, which have a Gaussian's
// variance and come within a thirteenth of its peak.
func Soften(ctx context.Context, src *Frame, sigma float64) (*Frame, error) {
	// n whole samples and a share s each side have the variance (n(n+1)(2n+1)/3 + 2s(n+1)²)/(2n+1+2s)
	v := sigma * sigma / 4
	n := math.Floor((math.Sqrt(1+12*v) - 1) / 2)
	r := n + (2*n+1)*(v-n*(n+1)/3)/(2*((n+1)*(n+1)-v))
	return means(ctx, src, r, 4)
}
