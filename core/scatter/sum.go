package scatter

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// rowSum makes a picture row by row: a row is begun, blurs of other pictures are added to it, and it is ended, all while it is in the cache.
// Begin and end are called for each band of rows, and what they return is for one goroutine alone.
type rowSum struct {
	begin rowMaker // nil: rows are added to as they are
	blurs []blurred
	end   rowMaker
}

// rowMaker returns what makes or changes row y of plane p.
type rowMaker func() func(p, y int, row []float32)

// blurred is the blur of a picture by a kernel that has no direction, times gain.
type blurred struct {
	src    *frame.Frame
	kernel kernel
	gain   [3]float32
}

// by is the blur of src by kernels, each as it weighs.
func by(src *frame.Frame, kernels []kernel, gain [3]float32) (out []blurred) {
	for _, k := range kernels {
		out = append(out, blurred{src, k, gain})
	}
	return out
}

// wholeBytes is the size of three planes up to which rows blurred across are made for all of a picture at once, since they stay in the cache;
// those of larger ones are made band by band, a few more than a band has.
const wholeBytes = 4 << 20

// into makes the first three planes of dst, whose size is that of all that is blurred, and which is none of it. A row's first and last sample are repeated once, in its pads.
func (s rowSum) into(ctx context.Context, dst *frame.Frame) error {
	reach, whole := 0, 12*dst.W*dst.H <= wholeBytes
	made := make([]*frame.Frame, len(s.blurs))
	defer func() {
		for _, f := range made {
			if f != nil {
				f.Release()
			}
		}
	}()
	for i, b := range s.blurs {
		reach = max(reach, b.kernel.taps.Reach())
		if whole && b.kernel.taps.Reach() > 0 {
			made[i] = frame.Get(dst.W, dst.H, 3)
			if err := b.across(ctx, made[i]); err != nil {
				return err
			}
		}
	}
	rows := band(dst.W)
	if !whole {
		rows = max(rows, min(6*reach, dst.H/8))
	}
	return frame.Bands(ctx, dst.H, rows, func(y0, y1 int) {
		var begin, end func(p, y int, row []float32)
		if s.begin != nil {
			begin = s.begin()
		}
		if s.end != nil {
			end = s.end()
		}
		across := make([]*acrossed, len(s.blurs))
		for i, b := range s.blurs {
			across[i] = newAcrossed(b, made[i])
		}
		for p := range 3 {
			for _, a := range across {
				a.next = max(y0-a.reach, 0)
			}
			for y := y0; y < y1; y++ {
				row := dst.Row(p, y)
				if begin != nil {
					begin(p, y, row)
				}
				for _, a := range across {
					a.add(p, y, row)
				}
				if end != nil {
					end(p, y, row)
				}
				repeatEdge(dst, p, y)
			}
		}
	})
}

// across blurs all rows across.
func (b blurred) across(ctx context.Context, dst *frame.Frame) error {
	return frame.Bands(ctx, dst.H, band(dst.W), func(y0, y1 int) {
		line := newLine(b.src.W)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				b.row(dst.Row(p, y), p, y, line)
			}
		}
	})
}

// row blurs row y of plane p across; line is room for it with its ends repeated.
func (b blurred) row(dst []float32, p, y int, line []float32) {
	r := b.kernel.taps.Reach()
	replicate(line, b.src.Row(p, y), r)
	vec.Taps(dst, line[:b.src.W+2*r], b.kernel.taps)
}

func newLine(w int) []float32 { return make([]float32, w+2*frame.LeftPad+frame.RightPad) }

// acrossed has the rows of a picture that a kernel looks at, blurred across: of all of it, or a ring of those about one.
type acrossed struct {
	blurred
	reach int
	whole *frame.Frame
	ring  [][]float32
	next  int         // the row to be made next
	line  []float32   // a row with its ends repeated
	list  [][]float32 // rows about one
}

func newAcrossed(b blurred, whole *frame.Frame) *acrossed {
	a := &acrossed{blurred: b, reach: b.kernel.taps.Reach(), whole: whole}
	if a.reach == 0 {
		return a
	}
	a.list = make([][]float32, 2*a.reach+1)
	if whole != nil {
		return a
	}
	a.line, a.ring = newLine(b.src.W), make([][]float32, 2*a.reach+1)
	for i := range a.ring {
		a.ring[i] = make([]float32, b.src.W, b.src.W+frame.RightPad)
	}
	return a
}

// about lists row y, those one above and one below it, and so on; beyond the picture it goes on as it ends.
func (a *acrossed) about(p, y int) [][]float32 {
	last := a.src.H - 1
	if a.whole != nil {
		a.list[0] = a.whole.Row(p, y)
		for i := 1; i <= a.reach; i++ {
			a.list[2*i-1], a.list[2*i] = a.whole.Row(p, max(y-i, 0)), a.whole.Row(p, min(y+i, last))
		}
		return a.list
	}
	for ; a.next <= min(y+a.reach, last); a.next++ {
		a.row(a.ring[a.next%len(a.ring)], p, a.next, a.line)
	}
	up := y % len(a.ring)
	down := up
	a.list[0] = a.ring[up]
	for i := 1; i <= a.reach; i++ {
		if y-i >= 0 {
			if up--; up < 0 {
				up = len(a.ring) - 1
			}
		}
		if y+i <= last {
			if down++; down == len(a.ring) {
				down = 0
			}
		}
		a.list[2*i-1], a.list[2*i] = a.ring[up], a.ring[down]
	}
	return a.list
}

// add adds row y of the blur of plane p; rows come in order.
func (a *acrossed) add(p, y int, dst []float32) {
	weight := a.kernel.weight[p] * a.gain[p]
	if a.reach == 0 {
		vec.Mix(dst, dst, a.src.Row(p, y), 1, weight)
		return
	}
	vec.Columns(dst, a.about(p, y), a.kernel.taps, weight)
}
