package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/look"
	"velours/demo/standin"
)

// A film is measured whole from the stand-in set: it comes in with a press, what is missing is told, all of it is measured, the card says
// what is sure, and the stock is used on Courtyard.
func TestAFilmMeasuredWhole(t *testing.T) {
	p, _, st, id := courtyard(t)

	t.Log("the stand-in set comes in, as a reel and a form that asks for all of it")
	p.MustElementR("button", "^Library$").MustClick()
	p.MustElementR("button", "New stock").MustClick()
	p.MustElementR("[role=dialog] button", "^Stand-in set$").MustClick()
	p.MustElement("[role=dialog] fieldset[aria-label='A lamp on black']")
	if n := len(p.MustElements("[role=dialog] fieldset")); n != 6 {
		t.Errorf("%d pictures are asked for", n)
	}

	t.Log("without the lamp, and with an edge that is no edge: each gets its line")
	p.MustElement("[aria-label='Take a lamp on black away']").MustClick()
	choose(t, p, "[aria-label='A slanted edge, on film']", "patches")
	measure := func() string {
		p.MustElementR("[role=dialog] button[type=submit]", "^Measure$").MustClick()
		return p.MustElement("[data-testid=fit-result]").MustText()
	}
	text := measure()
	for _, want := range []string{"no straight edge was found", "as Aubade 250D", "2 wedges", "granularity"} {
		if !strings.Contains(text, want) {
			t.Errorf("the result does not say %q:\n%s", want, text)
		}
	}

	t.Log("whole")
	choose(t, p, "[aria-label='A slanted edge, on film']", "edge")
	p.MustElement("[aria-label='Add a picture']").MustClick()
	p.MustElementR("[role=menuitem]", "A lamp on black").MustClick()
	choose(t, p, "[aria-label='A lamp on black, on film']", "lamp")
	p.MustElement("[aria-label='A lamp on black, width']").MustInput("5.76")
	text = measure()
	for _, want := range []string{"half is left at", "a ring of 0.2", "how strong is not known", "Worst of what was kept out"} {
		if !strings.Contains(text, want) {
			t.Errorf("the result does not say %q:\n%s", want, text)
		}
	}
	if strings.Contains(text, "no straight edge") {
		t.Error("the edge is still bad")
	}
	if n := len(p.MustElements("[data-testid=fit-result] svg")); n != 4 {
		t.Errorf("%d drawings", n)
	}

	t.Log("kept, and used on the shot")
	p.MustElementR("button", "Keep and use").MustClick()
	until(t, "the shot is on the measured stock", func() bool {
		s := stepAt(t, st, id, look.Negative, "stock")
		return s != nil && strings.HasPrefix(s.Settings["id"].(string), "own-velvet-of-nowhere.")
	})
	p.MustElementR("[data-testid=kept] li", standin.Label)
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)
	exact(t, p)
}
