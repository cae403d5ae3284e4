package studio

import (
	"context"

	"velours/core/grade"
)

// Tones is how often each brightness occurs in the light that enters a step: counts of red, green, blue and
// luminance over From to To stops from mid grey, as shares of the largest.
type Tones struct {
	From  float64      `json:"from"`
	To    float64      `json:"to"`
	Count [4][]float64 `json:"count"`
}

// tonesFrom, tonesTo and tonesBins are the scale of Tones.
const tonesFrom, tonesTo, tonesBins = -10.0, 8.0, 144

// Tones counts the light that enters the view's Step, over the whole frame.
func (s *Sessions) Tones(ctx context.Context, v View) (*Tones, error) {
	v.W, v.H, v.CropW, v.CropH, v.Draft, v.Side, v.Show = readWidth, readWidth, 0, 0, true, Side{}, Plainly
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	light, err := s.entering(ctx, c, v.Step)
	if err != nil {
		return nil, err
	}
	t := &Tones{From: tonesFrom, To: tonesTo}
	for i := range t.Count {
		t.Count[i] = make([]float64, tonesBins)
	}
	for y := range light.H {
		for x := range light.W {
			p := light.At(x, y)
			for i, v := range [4]float64{p[0], p[1], p[2], grade.Luma[0]*p[0] + grade.Luma[1]*p[1] + grade.Luma[2]*p[2]} {
				k := int((grade.Stops(v) - tonesFrom) / (tonesTo - tonesFrom) * tonesBins)
				t.Count[i][min(max(k, 0), tonesBins-1)]++
			}
		}
	}
	most := 1.0
	for i := range t.Count {
		for k := 1; k < tonesBins-1; k++ { // the ends hold all that lies beyond
			most = max(most, t.Count[i][k])
		}
	}
	for i := range t.Count {
		for k := range t.Count[i] {
			t.Count[i][k] = min(t.Count[i][k]/most, 1)
		}
	}
	return t, nil
}
