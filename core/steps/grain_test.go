package steps

import (
	"context"
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
)

// grainOn measures the grain of a look on greys, at the end of the path.
func grainOn(t *testing.T, at look.Station, width int, stops []float64, set ...string) *measure.Grain {
	t.Helper()
	g, err := measure.MeasureGrain(t.Context(), filmLook(t, set...), width, stops, at)
	if err != nil {
		t.Fatal(err)
	}
	return g
}

// Linked grain is neutral after printing: of every colour stock, on greys, red, green and blue of the display deviate by the same and together.
// Unlinked, the layers are each their own.
func TestLinkedGrainIsNeutral(t *testing.T) {
	stops := []float64{-3, -2, -1, 0, 1, 2}
	for _, s := range film.Stocks() {
		if s.Mono {
			continue
		}
		worst, dark, least := 0.0, 0.0, 1.0
		for _, tone := range grainOn(t, look.Finish, 1280, stops, "negative.stock.id="+s.ID, "negative.grain.amount=100", "print.medium.id=rideau").Tones {
			d := tone.Deviation
			differ := max(d[0], d[1], d[2])/min(d[0], d[1], d[2]) - 1
			if tone.Stops < -1.5 { // near the print's black, where its table bends between its nodes
				dark = max(dark, differ)
			} else {
				worst = max(worst, differ)
			}
			least = min(least, tone.Correlation[0], tone.Correlation[1], tone.Correlation[2])
		}
		t.Logf("%s: channels deviate within %.1f %%, in the dark %.1f %%, correlation %.4f", s.ID, 100*worst, 100*dark, least)
		if worst > 0.03 || dark > 0.1 || least < 0.98 {
			t.Errorf("%s: channels deviate within %.1f %%, in the dark %.1f %%, correlation %.4f", s.ID, 100*worst, 100*dark, least)
		}
	}
	g := grainOn(t, look.Negative, 1280, []float64{0}, "negative.stock.id=aubade-250d", "negative.grain.amount=100", "negative.grain.link=0", "print.medium.id=rideau").Tones[0]
	for _, c := range g.Correlation {
		if math.Abs(c) > 0.02 {
			t.Errorf("unlinked layers correlate by %.3f", c)
		}
	}
}

// In what prints as black no cloud stands out coloured, of any colour stock, on the smallest film: the channels of a pixel part by 0.025 of the range
// at most, beside what they are apart by without grain.
func TestBlacksHaveNoColouredSpecks(t *testing.T) {
	const w, h = 160, 120
	for _, s := range film.Stocks() {
		if s.Mono {
			continue
		}
		l := filmLook(t, "negative.stock.id="+s.ID, "negative.gauge.id=super8", "negative.grain.amount=100", "print.medium.id=rideau")
		plan, err := render.Compile(t.Context(), l, colour.Working(), render.Raster{W: w, H: h}, look.Finish)
		if err != nil {
			t.Fatal(err)
		}
		for _, stops := range []float64{-6, -5} {
			src := render.Still{Picture: frame.New(w, h, 3)}
			for p := range 3 {
				for y := range h {
					for x := range w {
						src.Picture.Row(p, y)[x] = float32(0.18 * math.Exp2(stops))
					}
				}
			}
			f, err := render.NewRenderer(0).Render(t.Context(), plan, src, 0)
			if err != nil {
				t.Fatal(err)
			}
			var mean [3]float64
			for p := range 3 {
				for y := range h {
					for _, v := range f.Row(p, y) {
						mean[p] += float64(v) / (w * h)
					}
				}
			}
			part := 0.0
			for y := range h {
				for x := range w {
					r, g, b := float64(f.Row(0, y)[x])-mean[0], float64(f.Row(1, y)[x])-mean[1], float64(f.Row(2, y)[x])-mean[2]
					part = max(part, math.Abs(r-g), math.Abs(g-b), math.Abs(b-r))
				}
			}
			if part > 0.025 {
				t.Errorf("%s at %+g stops: a pixel's channels part by %.3f of the range", s.ID, stops, part)
			}
		}
	}
}

