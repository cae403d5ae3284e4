package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"velours/server"
	"velours/studio"
)

// open serves the demo reel from a folder of its own.
func open(t *testing.T, dir string) (*httptest.Server, *studio.Studio) {
	t.Helper()
	st, err := studio.Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := st.LoadDemoApart(context.Background()); err != nil {
		t.Fatal(err)
	}
	srv := httptest.NewServer(server.New(st, server.Access{}))
	t.Cleanup(func() {
		srv.CloseClientConnections()
		srv.Close()
		st.Close()
	})
	return srv, st
}

type shot struct {
	ID             uint
	Name, Encoding string
	Look           json.RawMessage
	Undo, Redo     struct{ Label, Window string }
	Frame          int
}

func fetch[T any](t *testing.T, url string) T {
	t.Helper()
	r, err := http.Get(url)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	var v T
	if err := json.NewDecoder(r.Body).Decode(&v); err != nil {
		t.Fatal(err)
	}
	return v
}

func named(t *testing.T, url, name string) shot {
	t.Helper()
	for _, s := range everyShot(t, url) {
		if s.Name == name {
			return fetch[shot](t, fmt.Sprintf("%s/api/v1/shots/%d", url, s.ID))
		}
	}
	t.Fatalf("no shot %s", name)
	return shot{}
}

// everyShot lists the shots of all reels, without their looks.
func everyShot(t *testing.T, url string) (list []shot) {
	t.Helper()
	for _, r := range fetch[struct{ Reels []struct{ ID uint } }](t, url+"/api/v1/reels").Reels {
		list = append(list, fetch[struct{ Shots []shot }](t, fmt.Sprintf("%s/api/v1/reels/%d", url, r.ID)).Shots...)
	}
	return list
}

// setting reads one value out of a shot's look; nil is a default.
func setting(t *testing.T, s shot, station, kind, id string) any {
	t.Helper()
	var l struct {
		Stations map[string]struct {
			Steps []struct {
				Kind     string
				On       bool
				Settings map[string]any
			}
		}
	}
	if err := json.Unmarshal(s.Look, &l); err != nil {
		t.Fatal(err)
	}
	for _, p := range l.Stations[station].Steps {
		if p.Kind == kind {
			if id == "on" {
				return p.On
			}
			return p.Settings[id]
		}
	}
	return nil
}

// until waits for a condition of the server's state, with a limit.
func until(t *testing.T, what string, ok func() bool) {
	t.Helper()
	for end := time.Now().Add(time.Minute); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		if ok() {
			return
		}
	}
	t.Fatalf("waited in vain: %s", what)
}

func exact(t *testing.T, p *rod.Page) {
	t.Helper()
	if _, err := p.Element("[data-testid=picture][data-stage=exact]"); err != nil {
		t.Fatalf("no exact picture: %v", err)
	}
}

// pixels is a digest of what the picture shows.
func pixels(t *testing.T, p *rod.Page) string {
	t.Helper()
	v, err := p.Eval(`() => {
		const c = document.querySelector('[data-testid=picture]')
		const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data
		let h = 0
		for (let i = 0; i < d.length; i += 4) h = (h * 31 + d[i] + 7 * d[i + 1] + 13 * d[i + 2]) | 0
		return c.width + ':' + h
	}`)
	if err != nil {
		t.Fatal(err)
	}
	return v.Value.Str()
}

