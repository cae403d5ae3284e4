package fit

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"velours/core/frame"
	"velours/core/register"
)

// Point is a place in a picture, in pixels.
type Point = register.Point

// Grid is where the patches of a chart lie in a picture: columns and rows of them, and a map from their indices to
// places that holds for a flat chart seen from anywhere.
type Grid struct {
	Columns, Rows int
	h             register.Homography // from (column, row) to (x, y)
}

// At is where a patch's middle lies; fractions lie between patches.
func (g *Grid) At(column, row float64) Point {
	return g.h.At(Point{X: column, Y: row})
}

// Corners are the middles of the four corner patches: top left, top right, bottom right, bottom left.
func (g *Grid) Corners() [4]Point {
	c, r := float64(g.Columns-1), float64(g.Rows-1)
	return [4]Point{g.At(0, 0), g.At(c, 0), g.At(c, r), g.At(0, r)}
}

// mostPatches bounds a chart.
const mostPatches = 600

// Placed is the grid of a chart of which a person has shown the middles of the four corner patches.
func Placed(columns, rows int, corners [4]Point) (*Grid, error) {
	if columns < 2 || rows < 2 || columns*rows > mostPatches {
		return nil, fmt.Errorf("a chart has from 2 by 2 to %d patches, not %d by %d", mostPatches, columns, rows)
	}
	c, r := float64(columns-1), float64(rows-1)
	from := []Point{{X: 0, Y: 0}, {X: c, Y: 0}, {X: c, Y: r}, {X: 0, Y: r}}
	turn := 0.0 // of the outline, at every corner the same way round
	for i := range corners {
		a, b, d := corners[i], corners[(i+1)%4], corners[(i+2)%4]
		z := (b.X-a.X)*(d.Y-b.Y) - (b.Y-a.Y)*(d.X-b.X)
		if z*turn < 0 || math.Abs(z) < 1 {
			return nil, errors.New("the four corners do not go round the chart; place them top left, top right, bottom right, bottom left")
		}
		turn = z
	}
	return &Grid{columns, rows, register.Through(from, corners[:])}, nil
}

// Sample is the mean of each patch, row by row, over the middle of it.
func (g *Grid) Sample(f *frame.Frame) ([][3]float64, error) {
	out := make([][3]float64, 0, g.Columns*g.Rows)
	const share = 0.22 // of a step, to either side of the middle
	for r := range g.Rows {
		for c := range g.Columns {
			var sum [3]float64
			const n = 9
			for i := range n {
				for j := range n {
					p := g.At(float64(c)+share*(2*float64(j)/(n-1)-1), float64(r)+share*(2*float64(i)/(n-1)-1))
					x, y := int(math.Floor(p.X)), int(math.Floor(p.Y))
					if x < 0 || y < 0 || x >= f.W || y >= f.H {
						return nil, fmt.Errorf("the patch in column %d, row %d lies outside the picture; place the corners again", c+1, r+1)
					}
					for k := range sum {
						sum[k] += float64(f.Row(k, y)[x]) / (n * n)
					}
				}
			}
			out = append(out, sum)
		}
	}
	return out, nil
}

// ErrNoChart is why no chart was found.
var ErrNoChart = errors.New("no chart was found in it: a chart is a regular grid of even patches with borders between them; place its four corners by hand")

// Find looks for a chart: even areas of like size that lie in a grid. f is any picture of it, not too dark; the
// chart stands upright, and is seen more or less from the front.
func Find(f *frame.Frame) (*Grid, error) {
	cells := even(f)
	if len(cells) < 12 {
		return nil, ErrNoChart
	}
	// of like size
	sizes := make([]float64, len(cells))
	for i, c := range cells {
		sizes[i] = c.area
	}
	var best []cell
	for _, s := range sizes {
		var near []cell
		for _, c := range cells {
			if c.area > s*0.6 && c.area < s*1.7 {
				near = append(near, c)
			}
		}
		if len(near) > len(best) {
			best = near
		}
	}
	g := lattice(best)
	if g == nil {
		return nil, ErrNoChart
	}
	return g, nil
}

// cell is an even area.
type cell struct {
	Point
	area float64
}

