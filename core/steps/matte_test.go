package steps

import (
	"math"
	"strings"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

func shaped(t *testing.T, parts ...*look.MattePart) *look.Look {
	t.Helper()
	l := look.NewLook("x")
	name := "here"
	l.SetMatte(name, &look.Matte{Parts: parts})
	return l
}

// masked adds a step in the look's matte.
func masked(t *testing.T, l *look.Look, path string, v any) *look.Step {
	t.Helper()
	if err := l.Set(path, v); err != nil {
		t.Fatal(err)
	}
	part := strings.Split(path, ".")
	p := l.Step(look.Station(part[0]), part[1])
	name := "here"
	p.Matte = &name
	if err := l.Check(); err != nil {
		t.Fatal(err)
	}
	return p
}

func flat(w, h int) given {
	f := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			for p := range 3 {
				f.Row(p, y)[x] = 0.18
			}
		}
	}
	return given{f}
}

// Inside the matte the step acts wholly, outside not at all; the other way round outside; in every
// station whose steps take one.
func TestStepsActInsideTheirMatte(t *testing.T) {
	const w, h = 192, 108
	for _, k := range look.Kinds() {
		if !k.Masks {
			continue
		}
		l := shaped(t, &look.MattePart{Kind: "rectangle", Settings: map[string]any{"a": 20.0, "b": 20.0, "in": 0.0, "out": 0.0}})
		if k.Film {
			if err := l.Set("negative.stock.id", "serein-500t"); err != nil {
				t.Fatal(err)
			}
		}
		act(t, l, k)
		var src render.Source = scene{w, h}
		p := l.Step(k.Station, k.ID)
		name := "here"
		p.Matte = &name
		with := rendered(t, l, src, w, h, k.Station)
		p.Outside = true
		around := rendered(t, l, src, w, h, k.Station)
		p.Outside, p.Matte = false, nil
		everywhere := rendered(t, l, src, w, h, k.Station)
		without := rendered(t, l.Without(k.Station, k.ID), src, w, h, k.Station)
		same := func(a, b *frame.Frame, x, y int) bool {
			p, q := a.At(x, y), b.At(x, y)
			for c := range p { // codes of the finish go to light and back; a matrix without a matte is one with decoding
				if e := math.Abs(p[c] - q[c]); e > 1e-5 || k.Station != look.Finish && e > 3e-7*math.Abs(q[c]) {
					return false
				}
			}
			return true
		}
		reads := k.ID == "patch" || k.ID == "focus" // what they do is read off the matte: without one it is something else
		for _, at := range [][2]int{{96, 54}, {70, 40}, {120, 70}} {
			if !reads && !same(with, everywhere, at[0], at[1]) {
				t.Errorf("%s: inside it is %v, without a matte %v", k.Path(), with.At(at[0], at[1]), everywhere.At(at[0], at[1]))
			}
			if !same(around, without, at[0], at[1]) {
				t.Errorf("%s acts inside, told to act outside", k.Path())
			}
		}
		for _, at := range [][2]int{{10, 54}, {96, 4}, {180, 100}} {
			if !same(with, without, at[0], at[1]) {
				t.Errorf("%s acts outside its matte: %v, without it %v", k.Path(), with.At(at[0], at[1]), without.At(at[0], at[1]))
			}
			if !reads && !same(around, everywhere, at[0], at[1]) {
				t.Errorf("%s outside: it is %v, without a matte %v", k.Path(), around.At(at[0], at[1]), everywhere.At(at[0], at[1]))
			}
		}
	}
}

