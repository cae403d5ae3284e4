package e2e

import (
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/look"
	"velours/studio"
)

// stills writes small pictures of several tones.
func stills(t *testing.T, dir string, names ...string) (files []string) {
	t.Helper()
	for i, name := range names {
		im := image.NewNRGBA(image.Rect(0, 0, 160, 90))
		for y := range 90 {
			for x := range 160 {
				im.Set(x, y, color.NRGBA{uint8(40 + x), uint8(30 + 20*i + y), uint8(200 - x), 255})
			}
		}
		file := filepath.Join(dir, name+".png")
		f, err := os.Create(file)
		if err != nil {
			t.Fatal(err)
		}
		if err := png.Encode(f, im); err != nil {
			t.Fatal(err)
		}
		if err := f.Close(); err != nil {
			t.Fatal(err)
		}
		files = append(files, file)
	}
	return files
}

// reelNamed is a reel with its scenes and shots.
func reelNamed(t *testing.T, st *studio.Studio, name string) (id uint, scenes, shots []string) {
	t.Helper()
	list, err := st.Headlines()
	if err != nil {
		t.Fatal(err)
	}
	for _, h := range list {
		if h.Name != name {
			continue
		}
		r, err := st.Reel(h.ID)
		if err != nil {
			t.Fatal(err)
		}
		at := map[uint]string{}
		for _, c := range r.Scenes {
			scenes = append(scenes, c.Name)
			at[c.ID] = c.Name
		}
		for _, s := range r.Shots {
			shots = append(shots, strings.TrimSpace(s.Name+" "+at[s.SceneID]))
		}
		return r.ID, scenes, shots
	}
	return 0, nil, nil
}

