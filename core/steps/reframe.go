package steps

import (
	"context"
	"fmt"
	"math"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(reframeKind) }

var reframeKind = &look.Kind{
	ID: "reframe", Place: 30, Carried: look.PartFraming, Station: look.Intake, Label: "Reframe", Spatial: true, Lead: []string{"x", "y", "turn"},
	Purpose: "Places the picture anew in its frame: larger, smaller, aside, turned. The file stays as it is, and grain and halation keep their size on the film.",
	Settings: []look.Setting{
		{
			ID: "scale", Label: "Scale", Unit: "%", Min: 25, Max: 400, Default: 100, Step: 1, Curve: 2,
			Help: "The size of the picture in its frame. Above 100 it is cut at the edges; much above 150 it gets soft.",
		},
		{
			ID: "x", Label: "Right", Unit: "%", Min: -100, Max: 100, Step: 0.5,
			Help: "How far the picture moves to the right, in its frame's width.",
		},
		{
			ID: "y", Label: "Down", Unit: "%", Min: -100, Max: 100, Step: 0.5,
			Help: "How far the picture moves down, in its frame's height.",
		},
		{
			ID: "turn", Label: "Turn", Unit: "°", Min: -180, Max: 180, Step: 0.1,
			Help: "Turns the picture clockwise about its middle. A degree or less straightens a horizon.",
		},
	},
	NoEffect: func(v look.Values) string {
		if v.Number("scale") != 100 {
			return ""
		}
		return noEffectAt("the picture is in its place", 0, "x", "y", "turn")(v)
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, _ float64) {
		if place := (frame.Placement{Scale: v.Number("scale") / 100, X: v.Number("x") / 100, Y: v.Number("y") / 100, Turn: v.Number("turn") * math.Pi / 180}); !place.Plain() {
			b.Add(look.Intake, &reframeOp{place})
		}
	}},
}

// reframeOp places the picture anew.
type reframeOp struct{ place frame.Placement }

func (o *reframeOp) Name() string  { return "reframe" }
func (o *reframeOp) Key() string   { return fmt.Sprintf("reframe%v", o.place) }
func (o *reframeOp) Uniform() bool { return true }
func (o *reframeOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	return frame.Reframe(ctx, src, o.place)
}
