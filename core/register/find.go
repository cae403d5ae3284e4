package register

import (
	"cmp"
	"errors"
	"math"
	"slices"

	"velours/core/frame"
	"velours/core/solve"
)

// ErrElsewhere is why a picture was not found in another.
var ErrElsewhere = errors.New("the two pictures do not show the same thing from the same place, or are turned by more than 12 degrees")

// Of a search: the widths at which it looks, from coarse to fine, and by how much pictures may be turned (degrees), scaled, and shifted
// (shares of half the width).
var (
	widths   = [4]int{80, 160, 320, 640}
	turns    = []float64{-12, -9, -6, -3, 0, 3, 6, 9, 12}
	scales   = []float64{0.8, 0.87, 0.93, 1, 1.07, 1.15, 1.25}
	farthest = 0.26
)

// alike is the correlation of edges from which on two pictures are of the same thing.
const alike = 0.45

// Match is how one picture lies in another. Places are in units of half the picture's width from its middle, y downwards.
type Match struct {
	Homography
	// Score is how well the edges of the two agree, 0…1.
	Score float64

	a, b *edges
}

// Find finds where a lies in b. The pictures may be of any brightness and contrast, a negative and a positive too: edges alone are
// compared, and what moved between them does not count. An error says that b does not show what a shows.
func Find(a, b *frame.Frame) (*Match, error) {
	var ea, eb [len(widths)]*edges
	for i, w := range widths {
		ea[i], eb[i] = edgesOf(a, w), edgesOf(b, w)
	}
	var best Homography
	score := math.Inf(-1)
	for _, start := range coarse(ea[0], eb[0]) {
		h := refine(start, ea[0], eb[0], true)
		h = refine(h, ea[1], eb[1], false)
		if s := agreement(&h, ea[1], eb[1]); s > score {
			best, score = h, s
		}
	}
	if score < alike/2 {
		return nil, ErrElsewhere
	}
	best = refine(best, ea[2], eb[2], false)
	best = refine(best, ea[3], eb[3], false)
	if score = agreement(&best, ea[2], eb[2]); score < alike {
		return nil, ErrElsewhere
	}
	return &Match{best, score, ea[2], eb[2]}, nil
}

// Near is how well edges agree within a distance of a place of a: low where something moved. It is 1 where there are none.
func (m *Match) Near(p Point, within float64) float64 {
	half := float64(m.a.w) / 2
	x, y, reach := int(p.X*half+half), int(p.Y*half+float64(m.a.h)/2), int(within*half)
	few := *m.a
	few.at = nil
	strongest := 0.0
	for j := max(y-reach, 2); j <= min(y+reach, m.a.h-3); j++ {
		for i := max(x-reach, 2); i <= min(x+reach, m.a.w-3); i++ {
			few.at = append(few.at, j*m.a.w+i)
			strongest = max(strongest, m.a.v[j*m.a.w+i], m.b.read(m.At(m.a.place(j*m.a.w+i))))
		}
	}
	if strongest < 0.35 || len(few.at) < 9 {
		return 1
	}
	return agreement(&m.Homography, &few, m.b)
}

// edges are how strong a picture's edges are, whichever way they go: 0 none, 1 as strong as can be, so that all count alike.
type edges struct {
	w, h int
	v    []float64
	at   []int // where they are read: the strongest, and some of the rest
}

// edgesOf reads a picture at a width.
func edgesOf(f *frame.Frame, width int) *edges {
	w := min(width, f.W)
	h := max(2, int(math.Round(float64(f.H)*float64(w)/float64(f.W))))
	light := shrunk(f, w, h)
	smooth(light, w, h)
	g := make([]float64, w*h)
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			i := y*w + x
			g[i] = math.Hypot(light[i+1]-light[i-1], light[i+w]-light[i-w])
		}
	}
	sorted := slices.Clone(g)
	slices.Sort(sorted)
	knee := max(sorted[len(sorted)*7/10], 1e-6)
	e := &edges{w: w, h: h, v: g}
	for i := range g {
		g[i] /= g[i] + knee
	}
	smooth(g, w, h)
	// a border of the picture is no edge of the scene
	order := make([]int, 0, len(g))
	for y := 2; y < h-2; y++ {
		for x := 2; x < w-2; x++ {
			order = append(order, y*w+x)
		}
	}
	slices.SortStableFunc(order, func(i, k int) int { return cmp.Compare(g[k], g[i]) })
	strong := len(order) / 3
	e.at = append(e.at, thin(order[:strong], 2200)...)
	e.at = append(e.at, thin(order[strong:], 1100)...)
	return e
}

// thin takes at most n of a list, evenly.
func thin(list []int, n int) []int {
	if len(list) <= n {
		return list
	}
	out := make([]int, n)
	for i := range out {
		out[i] = list[i*len(list)/n]
	}
	return out
}

