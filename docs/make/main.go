// Command make writes the reference of steps and the schema of looks from the declarations.
//
//go:generate go run .
package main

import (
	"encoding/json"
	"fmt"
	"log"
	"os"
	"strings"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/path"
)

func main() {
	schema, err := json.MarshalIndent(path.Schema(), "", "  ")
	check(err)
	check(os.WriteFile("../look.schema.json", append(schema, '\n'), 0o644))
	for name, schema := range map[string]any{"stock": film.StockSchema(), "medium": film.MediumSchema()} {
		doc, err := json.MarshalIndent(schema, "", "  ")
		check(err)
		check(os.WriteFile("../"+name+".schema.json", append(doc, '\n'), 0o644))
	}
	check(os.WriteFile("../reference.md", []byte(reference()), 0o644))
	check(os.WriteFile("../stocks.md", []byte(stocks()), 0o644))
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}

func reference() string {
	var b strings.Builder
	b.WriteString("# Steps and their settings\n\nMade from the declarations in `core/path` by `make generate`. The name in front of each setting is what\n`--set` takes on the command line; setting a value switches its step on.\n")
	for _, s := range path.Stations {
		fmt.Fprintf(&b, "\n## %s\n", s.Label())
		for _, k := range path.Kinds() {
			if k.Station != s {
				continue
			}
			fmt.Fprintf(&b, "\n### %s\n\n%s\n\n| setting | unit and range | default | |\n|---|---|---|---|\n", k.Label, k.Purpose)
			rows(&b, k.Path()+".", k.Settings)
			for _, r := range k.Ready {
				fmt.Fprintf(&b, "\nReady: *%s* (%s).\n", r.Label, r.Note)
			}
		}
	}
	b.WriteString("\n## Mattes\n\nParts of a matte, as they stand in a look's file, and the settings of a whole one.\n")
	for _, k := range path.MatteKinds() {
		fmt.Fprintf(&b, "\n### %s\n\n%s `\"kind\": \"%s\"`\n\n| setting | unit and range | default | |\n|---|---|---|---|\n", k.Label, k.Purpose, k.ID)
		rows(&b, "", k.Settings)
	}
	b.WriteString("\n### The whole\n\n| setting | unit and range | default | |\n|---|---|---|---|\n")
	rows(&b, "", path.MatteSettings())
	return b.String()
}

// rows are the lines of a table of settings.
func rows(b *strings.Builder, prefix string, list []path.Setting) {
	for _, x := range list {
		rng := fmt.Sprintf("%g … %g %s", x.Min, x.Max, x.Unit)
		if choices := x.List(); len(choices) > 0 {
			var ids []string
			for _, c := range choices {
				ids = append(ids, "`"+c.ID+"`")
			}
			rng = strings.Join(ids, " ")
		}
		if x.Points != "" {
			rng = fmt.Sprintf("points x:y, each %g … %g", x.Min, x.Max)
		}
		fmt.Fprintf(b, "| `%s%s` | %s | %v | %s |\n", prefix, x.ID, rng, x.Initial(), x.Help)
	}
}

// stocks are the figures of the stocks and the media, read by our own instruments.
func stocks() string {
	var b strings.Builder
	b.WriteString("# Stocks and media\n\nMade from the cards in `core/film/cards` by `make generate`. All of them, names and numbers, are our own.\n\n" +
		"*Gamma* is the steepest slope of the green layer, *gradient* its mean over the five stops around mid grey; *latitude* is the stops under and over mid grey in which\n" +
		"it keeps a quarter of its gamma; *granularity* is 1000 σ of density through a disc of 48 µm at density 1. `velours measure wedge` reads the same.\n\n" +
		"| stock | index | gamma | gradient | latitude | granularity | cloud, µm | character |\n|---|---|---|---|---|---|---|---|\n")
	for _, s := range film.Stocks() {
		m := film.Develop(s, film.Process{Strength: 1}).Measure(1)
		fmt.Fprintf(&b, "| %s | %.0f | %.2f | %.2f | −%.1f +%.1f | %.1f | %.2f | %s: %s |\n", s.Label, s.Speed, m.Gamma, m.Gradient, m.Below, m.Above, s.Granularity, s.Cloud, s.Family, s.Note)
	}
	b.WriteString("\nColours on the print *Rideau*, as chroma (CIE C*) and hue in degrees; a neutral chart under the stock's own light.\n\n| stock |")
	for _, p := range film.Patches {
		b.WriteString(" " + p.Name + " |")
	}
	b.WriteString("\n|---|" + strings.Repeat("---|", len(film.Patches)) + "\n")
	medium, err := film.FindMedium("rideau")
	check(err)
	display, err := colour.FindDisplay("bt1886")
	check(err)
	for _, s := range film.Stocks() {
		n := film.Develop(s, film.Process{Strength: 1})
		pos := film.NewPositive(n, film.NewPrint(medium, n), [3]float64{}, 1, film.Screen{Display: display, Range: 0.5, Whites: 1, Tone: colour.DefaultTone})
		fmt.Fprintf(&b, "| %s |", s.Label)
		for _, p := range film.Patches {
			_, chroma, hue := pos.Rendered(p)
			fmt.Fprintf(&b, " %.0f, %.0f° |", chroma, hue)
		}
		b.WriteString("\n")
	}
	b.WriteString("\n| medium | gamma | D-min | D-max | mid grey | character |\n|---|---|---|---|---|---|\n")
	for _, m := range film.Media() {
		fmt.Fprintf(&b, "| %s | %.2f | %.2f | %.1f | %.2f | %s: %s |\n", m.Label, m.Gamma, m.DMin, m.DMax, m.Aim, m.Family, m.Note)
	}
	return b.String()
}
