package steps

import (
	"context"
	"fmt"
	"math"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(defringeKind) }

var defringeKind = &look.Kind{
	ID: "defringe", Place: 25, Carried: look.PartCleaning, Station: look.Intake, Label: "Fringe clean-up", HasStrength: true, Spatial: true, Lead: []string{"purple", "green"},
	Purpose: "Takes out what a lens leaves along strong edges: purple and green rims, and red and blue that lie beside green towards the corners.",
	Settings: []look.Setting{
		dial("purple", "Purple", "%", 0, 100, 100, 1, "How much of purple rims is taken out. What is purple away from strong edges stays."),
		dial("green", "Green", "%", 0, 100, 100, 1, "How much of green rims is taken out, which lie on the other side of what is in focus."),
		travels(1.6, dial("width", "Width", "% width", 0.02, 1, 0.15, 0.01, "How wide rims are, in the picture's width.")),
		travels(1.6, dial("lateral", "Sideways", "% width", -0.5, 0.5, 0, 0.005, "How far red lies outside of green at the corners, and blue inside; both are brought onto it. Below 0 it is the other way around.")),
		fold("Hues", dial("purple-hue", "Purple hue", "°", 240, 360, 310, 1, "The middle of what counts as purple, as a hue of Oklab: 264 is blue, 328 purple.")),
		fold("Hues", dial("green-hue", "Green hue", "°", 90, 200, 140, 1, "The middle of what counts as green, as a hue of Oklab: 110 is yellow, 142 green.")),
		fold("Hues", dial("range", "Range", "°", 10, 90, 50, 1, "How far to either side hues count.")),
	},
	NoEffect: noEffectAt("nothing is taken out at 0 %", 0, "purple", "green", "lateral"),
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		f := grade.Fringes{
			Purple: v.Number("purple") / 100 * s, Green: v.Number("green") / 100 * s,
			PurpleHue: v.Number("purple-hue"), GreenHue: v.Number("green-hue"), Range: v.Number("range"),
		}
		width, lateral := v.Number("width")/100, v.Number("lateral")/100*s
		if f.Purple == 0 && f.Green == 0 && lateral == 0 {
			return
		}
		b.Area(look.Intake, fmt.Sprint("defringe", f, width, lateral), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			out := src
			var err error
			if lateral != 0 {
				// the middle of the rows is read further in for what lies too far out
				out, err = frame.Warp(ctx, src, parted(src, lateral, 1), nil, parted(src, lateral, -1), nil)
			} else {
				out = src.Clone()
			}
			if err != nil || f.Purple == 0 && f.Green == 0 {
				return out, err
			}
			soft, err := scatter.Soften(ctx, out, [3]float64{width / 3, width / 3, width / 3})
			if err != nil {
				return nil, err
			}
			defer soft.Release()
			wide, err := scatter.Soften(ctx, out, [3]float64{3 * width, 3 * width, 3 * width})
			if err != nil {
				return nil, err
			}
			defer wide.Release()
			return out, f.TakeOut(ctx, out, soft, wide, max(1, int(math.Round(width*float64(src.W)))))
		})
	}},
}

// parted are the places at which a channel is read that lies further out than green, share times lateral of the width at the corners.
func parted(f *frame.Frame, lateral, share float64) frame.Places {
	if share == 0 {
		return nil
	}
	w, h := float64(f.W), float64(f.H)
	k := 1 + lateral*w*share/(math.Hypot(w, h)/2)
	return func(y int, u, v []float32) {
		row := float32((float64(y)+0.5-h/2)*k + h/2 - 0.5)
		for x := range u {
			u[x], v[x] = float32((float64(x)+0.5-w/2)*k+w/2-0.5), row
		}
	}
}
