package measure

import (
	"math"
	"testing"

	"velours/core/frame"
)

// Exposure moves the level alone, by its stops; a filter the colours, by its own; what is clipped or dark counts for nothing.
func TestLightOf(t *testing.T) {
	draw := func(k [3]float64) *frame.Frame {
		f := frame.New(64, 36, 3)
		for y := range f.H {
			for x := range f.W {
				v := 0.18 * math.Exp2(float64(x%7)-3)
				if x == 0 {
					v = 900
				}
				for c := range 3 {
					f.Row(c, y)[x] = float32(v * k[c])
				}
			}
		}
		return f
	}
	base := LightOf(draw([3]float64{1, 1, 1}))
	if math.Abs(base.Red) > 1e-6 || math.Abs(base.Blue) > 1e-6 {
		t.Errorf("greys are coloured: %+v", base)
	}
	up := LightOf(draw([3]float64{1.5, 1.5, 1.5}))
	if d := up.Level - base.Level; math.Abs(d-math.Log2(1.5)) > 1e-4 || math.Abs(up.Spread-base.Spread) > 1e-4 {
		t.Errorf("by %g stops, spread %g to %g", d, base.Spread, up.Spread)
	}
	warm := LightOf(draw([3]float64{1.3, 1, 0.8}))
	if math.Abs(warm.Red-math.Log2(1.3)) > 1e-4 || math.Abs(warm.Blue-math.Log2(0.8)) > 1e-4 {
		t.Errorf("a filter of 1.3 and 0.8 reads %+v", warm)
	}
	if base.Apart(base) != 0 || base.Apart(up) > 1 || base.Apart(warm) < 1 || base.Apart(LightOf(draw([3]float64{2, 2, 2}))) < 1 {
		t.Errorf("apart: %g, %g", base.Apart(up), base.Apart(warm))
	}
	if (LightOf() != Light{}) {
		t.Error("nothing has light")
	}
}
