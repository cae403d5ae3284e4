package steps

import (
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/frame"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/noise"
	"velours/core/render"
)

// knownCard is a card for tests: coloured, of soft spots, more of it in the middle, held on twos.
func knownCard(t *testing.T) *noise.Card {
	t.Helper()
	c := &noise.Card{Velours: noise.CardVersion, ID: "night-1", Label: "Night", Codes: "bt1886", Width: 640, Correlation: [3]float64{0.6, 0.6, 0.36}, Hold: 2,
		Tones: []float64{0.1, 0.5, 0.9}, Deviation: [][3]float64{{0.01, 0.008, 0.012}, {0.03, 0.024, 0.036}, {0.015, 0.012, 0.018}}, Spot: [3]float64{0.8, 0.8, 0.8}}
	for i := range 3 {
		for k := range 10 { // of a Gaussian kernel of 0.8 pixels
			c.Across[i] = append(c.Across[i], math.Exp(-float64(k*k)/(4*0.64)))
		}
		c.Down[i] = c.Across[i]
	}
	noise.Know(c)
	t.Cleanup(func() { noise.Forget(c.ID) })
	return c
}

// Grain that follows a card measures like it, on top of a picture and in place of the negative's own: deviation in every zone, how channels go together, how
// neighbours do, and for how many frames.
func TestGrainFollowsACard(t *testing.T) {
	card := knownCard(t)
	const w, h = 640, 360
	// greys, dark to bright, as code values of the display
	ramp := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			row := ramp.Row(p, y)
			for x := range row {
				row[x] = 0.1 + 0.8*float32(x)/w
			}
		}
	}
	for _, set := range [][]string{{"finish.grain.card=night-1"}, {"negative.grain.of=night-1"}} {
		l := look.NewLook("x")
		if err := l.SetAll(set...); err != nil {
			t.Fatal(err)
		}
		r := render.NewRenderer(0)
		plan := planOf(t, l, w, h)
		var frames []*frame.Frame
		for n := range 8 {
			f, err := r.Render(t.Context(), plan, given{ramp}, n)
			if err != nil {
				t.Fatal(err)
			}
			frames = append(frames, f)
		}
		m, err := noise.Measure(t.Context(), frames, noise.Options{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		worst := 0.0
		for _, z := range m.Zones {
			want := card.At(z.Mean)
			for c := range want {
				worst = max(worst, math.Abs(z.Deviation[c]/want[c]-1))
			}
		}
		t.Logf("%s: zones off by %.1f %% at most, channels correlate by %.2f, spots of %.2f pixels, held for %d", set[0], 100*worst, m.Correlation, m.Spot(1), m.Hold)
		if worst > 0.1 {
			t.Errorf("%s: a zone is off by %.1f %%", set[0], 100*worst)
		}
		for i, want := range card.Correlation {
			if math.Abs(m.Correlation[i]-want) > 0.05 {
				t.Errorf("%s: channels correlate by %.2f, not %.2f", set[0], m.Correlation[i], want)
			}
		}
		if math.Abs(m.Spot(1)-0.8) > 0.05 || m.Hold != 2 {
			t.Errorf("%s: spots of %.2f pixels, held for %d", set[0], m.Spot(1), m.Hold)
		}
	}
	// white noise stays white
	if c := cardCloud([3][]float64{{1, 0, 0}, {1, 0, 0}, {1, 0, 0}}); c > 0.06 {
		t.Errorf("white noise has clouds of %.2f pixels", c)
	}
}

// A card may say what no film does: the picture stays one of code values.
func TestWildCards(t *testing.T) {
	grey := frame.New(200, 40, 3)
	for p := range 3 {
		for y := range grey.H {
			row := grey.Row(p, y)
			for x := range row {
				row[x] = float32(x) / 200
			}
		}
	}
	for _, width := range []int{64, 65536} {
		for _, rho := range []float64{-1, 0, 1} {
			for _, d := range []float64{0, 1} {
				c := &noise.Card{Velours: noise.CardVersion, ID: "wild", Width: width, Tones: []float64{0.5}, Deviation: [][3]float64{{d, d, d}}, Correlation: [3]float64{rho, rho, rho}, Hold: 1000}
				for i := range 3 {
					c.Across[i], c.Down[i] = []float64{1, rho, rho, rho}, []float64{1, -rho}
				}
				if _, err := noise.ParseCard(c.JSON()); err != nil {
					t.Fatal(err)
				}
				for _, w := range []int{64, 8192} {
					op := cardGrain(c, render.Raster{W: w, H: 40}, 3, 3, grain.Motion{}, 1)
					out := grey.Clone()
					columns := op.Columns(0, 0, out.W, 0)
					for y := range out.H {
						columns(y, [3][]float32{out.Row(0, y), out.Row(1, y), out.Row(2, y)})
					}
					for p := range 3 {
						for y := range out.H {
							for x, v := range out.Row(p, y) {
								if !(v >= 0 && v <= 1) {
									t.Fatalf("width %d on %d, correlation %g, deviation %g: sample %d, %d is %g", width, w, rho, d, x, y, v)
								}
							}
						}
					}
				}
			}
		}
	}
}

// Channels deviate by codes of their own, on a picture of reds, greens, blues and greys: a card of it, followed on the same picture, gives each colour what it
// had, within 11 %. A card that goes by luminance alone does not.
func TestACardOfColours(t *testing.T) {
	const w, h, bars = 640, 360, 8
	// what a channel deviates by at a code of its own: most in the middle
	deviation := func(code float64) float64 { return 0.006 + 0.1*code*(1-code) }
	colours := [bars][3]float64{{0.75, 0.15, 0.12}, {0.2, 0.2, 0.2}, {0.15, 0.6, 0.2}, {0.5, 0.5, 0.5}, {0.12, 0.18, 0.7}, {0.8, 0.8, 0.8}, {0.85, 0.75, 0.1}, {0.3, 0.1, 0.4}}
	plain := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			row := plain.Row(p, y)
			for x := range row {
				row[x] = float32(colours[x*bars/w][p])
			}
		}
	}
	random := rand.New(rand.NewPCG(3, 4))
	var clip []*frame.Frame
	for range 6 {
		f := plain.Clone()
		for p := range 3 {
			for y := range h {
				row := f.Row(p, y)
				for x, v := range row {
					row[x] = v + float32(deviation(float64(v))*random.NormFloat64())
				}
			}
		}
		clip = append(clip, f)
	}
	m, err := noise.Measure(t.Context(), clip, noise.Options{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	card := m.Card("colours", "Colours", "a test", "bt1886", w)
	if c, err := noise.ParseCard(card.JSON()); err != nil || len(c.Own) != 3 {
		t.Fatalf("the card comes back with %d laws: %v", len(c.Own), err)
	}
	laws := card.Own
	// how far any bar is off, of the codes that were measured
	off := func(card *noise.Card) float64 {
		op := cardGrain(card, render.Raster{W: w, H: h}, 1, 1, grain.Motion{}, 1)
		out := plain.Clone()
		columns := op.Columns(0, 0, w, 0)
		for y := range h {
			columns(y, [3][]float32{out.Row(0, y), out.Row(1, y), out.Row(2, y)})
		}
		worst := 0.0
		for bar, colour := range colours {
			for p, code := range colour {
				if code < laws[p].From || code > laws[p].To { // where the law goes on as it ends
					continue
				}
				sum, n := 0.0, 0.0
				for y := range h {
					for _, v := range out.Row(p, y)[bar*w/bars+4 : (bar+1)*w/bars-4] {
						d := float64(v) - code
						sum, n = sum+d*d, n+1
					}
				}
				worst = max(worst, math.Abs(math.Sqrt(sum/n)/deviation(code)-1))
			}
		}
		return worst
	}
	own := off(card)
	card.Own = nil
	luminance := off(card)
	t.Logf("by own codes off by %.1f %% at most, by luminance %.1f %%", 100*own, 100*luminance)
	if own > 0.11 || luminance < 0.25 {
		t.Errorf("by own codes off by %.1f %% at most, by luminance %.1f %%", 100*own, 100*luminance)
	}
}
