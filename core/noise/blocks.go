package noise

import "math"

const (
	// block is the size of what is measured at once, step how far blocks are apart: a block is 3 × 3 cells.
	block, step = 24, 8
	cells       = block / step
	// lags is how far neighbours are compared.
	lags = 9
)

// cell are sums over a square of step pixels.
type cell struct {
	mean, square, slopeX, slopeY float64    // of the luminance of both frames' mean
	value                        [3]float64 // of each channel of both frames' mean
	energy                       [3]float64 // of the difference
	bright                       float64    // of the luminance's difference
	clipped                      float64    // pixels at an end of the range in either frame
}

func (c *cell) add(d *cell) {
	c.mean, c.square, c.slopeX, c.slopeY = c.mean+d.mean, c.square+d.square, c.slopeX+d.slopeX, c.slopeY+d.slopeY
	for i := range c.energy {
		c.value[i] += d.value[i]
		c.energy[i] += d.energy[i]
	}
	c.bright, c.clipped = c.bright+d.bright, c.clipped+d.clipped
}

// pair are two frames laid over each other by one displacement, where something moved by it.
type pair struct {
	shift Shift
	x, y  int      // where it begins, in cells of the frames
	diff  *picture // their difference over √2, flicker taken off
	w, h  int      // in cells
	cells []cell
}

// laid lays b over a by a motion, in its place and a tile about it.
func laid(a, b *picture, m motion) *pair {
	s := m.Shift
	x0, y0 := max(m.at.X-tile, 0)/step*step, max(m.at.Y-tile, 0)/step*step
	w, h := min(m.at.X+m.at.W+tile, a.c[0].w)-x0, min(m.at.Y+m.at.H+tile, a.c[0].h)-y0
	a, b = a.cut(x0, y0, w, h), b.cut(x0, y0, w, h)
	u, v := a, b.shifted(-s.X, -s.Y)
	p := &pair{shift: s, x: x0 / step, y: y0 / step, diff: &picture{}, w: w / step, h: h / step}
	p.cells = make([]cell, p.w*p.h)
	for i := range p.diff.c {
		d := newPlane(w, h)
		p.diff.c[i] = d
		each(h, func(y int) {
			x1, x2, to := u.c[i].row(y), v.c[i].row(y), d.row(y)
			for x := range to {
				to[x] = (x2[x] - x1[x]) * math.Sqrt2 / 2
			}
		})
		flicker := median(d.v)
		for k := range d.v {
			d.v[k] -= flicker
		}
	}
	each(p.h, func(cy int) {
		for y := cy * step; y < (cy+1)*step; y++ {
			l1, l2, dl := u.c[lumaAt].row(y), v.c[lumaAt].row(y), p.diff.c[lumaAt].row(y)
			for cx := range p.w {
				c := &p.cells[cy*p.w+cx]
				for x := cx * step; x < (cx+1)*step; x++ {
					m := (float64(l1[x]) + float64(l2[x])) / 2
					c.mean += m
					c.square += m * m
					c.slopeX += float64(x) * m
					c.slopeY += float64(y) * m
					c.bright += float64(dl[x]) * float64(dl[x])
				}
			}
			for i := range 3 {
				r1, r2, rd := u.c[i].row(y), v.c[i].row(y), p.diff.c[i].row(y)
				for cx := range p.w {
					c := &p.cells[cy*p.w+cx]
					for x := cx * step; x < (cx+1)*step; x++ {
						k, d := r1[x], float64(rd[x])
						c.energy[i] += d * d
						c.value[i] += (float64(k) + float64(r2[x])) / 2
						if k <= 0 || k >= 1 {
							c.clipped++
						}
					}
				}
			}
		}
	})
	return p
}

// margin is how far from the edges blocks stay: what was shifted in, and how far the shift rings.
func (p *pair) margin() int {
	if p.shift == (Shift{}) {
		return 0
	}
	return int(math.Ceil(max(math.Abs(p.shift.X), math.Abs(p.shift.Y)))) + 8
}

