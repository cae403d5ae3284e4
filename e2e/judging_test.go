package e2e

import (
	"fmt"
	"image"
	_ "image/png"
	"math"
	"os"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

// sample is the colour of the picture's canvas at shares of its width and height.
func sample(t *testing.T, p *rod.Page, x, y float64) string {
	t.Helper()
	v, err := p.Eval(`(x, y) => {
		const c = document.querySelector('[data-testid=picture]')
		return [...c.getContext('2d').getImageData(Math.floor(x * c.width), Math.floor(y * c.height), 1, 1).data].join(' ')
	}`, x, y)
	if err != nil {
		t.Fatal(err)
	}
	return v.Value.Str()
}

// at is the place on the page of shares of the picture.
func at(t *testing.T, p *rod.Page, x, y float64) proto.Point {
	t.Helper()
	box := p.MustElement("[data-testid=picture]").MustShape().Box()
	return proto.Point{X: box.X + x*box.Width, Y: box.Y + y*box.Height}
}

// atRest is a digest of the exact picture when nothing is on its way any more: a change shows a draft first.
func atRest(t *testing.T, p *rod.Page) string {
	t.Helper()
	var digest string
	until(t, "the picture rests", func() bool {
		exact(t, p)
		digest = pixels(t, p)
		time.Sleep(700 * time.Millisecond)
		return p.MustHas("[data-testid=picture][data-stage=exact]") && pixels(t, p) == digest
	})
	return digest
}

// delivered delivers the open shot's frame as a 16-bit PNG and reads it.
func delivered(t *testing.T, p *rod.Page, url string) image.Image {
	t.Helper()
	p.MustElementR("header button", "^Deliver$").MustClick()
	p.MustElementR("[role=dialog] button", "^PNG, 16-bit$").MustClick()
	p.MustElement("[data-testid=deliveries] [data-state=done]")
	p.Keyboard.MustType(input.Escape)
	undisturbed(t, p)
	list := fetch[[]struct{ Path string }](t, url+"/api/v1/deliveries")
	f, err := os.Open(list[0].Path)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	im, _, err := image.Decode(f)
	if err != nil {
		t.Fatal(err)
	}
	return im
}

// Judging a shot: a pixel read, a line drawn, a stock chosen from a strip, a pin beneath the scopes.
func TestJudging(t *testing.T) {
	b := browser(t)
	srv, _ := open(t, t.TempDir())
	p := page(t, b, srv.URL)
	exact(t, p)
	p.MustElementR("aside button", "Workbench").MustClick()
	until(t, "the shot is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "Workbench" })
	exact(t, p)

	t.Log("the pixel under the pointer is the delivered pixel")
	still := delivered(t, p, srv.URL)
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.KeyZ)
	p.MustElement("[data-testid=navigator]")
	exact(t, p)
	for _, where := range [][2]float64{{0.5, 0.5}, {0.21, 0.34}, {0.77, 0.81}} {
		if err := p.Mouse.MoveTo(at(t, p, where[0], where[1])); err != nil {
			t.Fatal(err)
		}
		until(t, "the pixel reads as delivered", func() bool {
			has, out, err := p.Has("[data-testid=read-out]")
			if err != nil || !has {
				return false
			}
			text, err := out.Text()
			if err != nil {
				return false
			}
			var x, y, r, g, b int
			line := strings.Fields(strings.NewReplacer(",", " ", "pixel", "", "code", "").Replace(text))
			if len(line) < 5 {
				return false
			}
			for i, v := range []*int{&x, &y, &r, &g, &b} {
				if *v, err = strconv.Atoi(line[i]); err != nil {
					return false
				}
			}
			cr, cg, cb, _ := still.At(x, y).RGBA()
			for i, v := range []uint32{cr, cg, cb} {
				if math.Abs(float64(v)/65535*1023-float64([]int{r, g, b}[i])) > 0.52 {
					return false
				}
			}
			return true
		})
	}
	if n := len(p.MustElements("[data-mark]")); n < 5 {
		t.Errorf("the pixel is marked %d times in the scopes", n)
	}
	p.MustElement("h1").MustHover()
	p.Keyboard.MustType(input.KeyZ)
	until(t, "the picture is fitted", func() bool { return !p.MustHas("[data-testid=navigator]") })
	exact(t, p)
	p.MustWait(`() => !document.querySelector('[data-testid=read-out]')`)

	t.Log("the wipe shows the other side up to its line")
	own := map[float64]string{}
	points := []float64{0.1, 0.3, 0.45, 0.55, 0.9}
	atRest(t, p)
	for _, x := range points {
		own[x] = sample(t, p, x, 0.5)
	}
	if err := p.Keyboard.Press(input.Backslash); err != nil {
		t.Fatal(err)
	}
	until(t, "the other side is named", func() bool { return strings.Contains(p.MustElement("main").MustText(), "without film") })
	other := map[float64]string{}
	until(t, "the other side is another picture", func() bool {
		for _, x := range points {
			if other[x] = sample(t, p, x, 0.5); other[x] == own[x] {
				return false
			}
		}
		return true
	})
	atRest(t, p) // from its draft to the exact picture
	for _, x := range points {
		other[x] = sample(t, p, x, 0.5)
	}
	if err := p.Keyboard.Release(input.Backslash); err != nil {
		t.Fatal(err)
	}
	p.Keyboard.MustType(input.KeyW)
	line := func(upTo float64) func() bool {
		return func() bool {
			for _, x := range points {
				want := own[x]
				if x < upTo {
					want = other[x]
				}
				if sample(t, p, x, 0.5) != want {
					return false
				}
			}
			return true
		}
	}
	until(t, "the line stands in the middle", line(0.5))
	from, to := at(t, p, 0.5, 0.3), at(t, p, 0.35, 0.5)
	p.Mouse.MustMoveTo(from.X, from.Y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo((from.X+to.X)/2, (from.Y+to.Y)/2).MustMoveTo(to.X, to.Y).MustUp(proto.InputMouseButtonLeft)
	until(t, "the line was dragged", line(0.35))
	slider := p.MustElement("[role=slider][aria-label=Wipe]")
	if v := *slider.MustAttribute("aria-valuenow"); v != "35" {
		t.Errorf("the wipe stands at %s", v)
	}
	slider.MustFocus()
	for range 30 { // turned by a quarter: the other side is above or below, not beside
		if err := p.Keyboard.Press(input.ShiftLeft); err != nil {
			t.Fatal(err)
		}
		p.Keyboard.MustType(input.ArrowRight)
		if err := p.Keyboard.Release(input.ShiftLeft); err != nil {
			t.Fatal(err)
		}
	}
	until(t, "the line lies level", func() bool { return strings.Contains(*slider.MustAttribute("aria-valuetext"), "90°") })
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.KeyW)
	until(t, "the picture is whole again", line(0))

	t.Log("one step at a time, and back with Escape")
	p.Keyboard.MustType(input.Key('4'))
	whole := atRest(t, p)
	for _, view := range []string{"adds", "matte", "solo"} {
		p.MustElementR("[aria-label='Views of Halation'] button", "^"+view+"$").MustClick()
		until(t, view+" of halation shows", func() bool {
			return pixels(t, p) != whole && p.MustHas("[data-testid=note]") && strings.Contains(p.MustElement("[data-testid=note]").MustText(), "Halation")
		})
		p.MustElement("h1").MustClick()
		p.Keyboard.MustType(input.Escape)
		until(t, "the picture is back from "+view, func() bool { return pixels(t, p) == whole })
	}
	p.Keyboard.MustType(input.KeyX)
	until(t, "false colour has its legend", func() bool {
		return p.MustHas("[data-testid=legend]") && strings.Contains(p.MustElement("[data-testid=legend]").MustText(), "Crushed")
	})
	p.Keyboard.MustType(input.KeyX)
	until(t, "the picture is back from false colour", func() bool { return pixels(t, p) == whole })

	t.Log("a stock from the test strip, and one undo")
	stock := func() string {
		v, _ := setting(t, named(t, srv.URL, "Workbench"), "negative", "stock", "id").(string)
		return v
	}
	was := stock()
	p.Keyboard.MustType(input.KeyT)
	p.MustElement("[data-testid=test-strip] [data-patch='" + was + "'][aria-pressed=true]")
	pick := p.MustElement("[data-testid=test-strip] [data-patch]:not([data-patch='" + was + "'])")
	id := *pick.MustAttribute("data-patch")
	pick.MustHover()
	until(t, "it is shown large", func() bool {
		return strings.Contains(pick.MustText(), strings.TrimSuffix(p.MustElement("[data-testid=enlarged]").MustText(), "draft"))
	})
	pick.MustClick()
	undisturbed(t, p)
	until(t, "the stock is taken", func() bool { return stock() == id })
	until(t, "the picture is another", func() bool { return pixels(t, p) != whole })
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "one undo brings the stock back", func() bool { return stock() == was })
	until(t, "and the picture", func() bool { return pixels(t, p) == whole })

	t.Log("a pin's trace beneath the parade")
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.KeyP)
	p.MustElement("[role=dialog] [data-pin]")
	p.MustElement("[role=dialog] [data-pin] button").MustClick() // compares with it
	undisturbed(t, p)
	until(t, "the pin is the other side", func() bool {
		return strings.Contains(p.MustElement("[aria-label='Other side']").MustText(), "Workbench 0")
	})
	p.Keyboard.MustType(input.KeyW)
	p.MustElementR("[aria-label=Scopes] button", "over the other side").MustClick()
	p.MustElement("[data-scope=parade] canvas[data-under=yes]")
	p.MustElementR("[aria-label=Scopes] button", "over Workbench 0")

	t.Log("a box for the scopes, and what the browser remembers")
	before := p.MustElement("[data-scope=parade] canvas").MustEval("() => this.toDataURL()").Str()
	if err := p.Keyboard.Press(input.ShiftLeft); err != nil {
		t.Fatal(err)
	}
	a, z := at(t, p, 0.2, 0.2), at(t, p, 0.5, 0.6)
	p.Mouse.MustMoveTo(a.X, a.Y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo((a.X+z.X)/2, (a.Y+z.Y)/2).MustMoveTo(z.X, z.Y).MustUp(proto.InputMouseButtonLeft)
	if err := p.Keyboard.Release(input.ShiftLeft); err != nil {
		t.Fatal(err)
	}
	p.MustElement("[data-testid=box]")
	until(t, "the scopes read the box", func() bool {
		return p.MustElement("[data-scope=parade] canvas").MustEval("() => this.toDataURL()").Str() != before
	})
	p.MustElementR("[aria-label=Scopes] button", "^Histogram$").MustClick()
	p.MustElement("[aria-label='Dock right']").MustClick()
	p.MustElement("[aria-label=Scopes][data-place=right]")
	p.MustReload()
	exact(t, p)
	p.MustElement("[aria-label=Scopes][data-place=right] [data-scope=histogram]")
}

