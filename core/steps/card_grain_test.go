package steps

import (
	"math"
	"testing"

	"velours/core/frame"
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
