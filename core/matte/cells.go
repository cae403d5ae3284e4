package matte

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// cells are the greatest and the least within squares of a picture, which goes on beside its ends as it ends.
type cells struct {
	side            int // pixels
	left            int // columns of cells beside the picture, on either side
	rows            int // of the picture
	greatest, least *frame.Frame
}

// cellsAcross is how many cells a radius has, about: few enough to look at all of them, and enough to know where a disc ends.
const cellsAcross = 16

// newCells finds the cells of a picture for discs of a radius in pixels. Least is kept for those that are too small to have
// anything in common with their neighbours.
func newCells(ctx context.Context, src *frame.Frame, radius int, sign float32) (*cells, error) {
	side := 4
	for side < 64 && side*2*cellsAcross <= radius {
		side *= 2
	}
	left := (radius + side - 1) / side
	across, down := (src.W+side-1)/side+2*left, (src.H+side-1)/side
	c := &cells{side, left, src.H, frame.Get(across, down, 1), frame.Get(across, down, 1)}
	return c, frame.Bands(ctx, down, 4, func(from, to int) {
		line, turned := room(across*side), room(across*side)
		highest, lowered := room(across*side), room(across*side)
		for cy := from; cy < to; cy++ {
			for y := cy * side; y < min((cy+1)*side, src.H); y++ {
				widened(line, src.Row(0, y), -left*side, sign)
				vec.Affine(turned, line, -1, 0)
				if y == cy*side {
					copy(highest, line)
					copy(lowered, turned)
				}
				vec.Raise(highest, line)
				vec.Raise(lowered, turned)
			}
			high, low := c.greatest.Row(0, cy), c.least.Row(0, cy)
			for cx := range high {
				high[cx] = greatest(highest[cx*side:(cx+1)*side], none)
				low[cx] = -greatest(lowered[cx*side:(cx+1)*side], none)
			}
		}
	})
}

func (c *cells) release() {
	c.greatest.Release()
	c.least.Release()
}

// none is lower than any coverage.
const none = float32(-math.MaxFloat32)

// greatest is the greatest of values and of another.
func greatest(values []float32, other float32) float32 {
	for _, v := range values {
		if v > other { // quicker than the built-in one, which knows what is no number
			other = v
		}
	}
	return other
}

// lowest is the least of values and of another.
func lowest(values []float32, other float32) float32 {
	for _, v := range values {
		if v < other {
			other = v
		}
	}
	return other
}

// band is a row of cells: its rows of the picture, and the greatest of what some discs have of it and others may not.
type band struct {
	from, to int
	greatest float32
}

// about adds to list the bands that the larger of two discs about the samples from x0 to x1 and y0 to y1 reach, and tells what
// all of the smaller ones have at least: the greatest that is in each of them, or the least that is in any.
func (c *cells) about(list []band, smaller, larger disc, x0, x1, y0, y1 int) ([]band, float32) {
	n := len(larger.half) - 1
	shared, least := none, -none
	for cy := max(0, y0-n) / c.side; cy*c.side < min(c.rows, y1+n); cy++ {
		top, bottom := cy*c.side, (cy+1)*c.side-1
		reach := larger.half[max(0, top-(y1-1), y0-bottom)]
		high, low := c.greatest.Row(0, cy), c.least.Row(0, cy)
		column := func(x int) int { return (x + c.left*c.side) / c.side }
		first, last := max(column(x0-reach), 0), min(column(x1-1+reach), len(high)-1)
		in, out := last+1, last
		if far := max(bottom-y0, y1-1-top); far < len(smaller.half) {
			in, out = column(x1-1-smaller.half[far]+c.side-1), column(x0+smaller.half[far]+1)-1
		}
		b := band{top, min(bottom+1, c.rows), none}
		if in > out {
			in, out = last+1, last
		}
		b.greatest = greatest(high[out+1:last+1], greatest(high[first:in], b.greatest))
		if shared = greatest(high[in:out+1], shared); shared == none {
			least = lowest(low[first:last+1], least)
		}
		list = append(list, b)
	}
	if shared == none {
		return list, least
	}
	return list, shared
}