// Gains by tone act as they are drawn: the deviation of density at each grey is the gain times what it is without, and means stay.
func TestGainsByTone(t *testing.T) {
	stops := []float64{-5, -4, -3, -2, -1, 0, 1, 2, 3, 4, 5}
	tones := grain.Tones{Shadows: 2.2, Mids: 0.6, Highlights: 1.5, Middle: 0.5, Reach: 3.5}
	with := []string{"negative.stock.id=percale-400", "negative.grain.amount=100", "print.medium.id=rideau"}
	plain := grainOn(t, look.Negative, 1280, stops, with...)
	shaped := grainOn(t, look.Negative, 1280, stops, append(with, "negative.grain.shadows=220", "negative.grain.mids=60", "negative.grain.highlights=150", "negative.grain.middle=0.5")...)
	for i, at := range stops {
		for p := range 3 {
			got, want := shaped.Tones[i].Deviation[p]/plain.Tones[i].Deviation[p], tones.At(at)
			if math.Abs(got/want-1) > 0.03 {
				t.Errorf("%+g stops, layer %d: the gain is %.3f, drawn %.3f", at, p, got, want)
			}
			if moved := shaped.Tones[i].Mean[p] - plain.Tones[i].Mean[p]; math.Abs(moved) > 0.002 {
				t.Errorf("%+g stops, layer %d: the mean moves by %.4f", at, p, moved)
			}
		}
	}
}

// The picture is made of clouds: a sine pattern of density loses contrast by their transfer, the closed form of scatter-and-grain, part C6.
func TestSinesThroughClouds(t *testing.T) {
	const cloud, pitch, w, h = 1.5, 3.0, 512, 64 // of Aubade's, scaled
	s, err := film.FindStock("aubade-250d")
	if err != nil {
		t.Fatal(err)
	}
	size := cloud / s.Cloud
	g := grainOf{amount: 1, sizes: [3]float64{size, size, size}}
	b := render.FilmOf(filmLook(t, "negative.stock.id=aubade-250d"))
	b.Width = pitch * w / 1000
	e := b.Exposed(render.Raster{W: w, H: h})
	filter, ok := g.cloudsOn(e).(*render.Filter)
	if !ok {
		t.Fatal("no clouds")
	}
	src := frame.New(w, h, 3)
	for _, c := range []struct{ cycles, left float64 }{{19.2, 0.9837}, {50.5, 0.8930}, {101, 0.6359}} {
		f := math.Round(c.cycles*pitch*w/1000) / w // whole waves
		want := math.Pow(c.left, math.Pow(f/(c.cycles*pitch/1000), 2))
		for y := range h {
			for x := range w {
				for p := range 3 {
					src.Row(p, y)[x] = float32(1 + 0.4*math.Cos(2*math.Pi*f*float64(x)))
				}
			}
		}
		out, err := render.Filtered(t.Context(), src, filter)
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		for x := 64; x < w-64; x++ {
			sum += (float64(out.Row(1, 32)[x]) - 1) * math.Cos(2*math.Pi*f*float64(x)) * 2 / 0.4
		}
		if got := sum / (w - 128); math.Abs(got/want-1) > 0.02 {
			t.Errorf("%.1f cycles a millimetre: %.4f of the contrast is left, closed form %.4f", c.cycles, got, want)
		}
	}
}

