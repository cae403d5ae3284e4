package grain

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// Reference makes grain of clouds that are placed one by one where the picture's own density has them: the picture is made of them, its edges
// break up, and nothing is presumed of its statistics. It is hundreds of times slower than a Generator, and agrees with it in mean, deviation and
// correlation (scatter-and-grain, part C4).
//
// Film is divided into cells, half of a cloud's deviation wide or less, or a tenth of a pixel. Each has a number of clouds by chance (Poisson), from a hash of its place;
// each cloud is a Gaussian of density, seen through square pixels.
type Reference struct {
	set    Setting
	laws   [3]Gains // deviations, σ·√area in µm, over density
	layers [3]placing
	scan   [3]*scanning // nil where grain was scanned by pixels alone
}

// scanning is how grain was scanned: what differs from the picture as clouds show it passes through a scan.
type scanning struct {
	cloudsAcross, cloudsDown *vec.Symmetric
	scan                     *vec.Symmetric
}

// fogClouds is the density of the clouds that are there where nothing was exposed: they have grain too.
const fogClouds = 0.06

// placing is how the clouds of a layer lie on the raster.
type placing struct {
	nx, ny float64   // cells a pixel, whole numbers
	area   float64   // of a cell, µm²
	wx, wy []float64 // what of a cloud falls into a pixel, from the cell that is ox before its first on
	ox, oy int
}

// NewReference prepares the reference for a setting.
func NewReference(s Setting) *Reference {
	r := &Reference{set: s}
	across, down := s.pitches()
	for i := range 3 {
		law, k := Law(s.Cloud[i]), s.S[i]
		r.laws[i] = NewGains(s.Top, func(d float64) float64 {
			if s.Gain != nil {
				return k * law(d) * s.Gain[i].At(s.Top, d)
			}
			return k * law(d)
		})
		p := &r.layers[i]
		p.nx, p.wx, p.ox = seenThrough(across, s.Cloud[i])
		p.ny, p.wy, p.oy = seenThrough(down, s.Cloud[i])
		p.area = across / p.nx * down / p.ny
		if s.Crisp != 0 {
			r.scan[i] = &scanning{vec.NewSymmetric(through(s.Cloud[i] / across)), vec.NewSymmetric(through(s.Cloud[i] / down)),
				vec.NewSymmetric(following(within, func(f float64) float64 { return scanned(f, s.Crisp) }))}
		}
	}
	return r
}

// reach is how far beside a pixel the scan looks, and what it looks at.
func (s *scanning) reach() int {
	if s == nil {
		return 0
	}
	return s.scan.Reach() + max(s.cloudsAcross.Reach(), s.cloudsDown.Reach())
}

// mostCells is into how many cells a pixel is divided each way: where clouds are that small against it, more would tell nothing.
const mostCells = 10

// seenThrough are the cells across a pixel of a pitch, and the shares of a cloud at each of them that the pixel sees, from the cell first before its
// own on.
func seenThrough(pitch, cloud float64) (n float64, shares []float64, first int) {
	n = min(max(math.Ceil(pitch/(cloud/2)), 1), mostCells)
	width := pitch / n
	first = int(math.Ceil(4.5 * cloud / width))
	upto := func(x float64) float64 { return 0.5 * math.Erfc(-x/cloud/math.Sqrt2) }
	for c := -first; c < int(n)+first; c++ {
		at := (float64(c) + 0.5) * width
		shares = append(shares, upto(pitch-at)-upto(-at))
	}
	return n, shares, first
}

// evenedReach is no less than evened looks.
const evenedReach = 12

// Reach is how far beside a pixel is looked, in pixels.
func (r *Reference) Reach() int {
	reach := 0
	for _, p := range r.layers {
		reach = max(reach, (p.ox+int(p.nx)-1)/int(p.nx), (p.oy+int(p.ny)-1)/int(p.ny))
	}
	scan := 0
	for _, s := range r.scan {
		scan = max(scan, s.reach())
	}
	return reach + evenedReach + scan
}

// referenceRows are the rows of a work item.
const referenceRows = 32

// Run makes densities of clouds; further planes of src are passed on. src lies at left, top of the whole picture; beyond its edges it goes on as it
// ends. It stops with the context's error when ctx is done.
func (r *Reference) Run(ctx context.Context, src *frame.Frame, number, left, top int) (*frame.Frame, error) {
	dst := frame.Get(src.W, src.H, src.Planes)
	places, err := r.evened(ctx, src)
	if err != nil {
		return nil, err
	}
	err = frame.Bands(ctx, src.H, referenceRows, func(y0, y1 int) {
		for p := range src.Planes {
			if p > 2 {
				for y := y0; y < y1; y++ {
					copy(dst.Row(p, y), src.Row(p, y))
				}
				continue
			}
			if ctx.Err() != nil {
				return
			}
			r.band(dst, places, p, number, left, top, y0, y1)
		}
	})
	if err != nil || r.scan[0] == nil {
		return dst, err
	}
	defer dst.Release()
	return r.scanned(ctx, dst, src)
}

