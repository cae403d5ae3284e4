package matte

import (
	"math"

	"velours/core/grade"
)

// Tone covers a range of brightness: all between Low and High, in stops from mid grey, fading over Soft stops
// outside.
type Tone struct{ Low, High, Soft float64 }

// Rows implements Part.
func (k Tone) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	t := make([]float32, s.W, s.W+16)
	in := span(k.Low, k.High, k.Soft)
	return func(m []float32, _, _ int, r, g, b []float32) {
		t := t[:len(m)]
		grade.Tones(t, r, g, b)
		for i, v := range t {
			m[i] = in(v)
		}
	}
}

// span is 1 from lo to hi, and falls smoothly to 0 over soft on either side.
func span(lo, hi, soft float64) func(v float32) float32 {
	a, b := float32(lo), float32(hi)
	if soft <= 0 {
		return func(v float32) float32 {
			if v < a || v > b {
				return 0
			}
			return 1
		}
	}
	k := float32(1 / soft)
	return func(v float32) float32 {
		if v >= a && v <= b {
			return 1
		}
		d := (a - v) * k
		if v > b {
			d = (v - b) * k
		}
		if !(d < 1) {
			return 0
		}
		d = 1 - d
		return d * d * (3 - 2*d)
	}
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
func (k Colour) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	tone, wide, strong := span(k.Low, k.High, 2*k.Soft), span(-1, k.Width, 40*k.Soft), span(k.LowChroma, k.HighChroma, 0.1*k.Soft)
	hue := grade.NewRound(func(h float64) float64 { return float64(wide(float32(math.Abs(math.Remainder(h-k.Hue, 360))))) })
	rows := grade.Weigh(s.W, func(l, a, b, t float32) float32 {
		w := tone(t)
		if w == 0 || l <= 0 {
			return 0
		}
		if w *= strong(float32(math.Sqrt(float64(a*a+b*b))) / l); w == 0 {
			return 0
		}
		return w * hue.Of(a, b)
	})
	return func(m []float32, _, _ int, r, g, b []float32) { rows(m, r, g, b) }
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
func (k Picked) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	const stopsApart = 6
	near := span(-1, k.Tolerance, k.Softness)
	abs := func(v float32) float32 { return max(v, -v) }
	tones := func(of func(t, r, g, b []float32)) func(m []float32, y, x0 int, r, g, b []float32) {
		t := make([]float32, s.W, s.W+16)
		at := [3][]float32{make([]float32, 1, 16), make([]float32, 1, 16), make([]float32, 1, 16)}
		for i := range at {
			at[i][0] = float32(k.Light[i])
		}
		of(t[:1], at[0], at[1], at[2])
		picked := t[0]
		return func(m []float32, _, _ int, r, g, b []float32) {
			t := t[:len(m)]
			of(t, r, g, b)
			for i, v := range t {
				m[i] = near(abs(v-picked) * (1.0 / stopsApart))
			}
		}
	}
	lab := func(far func(l, a, b float32) float32) func(m []float32, y, x0 int, r, g, b []float32) {
		rows := grade.Weigh(s.W, func(l, a, b, _ float32) float32 { return near(far(l, a, b)) })
		return func(m []float32, _, _ int, r, g, b []float32) { rows(m, r, g, b) }
	}
	chroma := func(l, a, b float32) float32 {
		if l <= 0 {
			return 0
		}
		return float32(math.Sqrt(float64(a*a+b*b))) / l
	}
	hue, strength := grade.Hue(k.Light)
	switch k.Compare {
	case "brightness":
		return tones(grade.Tones)
	case "red":
		return tones(func(t, r, _, _ []float32) { grade.Tones(t, r, r, r) })
	case "green":
		return tones(func(t, _, g, _ []float32) { grade.Tones(t, g, g, g) })
	case "blue":
		return tones(func(t, _, _, b []float32) { grade.Tones(t, b, b, b) })
	case "hue":
		apart := grade.NewRound(func(h float64) float64 { return math.Abs(math.Remainder(h-hue, 360)) / 180 })
		return lab(func(l, a, b float32) float32 {
			pale := 1 - min(chroma(l, a, b)*(1/0.03), 1)
			return apart.Of(a, b) + 0.5*pale
		})
	case "chroma":
		return lab(func(l, a, b float32) float32 { return abs(chroma(l, a, b)-float32(strength)) * (1 / 0.4) })
	}
	x, y, z := grade.Lab(k.Light)
	l0, a0, b0 := float32(x), float32(y), float32(z)
	return lab(func(l, a, b float32) float32 {
		// chroma counts twice: the same paint in shade is nearer than another paint in light
		l, a, b = l-l0, a-a0, b-b0
		return float32(math.Sqrt(float64(l*l + 4*(a*a+b*b))))
	})
}

// Skin covers what is skin.
type Skin struct{ grade.Skin }

// Rows implements Part.
func (k Skin) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	rows := k.Skin.Rows(s.W)
	return func(m []float32, _, _ int, r, g, b []float32) { rows(m, r, g, b) }
}
