package matte

import (
	"math"

	"velours/core/grade"
	"velours/core/vec"
)

// Tone covers a range of brightness: all between Low and High, in stops from mid grey, fading over Soft stops
// outside.
type Tone struct{ Low, High, Soft float64 }

// Rows implements Part.
func (k Tone) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	t := room(s.W)
	in := fading(k.Low, k.High, k.Soft)
	return func(m []float32, _, _ int, r, g, b []float32) {
		t := t[:len(m)]
		grade.Tones(t, r, g, b)
		whole(m)
		vec.Within(m, t, in)
	}
}

// whole sets m to 1.
func whole(m []float32) {
	for i := range m {
		m[i] = 1
	}
}

// fading is 1 from lo to hi, and falls smoothly to 0 over soft on either side.
func fading(lo, hi, soft float64) *vec.Range {
	steep := float32(math.MaxFloat32)
	if soft > 0 {
		steep = float32(1 / soft)
	}
	return &vec.Range{Lo: float32(lo), Hi: float32(hi), Steep: steep}
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
	tone, near, strong := fading(k.Low, k.High, 2*k.Soft), fading(-1, k.Width, 40*k.Soft), fading(k.LowChroma, k.HighChroma, 0.1*k.Soft)
	hue := grade.NewRound(func(h float64) float64 { return float64(near.At(float32(math.Abs(math.Remainder(h-k.Hue, 360))))) })
	v := room(grade.LabPiece)
	rows := grade.Weigh(grade.Asks{Tone: true, Hue: true}, func(m []float32, row *grade.LabRow) {
		v := v[:len(m)]
		whole(m)
		vec.Within(m, row.Tone, tone)
		vec.Chroma(v, row.L, row.A, row.B)
		vec.Within(m, v, strong)
		hue.Row(v, row.Hue)
		vec.Product(m, m, v, 1)
		for i, l := range row.L {
			if l <= 0 {
				m[i] = 0
			}
		}
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
	near := fading(-1, k.Tolerance, k.Softness)
	// abs sets v to how far it is from at, as a share of far
	abs := func(v []float32, at, far float32) {
		for i, x := range v {
			x -= at
			v[i] = max(x, -x) * far
		}
	}
	v := room(s.W)
	tones := func(of func(t, r, g, b []float32)) func(m []float32, y, x0 int, r, g, b []float32) {
		at := [3][]float32{room(1), room(1), room(1)}
		for i := range at {
			at[i][0] = float32(k.Light[i])
		}
		of(v[:1], at[0], at[1], at[2])
		picked := v[0]
		return func(m []float32, _, _ int, r, g, b []float32) {
			t := v[:len(m)]
			of(t, r, g, b)
			abs(t, picked, 1.0/stopsApart)
			whole(m)
			vec.Within(m, t, near)
		}
	}
	// lab compares by what far sets v to
	lab := func(asks grade.Asks, far func(v []float32, row *grade.LabRow)) func(m []float32, y, x0 int, r, g, b []float32) {
		rows := grade.Weigh(asks, func(m []float32, row *grade.LabRow) {
			v := v[:len(m)]
			far(v, row)
			whole(m)
			vec.Within(m, v, near)
		})
		return func(m []float32, _, _ int, r, g, b []float32) { rows(m, r, g, b) }
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
		pale := room(grade.LabPiece)
		return lab(grade.Asks{Hue: true}, func(v []float32, row *grade.LabRow) {
			apart.Row(v, row.Hue)
			pale := pale[:len(v)]
			vec.Chroma(pale, row.L, row.A, row.B)
			for i, c := range pale {
				v[i] += 0.5 * (1 - min(c*(1/0.03), 1))
			}
		})
	case "chroma":
		return lab(grade.Asks{}, func(v []float32, row *grade.LabRow) {
			vec.Chroma(v, row.L, row.A, row.B)
			abs(v, float32(strength), 1/0.4)
		})
	}
	x, y, z := grade.Lab(k.Light)
	from := [3]float32{float32(x), float32(y), float32(z)}
	return lab(grade.Asks{}, func(v []float32, row *grade.LabRow) {
		// chroma counts twice: the same paint in shade is nearer than another paint in light
		vec.Distance(v, row.L, row.A, row.B, &from, 2)
	})
}

// Skin covers what is skin.
type Skin struct{ grade.Skin }

// Rows implements Part.
func (k Skin) Rows(Size) func(m []float32, y, x0 int, r, g, b []float32) {
	rows := k.Skin.Rows()
	return func(m []float32, _, _ int, r, g, b []float32) { rows(m, r, g, b) }
}