// scanned is a picture of clouds, made of src, with its grain through the scan.
func (r *Reference) scanned(ctx context.Context, clouds, src *frame.Frame) (*frame.Frame, error) {
	out := clouds.Clone()
	for p, s := range r.scan {
		mean, err := filtered(ctx, src, p, s.cloudsAcross, s.cloudsDown)
		if err != nil {
			return nil, err
		}
		grain := frame.New(src.W, src.H, 1)
		for y := range src.H {
			vec.Mix(grain.Row(0, y), clouds.Row(p, y), mean.Row(0, y), 1, -1)
		}
		if grain, err = filtered(ctx, grain, 0, s.scan, s.scan); err != nil {
			return nil, err
		}
		for y := range src.H {
			vec.Mix(out.Row(p, y), mean.Row(0, y), grain.Row(0, y), 1, 1)
		}
	}
	return out, nil
}

// filtered is a plane of a picture through a filter across and one down. Beyond its edges it goes on as it ends.
func filtered(ctx context.Context, src *frame.Frame, plane int, across, down *vec.Symmetric) (*frame.Frame, error) {
	wide, out := frame.New(src.W, src.H, 1), frame.New(src.W, src.H, 1)
	r, w := across.Reach(), src.W
	if err := frame.Bands(ctx, src.H, referenceRows, func(y0, y1 int) {
		line := make([]float32, w+2*r+64)
		for y := y0; y < y1; y++ {
			row := src.Row(plane, y)
			copy(line[r:], row)
			for i := range r {
				line[i], line[r+w+i] = row[0], row[w-1]
			}
			vec.Taps(wide.Row(0, y), line, across)
		}
	}); err != nil {
		return nil, err
	}
	return out, frame.Bands(ctx, src.H, referenceRows, func(y0, y1 int) {
		rows := make([][]float32, 2*down.Reach()+1)
		for y := y0; y < y1; y++ {
			rows[0] = wide.Row(0, y)
			for k := 1; k <= down.Reach(); k++ {
				rows[2*k-1], rows[2*k] = wide.Row(0, max(y-k, 0)), wide.Row(0, min(y+k, src.H-1))
			}
			vec.Columns(out.Row(0, y), rows, down, 1)
		}
	})
}

// evened is a picture whose clouds, placed evenly over the cells of each pixel and seen through pixels again, are the picture through the transfer of
// clouds and no more.
func (r *Reference) evened(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	var wide, high [3][]float32
	for i, p := range r.layers {
		across, down := r.set.pitches()
		wide[i], high[i] = placed(p.nx, r.set.Cloud[i]/across), placed(p.ny, r.set.Cloud[i]/down)
	}
	across, out := frame.New(src.W, src.H, 3), frame.New(src.W, src.H, 3)
	if err := frame.Bands(ctx, src.H, referenceRows, func(y0, y1 int) {
		for p, h := range wide {
			for y := y0; y < y1; y++ {
				from, to := src.Row(p, y), across.Row(p, y)
				for x := range to {
					v := h[0] * from[x]
					for k := 1; k < len(h); k++ {
						v += h[k] * (from[max(x-k, 0)] + from[min(x+k, src.W-1)])
					}
					to[x] = v
				}
			}
		}
	}); err != nil {
		return nil, err
	}
	return out, frame.Bands(ctx, src.H, referenceRows, func(y0, y1 int) {
		for p, h := range high {
			for y := y0; y < y1; y++ {
				to, mid := out.Row(p, y), across.Row(p, y)
				for x := range to {
					to[x] = h[0] * mid[x]
				}
				for k := 1; k < len(h); k++ {
					above, below := across.Row(p, max(y-k, 0)), across.Row(p, min(y+k, src.H-1))
					for x := range to {
						to[x] += h[k] * (above[x] + below[x])
					}
				}
			}
		}
	})
}

// placed is the filter that undoes what n cells a pixel and the pixel itself take besides clouds of a deviation, in pixels. A row of pixels has one value
// for all cells of each, so that every frequency comes with those that are whole numbers further: seen through clouds and pixels, they fall on it again.
func placed(n, sigma float64) []float32 {
	cloud := func(f float64) float64 { return math.Exp(-2 * math.Pi * math.Pi * sigma * sigma * f * f) }
	return following(0.003, func(f float64) float64 {
		seen := 0.0
		for k := -4.0; k <= 4; k++ {
			g := math.Pi * (f + k)
			cells := math.Sin(g) / (n * math.Sin(g/n))
			seen += cloud(f+k) * cells * math.Sin(g) / g
		}
		return cloud(f) / seen
	})
}