// A region under mattes, of both sorts and in every order, is the crop of the whole; and two cores give the bits
// of one.
func TestMattesRespectRegions(t *testing.T) {
	l := shaped(t, &look.MattePart{Kind: "polygon", Settings: map[string]any{"points": "0.3:0.2 0.7:0.3 0.6:0.8"}}, &look.MattePart{Kind: "tone", Join: "within", Settings: map[string]any{"low": -2.0}})
	masked(t, l, "balance.contrast.amount", 140.0)
	masked(t, l, "balance.texture.fine", 60.0)
	masked(t, l, "lens.vignette.stops", -1.0)
	masked(t, l, "finish.saturation.all", 60.0)
	soft := l.Mattes["here"].Clone()
	soft.Blur = 1
	l.SetMatte("soft", soft)
	name := "soft"
	p, err := l.Add(look.Balance, "contrast", -1)
	if err != nil {
		t.Fatal(err)
	}
	p.Settings["amount"], p.Matte = 70.0, &name
	src := scene{192, 108}
	whole, err := render.Compile(ctx, l, logC3, render.Raster{W: 192, H: 108}, look.Finish)
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range []render.Region{{X: 30, Y: 20, W: 77, H: 41}, {X: 100, Y: 60, W: 92, H: 48}} {
		part, err := render.NewRenderer(0).Render(ctx, whole.In(r), src, 3)
		if err != nil {
			t.Fatal(err)
		}
		if !equal(part, rendered(t, l, src, 192, 108, look.Finish).Crop(r.X, r.Y, r.W, r.H)) {
			t.Errorf("region %v is not the crop", r)
		}
	}
}

// A shape moves over the shot's frames: at its keys exactly where they say, and between them smoothly, whatever
// number grain is of.
func TestShapesMoveOverFrames(t *testing.T) {
	l := shaped(t, &look.MattePart{Kind: "ellipse", Settings: map[string]any{"a": 10.0, "b": 10.0, "in": 0.0, "out": 0.0}, Keys: []*look.Key{
		{Frame: 2, Settings: map[string]any{"x": 20.0}}, {Frame: 10, Settings: map[string]any{"x": 80.0}},
	}})
	masked(t, l, "balance.exposure.stops", 2.0)
	src := flat(200, 100)
	middle := func(n int) float64 {
		plan, err := render.Compile(ctx, l, colour.Working(), render.Raster{W: 200, H: 100}, look.Balance)
		if err != nil {
			t.Fatal(err)
		}
		f, err := render.NewRenderer(1<<24).RenderAs(ctx, plan, src, n, 99)
		if err != nil {
			t.Fatal(err)
		}
		sum, at := 0.0, 0.0
		for x, v := range f.Row(0, 50) {
			if v > 0.4 {
				sum, at = sum+1, at+float64(x)+0.5
			}
		}
		return at / sum / 2
	}
	for _, c := range []struct {
		frame int
		want  float64
	}{{0, 20}, {2, 20}, {10, 80}, {30, 80}} {
		if got := middle(c.frame); math.Abs(got-c.want) > 0.3 {
			t.Errorf("at frame %d it stands at %.1f %%, not %g", c.frame, got, c.want)
		}
	}
	if m := middle(6); m < 35 || m > 65 {
		t.Errorf("half way it stands at %.1f %%", m)
	}
	part := &look.MattePart{Kind: "polygon", Keys: []*look.Key{{Frame: 0, Settings: map[string]any{"points": "0:0 1:0 0:1"}}, {Frame: 10, Settings: map[string]any{"points": "0.5:0 1:0.5 0:1"}}}}
	if got := part.At(0)["points"]; got != "0:0 1:0 0:1" {
		t.Errorf("at its key an outline is %q", got)
	}
	if got := part.At(5)["points"]; got != "0.25:0 1:0.25 0:1" {
		t.Errorf("half way it is %q", got)
	}
}

