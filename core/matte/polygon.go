package matte

import (
	"fmt"
	"math"
	"slices"

	"velours/core/cache"
)

// Polygon covers the inside of an outline through Points, in shares of width and height: straight from point
// to point or, Curved, along a closed centripetal spline (Barry & Goldman 1988). Where it crosses itself, the
// inside is what it goes around an odd number of times.
type Polygon struct {
	Points [][2]float64
	Curved bool
	Feather
}

// bends is how many pieces a curved side is drawn in.
const bends = 16

// Outline is the polygon in pixels, curves drawn out.
func (p Polygon) Outline(s Size) [][2]float64 {
	n := len(p.Points)
	at := func(i int) [2]float64 {
		q := p.Points[(i%n+n)%n]
		return [2]float64{q[0] * float64(s.W), q[1] * float64(s.H)}
	}
	var out [][2]float64
	for i := range n {
		if !p.Curved || n < 3 {
			out = append(out, at(i))
			continue
		}
		a, b, c, d := at(i-1), at(i), at(i+1), at(i+2)
		for k := range bends {
			out = append(out, spline(a, b, c, d, float64(k)/bends))
		}
	}
	return out
}

// spline is the centripetal curve between b and c.
func spline(a, b, c, d [2]float64, u float64) [2]float64 {
	knot := func(p, q [2]float64) float64 { return math.Sqrt(math.Hypot(q[0]-p[0], q[1]-p[1])) + 1e-9 }
	t1 := knot(a, b)
	t2 := t1 + knot(b, c)
	t3 := t2 + knot(c, d)
	t := t1 + (t2-t1)*u
	mix := func(p, q [2]float64, from, to float64) [2]float64 {
		k := (t - from) / (to - from)
		return [2]float64{p[0] + (q[0]-p[0])*k, p[1] + (q[1]-p[1])*k}
	}
	p, q, r := mix(a, b, 0, t1), mix(b, c, t1, t2), mix(c, d, t2, t3)
	return mix(mix(p, q, 0, t2), mix(q, r, t1, t3), t1, t2)
}

// drawn keeps the last few outlines: every block asks for the same.
var drawn = cache.Results[[]float32]{Size: 16}

// Rows implements Part.
func (p Polygon) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	cover, _ := drawn.Get(fmt.Sprint(p, s), func() ([]float32, error) { return p.cover(s), nil })
	return func(m []float32, y, x0 int, _, _, _ []float32) { copy(m, cover[y*s.W+x0:y*s.W+x0+len(m)]) }
}

// cover is the coverage of every pixel: by area where the edge is sharp, otherwise by distance.
func (p Polygon) cover(s Size) []float32 {
	line := p.Outline(s)
	if len(line) < 3 {
		return make([]float32, s.W*s.H)
	}
	area := areas(line, s)
	if p.In <= 0 && p.Out <= 0 {
		return area
	}
	in, out := p.pixels(s)
	reach := max(in, out) + 1
	for y := range s.H {
		cy := float64(y) + 0.5
		// the sides that come near this row
		var near [][2][2]float64
		for i, a := range line {
			b := line[(i+1)%len(line)]
			if min(a[1], b[1]) <= cy+reach && max(a[1], b[1]) >= cy-reach {
				near = append(near, [2][2]float64{a, b})
			}
		}
		row := area[y*s.W : (y+1)*s.W]
		for x, v := range row {
			cx := float64(x) + 0.5
			least := reach * reach
			for _, e := range near {
				if min(e[0][0], e[1][0]) > cx+reach || max(e[0][0], e[1][0]) < cx-reach {
					continue
				}
				least = min(least, away(e[0], e[1], cx, cy))
			}
			d := math.Sqrt(least)
			if v > 0.5 {
				d = -d
			}
			row[x] = float32(ease((out - d) / (in + out)))
		}
	}
	return area
}

// away is the square of the distance from a side.
func away(a, b [2]float64, x, y float64) float64 {
	dx, dy := b[0]-a[0], b[1]-a[1]
	l := dx*dx + dy*dy
	u := 0.0
	if l > 0 {
		u = min(max(((x-a[0])*dx+(y-a[1])*dy)/l, 0), 1)
	}
	dx, dy = a[0]+u*dx-x, a[1]+u*dy-y
	return dx*dx + dy*dy
}

// levels is how many lines a row of pixels is cut into to find how much of each pixel lies inside.
const levels = 16

// areas is the share of every pixel that lies inside an outline: exact across a line, with sixteen lines a
// pixel, which is exact for straight sides that do not end inside it.
func areas(line [][2]float64, s Size) []float32 {
	out := make([]float32, s.W*s.H)
	var at []float64
	for y := range s.H {
		row := out[y*s.W : (y+1)*s.W]
		for k := range levels {
			cy := float64(y) + (float64(k)+0.5)/levels
			at = at[:0]
			for i, a := range line {
				b := line[(i+1)%len(line)]
				if (a[1] <= cy) != (b[1] <= cy) {
					at = append(at, a[0]+(cy-a[1])/(b[1]-a[1])*(b[0]-a[0]))
				}
			}
			slices.Sort(at)
			for i := 0; i+1 < len(at); i += 2 {
				fill(row, at[i], at[i+1])
			}
		}
	}
	return out
}

// fill adds a line from x0 to x1 to a row, one of levels.
func fill(row []float32, x0, x1 float64) {
	x0, x1 = max(x0, 0), min(x1, float64(len(row)))
	if x1 <= x0 {
		return
	}
	a, b := int(x0), min(int(x1), len(row)-1)
	if a == b {
		row[a] += float32((x1 - x0) / levels)
		return
	}
	row[a] += float32((float64(a) + 1 - x0) / levels)
	for x := a + 1; x < b; x++ {
		row[x] += 1.0 / levels
	}
	row[b] += float32((x1 - float64(b)) / levels)
}
