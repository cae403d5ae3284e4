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

// into makes the first three planes of dst, whose size is that of all that is blurred. A row's first and last sample are repeated once, in its pads.
func (s rowSum) into(ctx context.Context, dst *frame.Frame) error {
	reach := 0
	for _, b := range s.blurs {
		reach = max(reach, b.kernel.taps.Reach())
	}
	// rows that bands share are blurred across for each of them, so bands are long where blurs reach far
	rows := max(band(dst.W), min(6*reach, dst.H/8))
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
			across[i] = newAcrossed(b)
		}
		for p := range 3 {
			for _, a := range across {
				a.next = y0 - a.reach
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

// acrossed keeps the rows of a picture that a kernel looks at, blurred across.
type acrossed struct {
	blurred
	reach, pitch int
	next         int // the row to be blurred next
	ring         []float32
	line         []float32   // a row with its ends repeated
	list         [][]float32 // rows about one
}

func newAcrossed(b blurred) *acrossed {
	a := &acrossed{blurred: b, reach: b.kernel.taps.Reach()}
	if a.reach == 0 {
		return a
	}
	a.pitch = (b.src.W+15)&^15 + 16
	a.ring = make([]float32, (2*a.reach+1)*a.pitch)
	a.line = make([]float32, b.src.W+2*frame.LeftPad+frame.RightPad)
	a.list = make([][]float32, 2*a.reach+1)
	return a
}

// row is where row y goes; those beyond the picture are its first and last.
func (a *acrossed) row(y int) []float32 {
	o := min(max(y, 0), a.src.H-1) % (2*a.reach + 1) * a.pitch
	return a.ring[o : o+a.src.W : o+a.pitch]
}

// add adds row y of the blur of plane p; rows come in order.
func (a *acrossed) add(p, y int, dst []float32) {
	weight := a.kernel.weight[p] * a.gain[p]
	if a.reach == 0 {
		vec.Mix(dst, dst, a.src.Row(p, y), 1, weight)
		return
	}
	for a.next = max(a.next, 0); a.next <= min(y+a.reach, a.src.H-1); a.next++ {
		replicate(a.line, a.src.Row(p, a.next), a.reach)
		vec.Taps(a.row(a.next), a.line[:a.src.W+2*a.reach], a.kernel.taps)
	}
	a.list[0] = a.row(y)
	for i := 1; i <= a.reach; i++ {
		a.list[2*i-1], a.list[2*i] = a.row(y-i), a.row(y+i)
	}
	vec.Columns(dst, a.list, a.kernel.taps, weight)
}
