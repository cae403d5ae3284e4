package e2e

import (
	"context"
	"image"
	"image/color"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/noise"
	"velours/media"
)

// night writes a grained movie of a wall in broad light, and a title with alpha.
func night(t *testing.T, dir string) (clip, title string) {
	t.Helper()
	clip, title = filepath.Join(dir, "night.mkv"), filepath.Join(dir, "title.png")
	w, err := media.Create(clip, 0, media.Options{Codec: "ffv1"})
	if err != nil {
		t.Fatal(err)
	}
	for n := range 6 {
		f := frame.New(480, 270, 3)
		r := rand.New(rand.NewPCG(4, uint64(n)))
		for p := range 3 {
			for y := range f.H {
				row := f.Row(p, y)
				for x := range row {
					v := 0.2 + 0.5*float64(x)/480 + 0.03*math.Sin(float64(y)/11)
					row[x] = float32(v + 0.03*r.NormFloat64())
				}
			}
		}
		if err := w.Write(context.Background(), f); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	im := image.NewNRGBA(image.Rect(0, 0, 480, 270))
	for y := 30; y < 240; y++ {
		for x := 30; x < 450; x++ {
			v := uint8(60 + x/3)
			im.SetNRGBA(x, y, color.NRGBA{v, v, v, 255})
		}
	}
	f, err := os.Create(title)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if err := png.Encode(f, im); err != nil {
		t.Fatal(err)
	}
	return clip, title
}

// bringIn sends files, and declares as BT.709 those that do not say how they were encoded.
func bringIn(t *testing.T, p *rod.Page, url string, names []string, files ...string) {
	t.Helper()
	p.MustElementR("header button", "^Add$").MustClick()
	p.MustElement("[data-testid=upload]").MustSetFiles(files...)
	for _, n := range names {
		p.MustElementR("aside button", n)
	}
	exact(t, p)
	if p.MustHas("[role=dialog]") {
		p.Keyboard.MustType(input.Escape)
	}
	for _, n := range names {
		if named(t, url, n).Encoding != "" {
			continue
		}
		p.MustElementR("aside button", n).MustClick()
		until(t, n+" is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == n })
		p.MustElementR("main button", "Undeclared").MustClick()
		p.MustElement("[data-testid=encodings] [data-encoding=bt709]").MustClick()
		until(t, n+" is declared", func() bool { return named(t, url, n).Encoding == "bt709" })
	}
}

// Grain is measured in two boxes that are moved on the picture of one shot, kept, and matched on a title; the title is delivered with it, and is still
// transparent where it was.
func TestGrainMatched(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, st := open(t, filepath.Join(dir, "data"))
	clip, titled := night(t, dir)
	p := page(t, b, srv.URL)
	exact(t, p)
	bringIn(t, p, srv.URL, []string{"night", "title"}, clip, titled)

	t.Log("two boxes, moved by hand and by keyboard")
	p.MustElementR("aside button", "night").MustClick()
	until(t, "the shot is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "night" })
	exact(t, p)
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.Digit7)
	open := p.MustElementR("[data-kind='finish.grain'] button", "^Grain cards")
	open.MustFocus().MustType(input.Enter)
	add := p.MustElementR("aside[aria-label='Grain cards'] button", "^Add a box$")
	add.MustClick()
	add.MustClick()
	first := p.MustElement("[data-testid=grain-boxes] button[aria-label^='Box 1']")
	was := *first.MustElementX("..").MustAttribute("style")
	box := first.MustShape().Box()
	p.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2-20).MustMoveTo(box.X+box.Width/2-10, box.Y+box.Height/2-40).MustUp(proto.InputMouseButtonLeft)
	until(t, "the box has moved", func() bool { return *first.MustElementX("..").MustAttribute("style") != was })
	second := p.MustElement("[data-testid=grain-boxes] button[aria-label^='Box 2']")
	was = *second.MustElementX("..").MustAttribute("style")
	second.MustFocus()
	p.Keyboard.MustType(input.ArrowDown)
	until(t, "the other has, too", func() bool { return *second.MustElementX("..").MustAttribute("style") != was })

	t.Log("measured, and kept under a name")
	p.MustElementR("aside[aria-label='Grain cards'] button", "^Measure$").MustClick()
	p.MustElement("[data-testid=grain-card] img")
	if text := p.MustElement("[data-testid=grain-trust]").MustText(); !strings.Contains(text, "May be off by") {
		t.Errorf("the card says %q", text)
	}
	p.MustElement("input[aria-label='Name of the card']").MustSelectAllText().MustInput("Night wall")
	p.MustElementR("aside[aria-label='Grain cards'] button", "^Keep$").MustClick()
	p.MustElementR("[data-testid=grain-cards] button", "Night wall")

	t.Log("matched on the title")
	p.MustElementR("aside button", "^title").MustClick()
	until(t, "the title is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "title" })
	exact(t, p)
	p.MustElementR("[data-testid=grain-cards] button", "^match$").MustClick()
	if text := p.MustElement("[data-testid=grain-match]").MustText(); !strings.Contains(text, "It had none") {
		t.Errorf("the match says %q", text)
	}
	id := named(t, srv.URL, "title").ID
	step := stepAt(t, st, id, look.Finish, "grain")
	card, _ := step.Settings["card"].(string)
	if !step.On || !strings.HasPrefix(card, "night-wall-") && !strings.HasPrefix(card, "night-") {
		t.Fatalf("the title follows %q", card)
	}
	if _, err := noise.Find(card); err != nil {
		t.Error(err)
	}

	t.Log("and delivered")
	p.MustElementR("header button", "^Deliver$").MustClick()
	p.MustElementR("[role=dialog] button", "^EXR, float$").MustClick()
	p.MustElement("[data-testid=deliveries] [data-state=done]")
	list := fetch[[]struct{ Path string }](t, srv.URL+"/api/v1/deliveries")
	r, err := media.Open(t.Context(), list[0].Path)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	f, err := r.Frame(t.Context(), 0)
	if err != nil {
		t.Fatal(err)
	}
	rough := 0.0
	for y := 100; y < 160; y++ {
		row := f.Row(1, y)
		for x := 200; x < 300; x++ {
			rough += math.Abs(float64(row[x] - row[x+1]))
		}
	}
	if rough /= 6000; rough < 0.01 || rough > 0.1 {
		t.Errorf("neighbours of the title part by %.4f", rough)
	}
}

// Noise is taken out of a shot; what left it is seen alone; its own grain goes on again in one act; and all of it is undone.
func TestNoiseTakenOut(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, st := open(t, filepath.Join(dir, "data"))
	clip, _ := night(t, dir)
	p := page(t, b, srv.URL)
	exact(t, p)
	bringIn(t, p, srv.URL, []string{"night"}, clip)
	p.MustElementR("aside button", "night").MustClick()
	id := named(t, srv.URL, "night").ID
	exact(t, p)
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.Digit1)
	c := card{p, t, "intake.denoise"}
	before := atRest(t, p)

	t.Log("taken out, and what left is seen")
	c.find("[role=switch]").MustFocus().MustType(input.Space)
	until(t, "the picture is another", func() bool { return atRest(t, p) != before })
	c.view("adds")

	t.Log("its own grain again")
	p.MustElementR("[aria-label='Put grain back'] button", "^its own$").MustFocus().MustType(input.Enter)
	p.MustElement("[data-testid=grain-match]")
	step := stepAt(t, st, id, look.Finish, "grain")
	if own, _ := step.Settings["card"].(string); !step.On || !strings.HasPrefix(own, "night-") {
		t.Fatalf("the shot follows %v", step.Settings)
	}
	text := p.MustElement("[data-testid=grain-match]").MustText()
	t.Log(text)

	t.Log("and all undone")
	p.MustElementR("aside button", "^Back to the desk$").MustClick()
	undo := p.MustElementR("header button", "^Undo$")
	for range 2 {
		was := string(named(t, srv.URL, "night").Look)
		undo.MustClick()
		until(t, "one is undone", func() bool { return string(named(t, srv.URL, "night").Look) != was })
	}
	until(t, "the picture is as it was", func() bool { return atRest(t, p) == before })
}
