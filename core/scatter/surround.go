package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// A blur so wide that it reaches beyond the frame depends on what it finds there: the picture goes on as it ends. On coarse
// samples, which a pyramid takes for wide blurs, an edge's sample holds much of what lies inside, and that must not go on. So
// wide terms are drawn on a picture that is continued while its samples are still fine.

// surroundedWidth is how many samples across a picture has when it is continued, and surroundedFrom the deviation, as a fraction
// of the width, from which on terms are wide; reach is how many deviations it is continued by.
const surroundedWidth, surroundedFrom, surroundedReach = 120, 0.035, 2.7

// surroundedLevel is the level at which a picture so wide is continued.
func surroundedLevel(width int) int {
	l := 0
	for (width+1)>>(l+1) >= surroundedWidth/2 && width>>l > surroundedWidth {
		l++
	}
	return l
}

// apart parts terms in pixels from wide ones.
func (s shape) apart(terms []Term, width int) (near, wide []Term) {
	for _, t := range terms {
		if round, _ := s.of(t.Sigma); round > surroundedFrom*float64(width) && surroundedLevel(width) > 0 {
			wide = append(wide, t)
		} else {
			near = append(near, t)
		}
	}
	return near, wide
}

// addSurrounded adds the blur of a level by wide terms (σ in pixels of the full picture) to sum.
func addSurrounded(ctx context.Context, sum, level *frame.Frame, wide []Term, o shape, l int) error {
	four := math.Exp2(float64(2 * l))
	most := 0.0
	scaled := make([]Term, len(wide))
	for i, t := range wide {
		// what going down and up again adds comes off, to every side
		scaled[i] = Term{math.Sqrt(max((t.Sigma*t.Sigma-0.5*(four-1))/four, 0.01)), t.Weight}
		most = max(most, t.Sigma/math.Exp2(float64(l)))
	}
	if o.Aspect > 1 {
		most *= math.Sqrt(o.Aspect)
	}
	pad := min(int(math.Ceil(surroundedReach*most)), 3*level.W)
	big := frame.Get(level.W+2*pad, level.H+2*pad, 3)
	defer big.Release()
	for p := range 3 {
		for y := range big.H {
			d, s := big.Row(p, y), level.Row(p, min(max(y-pad, 0), level.H-1))
			copy(d[pad:], s)
			for x := range pad {
				d[x], d[pad+level.W+x] = s[0], s[level.W-1]
			}
		}
	}
	o.Surrounded = false
	blurred, err := blurTerms(ctx, big, scaled, o, [3]float32{}, [3]float32{1, 1, 1})
	if err != nil {
		return err
	}
	defer blurred.Release()
	for p := range 3 {
		for y := range sum.H {
			d := sum.Row(p, y)
			vec.Mix(d, d, blurred.Part(p, y+pad, pad, sum.W), 1, 1)
		}
	}
	return nil
}