// counted is a count that the picture's canvas keeps of what was played.
func counted(t *testing.T, p *rod.Page, what string) float64 {
	t.Helper()
	v, err := p.Eval(`(what) => Number(document.querySelector('[data-testid=picture]').dataset[what] ?? 0)`, what)
	if err != nil {
		t.Fatal(err)
	}
	return v.Value.Num()
}

// Where nothing is ready, playing keeps time at a lower raster, which is told, while exact frames are made behind; then it is exact. Or
// every frame is exact from the first.
func TestPlayingInTime(t *testing.T) {
	b := browser(t)
	srv, _ := open(t, t.TempDir())
	p := page(t, b, srv.URL)
	exact(t, p)
	if os.Getenv("VELOURS_MEASURE") != "" {
		p.MustSetViewport(1736, 1100, 1, false) // the picture is 1280×720
		exact(t, p)
	}
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.Space)
	until(t, "it plays", func() bool { return counted(t, p, "presented") > 0 })
	share, from := 1.0, counted(t, p, "presented")
	if length := os.Getenv("VELOURS_MEASURE"); length != "" {
		seconds, err := time.ParseDuration(length)
		if err != nil {
			t.Fatal(err)
		}
		began, last := time.Now(), from
		fmt.Println("picture:", p.MustEval(`() => { const c = document.querySelector('[data-testid=picture]'); return c.width + "×" + c.height }`))
		for time.Since(began) < seconds {
			time.Sleep(time.Second)
			n := counted(t, p, "presented")
			fmt.Printf("%5.1f s: %.0f frames shown, %.0f exact, %.0f left out, share %g\n", time.Since(began).Seconds(), n-last, counted(t, p, "exact"), counted(t, p, "late"), counted(t, p, "share"))
			last = n
		}
	}
	until(t, "it has gone round", func() bool {
		share = min(share, counted(t, p, "share"))
		return counted(t, p, "presented")+counted(t, p, "late") > from+60
	})
	t.Logf("lowest raster seen: %g", share)
	until(t, "exact frames are made while it plays", func() bool { return counted(t, p, "share") == 1 && counted(t, p, "exact") > 24 })

	t.Log("the other side and the scopes follow")
	seen := func(canvas string) func() bool {
		was := ""
		return func() bool {
			v, err := p.Eval(`(canvas) => document.querySelector(canvas)?.toDataURL() ?? ''`, canvas)
			if err != nil {
				t.Fatal(err)
			}
			now := v.Value.Str()
			changed := was != "" && now != "" && now != was
			was = now
			return changed
		}
	}
	p.MustElementR("button", "^Beside$").MustClick()
	for range 3 { // again and again
		until(t, "the side beside follows", seen("[data-testid=other]"))
		until(t, "the parade follows", seen("[data-scope=parade] canvas"))
	}
	p.MustElementR("button", "^Beside$").MustClick()
	until(t, "it plays on", func() bool { return counted(t, p, "late")+counted(t, p, "presented") > 0 })

	t.Log("it stops on the frame that was shown last")
	began := counted(t, p, "presented")
	until(t, "a few frames are shown", func() bool { return counted(t, p, "presented") > began+5 })
	if same := p.MustEval(`() => new Promise((done) => {
		const canvas = document.querySelector('[data-testid=picture]')
		const last = canvas.toDataURL()
		for (const b of document.querySelectorAll('button')) if (b.textContent === 'Stop') b.click()
		queueMicrotask(() => setTimeout(() => done(canvas.toDataURL() === last)))
	})`).Bool(); !same {
		t.Error("another frame came when it stopped")
	}
	exact(t, p)

	t.Log("every frame exact")
	p.MustElement("[aria-label='How it plays']").MustClick()
	p.MustElementR("[role=menuitem]", "Every frame exact").MustClick()
	p.MustElementR("aside button", "Workbench").MustClick()
	until(t, "the shot is open", func() bool { return p.MustElement("[data-testid=shot-name]").MustText() == "Workbench" })
	exact(t, p)
	shown, were := counted(t, p, "presented"), counted(t, p, "exact")
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.Space)
	until(t, "one is shown", func() bool { return counted(t, p, "presented") > shown })
	late := counted(t, p, "late")
	until(t, "a few are shown", func() bool { return counted(t, p, "presented") > shown+5 })
	p.Keyboard.MustType(input.Space)
	exact(t, p)
	if d, e := counted(t, p, "presented")-shown, counted(t, p, "exact")-were; d != e || counted(t, p, "late") != late {
		t.Errorf("of %g frames %g are exact, and %g were left out", d, e, counted(t, p, "late")-late)
	}
}

