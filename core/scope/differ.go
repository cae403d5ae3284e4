package scope

import (
	"context"
	"math"
	"slices"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/frame"
)

// Difference is what one picture has more than another, in linear light of the display, 1 for its peak:
// Light(a) − Light(b). Both hold code values.
func Difference(ctx context.Context, a, b *frame.Frame, d *colour.Display) (*frame.Frame, error) {
	light := Decoder(d)
	return frame.Pair(ctx, a, b, func(p, q [3]float64) [3]float64 {
		p, q = light(p), light(q)
		return [3]float64{p[0] - q[0], p[1] - q[1], p[2] - q[2]}
	})
}

// ShowDifference makes a difference visible: gain times over, on mid grey or on black, as code values.
func ShowDifference(ctx context.Context, diff *frame.Frame, d *colour.Display, gain float64, onBlack bool) (*frame.Frame, error) {
	ground := 0.18 / d.Head()
	if onBlack {
		ground = 0
	}
	code := Encoder(d)
	return frame.Each(ctx, diff, func(v [3]float64) [3]float64 {
		for c := range v {
			v[c] = min(max(ground+gain*v[c], 0), 1)
		}
		return code(v)
	})
}

// Further goes on from b beyond a, k times the way in linear light: b + k·(a − b), as code values.
func Further(ctx context.Context, a, b *frame.Frame, d *colour.Display, k float64) (*frame.Frame, error) {
	light, code := Decoder(d), Encoder(d)
	return frame.Pair(ctx, a, b, func(p, q [3]float64) [3]float64 {
		p, q = light(p), light(q)
		for c := range q {
			q[c] = min(max(q[c]+k*(p[c]-q[c]), 0), 1)
		}
		return code(q)
	})
}

// Matte is where a step acts: the greatest change of the three code values, on a scale whose white is
// the change that one pixel in a thousand exceeds. It returns that change.
func Matte(with, without *frame.Frame) (matte *frame.Frame, white float64) {
	out := frame.New(with.W, with.H, 3)
	all := make([]float32, 0, out.W*out.H)
	for y := range out.H {
		m := out.Row(0, y)
		for c := range 3 {
			a, b := with.Row(c, y), without.Row(c, y)
			for x := range m {
				m[x] = max(m[x], float32(math.Abs(float64(a[x]-b[x]))))
			}
		}
		all = append(all, m...)
	}
	slices.Sort(all)
	top := all[min(len(all)-1, len(all)*999/1000)]
	k := float32(0)
	if top > 0 {
		k = 1 / top
	}
	for y := range out.H {
		m := out.Row(0, y)
		for x := range m {
			m[x] = min(m[x]*k, 1)
		}
		copy(out.Row(1, y), m)
		copy(out.Row(2, y), m)
	}
	return out, float64(top)
}

// Change is the greatest difference of two pictures' code values.
func Change(a, b *frame.Frame) float64 {
	var most float32
	for c := range 3 {
		for y := range a.H {
			p, q := a.Row(c, y), b.Row(c, y)
			for x := range p {
				most = max(most, p[x]-q[x], q[x]-p[x])
			}
		}
	}
	return float64(most)
}

// tableSteps is how finely curves are tabulated, in code values one way and in the square root of light
// the other.
const tableSteps = 1 << 14

var (
	decoders = cache.Results[[]float64]{Size: 8}
	encoders = cache.Results[[]float64]{Size: 8}
)

// tabulated is f over 0…1 in tableSteps, kept for the next picture.
func tabulated(kept *cache.Results[[]float64], key string, f func(float64) float64) []float64 {
	t, _ := kept.Get(key, func() ([]float64, error) {
		t := make([]float64, tableSteps+2)
		for i := range t {
			t[i] = f(float64(i) / tableSteps)
		}
		return t, nil
	})
	return t
}

// Decoder is Display.Light by a table where channels are apart; codes beyond 0…1 are computed.
func Decoder(d *colour.Display) func([3]float64) [3]float64 {
	if d.System() != 1 {
		return d.Light
	}
	table := tabulated(&decoders, d.Key(), d.Decode)
	one := func(v float64) float64 {
		if !(v >= 0 && v <= 1) {
			return d.Decode(v)
		}
		u := v * tableSteps
		i := int(u)
		return table[i] + (table[i+1]-table[i])*(u-float64(i))
	}
	return func(c [3]float64) [3]float64 { return [3]float64{one(c[0]), one(c[1]), one(c[2])} }
}

// Encoder is Display.Code by a table where channels are apart, for light of 0…1.
func Encoder(d *colour.Display) func([3]float64) [3]float64 {
	if d.System() != 1 || d.High { // too steep in the dark for a table
		return d.Code
	}
	table := tabulated(&encoders, d.Key(), func(root float64) float64 { return d.Encode(root * root) })
	one := func(v float64) float64 {
		if !(v >= 2e-3 && v <= 4) { // what is no number too
			return d.Encode(v)
		}
		u := math.Sqrt(v) * tableSteps
		i := min(int(u), tableSteps)
		return table[i] + (table[i+1]-table[i])*(u-float64(i))
	}
	return func(c [3]float64) [3]float64 { return [3]float64{one(c[0]), one(c[1]), one(c[2])} }
}
