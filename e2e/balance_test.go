package e2e

import (
	"math"
	"net/http/httptest"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/library"
	"velours/media"
	"velours/studio"
)

// courtyardLight is the Courtyard's first frame as scene light.
func courtyardLight(t *testing.T, dir string) *frame.Frame {
	t.Helper()
	r, err := media.Open(t.Context(), filepath.Join(dir, "demo", "courtyard.mov"))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	f, err := r.Frame(t.Context(), 0)
	if err != nil {
		t.Fatal(err)
	}
	e, err := colour.FindEncoding("slog3-cine")
	if err != nil {
		t.Fatal(err)
	}
	m := e.ToACEScg()
	lit, err := frame.Each(t.Context(), f, func(c [3]float64) [3]float64 {
		return m.Apply([3]float64{e.Decode(c[0]), e.Decode(c[1]), e.Decode(c[2])})
	})
	if err != nil {
		t.Fatal(err)
	}
	return lit
}

// mean is the colour of a picture around a place, in shares.
func mean(f *frame.Frame, x, y float64, reach int) [3]float64 {
	var sum [3]float64
	cx, cy := int(x*float64(f.W)), int(y*float64(f.H))
	for j := cy - reach; j <= cy+reach; j++ {
		for i := cx - reach; i <= cx+reach; i++ {
			for c, v := range f.At(i, j) {
				sum[c] += v / float64((2*reach+1)*(2*reach+1))
			}
		}
	}
	return sum
}

func lab(c [3]float64) [3]float64 {
	return colour.Lab(colour.AP1.ToXYZ().Apply(c), colour.AP1.White.XYZ())
}

// greyest is the place of a picture whose surroundings are nearest to neutral, of those neither dark nor bright.
func greyest(f *frame.Frame) (x, y float64) {
	least := math.Inf(1)
	for j := 20; j < f.H-20; j += 6 {
		for i := 20; i < f.W-20; i += 6 {
			u, v := (float64(i)+0.5)/float64(f.W), (float64(j)+0.5)/float64(f.H)
			l := lab(mean(f, u, v, 5))
			if l[0] < 40 || l[0] > 85 {
				continue
			}
			if c := math.Hypot(l[1], l[2]); c < least {
				least, x, y = c, u, v
			}
		}
	}
	return x, y
}

