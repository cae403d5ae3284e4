package steps

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
)

func lightOf(s measure.Scene) *frame.Frame {
	const w, h = 64, 36
	src := frame.New(w, h, 3)
	for i, c := range s.Light {
		for p, v := range c {
			src.Row(p, i/w)[i%w] = float32(v)
		}
	}
	return src
}

// pictured renders a demo scene under a look, as a file of eight bits has it, and reads it as CIELAB.
func pictured(t *testing.T, s measure.Scene, l *look.Look) [][3]float64 {
	t.Helper()
	src := lightOf(s)
	w, h := src.W, src.H
	plan, err := render.Compile(t.Context(), l, colour.Working(), render.Raster{W: w, H: h}, look.Finish)
	if err != nil {
		t.Fatal(err)
	}
	f, err := render.NewRenderer(0).Render(t.Context(), plan, render.Still{Picture: src}, 0)
	if err != nil {
		t.Fatal(err)
	}
	d := render.DisplayOf(l)
	var out [][3]float64
	for y := range h {
		for x := range w {
			c := f.At(x, y)
			for i := range c {
				c[i] = math.Round(255*min(max(c[i], 0), 1)) / 255
			}
			out = append(out, colour.Lab(d.Gamut.ToXYZ().Apply(d.Light(c)), d.Gamut.White.XYZ()))
		}
	}
	return out
}

func set(t *testing.T, sets ...string) *look.Look {
	t.Helper()
	l := look.NewLook("t")
	if err := l.SetAll(sets...); err != nil {
		t.Fatal(err)
	}
	return l
}

func against(t *testing.T, s measure.Scene, lab [][3]float64, same bool) []measure.Likeness {
	t.Helper()
	d, err := colour.FindDisplay("bt1886")
	if err != nil {
		t.Fatal(err)
	}
	src := lightOf(s)
	screen := film.Screen{Display: d, Range: 0.5, Whites: 1, Tone: colour.DefaultTone}
	ref := measure.OtherScene(src, lab, screen)
	if same {
		ref = measure.SameScene(src, lab, screen, GlowOf(t.Context(), set(t, "negative.halation.amount=100"), src))
	}
	list, err := measure.Near(t.Context(), ref, nil)
	if err != nil {
		t.Fatal(err)
	}
	return list
}

// filmed is a stock on a medium, grain and halation on.
func filmed(t *testing.T, s *film.Stock, m *film.Medium, stops float64, lights [3]float64) *look.Look {
	return set(t, "negative.stock.id="+s.ID, "print.medium.id="+m.ID, fmt.Sprint("balance.exposure.stops=", stops), "negative.grain.amount=100", "negative.halation.amount=100",
		fmt.Sprint("print.lights.red=", lights[0]), fmt.Sprint("print.lights.green=", lights[1]), fmt.Sprint("print.lights.blue=", lights[2]))
}

// Twenty pictures of hidden stocks, prints, lights and exposures, grain and halation on: the film is among the first three, and the fit
// comes near.
func TestHiddenFilmsAreFound(t *testing.T) {
	r := rand.New(rand.NewPCG(14, 6))
	stocks, media := film.Stocks(), film.Media()
	found, near := 0, 0
	for k := range 20 {
		s, m := stocks[r.IntN(len(stocks))], media[r.IntN(len(media))]
		for m.Direct && !s.Reversal {
			m = media[r.IntN(len(media))]
		}
		scene := measure.Scenes()[k%3]
		points := func() float64 { return math.Round(12*r.Float64() - 6) }
		lights, stops := [3]float64{points(), points(), points()}, math.Round(20*r.Float64()-10)/10
		lab := pictured(t, scene, filmed(t, s, m, stops, lights))
		list := against(t, scene, lab, true)
		at := slices.IndexFunc(list, func(l measure.Likeness) bool { return l.Stock.ID == s.ID })
		first := list[0]
		apart := 0.0
		for i, c := range pictured(t, scene, filmed(t, first.Stock, first.Medium, first.Exposure, first.Lights)) {
			apart += colour.DeltaE2000(c, lab[i]) / float64(len(lab))
		}
		t.Logf("%s on %s %+.1f %v over %s: place %d; nearest %s on %s %+.1f %.0f, ΔE %.2f, rendered %.2f", s.ID, m.ID, stops, lights, scene.Name, at, first.Stock.ID, first.Medium.ID, first.Exposure, first.Lights, first.Apart, apart)
		if at < 3 {
			found++
		}
		if apart < 1.5 && first.Near {
			near++
		}
	}
	if found < 18 || near < 20 {
		t.Errorf("%d of 20 are among the first three; %d of 20 fits are within ΔE2000 1.5", found, near)
	}
}

// What no film made is near none: the scene as video, channels that changed places, and a picture in steps of twice the colour, held
// against another scene.
func TestNoFilmIsNear(t *testing.T) {
	scene := measure.Scenes()[0]
	video := pictured(t, scene, look.NewLook("t"))
	swapped, steps := make([][3]float64, len(video)), make([][3]float64, len(video))
	for i, c := range video {
		swapped[i] = [3]float64{c[0], -c[1], c[2]}
		steps[i] = [3]float64{math.Round(c[0]/25) * 25, c[1] * 2.2, c[2] * 2.2}
	}
	for _, c := range []struct {
		name  string
		shot  measure.Scene
		lab   [][3]float64
		same  bool
		least float64
	}{
		{"video", scene, video, true, 2.5}, {"red and green changed places", scene, swapped, true, 8}, {"in steps, twice as colourful", measure.Scenes()[1], steps, false, 4},
	} {
		first := against(t, c.shot, c.lab, c.same)[0]
		t.Logf("%s: %s on %s, %.2f", c.name, first.Stock.ID, first.Medium.ID, first.Apart)
		if first.Near || first.Apart < c.least {
			t.Errorf("%s: near %v, %.2f apart", c.name, first.Near, first.Apart)
		}
	}
}
