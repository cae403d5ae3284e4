package matte

import (
	"context"
	"math"
	"math/bits"

	"velours/core/frame"
	"velours/core/vec"
)

// disc is the samples within a radius of one: half has, for the row so many from the middle, how many lie to either side.
type disc struct{ half []int }

func newDisc(n int) disc {
	d := disc{make([]int, n+1)}
	for y := range d.half {
		d.half[y] = int(math.Sqrt((float64(n)+0.5)*(float64(n)+0.5) - float64(y*y)))
	}
	return d
}

// level is of what power of two two spans make one of 2r + 1 samples.
func level(r int) int { return bits.Len(uint(2*r+1)) - 1 }

// tileColumns and tileRows are the size of what is grown at a time, so that its spans stay in the cache.
const tileColumns, tileRows = 256, 64

// grow moves edges outwards by so many pixels, or inwards: the greatest (least) coverage within a disc of that
// radius, whose rim counts by its share. A row of a disc is a span of its width, which two overlapping spans of a power of two
// cover.
func grow(ctx context.Context, src *frame.Frame, pixels float64) (*frame.Frame, error) {
	sign := float32(1)
	if pixels < 0 {
		sign, pixels = -1, -pixels
	}
	whole := math.Floor(pixels)
	discs, share := []disc{newDisc(int(whole))}, float32(pixels-whole)
	if share > 0 {
		discs = append(discs, newDisc(int(whole)+1))
	}
	w, h := src.W, src.H
	columns := (w + tileColumns - 1) / tileColumns
	out := frame.Get(w, h, 1)
	return out, frame.Bands(ctx, columns*((h+tileRows-1)/tileRows), 1, func(k, _ int) {
		x0, y0 := k%columns*tileColumns, k/columns*tileRows
		x1, y1 := min(x0+tileColumns, w), min(y0+tileRows, h)
		s := newSpans(src, x0, x1, y0, y1, discs, sign)
		defer s.rows.Release()
		var list [][]float32
		outer := room(x1 - x0)
		for y := y0; y < y1; y++ {
			best := out.Part(0, y, x0, x1-x0)
			list = s.within(list[:0], discs[0], y)
			vec.Highest(best, list)
			if share > 0 {
				list = s.within(list[:0], discs[1], y)
				vec.Highest(outer, list)
				for x, v := range outer {
					best[x] += share * (v - best[x])
				}
			}
			vec.Affine(best, best, sign, 0)
		}
	})
}

// spans are the greatest of as many samples as powers of two have, along rows from to to about a tile.
type spans struct {
	rows            *frame.Frame // those of a row follow each other, the shortest first
	from, to        int
	pad             int // samples beside the tile
	least, greatest int // powers
}

func newSpans(src *frame.Frame, x0, x1, y0, y1 int, discs []disc, sign float32) *spans {
	last := discs[len(discs)-1].half
	s := &spans{pad: last[0], greatest: level(last[0]), least: level(last[len(last)-1])}
	for _, d := range discs {
		s.least = min(s.least, level(d.half[len(d.half)-1]))
	}
	n := len(last) - 1
	s.from, s.to = max(y0-n, 0), min(y1+n, src.H)
	wide, levels := x1-x0+2*s.pad, s.greatest-s.least+1
	s.rows = frame.Get(wide, (s.to-s.from)*levels, 1)
	line := room(wide)
	for y := s.from; y < s.to; y++ {
		row := src.Row(0, y)
		// the picture goes on beside its ends as it ends
		left, right := max(s.pad-x0, 0), max(x1+s.pad-src.W, 0)
		copy(line[left:], row[max(x0-s.pad, 0):min(x1+s.pad, src.W)])
		for i := range left {
			line[i] = row[0]
		}
		for i := range right {
			line[wide-1-i] = row[src.W-1]
		}
		vec.Affine(line, line, sign, 0)
		n := wide
		for k := 0; ; k++ {
			if k >= s.least {
				copy(s.rows.Row(0, (y-s.from)*levels+k-s.least), line[:n])
			}
			if k == s.greatest {
				break
			}
			n -= 1 << k
			vec.Raise(line[:n], line[1<<k:])
		}
	}
	return s
}

// within adds to list the spans that a disc about row y is made of.
func (s *spans) within(list [][]float32, d disc, y int) [][]float32 {
	n, levels := len(d.half)-1, s.greatest-s.least+1
	for q := max(y-n, s.from); q < min(y+n+1, s.to); q++ {
		r := d.half[max(q-y, y-q)]
		k := level(r)
		line := s.rows.Row(0, (q-s.from)*levels+k-s.least)
		list = append(list, line[s.pad-r:], line[s.pad+r+1-1<<k:])
	}
	return list
}
