// Command make writes the reference of steps and the schema of looks from the declarations.
//
//go:generate go run .
package main

import (
	"context"
	"encoding/json"
	"fmt"
	"log"
	"math"
	"os"
	"strings"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/noise"
	"velours/core/scatter"
	"velours/core/steps"
)

func main() {
	schema, err := json.MarshalIndent(look.Schema(), "", "  ")
	check(err)
	check(os.WriteFile("../look.schema.json", append(schema, '\n'), 0o644))
	for name, schema := range map[string]any{"stock": film.StockSchema(), "medium": film.MediumSchema(), "grain-card": noise.Schema()} {
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
	b.WriteString("# Steps and their settings\n\nMade from the declarations in `core/steps` by `make generate`. The name in front of each setting is what\n`--set` takes on the command line; setting a value switches its step on.\n")
	for _, s := range look.Stations {
		fmt.Fprintf(&b, "\n## %s\n", s.Label())
		for _, k := range look.Kinds() {
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
	for _, k := range look.MatteKinds() {
		fmt.Fprintf(&b, "\n### %s\n\n%s `\"kind\": \"%s\"`\n\n| setting | unit and range | default | |\n|---|---|---|---|\n", k.Label, k.Purpose, k.ID)
		rows(&b, "", k.Settings)
	}
	b.WriteString("\n### The whole\n\n| setting | unit and range | default | |\n|---|---|---|---|\n")
	rows(&b, "", look.MatteSettings())
	return b.String()
}

// rows are the lines of a table of settings.
func rows(b *strings.Builder, prefix string, list []look.Setting) {
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
	b.WriteString("# Stocks and media\n\nMade from the cards in `core/film/stocks` and `core/film/media` by `make generate`. All of them, names and numbers, are our own. The\n" +
		"cards' format is told by [stock.schema.json](stock.schema.json) and [medium.schema.json](medium.schema.json).\n\n" +
		"*Gamma* is the steepest slope of the green layer, *gradient* its mean over the five stops around mid grey; *latitude* is the stops under and over mid grey in which\n" +
		"it keeps a quarter of its gamma; *granularity* is 1000 σ of density through a disc of 48 µm at density 1; *transfer* is the highest modulation transfer and the cycles a\n" +
		"millimetre at which it has fallen to a half, of red, green and blue apart where light scatters in them otherwise. `velours measure wedge` reads the same.\n\n" +
		"| stock | index | gamma | gradient | latitude | granularity | cloud, µm | transfer | character |\n|---|---|---|---|---|---|---|---|---|\n")
	for _, s := range film.Stocks() {
		m := film.Develop(s, film.Process{Strength: 1}).Measure(1)
		peak := 1.0
		for f := 0.0; f < 60; f += 0.5 {
			peak = max(peak, s.MTF.At(f))
		}
		half := fmt.Sprintf("%.0f", s.MTF.Half())
		if s.Drawn(0) != s.Drawn(1) {
			half = fmt.Sprintf("%.0f %.0f %.0f", s.Drawn(0).Half(), s.Drawn(1).Half(), s.Drawn(2).Half())
		}
		fmt.Fprintf(&b, "| %s | %.0f | %.2f | %.2f | −%.1f +%.1f | %.1f | %.2f | %.2f; %s | %s: %s |\n", s.Label, s.Speed, m.Gamma, m.Gradient, m.Below, m.Above, s.Granularity, s.Cloud, peak, half, s.Family, s.Note)
	}
	display, err := colour.FindDisplay("bt1886")
	check(err)
	rendered := func(s *film.Stock, p film.Patch) (lightness, chroma, hue float64) {
		name := "rideau"
		if s.Reversal {
			name = "direct"
		}
		medium, err := film.FindMedium(name)
		check(err)
		n := film.Develop(s, film.Process{Strength: 1})
		return film.NewPositive(n, film.NewPrint(medium, n), [3]float64{}, 1, film.Screen{Display: display, Range: 0.5, Whites: 1, Tone: colour.DefaultTone}).Rendered(p)
	}
	plain := func(p film.Patch) (chroma, hue float64) {
		n := film.Develop(nil, film.Process{})
		_, chroma, hue = film.NewPositive(n, nil, [3]float64{}, 1, film.Screen{Display: display, Tone: colour.DefaultTone}).Rendered(p)
		return chroma, hue
	}
	b.WriteString(characters())
	b.WriteString(apart())
	b.WriteString(halations())
	b.WriteString("\nColours on the print *Rideau* (reversal projected itself), a neutral chart under the stock's own light: chroma (CIE C*), and how far hue has turned, in degrees,\nfrom how the neutral scale shows the patch without film. *Saturation* is the chroma of the six paints against that without film.\n\n| stock | saturation |")
	for _, p := range film.Patches {
		b.WriteString(" " + p.Name + " |")
	}
	b.WriteString("\n|---|---|" + strings.Repeat("---|", len(film.Patches)) + "\n")
	for _, s := range film.Stocks() {
		if s.Mono {
			continue
		}
		line, sum, all := "", 0.0, 0.0
		for i, p := range film.Patches {
			_, chroma, hue := rendered(s, p)
			was, from := plain(p)
			if i > 0 {
				sum, all = sum+chroma, all+was
			}
			line += fmt.Sprintf(" %.0f, %s° |", chroma, signed(math.Round(math.Remainder(hue-from, 360))))
		}
		fmt.Fprintf(&b, "| %s | %.0f %% |%s\n", s.Label, 100*sum/all, line)
	}
	b.WriteString("\nBlack and white: how light the patches are on *Rideau* (CIE L*).\n\n| stock |")
	for _, p := range film.Patches {
		b.WriteString(" " + p.Name + " |")
	}
	b.WriteString("\n|---|" + strings.Repeat("---|", len(film.Patches)) + "\n")
	for _, s := range film.Stocks() {
		if !s.Mono {
			continue
		}
		fmt.Fprintf(&b, "| %s |", s.Label)
		for _, p := range film.Patches {
			lightness, _, _ := rendered(s, p)
			fmt.Fprintf(&b, " %.0f |", lightness)
		}
		b.WriteString("\n")
	}
	b.WriteString("\n| medium | gamma | D-min | D-max | mid grey | darks, lights | character |\n|---|---|---|---|---|---|---|\n")
	for _, m := range film.Media() {
		if m.Direct || m.Scan {
			fmt.Fprintf(&b, "| %s | | | | | | %s: %s |\n", m.Label, m.Family, m.Note)
			continue
		}
		cast := "neutral"
		if m.Darks != [2]float64{} || m.Lights != [2]float64{} {
			cast = fmt.Sprintf("a* %s b* %s, a* %s b* %s", signed(m.Darks[0]), signed(m.Darks[1]), signed(m.Lights[0]), signed(m.Lights[1]))
		}
		fmt.Fprintf(&b, "| %s | %.2f | %.2f | %.1f | %.2f | %s | %s: %s |\n", m.Label, m.Gamma, m.DMin, m.DMax, m.Aim, cast, m.Family, m.Note)
	}
	recipes, err := steps.Recipes()
	check(err)
	b.WriteString("\n## Recipes\n\nReady films by feeling and era: `--set recipe=id` on the command line, *Recipes* on the desk of Negative and Print. They open as ordinary settings; what makes\na shot neutral, and its screen, stay.\n\n| recipe | era | moods | |\n|---|---|---|---|\n")
	for _, r := range recipes {
		fmt.Fprintf(&b, "| %s `%s` | %s | %s | %s |\n", r.Label, r.ID, r.Era, strings.Join(r.Tags, ", "), r.Note)
	}
	return b.String()
}

// signed is a number with its sign, rounded to what is seen.
func signed(v float64) string {
	return strings.Replace(fmt.Sprintf("%+.3g", math.Round(v*10)/10), "-", "−", 1)
}

// characters is what every card claims, in words.
func characters() string {
	var b strings.Builder
	b.WriteString("\n## What makes each itself\n\nWhat the cards claim, against " + film.Reference().Label + " on the print *Rideau*, mid grey matched, without grain or halo; every figure is held to by a test\n(`go test ./core/steps -run Claims -v`). Shadows and whites are greys two and a half stops under and over mid grey.\n\n| stock | claims |\n|---|---|\n")
	for _, s := range film.Stocks() {
		var words []string
		for _, c := range s.Claims {
			words = append(words, strings.Replace(measure.Words(c), "-", "−", 1))
		}
		fmt.Fprintf(&b, "| %s | %s |\n", s.Label, strings.Join(words, "; "))
	}
	return b.String()
}

// apart is how far the colour stocks are from each other.
func apart() string {
	var b strings.Builder
	var stocks []*film.Stock
	var labs [][][][3]float64
	for _, s := range film.Stocks() {
		if s.Mono {
			continue
		}
		l, err := measure.Reproduced(context.Background(), s, measure.Scenes())
		check(err)
		stocks, labs = append(stocks, s), append(labs, l)
	}
	b.WriteString("\nHow far the colour stocks are apart: ΔE2000 through the reference print, mid grey matched, on average over the three demo shots, the chart and two made pictures.\n\n| |")
	for _, s := range stocks[:len(stocks)-1] {
		name, _, _ := strings.Cut(s.Label, " ")
		b.WriteString(" " + name + " |")
	}
	b.WriteString("\n|---|" + strings.Repeat("---|", len(stocks)-1) + "\n")
	for i := 1; i < len(stocks); i++ {
		fmt.Fprintf(&b, "| %s |", stocks[i].Label)
		for j := range len(stocks) - 1 {
			if j >= i {
				b.WriteString(" |")
				continue
			}
			mean := 0.0
			d := measure.Apart(labs[i], labs[j])
			for _, v := range d {
				mean += v / float64(len(d))
			}
			fmt.Fprintf(&b, " %.1f |", mean)
		}
		b.WriteString("\n")
	}
	return b.String()
}

// halations is the table of what light each stock returns.
func halations() string {
	var b strings.Builder
	b.WriteString("\nLight that returns from the base around a point of white light, on 35 mm film, by `velours measure spread`: the share of the point's light, as it is made (backing intact),\n" +
		"as it is dialled at first (85) and with its protection removed; the hue of the glow, in degrees of Oklab, and where the ring of a bare base lies.\n\n" +
		"| stock | protection | intact | at 85 | removed | hue | ring, mm |\n|---|---|---|---|---|---|---|\n")
	for _, s := range film.Stocks() {
		halo := func(backing string) measure.SpreadHalo {
			l := look.NewLook("x")
			check(l.SetAll("negative.stock.id="+s.ID, "negative.halation.backing="+backing))
			m, err := measure.MeasureSpread(context.Background(), l, 480, 8, nil)
			check(err)
			return m.Halo
		}
		share := func(h measure.SpreadHalo) float64 { return 100 * h.Share() }
		what := "backing"
		switch {
		case s.Bare:
			what = "none"
		case s.Undercoat > 0:
			what = fmt.Sprintf("undercoat %.2f", s.Undercoat)
		case s.Leak > 0:
			what = fmt.Sprintf("backing, %.0f %% leak", 100*s.Leak)
		}
		usual, hue := halo("85"), "–"
		if !s.Mono {
			hue = fmt.Sprintf("%.0f°", usual.Hue)
		}
		base := scatter.Removed(s.Thickness, s.Index)
		fmt.Fprintf(&b, "| %s | %s | %.2f %% | %.2f %% | %.2f %% | %s | %.3f |\n", s.Label, what, share(halo("100")), share(usual), share(halo("0")), hue, base.Ring())
	}
	return b.String()
}
