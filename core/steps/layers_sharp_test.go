package steps

import (
	"testing"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// A layer in which light scatters further draws softer, and leaves the others as they were.
func TestLayersDrawApart(t *testing.T) {
	plain, err := film.FindStock("aubade-250d")
	if err != nil {
		t.Fatal(err)
	}
	soft := *plain
	soft.ID, soft.Label = "own-soft", "Soft"
	soft.Separation, soft.OneSided = [3][3]float64{}, [3][3]float64{}
	soft.Taking = &colour.Matrix{1, 0, 0, 0, 1, 0, 0, 0, 1}
	crisp := soft
	crisp.ID = "own-crisp"
	soft.Layers[0].Scatter = 2.5
	src := frame.New(240, 60, 3)
	for p := range 3 {
		for y := range src.H {
			for x := range src.W {
				src.Row(p, y)[x] = 0.05
				if x == 120 {
					src.Row(p, y)[x] = 1
				}
			}
		}
	}
	line := func(s *film.Stock) [3]float64 {
		if err := s.Ready(); err != nil {
			t.Fatal(err)
		}
		if err := film.Know(s); err != nil {
			t.Fatal(err)
		}
		defer film.Forget(s.ID)
		l := set(t, "negative.stock.id="+s.ID, "negative.gauge.id=super8", "negative.sharpness.scatter=100", "negative.sharpness.adjacency=0")
		plan, err := render.Compile(t.Context(), l, colour.Working(), render.Raster{W: src.W, H: src.H}, look.Negative)
		if err != nil {
			t.Fatal(err)
		}
		f, err := render.NewRenderer(0).Render(t.Context(), plan, render.Still{Picture: src}, 0)
		if err != nil {
			t.Fatal(err)
		}
		return f.At(120, 30)
	}
	a, b := line(&crisp), line(&soft)
	t.Logf("a line is %.3f, with a softer red layer %.3f", a, b)
	if b[0] > a[0]-0.03 || b[1]-a[1] > 0.003 || a[1]-b[1] > 0.003 || b[2]-a[2] > 0.003 || a[2]-b[2] > 0.003 {
		t.Errorf("a line is %.3f, with a softer red layer %.3f", a, b)
	}
}