// A day's work on a reel: made, named, filled, sorted into scenes; a house look over it; a shot balanced with the look hidden, and its
// balance carried to the rest; what came from another picture looked at again; the look kept, and taken in another reel.
func TestOneLookOverAReel(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, st := open(t, filepath.Join(dir, "data"))
	p := page(t, b, srv.URL)
	exact(t, p)

	t.Log("a reel of one's own")
	p.MustElement("button[aria-label=Reels]").MustClick()
	p.MustElementR("[role=dialog] button", "^New reel$").MustClick()
	undisturbed(t, p)
	until(t, "the new reel is open", func() bool { return p.MustElement("[data-testid=reel-name]").MustText() == "New reel" })
	p.MustElement("button[aria-label=Reels]").MustClick()
	p.MustElement("[data-reel='New reel'] button[aria-label='What to do with New reel']").MustClick()
	p.MustElementR("[role=menuitem]", "^Name$").MustClick()
	p.MustElement("input[aria-label='Name of the reel']").MustSelectAllText().MustInput("Harbour").MustType(input.Enter)
	until(t, "it has its name", func() bool { id, _, _ := reelNamed(t, st, "Harbour"); return id > 0 })
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)

	t.Log("shots come in, and go into a scene")
	p.MustElementR("header button", "^Add$").MustClick()
	p.MustElement("[data-testid=upload]").MustSetFiles(stills(t, dir, "quay", "crane", "deck", "mast")...)
	until(t, "all four are there", func() bool { _, _, shots := reelNamed(t, st, "Harbour"); return len(shots) == 4 })
	frame := func(name string) string { return fmt.Sprintf("[data-testid=column] button[aria-label='%s']", name) }
	p.MustElement(frame("quay")).MustClick()
	until(t, "quay is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "quay" })
	pick := func(names ...string) {
		t.Helper()
		for _, n := range names {
			p.MustEval(`(sel) => document.querySelector(sel).dispatchEvent(new MouseEvent('click', {bubbles: true, ctrlKey: true}))`, frame(n))
		}
	}
	pick("deck")
	p.MustElement("button[aria-label='Chosen shots']").MustClick()
	p.MustElementR("[role=menuitem]", "^Group into a new scene").MustClick()
	until(t, "two are in a scene", func() bool {
		_, scenes, shots := reelNamed(t, st, "Harbour")
		return len(scenes) == 1 && slices.Contains(shots, "quay Scene 1") && slices.Contains(shots, "deck Scene 1")
	})

	t.Log("moved by the keyboard")
	p.MustElement(frame("deck")).MustFocus()
	if err := p.Keyboard.Press(input.AltLeft); err != nil {
		t.Fatal(err)
	}
	p.Keyboard.MustType(input.ArrowUp)
	if err := p.Keyboard.Release(input.AltLeft); err != nil {
		t.Fatal(err)
	}
	p.MustElement(frame("quay")).MustClick()

	t.Log("a house look lands on the reel")
	exact(t, p)
	p.Keyboard.MustType(input.Digit4)
	if text := p.MustElement("[data-testid=lands]").MustText(); text != "all 4 shots" {
		t.Errorf("the desk says %q", text)
	}
	choose(t, p, "[data-kind='negative.stock'] button[aria-label=Stock]", "Serein 500T")
	house := func() *look.Look {
		id, _, _ := reelNamed(t, st, "Harbour")
		r, err := st.Levels(id)
		if err != nil {
			t.Fatal(err)
		}
		l, err := look.ParseStored([]byte(r.Look))
		if err != nil {
			t.Fatal(err)
		}
		return l
	}
	until(t, "the reel has a stock", func() bool {
		p := house().Step(look.Negative, "stock")
		return p != nil && p.On && p.Settings["id"] == "serein-500t"
	})

	t.Log("balanced with the look hidden")
	with := atRest(t, p)
	p.Keyboard.MustType(input.KeyV)
	p.MustElement("[data-testid=hidden]")
	until(t, "the look is hidden", func() bool { return atRest(t, p) != with })
	p.Keyboard.MustType(input.Digit2)
	if text := p.MustElement("[data-testid=lands]").MustText(); text != "this shot" {
		t.Errorf("the desk says %q", text)
	}
	stops := p.MustElement("[data-kind='balance.exposure'] input[aria-label='Exposure, value']")
	stops.MustSelectAllText().MustInput("0.5").MustType(input.Enter)
	quay := named(t, srv.URL, "quay").ID
	until(t, "the shot has an exposure", func() bool {
		s := stepAt(t, st, quay, look.Balance, "exposure")
		return s != nil && s.Settings["stops"] == 0.5
	})
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.KeyV)
	until(t, "the look is back", func() bool { return !p.MustHas("[data-testid=hidden]") })

	t.Log("its balance carried to the rest, as one act")
	pick("crane", "deck", "mast")
	p.MustElement("button[aria-label='Chosen shots']").MustClick()
	p.MustElementR("[role=menuitem]", "^Take settings over").MustClick()
	for _, part := range []string{"Lens", "Film", "Print", "Finish", "Mattes"} {
		p.MustElement(fmt.Sprintf("[role=dialog] button[role=checkbox][aria-label=%s]", part)).MustClick()
	}
	p.MustElementR("[role=dialog] button", "^Take to 3 shots$").MustClick()
	undisturbed(t, p)
	exposures := func() (n int) {
		for _, name := range []string{"crane", "deck", "mast"} {
			if s := stepAt(t, st, named(t, srv.URL, name).ID, look.Balance, "exposure"); s != nil && s.Settings["stops"] == 0.5 && len(s.Again) == 1 {
				n++
			}
		}
		return n
	}
	until(t, "three have it, marked", func() bool { return exposures() == 3 })

	t.Log("looked at again: N goes there, Enter says that it suits")
	p.MustElement(frame("crane")).MustClick()
	p.MustElementR("aside[aria-label=Desk]", "1 step to look at again")
	exact(t, p)
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.KeyN)
	p.MustElement("[data-testid=again]")
	until(t, "its card has the focus", func() bool {
		return p.MustEval(`() => document.activeElement?.dataset?.kind ?? ''`).Str() == "balance.exposure"
	})
	p.Keyboard.MustType(input.Enter)
	until(t, "one is seen", func() bool { return exposures() == 2 })
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "it is to be looked at again", func() bool { return exposures() == 3 })
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "one undo takes it from all three", func() bool { return exposures() == 0 })

	t.Log("the look is kept, and taken over another reel")
	p.MustElement(frame("quay")).MustClick()
	until(t, "quay is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "quay" })
	exact(t, p)
	p.MustElementR("header button", "^Looks$").MustClick()
	p.MustElementR("[role=dialog] button", "^Keep this look$").MustClick()
	p.MustElement("input[aria-label='Name of the look']").MustInput("Harbour film")
	p.MustElement("input[aria-label=Mood]").MustInput("salty")
	choose(t, p, "[role=dialog] button[aria-label='Of it']", "lens, film and print")
	p.MustElementR("[role=dialog] form button", "^Keep$").MustClick()
	p.MustElementR("[data-testid=test-strip] li", "Harbour film")
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)
	p.MustElement("button[aria-label=Reels]").MustClick()
	p.MustElement("button[aria-label='Open The Velvet Matinee']").MustClick()
	undisturbed(t, p)
	until(t, "the other reel is open", func() bool { return p.MustElement("[data-testid=reel-name]").MustText() == "The Velvet Matinee" })
	exact(t, p)
	p.MustElementR("header button", "^Looks$").MustClick()
	p.MustElementR("[data-testid=test-strip] li", "Harbour film").MustElement("button").MustClick()
	undisturbed(t, p)
	first := named(t, srv.URL, "Footlights")
	until(t, "the shot has the film, and its own balance", func() bool {
		s := stepAt(t, st, first.ID, look.Negative, "stock")
		return s.Settings["id"] == "serein-500t" && s.Settings["rating"] == nil && stepAt(t, st, first.ID, look.Balance, "exposure").Settings["stops"] == 0.7
	})

	t.Log("a reel is removed, and undone on the page")
	p.MustElement("button[aria-label=Reels]").MustClick()
	p.MustElement("[data-reel=Harbour] button[aria-label='What to do with Harbour']").MustClick()
	p.MustElementR("[role=menuitem]", "^Remove").MustClick()
	until(t, "it is gone", func() bool { id, _, _ := reelNamed(t, st, "Harbour"); return id == 0 })
	p.MustElementR("[role=dialog] button", "^Undo$").MustClick()
	until(t, "it is back", func() bool { _, _, shots := reelNamed(t, st, "Harbour"); return len(shots) == 4 })
}
