package matte

import (
	"cmp"
	"context"
	"math"
	"math/bits"
	"slices"

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

// tileColumns and tileRows are the size of what is grown at a time, so that its spans stay in the cache; pieceColumns and pieceRows
// are the size of what is settled at once.
const (
	tileColumns, tileRows   = 256, 64
	pieceColumns, pieceRows = 64, 16
)

// grow moves edges outwards by so many pixels, or inwards: the greatest (least) coverage within a disc of that
// radius, whose rim counts by its share. A row of a disc is a span of its width, which two overlapping spans of a power of two
// cover. Of a large disc only those rows are looked at that can have something higher than what all discs about a piece
// of the picture share (cells.go), so that the cost follows the edges in the picture rather than the radius.
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
	squares, err := newCells(ctx, src, len(discs[len(discs)-1].half)-1, sign)
	if err != nil {
		return nil, err
	}
	defer squares.release()
	columns := (w + tileColumns - 1) / tileColumns
	out := frame.Get(w, h, 1)
	return out, frame.Bands(ctx, columns*((h+tileRows-1)/tileRows), 1, func(k, _ int) {
		x0, y0 := k%columns*tileColumns, k/columns*tileRows
		x1, y1 := min(x0+tileColumns, w), min(y0+tileRows, h)
		p := piece{spans: newSpans(src, x0, x1, y0, y1, discs, sign)}
		defer p.spans.release()
		best, rim := make([][]float32, pieceRows), make([][]float32, pieceRows)
		for i := range rim {
			rim[i] = room(pieceColumns)
		}
		for p.y0 = y0; p.y0 < y1; p.y0 += pieceRows {
			n := min(pieceRows, y1-p.y0)
			for p.x0 = x0; p.x0 < x1; p.x0 += pieceColumns {
				wide := min(pieceColumns, x1-p.x0)
				for i := range n {
					best[i], rim[i] = out.Part(0, p.y0+i, p.x0, wide), rim[i][:wide]
				}
				p.look(squares, discs, wide, n)
				for _, row := range best[:n] {
					for x := range row {
						row[x] = p.shared
					}
				}
				p.raise(best[:n], discs[0])
				if share > 0 && len(p.bands) > 0 {
					for i, row := range best[:n] {
						copy(rim[i], row) // which the larger disc has as well
					}
					p.raise(rim[:n], discs[1])
					for i, row := range best[:n] {
						for x, v := range rim[i] {
							row[x] += share * (v - row[x])
						}
					}
				}
				for _, row := range best[:n] {
					vec.Affine(row, row, sign, 0)
				}
			}
		}
	})
}

// piece is a part of a tile, from x0 and y0 on, and what the greatest within discs about it is found of.
type piece struct {
	spans  *spans
	x0, y0 int
	shared float32 // what all discs have at least
	bands  []band  // where there is something higher, the highest first
	parts  []int
}

// look finds where the discs about a piece of w×h samples have something higher than what they share.
func (p *piece) look(squares *cells, discs []disc, w, h int) {
	p.bands, p.shared = squares.about(p.bands[:0], discs[0], discs[len(discs)-1], p.x0, p.x0+w, p.y0, p.y0+h)
	p.bands = slices.DeleteFunc(p.bands, func(b band) bool { return b.greatest <= p.shared })
	slices.SortFunc(p.bands, func(a, b band) int { return cmp.Compare(b.greatest, a.greatest) })
}

// raise raises rows to the greatest within a disc about each sample of the piece: the highest bands first, which often tell that all others are too low.
func (p *piece) raise(rows [][]float32, d disc) {
	for i, row := range rows {
		least, k := lowest(row[1:], row[0]), 0
		for k < len(p.bands) && p.bands[k].greatest > least {
			p.parts = p.parts[:0]
			for most := 4*k + 4; k < min(len(p.bands), most) && p.bands[k].greatest > least; k++ {
				p.parts = p.spans.within(p.parts, d, p.y0+i, p.x0, p.bands[k].from, p.bands[k].to)
			}
			vec.Highest(row, p.spans.all, p.parts)
			least = lowest(row[1:], row[0])
		}
	}
}

// spans are the greatest of as many samples as powers of two have, along rows from to to about a tile. Those of a row are found when
// they are asked for, the shortest first, and follow each other.
type spans struct {
	src             *frame.Frame
	sign            float32
	x0, from, to    int
	pad             int // samples beside the tile
	least, greatest int // powers
	wide, pitch     int // samples of a row of spans, and from one to the next
	rows            *frame.Frame
	all, line       []float32
	found           []bool
}

func newSpans(src *frame.Frame, x0, x1, y0, y1 int, discs []disc, sign float32) *spans {
	last := discs[len(discs)-1].half
	n := len(last) - 1
	s := &spans{src: src, sign: sign, x0: x0, from: max(y0-n, 0), to: min(y1+n, src.H), pad: last[0], greatest: level(last[0]), least: level(last[n])}
	for _, d := range discs {
		s.least = min(s.least, level(d.half[len(d.half)-1]))
	}
	s.wide = x1 - x0 + 2*s.pad
	s.pitch = s.wide + frame.RightPad
	return s
}

func (s *spans) release() {
	if s.rows != nil {
		s.rows.Release()
	}
}

func (s *spans) levels() int { return s.greatest - s.least + 1 }

// find finds the spans of a row.
func (s *spans) find(y int) {
	if s.rows == nil {
		s.rows = frame.Get(s.pitch*(s.to-s.from)*s.levels(), 1, 1)
		s.all, s.found, s.line = s.rows.Row(0, 0), make([]bool, s.to-s.from), room(s.wide)
	}
	s.found[y-s.from] = true
	line := s.line
	widened(line, s.src.Row(0, y), s.x0-s.pad, s.sign)
	n := len(line)
	for k := 0; ; k++ {
		if k >= s.least {
			copy(s.all[((y-s.from)*s.levels()+k-s.least)*s.pitch:], line[:n])
		}
		if k == s.greatest {
			break
		}
		n -= 1 << k
		vec.Raise(line[:n], line[1<<k:])
	}
}

// widened sets line to a row from column x on, with a sign. A row goes on beside its ends as it ends.
func widened(line, row []float32, x int, sign float32) {
	left, right := min(max(-x, 0), len(line)), min(max(x+len(line)-len(row), 0), len(line))
	if left+right < len(line) {
		copy(line[left:], row[max(x, 0):min(x+len(line), len(row))])
	}
	for i := range left {
		line[i] = row[0]
	}
	for i := range right {
		line[len(line)-1-i] = row[len(row)-1]
	}
	vec.Affine(line, line, sign, 0)
}

// within adds to list where the spans from column x on begin that a disc about row y is made of, of rows from to to.
func (s *spans) within(list []int, d disc, y, x, from, to int) []int {
	n, row := len(d.half)-1, s.levels()*s.pitch
	from, to = max(y-n, from), min(y+n+1, to)
	at := (from-s.from)*row + s.pad + x - s.x0
	for q := from; q < to; q++ {
		if s.rows == nil || !s.found[q-s.from] {
			s.find(q)
		}
		r := d.half[max(q-y, y-q)]
		k := level(r)
		o := at + (k-s.least)*s.pitch
		list = append(list, o-r, o+r+1-1<<k)
		at += row
	}
	return list
}
