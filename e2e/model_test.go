package e2e

import (
	"encoding/json"
	"fmt"
	"math"
	"math/cmplx"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod"

	"velours/core/grade"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/matte"
	"velours/core/scatter"
	"velours/core/steps"
	"velours/demo"
)

// model opens an empty page with what the front end computes by itself (web/src/model) in it, as `model`.
func model(t *testing.T) *rod.Page {
	t.Helper()
	bundle := filepath.Join(t.TempDir(), "model.js")
	c := exec.Command("node_modules/.bin/rolldown", "src/model/index.ts", "--format", "iife", "--name", "model", "--file", bundle)
	c.Dir = "../web"
	if out, err := c.CombinedOutput(); err != nil {
		t.Fatalf("bundling web/src/model: %v\n%s", err, out)
	}
	script, err := os.ReadFile(bundle)
	if err != nil {
		t.Fatal(err)
	}
	p := page(t, browser(t), "about:blank")
	if err := p.AddScriptTag("", string(script)); err != nil {
		t.Fatal(err)
	}
	return p
}

// compute evaluates a function of JavaScript with arguments, and reads what it returns.
func compute[T any](t *testing.T, p *rod.Page, function string, args ...any) T {
	t.Helper()
	texts := make([]any, len(args))
	for i, a := range args {
		data, err := json.Marshal(a)
		if err != nil {
			t.Fatal(err)
		}
		texts[i] = string(data)
	}
	r, err := p.Eval("(...args) => JSON.stringify(("+function+")(...args.map((a) => JSON.parse(a))))", texts...)
	if err != nil {
		t.Fatalf("%s: %v", function, err)
	}
	var v T
	if err := json.Unmarshal([]byte(r.Value.Str()), &v); err != nil {
		t.Fatalf("%s gives %s: %v", function, r.Value.Str(), err)
	}
	return v
}

func near(a, b []float64, e float64) bool {
	if len(a) != len(b) {
		return false
	}
	for i := range a {
		if !(math.Abs(a[i]-b[i]) <= e) {
			return false
		}
	}
	return true
}

// rising are n places that rise by a least distance.
func rising(r *rand.Rand, n int, from, least float64) []float64 {
	out := make([]float64, n)
	for i := range out {
		from += least + 2*r.Float64()
		out[i] = from
	}
	return out
}

