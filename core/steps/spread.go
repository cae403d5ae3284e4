package steps

import (
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/scatter"
)

// What kinds that spread light have in common: what feeds them, what becomes of their light, where it stays away.

// allFrom and allTo are the ends of the range at which all light feeds a glow.
const allFrom, allTo = -8, 14

// sourceSettings say what feeds a glow.
func sourceSettings() []look.Setting {
	from := dial("from", "From", "stops", allFrom, 10, allFrom, 0.05, "Only what is brighter feeds it, in stops from mid grey. At the lowest end all light does, as in a lens; +2.5 leaves lamps, glints and sky.")
	from.Names = map[string]float64{"all light": allFrom}
	to := dial("to", "To", "stops", -6, allTo, allTo, 0.05, "Only what is darker feeds it, in stops from mid grey. At the highest end there is no limit.")
	to.Names = map[string]float64{"no limit": allTo}
	from.Pick, to.Pick = "stops", "stops"
	return []look.Setting{
		fold("Source", from),
		fold("Source", to),
		fold("Source", travels(1.6, dial("knee", "Knee", "stops", 0.1, 6, 2, 0.05, "Over how many stops light comes to feed it. Wide is natural; narrow flickers on what moves."))),
	}
}

// sourceRange draws what feeds a glow over the tones of the frame.
var sourceRange = &look.Range{Low: "from", High: "to", Knee: "knee", Fold: "Source"}

// sourceOf reads what feeds a glow.
func sourceOf(v look.Values) scatter.Source {
	s := scatter.AllLight
	if x := v.Number("from"); x > allFrom {
		s.From = x
	}
	if x := v.Number("to"); x < allTo {
		s.To = x
	}
	if s != scatter.AllLight {
		s.Knee = v.Number("knee")
	}
	return s
}

// holdSettings say where a glow stays away.
func holdSettings(darks, cores string) []look.Setting {
	below := dial("darks-below", "Darks to", "stops", -8, 2, -2, 0.05, "What is three stops darker than this is held fully, in stops from mid grey.")
	above := dial("cores-above", "Cores from", "stops", -2, 10, 3, 0.05, "What is two stops brighter than this is held fully, in stops from mid grey.")
	below.Pick, above.Pick = "stops", "stops"
	return []look.Setting{
		fold("Holds", travels(1.6, dial("darks", "Hold darks", "%", 0, 100, 0, 1, darks))),
		fold("Holds", below),
		fold("Holds", travels(1.6, dial("cores", "Hold cores", "%", 0, 100, 0, 1, cores))),
		fold("Holds", above),
	}
}

// hueFrom lets a hue be picked from the picture, with how colourful it is there.
func hueFrom(tint string, s look.Setting) look.Setting {
	s.Pick, s.PickTint = "hue", tint
	return s
}

// holdOf reads where a glow stays away; one that holds nothing is the zero Hold.
func holdOf(v look.Values) (h scatter.Hold) {
	if d := v.Number("darks"); d > 0 {
		h.Darks, h.Below = d/100, v.Number("darks-below")
	}
	if c := v.Number("cores"); c > 0 {
		h.Cores, h.Above = c/100, v.Number("cores-above")
	}
	return h
}

// lumaOfScene makes luminance of ACEScg, lumaOfFilm that of what a film's layers are exposed to.
var lumaOfScene = func() [3]float64 { m := colour.AP1.ToXYZ(); return [3]float64{m[3], m[4], m[5]} }()

func lumaOfFilm(n *film.Negative) (out [3]float64) {
	m := n.ToScene()
	for i, k := range lumaOfScene {
		for j := range out {
			out[j] += k * m[3*i+j]
		}
	}
	return out
}

// tintChroma is how colourful the full tint of a glow is, in Oklab at the lightness of white.
const tintChroma = 0.22

// tint is a matrix that gives light a hue, in degrees of Oklab, by a share; its luminance stays.
func tint(hue, share float64) colour.Matrix {
	if share == 0 {
		return colour.Identity
	}
	sin, cos := math.Sincos(hue * math.Pi / 180)
	c := grade.FromLab(1, tintChroma*cos, tintChroma*sin)
	for i := range c {
		c[i] = max(c[i], 0)
	}
	return scatter.Tint(c, share, lumaOfScene)
}

// glowColour is what becomes of light that spreads: by a saturation, then a tint.
func glowColour(saturation, hue, share float64) colour.Matrix {
	if saturation == 1 {
		return tint(hue, share)
	}
	return tint(hue, share).Mul(scatter.Saturation(saturation, lumaOfScene))
}
