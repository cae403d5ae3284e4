package steps

import (
	"velours/core/film"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(filtrationKind) }

var filtrationKind = func() *look.Kind {
	k := &look.Kind{
		ID: "filtration", Place: 40, Station: look.Print, Label: "Filtration", HasStrength: true, Film: true, Editor: "grid", Lead: []string{"all-yellow", "lights-yellow", "shadows-cyan"},
		Precondition: "print", Unmet: "Waiting for a print: switch Medium on.",
		Purpose: "Filters in the printer, in hundredths of density. Each takes light away from one layer, so the print has less of the filter's own colour. Shadows, mids and highlights have weights of our own; a printer has none.",
		Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
			for z := range b.Film.Printing.Filter {
				for j := range filters { // cyan takes red
					f := filters[2-j].id
					b.Film.Printing.Filter[z][j] = s / 100 * (v.Number("all-"+f) + v.Number(filterZones[z+1].id+"-"+f))
				}
			}
		}},
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

// Printer filters, and the tones they can be kept to.
var (
	filters     = []struct{ id, label, takes string }{{"yellow", "Yellow", "blue"}, {"magenta", "Magenta", "green"}, {"cyan", "Cyan", "red"}}
	filterZones = []struct{ id, label, where string }{{"all", "All", "in all tones"}, {"shadows", "Shadows", "in the shadows"}, {"mids", "Mids", "in the middle tones"}, {"lights", "Highlights", "in the highlights"}}
)
