package e2e

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"velours/core/lut"
)

// An encoding by its published constants, and a table in the print's place.
func TestLibraryOfOnesOwn(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, _ := open(t, filepath.Join(dir, "data"))
	p := page(t, b, srv.URL)
	exact(t, p)

	t.Log("an encoding by its constants: those of a shipped one, so that the picture is known")
	p.MustElementR("button", "Workbench").MustClick()
	exact(t, p)
	p.MustElementR("header button", "^Library$").MustClick()
	p.MustElementR("[role=dialog] button", "^New encoding$").MustClick()
	for label, v := range map[string]string{"Name": "House camera", "Base": "10", "Log slope": "0.247190", "Log offset": "0.385537", "Light slope": "5.555556", "Light offset": "0.052272",
		"Break": "0.010591", "Straight slope": "5.367655", "Red x": "0.6840", "Red y": "0.3130", "Green x": "0.2210", "Green y": "0.8480", "Blue x": "0.0861", "Blue y": "-0.1020", "White x": "0.3127", "White y": "0.3290"} {
		p.MustElement(fmt.Sprintf("[role=dialog] input[aria-label=%q]", label)).MustSelectAllText().MustInput(v)
	}
	p.MustElementR("[data-testid=own-reading]", "code 400 of 1023") // mid grey of that curve: 0.3910
	p.MustElementR("[role=dialog] button", "^Keep$").MustClick()
	p.MustElementR("[data-testid=kept] li", "House camera")

	t.Log("numbers that cannot be are told, and cannot be kept")
	p.MustElementR("[data-testid=kept] button", "^Edit$").MustClick()
	p.MustElement("[role=dialog] input[aria-label=Base]").MustSelectAllText().MustInput("1")
	p.MustElementR("[data-testid=own-reading]", "cannot be: the curve has a base of 1")
	if !p.MustElementR("[role=dialog] button", "^Keep$").MustProperty("disabled").Bool() {
		t.Error("it can be kept")
	}
	p.MustElementR("[role=dialog] button", "^Back$").MustClick()

	t.Log("load a table")
	cube := lut.NewTable3(17, func(i, j, k int) [3]float32 { return [3]float32{float32(k) / 16, float32(j) / 16, float32(i) / 16} })
	var text bytes.Buffer
	if err := lut.WriteCube(&text, &lut.List{Title: "Red for blue", Nodes: []lut.Node{cube}}); err != nil {
		t.Fatal(err)
	}
	name, broken := filepath.Join(dir, "swap.cube"), filepath.Join(dir, "broken.cube")
	for file, data := range map[string][]byte{name: text.Bytes(), broken: text.Bytes()[:bytes.LastIndexByte(text.Bytes()[:2000], 10)+1]} {
		if err := os.WriteFile(file, data, 0o644); err != nil {
			t.Fatal(err)
		}
	}
	p.MustElement("[data-testid=load-table]").MustSetFiles(name, broken)
	p.MustElementR("[data-testid=kept] li", "Red for blue")
	if text := p.MustElement("[role=alert]").MustText(); !strings.Contains(text, "broken.cube") || !strings.Contains(text, "cut off") {
		t.Errorf("the broken table says %q", text)
	}
	p.MustElementR("[role=alert] button", "Close").MustClick()
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)

	t.Log("declare the own encoding: the same picture")
	before := pixels(t, p)
	p.MustElement("body").MustEval("() => document.activeElement.blur()")
	p.Keyboard.MustType(input.Key('1'))
	p.MustElementR("aside[aria-label=Desk] button", "Compare encodings").MustClick()
	p.MustElement("[data-encoding=own-house-camera]").MustClick()
	until(t, "it is declared", func() bool { return named(t, srv.URL, "Workbench").Encoding == "own-house-camera" })
	undisturbed(t, p)
	exact(t, p)
	if setting(t, named(t, srv.URL, "Workbench"), "intake", "compress", "on") != true {
		t.Error("a camera's log curve came without its gamut's step")
	}
	_ = before // the two pictures differ by the camera gamut's step

	t.Log("print with the table: red and blue change places")
	p.Keyboard.MustType(input.Key('5'))
	p.MustElement("[data-kind='print.table'] [role=combobox][aria-label=Table]").MustClick()
	p.MustElementR("[role=option]", "Red for blue").MustClick()
	until(t, "the table is set", func() bool {
		id, _ := setting(t, named(t, srv.URL, "Workbench"), "print", "table", "id").(string)
		return strings.HasPrefix(id, "red-for-blue-")
	})
	until(t, "the picture is another", func() bool { return pixels(t, p) != before })

	t.Log("what a shot needs stays")
	p.MustElementR("header button", "^Library$").MustClick()
	p.MustElementR("[data-testid=kept] li", "Red for blue").MustElementR("button", "^Remove$").MustClick()
	if text := p.MustElement("[role=alert]").MustText(); !strings.Contains(text, "is used by 1") {
		t.Errorf("removing says %q", text)
	}
	p.MustElementR("[data-testid=kept] li", "Red for blue")
}