// A part of a picture with grain is to the bit what the whole has in that place, whatever its edges cut.
func TestPartsOfGrain(t *testing.T) {
	const w, h = 300, 200
	l := filmLook(t, "negative.gauge.id=16mm", "negative.grain.amount=100", "negative.grain.size=200", "print.medium.id=rideau")
	src := render.Still{Picture: frame.New(w, h, 3)}
	for y := range h {
		for x := range w {
			for p := range 3 {
				src.Picture.Row(p, y)[x] = float32(0.02 + 0.3*float64((x*7+y*13+p*5)%37)/37)
			}
		}
	}
	for name, compile := range map[string]func(context.Context, *look.Look, *colour.Encoding, render.Raster, look.Station) (*render.Plan, error){"quick": render.Compile, "placed": render.CompilePlaced} {
		plan, err := compile(t.Context(), l, colour.Working(), render.Raster{W: w, H: h}, look.Finish)
		if err != nil {
			t.Fatal(err)
		}
		whole, err := render.NewRenderer(0).Render(t.Context(), plan, src, 4)
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range []render.Region{{X: 0, Y: 0, W: 50, H: 40}, {X: 131, Y: 77, W: 60, H: 50}, {X: 260, Y: 150, W: 40, H: 50}, {X: 1, Y: 1, W: 298, H: 198}} {
			part, err := render.NewRenderer(1<<24).Render(t.Context(), plan.In(r), src, 4)
			if err != nil {
				t.Fatal(err)
			}
			if !equal(part, whole.Crop(r.X, r.Y, r.W, r.H)) {
				t.Errorf("%s: %+v of the picture is another picture", name, r)
			}
		}
	}
}

// The print's grain is neutral, new on every frame, and deviates as its closed form says: S·√(D + fog) of its density, through the pixel, as the
// display's code shows it (scatter-and-grain, part C5). It adds to the negative's as what is independent does.
func TestPrintGrain(t *testing.T) {
	stops := []float64{-4, -2, 0, 1}
	with := []string{"negative.stock.id=aubade-250d", "print.medium.id=rideau"}
	printed := grainOn(t, look.Finish, 1920, stops, append(with, "print.grain.amount=200", "negative.grain.amount=0")...)
	camera := grainOn(t, look.Finish, 1920, stops, append(with, "negative.grain.amount=100")...)
	both := grainOn(t, look.Finish, 1920, stops, append(with, "print.grain.amount=200", "negative.grain.amount=100")...)
	r1 := grain.Autocovariance(24900.0/1920, printCloud, 0)
	for i, tone := range printed.Tones {
		y := math.Pow(tone.Mean[1], 2.4) // BT.1886 on a black of 0
		density := -math.Log10(y)
		want := 2 * grain.Selwyn(3, printCloud) * math.Sqrt((density+printFog)/(1+printFog)) * r1 * tone.Mean[1] * math.Ln10 / 2.4
		if got := tone.Deviation[1]; math.Abs(got/want-1) > 0.04 {
			t.Errorf("%+g stops: %.5f, closed form %.5f", stops[i], got, want)
		}
		for _, c := range tone.Correlation {
			if c < 0.98 {
				t.Errorf("%+g stops: channels correlate by %.3f", stops[i], c)
			}
		}
		if got, want := both.Tones[i].Deviation[1], math.Hypot(tone.Deviation[1], camera.Tones[i].Deviation[1]); math.Abs(got/want-1) > 0.03 {
			t.Errorf("%+g stops: together %.5f, want %.5f", stops[i], got, want)
		}
	}
}

// greyGrain is the mean and the deviation of the green code of an even picture under a plan.
func greyGrain(t *testing.T, plan *render.Plan, w, h int, light float32) (mean, deviation float64) {
	t.Helper()
	src := render.Still{Picture: frame.New(w, h, 3)}
	for p := range 3 {
		for y := range h {
			for x := range w {
				src.Picture.Row(p, y)[x] = light
			}
		}
	}
	var f [2]*frame.Frame
	for i := range f {
		var err error
		if f[i], err = render.NewRenderer(0).Render(t.Context(), plan, src, 4+i); err != nil {
			t.Fatal(err)
		}
	}
	for y := 10; y < h-10; y++ {
		for x := 10; x < w-10; x++ {
			u, v := float64(f[0].Row(1, y)[x]), float64(f[1].Row(1, y)[x])
			mean, deviation = mean+(u+v)/2, deviation+(u-v)*(u-v)/2
		}
	}
	n := float64((w - 20) * (h - 20))
	return mean / n, math.Sqrt(deviation / n)
}

