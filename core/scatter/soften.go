package scatter

import (
	"context"

	"velours/core/frame"
)

// Soften blurs every channel by a deviation of its own, a fraction of the width.
func Soften(ctx context.Context, src *frame.Frame, sigma [3]float64) (*frame.Frame, error) {
	var terms []Term
	var direct [3]float32
	for i, s := range sigma {
		if s <= 0 {
			direct[i] = 1
			continue
		}
		t := Term{Sigma: s * float64(src.W)}
		t.Weight[i] = 1
		terms = append(terms, t)
	}
	return blurTerms(ctx, src, terms, shape{}, direct, [3]float32{1, 1, 1})
}
