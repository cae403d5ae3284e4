package steps

import (
	"fmt"

	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(compressKind) }

var compressKind = &look.Kind{
	ID: "compress", Place: 20, Station: look.Intake, Label: "Camera gamut", HasStrength: true, Wants: "wide",
	Purpose:  "Draws colours that the camera placed outside what light can be back to the edge: strong blues and reds keep their shape. It is the published reference gamut compression of ACES 1.3; colours well inside do not move.",
	Settings: []look.Setting{},
	Work:     render.Work{Apply: func(b *render.Builder, _ look.Values, s float64) { b.Add(look.Intake, &compressOp{s}) }},
}

// compressOp draws colours outside the camera's reach into ACEScg.
type compressOp struct{ amount float64 }

func (o *compressOp) Key() string { return fmt.Sprintf("compress %g", o.amount) }
func (o *compressOp) Columns(int, int, int, int) func(int, [3][]float32) {
	k := float32(o.amount)
	return func(_ int, c [3][]float32) {
		r, g, b := c[0], c[1][:len(c[0])], c[2][:len(c[0])]
		for i, x := range r {
			if most := max(x, g[i], b[i]); most > 0 && min(x, g[i], b[i]) >= most*colour.NearCompressed {
				continue // well inside, as most colours are
			}
			v := colour.Compress([3]float64{float64(x), float64(g[i]), float64(b[i])})
			r[i], g[i], b[i] = x+(float32(v[0])-x)*k, g[i]+(float32(v[1])-g[i])*k, b[i]+(float32(v[2])-b[i])*k
		}
	}
}
