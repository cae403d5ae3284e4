package steps

import (
	"fmt"
	"math"

	"velours/core/cache"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(grainKind) }

var grainKind = &look.Kind{
	ID: "grain", Place: 50, Provides: "sizes", Station: look.Negative, Label: "Grain", HasStrength: true, Masks: true, Film: true, Spatial: true, Lead: []string{"amount"}, NoEffect: noEffectAt("no grain at 0 %", 0, "amount"),
	Purpose: "The dye clouds of the negative, in its density: clean blacks, most in the middle tones, quiet highlights, without being told.",
	Settings: []look.Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 300, Default: 100, Step: 1, Curve: 1.4,
			Help: "100 % is the stock's own granularity at this gauge. Hardly seen when the frame is fitted, seen at 1:1: that is right.",
		},
		{
			ID: "size", Label: "Cloud size", Unit: "%", Min: 40, Max: 300, Default: 100, Step: 5,
			Help: "The size of the dye clouds against the stock's own. Larger clouds make softer, coarser grain of the same granularity.",
		},
		{
			ID: "link", Label: "Linked", Unit: "%", Min: 0, Max: 100, Default: 80, Step: 1,
			Help: "How far the three layers share one grain. At 100 it is neutral, at 0 every layer has its own, as in the emulsion; coloured grain easily reads as digital noise.",
		},
		{
			ID: "seed", Label: "Roll", Unit: "no.", Min: 0, Max: 9999, Default: 1, Step: 1,
			Help: "Another roll of the same film: the same grain in other places.",
		},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		if a := v.Number("amount") / 100 * s; a > 0 {
			g := grainOf{amount: a, cloud: v.Number("size") / 100, link: v.Number("link") / 100, seed: uint64(v.Number("seed"))}
			b.In(render.Density, func(e *render.Exposed) render.Operation { return newGrain(g.setting(e)) })
		}
	}},
}

// grainOf says how much grain there is: amount of the stock's own, the size of its clouds, how far layers are linked.
type grainOf struct {
	amount, cloud, link float64
	seed                uint64
}

// dupeGrain is how a dupe adds the grain of its two films, each finer than the camera's, to that of the camera's.
const dupeGrain = 1.3

// setting describes the grain on the film's raster.
func (g grainOf) setting(e *render.Exposed) grain.Setting {
	s := e.Emulsion()
	cloud := s.Cloud * g.cloud
	set := grain.Setting{Pitch: e.Width * 1000 / float64(e.Raster.W), Squeeze: e.Squeeze, Link: g.link, Seed: g.seed}
	coarser := math.Pow(1+s.Development.Grain, e.Process.Push)
	if e.Dupe && e.Medium != nil {
		coarser *= dupeGrain
	}
	if s.Mono {
		set.Link = 1 // one layer, and silver
	}
	for i, l := range s.Layers {
		set.Cloud[i] = cloud
		set.S[i] = grain.Selwyn(s.Granularity*l.Grain, cloud) * g.amount * coarser
		set.Top = max(set.Top, l.DMax+0.4)
	}
	return set
}

// grainOp adds grain to density.
type grainOp struct {
	set grain.Setting
	gen *grain.Generator
}

// generators take some milliseconds to make and serve many frames.
var generators = cache.Results[*grain.Generator]{Size: 24}

func newGrain(s grain.Setting) *grainOp {
	g, _ := generators.Get(fmt.Sprintf("%v", s), func() (*grain.Generator, error) { return grain.New(s), nil })
	return &grainOp{s, g}
}

func (o *grainOp) Key() string { return fmt.Sprintf("grain%v", o.set) }
func (o *grainOp) Moving()     {}
func (o *grainOp) Columns(number, x0, w, y0 int) func(int, [3][]float32) {
	s := o.gen.Columns(number, x0, w, y0)
	return s.Add
}
