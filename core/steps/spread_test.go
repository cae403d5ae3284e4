package steps

import (
	"fmt"
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// Beside a pure red lamp, silk's halo has the colour that the design states for its chroma at 0, ½ and 1 (part B4: channels
// against luminance, BT.709, within 2 %), where the halo is as large a share of the light as it was there: the figures say 0.300
// to 0.317, on a wall whose colour is that of chroma 0.
func TestChromaOfAHalo(t *testing.T) {
	const w, h = 480, 270
	to, from := colour.Convert(colour.BT709, colour.AP1), colour.Convert(colour.AP1, colour.BT709)
	const share = 0.306
	stated := map[float64][3]float64{0: {1.03, 1.00, .96}, 50: {1.46, .88, .82}, 100: {1.90, .77, .68}}
	var wall [3]float64
	for i, v := range stated[0] {
		wall[i] = 0.05 * (v - share) / (1 - share)
	}
	s := shot{name: "red lamp", n: 1, w: w, h: h, draw: func(_, x, y int) [3]float64 {
		c := wall
		if math.Hypot(float64(x)-240, float64(y)-135) < 6 {
			c = [3]float64{60, 60 * .06, 60 * .03}
		}
		return to.Apply(c)
	}}
	luma := func(c [3]float64) float64 { return .2126*c[0] + .7152*c[1] + .0722*c[2] }
	render := func(chroma float64) *frame.Frame {
		return s.frames(t, lookOf(t, "lens.diffusion.family=silk", "lens.diffusion.grade=1", "lens.diffusion.compensate=0", fmt.Sprint("lens.diffusion.chroma=", chroma)), 0)[0]
	}
	// the place where the lamp makes that share of the light
	var at [2]int
	best := 1.0
	whole := render(100)
	for y := range h {
		for x := range w {
			l := luma(from.Apply(whole.At(x, y)))
			if d := math.Abs((l-luma(wall))/l - share); d < best && math.Hypot(float64(x)-240, float64(y)-135) > 8 {
				at, best = [2]int{x, y}, d
			}
		}
	}
	for chroma, want := range stated {
		c := from.Apply(render(chroma).At(at[0], at[1]))
		y := luma(c)
		for i := range c {
			if got := c[i] / y; math.Abs(got/want[i]-1) > 0.02 {
				t.Errorf("chroma %g: channel %d is %.3f of the luminance, want %.2f", chroma, i, got, want[i])
			}
		}
	}
}

// Stretched halos are as many times longer than high, within 2 %, and hold the same light, however they are turned.
func TestStretchedGlow(t *testing.T) {
	const w = 600
	s := shot{name: "point", n: 1, w: w, h: w, draw: func(_, x, y int) [3]float64 {
		if x == w/2 && y == w/2 {
			return [3]float64{100, 100, 100}
		}
		return [3]float64{}
	}}
	for _, c := range []struct {
		sets []string
		turn float64
	}{
		{[]string{"lens.diffusion.family=mist", "lens.diffusion.grade=1", "lens.diffusion.aspect=%g", "lens.diffusion.compensate=0"}, 0},
		{[]string{"lens.diffusion.family=silk", "lens.diffusion.grade=1", "lens.diffusion.aspect=%g", "lens.diffusion.turn=30", "lens.diffusion.compensate=0"}, 30},
		{[]string{"lens.bloom.amount=60", "lens.bloom.radius=1.5", "lens.bloom.aspect=%g", "lens.bloom.turn=-60"}, -60},
	} {
		for _, aspect := range []float64{1, 2, 4} {
			var sets []string
			for _, set := range c.sets {
				if set == "lens.bloom.aspect=%g" || set == "lens.diffusion.aspect=%g" {
					set = fmt.Sprintf(set, aspect)
				}
				sets = append(sets, set)
			}
			f := s.frames(t, lookOf(t, sets...), 0)[0]
			sin, cos := math.Sincos(c.turn * math.Pi / 180)
			var along, across, light float64
			for y := range w {
				for x := range w {
					v := float64(f.Row(1, y)[x])
					dx, dy := float64(x-w/2), float64(y-w/2)
					u, n := dx*cos+dy*sin, dy*cos-dx*sin
					light += v
					along += v * u * u
					across += v * n * n
				}
			}
			ratio := math.Sqrt(along / across)
			t.Logf("%s %g: %.3f, light %.4f", c.sets[0], aspect, ratio, light/100)
			if math.Abs(ratio/aspect-1) > 0.02 || math.Abs(light/100-1) > 0.01 {
				t.Errorf("%v, aspect %g: %.3f times as long, %.4f of the light", c.sets, aspect, ratio, light/100)
			}
		}
	}
}

// Below the knee nothing changes, to the bit; a lamp that rises through it adds light without a step.
func TestLightComesInOverTheKnee(t *testing.T) {
	const w, h = 160, 90
	lampOf := func(stops float64) shot {
		return shot{name: fmt.Sprint("rising lamp ", stops), n: 1, w: w, h: h, draw: func(_, x, y int) [3]float64 {
			if math.Hypot(float64(x)-80, float64(y)-45) < 5 {
				v := 0.18 * math.Exp2(stops)
				return [3]float64{v, v, 0.8 * v}
			}
			return [3]float64{0.01, 0.02, 0.01}
		}}
	}
	for _, kind := range []string{"lens.bloom", "negative.halation"} {
		sets := []string{kind + ".amount=100", kind + ".from=4", kind + ".knee=2"}
		if kind == "negative.halation" {
			sets = append(sets, "negative.stock.id=serein-500t", kind+".backing=30")
		}
		l := lookOf(t, sets...)
		off := l.Clone()
		path, err := look.ParseStepPath(kind)
		if err != nil {
			t.Fatal(err)
		}
		off.Step(path.Station, path.Name).On = false
		if s := lampOf(1.95); !equal(s.exposed(t, l), s.exposed(t, off)) {
			t.Errorf("%s: something changes below the knee", kind)
		}
		var share []float64 // of the lamp's light that spreads
		for n := range 48 {
			stops := 1 + 6*float64(n)/47
			s := lampOf(stops)
			a, b := s.exposed(t, l), s.exposed(t, off)
			sum := 0.0
			for y := range h {
				for x := range w {
					if math.Hypot(float64(x)-80, float64(y)-45) > 6 {
						sum += float64(a.Row(0, y)[x] - b.Row(0, y)[x])
					}
				}
			}
			share = append(share, sum/math.Exp2(stops))
		}
		top := share[len(share)-1]
		if top <= 0 || share[0] != 0 {
			t.Fatalf("%s: it adds %g below and %g above", kind, share[0], top)
		}
		for n := 1; n+1 < len(share); n++ {
			// a smooth knee of 2 stops in steps of 6/47 bends by at most 6·(6/47/2)²
			if d := math.Abs(share[n+1]-2*share[n]+share[n-1]) / top; d > 0.03 {
				t.Errorf("%s: a step of %.3f at frame %d", kind, d, n)
			}
		}
	}
}

// A matte on the source lets only its light spread, and that goes wherever it goes: outside there is as much of it as if the
// other lamps were not there. A matte on the result keeps all of it inside.
func TestMattesOnSourceAndOnResult(t *testing.T) {
	const w, h = 320, 180
	lamps := func(both bool) shot {
		return shot{name: fmt.Sprint("lamps", both), n: 1, w: w, h: h, draw: func(_, x, y int) [3]float64 {
			if math.Hypot(float64(x)-130, float64(y)-90) < 5 || both && math.Hypot(float64(x)-220, float64(y)-90) < 5 {
				return [3]float64{50, 45, 30}
			}
			return [3]float64{}
		}}
	}
	left := &look.MattePart{Kind: "rectangle", Settings: map[string]any{"x": 25.0, "y": 50.0, "a": 24.0, "b": 40.0, "in": 0.0, "out": 0.0}}
	for _, sets := range [][]string{
		{"lens.bloom.amount=100", "lens.bloom.radius=3"},
		{"lens.diffusion.grade=2", "lens.diffusion.family=silk", "lens.diffusion.compensate=0"},
		{"negative.halation.backing=20", "negative.halation.amount=300", "negative.stock.id=serein-500t", "negative.gauge.id=super16"},
	} {
		l := lookOf(t, sets...)
		path, _ := look.ParseStepPath(sets[0][:len("lens.bloom")])
		if sets[0][:4] == "nega" {
			path = look.StepPath{Station: look.Negative, Name: "halation"}
		} else if sets[0][5] == 'd' {
			path = look.StepPath{Station: look.Lens, Name: "diffusion"}
		}
		off := l.Without(path.Station, path.Name)
		added := func(l *look.Look, s shot, outside bool) (sum float64) {
			a, b := s.exposed(t, l), s.exposed(t, off)
			for y := range h {
				for x := range w {
					if outside == (float64(x) >= 0.49*w) {
						sum += float64(a.Row(0, y)[x] - b.Row(0, y)[x])
					}
				}
			}
			return sum
		}
		alone := added(l, lamps(false), true)
		masked := l.Clone()
		name := "left"
		masked.SetMatte(name, &look.Matte{Parts: []*look.MattePart{left}})
		step := masked.Step(path.Station, path.Name)
		step.Matte, step.Source = &name, true
		if err := masked.Check(); err != nil {
			t.Fatal(err)
		}
		source := added(masked, lamps(true), true)
		step.Source = false
		result := added(masked, lamps(true), true)
		kept, whole := lamps(true).exposed(t, masked), lamps(true).exposed(t, l)
		for _, at := range [][2]int{{40, 90}, {120, 60}, {130, 90}, {145, 100}} {
			if a, b := kept.At(at[0], at[1]), whole.At(at[0], at[1]); math.Abs(a[0]-b[0]) > 1e-5*b[0] {
				t.Errorf("%v: inside, at %v, a matte on the result leaves %v of %v", path, at, a, b)
			}
		}
		t.Logf("%v: outside the matte, of the one lamp %.4f, with its matte on the source %.4f, on the result %.6f", path, alone, source, result)
		if alone <= 0 || math.Abs(source/alone-1) > 0.01 {
			t.Errorf("%v: a matte on the source adds %.4f outside, the lamp alone %.4f", path, source, alone)
		}
		if math.Abs(result) > 1e-5*alone {
			t.Errorf("%v: a matte on the result adds %.6f outside", path, result)
		}
	}
}

// Spots smaller than a size do not feed a bloom; a lamp of the same brightness does.
func TestSpotsAreLeftOut(t *testing.T) {
	const w, h = 480, 270
	of := func(radius float64) (with, without float64) {
		s := shot{name: fmt.Sprint("spot", radius), n: 1, w: w, h: h, draw: func(_, x, y int) [3]float64 {
			if math.Hypot(float64(x)-240, float64(y)-135) < radius {
				return [3]float64{20, 20, 20}
			}
			return [3]float64{0.05, 0.05, 0.05}
		}}
		added := func(detail float64) float64 {
			f := s.frames(t, lookOf(t, "lens.bloom.amount=80", "lens.bloom.radius=2", fmt.Sprint("lens.bloom.detail=", detail)), 0)[0]
			sum := 0.0
			for y := range h {
				for x := range w {
					if math.Hypot(float64(x)-240, float64(y)-135) > radius+1 {
						sum += float64(f.Row(1, y)[x]) - 0.05
					}
				}
			}
			return sum
		}
		return added(1), added(0)
	}
	if with, without := of(1); with > 0.1*without { // 0.4 % of the width across
		t.Errorf("a small spot adds %.3f of %.3f", with, without)
	}
	if with, without := of(12); with < 0.9*without {
		t.Errorf("a lamp adds %.3f of %.3f", with, without)
	}
}

// What stays away stays away: dark places keep their light where darks are held, cores theirs; and the light between does not
// care.
func TestHolds(t *testing.T) {
	s := stage(320)
	src, err := s.Frame(ctx, 0)
	if err != nil {
		t.Fatal(err)
	}
	// black patch, grey card, lamp
	places := [][2]int{{80, 96}, {120, 110}, {64, 32}}
	for _, c := range []struct {
		set  string
		held [3]bool
	}{
		{"lens.bloom.darks=0", [3]bool{}},
		{"lens.bloom.darks=100", [3]bool{true, false, false}},
		{"lens.bloom.cores=100", [3]bool{false, false, true}},
	} {
		f := s.frames(t, lookOf(t, "lens.bloom.amount=80", "lens.bloom.radius=3", c.set), 0)[0]
		for i, at := range places {
			a, b := f.At(at[0], at[1])[1], src.At(at[0], at[1])[1]
			if (math.Abs(a/b-1) < 1e-3) != c.held[i] {
				t.Errorf("%s: at %v %.4f becomes %.4f", c.set, at, b, a)
			}
		}
	}
}

// A look is the same at every raster, in the mean: every kind that spreads light, at 640, 1920 and 3840 pixels, within ΔE 1.
func TestSpreadIsOfTheFilmNotOfThePixels(t *testing.T) {
	if testing.Short() {
		t.Skip("pictures of 3840 pixels")
	}
	widths := []int{640, 1920, 3840}
	drawn := map[int]*frame.Frame{}
	for _, w := range widths {
		f, err := stage(w).Frame(ctx, 0)
		if err != nil {
			t.Fatal(err)
		}
		drawn[w] = f
	}
	for _, sets := range [][]string{
		{"lens.bloom.amount=60", "lens.bloom.from=1", "lens.bloom.near-tint=40", "lens.bloom.aspect=2", "lens.bloom.darks=50"},
		{"lens.diffusion.family=net", "lens.diffusion.grade=1", "lens.diffusion.turn=25"},
		{"lens.diffusion.family=veil", "lens.diffusion.grade=1", "lens.diffusion.warmth=100", "lens.diffusion.blacks=50"},
		{"negative.halation.amount=200", "negative.halation.backing=30", "negative.halation.hue=20", "negative.halation.far=200", "negative.halation.cores=50"},
		{"lens.haze.amount=10", "lens.haze.tint=20", "lens.dirt.amount=30", "lens.dirt.smears=50", "lens.distortion.amount=-5"},
		{"lens.flare.veil=20", "lens.flare.streaks=20", "lens.flare.rays=3", "lens.flare.ghosts=30", "lens.flare.lamp=10", "lens.focus.radius=0.8", "lens.fringe.lateral=0.1", "lens.fringe.axial=0.05"},
	} {
		l := filmLook(t, sets...)
		var first *frame.Frame
		for _, w := range widths {
			p, err := render.Compile(ctx, l, colour.Working(), render.Raster{W: w, H: w * 9 / 16}, look.Finish)
			if err != nil {
				t.Fatal(err)
			}
			f, err := render.NewRenderer(0).Render(ctx, p, given{drawn[w]}, 0)
			if err != nil {
				t.Fatal(err)
			}
			if f, err = frame.Each(ctx, f, p.Display.Light); err != nil { // scaled in light, as an eye does
				t.Fatal(err)
			}
			small, err := frame.Scale(ctx, f, 160, 90)
			if err != nil {
				t.Fatal(err)
			}
			if first == nil {
				first = small
				continue
			}
			d := meanDifference(p.Display, first, small)
			t.Logf("%v at %d: mean ΔE %.3f", sets, w, d)
			if d > 1 {
				t.Errorf("%v at %d: mean ΔE %.3f", sets, w, d)
			}
		}
	}
}

// meanDifference is the mean ΔE2000 of two pictures of light on a display.
func meanDifference(d *colour.Display, a, b *frame.Frame) float64 {
	m, white := d.Gamut.ToXYZ(), d.Gamut.White.XYZ()
	sum := 0.0
	for y := range a.H {
		for x := range a.W {
			sum += colour.DeltaE2000(colour.Lab(m.Apply(a.At(x, y)), white), colour.Lab(m.Apply(b.At(x, y)), white))
		}
	}
	return sum / float64(a.W*a.H)
}