// Playing every frame shows each of the shot in turn, from what is ready, and stops where it is.
func TestPlaying(t *testing.T) {
	b := browser(t)
	srv, _ := open(t, t.TempDir())
	p := page(t, b, srv.URL)
	exact(t, p)
	until(t, "the whole shot is ready", func() bool {
		v := p.MustEval(`() => { const k = document.querySelectorAll('[data-testid=kept]'); return k.length === 1 ? parseFloat(k[0].style.width) : 0 }`)
		return v.Num() > 99
	})
	p.MustElement("[aria-label='How it plays']").MustClick() // in time, a browser that sleeps leaves frames out
	p.MustElementR("[role=menuitem]", "Every frame exact").MustClick()
	// every frame number that the page shows, in order
	p.MustEval(`() => {
		window.seen = []
		new MutationObserver(() => window.seen.push(parseInt(document.querySelector('[data-testid=frame-number]').textContent)))
			.observe(document.querySelector('[data-testid=frame-number]'), { characterData: true, childList: true, subtree: true })
	}`)
	p.MustElement("h1").MustClick()
	p.Keyboard.MustType(input.Space)
	presented := func() int {
		v, err := p.Eval(`() => Number(document.querySelector('[data-testid=picture]').dataset.presented ?? 0)`)
		if err != nil {
			t.Fatal(err)
		}
		return v.Value.Int()
	}
	until(t, "it has gone round", func() bool { return presented() > 60 })
	if length := os.Getenv("VELOURS_MEASURE"); length != "" {
		seconds, err := time.ParseDuration(length)
		if err != nil {
			t.Fatal(err)
		}
		from := presented()
		time.Sleep(seconds)
		fmt.Printf("playing from finished frames: %d frames presented in %v, %.2f a second\n", presented()-from, seconds, float64(presented()-from)/seconds.Seconds())
	}
	p.Keyboard.MustType(input.Space)
	exact(t, p)
	seen := p.MustEval(`() => window.seen`).Arr()
	for i := 2; i < len(seen)-1; i++ {
		if a, b := seen[i-1].Int(), seen[i].Int(); b != (a+1)%48 {
			t.Fatalf("frame %d came after %d", b, a)
		}
	}
	at := strings.Fields(p.MustElement("[data-testid=frame-number]").MustText())[0]
	until(t, "the place is remembered", func() bool {
		return fmt.Sprint(named(t, srv.URL, "Footlights").Frame) == at
	})

	t.Log("a held frame: grain alone moves")
	was, frame := atRest(t, p), presented()
	p.Keyboard.MustType(input.KeyH)
	until(t, "held frames go by", func() bool { return presented() > frame+5 })
	if pixels(t, p) == was {
		t.Error("a held frame stands still")
	}
	if now := strings.Fields(p.MustElement("[data-testid=frame-number]").MustText())[0]; now != at {
		t.Errorf("the held frame went from %s to %s", at, now)
	}
	p.Keyboard.MustType(input.KeyH)
	until(t, "the picture is back", func() bool { return pixels(t, p) == was })
}
