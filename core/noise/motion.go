package noise

import (
	"math"
	"math/cmplx"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"
)

// Shift is how far something moved from a frame to the next, in pixels to the right and down.
type Shift struct{ X, Y float64 }

func (s Shift) from(t Shift) float64 { return math.Hypot(s.X-t.X, s.Y-t.Y) }

const (
	// tile is the size of the windows in which motion is looked for, tileStep how far apart they are at least, and mostTiles how many there
	// are at most.
	tile, tileStep, mostTiles = 64, 32, 700
	// leastVotes is how many tiles must agree on a displacement, alike how near they must be, in pixels.
	leastVotes, alike = 3, 0.75
	// mostShifts is how many displacements a frame is given beside none.
	mostShifts = 6
	// quiet is the blur before motion is looked for, in pixels, and fine the frequency above which it is noise, cycles a pixel.
	quiet, fine = 1.2, 0.16
)

// tiles are the places of the windows over a picture.
func tiles(w, h int) (at [][2]int) {
	if w < tile || h < tile {
		return nil
	}
	step := tileStep
	for ((w-tile)/step+1)*((h-tile)/step+1) > mostTiles {
		step += 8
	}
	for y := 0; y+tile <= h; y += step {
		for x := 0; x+tile <= w; x += step {
			at = append(at, [2]int{x, y})
		}
	}
	return at
}

// rounds is in how many turns tiles are asked: what a displacement explains need not be asked any more.
const rounds = 16

// motion is a displacement, and what of the picture it was found in.
type motion struct {
	Shift
	at Area
}

// A vote is how a tile says that it moved.
type vote struct {
	tile [2]int
	Shift
	given     bool
	explained bool
}

// motions are the displacements that explain what moved from a to b, planes of luminance: none first, then those on which tiles agree. floor is
// the mean squared difference that noise makes, 0 where that is not known; guesses are tried first. The planes are softened (quiet).
func motions(a, b *plane, floor float64, guesses []Shift) []motion {
	votes := make([]vote, 0, mostTiles)
	for _, t := range tiles(a.w, a.h) {
		votes = append(votes, vote{tile: t})
	}
	out := []motion{{at: Area{0, 0, a.w, a.h}}}
	if floor > 0 {
		out[0].explain(a, b, votes, floor)
		for _, s := range guesses {
			var at [][2]int
			for _, v := range votes {
				if !v.explained && differ(a, b, v.tile, s) < 2*floor {
					at = append(at, v.tile)
				}
			}
			if len(at) < leastVotes {
				continue
			}
			if m := (motion{Shift: refined(a, b, s, at)}); m.explain(a, b, votes, floor) {
				out = append(out, m)
			}
		}
	}
	parts := 8
	correlators := make([]*correlator, parts)
	for round := range rounds {
		each(parts, func(i int) {
			for k := round + i*rounds; k < len(votes); k += rounds * parts {
				v := &votes[k]
				if v.explained {
					continue
				}
				if correlators[i] == nil {
					correlators[i] = newCorrelator()
				}
				if s := correlators[i].shift(a, b, v.tile[0], v.tile[1]); s != nil {
					v.Shift, v.given = *s, true
				}
			}
		})
		for i := range out { // what those there are explain of the tiles that were asked now
			out[i].explain(a, b, votes, floor)
		}
		for len(out) <= mostShifts {
			agreed, at := agreement(votes)
			if len(at) < leastVotes {
				break
			}
			s := agreed
			if s.from(Shift{}) > 0.03 {
				s = refined(a, b, agreed, at)
			}
			i := slices.IndexFunc(out, func(m motion) bool { return m.from(s) < 0.1 })
			if s.from(Shift{}) <= 0.03 { // none
				i = 0
			} else if i < 0 {
				i = len(out)
				out = append(out, motion{Shift: s})
			}
			if !out[i].explain(a, b, votes, floor) { // nor will it another time
				for k := range votes {
					if v := &votes[k]; v.given && v.from(agreed) < alike {
						v.explained = true
					}
				}
			}
		}
	}
	return out
}

