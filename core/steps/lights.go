package steps

import (
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(lightsKind) }

var lightsKind = &look.Kind{
	ID: "lights", Place: 30, Station: look.Print, Label: "Printer lights", HasStrength: true, Film: true, Lead: []string{"red", "green", "blue", "all"}, Editor: "printerlights",
	NoEffect:     noEffectAt("at 0 points the print is as timed", 0, "red", "green", "blue", "all"),
	Precondition: "print", Unmet: "Waiting for a print: switch Medium on.",
	Purpose: "The three lights of the printer, in points away from the timed print; twelve points are a stop.",
	Settings: []look.Setting{
		light("red", "Red", "cyan"), light("green", "Green", "magenta"), light("blue", "Blue", "yellow"),
		dial("all", "All", "points", -25, 25, 0, 1, "All three lights: the density of the print. More is darker. Keys A and Shift+A when the card has focus."),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		all := v.Number("all")
		b.Film.Lights = [3]float64{(v.Number("red") + all) * s, (v.Number("green") + all) * s, (v.Number("blue") + all) * s}
	}},
}

func light(id, label, dye string) look.Setting {
	return look.Setting{
		ID: id, Label: label, Unit: "points", Min: -25, Max: 25, Step: 1,
		Help: "More " + id + " light makes more " + dye + " dye: the print gets darker and more " + dye + ". One point is 0.025 in log exposure. It needs a print medium. Keys " + label[:1] + " and Shift+" + label[:1] + " when the card has focus.",
	}
}