// A newcomer's first minutes, from opening the demo to a still on the disk.
func TestFirstMinutes(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, _ := open(t, dir)
	p := page(t, b, srv.URL)
	exact(t, p)

	t.Log("pick a shot")
	p.MustElementR("aside button", "Workbench").MustClick()
	until(t, "the shot's name", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "Workbench" })
	exact(t, p)
	started := named(t, srv.URL, "Workbench")

	t.Log("move exposure")
	p.Keyboard.MustType(input.Digit2)
	dial := p.MustElement("[data-kind='balance.exposure'] [role=slider][aria-label=Exposure]")
	dial.MustFocus()
	for range 6 {
		p.Keyboard.MustType(input.ArrowRight)
	}
	was := setting(t, started, "balance", "exposure", "stops")
	until(t, "exposure is saved", func() bool {
		v, _ := setting(t, named(t, srv.URL, "Workbench"), "balance", "exposure", "stops").(float64)
		w, _ := was.(float64)
		return v > w+0.29 && v < w+0.31
	})

	t.Log("choose the other stock")
	p.Keyboard.MustType(input.Digit4)
	p.MustElement("[data-kind='negative.stock'] [role=combobox]").MustClick()
	p.MustElementR("[role=option]", "Serein").MustClick()
	until(t, "the stock is saved", func() bool {
		return setting(t, named(t, srv.URL, "Workbench"), "negative", "stock", "id") == "serein-500t"
	})

	t.Log("halation off and on")
	toggle := p.MustElement("[data-kind='negative.halation'] [role=switch]")
	toggle.MustClick()
	until(t, "halation is off", func() bool { return setting(t, named(t, srv.URL, "Workbench"), "negative", "halation", "on") == false })
	toggle.MustClick()
	until(t, "halation is on", func() bool { return setting(t, named(t, srv.URL, "Workbench"), "negative", "halation", "on") == true })

	t.Log("hold before/after")
	time.Sleep(700 * time.Millisecond)
	exact(t, p)
	with := pixels(t, p)
	p.MustElement("h1").MustClick()
	if err := p.Keyboard.Press(input.Backslash); err != nil {
		t.Fatal(err)
	}
	until(t, "the other side shows", func() bool {
		return pixels(t, p) != with && strings.Contains(p.MustElement("main").MustText(), "without film")
	})
	if err := p.Keyboard.Release(input.Backslash); err != nil {
		t.Fatal(err)
	}
	until(t, "the picture is back", func() bool { return pixels(t, p) == with })

	t.Log("reload: all kept")
	p.MustReload()
	exact(t, p)
	until(t, "the same picture after a reload", func() bool { return pixels(t, p) == with })
	kept := named(t, srv.URL, "Workbench")
	if p.MustElement("[data-testid=shot-name]").MustText() != "Workbench" || setting(t, kept, "negative", "stock", "id") != "serein-500t" {
		t.Error("the reload lost something")
	}

	t.Log("undo twice: halation's two switches, then once more: the stock")
	for range 3 {
		before := named(t, srv.URL, "Workbench").Undo.Label
		p.MustElementR("header button", "^Undo$").MustClick()
		until(t, "undo of "+before, func() bool { return named(t, srv.URL, "Workbench").Undo.Label != before || before == "" })
		time.Sleep(150 * time.Millisecond)
	}
	if got := setting(t, named(t, srv.URL, "Workbench"), "negative", "stock", "id"); got == "serein-500t" {
		t.Errorf("undo left the stock at %v", got)
	}

	t.Log("deliver a still")
	p.MustElementR("header button", "^Deliver$").MustClick()
	p.MustElementR("[role=dialog] button", "^PNG, 16-bit$").MustClick()
	p.MustElement("[data-testid=deliveries] [data-state=done]")
	list := fetch[[]struct{ Path, State string }](t, srv.URL+"/api/v1/deliveries")
	if len(list) != 1 || list[0].State != "done" {
		t.Fatalf("deliveries %v", list)
	}

	t.Log("the same from the command line, with the saved look")
	s := named(t, srv.URL, "Workbench")
	look, out := filepath.Join(dir, "look.json"), filepath.Join(dir, "render.png")
	if err := os.WriteFile(look, s.Look, 0o644); err != nil {
		t.Fatal(err)
	}
	program := filepath.Join(dir, "velours")
	if msg, err := exec.Command("go", "build", "-o", program, "../cmd/velours").CombinedOutput(); err != nil {
		t.Fatalf("building the program: %v %s", err, msg)
	}
	if msg, err := exec.Command(program, "render", "--in", filepath.Join(dir, "demo", "workbench.mov"), "--out", out, "--look", look, "--encoding", s.Encoding, "--frames", "0-0").CombinedOutput(); err != nil {
		t.Fatalf("render: %v %s", err, msg)
	}
	if !samePixels(t, list[0].Path, out) {
		t.Error("the delivered still and velours render differ")
	}
}

func samePixels(t *testing.T, a, b string) bool {
	t.Helper()
	read := func(name string) image.Image {
		f, err := os.Open(name)
		if err != nil {
			t.Fatal(err)
		}
		defer f.Close()
		im, err := png.Decode(f)
		if err != nil {
			t.Fatal(err)
		}
		return im
	}
	x, y := read(a), read(b)
	if x.Bounds() != y.Bounds() || x.Bounds().Dx() != 1920 {
		return false
	}
	for v := range x.Bounds().Dy() {
		for u := range x.Bounds().Dx() {
			if x.At(u, v) != y.At(u, v) {
				return false
			}
		}
	}
	return true
}

