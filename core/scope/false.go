package scope

import (
	"math"

	"velours/core/frame"
)

// Band is a range of tones in the false-colour view.
type Band struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	// Use says what the band is for.
	Use string `json:"use"`
	// From and To are in stops from mid grey; the outermost are open, which Open stands for.
	From float64 `json:"from"`
	To   float64 `json:"to"`
	// Ink is the colour, 0…1 in each channel of code values; nil shows the tone itself in grey.
	Ink *[3]float64 `json:"ink,omitempty"`
}

// Open is beyond any light there is, in stops.
const Open = 99

// Limits are where a look runs out of tones, in stops from mid grey of the scene.
type Limits struct {
	// Black and White are beyond what can be told apart; Deep and Near is where it becomes little.
	Black, Deep, Near, White float64
}

// Limits of a response by its lightness (CIE L*): one unit from either end nothing is told apart any
// more, and within five it is little.
const exhausted, little = 1, 5

// FindLimits measures them on a response: lightness for stops lo, lo+step, and so on, which must not
// fall.
func FindLimits(lo, step float64, lightness []float64) Limits {
	n := len(lightness)
	bottom, top := lightness[0], lightness[n-1]
	at := func(level float64) float64 {
		for i := 1; i < n; i++ {
			if a, b := lightness[i-1], lightness[i]; b >= level {
				if b == a {
					return lo + step*float64(i-1)
				}
				return lo + step*(float64(i-1)+max(level-a, 0)/(b-a))
			}
		}
		return lo + step*float64(n-1)
	}
	return Limits{at(bottom + exhausted), at(bottom + little), at(top - little), at(top - exhausted)}
}

// The inks go from dark to light like the tones they stand for, and differ along blue and yellow, which
// nearly all eyes tell apart.
var (
	inkCrushed = [3]float64{0.05, 0.10, 0.42}
	inkDeep    = [3]float64{0.17, 0.38, 0.78}
	inkGrey    = [3]float64{0.62, 0.80, 0.98}
	inkSkin    = [3]float64{0.97, 0.84, 0.52}
	inkBright  = [3]float64{0.80, 0.56, 0.10}
	inkNear    = [3]float64{0.78, 0.30, 0.06}
	inkClipped = [3]float64{1, 0.98, 0.90}
)

// Bands are the false-colour bands of a look with these limits, from dark to bright.
func Bands(l Limits) []Band {
	const grey, skinLow, skinHigh, light = 0.2, 0.5, 1.4, 2.4
	deep := min(l.Deep, -grey-0.5)
	black := min(l.Black, deep-0.1)
	near := max(l.Near, light+0.4)
	white := max(l.White, near+0.1)
	return []Band{
		{"crushed", "Crushed", "Nothing can be told apart here any more.", -Open, black, &inkCrushed},
		{"deep", "Deep shadow", "Little is left to see; noise lives here.", black, deep, &inkDeep},
		{"shadow", "Shadow", "", deep, -grey, nil},
		{"grey", "Mid grey", "A grey card in the main light belongs here.", -grey, grey, &inkGrey},
		{"low", "", "", grey, skinLow, nil},
		{"skin", "Skin", "The lit side of fair skin; dark skin lies one to two stops lower.", skinLow, skinHigh, &inkSkin},
		{"light", "Light", "", skinHigh, light, nil},
		{"bright", "Bright", "White cloth, sky, paper: detail should still be there.", light, near, &inkBright},
		{"near", "Near clipping", "The last tones before white.", near, white, &inkNear},
		{"clipped", "Clipped", "White without detail.", white, Open, &inkClipped},
	}
}

// FalseColour paints scene-linear light by its luminance: each band in its ink, tones between in dimmed
// grey. The result holds code values.
func FalseColour(light *frame.Frame, weights [3]float64, bands []Band) *frame.Frame {
	out := frame.New(light.W, light.H, 3)
	edge := make([]float64, len(bands)) // upper edges as light
	for i, b := range bands {
		edge[i] = 0.18 * math.Exp2(b.To)
	}
	lo, hi := bands[0].To, bands[len(bands)-1].From
	for y := range light.H {
		r, g, b := light.Row(0, y), light.Row(1, y), light.Row(2, y)
		for x := range r {
			v := weights[0]*float64(r[x]) + weights[1]*float64(g[x]) + weights[2]*float64(b[x])
			i := 0
			for i < len(edge)-1 && v >= edge[i] {
				i++
			}
			ink := bands[i].Ink
			if ink == nil {
				k := 0.12 + 0.5*(math.Log2(v/0.18)-lo)/(hi-lo)
				ink = &[3]float64{k, k, k}
			}
			for c := range 3 {
				out.Row(c, y)[x] = float32(ink[c])
			}
		}
	}
	return out
}