// with is a box about two.
func (b Area) with(c Area) Area {
	if b.W == 0 {
		return c
	}
	x, y := min(b.X, c.X), min(b.Y, c.Y)
	return Area{x, y, max(b.X+b.W, c.X+c.W) - x, max(b.Y+b.H, c.Y+c.H) - y}
}

// agreement is the displacement that most of the votes that are not yet explained agree on, and their tiles.
func agreement(votes []vote) (Shift, [][2]int) {
	type group struct {
		s     Shift
		tiles [][2]int
	}
	var groups []*group
	var most *group
	for _, v := range votes {
		if !v.given || v.explained {
			continue
		}
		var near *group
		for _, g := range groups {
			if g.s.from(v.Shift) < alike && (near == nil || g.s.from(v.Shift) < near.s.from(v.Shift)) {
				near = g
			}
		}
		if near == nil {
			near = &group{s: v.Shift}
			groups = append(groups, near)
		}
		n := float64(len(near.tiles))
		near.s.X, near.s.Y = (near.s.X*n+v.X)/(n+1), (near.s.Y*n+v.Y)/(n+1)
		near.tiles = append(near.tiles, v.tile)
		if most == nil || len(near.tiles) > len(most.tiles) {
			most = near
		}
	}
	if most == nil {
		return Shift{}, nil
	}
	return most.s, most.tiles
}

// explain marks the tiles that a motion explains: under it they differ hardly more than by noise, or than under what they said themselves. It tells
// whether there were any.
func (m *motion) explain(a, b *plane, votes []vote, floor float64) bool {
	s := m.Shift
	under := make([]float64, len(votes))
	own := make([]float64, len(votes))
	each(len(votes), func(k int) {
		v := &votes[k]
		if v.explained {
			return
		}
		under[k] = differ(a, b, v.tile, s)
		if v.given {
			own[k] = differ(a, b, v.tile, v.Shift)
		}
	})
	usual := floor
	if floor == 0 {
		var near []float32
		for k := range votes {
			if v := &votes[k]; v.given && !v.explained && v.from(s) < alike {
				near = append(near, float32(under[k]))
			}
		}
		usual = float64(quantile(near, 0.5))
	}
	any := false
	for k := range votes {
		v := &votes[k]
		if v.explained {
			continue
		}
		if under[k] <= 1.3*usual && (floor > 0 || !v.given) || v.given && under[k] <= 1.15*own[k] {
			v.explained, any = true, true
			m.at = m.at.with(Area{v.tile[0], v.tile[1], tile, tile})
		}
	}
	return any
}

// differ is the mean squared difference of a tile of a from where it is in b under a displacement, straight between pixels.
func differ(a, b *plane, t [2]int, s Shift) float64 {
	ix, iy := int(math.Floor(s.X)), int(math.Floor(s.Y))
	u, v := float32(s.X-float64(ix)), float32(s.Y-float64(iy))
	sum, n := float32(0), 0
	for y := t[1] + 2; y < t[1]+tile; y += 3 {
		p, q := min(max(y+iy, 0), b.h-1), min(max(y+iy+1, 0), b.h-1)
		up, down, row := b.row(p), b.row(q), a.row(y)
		for x := t[0] + 2; x < t[0]+tile; x += 3 {
			i, j := min(max(x+ix, 0), b.w-1), min(max(x+ix+1, 0), b.w-1)
			d := (1-v)*((1-u)*up[i]+u*up[j]) + v*((1-u)*down[i]+u*down[j]) - row[x]
			sum, n = sum+d*d, n+1
		}
	}
	return float64(sum) / float64(n)
}

// correlator finds how a tile moved.
type correlator struct {
	fft     *fourier.CmplxFFT
	weights [tile]float64 // of a window's samples
	pass    [tile][tile]float64
	a, b    [][]complex128
	line    []complex128
}

