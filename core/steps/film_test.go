package steps

import (
	"math"
	"slices"
	"testing"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/lut"
	"velours/core/measure"
	"velours/core/render"
)

// grey is the display code of a grey, stops from mid grey, through a look's film.
func greyOf(t *testing.T, l *look.Look, stops float64) [3]float64 {
	t.Helper()
	w, err := measure.MeasureWedge(l, stops, stops, 1)
	if err != nil {
		t.Fatal(err)
	}
	return w.Steps[0].Code
}

// What a print can be made with changes what it is called after and leaves mid grey where it is.
func TestPrintingTrims(t *testing.T) {
	with := func(set ...string) *look.Look {
		return filmLook(t, append([]string{"negative.stock.id=serein-500t", "print.medium.id=rideau"}, set...)...)
	}
	plain := with()
	spread := func(l *look.Look, stops float64) float64 { return greyOf(t, l, stops)[1] - greyOf(t, l, -stops)[1] }
	for _, set := range []string{"print.medium.contrast=120", "print.medium.flash=20", "negative.stock.flash=15", "print.medium.whites=60", "negative.stock.contrast=110", "print.medium.silver=40"} {
		a, b := greyOf(t, with(set), 0), greyOf(t, plain, 0)
		if math.Abs(a[1]-b[1]) > 0.02 {
			t.Errorf("%s moves mid grey from %.3f to %.3f", set, b[1], a[1])
		}
	}
	if a, b := spread(with("print.medium.contrast=120"), 1), spread(plain, 1); a < 1.1*b {
		t.Errorf("contrast 120: two stops span %.3f, of %.3f", a, b)
	}
	if a, b := greyOf(t, with("print.medium.flash=25"), 3)[1], greyOf(t, plain, 3)[1]; a > b-0.01 {
		t.Errorf("a flash of the print leaves lights at %.3f of %.3f", a, b)
	}
	if a, b := greyOf(t, with("negative.stock.flash=25"), -5)[1], greyOf(t, plain, -5)[1]; a < b+0.003 {
		t.Errorf("a flash of the negative leaves shadows at %.4f of %.4f", a, b)
	}
	warm, cool := greyOf(t, with("print.medium.whites=100"), 4), greyOf(t, with("print.medium.whites=-100"), 4)
	if !(warm[0]-warm[2] > 0.05 && cool[2]-cool[0] > 0.02) {
		t.Errorf("warm whites are %v, cool ones %v", warm, cool)
	}
	// filters take away their own colour, where they are put
	yellow := with("print.filtration.lights-yellow=20")
	bright, dark, was := greyOf(t, yellow, 2), greyOf(t, yellow, -3), greyOf(t, plain, -3)
	if !(bright[2] > bright[1]+0.02) || math.Abs(dark[2]-was[2]) > 0.004 {
		t.Errorf("a yellow filter in the lights: lights %v, shadows %v of %v", bright, dark, was)
	}
	for _, filter := range []string{"yellow", "magenta", "cyan"} {
		for _, zone := range []string{"shadows", "mids", "lights"} {
			for _, v := range []string{"-30", "30"} { // rising all the way, however far
				l, last := with("print.filtration."+zone+"-"+filter+"="+v), [3]float64{-1, -1, -1}
				for stops := -6.0; stops <= 6; stops += 0.25 {
					c := greyOf(t, l, stops)
					for i := range c {
						if c[i] < last[i]-5e-4 {
							t.Fatalf("%s %s at %s: channel %d falls from %.4f to %.4f at %+g", zone, filter, v, i, last[i], c[i], stops)
						}
					}
					last = c
				}
			}
		}
	}
}

// The shares of a stock: without its colour a paint is as the straight film has it, without its curve greys are.
func TestSharesOfAStock(t *testing.T) {
	with := func(set ...string) *look.Look {
		return filmLook(t, append([]string{"negative.stock.id=vitrail-100", "print.medium.id=rideau"}, set...)...)
	}
	code := func(l *look.Look, c [3]float64) [3]float64 {
		f := render.FilmOf(l)
		return f.Positive.Code(f.Negative.Develop(c))
	}
	red, grey := [3]float64{0.3, 0.06, 0.05}, [3]float64{1, 1, 1}
	// without its curve the film is as steep in the deep as in the middle
	slope := func(l *look.Look, stops float64) float64 {
		n := render.FilmOf(l).Negative
		x := stops * math.Log10(2)
		return (n.Curve(1, x+0.01) - n.Curve(1, x-0.01)) / 0.02
	}
	for _, c := range []struct {
		share  string
		lo, hi float64
	}{{"0", 0.98, 1.02}, {"50", 0.5, 0.97}, {"100", 0, 0.45}} {
		l := with("negative.stock.curve=" + c.share)
		if r := slope(l, -5.5) / slope(l, 0); r < c.lo || r > c.hi {
			t.Errorf("with %s %% of its curve the toe is %.2f as steep as the middle", c.share, r)
		}
	}
	if a, b := code(with("negative.stock.colour=0"), grey), code(with(), grey); math.Abs(a[1]-b[1]) > 1e-9 {
		t.Errorf("the share of colour moves a grey from %v to %v", b, a)
	}
	if a, b := code(with("negative.stock.colour=0"), red), code(with(), red); a[0]-a[1] > b[0]-b[1]-0.03 {
		t.Errorf("without the stock's colour red is %v, with it %v", a, b)
	}
}