// What the front end draws and computes by itself is what the engine computes.
func TestTheModelIsTheEngines(t *testing.T) {
	p := model(t)
	r := rand.New(rand.NewPCG(19, 7))

	t.Run("curves", func(t *testing.T) {
		for n := range 30 {
			points := [][2]float64{}
			for _, x := range rising(r, n%7, -6, 0.05) {
				points = append(points, [2]float64{x, x + r.NormFloat64()})
			}
			at := rising(r, 40, -9, 0)
			var want []float64
			through := grade.Through(points)
			for _, x := range at {
				want = append(want, x+through(x))
			}
			got := compute[[]float64](t, p, "(points, at) => at.map(model.monotone(points))", points, at)
			if !near(got, want, 1e-9) {
				t.Fatalf("through %v: %v, want %v", points, got, want)
			}
		}
	})

	t.Run("zones", func(t *testing.T) {
		for range 200 {
			b := rising(r, 4, -6, 0.1)
			z := grade.Zones{Borders: [4]float64(b), Softness: 0.2 + 3*r.Float64()}
			x := -8 + 16*r.Float64()
			want := z.Weights(x)
			if got := compute[[]float64](t, p, "model.zoneWeights", x, b, z.Softness); !near(got, want[:], 1e-12) {
				t.Fatalf("%+v at %g: %v, want %v", z, x, got, want)
			}
		}
	})

	t.Run("families", func(t *testing.T) {
		for n := range 12 {
			var f grade.Families
			given := make([]float64, len(grade.FamilyList))
			f.Softness = r.Float64()
			for i := range given {
				f.Shift[i] = 60*r.Float64() - 30
				f.Centre[i] = 40*r.Float64() - 20
				if n == 0 {
					f.Shift[i], f.Centre[i] = []float64{30, -30}[i%2], []float64{20, -20}[i%2]
				}
				given[i] = grade.FamilyList[i].Hue + f.Centre[i]
			}
			centres := f.Centres()
			got := compute[[]float64](t, p, "model.apart", given)
			if !near(got, centres[:], 1e-9) {
				t.Fatalf("centres %v, want %v", got, centres)
			}
			shifts := f.Shifts()
			curve := compute[[]float64](t, p, "(c, v, s) => model.eased(model.around(c, v, s))", centres, f.Shift, 100*f.Softness)
			if !near(curve, shifts[:], 1e-6) {
				t.Fatalf("the line of %+v is not what acts", f)
			}
		}
	})

	t.Run("ranges", func(t *testing.T) {
		for range 40 {
			low, knee := 8*r.Float64()-4, 0.1+3*r.Float64()
			source := scatter.Source{From: low, To: low + 6*r.Float64(), Knee: knee}
			var stops, want []float64
			for x := -9.0; x < 9; x += 0.37 {
				stops = append(stops, x)
				want = append(want, source.Share(x))
			}
			got := compute[[]float64](t, p, "(range, stops) => stops.map((t) => model.share(range, t))", map[string]float64{"low": source.From, "high": source.To, "knee": knee}, stops)
			if !near(got, want, 1e-9) {
				t.Fatalf("what %+v takes is %v, want %v", source, got, want)
			}
		}
	})

	t.Run("gains", func(t *testing.T) {
		for range 40 {
			g := grain.Tones{Shadows: 3 * r.Float64(), Mids: 3 * r.Float64(), Highlights: 3 * r.Float64(), Middle: 8*r.Float64() - 4, Reach: 1.5 + 4*r.Float64()}
			var stops, want []float64
			for x := -9.0; x < 9; x += 0.37 {
				stops = append(stops, x)
				want = append(want, g.At(x))
			}
			given := map[string]float64{"low": g.Shadows, "mids": g.Mids, "high": g.Highlights, "middle": g.Middle, "reach": g.Reach}
			if got := compute[[]float64](t, p, "(g, stops) => stops.map((t) => model.gainAt(g, t))", given, stops); !near(got, want, 1e-9) {
				t.Fatalf("gains of %+v are %v, want %v", g, got, want)
			}
		}
	})

	t.Run("travel", func(t *testing.T) {
		for _, d := range []struct{ min, max, curve, rest float64 }{{0, 100, 1.6, 0}, {2, 60, 2, 2}, {-50, 80, 1.6, 0}, {-4, -1, 1.6, -4}, {-30, 30, 1, 0}} {
			var places []float64
			for u := 0.0; u <= 1; u += 0.01 {
				places = append(places, u)
			}
			values := compute[[]float64](t, p, "(d, places) => { const t = model.travelOf(d[0], d[1], d[2]); return places.map((u) => t.value(u)) }", []float64{d.min, d.max, d.curve}, places)
			back := compute[[]float64](t, p, "(d, values) => { const t = model.travelOf(d[0], d[1], d[2]); return values.map((v) => t.place(v)) }", []float64{d.min, d.max, d.curve}, values)
			if !near(back, places, 1e-6) {
				t.Fatalf("%+v: places %v come back as %v", d, places, back)
			}
			steps := func(i int) float64 { return values[i+1] - values[i] }
			slowest := 0
			for i := range len(values) - 1 {
				if steps(i) <= 0 {
					t.Fatalf("%+v: goes back at %d", d, i)
				}
				if steps(i) < steps(slowest)-1e-9 {
					slowest = i
				}
			}
			at := (d.rest - d.min) / (d.max - d.min) // where it is slow
			if d.curve > 1 && math.Abs(places[slowest]-at) > 0.02 {
				t.Errorf("%+v is slowest at %g of its travel, want %g", d, places[slowest], at)
			}
			if e := math.Abs(values[0] - d.min); e > 1e-9 {
				t.Errorf("%+v begins at %g", d, values[0])
			}
		}
	})

	t.Run("outlines", func(t *testing.T) {
		type place struct{ X, Y float64 }
		low := func(list []place) any { // as the page writes them
			var out []map[string]float64
			for _, q := range list {
				out = append(out, map[string]float64{"x": q.X, "y": q.Y})
			}
			return out
		}
		for n := range 40 {
			var list []place
			shape := matte.Polygon{Curved: n%2 == 0}
			for range 3 + r.IntN(6) {
				q := [2]float64{r.Float64()*1.4 - 0.2, r.Float64()*1.4 - 0.2}
				shape.Points = append(shape.Points, q)
				list = append(list, place{q[0] * 1920, q[1] * 1080})
			}
			want := shape.Outline(matte.Size{W: 1920, H: 1080})
			got := compute[[]place](t, p, "model.outline", low(list), shape.Curved)
			if len(got) != len(want) {
				t.Fatalf("%d places, want %d", len(got), len(want))
			}
			for i, q := range got {
				if math.Hypot(q.X-want[i][0], q.Y-want[i][1]) > 1e-6 {
					t.Fatalf("place %d is %v, want %v", i, q, want[i])
				}
			}
			// the nearest side, by walking along all of them
			at := place{r.Float64() * 1920, r.Float64() * 1080}
			far := make([]float64, len(list))
			for i, a := range list {
				b := list[(i+1)%len(list)]
				far[i] = math.Inf(1)
				for k := range 4001 {
					u := float64(k) / 4000
					far[i] = min(far[i], math.Hypot(a.X+u*(b.X-a.X)-at.X, a.Y+u*(b.Y-a.Y)-at.Y))
				}
			}
			side := compute[int](t, p, "model.nearestSide", low(list), map[string]float64{"x": at.X, "y": at.Y})
			for _, d := range far {
				if far[side] > d+1 {
					t.Fatalf("side %d is %g away, another %g", side, far[side], d)
				}
			}
			// a turn about a centre is a product of complex numbers
			turn := 360 * r.Float64()
			z := complex(at.X-list[0].X, at.Y-list[0].Y) * cmplx.Rect(1, -turn*math.Pi/180)
			own := compute[place](t, p, "model.ownAxes", map[string]float64{"x": list[0].X, "y": list[0].Y}, turn, map[string]float64{"x": at.X, "y": at.Y})
			if cmplx.Abs(complex(own.X, own.Y)-z) > 1e-9 {
				t.Fatalf("turned by %g: %v, want %v", turn, own, z)
			}
		}
	})

	t.Run("parts of mattes over frames", func(t *testing.T) {
		for _, k := range look.MatteKinds() {
			for n := range 8 {
				part := look.MattePart{Kind: k.ID, Settings: someSettings(r, k.Settings)}
				frame := 0
				for range n % 4 {
					if k.Shape {
						frame += 1 + r.IntN(20)
						part.Keys = append(part.Keys, &look.Key{Frame: frame, Settings: someSettings(r, k.Settings)})
					}
				}
				at := r.IntN(70)
				want := look.Filled(k.Settings, part.At(at))
				got := compute[map[string]any](t, p, "model.partAt", part, k.Settings, at)
				for _, s := range k.Settings {
					if !sameValue(s, got[s.ID], want[s.ID]) {
						t.Fatalf("%s of a %s at frame %d: %v, want %v", s.ID, k.ID, at, got[s.ID], want[s.ID])
					}
				}
			}
		}
	})

	t.Run("edits", func(t *testing.T) { editsAgree(t, p, r) })
	t.Run("recipes", func(t *testing.T) {
		recipes, err := steps.Recipes()
		if err != nil {
			t.Fatal(err)
		}
		for i, film := range recipes {
			l := demoLook(t, demo.Shots[i%len(demo.Shots)])
			want, err := film.Onto(l)
			if err != nil {
				t.Fatal(err)
			}
			alone, err := film.Onto(look.NewLook(""))
			if err != nil {
				t.Fatal(err)
			}
			sameLook(t, film.ID, compute[json.RawMessage](t, p, "model.withFilm", l, alone), want)
		}
	})

	t.Run("arithmetic", func(t *testing.T) {
		for text, want := range map[string]float64{ // by hand
			"1/3": 1.0 / 3, "+1/3": 1.0 / 3, "-0.5*2": -1, "(2+1)/4": 0.75, "2-3-4": -5, "8/2/2": 2, "1,5": 1.5, "−2": -2, "3×2": 6, "12 %": 12, "0.3 stops": 0.3, "5600K": 5600,
			"+=0.5": 10.5, "-=4": 6, "*=2": 20, "/=4": 2.5, "-(1+2)*3": -9, "1e3": 1000, "203 cd/m²": 203, "12 % of the width": 12, "8 µm": 8, ".5": 0.5, "--2": 2,
		} {
			if got := compute[*float64](t, p, "model.evaluate", text, 10); got == nil || math.Abs(*got-want) > 1e-12 {
				t.Errorf("%q is %s, want %g", text, told(got), want)
			}
		}
		for _, text := range []string{"", "stops", "1/0", "(1", "1)", "2 3", "1+", "*2", "0x10", "alert(1)", "1;2", "+=", "/=0"} {
			if got := compute[*float64](t, p, "(s, now) => model.evaluate(s, now) ?? null", text, 10); got != nil {
				t.Errorf("%q is %g", text, *got)
			}
		}
		for range 100 {
			text, want := expression(r, 4)
			if math.IsInf(want, 0) || math.IsNaN(want) {
				continue
			}
			if got := compute[*float64](t, p, "model.evaluate", text, 0); got == nil || math.Abs(*got-want) > 1e-9*(1+math.Abs(want)) {
				t.Errorf("%q is %s, want %g", text, told(got), want)
			}
		}
		for _, c := range []struct{ v, step, want float64 }{{0.30000000000000004, 0.1, 0.3}, {1.2345, 0.05, 1.25}, {-0.126, 0.01, -0.13}, {7.4, 1, 7}, {0.00012, 0.0001, 0.0001}} {
			if got := compute[float64](t, p, "model.tidy", c.v, c.step); got != c.want {
				t.Errorf("%g in steps of %g is %g, want %g", c.v, c.step, got, c.want)
			}
		}
	})
}

