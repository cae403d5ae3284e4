package steps

import (
	"math"

	"velours/core/film"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(halationKind) }

var halationKind = &look.Kind{
	ID: "halation", Place: 30, Provides: "sizes", Station: look.Negative, Label: "Halation", HasStrength: true, Masks: true, Film: true, Spatial: true, Scatters: true, Range: sourceRange, Lead: []string{"amount"}, Wants: "bright", NoEffect: noEffectAt("no light returns at 0 %", 0, "amount"),
	Purpose: "Light that passed the layers comes back from the film's base and exposes them again: a red glow around what is bright.",
	Settings: join([]look.Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 400, Default: 100, Step: 1, Curve: 1.6,
			Help: "100 % is what the film does. The average of the frame stays neutral: even areas keep their exposure. Grain can hide it, so judge it alone.",
		},
		{
			ID: "backing", Label: "Backing", Unit: "%", Min: 0, Max: 100, Default: 85, Step: 1,
			Names: map[string]float64{"intact": 100, "thin": 85, "worn": 50, "removed": 0},
			Help:  "The layer on the back of the film that swallows stray light. Intact (100) leaves a faint veil; removed (0) gives a ring at a quarter of a millimetre and a strong glow. A stock that came bare has none, whatever stands here.",
		},
		fold("Colour", travels(1.6, dial("hue", "Hue", "°", -90, 90, 0, 1, "Turns the stock's own halo: left to rose, right to amber. Its brightness stays."))),
		fold("Colour", dial("saturation", "Saturation", "%", 0, 200, 100, 1, "Of the halo alone. It cannot be more colourful than one layer by itself.")),
		fold("Shape", travels(1.6, dial("spread", "Spread", "%", 25, 400, 100, 1, "How far the light gets before it returns, as in a base so many times as thick. 100 is the stock's own at this gauge."))),
		fold("Shape", travels(1.6, dial("near", "Near", "%", 0, 300, 100, 1, "The first reflection: the ring, close to its light."))),
		fold("Shape", travels(1.6, dial("far", "Far", "%", 0, 300, 100, 1, "What was reflected again and again: the wide, faint glow."))),
	}, sourceSettings(), holdSettings(
		"The halo fades where the picture itself is dark, so that blacks stay clean.",
		"What is bright itself stays as it was, neither redder nor brighter; its halo stays.",
	)),
	Ready: []look.Ready{
		{ID: "film", Label: "As the film does", Note: "Everything at the stock's own", Values: map[string]any{"amount": 100.0, "backing": 85.0}},
		{ID: "worn", Label: "Worn backing", Note: "A ring at lamps, a glow at windows", Values: map[string]any{"amount": 100.0, "backing": 50.0}},
		{ID: "bare", Label: "No backing, held", Note: "The full ring, kept out of cores and darks", Values: map[string]any{"amount": 70.0, "backing": 0.0, "cores": 70.0, "darks": 50.0}},
		{ID: "lamps", Label: "Lamps alone", Note: "Only what is far above white feeds it", Values: map[string]any{"amount": 180.0, "backing": 50.0, "from": 4.0, "knee": 2.0}},
		{ID: "amber", Label: "Amber", Note: "Turned towards gold, a little paler", Values: map[string]any{"amount": 130.0, "backing": 60.0, "hue": 30.0, "saturation": 85.0}},
		{ID: "veil", Label: "Wide and faint", Note: "The far glow without the ring", Values: map[string]any{"amount": 160.0, "backing": 60.0, "near": 25.0, "far": 180.0, "spread": 150.0}},
		{ID: "skin", Label: "Warm edges", Note: "Close and small: it reaches a little into skin", Values: map[string]any{"amount": 150.0, "backing": 75.0, "spread": 60.0, "far": 50.0, "cores": 40.0}},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		a := v.Number("amount") / 100 * s
		if a <= 0 {
			return
		}
		alike := b.Process() < 2
		b.In(render.EmulsionLight, func(e *render.Exposed) render.Operation {
			g := scatter.NewGlow(halo(e, v, a, alike), lumaOfFilm(e.Negative))
			g.Source, g.Hold = sourceOf(v), holdOf(v)
			return render.NewSpread("halation", g)
		})
	}},
}