// Grain of clouds that are placed one by one has the deviation and the mean of the quick kind, at the end of the path.
func TestPlacedGrain(t *testing.T) {
	const w, h = 240, 120
	l := filmLook(t, "negative.stock.id=percale-400", "negative.gauge.id=super8", "negative.grain.amount=100", "print.medium.id=rideau")
	of := func(compile func(context.Context, *look.Look, *colour.Encoding, render.Raster, look.Station) (*render.Plan, error)) (mean, deviation float64) {
		plan, err := compile(t.Context(), l, colour.Working(), render.Raster{W: w, H: h}, look.Finish)
		if err != nil {
			t.Fatal(err)
		}
		return greyGrain(t, plan, w, h, 0.18)
	}
	quickMean, quick := of(render.Compile)
	placedMean, placed := of(render.CompilePlaced)
	t.Logf("quick %.4f ± %.5f, placed %.4f ± %.5f", quickMean, quick, placedMean, placed)
	if math.Abs(placed/quick-1) > 0.05 || math.Abs(placedMean-quickMean) > 0.002 {
		t.Errorf("quick %.4f ± %.5f, placed %.4f ± %.5f", quickMean, quick, placedMean, placed)
	}
}

// Grain on top deviates codes as the film's own does where its print shows the same code; what is transparent stays to the bit, and what is half so has
// half of it.
func TestGrainOnTop(t *testing.T) {
	const w, h = 480, 270
	raster := render.Raster{W: w, H: h}
	compiled := func(l *look.Look) *render.Plan {
		plan, err := render.Compile(t.Context(), l, colour.Working(), raster, look.Finish)
		if err != nil {
			t.Fatal(err)
		}
		return plan
	}
	onFilm := compiled(filmLook(t, "negative.stock.id=percale-400", "negative.gauge.id=16mm", "negative.grain.amount=100", "print.medium.id=rideau"))
	title := look.NewLook("title")
	if err := title.SetAll("finish.grain.stock=percale-400", "finish.grain.gauge=16mm"); err != nil {
		t.Fatal(err)
	}
	onTop := compiled(title)
	var codes, deviations []float64
	for stops := -5.0; stops <= 3; stops += 0.5 {
		c, d := greyGrain(t, onFilm, w, h, float32(0.18*math.Exp2(stops)))
		codes, deviations = append(codes, c), append(deviations, d)
	}
	for _, stops := range []float64{-3, -1, 0, 1, 2} {
		c, d := greyGrain(t, onTop, w, h, float32(0.18*math.Exp2(stops)))
		i := 1
		for i < len(codes)-1 && codes[i] < c {
			i++
		}
		k := (c - codes[i-1]) / (codes[i] - codes[i-1])
		want := deviations[i-1] + k*(deviations[i]-deviations[i-1])
		t.Logf("code %.3f deviates by %.5f, film by %.5f", c, d, want)
		if math.Abs(d/want-1) > 0.1 {
			t.Errorf("code %.3f deviates by %.5f, film by %.5f", c, d, want)
		}
	}
	src := render.Still{Picture: frame.New(w, h, 4)}
	for p := range 4 {
		for y := range h {
			for x := range w {
				src.Picture.Row(p, y)[x] = [4]float32{0.3, 0.2, 0.1, float32(x/160) / 2}[p]
			}
		}
	}
	render1 := func(l *look.Look) *frame.Frame {
		f, err := render.NewRenderer(0).Render(t.Context(), compiled(l), src, 4)
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	plain, with := render1(look.NewLook("title")), render1(title)
	var sums [3]float64
	for y := range h {
		for x := range w {
			d := float64(with.Row(1, y)[x] - plain.Row(1, y)[x])
			if x < 160 && d != 0 {
				t.Fatalf("the transparent pixel at %d, %d moved by %g", x, y, d)
			}
			sums[x/160] += d * d
		}
	}
	if half := math.Sqrt(sums[1] / sums[2]); math.Abs(half-0.5) > 0.03 {
		t.Errorf("half transparent pixels have %.3f of the grain of opaque ones", half)
	}
}