func told(v *float64) string {
	if v == nil {
		return "nothing"
	}
	return fmt.Sprint(*v)
}

// expression is arithmetic by chance, and what it comes to.
func expression(r *rand.Rand, depth int) (string, float64) {
	if depth == 0 || r.IntN(4) == 0 {
		v := float64(r.IntN(2000)) / 100
		return fmt.Sprint(v), v
	}
	a, x := expression(r, depth-1)
	b, y := expression(r, depth-1)
	switch r.IntN(4) {
	case 0:
		return "(" + a + "+" + b + ")", x + y
	case 1:
		return "(" + a + " - " + b + ")", x - y
	case 2:
		return a + "*" + b, x * y
	}
	return a + "/(" + b + ")", x / y
}

// someSettings are settings by chance, some of them left out.
func someSettings(r *rand.Rand, declared []look.Setting) map[string]any {
	out := map[string]any{}
	for i := range declared {
		s := &declared[i]
		if r.IntN(3) == 0 {
			continue
		}
		switch list := s.List(); {
		case len(list) > 0:
			out[s.ID] = list[r.IntN(len(list))].ID
		case s.Points == "outline":
			var words []string
			for range 3 + r.IntN(2) {
				words = append(words, fmt.Sprintf("%.3f:%.3f", r.Float64(), r.Float64()))
			}
			out[s.ID] = strings.Join(words, " ")
		case s.Points != "":
			out[s.ID] = []string{"", "0:0.5", "-3:-2.5 0:0 2:1.5"}[r.IntN(3)]
		default:
			out[s.ID] = s.Min + (s.Max-s.Min)*float64(r.IntN(101))/100
		}
	}
	return out
}

