package e2e

import (
	"math"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/path"
)

// The film by hand: another stock from the list, its separation and contrast typed, the print timed by letter keys.
func TestFilmByHand(t *testing.T) {
	p, _, st, id := courtyard(t)
	value := func(station path.Station, name, setting string) any {
		if s := stepAt(t, st, id, station, name); s != nil {
			return s.Settings[setting]
		}
		return nil
	}
	is := func(what string, station path.Station, name, setting string, want float64) {
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
