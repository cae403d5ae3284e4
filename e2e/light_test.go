package e2e

import (
	"fmt"
	"math"
	"net/http/httptest"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"velours/core/look"
	"velours/library"
	"velours/studio"
)

// footlights is a page with Footlights open at the lens.
func footlights(t *testing.T) (*rod.Page, *httptest.Server, *studio.Studio, uint) {
	t.Helper()
	srv, st := open(t, t.TempDir())
	p := page(t, browser(t), srv.URL)
	exact(t, p)
	p.MustElementR("aside button", "Footlights").MustClick()
	until(t, "the shot is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "Footlights" })
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.Digit3)
	return p, srv, st, named(t, srv.URL, "Footlights").ID
}

// card is a step's card on the page.
type card struct {
	*rod.Page
	t    *testing.T
	path string
}

func (c card) find(selector string) *rod.Element {
	return c.MustElement(fmt.Sprintf("[data-kind='%s'] %s", c.path, selector))
}

// unfold opens a heading.
func (c card) unfold(heading string) {
	if b := c.find("[aria-label='" + heading + "'] button"); *b.MustAttribute("aria-expanded") != "true" {
		b.MustFocus().MustType(input.Enter)
	}
}

// enter types a value.
func (c card) enter(label, value string) {
	box := c.find("input[aria-label='" + label + ", value']")
	box.MustScrollIntoView()
	box.MustSelectAllText().MustInput(value)
	box.MustType(input.Enter)
}

// pick takes a setting from a place of the picture.
func (c card) pick(label string, x, y float64) {
	b := c.find("button[aria-label='Pick " + label + " from the picture']")
	b.MustFocus().MustType(input.Enter)
	c.MustElement("[data-testid=pick]")
	pt := at(c.t, c.Page, x, y)
	c.Mouse.MustMoveTo(pt.X, pt.Y).MustClick(proto.InputMouseButtonLeft)
	until(c.t, "it is picked", func() bool { return !c.MustHas("[data-testid=pick]") })
}

// view shows the picture in one of the step's ways, and goes back.
func (c card) view(word string) {
	c.t.Helper()
	whole := atRest(c.t, c.Page)
	// by keyboard: the head of a long card may lie above what is seen
	c.MustElementR(fmt.Sprintf("[data-kind='%s'] [role=group] button", c.path), "^"+word+"$").MustFocus().MustType(input.Enter)
	until(c.t, word+" shows another picture", func() bool { return pixels(c.t, c.Page) != whole })
	c.Keyboard.MustType(input.Escape)
	until(c.t, "the picture is back from "+word, func() bool { return pixels(c.t, c.Page) == whole })
}

// lightAt is the picture as light before the film, at a place of a shot's first frame.
func lightAt(t *testing.T, st *studio.Studio, id uint, x, y float64) [3]float64 {
	t.Helper()
	now, err := st.Pick(t.Context(), studio.View{Shot: id, Step: look.StepPath{Station: look.Negative, Name: "stock"}}, studio.Probe{X: x, Y: y})
	if err != nil {
		t.Fatal(err)
	}
	return now.Light
}