// even finds connected areas over which the picture hardly changes, about square.
func even(f *frame.Frame) []cell {
	// small enough that a picture's noise is gone
	by := max(1, f.W/480)
	w, h := f.W/by, f.H/by
	small := make([][3]float64, w*h)
	for y := range h {
		for x := range w {
			var v [3]float64
			for k := range v {
				for j := range by {
					row := f.Row(k, y*by+j)
					for i := range by {
						v[k] += float64(row[x*by+i])
					}
				}
				v[k] = max(v[k]/float64(by*by), 0)
			}
			small[y*w+x] = v
		}
	}
	// as the eye steps, the brightest at 1: a scan of a dense film is dark all over
	var all []float64
	for _, v := range small {
		all = append(all, max(v[0], v[1], v[2]))
	}
	slices.Sort(all)
	top := max(all[len(all)*99/100], 1e-6)
	for i := range small {
		for k := range 3 {
			small[i][k] = math.Cbrt(small[i][k] / top)
		}
	}
	apart := func(a, b [3]float64) float64 {
		return max(math.Abs(a[0]-b[0]), math.Abs(a[1]-b[1]), math.Abs(a[2]-b[2]))
	}
	// what neighbours differ by where nothing is: noise
	all = all[:0]
	for y := 0; y < h; y += 2 {
		for x := 1; x < w; x += 2 {
			all = append(all, apart(small[y*w+x], small[y*w+x-1]))
		}
	}
	slices.Sort(all)
	quiet := min(max(5*all[len(all)/2], 0.01), 0.03)
	flat := make([]bool, w*h)
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			c := small[y*w+x]
			flat[y*w+x] = true
			for _, d := range []int{-1, 1, -w, w, -w - 1, w + 1, -w + 1, w - 1} {
				if apart(c, small[y*w+x+d]) > quiet {
					flat[y*w+x] = false
					break
				}
			}
		}
	}
	var out []cell
	seen := make([]bool, w*h)
	for start := range flat {
		if !flat[start] || seen[start] {
			continue
		}
		stack := []int{start}
		seen[start] = true
		var n, sx, sy, sxx, syy, sxy float64
		for len(stack) > 0 {
			at := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			x, y := float64(at%w), float64(at/w)
			n, sx, sy, sxx, syy, sxy = n+1, sx+x, sy+y, sxx+x*x, syy+y*y, sxy+x*y
			for _, d := range []int{-1, 1, -w, w} {
				if q := at + d; q >= 0 && q < len(flat) && flat[q] && !seen[q] {
					seen[q] = true
					stack = append(stack, q)
				}
			}
		}
		if n < 9 || n > 0.06*float64(w*h) {
			continue
		}
		// a filled square, however it is turned, has moments of n/12; a long or a ragged area has more
		x, y := sx/n, sy/n
		vx, vy, vxy := sxx/n-x*x, syy/n-y*y, sxy/n-x*y
		root := math.Sqrt((vx-vy)*(vx-vy)/4 + vxy*vxy)
		long, short := (vx+vy)/2+root, (vx+vy)/2-root
		if short <= 0 || math.Sqrt(long*short) > 1.45*n/12 {
			continue
		}
		// two or three in a row that are too much alike are one area: it is as many times as long
		count := math.Round(math.Sqrt(long / short))
		if count > 3 {
			continue
		}
		turn := math.Atan2(2*vxy, vx-vy) / 2
		if count == 1 {
			turn = 0
		}
		k, apart := float64(by), math.Sqrt(12*long)/count
		sin, cos := math.Sincos(turn)
		for i := range int(count) {
			d := (float64(i) - (count-1)/2) * apart
			out = append(out, cell{Point{X: (x + d*cos + 0.5) * k, Y: (y + d*sin + 0.5) * k}, n * k * k / count})
		}
	}
	return out
}

// lattice gives cells their columns and rows: from one of them outwards, each neighbour where it must be. It returns
// the grid that most of them fit, nil where they lie in none.
func lattice(cells []cell) *Grid {
	var best map[[2]int]int
	for seed := range cells {
		r, d, ok := steps(cells, seed)
		if !ok {
			continue
		}
		placed := grow(cells, seed, r, d)
		if len(placed) > len(best) {
			best = placed
		}
		if len(best) > len(cells)*3/4 {
			break
		}
	}
	if len(best) < 12 {
		return nil
	}
	// the rows and columns that are mostly filled
	c0, c1 := filled(best, 0)
	r0, r1 := filled(best, 1)
	columns, rows := c1-c0+1, r1-r0+1
	var from, to []Point
	for at, i := range best {
		if at[0] >= c0 && at[0] <= c1 && at[1] >= r0 && at[1] <= r1 {
			from, to = append(from, Point{X: float64(at[0] - c0), Y: float64(at[1] - r0)}), append(to, cells[i].Point)
		}
	}
	if columns < 3 || rows < 2 || columns*rows > mostPatches || len(from) < columns*rows*6/10 {
		return nil
	}
	return &Grid{columns, rows, register.Through(from, to)}
}

// steps are the ways to a cell's neighbours on the right and below.
func steps(cells []cell, at int) (right, down Point, ok bool) {
	a := cells[at]
	near, far := math.Inf(1), math.Inf(1)
	for i, b := range cells {
		if i == at {
			continue
		}
		dx, dy := b.X-a.X, b.Y-a.Y
		if dx > 0 && math.Abs(dy) < 0.35*dx && dx < near {
			near, right = dx, Point{X: dx, Y: dy}
		}
		if dy > 0 && math.Abs(dx) < 0.35*dy && dy < far {
			far, down = dy, Point{X: dx, Y: dy}
		}
	}
	side := math.Sqrt(a.area)
	ok = near < 3*side && far < 3*side
	return right, down, ok
}