// asTheyWere are the figures of a stock for process 1, in which all stocks that ship returned light alike.
func asTheyWere(s *film.Stock) *film.Stock {
	if !s.Ships() {
		return s
	}
	c := *s
	c.Thickness, c.Index, c.Undercoat, c.Leak = 0.13, 1.49, 0, 0
	held, back := [3]float64{0.30, 0.14, 0.02}, [3]float64{0.90, 0.35, 0.05}
	if s.Bare {
		held = [3]float64{0.34, 0.16, 0.02}
	}
	for i := range c.Layers {
		c.Layers[i].Held, c.Layers[i].Back = held[i], back[i]
		if s.Mono {
			c.Layers[i].Held, c.Layers[i].Back = 0.25, 0.5
		}
	}
	return &c
}

// halo is that of the look's stock under settings, by an amount, 1 for the film's own; stocks may be alike.
func halo(e *render.Exposed, v look.Values, amount float64, alike bool) scatter.Halo {
	s := e.Emulsion()
	if alike {
		s = asTheyWere(s)
	}
	h := scatter.Halo{
		Thickness: s.Thickness, Index: s.Index, Backing: v.Number("backing") / 100 * (1 - s.Leak), Undercoat: s.Undercoat, Amount: amount, Quick: e.Draft,
		PerMM: float64(e.Raster.W) / e.Width, Squeeze: e.Squeeze,
		Spread: v.Number("spread") / 100, Near: v.Number("near") / 100, Far: v.Number("far") / 100, Trim: [3]float64{1, 1, 1},
	}
	if s.Bare {
		h.Backing = 0
	}
	for i, l := range s.Layers {
		h.Held[i], h.Back[i] = l.Held, l.Back
	}
	if hue, saturation := v.Number("hue"), v.Number("saturation")/100; (hue != 0 || saturation != 1) && !s.Mono {
		h.Trim = trimmed(h.Gains(), e.Negative, hue, saturation)
	}
	return h
}

// trimmed is what each layer's gain is multiplied by so that white light has its returned colour turned by a hue, in degrees of
// Oklab, and its colourfulness scaled; the luminance that returns stays. A colour that would need less than no light in a layer
// is as colourful as it can be.
func trimmed(gains [3]float64, n *film.Negative, hue, saturation float64) [3]float64 {
	var added [3]float64 // to white, where it lies in nothing but halo
	for i, g := range gains {
		added[i] = g / (1 + g)
	}
	scene := n.ToScene()
	film := n.Exposure
	c := scene.Apply(added)
	y := lumaOfScene[0]*c[0] + lumaOfScene[1]*c[1] + lumaOfScene[2]*c[2]
	if y <= 0 { // none returns
		return [3]float64{1, 1, 1}
	}
	l, a, b := grade.Lab(c)
	sin, cos := math.Sincos(hue * math.Pi / 180)
	a, b = a*cos-b*sin, a*sin+b*cos
	at := func(k float64) (v [3]float64, ok bool) {
		v = grade.FromLab(l, k*a, k*b)
		s := y / (lumaOfScene[0]*v[0] + lumaOfScene[1]*v[1] + lumaOfScene[2]*v[2])
		v = film.Apply([3]float64{v[0] * s, v[1] * s, v[2] * s})
		ok = s > 0
		for _, x := range v {
			ok = ok && x >= 0 && x < mostReturned
		}
		return v, ok
	}
	v, ok := at(saturation)
	if !ok {
		low, high := 0.0, saturation
		for range 40 {
			mid := (low + high) / 2
			if _, ok := at(mid); ok {
				low = mid
			} else {
				high = mid
			}
		}
		v, _ = at(low)
	}
	var out [3]float64
	for i, x := range v {
		x = min(max(x, 0), mostReturned)
		out[i] = x / (1 - x) / max(gains[i], 1e-9)
	}
	return out
}

// mostReturned is the largest share of its exposure that a layer may get from light that returned.
const mostReturned = 0.95
