package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
)

// Keys are given to other commands, switched off, kept by the browser, and put back; help tells them as they are.
func TestKeysOfOnesOwn(t *testing.T) {
	b := browser(t)
	srv, _ := open(t, t.TempDir())
	p := page(t, b, srv.URL)
	exact(t, p)
	pressed := func(label string) bool {
		return *p.MustElementR("header button", "^"+label+"$").MustAttribute("aria-pressed") == "true"
	}
	row := func(label string) *rod.Element { return p.MustElement(`button[aria-label="Key of: ` + label + `"]`) }
	keysOpen := func() { p.MustElement(`button[aria-label="Keys and help"]`).MustClick() }
	closed := func() {
		p.MustElementR("[role=dialog] button", "^Close$").MustClick()
		undisturbed(t, p)
	}
	tap := func(k input.Key) {
		p.MustElement("h1").MustClick()
		p.Keyboard.MustType(k)
	}

	t.Log("usual: W wipes")
	tap(input.KeyW)
	until(t, "the wipe is there", func() bool { return pressed("Wipe") })
	tap(input.KeyW)
	until(t, "the wipe has gone", func() bool { return !pressed("Wipe") })

	t.Log("D is given to the wipe, which takes it from the difference")
	keysOpen()
	row("Wipe").MustClick()
	p.Keyboard.MustType(input.KeyD)
	until(t, "the key is taken", func() bool {
		return row("Wipe").MustText() == "D" && row("Difference to the other side").MustText() == "off"
	})
	t.Log("the scopes' key is switched off")
	p.MustElement(`button[aria-label="No key for: Scopes"]`).MustClick()
	until(t, "it is off", func() bool { return row("Scopes").MustText() == "off" })
	closed()

	p.MustReload()
	exact(t, p)
	tap(input.KeyD)
	until(t, "D wipes, after the page was opened anew", func() bool { return pressed("Wipe") && !pressed("Difference") })
	tap(input.KeyW)
	tap(input.KeyG)
	tap(input.KeyZ) // so that what the two before it would do has been done
	p.MustElement("[data-testid=navigator]")
	if !pressed("Wipe") || !p.MustHas("[data-scope=parade]") {
		t.Error("a key that is off acts")
	}

	t.Log("all as usual")
	keysOpen()
	p.MustElementR("[role=dialog] button", "^All keys as usual$").MustClick()
	until(t, "they are", func() bool { return row("Wipe").MustText() == "W" && row("Scopes").MustText() == "G" })
	closed()
	tap(input.KeyW)
	until(t, "W wipes again", func() bool { return !pressed("Wipe") })
}
