package measure

import (
	"context"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// Response is what a look makes of neutral light at these stops from mid grey, as the light leaves the
// lens: code values of the display, without grain and scatter.
func Response(ctx context.Context, l *look.Look, stops []float64) ([][3]float64, *colour.Display, error) {
	c, _ := render.Tabular(l)
	for _, s := range []look.Station{look.Intake, look.Balance, look.Lens} {
		delete(c.Stations, s)
	}
	w := frame.New(len(stops), 1, 3)
	for x, s := range stops {
		for p := range 3 {
			w.Row(p, 0)[x] = float32(0.18 * math.Exp2(s))
		}
	}
	p, err := render.CompileDraft(ctx, c, colour.Working(), render.Raster{W: len(stops), H: 1}, look.Finish)
	if err != nil {
		return nil, nil, err
	}
	f, err := render.NewRenderer(0).Render(ctx, p, render.Still{Picture: w}, 0)
	if err != nil {
		return nil, nil, err
	}
	out := make([][3]float64, len(stops))
	for x := range out {
		out[x] = [3]float64{float64(f.Row(0, 0)[x]), float64(f.Row(1, 0)[x]), float64(f.Row(2, 0)[x])}
	}
	return out, p.Display, nil
}

// exhausted is the share of a layer's steepest slope below which its curve tells nothing apart.
const exhausted = 0.1

// Exhausted are the densities of a look's film below which its toe, and above which its shoulder, has less than a
// tenth of the curve's steepest slope; ok is false for a look without film. sign is −1 for a positive, which is dense
// where the scene is dark: its densities, and these, are to be taken with it.
func Exhausted(l *look.Look) (low, high [3]float64, sign float64, ok bool) {
	n := render.NegativeOf(l)
	if n == nil {
		return low, high, 1, false
	}
	sign = 1
	if n.Positive() {
		sign = -1
	}
	for i := range 3 {
		low[i], high[i] = ends(func(x float64) float64 { return sign * n.Curve(i, x) })
	}
	return low, high, sign, true
}

// ends are the values of a rising curve of log exposure between which it tells tones apart.
func ends(curve func(x float64) float64) (low, high float64) {
	const step = 0.01
	slope := func(x float64) float64 { return (curve(x+step) - curve(x)) / step }
	most, at := 0.0, 0.0
	for x := render.CurveFrom; x < render.CurveTo; x += step {
		if s := slope(x); s > most {
			most, at = s, x
		}
	}
	a, b := at, at
	for a > render.CurveFrom && slope(a) > exhausted*most {
		a -= step
	}
	for b < render.CurveTo && slope(b) > exhausted*most {
		b += step
	}
	return curve(a), curve(b)
}