// mostMissing is how many patches in a row may be missing.
const mostMissing = 2

// grow gives indices to the cells that lie in the grid of one.
func grow(cells []cell, seed int, right, down Point) map[[2]int]int {
	type at struct {
		place [2]int
		Point
		right, down Point
		missing     int // how many before it were not there
	}
	placed := map[[2]int]int{{0, 0}: seed}
	seen := map[[2]int]bool{{0, 0}: true}
	taken := map[int]bool{seed: true}
	queue := []at{{[2]int{0, 0}, cells[seed].Point, right, down, 0}}
	for len(queue) > 0 {
		q := queue[0]
		queue = queue[1:]
		for _, way := range [][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
			place := [2]int{q.place[0] + way[0], q.place[1] + way[1]}
			if seen[place] {
				continue
			}
			want := Point{
				X: q.X + float64(way[0])*q.right.X + float64(way[1])*q.down.X,
				Y: q.Y + float64(way[0])*q.right.Y + float64(way[1])*q.down.Y,
			}
			reach := 0.25 * min(math.Hypot(q.right.X, q.right.Y), math.Hypot(q.down.X, q.down.Y))
			found, near := -1, reach
			for i, c := range cells {
				if d := math.Hypot(c.X-want.X, c.Y-want.Y); d < near && !taken[i] {
					found, near = i, d
				}
			}
			if found < 0 { // patches that are too much alike are not told apart: what is behind them may be
				if q.missing < mostMissing {
					queue = append(queue, at{place, want, q.right, q.down, q.missing + 1})
				}
				continue
			}
			placed[place], taken[found], seen[place] = found, true, true
			next := at{place, cells[found].Point, q.right, q.down, 0}
			if q.missing == 0 { // perspective changes the step slowly
				dx, dy := next.X-q.X, next.Y-q.Y
				if way[0] != 0 {
					next.right = Point{X: dx * float64(way[0]), Y: dy * float64(way[0])}
				} else {
					next.down = Point{X: dx * float64(way[1]), Y: dy * float64(way[1])}
				}
			}
			queue = append(queue, next)
		}
	}
	return placed
}

// filled is the range of columns (axis 0) or rows (1) from the first to the last that holds at least half as many cells as the fullest.
func filled(placed map[[2]int]int, axis int) (from, to int) {
	count := map[int]int{}
	most := 0
	for at := range placed {
		count[at[axis]]++
		most = max(most, count[at[axis]])
	}
	var all []int
	for k, n := range count {
		if 2*n >= most {
			all = append(all, k)
		}
	}
	slices.Sort(all)
	// the longest run
	bestFrom, bestTo := all[0], all[0]
	from = all[0]
	for i, k := range all {
		if i > 0 && k > all[i-1]+1+mostMissing {
			from = k
		}
		if k-from > bestTo-bestFrom {
			bestFrom, bestTo = from, k
		}
	}
	return bestFrom, bestTo
}

// As is the grid with as many columns and rows as another picture of its chart has: where patches at its sides were not told apart, it
// goes on to the side on which its patches are light and dark as the other's are, or dark and light. nil where it has more.
func (g *Grid) As(columns, rows int, other [][3]float64, f *frame.Frame) *Grid {
	if g.Columns > columns || g.Rows > rows {
		return nil
	}
	var best *Grid
	most := 0.6 // of the correlation
	for c := 0; c <= columns-g.Columns; c++ {
		for r := 0; r <= rows-g.Rows; r++ {
			from := []Point{{X: 0, Y: 0}, {X: float64(columns - 1), Y: 0}, {X: float64(columns - 1), Y: float64(rows - 1)}, {X: 0, Y: float64(rows - 1)}}
			var to []Point
			for _, p := range from {
				to = append(to, g.At(p.X-float64(c), p.Y-float64(r)))
			}
			grown := &Grid{columns, rows, register.Through(from, to)}
			own, err := grown.Sample(f)
			if err != nil {
				continue
			}
			if k := math.Abs(alike(own, other)); k > most {
				best, most = grown, k
			}
		}
	}
	return best
}

// alike is the correlation of the lightnesses of patches, −1…1.
func alike(a, b [][3]float64) float64 {
	var n, sa, sb, saa, sbb, sab float64
	light := func(c [3]float64) float64 { return math.Log(max(c[0], 1e-5) * max(c[1], 1e-5) * max(c[2], 1e-5)) }
	for i := range a {
		x, y := light(a[i]), light(b[i])
		n, sa, sb, saa, sbb, sab = n+1, sa+x, sb+y, saa+x*x, sbb+y*y, sab+x*y
	}
	return (sab - sa*sb/n) / math.Sqrt(max((saa-sa*sa/n)*(sbb-sb*sb/n), 1e-12))
}