func newCorrelator() *correlator {
	c := &correlator{fft: fourier.NewCmplxFFT(tile), a: make([][]complex128, tile), b: make([][]complex128, tile), line: make([]complex128, tile)}
	freq := func(k int) float64 { return float64(min(k, tile-k)) / tile }
	for i := range tile {
		c.weights[i] = 0.5 - 0.5*math.Cos(2*math.Pi*(float64(i)+0.5)/tile)
		c.a[i], c.b[i] = make([]complex128, tile), make([]complex128, tile)
		for k := range tile {
			f := math.Hypot(freq(i), freq(k)) / fine
			c.pass[i][k] = math.Exp(-f * f)
		}
	}
	return c
}

// window is a window of a plane, its mean taken off, as the real or the imaginary parts of numbers; what varies in it is returned.
func (c *correlator) window(to [][]complex128, p *plane, x0, y0 int, unit complex128) float64 {
	mean := 0.0
	for y := range tile {
		for _, v := range p.row(y0 + y)[x0 : x0+tile] {
			mean += float64(v)
		}
	}
	mean /= tile * tile
	varies := 0.0
	for y := range tile {
		for x, v := range p.row(y0 + y)[x0 : x0+tile] {
			d := (float64(v) - mean) * c.weights[x] * c.weights[y]
			varies += d * d
			to[y][x] += complex(d, 0) * unit
		}
	}
	return varies / (tile * tile)
}

// both runs a transform along rows and columns.
func (c *correlator) both(m [][]complex128, do func(dst, src []complex128) []complex128) {
	for y := range m {
		do(c.line, m[y])
		copy(m[y], c.line)
	}
	column := make([]complex128, tile)
	for x := range tile {
		for y := range m {
			column[y] = m[y][x]
		}
		do(c.line, column)
		for y := range m {
			m[y][x] = c.line[y]
		}
	}
}

// shift is how the window at x0, y0 moved, nil where that cannot be told: nothing to be seen in it, or nothing that stands out.
func (c *correlator) shift(a, b *plane, x0, y0 int) *Shift {
	const empty = 1e-7
	for y := range c.b {
		clear(c.b[y])
	}
	if c.window(c.b, a, x0, y0, 1) < empty || c.window(c.b, b, x0, y0, 1i) < empty {
		return nil
	}
	c.both(c.b, c.fft.Coefficients) // of two real pictures in one: that of a is what is even in it, of b what is odd
	weight := 0.0
	for y := range tile {
		for x := range tile {
			u, v := c.b[y][x], cmplx.Conj(c.b[(tile-y)%tile][(tile-x)%tile])
			z := (u - v) * complex(0, -0.5) * cmplx.Conj((u+v)/2)
			if l := cmplx.Abs(z); l > 0 {
				z *= complex(c.pass[y][x]/l, 0)
			}
			weight += c.pass[y][x]
			c.a[y][x] = z
		}
	}
	c.both(c.a, c.fft.Sequence)
	best, bx, by := 0.0, 0, 0
	for y := range tile {
		for x := range tile {
			if v := real(c.a[y][x]); v > best {
				best, bx, by = v, x, y
			}
		}
	}
	const clear = 0.25 // of the height of a peak where nothing but the shift differs
	if best < clear*weight {
		return nil
	}
	at := func(x, y int) float64 { return real(c.a[(y+tile)%tile][(x+tile)%tile]) }
	peak := func(l, m, r float64) float64 {
		if d := l - 2*m + r; d < 0 {
			return (l - r) / (2 * d)
		}
		return 0
	}
	signed := func(k int) float64 {
		if k > tile/2 {
			k -= tile
		}
		return float64(k)
	}
	s := Shift{signed(bx) + peak(at(bx-1, by), best, at(bx+1, by)), signed(by) + peak(at(bx, by-1), best, at(bx, by+1))}
	if math.Abs(s.X) > tile/3 || math.Abs(s.Y) > tile/3 {
		return nil
	}
	return &s
}