func sameValue(s look.Setting, a, b any) bool {
	if x, ok := a.(float64); ok {
		y, ok := b.(float64)
		return ok && math.Abs(x-y) <= 1e-9*(1+math.Abs(y))
	}
	if s.Points == "" {
		return a == b
	}
	x, err := s.ParsePoints(fmt.Sprint(a))
	y, err2 := s.ParsePoints(fmt.Sprint(b))
	if err != nil || err2 != nil || len(x) != len(y) {
		return false
	}
	for i := range x {
		if math.Hypot(x[i][0]-y[i][0], x[i][1]-y[i][1]) > 1.5e-4 { // four places are written
			return false
		}
	}
	return true
}

// sameLook compares a document of the page with a look, but for what looks are signed with when they are stored.
func sameLook(t *testing.T, what string, doc []byte, want *look.Look) {
	t.Helper()
	got, err := look.ParseStored(doc)
	if err != nil {
		t.Fatalf("%s: %v", what, err)
	}
	want = want.Clone()
	got.Made, want.Made = nil, nil
	for _, l := range []*look.Look{got, want} {
		for s, st := range l.Stations {
			if st.Steps == nil {
				st.Steps = []*look.Step{}
			}
			if len(st.Steps) == 0 && st.On && st.Strength == 1 { // says nothing
				delete(l.Stations, s)
			}
		}
	}
	a, err := json.Marshal(got)
	b, err2 := json.Marshal(want)
	if err != nil || err2 != nil || string(a) != string(b) {
		at := 0
		for at < min(len(a), len(b)) && a[at] == b[at] {
			at++
		}
		t.Fatalf("%s: the page has … %.200s, the engine … %.200s", what, a[max(at-60, 0):], b[max(at-60, 0):])
	}
}

