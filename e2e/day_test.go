package e2e

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"velours/core/look"
	"velours/library"
	"velours/studio"
)

// day is a page with the studio behind it.
type day struct {
	*rod.Page
	t   *testing.T
	url string
	st  *studio.Studio
}

func frameOf(name string) string {
	return fmt.Sprintf("[data-testid=column] button[aria-label='%s']", name)
}

// openShot opens a shot of the column.
func (d *day) openShot(name string) {
	d.t.Helper()
	d.MustElement(frameOf(name)).MustClick()
	until(d.t, name+" is open", func() bool { return d.MustElement("[data-testid=shot-name]").MustText() == name })
	exact(d.t, d.Page)
}

// newReel opens a reel of the day's own with stills of those names.
func (d *day) newReel(dir string, names ...string) {
	d.t.Helper()
	d.MustElement("button[aria-label=Reels]").MustClick()
	d.MustElementR("[role=dialog] button", "^New reel$").MustClick()
	undisturbed(d.t, d.Page)
	until(d.t, "the new reel is open", func() bool { return d.MustElement("[data-testid=reel-name]").MustText() == "New reel" })
	d.MustElementR("header button", "^Add$").MustClick()
	d.MustElement("[data-testid=upload]").MustSetFiles(stills(d.t, dir, names...)...)
	until(d.t, "all are there", func() bool { _, _, shots := reelNamed(d.t, d.st, "New reel"); return len(shots) == len(names) })
}

// pick chooses further shots, one by one, or with Shift all up to one.
func (d *day) pick(key string, names ...string) {
	d.t.Helper()
	for _, n := range names {
		d.MustEval(`(sel, key) => document.querySelector(sel).dispatchEvent(new MouseEvent('click', {bubbles: true, ctrlKey: key === 'ctrl', shiftKey: key === 'shift'}))`, frameOf(n), key)
	}
}

// menu takes an item of a menu.
func (d *day) menu(label, item string) {
	d.t.Helper()
	d.MustElement("button[aria-label='" + label + "']").MustClick()
	d.MustElementR("[role=menuitem]", item).MustClick()
	until(d.t, "the menu is gone", func() bool { return !d.MustHas("[role=menu]") })
}

// typed gives a dial a value.
func (d *day) typed(kind, label, value string) {
	d.t.Helper()
	box := d.MustElement("[data-kind='" + kind + "'] input[aria-label='" + label + ", value']")
	box.MustSelectAllText().MustInput(value).MustType(input.Enter)
	d.MustElement("h1").MustClick()
}

func (d *day) id(name string) uint { return named(d.t, d.url, name).ID }

// number is a setting of a shot's own step, NaN-free: 0 where there is none.
func (d *day) number(name string, s look.Station, step, setting string) float64 {
	d.t.Helper()
	p := stepAt(d.t, d.st, d.id(name), s, step)
	if p == nil {
		return 0
	}
	v, _ := p.Settings[setting].(float64)
	return v
}