// band makes some rows of a layer.
func (r *Reference) band(dst, src *frame.Frame, layer, number, left, top, y0, y1 int) {
	p := &r.layers[layer]
	nx, ny := int(p.nx), int(p.ny)
	own, common := r.shares()
	a, b, now, turn := r.set.Motion.fields(number)
	keys := [2]uint64{Key(r.set.Seed, layer, a), Key(r.set.Seed, green, a)}
	later := [2]uint64{Key(r.set.Seed, layer, b), Key(r.set.Seed, green, b)}
	sums := make([][]float64, y1-y0)
	for i := range sums {
		sums[i] = make([]float64, src.W)
	}
	reach := (p.ox + nx - 1) / nx
	cells := make([]float64, (src.W+2*reach)*nx)
	line := make([]float64, src.W)
	rates := make([]rate, src.W+2*reach)
	last := math.MinInt
	for fy := y0*ny - p.oy; fy < y1*ny+p.oy; fy++ {
		py := floorDiv(fy, ny)
		row := src.Row(layer, min(max(py, 0), src.H-1))
		if at := min(max(py, 0), src.H-1); at != last {
			last = at
			for i := range rates {
				rates[i] = r.rate(layer, float64(row[min(max(i-reach, 0), src.W-1)]))
			}
		}
		gy := fy + top*ny
		for i := range rates {
			q := &rates[i]
			for k := range nx {
				gx := (left+i-reach)*nx + k
				z := 0.0
				switch {
				case turn != 0:
					z = float64(now)*normal(keys, gx, gy, own, common) + float64(turn)*normal(later, gx, gy, own, common)
				case own == 0:
					cells[i*nx+k] = q.of(unit(keys[1], gx, gy))
					continue
				case common == 0:
					cells[i*nx+k] = q.of(unit(keys[0], gx, gy))
					continue
				default:
					z = normal(keys, gx, gy, own, common)
				}
				cells[i*nx+k] = q.of(0.5 * math.Erfc(-z/math.Sqrt2))
			}
		}
		for x := range line {
			from := (x+reach)*nx - p.ox
			sum := 0.0
			for k, w := range p.wx {
				sum += w * cells[from+k]
			}
			line[x] = sum
		}
		for y := max(y0, floorDiv(fy-p.oy, ny)); y <= min(y1-1, floorDiv(fy+p.oy, ny)); y++ {
			k := fy - y*ny + p.oy
			if k < 0 || k >= len(p.wy) {
				continue
			}
			to, w := sums[y-y0], p.wy[k]
			for x, v := range line {
				to[x] += w * v
			}
		}
	}
	// clouds hold density times area; a pixel's share of them, over its area, is its density
	scale := 1 / (p.area * p.nx * p.ny)
	for y := y0; y < y1; y++ {
		to := dst.Row(layer, y)
		for x, v := range sums[y-y0] {
			to[x] = float32(v*scale - fogClouds)
		}
	}
}

// shares are how much of a layer's chance is its own, and how much it shares with the green one.
func (r *Reference) shares() (own, common float64) {
	own, common = math.Sqrt(1-r.set.Link*r.set.Link)*(1-r.set.Dull), r.set.Link
	return own, common
}

// rate is how many clouds a cell has on average, and what each holds, density times µm².
type rate struct {
	mean, each float64
	none       float64 // the chance that there is none
}

// rate is that of a density: as many clouds as there must be for it to deviate by the law.
func (r *Reference) rate(layer int, density float64) rate {
	d := max(density, 0)
	s := r.laws[layer].At(r.set.Top, d)
	whole := d + fogClouds
	each := s * s / whole
	if density < 0 { // less than none is made less, not noisier
		whole = max(density+fogClouds, 0)
	}
	mean := whole * r.layers[layer].area / each
	return rate{mean, each, math.Exp(-mean)}
}

// of is what the clouds of a cell hold, by a number between 0 and 1: the quantile of Poisson's law.
func (q *rate) of(u float64) float64 {
	const many = 16
	if q.mean > many { // nearly normal: Cornish and Fisher's first terms
		z := math.Sqrt2 * math.Erfinv(2*u-1)
		return q.each * max(math.Round(q.mean+math.Sqrt(q.mean)*z+(z*z-1)/6), 0)
	}
	p := q.none
	sum, n := p, 0.0
	for sum < u && n < 200 {
		n++
		p *= q.mean / n
		sum += p
	}
	return q.each * n
}

// unit is a number above 0 and under 1 for a cell.
func unit(key uint64, x, y int) float64 {
	return (float64(mix64(mix64(counter(key, x, y))^key)>>12) + 0.5) / (1 << 52)
}

// normal is a normal number for a cell, of a layer's own and what it shares.
func normal(keys [2]uint64, x, y int, own, common float64) float64 {
	of := func(key uint64) float64 { return math.Sqrt2 * math.Erfinv(2*unit(key, x, y)-1) }
	v := common * of(keys[1])
	if own != 0 {
		v += own * of(keys[0])
	}
	return v
}

func floorDiv(a, b int) int {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}
