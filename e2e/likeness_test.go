package e2e

import (
	"math"
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/film"
	"velours/core/look"
	"velours/studio"
)

// A film is chosen by a still of one's own: a picture of the scene by a hidden stock, print and lights comes in as a file, the stocks are
// sorted by likeness to it, and the nearest is taken with its print, lights and exposure, which one undo takes back.
func TestChosenByLikeness(t *testing.T) {
	p, _, st, id := courtyard(t)
	shot, err := st.Shot(id)
	if err != nil {
		t.Fatal(err)
	}
	hidden, err := look.ParseStored([]byte(shot.Look))
	if err != nil {
		t.Fatal(err)
	}
	if err := hidden.SetAll("negative.stock.id=percale-400", "print.medium.id=papier", "print.lights.red=4", "print.lights.blue=-3"); err != nil {
		t.Fatal(err)
	}
	still := filepath.Join(t.TempDir(), "a still.png")
	job := studio.Job{In: shot.Path, Out: still, Look: hidden, Encoding: shot.Encoding, Display: "srgb", First: shot.Frame, Last: shot.Frame, W: 960, H: 540}
	if err := job.Run(t.Context(), nil); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(still); err != nil {
		t.Fatal(err)
	}

	t.Log("the still comes onto the pinboard")
	p.MustElement("[aria-label=Pinboard]").MustClick()
	p.MustElement("[data-testid=add-reference]").MustSetFiles(still)
	p.MustElementR("[role=dialog]", "a still")
	p.Keyboard.MustType(input.Escape)

	t.Log("the stocks are sorted by likeness to it")
	p.Keyboard.MustType(input.Digit4)
	p.MustElement("[aria-label='Browse stock']").MustClick()
	p.MustElement("[data-patch='damas-800']")
	choose(t, p, "[aria-label='Nearest to']", "a still")
	p.MustElement("[data-testid=like]")
	p.MustElementR("[data-testid=likeness] [role=status]", "Nearest: Percale 400 on Papier brillant")
	all := p.MustElements("[data-patch]")
	if first := *all[0].MustAttribute("data-patch"); first != "percale-400" || len(all) != len(film.Stocks()) {
		t.Errorf("%s is first of %d", first, len(all))
	}

	t.Log("it is taken, print, lights and exposure with it")
	p.MustElementR("[data-testid=likeness] button", "Take Percale 400").MustClick()
	undisturbed(t, p)
	value := func(station look.Station, name, setting string) any {
		if s := stepAt(t, st, id, station, name); s != nil {
			return s.Settings[setting]
		}
		return nil
	}
	until(t, "stock and print are saved", func() bool {
		return value("negative", "stock", "id") == "percale-400" && value("print", "medium", "id") == "papier"
	})
	red, _ := value("print", "lights", "red").(float64)
	blue, _ := value("print", "lights", "blue").(float64)
	if math.Abs(red-blue-7) > 1.5 {
		t.Errorf("red %.1f and blue %.1f points; the still has 7 between them", red, blue)
	}
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "one undo brings the old film back", func() bool { return value("print", "medium", "id") != "papier" })
}
