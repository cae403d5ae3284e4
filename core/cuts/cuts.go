// Package cuts finds where shots begin in a movie that holds many: hard cuts, from one frame to the next. Small pictures of the frames are enough.
package cuts

import (
	"math"
	"slices"

	"velours/core/frame"
)

// Across and Down are how many cells a small picture has.
const Across, Down = 32, 18

// Small is a frame in cells: what each channel shows there on average, in code values.
type Small [3][Down][Across]float32

// Of is a frame in cells. Frames of another shape are stretched; what is no number counts as 0.
func Of(f *frame.Frame) *Small {
	s := &Small{}
	for p := range 3 {
		for cy := range Down {
			y0, y1 := cy*f.H/Down, max((cy+1)*f.H/Down, cy*f.H/Down+1)
			for cx := range Across {
				x0, x1 := cx*f.W/Across, max((cx+1)*f.W/Across, cx*f.W/Across+1)
				sum, n := 0.0, 0
				for y := y0; y < y1; y++ {
					for _, v := range f.Row(p, min(y, f.H-1))[min(x0, f.W-1):min(x1, f.W)] {
						if c := float64(v); c > -1 && c < 2 {
							sum += c
						}
						n++
					}
				}
				s[p][cy][cx] = float32(sum / float64(max(n, 1)))
			}
		}
	}
	return s
}

// What makes a cut: frames differ by as much, and by so many times what the frames about them usually do; within a return frames come back to what
// they were before a flash.
const (
	leastChange   = 0.02
	aboveUsual    = 3.5
	usualFloor    = 0.004
	window        = 8 // frames before and after by which it is told what is usual
	within        = 4
	returnedShare = 0.5
)

// Find returns the frames at which another shot begins, rising; the first frame is none of them. A flash that is over after a few frames is no cut.
func Find(frames []*Small) []int {
	if len(frames) < 2 {
		return nil
	}
	change := make([]float64, len(frames)) // from the frame before
	for i := 1; i < len(frames); i++ {
		change[i] = frames[i-1].apart(frames[i])
	}
	var out []int
	for i := 1; i < len(frames); i++ {
		if change[i] < leastChange {
			continue
		}
		var about []float64
		for k := max(i-window, 1); k <= min(i+window, len(frames)-1); k++ {
			if k != i {
				about = append(about, change[k])
			}
		}
		if usual := median(about); change[i] < aboveUsual*(usual+usualFloor) {
			continue
		}
		if returns(frames, i, change[i]) {
			continue
		}
		out = append(out, i)
	}
	return out
}

// returns tells whether what frame i−1 shows is seen again soon after i, or what i shows was seen shortly before it: a flash, whose both ends would
// be cuts.
func returns(frames []*Small, i int, change float64) bool {
	for k := 1; k <= within; k++ {
		if i+k < len(frames) && frames[i-1].apart(frames[i+k]) < returnedShare*change {
			return true
		}
		if i-1-k >= 0 && frames[i].apart(frames[i-1-k]) < returnedShare*change {
			return true
		}
	}
	return false
}

// apart is how far two frames differ: each cell from the cell of the other that is most like it, there or beside it, so that what moves a little
// is not another picture.
func (s *Small) apart(t *Small) float64 { return (s.missed(t) + t.missed(s)) / 2 }

// missed is how far the cells of s are from the nearest of t.
func (s *Small) missed(t *Small) float64 {
	sum := 0.0
	for y := range Down {
		for x := range Across {
			least := math.Inf(1)
			for v := max(y-1, 0); v <= min(y+1, Down-1); v++ {
				for u := max(x-1, 0); u <= min(x+1, Across-1); u++ {
					d := 0.0
					for p := range 3 {
						d += math.Abs(float64(s[p][y][x] - t[p][v][u]))
					}
					least = min(least, d)
				}
			}
			sum += least / 3
		}
	}
	return sum / (Across * Down)
}

func median(v []float64) float64 {
	if len(v) == 0 {
		return 0
	}
	slices.Sort(v)
	return v[len(v)/2]
}
