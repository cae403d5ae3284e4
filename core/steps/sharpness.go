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

func init() { look.Declare(sharpnessKind) }

var sharpnessKind = &look.Kind{
	ID: "sharpness", Place: 40, Provides: "sizes", Station: look.Negative, Label: "Sharpness", HasStrength: true, Masks: true, Film: true, Spatial: true, Lead: []string{"scatter"}, NoEffect: noEffectAt("no scatter and no adjacency", 0, "scatter", "adjacency"),
	Purpose: "How the stock draws at this gauge: light scatters in its layers, and what develops holds back its surroundings. Film resolves less than a lens, and looks crisp all the same.",
	Settings: []look.Setting{
		dial("scatter", "Scatter", "%", 0, 300, 100, 1, "Light that spreads in the layers, against the stock's own. It takes the edge off fine detail; on a small gauge it is most of the look, on a large one hardly there."),
		dial("adjacency", "Adjacency", "%", 0, 300, 100, 1, "What developed holds back its neighbours: a fine line of density along edges, against the stock's own. It is why film looks crisp; too much shows as an outline."),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		scatter, adjacency := v.Number("scatter")/100*s, v.Number("adjacency")/100*s
		if scatter > 0 || adjacency > 0 {
			b.Draws(sharpness(scatter, adjacency))
			b.Film.Drawn = !b.Masked()
		}
	}},
}

// crisp is how a stock draws detail, on a raster: light scatters in its layers before it exposes them, and what
// developed holds back its surroundings, which sharpens density (film.Sharpness, the transfer of which it has).
type crisp struct {
	fine, wide, reach float64 // standard deviations, pixels
	share, adjacency  float64
	squeeze           int
	layers            [3]float64 // how far light scatters in each, against fine and wide
	clouds            float64    // deviation of the clouds that it is made of, pixels
}

// blur is keep times a picture and its blur, round on the film.
func (c crisp) blur(ctx context.Context, src *frame.Frame, keep float64, terms []scatter.Gaussian) (*frame.Frame, error) {
	if c.squeeze > 1 {
		return scatter.BlurSqueezed(ctx, src, keep, terms, c.squeeze)
	}
	if keep == 0 {
		return scatter.Blur(ctx, src, terms)
	}
	return scatter.BlurOver(ctx, src, keep, terms)
}

// beside is what is left of a deviation once that of the clouds is taken out.
func (c crisp) beside(sigma float64) float64 {
	if c.clouds == 0 {
		return sigma
	}
	return math.Sqrt(max(sigma*sigma-c.clouds*c.clouds, 0))
}

// sharpness draws as the look's stock does, by shares of its scatter and of its adjacency.
func sharpness(scattering, adjacency float64) render.Detail {
	of := func(e *render.Exposed) crisp {
		m, pixel := e.Emulsion().MTF, e.Width*1000/float64(e.Raster.W)
		var layers [3]float64
		for i, l := range e.Emulsion().Layers {
			layers[i] = l.Scatters()
		}
		return crisp{layers: layers, fine: m.Fine * scattering / pixel, wide: m.Wide * scattering / pixel, reach: m.Reach / pixel, share: m.Share, adjacency: m.Adjacency * adjacency, squeeze: e.Squeeze, clouds: e.Clouds / pixel}
	}
	return render.Detail{
		Key: func(e *render.Exposed) string {
			c := of(e)
			return fmt.Sprintf("crisp %.4g %.4g %d %.4g", [5]float64{c.fine, c.wide, c.reach, c.share, c.adjacency}, c.layers, c.squeeze, c.clouds)
		},
		// exposure is blurred by both Gaussians, which the clouds are part of
		Before: func(ctx context.Context, e *render.Exposed, src *frame.Frame) (*frame.Frame, error) {
			c := of(e)
			terms := func(k float64) []scatter.Gaussian {
				return []scatter.Gaussian{{Sigma: c.beside(k * c.fine), Weight: c.share}, {Sigma: c.beside(k * c.wide), Weight: 1 - c.share}}
			}
			if c.layers == [3]float64{1, 1, 1} {
				return c.blur(ctx, src, 0, terms(1))
			}
			return scatter.BlurLayers(ctx, src, [3][]scatter.Gaussian{terms(c.layers[0]), terms(c.layers[1]), terms(c.layers[2])}, c.squeeze)
		},
		// density is raised by what it has more than its surroundings
		After: func(ctx context.Context, e *render.Exposed, src *frame.Frame) (*frame.Frame, error) {
			c := of(e)
			if c.clouds > 0 && !e.Placed { // which are the grain itself, where they are placed
				return c.blur(ctx, src, 0, []scatter.Gaussian{{Sigma: c.clouds, Weight: 1 + c.adjacency}, {Sigma: math.Hypot(c.reach, c.clouds), Weight: -c.adjacency}})
			}
			return c.blur(ctx, src, 1+c.adjacency, []scatter.Gaussian{{Sigma: c.reach, Weight: -c.adjacency}})
		},
	}
}
