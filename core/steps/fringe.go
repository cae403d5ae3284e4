package steps

import (
	"context"
	"fmt"
	"math"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(fringeKind) }

var fringeKind = &look.Kind{
	ID: "fringe", Place: 32, Station: look.Lens, Label: "Colour fringe", HasStrength: true, Spatial: true, Repeatable: true, Group: "Glass", Lead: []string{"lateral", "axial"}, NoEffect: noEffectAt("all colours meet at 0", 0, "lateral", "axial"),
	Purpose: "Lets colours part at edges, as glass does: red and blue a little larger or smaller than green towards the corners, or a little softer all over.",
	Begin:   map[string]any{"lateral": 0.06},
	Settings: []look.Setting{
		travels(1.6, dial("lateral", "Sideways", "% width", -0.5, 0.5, 0, 0.005, "How far red and blue part from green at the corners. A twentieth of a per cent is an old lens; below 0 blue lies outside.")),
		travels(2, dial("axial", "In depth", "% width", 0, 0.5, 0, 0.005, "How soft red and blue are beside green: a purple rim at bright edges.")),
		travels(1.6, dial("balance", "Red and blue", "%", -100, 100, 0, 1, "Left lets red alone part, right blue alone.")),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		lateral, axial := v.Number("lateral")/100*s, v.Number("axial")/100*s
		if lateral == 0 && axial == 0 {
			return
		}
		balance := v.Number("balance") / 100
		share := [3]float64{math.Min(1, 1-balance), 0, math.Min(1, 1+balance)}
		b.Area(look.Lens, fmt.Sprint("fringe", lateral, axial, balance), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			soft := src
			if axial > 0 {
				var err error
				if soft, err = scatter.Soften(ctx, src, [3]float64{axial * share[0], 0, axial * share[2]}); err != nil || lateral == 0 {
					return soft, err
				}
				defer soft.Release()
			}
			return frame.Warp(ctx, soft, parted(soft, lateral, -share[0]), nil, parted(soft, lateral, share[2]), nil)
		})
	}},
}
