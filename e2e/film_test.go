package e2e

import (
	"bytes"
	"fmt"
	"io"
	"math"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/film"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/steps"
	"velours/studio"
)

// The film by hand: another stock from the list, its separation and contrast typed, the print timed by letter keys.
func TestFilmByHand(t *testing.T) {
	p, _, st, id := courtyard(t)
	value := func(station look.Station, name, setting string) any {
		if s := stepAt(t, st, id, station, name); s != nil {
			return s.Settings[setting]
		}
		return nil
	}
	is := func(what string, station look.Station, name, setting string, want float64) {
		t.Helper()
		until(t, what, func() bool {
			v, _ := value(station, name, setting).(float64)
			return math.Abs(v-want) < 1e-6
		})
	}

	t.Log("a stock, and how it is developed")
	p.Keyboard.MustType(input.Digit4)
	before := atRest(t, p)
	p.MustElement("[data-kind='negative.stock'] [role=combobox]").MustClick()
	p.MustElementR("[role=option]", "Vitrail").MustClick()
	until(t, "the stock is saved", func() bool { return value("negative", "stock", "id") == "vitrail-100" })
	p.MustElementR("[data-kind='negative.stock'] button", "Developing").MustClick()
	for setting, label := range map[string]string{"separation": "Separation", "contrast": "Contrast"} {
		box := p.MustElement("[data-kind='negative.stock'] input[aria-label='" + label + ", value']")
		box.MustSelectAllText().MustInput("-= 12")
		box.MustType(input.Enter)
		is(label+" is typed as less than it was", "negative", "stock", setting, 88)
	}

	t.Log("printer lights by their letters")
	p.Keyboard.MustType(input.Digit5)
	p.MustElement("[data-kind='print.lights']").MustFocus()
	was := value("print", "lights", "red").(float64)
	p.Keyboard.MustType(input.KeyB, input.KeyB, input.KeyR, input.KeyA)
	is("red has a point more", "print", "lights", "red", was+1)
	is("blue has two", "print", "lights", "blue", 2)
	is("all have one", "print", "lights", "all", 1)
	if atRest(t, p) == before {
		t.Error("the picture is as it was")
	}
}