// sample is a block of a pair that may be measured.
type sample struct {
	pair   *pair
	x, y   int        // in pixels of the pair
	mean   float64    // of luminance
	value  [3]float64 // of each channel
	active float64    // what of the luminance's variance no plane explains
	energy [3]float64 // mean square of each channel's difference
}

// block sums the cells of a block that begins at a cell of the frames; false where the pair does not reach.
func (p *pair) block(x, y int) (s cell, ok bool) {
	x, y = x-p.x, y-p.y
	if x < 0 || y < 0 || x+cells > p.w || y+cells > p.h {
		return s, false
	}
	for j := range cells {
		for i := range cells {
			s.add(&p.cells[(y+j)*p.w+x+i])
		}
	}
	return s, true
}

// samples are the blocks of the pair of frames that pairs lay over each other, each by the displacement under which least is left, looked at
// over five blocks each way. Those that are clipped are left out, and those outside boxes, if there are any. The first pair covers the frames.
func samples(pairs []*pair, boxes []Area) (out []sample, clipped int) {
	w, h := pairs[0].w-cells+1, pairs[0].h-cells+1
	if w < 1 || h < 1 {
		return nil, 0
	}
	sums := make([][]cell, len(pairs))
	reached := make([][]bool, len(pairs))
	for k, p := range pairs {
		sums[k], reached[k] = make([]cell, w*h), make([]bool, w*h)
		each(h, func(y int) {
			for x := range w {
				sums[k][y*w+x], reached[k][y*w+x] = p.block(x, y)
			}
		})
	}
	for y := range h {
		for x := range w {
			best, least := 0, math.Inf(1)
			if len(pairs) > 1 {
				for k := range pairs {
					sum, n := 0.0, 0.0
					for j := max(y-2, 0); j <= min(y+2, h-1); j++ {
						for i := max(x-2, 0); i <= min(x+2, w-1); i++ {
							if reached[k][j*w+i] {
								sum, n = sum+sums[k][j*w+i].bright, n+1
							}
						}
					}
					if reached[k][y*w+x] && sum/n < least {
						best, least = k, sum/n
					}
				}
			}
			p, s := pairs[best], &sums[best][y*w+x]
			px, py, edge := x*step, y*step, p.margin()
			ix, iy := px-p.x*step, py-p.y*step // in the pair
			if ix < edge || iy < edge || ix+block > p.w*step-edge || iy+block > p.h*step-edge || !covered(boxes, px, py) {
				continue
			}
			const n = block * block
			if s.clipped > 0.005*3*n {
				clipped++
				continue
			}
			const about = n * (block*block - 1) / 12.0 // Σ of squared distances from the middle
			cx, cy, mean := float64(ix)+(block-1)/2.0, float64(iy)+(block-1)/2.0, s.mean/n
			sx, sy := s.slopeX-cx*s.mean, s.slopeY-cy*s.mean
			b := sample{pair: p, x: ix, y: iy, mean: mean, active: max((s.square-s.mean*mean-(sx*sx+sy*sy)/about)/n, 0)}
			for i := range b.energy {
				b.value[i], b.energy[i] = s.value[i]/n, s.energy[i]/n
			}
			out = append(out, b)
		}
	}
	return out, clipped
}

// LeastBox is how wide and high a box is at least, in pixels: smaller ones hold no block.
const LeastBox = block + step

// Area is a part of a picture to measure in, in pixels.
type Area struct {
	X int `json:"x"`
	Y int `json:"y"`
	W int `json:"width"`
	H int `json:"height"`
}

func covered(boxes []Area, x, y int) bool {
	for _, b := range boxes {
		if x >= b.X && y >= b.Y && x+block <= b.X+b.W && y+block <= b.Y+b.H {
			return true
		}
	}
	return len(boxes) == 0
}

// median is that of a twelfth of the values or so.
func median(v []float32) float32 {
	var some []float32
	for i := 0; i < len(v); i += max(1, len(v)/40000) | 1 {
		some = append(some, v[i])
	}
	return quantile(some, 0.5)
}