// editsAgree makes edits of every sort that the page shows at once, on steps of every kind, in both.
func editsAgree(t *testing.T, p *rod.Page, r *rand.Rand) {
	kinds := look.Kinds()
	base := look.NewLook("x")
	base.SetMatte("m", &look.Matte{Parts: []*look.MattePart{{Kind: "tone"}}})
	for _, k := range kinds {
		if r.IntN(2) == 0 {
			for range 1 + r.IntN(2) {
				if s, err := base.Add(k.Station, k.ID, -1); err == nil {
					s.Settings = someSettings(r, k.Settings)
					s.On, s.Strength = r.IntN(2) == 0, float64(r.IntN(11))/10
				}
			}
		}
	}
	if err := base.Check(); err != nil {
		t.Fatal(err)
	}
	ops := compute[[]look.Op](t, p, "() => model.atOnce")
	if len(ops) < 8 {
		t.Fatalf("the page shows only %v at once", ops)
	}
	for _, k := range kinds {
		name := k.ID
		if k.Repeatable && r.IntN(2) == 0 {
			name += "-2"
		}
		for _, op := range ops {
			e := look.Edit{Op: op, Station: k.Station, Kind: name}
			switch op {
			case look.OpSet:
				e.Values = someSettings(r, k.Settings)
				if len(e.Values) == 0 {
					continue
				}
			case look.OpReset:
				if len(k.Settings) == 0 {
					continue
				}
				e.Setting = k.Settings[r.IntN(len(k.Settings))].ID
			case look.OpMix:
				e.Value = float64(r.IntN(101)) / 100
			case look.OpTreat:
				e = look.Edit{Op: op, Value: []any{true, false, 0.3, 1.0}[r.IntN(4)]}
			case look.OpTitle:
				e.Name = "Warmer"
			case look.OpOutside, look.OpSource:
				e.Value = true
			case look.OpKey, look.OpUnkey:
				e.Value = float64(r.IntN(3) * 8)
				e.Values = map[string]any{}
				if op == look.OpKey && len(k.Keyed) > 0 {
					e.Values[k.Keyed[0]] = k.Setting(k.Keyed[0]).Max
				}
			case look.OpMask:
				e.Name = []string{"m", ""}[r.IntN(2)]
			case look.OpCover:
				e = look.Edit{Op: op, Name: "m", Matte: &look.Matte{Blur: 0.5, Parts: []*look.MattePart{{Kind: "ellipse", Settings: map[string]any{}}}}}
			}
			want, _, err := e.Apply(base)
			if err != nil {
				continue // refused by the engine, and taken back by the page
			}
			sameLook(t, fmt.Sprintf("%s of %s.%s", op, k.Station, name), compute[json.RawMessage](t, p, "model.applied", base, e, kinds), want)
		}
		if st := base.Stations[k.Station]; k.Station.Groups() && st != nil && len(st.Steps) > 1 {
			grouped, _, err := (&look.Edit{Op: look.OpGroup, Station: k.Station, Names: []string{st.Steps[0].Name(), st.Steps[1].Name()}, Name: "G"}).Apply(base)
			if err != nil {
				t.Fatal(err)
			}
			for _, e := range []look.Edit{{Op: look.OpOff}, {Op: look.OpOn}, {Op: look.OpMix, Value: 0.4}, {Op: look.OpTitle, Name: "Warm "}, {Op: look.OpMask, Name: "m"}, {Op: look.OpOutside, Value: true}, {Op: look.OpLay, Name: "screen"}} {
				e.Station, e.Group = k.Station, "group"
				if want, _, err := e.Apply(grouped); err == nil {
					sameLook(t, fmt.Sprintf("%s of a group of %s", e.Op, k.Station), compute[json.RawMessage](t, p, "model.applied", grouped, e, kinds), want)
				}
			}
			e := look.Edit{Op: look.OpSet, Station: k.Station, Kind: k.ID, Values: someSettings(r, k.Settings)}
			if want, _, err := e.Apply(grouped); err == nil && len(e.Values) > 0 {
				sameLook(t, fmt.Sprintf("a step of %s set among those of a group", k.Path()), compute[json.RawMessage](t, p, "model.applied", grouped, e, kinds), want)
			}
		}
		for _, e := range []look.Edit{{Op: look.OpOff, Station: k.Station}, {Op: look.OpOn, Station: k.Station}, {Op: look.OpClear, Station: k.Station}, {Op: look.OpMix, Station: k.Station, Value: 0.3}, {Op: look.OpOff, Station: k.Station, Names: []string{k.ID}}, {Op: look.OpOn, Station: k.Station, Names: []string{k.ID}}} {
			if want, _, err := e.Apply(base); err == nil {
				sameLook(t, fmt.Sprintf("%s of %s, %v", e.Op, k.Station, e.Names), compute[json.RawMessage](t, p, "model.applied", base, e, kinds), want)
			}
		}
	}
}

func demoLook(t *testing.T, s demo.Shot) *look.Look {
	t.Helper()
	l, err := demo.LookOf(s)
	if err != nil {
		t.Fatal(err)
	}
	return l
}