// Wipe, stepping, values by hand, and a mistake that leaves the page standing.
func TestLookingAndMistakes(t *testing.T) {
	b := browser(t)
	srv, _ := open(t, t.TempDir())
	p := page(t, b, srv.URL)
	exact(t, p)

	t.Log("step a frame")
	first := pixels(t, p)
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.Period)
	until(t, "frame 1", func() bool { return strings.HasPrefix(p.MustElement("[data-testid=frame-number]").MustText(), "1 /") })
	until(t, "another picture", func() bool { return pixels(t, p) != first })

	t.Log("wipe")
	p.Keyboard.MustType(input.KeyW)
	p.MustElement("[role=slider][aria-label=Wipe]")
	p.Keyboard.MustType(input.KeyW)

	t.Log("type a value, double-click it back")
	p.Keyboard.MustType(input.Digit2)
	box := p.MustElement("[data-kind='balance.exposure'] input")
	box.MustSelectAllText().MustInput("1.25")
	p.Keyboard.MustType(input.Enter)
	until(t, "the typed value is saved", func() bool {
		return setting(t, named(t, srv.URL, "Footlights"), "balance", "exposure", "stops") == 1.25
	})
	p.MustElementR("[data-kind='balance.exposure'] span", "^Exposure$").MustEval(`() => this.dispatchEvent(new MouseEvent('dblclick', {bubbles: true}))`)
	until(t, "the value is back at its default", func() bool {
		return setting(t, named(t, srv.URL, "Footlights"), "balance", "exposure", "stops") == nil
	})

	t.Log("add a file that is not there")
	p.MustElementR("header button", "^Add$").MustClick()
	p.MustElement("[role=dialog] form input").MustInput("/nowhere/at-all.mov")
	p.MustElementR("[role=dialog] button", "^Add this$").MustClick()
	text := p.MustElement("[role=alert]").MustText()
	if !strings.Contains(text, "/nowhere/at-all.mov") || !strings.Contains(text, "check the name") {
		t.Errorf("the message %q lacks the file or the remedy", text)
	}
	if r, err := http.Get(srv.URL + "/api/v1/desk"); err != nil || r.StatusCode != http.StatusOK {
		t.Error("the server is down after a mistake")
	}
}

// The API refuses what it does not know, in the form of RFC 9457.
func TestProblemsOfTheAPI(t *testing.T) {
	srv, _ := open(t, t.TempDir())
	for _, c := range []struct {
		method, path, body string
		status             int
		word               string
	}{
		{"GET", "/shots/999", "", 404, "shot 999"},
		{"GET", "/shots/x", "", 422, "not a number"},
		{"POST", "/shots/1/edits", `{"op":"set","station":"lens","kind":"bloom","setting":"amount","value":900}`, 422, "0 to 100"},
		{"POST", "/shots/1/edits", `{"op":"set","station":"lens","kind":"fog","setting":"amount","value":1}`, 422, "fog"},
		{"POST", "/shots/1/edits", `{"op":"dance"}`, 422, "no edit"},
		{"POST", "/shots/1/edits", `{"op":"set"}`, 422, "station"},
		{"POST", "/shots/1/edits", `{"opp":"set"}`, 422, "opp"},
		{"POST", "/shots/1/edits", `not json`, 422, "cannot be read"},
		{"POST", "/shots/1/deliveries", `{"format":"postcard","frame":0}`, 422, "postcard"},
		{"POST", "/shots/1/deliveries", `{"format":"still-png","frame":999}`, 422, "0 to 47"},
		{"GET", "/nothing", "", 404, "/nothing"},
	} {
		q, err := http.NewRequest(c.method, srv.URL+"/api/v1"+c.path, strings.NewReader(c.body))
		if err != nil {
			t.Fatal(err)
		}
		q.Header.Set("Content-Type", "application/json")
		r, err := http.DefaultClient.Do(q)
		if err != nil {
			t.Fatal(err)
		}
		data, _ := io.ReadAll(r.Body)
		r.Body.Close()
		if r.StatusCode != c.status || !strings.Contains(string(data), c.word) || r.Header.Get("Content-Type") != "application/problem+json" {
			t.Errorf("%s %s: %d %s %s", c.method, c.path, r.StatusCode, r.Header.Get("Content-Type"), data)
		}
	}
	d := fetch[map[string]any](t, srv.URL+"/api/v1/openapi.json")
	if d["openapi"] != "3.1.0" || len(d["paths"].(map[string]any)) < 8 {
		t.Error("the description is not whole")
	}
}
