package path

import "velours/core/film"

var mediumKind = &Kind{
	ID: "medium", Station: Print, Label: "Medium", Mixes: true, Film: true,
	Purpose: "Prints the negative and projects it. The lights are timed so that mid grey comes out neutral at the medium's aim.",
	Settings: []Setting{{
		ID: "id", Label: "Medium", Choices: mediumChoices(),
		Help: "What the negative is printed on. It sets contrast, the depth of blacks, and how softly whites run out.",
	},
		dial("silver", "Silver", "%", 0, 100, 0, 1, "Silver retention: how much the bleach leaves in the print: steeper, deeper, paler, with mid grey held. 30 is felt; 100 is a look of its own. It multiplies with silver in the negative."),
	},
	apply: func(b *builder, v values, s float64) {
		b.film.on = true
		b.film.medium, _ = film.FindMedium(v.choice("id"))
		b.film.print, b.film.silver = s, v.number("silver")/100
	},
}

func mediumChoices() []Choice {
	var c []Choice
	for _, m := range film.Media() {
		c = append(c, Choice{m.ID, m.Label, m.Family + ". " + m.Note})
	}
	return c
}

var lightsKind = &Kind{
	ID: "lights", Station: Print, Label: "Printer lights", Mixes: true, Film: true, Lead: []string{"red", "green", "blue", "all"}, Editor: "points",
	Still: still("at 0 points the print is as timed", 0, "red", "green", "blue", "all"),
	When:  "print", Idle: "Waiting for a print: switch Medium on.",
	Purpose: "The three lights of the printer, in points away from the timed print; twelve points are a stop.",
	Settings: []Setting{
		light("red", "Red", "cyan"), light("green", "Green", "magenta"), light("blue", "Blue", "yellow"),
		dial("all", "All", "points", -25, 25, 0, 1, "All three lights: the density of the print. More is darker. Keys A and Shift+A when the card has focus."),
	},
	apply: func(b *builder, v values, s float64) {
		all := v.number("all")
		b.film.lights = [3]float64{(v.number("red") + all) * s, (v.number("green") + all) * s, (v.number("blue") + all) * s}
	},
}

func light(id, label, dye string) Setting {
	return Setting{
		ID: id, Label: label, Unit: "points", Min: -25, Max: 25, Step: 1,
		Help: "More " + id + " light makes more " + dye + " dye: the print gets darker and more " + dye + ". One point is 0.025 in log exposure. It needs a print medium. Keys " + label[:1] + " and Shift+" + label[:1] + " when the card has focus.",
	}
}