// Glow from the brightest lamps only, coloured by two picks from the picture, held out of the darks; then the same on a second
// shot.
func TestGlowFromTheBrightestLamps(t *testing.T) {
	p, srv, st, id := footlights(t)
	c := card{p, t, "lens.bloom"}
	number := func(shot uint, setting string) float64 {
		s := stepAt(t, st, shot, look.Lens, "bloom")
		if s == nil {
			return math.NaN()
		}
		v, ok := s.Settings[setting].(float64)
		if !ok {
			return math.NaN()
		}
		return v
	}
	// dark cloth above a lamp
	dark := [2]float64{0.245, 0.6}
	before := lightAt(t, st, id, dark[0], dark[1])

	t.Log("what feeds it: typed, then dragged on the tones of the frame")
	c.enter("Amount", "60")
	c.unfold("Source")
	c.enter("From", "2")
	until(t, "it takes light from two stops up", func() bool { return number(id, "from") == 2 })
	foot := c.find("[data-foot=from] rect")
	foot.MustScrollIntoView()
	b := foot.MustShape().Box()
	p.Mouse.MustMoveTo(b.X+b.Width/2, b.Y+b.Height/2).MustDown(proto.InputMouseButtonLeft).MustMoveTo(b.X+b.Width/2+12, b.Y+b.Height/2).MustMoveTo(b.X+b.Width/2+25, b.Y+b.Height/2).MustUp(proto.InputMouseButtonLeft)
	until(t, "the foot has moved", func() bool { return number(id, "from") > 2.8 && number(id, "from") < 4.5 })
	c.view("source")

	t.Log("its colours, from the picture")
	c.unfold("Colour")
	c.pick("Near hue", 0.66, 0.2) // the moon
	until(t, "near is as the moon", func() bool {
		return number(id, "near-tint") >= 10 && number(id, "near-hue") > 40 && number(id, "near-hue") < 110
	})
	c.pick("Far hue", 0.9, 0.4) // the curtain
	until(t, "far is as the curtain", func() bool {
		h := number(id, "far-hue")
		return number(id, "far-tint") >= 10 && (h < 60 || h > 340)
	})

	t.Log("held out of the darks")
	c.unfold("Holds")
	c.enter("Hold darks", "100")
	until(t, "darks are held", func() bool { return number(id, "darks") == 100 })
	if now := lightAt(t, st, id, dark[0], dark[1]); now[1] > 1.05*before[1]+1e-4 {
		t.Errorf("the dark is lit from %v to %v", before, now)
	}
	c.view("adds")

	t.Log("the same on a second shot: copied, pasted")
	c.find("[aria-label='More for Bloom']").MustFocus().MustType(input.Enter)
	p.MustElementR("[role=menuitem]", "^Copy$").MustClick()
	undisturbed(t, p)
	p.MustElementR("aside button", "Workbench").MustClick()
	until(t, "the other shot is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "Workbench" })
	other := named(t, srv.URL, "Workbench").ID
	p.MustElement("[aria-label='Add a step']").MustClick()
	p.MustElementR("[role=menuitem]", "^Paste the copied step").MustClick()
	until(t, "the glow is the same there", func() bool {
		l := lookOf(t, st, other)
		for _, s := range l.Stations[look.Lens].Steps {
			if v, _ := s.Settings["from"].(float64); s.Kind == "bloom" && v == number(id, "from") && s.Settings["near-hue"] == stepAt(t, st, id, look.Lens, "bloom").Settings["near-hue"] && s.Settings["darks"] == 100.0 {
				return true
			}
		}
		return false
	})
}

// A diffusion is chosen by family and grade on the test strip, warmed, limited to a gradient, kept off skin by a matte, and
// compensated.
func TestDiffusionChosenOnTheStrip(t *testing.T) {
	p, _, st, id := footlights(t)
	c := card{p, t, "lens.diffusion"}
	step := func() *look.Step { return stepAt(t, st, id, look.Lens, "diffusion") }
	plain := atRest(t, p)

	t.Log("every family in every grade, on this very frame")
	c.find("[aria-label='Browse family']").MustClick()
	until(t, "there are twenty-five", func() bool { return len(p.MustElements("[data-testid=test-strip] [data-patch]")) == 25 })
	p.MustElementR("[data-testid=test-strip] [data-patch]", "^Silk · 1/2").MustClick()
	undisturbed(t, p)
	until(t, "it is taken", func() bool {
		s := step()
		return s != nil && s.On && s.Settings["family"] == "silk" && s.Settings["grade"] == 0.5
	})
	until(t, "the picture is another", func() bool { return atRest(t, p) != plain })

	t.Log("warmer")
	c.enter("Warmth", "60")
	until(t, "it is warm", func() bool { return step().Settings["warmth"] == 60.0 })

	t.Log("limited to a drawn gradient, off skin")
	everywhere := atRest(t, p)
	c.find("[aria-label='Matte of Diffusion']").MustScrollIntoView()
	c.find("[aria-label='Matte of Diffusion']").MustClick()
	p.MustElementR("[role=menuitem]", "^Gradient").MustClick()
	undisturbed(t, p)
	until(t, "it has a matte", func() bool { return step().Matte != nil })
	handle := p.MustElement("[data-testid=handles] [aria-label=Centre]").MustShape().Box()
	to := at(t, p, 0.5, 0.7)
	p.Mouse.MustMoveTo(handle.X+handle.Width/2, handle.Y+handle.Height/2).MustDown(proto.InputMouseButtonLeft).MustMoveTo(to.X, to.Y-20).MustMoveTo(to.X, to.Y).MustUp(proto.InputMouseButtonLeft)
	matte := func() *look.Matte { return lookOf(t, st, id).Mattes[*step().Matte] }
	until(t, "the gradient has been drawn", func() bool {
		y, _ := matte().Parts[0].Settings["y"].(float64)
		return math.Abs(y-70) < 2
	})
	c.find("[aria-label='Add a part']").MustScrollIntoView()
	c.find("[aria-label='Add a part']").MustClick()
	p.MustElementR("[role=menuitem]", "^Skin").MustClick()
	undisturbed(t, p)
	for range 2 { // and, within, without
		c.find("[data-part=skin] [aria-label^='Joins by']").MustClick()
	}
	until(t, "skin is left out", func() bool {
		return len(matte().Parts) == 2 && matte().Parts[1].Kind == "skin" && matte().Parts[1].Join == "without"
	})
	until(t, "the picture is another", func() bool { return atRest(t, p) != everywhere })

	t.Log("on the source, and back on the result")
	p.MustElementR("[data-kind='lens.diffusion'] button", "^on the result$").MustClick()
	until(t, "the matte is on the source", func() bool { return step().Source })
	c.view("source")
	p.MustElementR("[data-kind='lens.diffusion'] button", "^on the source$").MustClick()
	until(t, "the matte is on the result", func() bool { return !step().Source })

	t.Log("compensated, and not")
	with := atRest(t, p)
	c.enter("Compensate", "0")
	until(t, "nothing is taken back", func() bool { return step().Settings["compensate"] == 0.0 })
	until(t, "the picture is another", func() bool { return atRest(t, p) != with })
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "one undo compensates again", func() bool { return atRest(t, p) == with })
}

