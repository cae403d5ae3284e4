package matte

import (
	"context"

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

// rows joins b to a.
func (j Join) rows(a, b []float32) {
	switch j {
	case Union:
		vec.Raise(a, b)
	case Intersection:
		for i, v := range b[:len(a)] {
			a[i] = min(a[i], v)
		}
	case Subtraction:
		for i, v := range b[:len(a)] {
			a[i] = min(a[i], 1-v)
		}
	}
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
			t = room(len(c))
		}
		if len(m.Members) == 0 || m.Members[0].Join != Union {
			whole(c)
		} else {
			clear(c)
		}
		for k, p := range m.Members {
			t := t[:len(c)]
			rows[k](t, y, x0, r, g, b)
			if p.Invert {
				invert(t)
			}
			p.Join.rows(c, t)
		}
		if m.Invert && m.Pointwise() {
			invert(c)
		}
	}
}

// invert covers what is free.
func invert(m []float32) { vec.Affine(m, m, -1, 1) }

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
	return out, frame.Bands(ctx, out.H, 64, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			row := out.Row(0, y)
			vec.Clamp(row, 0, 1)
			if m.Invert {
				invert(row)
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