// The film from browsing to measuring: a stock found by its mood, pushed, printed by keys, read by the sensitometer,
// then one of one's own from a step wedge, and a recipe over all of it.
func TestFilmChosenAndMeasured(t *testing.T) {
	p, _, st, id := courtyard(t)
	value := func(station look.Station, name, setting string) any {
		if s := stepAt(t, st, id, station, name); s != nil {
			return s.Settings[setting]
		}
		return nil
	}
	texts := func(selector string) string {
		var all []string
		for _, e := range p.MustElements(selector) {
			all = append(all, e.MustText())
		}
		return strings.Join(all, "\n")
	}

	t.Log("browse the stocks, by mood and by word")
	p.Keyboard.MustType(input.Digit4)
	before := atRest(t, p)
	p.MustElement("[aria-label='Browse stock']").MustClick()
	p.MustElement("[data-patch='damas-800']")
	if n := len(p.MustElements("[data-patch]")); n != len(film.Stocks()) {
		t.Errorf("%d stocks are shown of %d", n, len(film.Stocks()))
	}
	choose(t, p, "[aria-label=Mood]", "night")
	until(t, "stocks for the night alone", func() bool {
		for _, e := range p.MustElements("[data-patch]") {
			s, err := film.FindStock(*e.MustAttribute("data-patch"))
			if err != nil || !strings.Contains(strings.Join(s.Tags, " "), "night") {
				return false
			}
		}
		return true
	})
	p.MustElement("[aria-label='Find by word']").MustInput("open")
	until(t, "the one with open shadows", func() bool { return len(p.MustElements("[data-patch]")) == 1 })
	p.MustElement("[aria-label='Keep Damas 800 in reach']").MustClick()
	until(t, "it is kept in reach", func() bool {
		keys, err := st.Favourites()
		return err == nil && len(keys) == 1 && keys[0] == "stock:damas-800"
	})
	p.MustElement("[aria-label='Find by word']").MustSelectAllText().MustInput("")
	p.MustElement("[aria-label='Stand Encre 400 beside']").MustClick()
	until(t, "two stand beside each other", func() bool { return p.MustHas("[data-testid=beside]") })
	until(t, "both say and show what makes them themselves", func() bool {
		all := p.MustElements("[data-testid=character]")
		for _, e := range all {
			if len(e.MustElements("li")) < 3 || e.MustElement("img").MustProperty("naturalWidth").Int() == 0 {
				return false
			}
		}
		return len(all) == 2
	})
	p.MustElementR("[role=dialog] button", "^colour by colour$").MustFocus().MustType(input.Enter)
	until(t, "they stand against each other colour by colour", func() bool { return len(p.MustElements("[data-testid=versus] tbody tr")) > 20 })
	p.MustElementR("[role=dialog] button", "^back to the pictures$").MustClick()
	p.MustElement("[data-patch='damas-800']").MustClick()
	undisturbed(t, p)
	until(t, "the stock is saved", func() bool { return value("negative", "stock", "id") == "damas-800" })

	t.Log("push it, and print it by the keys")
	box := p.MustElement("[data-kind='negative.stock'] input[aria-label='Push, value']")
	box.MustSelectAllText().MustInput("1")
	box.MustType(input.Enter)
	until(t, "it is pushed", func() bool { return value("negative", "stock", "push") == 1.0 })
	p.MustElement("body").MustEval("() => document.activeElement.blur()")
	p.Keyboard.MustType(input.Digit5)
	was, _ := value("print", "lights", "green").(float64)
	p.MustElement("[data-kind='print.lights']").MustFocus()
	p.Keyboard.MustType(input.KeyG)
	until(t, "green has a point more", func() bool { v, _ := value("print", "lights", "green").(float64); return v == was+1 })
	if atRest(t, p) == before {
		t.Error("the picture is as it was")
	}

	t.Log("the sensitometer: curves, figures, a second stock, a colour of the picture")
	p.MustElement("[aria-label=Sensitometer]").MustClick()
	until(t, "the curves are drawn", func() bool {
		return p.MustElement("[data-testid=curves]").MustEval("() => this.complete && this.naturalWidth").Int() == 960
	})
	if text := texts("[data-testid=figures]"); !strings.Contains(text, "Damas 800") || !strings.Contains(text, "latitude") || !strings.Contains(text, "whole path γ") {
		t.Errorf("the figures say %q", text)
	}
	p.MustElement("[aria-label='Compare with a stock']").MustClick()
	p.MustElementR("[role=menuitem]", "Mine 50").MustClick()
	until(t, "two stocks are read", func() bool { return len(p.MustElements("[data-testid=figures]")) == 2 })
	p.MustElement("[data-testid=sensitometer-frame]").MustClick()
	until(t, "a colour is followed", func() bool { return strings.Contains(texts("[role=dialog] p"), "the film reads") })
	link := p.MustElementR("a", "Save table").MustProperty("href").String()
	table, err := http.Get(link)
	if err != nil {
		t.Fatal(err)
	}
	defer table.Body.Close()
	got, err := io.ReadAll(table.Body)
	if err != nil {
		t.Fatal(err)
	}
	var want bytes.Buffer
	look := lookOf(t, st, id)
	a, err := measure.MeasureFilm(look, nil)
	if err != nil {
		t.Fatal(err)
	}
	other := look.Clone()
	if err := other.Set("negative.stock.id", "mine-50"); err != nil {
		t.Fatal(err)
	}
	b, err := measure.MeasureFilm(other, nil)
	if err != nil {
		t.Fatal(err)
	}
	if err := studio.WriteFilmCSV(&want, a, b); err != nil {
		t.Fatal(err)
	}
	if string(got) != want.String() {
		t.Error("the saved table is not what the film measures")
	}
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)

	t.Log("a stock of one's own: a bad wedge says why, a good one is fitted, kept and used")
	dir := t.TempDir()
	good, bad := filepath.Join(dir, "essai.csv"), filepath.Join(dir, "essai without green.csv")
	n := film.Develop(film.Stocks()[2], film.Process{Strength: 1})
	text := "log exposure,red,green,blue\n"
	for x := -2.4; x < 1.8; x += 0.15 {
		d := n.Read(n.Grey(x))
		text += fmt.Sprintf("%.2f,%.3f,%.3f,%.3f\n", x, d[0], d[1], d[2])
	}
	for file, data := range map[string]string{good: text, bad: strings.Replace(text, "green", "grain", 1)} {
		if err := os.WriteFile(file, []byte(data), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	p.MustElementR("button", "^Library$").MustClick()
	p.MustElementR("button", "New stock").MustClick()
	fit := func(file string) {
		p.MustElement("[data-testid=load-wedge]").MustSetFiles(file)
		p.MustElementR("label", filepath.Base(file))
		p.MustElementR("[role=dialog] button", "^Measure$").MustClick()
	}
	fit(bad)
	if text := p.MustElement("[data-testid=fit-problem]").MustText(); !strings.Contains(text, "essai without green.csv") || !strings.Contains(text, "no column for green") {
		t.Errorf("the bad wedge says %q", text)
	}
	p.MustElement("[aria-label='Name of the stock']").MustSelectAllText().MustInput("Essai")
	fit(good)
	if text := p.MustElement("[data-testid=fit-result]").MustText(); !strings.Contains(text, "Essai") || !strings.Contains(text, "off on the whole") || !strings.Contains(text, "A wedge tells curves and base alone") {
		t.Errorf("the fit says %q", text)
	}
	p.MustElementR("button", "Keep and use").MustClick()
	until(t, "the shot is on the new stock", func() bool {
		s, _ := value("negative", "stock", "id").(string)
		return strings.HasPrefix(s, "own-essai.")
	})
	p.MustElementR("[data-testid=kept] li", "Essai")
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)
	p.MustElement("body").MustEval("() => document.activeElement.blur()")
	p.Keyboard.MustType(input.Digit4)
	p.MustElementR("[data-kind='negative.stock'] [role=combobox]", "Essai")
	exact(t, p)

	t.Log("a recipe over all of it, and back")
	own := lookOf(t, st, id)
	p.MustElementR("button", "^Recipes$").MustClick()
	p.MustElement("[data-patch='silent-lamp']").MustClick()
	undisturbed(t, p)
	until(t, "the film is the recipe's", func() bool {
		return value("negative", "stock", "id") == "craie-25" && value("print", "medium", "id") == "lanterne"
	})
	if stepAt(t, st, id, "balance", "exposure") == nil && own.Step("balance", "exposure") != nil {
		t.Error("the recipe took the balance away")
	}
	recipes, err := steps.Recipes()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range recipes {
		if r.ID == "silent-lamp" {
			want, err := r.Onto(own)
			if err != nil {
				t.Fatal(err)
			}
			if fmt.Sprint(filmOf(want)) != fmt.Sprint(filmOf(lookOf(t, st, id))) {
				t.Error("the film is not what the recipe gives on the command line")
			}
		}
	}
	p.MustElementR("button", "^Undo$").MustClick()
	until(t, "one undo brings the own stock back", func() bool {
		s, _ := value("negative", "stock", "id").(string)
		return strings.HasPrefix(s, "own-essai.")
	})
	exact(t, p)
}

// filmOf is what a look sets between the lens and the screen, in order.
func filmOf(l *look.Look) []string {
	var out []string
	l.Steps(func(k *look.Kind, s *look.Step) {
		if k.Station == look.Lens || k.Station == look.Negative || k.Station == look.Print {
			out = append(out, fmt.Sprint(k.Path(), s.On, s.Strength, s.Settings))
		}
	})
	return out
}