// A stock under light that it is not made for shows it; black and white only shifts its tones.
func TestTakingFilter(t *testing.T) {
	for _, c := range []struct {
		stock string
		sign  float64 // of blue against red
	}{{"serein-500t", 1}, {"aubade-250d", -1}} {
		a := greyOf(t, filmLook(t, "negative.stock.id="+c.stock, "print.medium.id=rideau", "negative.stock.filter=0"), 0)
		if d := c.sign * (a[2] - a[0]); d < 0.15 {
			t.Errorf("%s without its filter shows grey as %v", c.stock, a)
		}
		half := greyOf(t, filmLook(t, "negative.stock.id="+c.stock, "print.medium.id=rideau", "negative.stock.filter=50"), 0)
		if d, whole := c.sign*(half[2]-half[0]), c.sign*(a[2]-a[0]); d < 0.2*whole || d > 0.8*whole {
			t.Errorf("%s with half a filter shows %v, without any %v", c.stock, half, a)
		}
	}
	a := greyOf(t, filmLook(t, "negative.stock.id=mine-50", "print.medium.id=rideau", "negative.stock.filter=0"), 0)
	if d := math.Abs(a[2] - a[0]); d > 0.01 {
		t.Errorf("black and white shows %v", a)
	}
}

// Crossed baths, dupes and every medium give a picture that rises with the light.
func TestEveryWayToAPicture(t *testing.T) {
	for _, stock := range []string{"aubade-250d", "brocart-100", "craie-25"} {
		for _, baths := range []string{"own", "crossed"} {
			for _, m := range film.Media() {
				for _, from := range []string{"camera", "dupe"} {
					l := filmLook(t, "negative.stock.id="+stock, "negative.stock.baths="+baths, "print.medium.id="+m.ID, "print.medium.generation="+from)
					last := -1.0
					for stops := -5.0; stops <= 4; stops++ {
						c := greyOf(t, l, stops)
						if c[1] < last-1e-4 {
							t.Errorf("%s in %s baths on %s, %s: falls to %.3f at %+g", stock, baths, m.ID, from, c[1], stops)
						}
						last = c[1]
					}
					// from a third of the scale and more to a mid grey neither black nor white
					if mid := greyOf(t, l, 0)[1]; mid < 0.2 || mid > 0.75 || last-greyOf(t, l, -5)[1] < 0.3 {
						t.Errorf("%s in %s baths on %s, %s: mid grey at %.2f, white at %.2f", stock, baths, m.ID, from, mid, last)
					}
				}
			}
		}
	}
}

// Twelve points are a stop of the print's exposure: a grey printed twelve points lighter is as dark as one a stop
// brighter on a film as steep as 1.
func TestTwelvePointsAreAStop(t *testing.T) {
	s := film.Reference()
	n := film.Develop(s, film.Process{Strength: 1})
	p := film.NewPrint(film.Media()[0], n)
	// light through a film that lets through half of it, evenly, is a stop less
	d := n.Mid()
	half := math.Log10(2)
	a := p.Light(d, [3]float64{12, 12, 12})[1]
	exposed := p.With(film.Printing{Filter: [3][3]float64{{-half, -half, -half}, {-half, -half, -half}, {-half, -half, -half}}}).Light(d, [3]float64{})[1]
	if math.Abs(math.Log10(a/exposed)) > 0.005 {
		t.Errorf("twelve points print grey at %.4f, a stop more of light at %.4f", -math.Log10(a), -math.Log10(exposed))
	}
}

