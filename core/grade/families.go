package grade

import (
	"math"
	"sort"

	"velours/core/vec"
)

// Family is a range of hues.
type Family struct {
	ID    string  `json:"id"`
	Label string  `json:"label"`
	Hue   float64 `json:"hue"` // of its centre, in degrees
}

// FamilyList are the hue families, in the order of the circle.
var FamilyList = []Family{
	{"red", "Red", 25}, {"orange", "Orange", 58}, {"yellow", "Yellow", 105}, {"green", "Green", 145},
	{"cyan", "Cyan", 200}, {"blue", "Blue", 260}, {"purple", "Purple", 325},
}

const familyCount = 7

// Families move ranges of hue: by Shift degrees, by Saturation (a factor), and by Density, stops that strong
// colours lose as if there were more dye, growing richer; greys lose none.
type Families struct {
	Shift, Saturation, Density [familyCount]float64
	// Centre moves a family's centre, in degrees.
	Centre [familyCount]float64
	// Softness, 0…1, is how gently one family passes into the next.
	Softness float64
}

// nearest is the least distance of two centres in degrees; Families whose centres were drawn nearer part.
const nearest = 20

// Centres are the families' hues in degrees, kept apart.
func (f *Families) Centres() [familyCount]float64 {
	var c [familyCount]float64
	for i, fam := range FamilyList {
		c[i] = fam.Hue + f.Centre[i]
	}
	for range 4 * familyCount {
		for i := range c {
			j := (i + 1) % familyCount
			gap := c[j] - c[i]
			if j == 0 {
				gap += 360
			}
			if gap < nearest {
				c[i] -= (nearest - gap) / 2
				c[j] += (nearest - gap) / 2
			}
		}
	}
	return c
}

// Weights are the shares of the families at a hue in degrees; they sum to one.
func (f *Families) Weights(hue float64) [familyCount]float64 { return f.weights(f.Centres(), hue) }

func (f *Families) weights(c [familyCount]float64, hue float64) [familyCount]float64 {
	var w [familyCount]float64
	i := sort.Search(familyCount, func(i int) bool { return c[i] > math.Mod(hue-c[0]+720, 360)+c[0] }) - 1
	j := (i + 1) % familyCount
	span := math.Mod(c[j]-c[i]+360, 360)
	u := math.Mod(hue-c[i]+720, 360) / span
	soft := 0.4 + 0.6*f.Softness
	w[j] = smooth((u-0.5)/soft + 0.5)
	w[i] += 1 - w[j]
	return w
}

// Shifts is what hues move by, in degrees, half a degree apart. No two neighbours part by more than two
// degrees, and none overtakes the other: where settings would have it so, the curve is softened until it
// is.
func (f *Families) Shifts() [roundSteps]float64 {
	c := f.Centres()
	var y, next [roundSteps]float64
	for i := range y {
		for k, w := range f.weights(c, float64(i)*360/roundSteps) {
			y[i] += w * f.Shift[k]
		}
	}
	const step = 360.0 / roundSteps
	for range 4000 {
		steep := false
		for i := range y {
			d := y[(i+1)%roundSteps] - y[i]
			steep = steep || d > 1.9-step || d < 0.05-step
		}
		if !steep {
			break
		}
		for i := range y {
			next[i] = (y[(i+roundSteps-1)%roundSteps] + 2*y[i] + y[(i+1)%roundSteps]) / 4
		}
		y = next
	}
	return y
}

// Op makes the operation.
func (f *Families) Op() Op {
	c := f.Centres()
	mean := func(h float64, v *[familyCount]float64) (sum float64) {
		for k, w := range f.weights(c, h) {
			sum += w * v[k]
		}
		return sum
	}
	shifts := f.Shifts()
	moves := newRounds(func(h float64) [4]float64 {
		sin, cos := math.Sincos(shifts[int(h/360*roundSteps+0.5)%roundSteps] * math.Pi / 180)
		return [4]float64{sin, cos, mean(h, &f.Saturation), mean(h, &f.Density)}
	})
	lit := f.Density != [familyCount]float64{}
	return labOp{Asks{Hue: true}, func(row *LabRow) (bool, bool) {
		moves.rows(&row.moves, row.Hue)
		vec.TurnColours(row.A, row.B, row.light, row.L, row.moves[0], row.moves[1], row.moves[2], row.moves[3], strong, richer)
		return true, lit
	}}
}

// strong is the chroma at which half of a density acts, and richer what a stop of it adds to saturation.
const strong, richer = 0.08, 0.35

// Keep holds back every hue but those around one: Width degrees to either side stay, fading over Soft.
// Amount, 0…1, is how much colour the others lose.
type Keep struct{ Hue, Width, Soft, Amount float64 }

// Op makes the operation.
func (o *Keep) Op() Op {
	lose := newRound(func(h float64) float64 {
		return o.Amount * smooth((math.Abs(apart(h, o.Hue))-o.Width)/max(o.Soft, 1))
	})
	return labOp{Asks{Hue: true}, func(row *LabRow) (moved, _ bool) {
		k := row.moves[0][:len(row.L)]
		lose.row(k, row.Hue)
		for i, v := range k {
			moved = moved || v != 0
			row.A[i] *= 1 - v
			row.B[i] *= 1 - v
		}
		return moved, false
	}}
}