// A day: ten files come in and are declared, sorted into scenes; a house look, under which three are balanced while it is hidden; one
// balance carried to the rest, two trials kept, and a contact sheet.
func TestADayOnAReel(t *testing.T) {
	dir := t.TempDir()
	srv, st := open(t, filepath.Join(dir, "data"))
	d := &day{page(t, browser(t), srv.URL), t, srv.URL, st}
	exact(t, d.Page)
	names := []string{"bed", "crane", "deck", "door", "inn", "lamp", "mast", "quay", "rope", "stair"}

	t.Log("ten files come in, and are declared in one act")
	d.newReel(dir, names...)
	d.openShot("bed")
	d.pick("shift", "stair")
	d.MustElementR("aside button", "^Declare$").MustClick()
	d.MustElement("[data-testid=encodings] [data-encoding=bt709]").MustClick()
	until(t, "all are declared", func() bool {
		return !slices.ContainsFunc(names, func(n string) bool { return named(t, srv.URL, n).Encoding != "bt709" })
	})
	if d.MustHas("[role=dialog]") {
		d.Keyboard.MustType(input.Escape)
		undisturbed(t, d.Page)
	}

	t.Log("sorted into two scenes")
	for i, first := range []string{"bed", "lamp"} {
		d.openShot(first)
		d.pick("shift", []string{"inn", "stair"}[i])
		d.menu("Chosen shots", "^Group into a new scene")
		until(t, "a scene is there", func() bool { _, scenes, _ := reelNamed(t, st, "New reel"); return len(scenes) == i+1 })
	}

	t.Log("a house look, and three balanced while it is hidden")
	d.openShot("bed")
	d.MustElement("h1").MustClick()
	d.Keyboard.MustType(input.Digit4)
	choose(t, d.Page, "[data-kind='negative.stock'] button[aria-label=Stock]", "Serein 500T")
	d.MustElement("h1").MustClick()
	d.Keyboard.MustType(input.KeyV, input.Digit2)
	d.MustElement("[data-testid=hidden]")
	for i, n := range []string{"bed", "crane", "lamp"} {
		d.openShot(n)
		stops := float64(i+1) / 10
		d.typed("balance.exposure", "Exposure", fmt.Sprint(stops))
		until(t, n+" is balanced", func() bool { return d.number(n, look.Balance, "exposure", "stops") == stops })
	}
	d.Keyboard.MustType(input.KeyV)
	until(t, "the look is back", func() bool { return !d.MustHas("[data-testid=hidden]") })

	t.Log("the last balance carried to the rest")
	rest := []string{"deck", "door", "inn", "mast", "quay", "rope", "stair"}
	d.pick("ctrl", rest...)
	d.menu("Chosen shots", "^Take settings over")
	for _, part := range []string{"Lens", "Film", "Print", "Finish", "Mattes"} {
		d.MustElement(fmt.Sprintf("[role=dialog] button[role=checkbox][aria-label=%s]", part)).MustClick()
	}
	d.MustElementR("[role=dialog] button", "^Take to 7 shots$").MustClick()
	undisturbed(t, d.Page)
	until(t, "all seven have it", func() bool {
		return !slices.ContainsFunc(rest, func(n string) bool { return d.number(n, look.Balance, "exposure", "stops") != 0.3 })
	})

	t.Log("two trials of one shot")
	d.openShot("bed")
	d.MustElement("button[aria-label='Begin a trial']").MustClick()
	until(t, "the second is in use", func() bool { return d.MustElement("[data-testid=trial]").MustText() == "Trial 2" })
	d.typed("balance.exposure", "Exposure", "0.8")
	until(t, "it is brighter", func() bool { return d.number("bed", look.Balance, "exposure", "stops") == 0.8 })

	t.Log("a contact sheet of all ten")
	d.openShot("bed")
	d.pick("shift", "stair")
	d.MustElementR("header button", "^Deliver$").MustClick()
	d.MustElementR("section[aria-label^='A contact sheet'] button", "^PDF$").MustClick()
	until(t, "it is made", func() bool {
		list, err := st.Deliveries()
		return err == nil && len(list) > 0 && list[0].State == "done" && list[0].Total == 11
	})
	d.Keyboard.MustType(input.Escape)
	undisturbed(t, d.Page)
}