func TestMattesAreChecked(t *testing.T) {
	for text, why := range map[string]string{
		`{"parts":[{"kind":"cloud","settings":{}}]}`:                                                                "no matte of kind",
		`{"parts":[{"kind":"ellipse","settings":{"a":900}}]}`:                                                       "0.2 to 150",
		`{"parts":[{"kind":"ellipse","settings":{"edge":1}}]}`:                                                      "no setting",
		`{"parts":[{"kind":"ellipse","join":"over","settings":{}}]}`:                                                "add, within or without",
		`{"parts":[{"kind":"tone","settings":{},"keys":[{"frame":1,"settings":{}}]}]}`:                              "only shapes",
		`{"parts":[{"kind":"ellipse","settings":{},"keys":[{"frame":4,"settings":{}},{"frame":4,"settings":{}}]}]}`: "rise",
		`{"parts":[{"kind":"polygon","settings":{"points":"0:0 1:1"}}]}`:                                            "three points",
		`{"parts":[{"kind":"polygon","settings":{"points":"0:0 1:x 1:0"}}]}`:                                        "not a point",
		`{"parts":[],"grow":50}`: "-5 to 5",
		`{"parts":[null]}`:       "empty part",
		`{"parts":[{"kind":"ellipse","settings":{}}]},"mattes2":{}`: "unknown field",
	} {
		_, err := look.ParseLook([]byte(`{"velours":1,"name":"x","stations":{},"mattes":{"m":` + text + `}}`))
		if strings.Contains(text, "mattes2") {
			_, err = look.ParseLook([]byte(`{"velours":1,"name":"x","stations":{},"mattes2":{}}`))
		}
		if err == nil || !strings.Contains(err.Error(), why) {
			t.Errorf("%s: %v", text, err)
		}
	}
	for step, why := range map[string]string{
		`{"kind":"exposure","on":true,"strength":1,"settings":{},"matte":"none"}`:               "no matte",
		`{"kind":"exposure","id":"exposure","on":true,"strength":1,"settings":{},"matte":null}`: "exposure-2",
		`{"kind":"exposure","id":"white-2","on":true,"strength":1,"settings":{},"matte":null}`:  "exposure-2",
		`{"kind":"curve","on":true,"strength":1,"settings":{"all":"0:1 -1:2"},"matte":null}`:    "left of",
		`{"kind":"curve","on":true,"strength":1,"settings":{"all":"0:1 1:0"},"matte":null}`:     "does not fall",
		`{"kind":"curve","on":true,"strength":1,"settings":{"all":5},"matte":null}`:             "points as text",
		`{"kind":"exposure","id":"exposure-2","title":7,"on":true,"strength":1,"settings":{}}`:  "title",
	} {
		if _, err := look.ParseLook([]byte(`{"velours":1,"name":"x","stations":{"balance":{"on":true,"strength":1,"steps":[` + step + `]}}}`)); err == nil || !strings.Contains(err.Error(), why) {
			t.Errorf("%s: %v", step, err)
		}
	}
}

// Several steps of a kind act in their order, and keep their names when others come and go.
func TestSeveralStepsOfAKind(t *testing.T) {
	l := look.NewLook("x")
	for _, s := range []string{"balance.exposure.stops=1", "balance.contrast.amount=150", "balance.exposure-2.stops=-1"} {
		name, v, _ := strings.Cut(s, "=")
		if err := l.Set(name, v); err != nil {
			t.Fatal(err)
		}
	}
	if err := l.Set("print.medium-2.id", "rideau"); err == nil {
		t.Error("a second medium is let in")
	}
	steps := l.Stations[look.Balance].Steps
	if len(steps) != 3 || steps[1].Name() != "exposure-2" {
		t.Fatalf("steps %v", steps)
	}
	a := renderedAs(t, colour.Working(), l, flat(16, 16), 16, 16, look.Balance).At(3, 3)[0]
	steps[1], steps[2] = steps[2], steps[1] // +1, contrast, −1: brighter than +1, −1, contrast
	b := renderedAs(t, colour.Working(), l, flat(16, 16), 16, 16, look.Balance).At(3, 3)[0]
	if math.Abs(a-0.18) > 1e-6 || b < 0.19 {
		t.Errorf("before the swap %g, after it %g", a, b)
	}
	third, err := l.Add(look.Balance, "exposure", 0)
	if err != nil || third.Name() != "exposure-3" || l.Stations[look.Balance].Steps[0] != third {
		t.Errorf("a third is called %v, %v", third, err)
	}
	if err := l.Check(); err != nil {
		t.Error(err)
	}
}

// A colour key can go into a table, a shape cannot.
func TestTablesCarryColourKeys(t *testing.T) {
	l := shaped(t, &look.MattePart{Kind: "tone"})
	masked(t, l, "balance.contrast.amount", 140.0)
	if _, left := render.Tabular(l); len(left) != 0 {
		t.Errorf("a key of tones is left out: %v", left)
	}
	l.Mattes["here"].Parts[0].Kind = "ellipse"
	if _, left := render.Tabular(l); len(left) != 1 || left[0] != "Contrast" {
		t.Errorf("a shape is carried: %v", left)
	}
}