// shrunk is a picture's lightness, the mean of the cube roots of its three planes, averaged into w×h.
func shrunk(f *frame.Frame, w, h int) []float64 {
	out := make([]float64, w*h)
	for y := range h {
		y0 := y * f.H / h
		y1 := max(y0+1, (y+1)*f.H/h)
		for x := range w {
			x0 := x * f.W / w
			x1 := max(x0+1, (x+1)*f.W/w)
			for p := range 3 {
				sum := 0.0
				for j := y0; j < y1; j++ {
					for _, v := range f.Row(p, j)[x0:x1] {
						sum += float64(v)
					}
				}
				out[y*w+x] += math.Cbrt(max(sum/float64((x1-x0)*(y1-y0)), 0)) / 3
			}
		}
	}
	return out
}

// smooth takes the mean of nine, weighted 1 2 1, in place; borders stay.
func smooth(v []float64, w, h int) {
	line := make([]float64, max(w, h))
	for y := range h {
		row := v[y*w : (y+1)*w]
		copy(line, row)
		for x := 1; x < w-1; x++ {
			row[x] = (line[x-1] + 2*line[x] + line[x+1]) / 4
		}
	}
	for x := range w {
		for y := range h {
			line[y] = v[y*w+x]
		}
		for y := 1; y < h-1; y++ {
			v[y*w+x] = (line[y-1] + 2*line[y] + line[y+1]) / 4
		}
	}
}

// read is the strength at a place in units of half the width, in a straight line between pixels; −1 outside.
func (e *edges) read(p Point) float64 {
	half := float64(e.w) / 2
	x, y := p.X*half+half-0.5, p.Y*half+float64(e.h)/2-0.5
	i, k := int(math.Floor(x)), int(math.Floor(y))
	if i < 1 || k < 1 || i >= e.w-2 || k >= e.h-2 {
		return -1
	}
	x, y = x-float64(i), y-float64(k)
	v := e.v[k*e.w+i:]
	return (1-y)*((1-x)*v[0]+x*v[1]) + y*((1-x)*v[e.w]+x*v[e.w+1])
}

func (e *edges) place(i int) Point {
	half := float64(e.w) / 2
	return Point{(float64(i%e.w) + 0.5 - half) / half, (float64(i/e.w) + 0.5 - float64(e.h)/2) / half}
}

// agreement is the correlation of the edges of a with those of b where they come to; what lies outside b does not count, but half of
// a must lie inside.
func agreement(h *Homography, a, b *edges) float64 {
	var n, sa, sb, saa, sbb, sab float64
	for _, i := range a.at {
		v := b.read(h.At(a.place(i)))
		if v < 0 {
			continue
		}
		u := a.v[i]
		n, sa, sb, saa, sbb, sab = n+1, sa+u, sb+v, saa+u*u, sbb+v*v, sab+u*v
	}
	if n < float64(len(a.at))/2 {
		return -1
	}
	return (sab - sa*sb/n) / math.Sqrt(max((saa-sa*sa/n)*(sbb-sb*sb/n), 1e-12))
}

// coarse are the likeliest of all turns, scales and shifts.
func coarse(a, b *edges) []Homography {
	type found struct {
		h     Homography
		score float64
	}
	few := *a
	few.at = append(thin(a.at[:len(a.at)*2/3], 350), thin(a.at[len(a.at)*2/3:], 150)...)
	var all []found
	step := 2 * 2 / float64(a.w) // two pixels
	for _, turn := range turns {
		for _, scale := range scales {
			sin, cos := math.Sincos(turn * math.Pi / 180)
			best := found{score: math.Inf(-1)}
			for dx := -farthest; dx <= farthest; dx += step {
				for dy := -farthest; dy <= farthest; dy += step {
					h := Homography{scale * cos, -scale * sin, dx, scale * sin, scale * cos, dy, 0, 0, 1}
					if s := agreement(&h, &few, b); s > best.score {
						best = found{h, s}
					}
				}
			}
			all = append(all, best)
		}
	}
	slices.SortStableFunc(all, func(x, y found) int { return cmp.Compare(y.score, x.score) })
	var out []Homography
	for _, f := range all[:5] {
		out = append(out, f.h)
	}
	return out
}

// refine moves a homography to where edges agree best; alike allows turn, scale and shift alone.
func refine(h Homography, a, b *edges, similar bool) Homography {
	build := func(p []float64) Homography {
		if similar {
			return Homography{p[0], -p[1], p[2], p[1], p[0], p[3], 0, 0, 1}
		}
		return Homography{p[0], p[1], p[2], p[3], p[4], p[5], p[6], p[7], 1}
	}
	p := []float64{h[0], h[1], h[2], h[3], h[4], h[5], h[6], h[7]}
	if similar {
		p = []float64{h[0], h[3], h[2], h[5]}
	}
	limits := make([][2]float64, len(p))
	for i := range limits {
		limits[i] = [2]float64{p[i] - 0.25, p[i] + 0.25}
	}
	mean := 0.0
	for _, v := range b.v {
		mean += v / float64(len(b.v))
	}
	p = solve.Least(p, limits, 25, func(p []float64) []float64 {
		q := build(p)
		out := make([]float64, len(a.at))
		for k, i := range a.at {
			v := b.read(q.At(a.place(i)))
			if v < 0 {
				v = mean
			}
			r := a.v[i] - v
			out[k] = r / math.Sqrt(1+r*r/0.05) // what moved counts little
		}
		return out
	})
	return build(p)
}
