package steps

import (
	"fmt"

	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(vignetteKind) }

var vignetteKind = &look.Kind{
	ID: "vignette", Place: 20, Pictured: []string{"x", "y"}, Station: look.Lens, Label: "Vignette", HasStrength: true, Spatial: true, Repeatable: true, Lead: []string{"stops"}, NoEffect: noEffectAt("at 0 stops no light falls off", 0, "stops"),
	Purpose: "Lets light fall off towards the edge of the frame, as a lens does, before the film sees it.",
	Editor:  "vignette",
	Keyed:   []string{"x", "y"},
	Settings: []look.Setting{
		{ID: "stops", Label: "Exposure", Unit: "stops", Min: -4, Max: 2, Step: 0.05, Curve: 1.6, Help: "What the far edge gets. −0.3 to −0.7 holds the eye in the frame without being seen; above 0 lifts corners that a lens has darkened."},
		{ID: "size", Label: "Size", Unit: "%", Min: 0, Max: 150, Default: 80, Step: 1, Help: "Where it is half way there, as a share of the way to the corner."},
		{ID: "feather", Label: "Feather", Unit: "%", Min: 5, Max: 200, Default: 110, Step: 1, Help: "How far it takes. Wide is right for lenses; narrow shows as a mask."},
		{ID: "round", Label: "Roundness", Unit: "%", Min: 0, Max: 100, Default: 35, Step: 1, Help: "From the shape of the frame to a circle."},
		{ID: "angle", Label: "Turn", Unit: "°", Min: -90, Max: 90, Step: 0.5, Help: "Turns it, clockwise."},
		{ID: "x", Label: "Across", Unit: "%", Min: 0, Max: 100, Default: 50, Step: 0.5, Help: "Its centre from the left. Move it towards what the eye should find."},
		{ID: "y", Label: "Down", Unit: "%", Min: 0, Max: 100, Default: 50, Step: 0.5, Help: "Its centre from the top."},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		if v.Number("stops") == 0 {
			return
		}
		g := grade.Vignette{Stops: v.Number("stops") * s, Size: v.Number("size") / 100, Feather: v.Number("feather") / 100, Round: v.Number("round") / 100, Angle: v.Number("angle"), X: v.Number("x") / 100, Y: v.Number("y") / 100}
		b.Place(look.Lens, newVignette(g, b.Raster))
	}},
}

// vignetteOp lets light fall off towards the edge.
type vignetteOp struct {
	v   grade.Vignette
	row func(gain []float32, y, x0 int)
}

func newVignette(v grade.Vignette, r render.Raster) *vignetteOp {
	return &vignetteOp{v, v.Rows(r.W, r.H)}
}

func (o *vignetteOp) Key() string   { return fmt.Sprintf("vignette%v", o.v) }
func (o *vignetteOp) Uniform() bool { return true } // it commutes with a matrix
func (o *vignetteOp) Columns(_, x0, w, _ int) func(int, [3][]float32) {
	gain := make([]float32, w, w+16)
	return func(y int, c [3][]float32) {
		o.row(gain, y, x0)
		for i := range c {
			for x, k := range gain {
				c[i][x] *= k
			}
		}
	}
}
