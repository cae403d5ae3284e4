package path

import "velours/core/film"

// madeOf are the media of which a property holds.
func madeOf(has func(m *film.Medium) bool) []string {
	var ids []string
	for _, m := range film.Media() {
		if has(m) {
			ids = append(ids, m.ID)
		}
	}
	return ids
}

// dyed media have dyes or silver, coloured ones dyes, copied ones a film before them.
var (
	coloured = madeOf(func(m *film.Medium) bool { return !m.Scan && !m.Mono })
	dyed     = madeOf(func(m *film.Medium) bool { return !m.Scan })
	copied   = madeOf(func(m *film.Medium) bool { return !m.Direct })
)

// onlyOn keeps a setting to some media.
func onlyOn(ids []string, s Setting) Setting {
	s.Only = ids
	return s
}

var mediumKind = &Kind{
	ID: "medium", Station: Print, Label: "Medium", Mixes: true, Film: true,
	Purpose: "Prints the negative and projects it. The lights are timed so that mid grey comes out neutral at the medium's aim.",
	Settings: []Setting{{
		ID: "id", Label: "Medium", Choices: mediumChoices(),
		Help: "What the negative is printed on. It sets contrast, the depth of blacks, and how softly whites run out.",
	},
		onlyOn(dyed, fold("Printing", dial("contrast", "Contrast", "%", 60, 150, 100, 1, "The slope of the print against the medium's own, around mid grey."))),
		onlyOn(coloured, fold("Printing", dial("colour", "Colour", "%", 0, 160, 100, 1, "Colour density: how far the print's dyes differ, against what the negative makes them. Above 100 deepens strong colours, 0 is a print in one tone. Greys stay."))),
		onlyOn(dyed, fold("Printing", dial("whites", "Whites", "warmth", -100, 100, 0, 1, "Warmth of the whites: turns the base of the print towards cream (above 0) or blue (below)."))),
		fold("Printing", dial("flash", "Flash", "% grey", 0, 60, 0, 1, "A faint even exposure of the print: it mutes the lights and leaves shadows and mid grey. 10 is felt.")),
		onlyOn(dyed, fold("Printing", dial("silver", "Silver", "%", 0, 100, 0, 1, "Silver retention: how much the bleach leaves in the print: steeper, deeper, paler, with mid grey held. 30 is felt; 100 is a look of its own. It multiplies with silver in the negative."))),
		onlyOn(copied, fold("Printing", Setting{
			ID: "generation", Label: "From", Choices: []Choice{{ID: "camera", Label: "Camera negative", Note: "A print of what was in the camera"}, {ID: "dupe", Label: "Dupe negative", Note: "Two copies on: softer, steeper, grainier, colours muddier"}},
			Help: "What the print is made of. Release prints were made of a dupe negative, by way of an interpositive: each copy costs sharpness and adds contrast and grain.",
		})),
	},
	apply: func(b *builder, v values, s float64) {
		b.film.on = true
		b.film.medium, _ = film.MediumAs(v.choice("id"), b.look.digestFor("medium", v.choice("id")))
		b.film.print, b.film.dupe = s, v.choice("generation") == "dupe"
		b.film.printing.Silver, b.film.printing.Contrast, b.film.printing.Colour = v.number("silver")/100, v.number("contrast")/100-1, v.number("colour")/100-1
		b.film.printing.Whites, b.film.printing.Flash = v.number("whites")/100, v.number("flash")/100
	},
}

func mediumChoices() []Choice {
	var c []Choice
	for _, m := range film.Media() {
		c = append(c, Choice{ID: m.ID, Label: m.Label, Note: m.Note, Group: m.Family, Tags: m.Tags})
	}
	return c
}

// Printer filters, and the tones they can be kept to.
var (
	filters     = []struct{ id, label, takes string }{{"yellow", "Yellow", "blue"}, {"magenta", "Magenta", "green"}, {"cyan", "Cyan", "red"}}
	filterZones = []struct{ id, label, where string }{{"all", "All", "in all tones"}, {"shadows", "Shadows", "in the shadows"}, {"mids", "Mids", "in the middle tones"}, {"lights", "Lights", "in the lights"}}
)

var filtrationKind = func() *Kind {
	k := &Kind{
		ID: "filtration", Station: Print, Label: "Filtration", Mixes: true, Film: true, Editor: "grid", Lead: []string{"all-yellow", "lights-yellow", "shadows-cyan"},
		When: "print", Idle: "Waiting for a print: switch Medium on.",
		Purpose: "Filters in the printer, in hundredths of density. Each takes light away from one layer, so the print has less of the filter's own colour. Shadows, mids and lights have weights of our own; a printer has none.",
		apply: func(b *builder, v values, s float64) {
			for z := range b.film.printing.Filter {
				for j := range filters { // cyan takes red
					f := filters[2-j].id
					b.film.printing.Filter[z][j] = s / 100 * (v.number("all-"+f) + v.number(filterZones[z+1].id+"-"+f))
				}
			}
		},
	}
	for _, z := range filterZones {
		for _, f := range filters {
			s := dial(z.id+"-"+f.id, z.label+" "+f.label, "cc", -100*film.MostFilter, 100*film.MostFilter, 0, 1, f.label+" filter "+z.where+", in hundredths of density: it takes "+f.takes+" light, so the print has less "+f.id+" there. Below 0 it has more.")
			s.Group, s.Column = z.label, f.label
			k.Settings = append(k.Settings, s)
		}
	}
	return atRest(k, "no filter is in")
}()

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
