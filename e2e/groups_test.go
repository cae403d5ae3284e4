package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"velours/core/look"
)

// Steps grouped on the desk, mixed and laid; their settings kept ready; the treatment off and on; the picture at a station; a step alone in
// all of the path; and a box on each side of a comparison.
func TestGroupsTreatmentAndTaps(t *testing.T) {
	p, srv, st, shot := footlights(t)
	d := &day{p, t, srv.URL, st}
	exact(t, p)
	p.Keyboard.MustType(input.Digit2)
	group := func() *look.Group { return lookOf(t, st, shot).Stations[look.Balance].Groups["group"] }

	t.Log("two steps become a group")
	add(t, p, "Saturation", "balance.saturation")
	d.typed("balance.saturation", "All", "140")
	until(t, "it is saturated", func() bool { return d.number("Footlights", look.Balance, "saturation", "all") == 140 })
	with := atRest(t, p)
	for _, kind := range []string{"balance.exposure", "balance.saturation"} {
		p.MustEval(`(kind) => document.querySelector("[data-kind='" + kind + "'] > div").dispatchEvent(new MouseEvent('click', {bubbles: true, ctrlKey: true}))`, kind)
	}
	p.MustElementR("[role=toolbar] button", "^group$").MustClick()
	until(t, "there is a group", func() bool { return group() != nil })
	p.MustElement("[data-group=group]")
	if atRest(t, p) != with {
		t.Error("grouping changed the picture")
	}

	t.Log("off, and in part")
	p.MustElement("[data-group=group] button[aria-label='Group on']").MustClick()
	until(t, "it is off", func() bool { return !group().On })
	until(t, "the picture is another", func() bool { return atRest(t, p) != with })
	p.MustElement("[data-group=group] button[aria-label='Group on']").MustClick()
	box := p.MustElement("[data-group=group] > span input[aria-label='Strength, value'], [data-group=group] > div input[aria-label='Strength, value']")
	box.MustSelectAllText().MustInput("50").MustType(input.Enter)
	until(t, "it is half", func() bool { return group().On && group().Strength == 0.5 })

	t.Log("settings kept ready")
	p.MustElement("button[aria-label='More for Saturation']").MustClick()
	p.MustElementR("[role=menuitem]", "^Keep its settings ready$").MustClick()
	p.MustElement("input[aria-label='Name of the ready settings']").MustInput("Fairground").MustType(input.Enter)
	d.menu("Ready settings of Saturation", "^Fairground$")

	t.Log("the treatment off, and on again")
	p.MustElement("h1").MustClick()
	whole := atRest(t, p)
	p.Keyboard.MustType(input.KeyM)
	until(t, "it is off", func() bool { return lookOf(t, st, shot).TreatedBy() == 0 })
	until(t, "the picture is untreated", func() bool { return atRest(t, p) != whole })
	p.Keyboard.MustType(input.KeyM)
	until(t, "the picture is back", func() bool { return atRest(t, p) == whole })

	t.Log("the picture at the negative, while the balance is open")
	p.Keyboard.MustType(input.Digit4, input.KeyK, input.Digit2)
	p.MustElementR("[data-testid=tap]", "as it leaves Negative")
	until(t, "it is the negative", func() bool { return atRest(t, p) != whole })
	p.Keyboard.MustType(input.Escape)
	until(t, "it is the picture again", func() bool { return atRest(t, p) == whole })

	t.Log("a step alone in all of the path")
	p.Keyboard.MustType(input.Digit4)
	p.MustEval(`() => [...document.querySelectorAll("[data-kind='negative.halation'] button")].find((b) => b.textContent === 'solo').dispatchEvent(new MouseEvent('click', {bubbles: true, shiftKey: true}))`)
	p.MustElementR("[data-testid=note]", "alone, all other steps at rest")
	p.Keyboard.MustType(input.Escape)

	t.Log("a box on each side")
	p.MustElementR("header button", "^Beside$").MustClick()
	exact(t, p)
	draw := func(canvas string, x, y float64) {
		t.Helper()
		b := p.MustElement("[data-testid=" + canvas + "]").MustShape().Box()
		at := func(dx, dy float64) proto.Point {
			return proto.Point{X: b.X + (x+dx)*b.Width, Y: b.Y + (y+dy)*b.Height}
		}
		if err := p.Keyboard.Press(input.ShiftLeft); err != nil {
			t.Fatal(err)
		}
		for i, to := range []proto.Point{at(0, 0), at(0.1, 0.1), at(0.2, 0.2)} {
			if err := p.Mouse.MoveTo(to); err != nil {
				t.Fatal(err)
			}
			if i == 0 {
				p.Mouse.MustDown(proto.InputMouseButtonLeft)
			}
		}
		p.Mouse.MustUp(proto.InputMouseButtonLeft)
		if err := p.Keyboard.Release(input.ShiftLeft); err != nil {
			t.Fatal(err)
		}
	}
	draw("picture", 0.1, 0.1)
	own := p.MustElement("[data-testid=box]").MustAttribute("style")
	if both := p.MustElement("[data-testid=other-box]").MustAttribute("style"); *both != *own {
		t.Error("the box of one side does not count for both")
	}
	draw("other", 0.5, 0.5)
	until(t, "the other side has its own", func() bool { return *p.MustElement("[data-testid=other-box]").MustAttribute("style") != *own })
}