// Grain coarsens with push as the card says, in a dupe too; black and white has one grain for all.
func TestGrainOfProcess(t *testing.T) {
	of := func(set ...string) (s [3]float64, link float64) {
		l := filmLook(t, append([]string{"negative.grain.amount=100", "negative.grain.link=40", "print.medium.id=rideau"}, set...)...)
		v := l.Values(grainKind, l.Step(look.Negative, "grain"))
		g := grainFor(v, 1, false, nil).setting(render.FilmOf(l).Exposed(render.Raster{W: 1920, H: 1080}))
		return g.S, g.Link
	}
	for _, s := range film.Stocks() {
		plain, link := of("negative.stock.id=" + s.ID)
		pushed, _ := of("negative.stock.id="+s.ID, "negative.stock.push=1")
		duped, _ := of("negative.stock.id="+s.ID, "print.medium.generation=dupe")
		if r := pushed[1] / plain[1]; math.Abs(r-1-s.Development.Grain) > 1e-9 {
			t.Errorf("%s: a push takes grain to %.3f of what it was", s.ID, r)
		}
		if duped[1] < 1.2*plain[1] {
			t.Errorf("%s: a dupe has %.3f of its grain", s.ID, duped[1]/plain[1])
		}
		if (link == 1) != s.Mono {
			t.Errorf("%s: its layers share %.2f of their grain", s.ID, link)
		}
	}
}

// A table that expects printing-density log is fed the scan of the negative: through a table that changes nothing, mid
// grey shows at code 445 of 1023, and what the stock does to colour and tone is in the picture.
func TestATablePrintsTheScan(t *testing.T) {
	same := &Table{ID: "same-00000000", Label: "Same", List: &lut.List{Nodes: []lut.Node{lut.NewTable3(2, func(i, j, k int) [3]float32 {
		return [3]float32{float32(i), float32(j), float32(k)}
	})}}}
	KnowTable(same)
	t.Cleanup(func() { ForgetTable(same.ID) })
	with := func(stock string) *look.Look {
		return filmLook(t, "negative.stock.id="+stock, "print.table.id="+same.ID, "print.table.from=printing-density", "print.table.to=bt1886")
	}
	for _, stock := range []string{"aubade-250d", "vitrail-100", "tabac-100"} {
		l := with(stock)
		grey := greyOf(t, l, 0)
		for _, v := range grey {
			if math.Abs(v-445.0/1023) > 0.002 {
				t.Errorf("%s: mid grey scans at %.4f, want %.4f", stock, grey, 445.0/1023)
				break
			}
		}
	}
	// a decade of light is as many codes as the stock is steep
	soft, steep := greyOf(t, with("satin-160"), 2)[1]-greyOf(t, with("satin-160"), -2)[1], greyOf(t, with("vitrail-100"), 2)[1]-greyOf(t, with("vitrail-100"), -2)[1]
	if r := steep / soft; r < 1.15 || r > 1.45 {
		t.Errorf("a stock of gamma 0.70 scans %.2f times as steep as one of 0.53", r)
	}
	if a, b := greyOf(t, with("vitrail-100"), 1), greyOf(t, filmLook(t, "negative.stock.id=vitrail-100", "print.medium.id=scan"), 1); math.Abs(a[1]-b[1]) > 0.01 {
		t.Errorf("the table is fed %.3f, the scan medium shows %.3f", a, b)
	}
}

// Sharpness has the transfer of the card: a faint grating on the negative, of so many cycles a millimetre, comes out
// as strong as film.Sharpness says, on either gauge.
func TestSharpnessHasTheTransferOfTheCard(t *testing.T) {
	const w, h = 960, 24
	for _, c := range []struct {
		gauge string
		mm    float64
	}{{"super8", 5.79}, {"16mm", 10.26}} {
		l := filmLook(t, "negative.stock.id=serein-500t", "negative.sharpness.scatter=100", "negative.gauge.id="+c.gauge)
		s, err := film.FindStock("serein-500t")
		if err != nil {
			t.Fatal(err)
		}
		for _, cycles := range []float64{20, 60, 120} { // over the width
			grating := frame.New(w, h, 3)
			for y := range h {
				for x := range w {
					v := float32(0.18 * math.Pow(10, 0.03*math.Sin(2*math.Pi*cycles*(float64(x)+0.5)/w)))
					for p := range 3 {
						grating.Row(p, y)[x] = v
					}
				}
			}
			strength := func(l *look.Look) float64 {
				f := rendered(t, l, given{grating}, w, h, look.Negative)
				re, im := 0.0, 0.0
				for x, v := range f.Row(1, h/2) {
					a := 2 * math.Pi * cycles * (float64(x) + 0.5) / w
					re, im = re+float64(v)*math.Cos(a), im+float64(v)*math.Sin(a)
				}
				return math.Hypot(re, im)
			}
			plain := l.Clone()
			plain.Step(look.Negative, "sharpness").On = false
			got, want := strength(l)/strength(plain), s.MTF.At(cycles/c.mm)
			if math.Abs(got-want) > 0.03 {
				t.Errorf("%s, %.1f cycles a millimetre: %.3f, the card says %.3f", c.gauge, cycles/c.mm, got, want)
			}
		}
	}
}

