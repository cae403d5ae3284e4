package matte

import (
	"math"

	"velours/core/grade"
)

// Tone covers a range of brightness: all between Low and High, in stops from mid grey, fading over Soft stops
// outside.
type Tone struct{ Low, High, Soft float64 }

// Rows implements Part.
func (k Tone) Rows(Size) func(m []float32, y, x0 int, r, g, b []float32) {
	return func(m []float32, _, _ int, r, g, b []float32) {
		for i := range m {
			m[i] = float32(between(grade.Stops(light(r[i], g[i], b[i])), k.Low, k.High, k.Soft))
		}
	}
}

func light(r, g, b float32) float64 {
	return grade.Luma[0]*float64(r) + grade.Luma[1]*float64(g) + grade.Luma[2]*float64(b)
}

// between is 1 from lo to hi, and falls smoothly to 0 over soft on either side.
func between(v, lo, hi, soft float64) float64 {
	if soft <= 0 {
		if v < lo || v > hi {
			return 0
		}
		return 1
	}
	return ease(1-(lo-v)/soft) * ease(1-(v-hi)/soft)
}

// ease rises from 0 at 0 to 1 at 1, level at both.
func ease(u float64) float64 {
	u = min(max(u, 0), 1)
	return u * u * (3 - 2*u)
}

// Colour covers hues around Hue (degrees, grade.Hue) to Width on either side, of a chroma (over lightness)
// and a brightness in ranges; all fade by Soft, 0…1.
type Colour struct {
	Hue, Width            float64
	LowChroma, HighChroma float64
	Low, High             float64
	Soft                  float64
}

// Rows implements Part.
func (k Colour) Rows(Size) func(m []float32, y, x0 int, r, g, b []float32) {
	return func(m []float32, _, _ int, r, g, b []float32) {
		for i := range m {
			c := [3]float64{float64(r[i]), float64(g[i]), float64(b[i])}
			w := between(grade.Stops(light(r[i], g[i], b[i])), k.Low, k.High, 2*k.Soft)
			if w > 0 {
				hue, chroma := grade.Hue(c)
				w *= between(math.Abs(math.Remainder(hue-k.Hue, 360)), -1, k.Width, 40*k.Soft) * between(chroma, k.LowChroma, k.HighChroma, 0.1*k.Soft)
			}
			m[i] = float32(w)
		}
	}
}

// Picked covers what is like a colour picked from the picture: as far as Tolerance away, fading over Softness
// beyond, both on a scale of 1 for far apart.
type Picked struct {
	Light               [3]float64
	Tolerance, Softness float64
	// Compare is what is compared: colour, hue, chroma, brightness, red, green or blue.
	Compare string
}

// Rows implements Part. Colours are compared in Oklab, brightness and channels in stops, six of them far apart;
// hues by their angle, half a turn far apart, and the less the less there is of them.
func (k Picked) Rows(Size) func(m []float32, y, x0 int, r, g, b []float32) {
	far := k.distance()
	return func(m []float32, _, _ int, r, g, b []float32) {
		for i := range m {
			m[i] = float32(between(far([3]float64{float64(r[i]), float64(g[i]), float64(b[i])}), -1, k.Tolerance, k.Softness))
		}
	}
}

func (k Picked) distance() func(c [3]float64) float64 {
	const stopsApart = 6
	channel := func(i int) func(c [3]float64) float64 {
		at := grade.Stops(k.Light[i])
		return func(c [3]float64) float64 { return math.Abs(grade.Stops(c[i])-at) / stopsApart }
	}
	hue, chroma := grade.Hue(k.Light)
	switch k.Compare {
	case "hue":
		return func(c [3]float64) float64 {
			h, s := grade.Hue(c)
			return math.Abs(math.Remainder(h-hue, 360))/180 + 0.5*(1-ease(s/0.03))
		}
	case "chroma":
		return func(c [3]float64) float64 { _, s := grade.Hue(c); return math.Abs(s-chroma) / 0.4 }
	case "brightness":
		at := grade.Stops(light(float32(k.Light[0]), float32(k.Light[1]), float32(k.Light[2])))
		return func(c [3]float64) float64 {
			return math.Abs(grade.Stops(light(float32(c[0]), float32(c[1]), float32(c[2])))-at) / stopsApart
		}
	case "red":
		return channel(0)
	case "green":
		return channel(1)
	case "blue":
		return channel(2)
	}
	l, a, b := grade.Lab(k.Light)
	return func(c [3]float64) float64 {
		l2, a2, b2 := grade.Lab(c)
		// chroma counts twice: the same paint in shade is nearer than another paint in light
		return math.Sqrt((l2-l)*(l2-l) + 4*((a2-a)*(a2-a)+(b2-b)*(b2-b)))
	}
}

// Skin covers what is skin.
type Skin struct{ grade.Skin }

// Rows implements Part.
func (k Skin) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	rows := k.Skin.Rows(s.W)
	return func(m []float32, _, _ int, r, g, b []float32) { rows(m, r, g, b) }
}
