package matte

import (
	"context"
	"math"
	"math/bits"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/vec"
)

// A Part covers pixels by what they are or where they lie.
type Part interface {
	// Rows returns what sets m to the coverage of pixels x0 and on of row y of a picture of size, given their
	// light. It owns its scratch.
	Rows(size Size) func(m []float32, y, x0 int, r, g, b []float32)
}

// Size is a picture's, in pixels.
type Size struct{ W, H int }

// Join is how a part comes to those before it.
type Join int

// The greater of both; the lesser; what is left without it.
const (
	Union Join = iota
	Intersection
	Subtraction
)

func (j Join) join(a, b float32) float32 {
	switch j {
	case Intersection:
		return min(a, b)
	case Subtraction:
		return min(a, 1-b)
	}
	return max(a, b)
}

// Member is a part of a matte, and how it joins.
type Member struct {
	Part   Part
	Join   Join
	Invert bool
}

// Matte is a coverage made of parts. One without parts covers everything. The first part's Join counts too:
// a matte that begins with a subtraction or an intersection begins from everything.
type Matte struct {
	Members []Member
	// Grow is by how much its edge moves outwards (or inwards, below 0), Blur how softly it ends, Refine how
	// far it may move to meet the edges of the picture: shares of the width.
	Grow, Blur, Refine float64
	// Invert covers what was free. It comes last.
	Invert bool
}

// Pointwise tells that pixels do not look at their neighbours.
func (m *Matte) Pointwise() bool { return m.Grow == 0 && m.Blur == 0 && m.Refine == 0 }

// Rows is Part.Rows of a matte that is Pointwise.
func (m *Matte) Rows(size Size) func(c []float32, y, x0 int, r, g, b []float32) {
	rows := make([]func([]float32, int, int, []float32, []float32, []float32), len(m.Members))
	for i, p := range m.Members {
		rows[i] = p.Part.Rows(size)
	}
	var t []float32
	return func(c []float32, y, x0 int, r, g, b []float32) {
		if len(t) < len(c) {
			t = make([]float32, len(c), len(c)+16)
		}
		first := float32(0)
		if len(m.Members) == 0 || m.Members[0].Join != Union {
			first = 1
		}
		for i := range c {
			c[i] = first
		}
		for k, p := range m.Members {
			t := t[:len(c)]
			rows[k](t, y, x0, r, g, b)
			for i, v := range t {
				if p.Invert {
					v = 1 - v
				}
				c[i] = p.Join.join(c[i], v)
			}
		}
		if m.Invert && m.Pointwise() {
			for i, v := range c {
				c[i] = 1 - v
			}
		}
	}
}

// Frame is the coverage of a whole picture, one plane.
func (m *Matte) Frame(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, 1)
	if err := frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		rows := m.Rows(Size{src.W, src.H})
		for y := y0; y < y1; y++ {
			rows(out.Row(0, y), y, 0, src.Row(0, y), src.Row(1, y), src.Row(2, y))
		}
	}); err != nil || m.Pointwise() {
		return out, err
	}
	var err error
	step := func(f func() (*frame.Frame, error)) {
		if err != nil {
			return
		}
		var next *frame.Frame
		if next, err = f(); err == nil && next != out {
			out.Release()
			out = next
		}
	}
	w := float64(src.W)
	if m.Grow != 0 {
		step(func() (*frame.Frame, error) { return grow(ctx, out, m.Grow*w) })
	}
	if m.Refine > 0 {
		step(func() (*frame.Frame, error) { return refine(ctx, out, src, m.Refine*w) })
	}
	if m.Blur > 0 {
		step(func() (*frame.Frame, error) { return frame.Soften(ctx, out, m.Blur*w) })
	}
	if err != nil {
		return nil, err
	}
	for y := range out.H {
		row := out.Row(0, y)
		for x, v := range row {
			v = min(max(v, 0), 1)
			if m.Invert {
				v = 1 - v
			}
			row[x] = v
		}
	}
	return out, nil
}

// grow moves edges outwards by so many pixels, or inwards: the greatest (least) coverage within a disc of that
// radius, whose rim counts by its share.
func grow(ctx context.Context, src *frame.Frame, pixels float64) (*frame.Frame, error) {
	sign := float32(1)
	if pixels < 0 {
		sign, pixels = -1, -pixels
	}
	whole := math.Floor(pixels)
	inner, err := spread(ctx, src, int(whole), sign)
	if err != nil || pixels == whole {
		return inner, err
	}
	outer, err := spread(ctx, src, int(whole)+1, sign)
	if err != nil {
		return nil, err
	}
	k := float32(pixels - whole)
	for y := range inner.H {
		a, b := inner.Row(0, y), outer.Row(0, y)
		for x := range a {
			a[x] += k * (b[x] - a[x])
		}
	}
	outer.Release()
	return inner, nil
}

// spread takes the greatest of sign·coverage over a disc of radius n: for each of its rows, the greatest along a
// span as wide as the disc is there, which two overlapping spans of a power of two cover.
func spread(ctx context.Context, src *frame.Frame, n int, sign float32) (*frame.Frame, error) {
	w, h := src.W, src.H
	half := make([]int, n+1) // of the disc, dy rows from its middle
	for dy := range half {
		half[dy] = int(math.Sqrt((float64(n)+0.5)*(float64(n)+0.5) - float64(dy*dy)))
	}
	top := bits.Len(uint(2*half[0] + 1))
	pad := half[0]
	out := frame.Get(w, h, 1)
	return out, frame.Bands(ctx, h, 64, func(y0, y1 int) {
		// spans[y][k][x] is the greatest of 2ᵏ samples from x−pad on
		from, to := max(y0-n, 0), min(y1+n, h)
		spans := make([][][]float32, to-from)
		for y := range spans {
			line := room(w + 2*pad)
			row := src.Row(0, from+y)
			for i := range line {
				line[i] = sign * row[min(max(i-pad, 0), w-1)]
			}
			spans[y] = append(spans[y], line)
			for k := 1; k < top; k++ {
				step := 1 << (k - 1)
				last, next := spans[y][k-1], room(max(w+2*pad-(1<<k)+1, 0))
				copy(next, last)
				vec.Raise(next, last[step:])
				spans[y] = append(spans[y], next)
			}
		}
		for y := y0; y < y1; y++ {
			best := out.Row(0, y)
			for x := range best {
				best[x] = float32(math.Inf(-1))
			}
			for q := max(y-n, from); q <= min(y+n, to-1); q++ {
				r := half[max(q-y, y-q)]
				k := bits.Len(uint(2*r+1)) - 1
				line := spans[q-from][k]
				vec.Raise(best, line[pad-r:])
				vec.Raise(best, line[pad+r+1-1<<k:])
			}
			for x := range best {
				best[x] *= sign
			}
		}
	})
}

// room is a row of n samples, with room for what a kernel reads and writes beyond.
func room(n int) []float32 { return make([]float32, n, n+frame.RightPad) }

// refine draws a coverage to the edges of the picture: a guided filter by tone.
func refine(ctx context.Context, m, src *frame.Frame, radius float64) (*frame.Frame, error) {
	tone := frame.Get(src.W, src.H, 1)
	defer tone.Release()
	if err := frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			t, r, g, b := tone.Row(0, y), src.Row(0, y), src.Row(1, y), src.Row(2, y)
			grade.Tones(t, r, g, b)
		}
	}); err != nil {
		return nil, err
	}
	return grade.Guided(ctx, m, tone, radius, 0.02)
}
