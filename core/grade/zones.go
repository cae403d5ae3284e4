package grade

import "math"

// Zones are five parts of the tone scale, from black to white, each with its own level and tint.
type Zones struct {
	// Borders lie between the zones, in stops from mid grey, rising.
	Borders [4]float64
	// Softness is how many stops it takes from one zone into the next.
	Softness float64
	// Level is what a zone gains, in stops.
	Level [5]float64
	// Warm and Green are a zone's tint, in stops: red against blue, and green against both.
	Warm, Green [5]float64
}

// Weights are the shares of the zones at t stops; they sum to one.
func (z *Zones) Weights(t float64) [5]float64 {
	var w [5]float64
	left := 1.0
	for i, b := range z.Borders {
		over := smooth((t-b)/z.Softness + 0.5)
		over = min(over, left) // borders nearer than their softness
		w[i] = left - over
		left = over
	}
	w[4] = left
	return w
}

// flattest is the least slope, stops out for stops in, that levels may press the tone scale to.
const flattest = 0.1

// Op makes the operation. The tone scale is the integral of its slope, held at a tenth at least: so that
// brighter stays brighter whatever the levels. It is tied to the level of the middle zone in its centre.
func (z *Zones) Op() *Tone {
	const n = int((rampHi-rampLo)/rampStep) + 2
	want := func(t float64) float64 {
		w, v := z.Weights(t), 0.0
		for i := range w {
			v += w[i] * z.Level[i]
		}
		return v
	}
	at := func(i int) float64 { return rampLo + float64(i)*rampStep }
	gain := make([]float64, n)
	mid := (z.Borders[1] + z.Borders[2]) / 2
	home := min(max(int((mid-rampLo)/rampStep), 0), n-1)
	gain[home] = want(at(home))
	rise := func(i int) float64 { return max(want(at(i+1))-want(at(i)), (flattest-1)*rampStep) }
	for i := home; i+1 < n; i++ {
		gain[i+1] = gain[i] + rise(i)
	}
	for i := home; i > 0; i-- {
		gain[i-1] = gain[i] - rise(i-1)
	}
	level := func(t float64) float64 {
		u := min(max((t-rampLo)/rampStep, 0), float64(n-1))
		return gain[int(math.Round(u))]
	}
	tinted := false
	for i := range 5 {
		tinted = tinted || z.Warm[i] != 0 || z.Green[i] != 0
	}
	if !tinted {
		return NewTone(ByBrightness, level)
	}
	tint := func(t float64) [3]float64 {
		w, warm, green := z.Weights(t), 0.0, 0.0
		for i := range w {
			warm += w[i] * z.Warm[i]
			green += w[i] * z.Green[i]
		}
		c := [3]float64{(warm - green) / 2, green / 2, (-warm - green) / 2}
		// a grey keeps its luminance
		y := 0.0
		for i := range c {
			y += Luma[i] * math.Exp2(c[i])
		}
		for i := range c {
			c[i] -= math.Log2(y)
		}
		return c
	}
	var f [3]func(float64) float64
	for i := range f {
		f[i] = func(t float64) float64 { return level(t) + tint(t)[i] }
	}
	return NewTones(ByBrightness, f)
}