// The film of a grade goes onto another reel, on another machine, by a file: stock, grain and print come, the balance there stays.
func TestAFilmByFile(t *testing.T) {
	dir := t.TempDir()
	srv, st := open(t, filepath.Join(dir, "data"))
	b := browser(t)
	d := &day{page(t, b, srv.URL), t, srv.URL, st}
	d.openShot("Footlights")
	d.MustElementR("header button", "^Looks$").MustClick()
	d.MustElementR("[role=dialog] button", "^Keep this look$").MustClick()
	d.MustElement("input[aria-label='Name of the look']").MustInput("Footlight film")
	choose(t, d.Page, "[role=dialog] button[aria-label='Of it']", "lens, film and print")
	d.MustElementR("[role=dialog] form button", "^Keep$").MustClick()
	d.MustElementR("[data-testid=test-strip] li", "Footlight film")
	assets, err := st.AllAssets()
	if err != nil || len(assets) != 1 {
		t.Fatalf("kept: %v, %v", assets, err)
	}
	resp, err := http.Get(fmt.Sprintf("%s/api/v1/looks/file?ids=%d", srv.URL, assets[0].ID))
	if err != nil {
		t.Fatal(err)
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	if err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(dir, "footlight.looks.json")
	if err := os.WriteFile(file, data, 0o644); err != nil {
		t.Fatal(err)
	}

	srv2, st2 := open(t, filepath.Join(dir, "other"))
	o := &day{page(t, b, srv2.URL), t, srv2.URL, st2}
	o.openShot("Workbench")
	balance := lookOf(t, st2, o.id("Workbench")).Stations[look.Balance]
	was := atRest(t, o.Page)
	o.MustElementR("header button", "^Looks$").MustClick()
	o.MustElement("[data-testid=load-looks]").MustSetFiles(file)
	o.MustElementR("[data-testid=test-strip] li", "Footlight film").MustElement("button").MustClick()
	undisturbed(t, o.Page)
	film := lookOf(t, st, d.id("Footlights"))
	until(t, "the film is there", func() bool {
		l := lookOf(t, st2, o.id("Workbench"))
		for _, s := range []look.Station{look.Negative, look.Print} {
			for _, p := range film.Stations[s].Steps {
				q := l.Step(s, p.Name())
				if q == nil || q.On != p.On || fmt.Sprint(q.Settings) != fmt.Sprint(p.Settings) {
					return false
				}
			}
		}
		return true
	})
	if now := lookOf(t, st2, o.id("Workbench")).Stations[look.Balance]; (now == nil) != (balance == nil) || now != nil && len(now.Steps) != len(balance.Steps) {
		t.Error("the balance of the other reel did not stay")
	}
	if atRest(t, o.Page) == was {
		t.Error("the picture is as it was")
	}
	t.Log("a whole look is taken: what of it depends on the picture is gone to, and Enter goes on")
	d.MustActivate()
	d.MustElementR("[role=dialog] button", "^Keep this look$").MustClick()
	d.MustElement("input[aria-label='Name of the look']").MustInput("All of it")
	choose(t, d.Page, "[role=dialog] button[aria-label='Of it']", "all of it")
	d.MustElementR("[role=dialog] form button", "^Keep$").MustClick()
	d.MustElementR("[data-testid=test-strip] li", "All of it")
	d.Keyboard.MustType(input.Escape)
	undisturbed(t, d.Page)
	d.openShot("Courtyard")
	d.MustElementR("header button", "^Looks$").MustClick()
	d.MustElementR("[data-testid=test-strip] li", "All of it").MustElement("button").MustClick()
	undisturbed(t, d.Page)
	until(t, "the first is gone to", func() bool {
		return d.MustEval(`() => document.activeElement?.dataset?.kind ?? ''`).Str() == "balance.exposure"
	})
	marks := func() int { return len(lookOf(t, st, d.id("Courtyard")).MarksOf()) }
	marked := marks()
	d.Keyboard.MustType(input.Enter)
	until(t, "one fewer is marked", func() bool { return marks() == marked-1 })
	if !bytes.Contains(data, []byte(`"velours-looks"`)) {
		t.Error("the file does not say what it is")
	}
}

// Hues muted under a house look, copied along the scene as a single step, and undone in one.
func TestHuesMutedAlongAScene(t *testing.T) {
	dir := t.TempDir()
	srv, st := open(t, filepath.Join(dir, "data"))
	d := &day{page(t, browser(t), srv.URL), t, srv.URL, st}
	exact(t, d.Page)
	names := []string{"east", "north", "south", "west"}
	d.newReel(dir, names...)
	d.openShot("east")
	for _, e := range [][3]string{{"negative", "stock", "serein-500t"}, {"print", "medium", "rideau"}} {
		if _, err := st.EditAt(d.id("east"), look.OfReel, look.Edit{Op: look.OpSet, Station: look.Station(e[0]), Kind: e[1], Setting: "id", Value: e[2]}, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	d.pick("shift", "west")
	d.menu("Chosen shots", "^Group into a new scene")
	until(t, "a scene is there", func() bool { _, scenes, _ := reelNamed(t, st, "New reel"); return len(scenes) == 1 })

	t.Log("oranges muted under the look")
	before := atRest(t, d.Page)
	d.MustElement("h1").MustClick()
	d.Keyboard.MustType(input.Digit2)
	add(t, d.Page, "Hue families", "balance.families")
	cell := d.MustElement("[data-kind='balance.families'] input[aria-label^='Orange'][aria-label*='aturation']")
	cell.MustSelectAllText().MustInput("40").MustType(input.Enter)
	d.MustElement("h1").MustClick()
	until(t, "oranges are muted", func() bool { return d.number("east", look.Balance, "families", "orange-saturation") == 40 })
	until(t, "the picture is another", func() bool { return atRest(t, d.Page) != before })

	t.Log("copied along the scene, as a single step")
	d.menu("Chosen shots", "^Take settings over")
	for _, part := range []string{"Balance", "Lens", "Film", "Print", "Finish", "Mattes"} {
		d.MustElement(fmt.Sprintf("[role=dialog] button[role=checkbox][aria-label=%s]", part)).MustClick()
	}
	d.MustElement("[role=dialog] summary").MustClick()
	d.MustElement("[role=dialog] button[role=checkbox][aria-label='Hue families']").MustClick()
	d.MustElementR("[role=dialog] button", "^Take to 3 shots$").MustClick()
	undisturbed(t, d.Page)
	muted := func() (n int) {
		for _, name := range names {
			if d.number(name, look.Balance, "families", "orange-saturation") == 40 {
				n++
			}
		}
		return n
	}
	until(t, "all four are muted", func() bool { return muted() == 4 })

	t.Log("undone in one")
	d.MustElementR("header button", "^Undo$").MustClick()
	until(t, "the first alone is", func() bool { return muted() == 1 })
	d.MustElementR("header button", "^Redo$").MustClick()
	until(t, "all are again", func() bool { return muted() == 4 })
}
