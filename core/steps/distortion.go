package steps

import (
	"context"
	"fmt"
	"math"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(distortionKind) }

var distortionKind = &look.Kind{
	ID: "distortion", Place: 30, Station: look.Lens, Label: "Distortion", HasStrength: true, Spatial: true, Repeatable: true, Group: "Glass", Lead: []string{"amount"}, NoEffect: noEffectAt("straight lines stay straight at 0 %", 0, "amount", "edge"),
	Purpose: "Bends straight lines as a lens does. The frame stays filled: as much is cut as the bending lays bare.",
	Begin:   map[string]any{"amount": -3.0},
	Settings: []look.Setting{
		travels(1.6, dial("amount", "Bend", "%", -30, 30, 0, 0.1, "Below 0 lines bulge outwards, as in wide lenses; above 0 they are drawn in. One to four is what lenses do.")),
		travels(1.6, dial("edge", "At the edge", "%", -20, 20, 0, 0.1, "More of it, or less, towards the corners: with the other sign the line turns back, as in old zooms.")),
		{ID: "crop", Label: "Frame", Choices: []look.Choice{{ID: "fill", Label: "Filled", Note: "Cut as little as leaves nothing bare"}, {ID: "keep", Label: "Middle kept", Note: "The middle keeps its size; edges may go on as they end"}}, Help: "What happens where bending lays bare."},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		d := bend{k1: v.Number("amount") / 100 * s, k2: v.Number("edge") / 100 * s, fill: v.Choice("crop") == "fill"}
		if d.k1 == 0 && d.k2 == 0 {
			return
		}
		b.Area(look.Lens, fmt.Sprint("distortion", d), 1, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
			return d.run(ctx, src)
		})
	}},
}

// bend is a radial distortion: a place at r half diagonals from the middle shows what was at r·(1 + k1·r² + k2·r⁴), times a
// scale that fills the frame.
type bend struct {
	k1, k2 float64
	fill   bool
}

func (d bend) factor(r2 float64) float64 { return 1 + r2*(d.k1+r2*d.k2) }

// scale is the largest at which the frame shows nothing from outside the picture: along its edge all is inside.
func (d bend) scale(w, h float64) float64 {
	if !d.fill {
		return 1
	}
	half := math.Hypot(w, h) / 2
	s := 2.0
	fits := func(s float64) bool {
		const n = 64
		for i := range n + 1 {
			t := float64(i) / n
			for _, p := range [2][2]float64{{t * w / 2, h / 2}, {w / 2, t * h / 2}} {
				x, y := s*p[0], s*p[1]
				k := d.factor((x*x + y*y) / half / half)
				if x*k > w/2+1e-6 || y*k > h/2+1e-6 || k < 0 {
					return false
				}
			}
		}
		return true
	}
	low, high := 0.2, s
	for range 30 {
		if mid := (low + high) / 2; fits(mid) {
			low = mid
		} else {
			high = mid
		}
	}
	return low
}

func (d bend) run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	w, h := float64(src.W), float64(src.H)
	half, s := math.Hypot(w, h)/2, d.scale(w, h)
	return frame.Warp(ctx, src, func(y int, us, vs []float32) {
		v := s * (float64(y) + 0.5 - h/2)
		for x := range us {
			u := s * (float64(x) + 0.5 - w/2)
			k := d.factor((u*u + v*v) / (half * half))
			us[x], vs[x] = float32(u*k+w/2-0.5), float32(v*k+h/2-0.5)
		}
	})
}