// refined brings a displacement of some tiles to a hundredth of a pixel: by the slopes of both pictures' mean, in which noise leaves no bias.
func refined(a, b *plane, s Shift, at [][2]int) Shift {
	const most = 32
	if len(at) > most {
		thin := make([][2]int, 0, most)
		for i := range most {
			thin = append(thin, at[i*len(at)/most])
		}
		at = thin
	}
	apart := 2
	if len(at) > 12 {
		apart = 4
	}
	for range 6 {
		var sums slopes
		parts := make([]slopes, len(at))
		each(len(at), func(k int) { parts[k] = slopesOf(a, b, s, at[k], apart) })
		for _, p := range parts {
			for i, v := range p {
				sums[i] += v
			}
		}
		xx, xy, yy, xt, yt := sums[0], sums[1], sums[2], sums[3], sums[4]
		det := xx*yy - xy*xy
		if det < 1e-12*(xx+yy)*(xx+yy) || det == 0 {
			return s
		}
		dx, dy := (yy*xt-xy*yt)/det, (xx*yt-xy*xt)/det
		if math.Hypot(dx, dy) > 1 {
			return s
		}
		s.X, s.Y = s.X+dx, s.Y+dy
		if math.Hypot(dx, dy) < 1e-3 {
			break
		}
	}
	return s
}

// slopes are sums over pixels of the products of two pictures' mean slopes, across × across, across × down, down × down, and of each with what the
// pictures differ by.
type slopes [5]float64

// slopesOf sums over every so many pixels of a tile, under a displacement: what is at x in a is at x + s in b.
func slopesOf(a, b *plane, s Shift, t [2]int, apart int) (sums slopes) {
	ix, iy := int(math.Floor(s.X)), int(math.Floor(s.Y))
	wx, wy := cubic(s.X-float64(ix)), cubic(s.Y-float64(iy))
	for y := t[1] + 4; y < t[1]+tile-4; y += apart {
		for x := t[0] + 4; x < t[0]+tile-4; x += apart {
			if u, v := x+ix, y+iy; u < 2 || v < 2 || u > b.w-4 || v > b.h-4 || x < 2 || y < 2 || x > a.w-3 || y > a.h-3 {
				continue
			}
			// b at the place and one pixel to each side, all between its pixels alike: across first, then down
			var left, mid, right [6]float64
			for j := range left {
				row := b.row(min(max(y+iy+j-2, 0), b.h-1))
				at := func(x int) float64 { return float64(row[min(max(x, 0), b.w-1)]) }
				var v [6]float64
				for i := range v {
					v[i] = at(x + ix + i - 2)
				}
				left[j] = wx[0]*v[0] + wx[1]*v[1] + wx[2]*v[2] + wx[3]*v[3]
				mid[j] = wx[0]*v[1] + wx[1]*v[2] + wx[2]*v[3] + wx[3]*v[4]
				right[j] = wx[0]*v[2] + wx[1]*v[3] + wx[2]*v[4] + wx[3]*v[5]
			}
			down := func(v []float64) float64 { return wy[0]*v[0] + wy[1]*v[1] + wy[2]*v[2] + wy[3]*v[3] }
			gx := (float64(a.row(y)[x+1]) - float64(a.row(y)[x-1]) + down(right[1:]) - down(left[1:])) / 4
			gy := (float64(a.row(y + 1)[x]) - float64(a.row(y - 1)[x]) + down(mid[2:]) - down(mid[0:])) / 4
			d := float64(a.row(y)[x]) - down(mid[1:])
			for i, v := range [...]float64{gx * gx, gx * gy, gy * gy, gx * d, gy * d} {
				sums[i] += v
			}
		}
	}
	return sums
}

// cubic are the weights of four samples at t between the middle two (Catmull and Rom).
func cubic(t float64) [4]float64 {
	return [4]float64{((-0.5*t+1)*t - 0.5) * t, (1.5*t-2.5)*t*t + 1, ((-1.5*t+2)*t + 0.5) * t, (0.5*t - 0.5) * t * t}
}
