package e2e

import (
	"os"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/look"
	"velours/studio"
)

// A client's two options: a second trial begun beside what there is, another print in it; wiped against the first, gone through by a
// key, pin against trial; one is the answer, and what is delivered says so.
func TestTwoOptionsForAClient(t *testing.T) {
	p, _, st, shot := footlights(t)
	exact(t, p)
	medium := func() any { return stepAt(t, st, shot, look.Print, "medium").Settings["id"] }
	first := atRest(t, p)
	was := medium()

	t.Log("a second option")
	p.Keyboard.MustType(input.Digit5)
	p.MustElement("button[aria-label='Begin a trial']").MustClick()
	until(t, "the second trial is in use", func() bool { return p.MustElement("[data-testid=trial]").MustText() == "Trial 2" })
	choose(t, p, "[data-kind='print.medium'] button[aria-label=Medium]", "Coulisse")
	until(t, "it has another print", func() bool { return medium() == "coulisse" })
	exact(t, p)
	second := atRest(t, p)
	if first == second {
		t.Fatal("the options look alike")
	}
	p.MustElement("button[aria-label='Trials of Footlights']").MustClick()
	p.MustElementR("[role=menuitem]", "^Name$").MustClick()
	p.MustElement("input[aria-label='Name of the trial']").MustSelectAllText().MustInput("Cooler").MustType(input.Enter)
	until(t, "it has its name", func() bool { return p.MustElement("[data-testid=trial]").MustText() == "Cooler" })

	t.Log("wiped against the first")
	p.MustElement("button[aria-label='Other side']").MustClick()
	p.MustElementR("[role=menuitem]", "^Trial 1$").MustClick()
	undisturbed(t, p)
	p.MustElementR("header button", "^Wipe$").MustClick()
	until(t, "the first is on the other side", func() bool { return p.MustElement("[data-testid=side-name]").MustText() == "Trial 1" })
	p.Keyboard.MustType(input.KeyP)
	until(t, "a pin is there", func() bool { pins, err := st.Pins(); return err == nil && len(pins) == 1 })
	p.MustElementR("[role=dialog]", "Pinboard")
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)
	p.MustElement("button[aria-label='This side']").MustClick()
	p.MustElementR("[role=menuitem]", "^Footlights [0-9]+$").MustClick()
	undisturbed(t, p)
	until(t, "the pin stands on this side", func() bool { return p.MustHasR("button[aria-label='This side']", "^Footlights [0-9]+") })
	p.MustElement("button[aria-label='This side']").MustClick()
	p.MustElementR("[role=menuitem]", "as it is now").MustClick()
	undisturbed(t, p)
	p.MustElementR("header button", "^Wipe$").MustClick()

	t.Log("gone through by a key")
	p.Keyboard.MustType(input.KeyA)
	until(t, "the first is in use", func() bool { return medium() == was && p.MustElement("[data-testid=trial]").MustText() == "Trial 1" })
	exact(t, p)
	if atRest(t, p) != first {
		t.Error("the first option in use again is another picture")
	}
	p.Keyboard.MustType(input.KeyA)
	until(t, "the second is in use", func() bool { return medium() == "coulisse" })
	exact(t, p)
	if atRest(t, p) != second {
		t.Error("the second option in use again is another picture")
	}

	t.Log("one is the answer, and the delivery says so")
	p.MustElement("button[aria-label='Trials of Footlights']").MustClick()
	p.MustElementR("[role=menuitem]", "^This is the answer$").MustClick()
	undisturbed(t, p)
	until(t, "it is marked", func() bool { return p.MustElement("[data-testid=trial]").MustText() == "Cooler ✓" })
	p.MustElementR("header button", "^Deliver$").MustClick()
	p.MustElementR("[data-testid=held]", "Cooler is in use: the answer")
	p.MustElementR("[role=dialog] button", "^JPEG$").MustClick()
	p.MustElementR("[data-testid=deliveries] li[data-state=done]", "Cooler, the answer")
	p.MustElementR("section[aria-label^='A contact sheet'] button", "^PDF$").MustClick()
	var sheet string
	until(t, "the contact sheet is made", func() bool {
		list, err := st.Deliveries()
		if err != nil {
			t.Fatal(err)
		}
		sheet = list[0].Path
		return list[0].Format == "sheet-pdf" && list[0].State == "done" && list[0].Total == 2
	})
	if info, err := os.Stat(sheet); err != nil || info.Size() < 10_000 {
		t.Errorf("the sheet: %v, %v", info, err)
	}
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)

	t.Log("all of it is undone")
	for range 6 {
		if p.MustElementR("header button", "^Undo$").MustProperty("disabled").Bool() {
			break
		}
		p.MustElementR("header button", "^Undo$").MustClick()
		p.MustWaitStable()
	}
	until(t, "there are no trials", func() bool {
		x, err := st.Shot(shot)
		if err != nil {
			t.Fatal(err)
		}
		list, err := st.TrialsOf(x)
		return err == nil && len(list) == 0 && studio.TrialOf(x) == 0
	})
}