// What has run out of a film is told by its own end: of a negative dense in the lights, of a positive thin there.
func TestWhatHasRunOutOfAFilm(t *testing.T) {
	for _, set := range [][]string{{"negative.stock.id=aubade-250d"}, {"negative.stock.id=brocart-100", "print.medium.id=direct"}, {"negative.stock.id=aubade-250d", "print.medium.id=direct"}} {
		l := filmLook(t, set...)
		low, high, sign, ok := measure.Exhausted(l)
		if !ok {
			t.Fatal("it has film")
		}
		n := render.FilmOf(l).Negative
		for i := range 3 {
			dark, mid, bright := sign*n.Curve(i, -3), sign*n.Curve(i, 0), sign*n.Curve(i, 4.5)
			if !(dark < low[i] && low[i] < mid && mid < high[i] && high[i] < bright) {
				t.Errorf("%v, layer %d: from %.2f to %.2f, dark is %.2f, mid grey %.2f, bright %.2f", set, i, low[i], high[i], dark, mid, bright)
			}
		}
	}
}

// A print of a dupe is steeper, paler and softer than one of the camera's negative, with mid grey where it was.
func TestADupeIsAGenerationOn(t *testing.T) {
	with := func(from string) *look.Look {
		return filmLook(t, "negative.stock.id=aubade-250d", "print.medium.generation="+from, "lens.bloom.amount=0", "negative.halation.amount=0", "negative.gauge.id=super8")
	}
	camera, dupe := with("camera"), with("dupe")
	if a, b := greyOf(t, dupe, 0)[1], greyOf(t, camera, 0)[1]; math.Abs(a-b) > 0.01 {
		t.Errorf("mid grey goes from %.3f to %.3f", b, a)
	}
	span := func(l *look.Look) float64 { return greyOf(t, l, 1)[1] - greyOf(t, l, -1)[1] }
	if r := span(dupe) / span(camera); r < 1.02 || r > 1.15 {
		t.Errorf("two stops span %.3f times as much", r)
	}
	// fine lines lose more than coarse ones
	strength := func(l *look.Look, cycles float64) float64 {
		const w, h = 960, 8
		f := frame.New(w, h, 3)
		for y := range h {
			for x := range w {
				for p := range 3 {
					f.Row(p, y)[x] = float32(0.18 * (1 + 0.1*math.Sin(2*math.Pi*cycles*float64(x)/w)))
				}
			}
		}
		out := rendered(t, l, given{f}, w, h, look.Print)
		re, im := 0.0, 0.0
		for x, v := range out.Row(1, h/2) {
			a := 2 * math.Pi * cycles * float64(x) / w
			re, im = re+float64(v)*math.Cos(a), im+float64(v)*math.Sin(a)
		}
		return math.Hypot(re, im)
	}
	coarse, fine := strength(dupe, 6)/strength(camera, 6), strength(dupe, 120)/strength(camera, 120)
	// a Gaussian of 7 µm at 20.7 cycles a millimetre
	if want := math.Exp(-2 * math.Pow(math.Pi*0.007*120/5.79, 2)); math.Abs(fine/coarse-want) > 0.03 {
		t.Errorf("fine lines keep %.3f of coarse ones' strength, want %.3f", fine/coarse, want)
	}
}

// A table carries a dupe's tones and colours and leaves its softness out: no entry takes of its neighbours.
func TestATableOfADupe(t *testing.T) {
	l := filmLook(t, "print.medium.generation=dupe", "negative.gauge.id=super8", "lens.bloom.amount=0", "negative.halation.amount=0")
	_, left := render.Tabular(l)
	if !slices.Contains(left, "softness of the dupe negative") {
		t.Errorf("it leaves out %v", left)
	}
	stops := []float64{-4, 3, -4, 3, -4, 0, 2, -2}
	codes, _, err := measure.Response(t.Context(), l, stops)
	if err != nil {
		t.Fatal(err)
	}
	for i, x := range stops {
		if want := greyOf(t, l, x); math.Abs(codes[i][1]-want[1]) > 0.004 {
			t.Errorf("%+g among its neighbours is %.4f, alone %.4f", x, codes[i][1], want[1])
		}
	}
}
