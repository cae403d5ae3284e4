package dither

import "velours/core/vec"

// margin keeps thresholds off 0 and 1, in codes: a code that is whole but for rounding stays itself.
const margin = 1. / 512

// Rows gives the thresholds of one plane's rows. It is not safe for concurrent use; each goroutine has its own.
type Rows struct {
	plane uint64
	mask  *[edge][edge]int32
	cells int // the row of cells that Turns are of
	t     vec.Thresholds
}

// NewRows prepares for rows of w samples of a plane, of which each has thresholds of its own.
func NewRows(plane, w int) *Rows {
	return &Rows{plane: uint64(plane), mask: Mask(), cells: -1,
		t: vec.Thresholds{Turns: make([][8]int32, (w+edge-1)/edge), First: margin + unit/2, Unit: unit}}
}

const unit = (1 - 2*margin) / all

// Row is the thresholds of row y, until the next call.
func (r *Rows) Row(y int) *vec.Thresholds {
	if c := y / edge; c != r.cells {
		r.cells = c
		for i := range r.t.Turns {
			turn := int32(mix(r.plane<<48|uint64(c)<<24|uint64(i)) % all)
			for k := range r.t.Turns[i] {
				r.t.Turns[i][k] = turn
			}
		}
	}
	r.t.Ranks = &r.mask[y%edge]
	return &r.t
}

// mix is the finaliser of SplitMix64, once the counter was stepped.
func mix(z uint64) uint64 {
	z += vec.Golden
	z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
	z = (z ^ (z >> 27)) * 0x94D049BB133111EB
	return z ^ (z >> 31)
}

// Round is the thresholds that round to the nearest code, for rows of w samples.
func Round(w int) *vec.Thresholds {
	return &vec.Thresholds{Ranks: &Mask()[0], Turns: make([][8]int32, (w+edge-1)/edge), First: 0.5}
}