// The worked example of docs/balance.md: the Courtyard a stop and a half over, under a green light, is brought back
// by an exposure that is typed and a grey that is picked. Every patch comes within ΔE 2 of the shot as it was.
func TestCourtyardBroughtToNeutral(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, st := open(t, dir)
	was := courtyardLight(t, dir)
	x, y := greyest(was)
	cast := [3]float64{0.93, 1.14, 0.96} // of the sensor's channels, as a green tube and a poor filter leave them
	spoilt, err := frame.Each(t.Context(), was, func(c [3]float64) [3]float64 {
		for i := range c {
			c[i] *= cast[i] * math.Exp2(1.5)
		}
		return c
	})
	if err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(dir, "courtyard-over.exr")
	w, err := media.Create(file, 0, media.Options{})
	if err != nil {
		t.Fatal(err)
	}
	if err := w.Write(t.Context(), spoilt); err != nil {
		t.Fatal(err)
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	reels, err := st.Reels()
	if err != nil {
		t.Fatal(err)
	}
	id, err := st.AddShot(t.Context(), reels[0].ID, file)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := st.Edit(id.ID, look.Edit{Op: "declare", Value: "acescg"}, library.Author{}); err != nil {
		t.Fatal(err)
	}

	p := page(t, b, srv.URL)
	exact(t, p)
	p.MustElementR("aside button", "courtyard-over").MustClick()
	until(t, "the shot is open", func() bool {
		return strings.Contains(p.MustElement("[data-testid=shot-name]").MustText(), "courtyard-over")
	})
	p.Keyboard.MustType(input.Digit2)

	patches := []struct {
		name string
		x, y float64
	}{{"wall", 0.3, 0.3}, {"sky", 0.25, 0.06}, {"red stripe", 0.375, 0.75}, {"white stripe", 0.402, 0.75}, {"frame", 0.36, 0.5}, {"ground", 0.15, 0.93}, {"shutter", 0.285, 0.45}, {"trunk", 0.15, 0.7}}
	worst := func() (most float64) {
		for _, q := range patches {
			now, err := st.Pick(t.Context(), studio.View{Shot: id.ID, Step: look.StepPath{Station: look.Lens, Name: "bloom"}}, studio.Probe{X: q.x, Y: q.y})
			if err != nil {
				t.Fatal(err)
			}
			d := colour.DeltaE2000(lab(now.Light), lab(mean(was, q.x, q.y, max(1, 3*was.W/1000))))
			t.Logf("%s: ΔE %.2f", q.name, d)
			most = max(most, d)
		}
		return most
	}
	if before := worst(); before < 10 {
		t.Fatalf("the shot is not spoilt: ΔE %.1f at most", before)
	}

	t.Log("exposure: typed, as arithmetic")
	box := p.MustElement("[data-kind='balance.exposure'] input[aria-label='Exposure, value']")
	box.MustSelectAllText().MustInput("-3/2")
	box.MustType(input.Enter)
	until(t, "the exposure is saved", func() bool {
		s, err := st.Shot(id.ID)
		return err == nil && strings.Contains(s.Look, `"stops":-1.5`)
	})
	exact(t, p)

	t.Log("white: a grey picked on the picture")
	p.MustElementR("[data-kind='balance.white'] button", "^Pick neutral$").MustClick()
	p.MustElement("[data-testid=pick]")
	pt := at(t, p, x, y)
	p.Mouse.MustMoveTo(pt.X, pt.Y).MustClick(proto.InputMouseButtonLeft)
	until(t, "the balance is saved", func() bool {
		s, err := st.Shot(id.ID)
		return err == nil && strings.Contains(s.Look, `"temperature"`)
	})
	if most := worst(); most > 2 {
		t.Errorf("brought to neutral, a patch is still off by ΔE %.2f", most)
	}
}

// stepAt is what the server holds of a step.
func stepAt(t *testing.T, st *studio.Studio, id uint, station look.Station, name string) *look.Step {
	t.Helper()
	return lookOf(t, st, id).Step(station, name)
}

func lookOf(t *testing.T, st *studio.Studio, id uint) *look.Look {
	t.Helper()
	s, err := st.Shot(id)
	if err != nil {
		t.Fatal(err)
	}
	l, err := look.ParseLook([]byte(s.Look))
	if err != nil {
		t.Fatal(err)
	}
	return l
}

// courtyard is a page with the Courtyard open.
func courtyard(t *testing.T) (*rod.Page, *httptest.Server, *studio.Studio, uint) {
	t.Helper()
	b := browser(t)
	srv, st := open(t, t.TempDir())
	p := page(t, b, srv.URL)
	exact(t, p)
	p.MustElementR("aside button", "Courtyard").MustClick()
	until(t, "the shot is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "Courtyard" })
	return p, srv, st, named(t, srv.URL, "Courtyard").ID
}

// add takes a step from the desk's list.
func add(t *testing.T, p *rod.Page, label, path string) *rod.Element {
	t.Helper()
	p.MustElement("[aria-label='Add a step']").MustClick()
	p.MustElementR("[role=menuitem]", "^"+label+"$").MustClick()
	card := p.MustElement("[data-kind='" + path + "']")
	undisturbed(t, p)
	return card
}

// Correcting by hand: points from the keys, a curve, zones, a shape drawn on the picture, order, copies, undo.
func TestCorrecting(t *testing.T) {
	p, srv, st, id := courtyard(t)
	p.Keyboard.MustType(input.Digit2)
	number := func(station look.Station, name, setting string) float64 {
		if s := stepAt(t, st, id, station, name); s != nil {
			v, _ := s.Settings[setting].(float64)
			return v
		}
		return math.NaN()
	}
	is := func(what string, want float64, get func() float64) {
		t.Helper()
		until(t, what, func() bool { return math.Abs(get()-want) < 1e-6 })
	}

	t.Log("points from the keyboard")
	card := add(t, p, "Printer lights", "balance.points")
	card.MustFocus()
	p.Keyboard.MustType(input.KeyR, input.KeyR, input.KeyG)
	if err := p.Keyboard.Press(input.ShiftLeft); err != nil {
		t.Fatal(err)
	}
	p.Keyboard.MustType(input.KeyA)
	if err := p.Keyboard.Release(input.ShiftLeft); err != nil {
		t.Fatal(err)
	}
	is("red has two points", 2, func() float64 { return number("balance", "points", "red") })
	is("all have one less", -1, func() float64 { return number("balance", "points", "all") })
	if got := p.MustElement("[aria-label='Total points']").MustText(); got != "+1 · 0 · -1" {
		t.Errorf("the running total says %q", got)
	}

	t.Log("a point on the tone curve")
	add(t, p, "Tone curve", "balance.curve")
	plot := p.MustElement("[data-kind='balance.curve'] svg[aria-label='Tone curve, all']")
	plot.MustScrollIntoView()
	r := plot.MustShape().Box()
	p.Mouse.MustMoveTo(r.X+r.Width*0.5, r.Y+r.Height*0.5).MustDown(proto.InputMouseButtonLeft).MustMoveTo(r.X+r.Width*0.5, r.Y+r.Height*0.45).MustUp(proto.InputMouseButtonLeft)
	until(t, "the curve has a point", func() bool {
		s := stepAt(t, st, id, "balance", "curve")
		text, _ := s.Settings["all"].(string)
		return strings.Count(text, ":") == 1
	})

	t.Log("zones: a level typed, a tint by arrows")
	add(t, p, "Zones", "balance.zones")
	level := p.MustElement("[data-kind='balance.zones'] input[aria-label='Shadow level']")
	level.MustFocus()
	level.MustSelectAllText().MustInput("+1/4")
	level.MustType(input.Enter)
	is("a quarter of a stop", 0.25, func() float64 { return number("balance", "zones", "shadow-level") })
	p.MustElement("[data-kind='balance.zones'] [aria-label='Tint of shadow']").MustFocus()
	p.Keyboard.MustType(input.ArrowRight, input.ArrowRight)
	until(t, "the shadows are warmer", func() bool { return number("balance", "zones", "shadow-warm") > 0 })

	t.Log("a shape: started from the card, drawn by its handles, seen as a matte")
	contrast := add(t, p, "Contrast", "balance.contrast")
	contrast.MustElement("[aria-label='Matte of Contrast']").MustFocus().MustType(input.Enter) // by keyboard: the card may still be scrolling into view
	p.MustElementR("[role=menuitem]", "^Ellipse").MustClick()
	undisturbed(t, p)
	centre := p.MustElement("[data-testid=handles] [aria-label=Centre]")
	from := centre.MustShape().Box()
	to := at(t, p, 0.3, 0.6)
	p.Mouse.MustMoveTo(from.X+from.Width/2, from.Y+from.Height/2).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo((from.X+to.X)/2, (from.Y+to.Y)/2).MustMoveTo(to.X, to.Y).MustUp(proto.InputMouseButtonLeft)
	part := func(id2 string) float64 {
		m := lookOf(t, st, id).Mattes["Contrast matte"]
		if m == nil {
			return math.NaN()
		}
		v, _ := m.Parts[0].Settings[id2].(float64)
		return v
	}
	until(t, "the shape has moved", func() bool { return math.Abs(part("x")-30) < 1 && math.Abs(part("y")-60) < 1 })
	p.MustElement("[data-testid=handles] [aria-label=Width]").MustFocus()
	was := 18.0
	p.Keyboard.MustType(input.ArrowRight, input.ArrowRight, input.ArrowRight)
	until(t, "the keys widen it", func() bool { return part("a") > was })
	amount := p.MustElement("[data-kind='balance.contrast'] input[aria-label='Contrast, value']")
	amount.MustSelectAllText().MustInput("160 %")
	amount.MustType(input.Enter)
	is("a value typed with its unit", 160, func() float64 { return number("balance", "contrast", "amount") })
	p.MustElementR("[data-kind='balance.contrast'] [role=group] button", "^matte$").MustClick()
	until(t, "the matte shows", func() bool {
		exact(t, p)
		return sample(t, p, 0.3, 0.6) == "255 255 255 255" && sample(t, p, 0.95, 0.1) == "0 0 0 255"
	})
	p.Keyboard.MustType(input.Escape)

	t.Log("the shape moves over frames: a key here, another five frames on")
	group := p.MustElement("[data-kind='balance.contrast'] [data-part=ellipse]")
	group.MustElement("[aria-label='Key at this frame']").MustClick()
	keys := func() int {
		m := lookOf(t, st, id).Mattes["Contrast matte"]
		return len(m.Parts[0].Keys)
	}
	until(t, "there is a key", func() bool { return keys() == 1 })
	p.MustElement("h1").MustClick()
	for range 5 {
		p.Keyboard.MustType(input.Period)
	}
	down := p.MustElement("[data-kind='balance.contrast'] [data-part=ellipse] input[aria-label='Down, value']")
	down.MustSelectAllText().MustInput("-= 20")
	down.MustType(input.Enter)
	until(t, "there are two, twenty per cent apart", func() bool {
		m := lookOf(t, st, id).Mattes["Contrast matte"]
		if keys() != 2 || m.Parts[0].Keys[1].Frame-m.Parts[0].Keys[0].Frame != 5 {
			return false
		}
		a, _ := m.Parts[0].Keys[0].Settings["y"].(float64)
		b, _ := m.Parts[0].Keys[1].Settings["y"].(float64)
		return math.Abs(a-b-20) < 1e-6
	})

	t.Log("order, by keys")
	order := func() string {
		var names []string
		for _, s := range lookOf(t, st, id).Stations["balance"].Steps {
			names = append(names, s.Name())
		}
		return strings.Join(names, " ")
	}
	until(t, "the steps stand as they came", func() bool { return order() == "exposure points curve zones contrast" })
	p.MustElement("[data-kind='balance.contrast']").MustFocus()
	if err := p.Keyboard.Press(input.AltLeft); err != nil {
		t.Fatal(err)
	}
	p.Keyboard.MustType(input.ArrowUp)
	if err := p.Keyboard.Release(input.AltLeft); err != nil {
		t.Fatal(err)
	}
	until(t, "contrast has moved up", func() bool { return order() == "exposure points curve contrast zones" })

	t.Log("order, by the grip")
	p.MustElement("[data-kind='balance.curve'] h3 button").MustClick()
	p.MustElement("[data-kind='balance.zones'] h3 button").MustClick()
	p.MustElement("[data-kind='balance.contrast'] h3 button").MustClick()
	grip := p.MustElement("[data-kind='balance.zones'] [data-grip]")
	grip.MustScrollIntoView()
	g := grip.MustShape().Box()
	dest := p.MustElement("[data-kind='balance.curve']").MustShape().Box()
	p.Mouse.MustMoveTo(g.X+3, g.Y+g.Height/2).MustDown(proto.InputMouseButtonLeft).MustMoveTo(g.X+3, dest.Y+dest.Height).MustMoveTo(g.X+3, dest.Y+4).MustUp(proto.InputMouseButtonLeft)
	until(t, "zones stand before the curve", func() bool { return order() == "exposure points zones curve contrast" })

	t.Log("two chosen, switched off together, copied to another shot")
	for _, name := range []string{"zones", "contrast"} {
		p.MustEval(`(name) => document.querySelector("[data-kind='balance." + name + "'] > div").dispatchEvent(new MouseEvent('click', {bubbles: true, ctrlKey: true}))`, name)
	}
	p.MustElementR("[aria-label='Chosen steps'] button", "^off$").MustClick()
	until(t, "both are off", func() bool {
		return !stepAt(t, st, id, "balance", "zones").On && !stepAt(t, st, id, "balance", "contrast").On && stepAt(t, st, id, "balance", "curve").On
	})
	p.MustElementR("[aria-label='Chosen steps'] button", "^copy$").MustClick()
	p.MustElementR("aside button", "Workbench").MustClick()
	until(t, "the other shot is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "Workbench" })
	p.MustElement("h1").MustClick()
	if err := p.Keyboard.Press(input.ControlLeft); err != nil {
		t.Fatal(err)
	}
	p.Keyboard.MustType(input.KeyV)
	if err := p.Keyboard.Release(input.ControlLeft); err != nil {
		t.Fatal(err)
	}
	other := named(t, srv.URL, "Workbench").ID
	until(t, "the steps are pasted with their matte", func() bool {
		s := stepAt(t, st, other, "balance", "contrast")
		return s != nil && s.Matte != nil && lookOf(t, st, other).Mattes[*s.Matte] != nil && stepAt(t, st, other, "balance", "zones") != nil
	})

	t.Log("one undo takes both back")
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "nothing is left of the paste", func() bool {
		return stepAt(t, st, other, "balance", "contrast") == nil && len(lookOf(t, st, other).Mattes) == 0
	})
}

// Skin that a hue move has shifted is read on its card, and put back by one press.
func TestSkinPutBack(t *testing.T) {
	p, _, st, id := courtyard(t)
	p.Keyboard.MustType(input.Digit2)
	if _, err := st.Edit(id, look.Edit{Op: "set", Station: look.Balance, Kind: "families", Values: map[string]any{"orange-shift": 5.0, "orange-saturation": 120.0, "red-shift": 5.0}}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	p.MustReload()
	exact(t, p)
	p.Keyboard.MustType(input.Digit2)
	card := add(t, p, "Skin guard", "balance.skin")
	moved := func() float64 {
		text := card.MustElement("[data-testid=skin-move]").MustText()
		_, rest, ok := strings.Cut(text, "ΔE ")
		if !ok {
			return math.NaN()
		}
		v, err := strconv.ParseFloat(strings.Fields(rest)[0], 64)
		if err != nil {
			return math.NaN()
		}
		return v
	}
	until(t, "the card says how far skin has moved", func() bool { return moved() > 1 })
	before := moved()
	card.MustElementR("button", "^Put skin back$").MustClick()
	until(t, "skin is back", func() bool { return moved() < before/3 })
	if v, _ := stepAt(t, st, id, look.Balance, "skin").Settings["hue"].(float64); v >= 0 {
		t.Errorf("hue was turned by +5° and is put back by %g", v)
	}
}
