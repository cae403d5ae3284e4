package path

import (
	"context"
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
)

// Response is what a look makes of neutral light at these stops from mid grey, as the light leaves the
// lens: code values of the display, without grain and scatter.
func Response(ctx context.Context, l *Look, stops []float64) ([][3]float64, *colour.Display, error) {
	c, _ := l.Pointwise()
	for _, s := range []Station{Intake, Balance, Lens} {
		delete(c.Stations, s)
	}
	if err := c.Set("intake.encoding.id", "acescg"); err != nil {
		return nil, nil, err
	}
	w := frame.New(len(stops), 1, 3)
	for x, s := range stops {
		for p := range 3 {
			w.Row(p, 0)[x] = float32(0.18 * math.Exp2(s))
		}
	}
	p, err := CompileDraft(ctx, c, Raster{len(stops), 1}, Finish)
	if err != nil {
		return nil, nil, err
	}
	f, err := NewRenderer(0).Render(ctx, p, one{w}, 0)
	if err != nil {
		return nil, nil, err
	}
	out := make([][3]float64, len(stops))
	for x := range out {
		out[x] = [3]float64{float64(f.Row(0, 0)[x]), float64(f.Row(1, 0)[x]), float64(f.Row(2, 0)[x])}
	}
	return out, p.Display, nil
}

// one is a source of a single frame.
type one struct{ f *frame.Frame }

func (o one) Key() string                                      { return "one" }
func (o one) Frame(context.Context, int) (*frame.Frame, error) { return o.f, nil }

// exhausted is the share of a layer's steepest slope below which its curve tells nothing apart.
const exhausted = 0.1

// Exhausted are the densities of a look's negative below which its toe, and above which its shoulder,
// has less than a tenth of the curve's steepest slope; ok is false for a look without film.
func Exhausted(l *Look) (low, high [3]float64, ok bool) {
	n := NegativeOf(l)
	if n == nil {
		return low, high, false
	}
	for i := range 3 {
		low[i], high[i] = ends(n, i)
	}
	return low, high, true
}

func ends(n *film.Negative, layer int) (low, high float64) {
	const step = 0.01
	slope := func(x float64) float64 { return (n.Curve(layer, x+step) - n.Curve(layer, x)) / step }
	most, at := 0.0, 0.0
	for x := logLo; x < logHi; x += step {
		if s := slope(x); s > most {
			most, at = s, x
		}
	}
	a, b := at, at
	for a > logLo && slope(a) > exhausted*most {
		a -= step
	}
	for b < logHi && slope(b) > exhausted*most {
		b += step
	}
	return n.Curve(layer, a), n.Curve(layer, b)
}