// Halation is judged by its source and by what it adds, with its cores held, and goes back to its defaults in one act; where
// nothing feeds it, the card says so, and what would.
func TestHalationJudged(t *testing.T) {
	p, _, st, id := footlights(t)
	p.Keyboard.MustType(input.Digit4)
	c := card{p, t, "negative.halation"}
	step := func() *look.Step { return stepAt(t, st, id, look.Negative, "halation") }
	c.view("source")
	c.view("adds")

	t.Log("cores held")
	c.enter("Backing", "0")
	c.unfold("Holds")
	c.enter("Hold cores", "90")
	until(t, "cores are held", func() bool { return step().Settings["cores"] == 90.0 && step().Settings["backing"] == 0.0 })
	c.view("adds")

	t.Log("nothing feeds it")
	c.unfold("Source")
	if _, err := st.Edit(id, look.Edit{Op: "set", Station: look.Balance, Kind: "exposure", Setting: "stops", Value: -6.0}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	c.enter("From", "10")
	until(t, "the card says so, and what would", func() bool {
		return p.MustHas("[data-kind='negative.halation'] [data-testid=no-effect]") && p.MustHasR("[data-kind='negative.halation'] [data-testid=no-effect]", "Nothing feeds it.*Bring From down")
	})

	t.Log("back to its defaults in one act")
	c.find("[aria-label='Reset Halation']").MustFocus().MustType(input.Enter)
	until(t, "all is as it was", func() bool { return len(step().Settings) == 0 && step().Strength == 1 })
	until(t, "and the card is silent", func() bool { return !p.MustHas("[data-kind='negative.halation'] [data-testid=no-effect]") })
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "one undo brings all of it back", func() bool { return step().Settings["cores"] == 90.0 && step().Settings["from"] == 10.0 })
}
