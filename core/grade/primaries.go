package grade

import "velours/core/vec"

// primariesPower is that of the code in which lift and gamma act: near that of displays, so that they move
// the tones the eye expects.
const primariesPower = 2.4

// Primaries are lift, gamma, gain and offset of each channel. With v = light^(1/2.4), 1 for a white:
//
//	v ← (v + Lift·(1 − v))^(1/Gamma), light ← v^2.4·Gain + Offset
//
// Lift leaves white where it is, gamma black and white, gain black; offset moves all light alike. At lift 0,
// gamma and gain 1 and offset 0 nothing changes.
type Primaries struct{ Lift, Gamma, Gain, Offset [3]float64 }

// Rows implements Op. Negative light is multiplied by the gain alone.
func (p *Primaries) Rows(w int) func(r, g, b []float32) {
	t := scratch(w)
	return func(r, g, b []float32) {
		t := t[:len(r)]
		for c, row := range [3][]float32{r, g, b} {
			gain, offset := float32(p.Gain[c]), float32(p.Offset[c])
			if p.Lift[c] != 0 || p.Gamma[c] != 1 {
				lift := float32(p.Lift[c])
				power(t, row, 1/primariesPower)
				for i, v := range t {
					t[i] = v + lift*(1-v)
				}
				power(t, t, float32(primariesPower/p.Gamma[c]))
				vec.AddBelow(row, t, row)
			}
			vec.Affine(row, row, gain, offset)
		}
	}
}

// power sets dst to max(src, 0)^k, for a k above 0.
func power(dst, src []float32, k float32) {
	const floor, log2Floor, nothing = 1e-30, -99.6, -1e30
	vec.Log2(dst, src, floor)
	vec.Straight(dst, dst, log2Floor, 0, 0, nothing) // so far down that it comes out as nothing, however small k is
	vec.Affine(dst, dst, k, 0)
	vec.Exp2(dst, dst)
}
