package film

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"velours/core/colour"
)

func display(t testing.TB, id string) *colour.Display {
	d, err := colour.FindDisplay(id)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func positive(t testing.TB, s *Stock, m *Medium) *Positive {
	process, p := Process{Strength: 1}, (*Print)(nil)
	if m != nil {
		process = meant(s, m)
	}
	n := Develop(s, process)
	if m != nil {
		p = NewPrint(m, n)
	}
	return NewPositive(n, p, [3]float64{}, 1, Screen{Display: display(t, "bt1886"), Range: 0.5, Whites: 1, Tone: colour.DefaultTone})
}

// coloured are the stocks that hold colour.
func coloured() []*Stock {
	return slices.DeleteFunc(Stocks(), func(s *Stock) bool { return s.Mono })
}

func TestNeutralExposesAllLayersEqually(t *testing.T) {
	for _, s := range Stocks() {
		n := Develop(s, Process{Strength: 1})
		e := n.Exposure.Apply([3]float64{0.4, 0.4, 0.4})
		for _, v := range e {
			if math.Abs(v-0.4) > 1e-12 {
				t.Errorf("%s: grey exposes %v", s.ID, e)
			}
		}
		c := n.Coupling.Apply([3]float64{1, 1, 1})
		for _, v := range c {
			if math.Abs(v) > 1e-9 {
				t.Errorf("%s: interlayer effect moves greys: %v", s.ID, c)
			}
		}
	}
}

// Mid grey prints at the medium's aim, through every negative that is printed on it.
func TestMidGreyPrintsAtTheAim(t *testing.T) {
	for _, s := range append(Stocks(), Straight()) {
		for _, m := range Media() {
			if m.Direct || m.Scan {
				continue
			}
			n := Develop(s, Process{Strength: 1})
			print := NewPrint(m, n)
			lamp := print.Projector()
			over := func(y float64) float64 { return y - m.Flare*lamp[1] }
			grey, clear := over(print.Light(n.Mid(), [3]float64{})[1]), over(print.White[1])
			// a coloured base dims silver and dyes unlike, by a little
			if got := -math.Log10(grey / clear); math.Abs(got-(m.Aim-m.DMin)) > 0.012 {
				t.Errorf("%s on %s: mid grey prints at density %.4f above white, aim %.2f", s.ID, m.ID, got, m.Aim-m.DMin)
			}
		}
	}
}

// The table against the spectral computation, over colours a picture holds.
func TestTableFollowsTheSpectralPath(t *testing.T) {
	d := display(t, "bt1886")
	white := d.Gamut.White.XYZ()
	toXYZ := d.Gamut.ToXYZ()
	lab := func(c [3]float64) [3]float64 {
		return colour.Lab(toXYZ.Apply([3]float64{d.Decode(c[0]), d.Decode(c[1]), d.Decode(c[2])}), white)
	}
	for _, pair := range []struct {
		stock, medium string
		mean, worst   float64
	}{
		{"aubade-250d", "rideau", 0.1, 0.8}, {"serein-500t", "papier", 0.1, 0.8}, {"fusain-125", "rideau", 0.1, 0.8}, {"damas-800", "scan", 0.1, 0.8},
		{"trame-12", "loge", 0.1, 0.8}, {"brocart-100", "direct", 0.1, 0.8}, {"vitrail-100", "foyer", 0.1, 0.8}, {"percale-400", "direct", 0.1, 0.8},
		// reading a negative back is steep in its toe, where no picture lives for long
		{"aubade-250d", "", 0.25, 8},
	} {
		s, err := FindStock(pair.stock)
		if err != nil {
			t.Fatal(err)
		}
		var m *Medium
		if pair.medium != "" {
			if m, err = FindMedium(pair.medium); err != nil {
				t.Fatal(err)
			}
		}
		r := rand.New(rand.NewPCG(3, 3))
		p := positive(t, s, m)
		table, err := NewTable(context.Background(), p, TableSize)
		if err != nil {
			t.Fatal(err)
		}
		sum, worst, n := 0.0, 0.0, 10000
		for range n {
			k := 0.18 * math.Exp2(r.Float64()*9-5)
			dens := p.Negative.Develop([3]float64{k * (0.2 + r.Float64()), k * (0.2 + r.Float64()), k * (0.2 + r.Float64())})
			want := p.Code(dens)
			x, y, z := table.Cube.At(table.Shapers[0].At(float32(dens[0])), table.Shapers[1].At(float32(dens[1])), table.Shapers[2].At(float32(dens[2])))
			e := colour.DeltaE2000(lab(want), lab([3]float64{float64(x), float64(y), float64(z)}))
			sum += e
			worst = max(worst, e)
		}
		t.Logf("%s on %q: mean ΔE2000 %.3f, worst %.3f", pair.stock, pair.medium, sum/float64(n), worst)
		if sum/float64(n) > pair.mean || worst > pair.worst {
			t.Errorf("%s on %q: mean ΔE2000 %.3f, worst %.3f", pair.stock, pair.medium, sum/float64(n), worst)
		}
	}
}

// Without a print a straight negative gives back what the neutral scale would show.
func TestUnprintedStraightNegativeIsTransparent(t *testing.T) {
	p := positive(t, nil, nil)
	d := p.Screen.Display
	m, w := d.FromACEScg(), d.Luminance()
	for _, c := range [][3]float64{{0.18, 0.18, 0.18}, {0.5, 0.2, 0.1}, {0.02, 0.03, 0.05}, {2, 1.5, 1}} {
		got := p.Code(p.Negative.Develop(c))
		want := colour.DefaultTone.Render(c, d, 0, &m, &w)
		for i := range got {
			if math.Abs(got[i]-want[i]) > 2e-3 {
				t.Errorf("%v: %v, want %v", c, got, want)
			}
		}
	}
}

func TestLightsAndPushMoveTheRightWay(t *testing.T) {
	n := Develop(Stocks()[0], Process{Strength: 1})
	p := NewPrint(Media()[0], n)
	g := n.Grey(0)
	if a, b := p.Light(g, [3]float64{})[1], p.Light(g, [3]float64{4, 4, 4})[1]; b >= a {
		t.Errorf("more light must print darker: %g then %g", a, b)
	}
	pushed := Develop(Stocks()[0], Process{Strength: 1, Push: 1})
	a, b := n.Grey(0.6)[1]-n.Grey(0)[1], pushed.Grey(0.6)[1]-pushed.Grey(0)[1]
	if b <= a {
		t.Errorf("push must raise contrast: %g then %g", a, b)
	}
}

// D-min through a status-like view: an orange mask.
func TestNegativeIsOrange(t *testing.T) {
	for _, s := range Stocks() {
		if s.Mask == 0 {
			continue // coloured couplers alone make it
		}
		n := Develop(s, Process{Strength: 1})
		c := n.Spectrum([3]float64{})
		at := func(nm int) float64 { return c[(nm-380)/5] }
		if r, g, b := at(690), at(550), at(445); !(r < 0.25 && g > r+0.15 && b > g+0.2 && b < 1.3) {
			t.Errorf("%s: D-min %.2f %.2f %.2f", s.ID, r, g, b)
		}
	}
}

// Whatever the rating, mid grey prints at the aim: the lights are timed back.
func TestRatingIsTimedBack(t *testing.T) {
	for _, stops := range []float64{-2, -0.5, 1, 2.5} {
		n := Develop(Stocks()[0], Process{Strength: 1, Rating: stops})
		p := NewPrint(Media()[0], n)
		pos := NewPositive(n, p, [3]float64{}, 1, Screen{Display: display(t, "bt1886"), Whites: 1, Tone: colour.DefaultTone})
		grey := pos.Code(n.Develop([3]float64{0.18, 0.18, 0.18}))
		plain := positive(t, Stocks()[0], Media()[0])
		plain.Screen.Range = 0
		want := NewPositive(plain.Negative, plain.Print, [3]float64{}, 1, Screen{Display: display(t, "bt1886"), Whites: 1, Tone: colour.DefaultTone}).Code(plain.Negative.Grey(0))
		for i := range grey {
			if math.Abs(grey[i]-want[i]) > 2e-3 {
				t.Errorf("rated %+g: grey is %v, unrated %v", stops, grey, want)
				break
			}
		}
	}
}

// The interlayer effect pulls colours apart and leaves greys alone.
func TestSeparationRaisesChroma(t *testing.T) {
	d := display(t, "bt1886")
	m, white := d.Gamut.ToXYZ(), d.Gamut.White.XYZ()
	chroma := func(n *Negative, c [3]float64) float64 {
		p := NewPositive(n, NewPrint(Media()[0], n), [3]float64{}, 1, Screen{Display: d, Range: 0.5, Whites: 1, Tone: colour.DefaultTone})
		v := p.Code(n.Develop(c))
		lab := colour.Lab(m.Apply([3]float64{d.Decode(v[0]), d.Decode(v[1]), d.Decode(v[2])}), white)
		return math.Hypot(lab[1], lab[2])
	}
	for _, s := range coloured() {
		none := *s
		none.ID += " unseparated"
		none.Separation = [3][3]float64{}
		a, b := Develop(s, Process{Strength: 1}), Develop(&none, Process{Strength: 1})
		for _, c := range [][3]float64{{0.4, 0.15, 0.1}, {0.1, 0.25, 0.1}, {0.08, 0.12, 0.35}, {0.38, 0.25, 0.17}} {
			if x, y := chroma(a, c), chroma(b, c); x <= y*1.05 {
				t.Errorf("%s: %v has chroma %.1f with separation, %.1f without", s.ID, c, x, y)
			}
		}
		if x, y := chroma(a, [3]float64{0.3, 0.3, 0.3}), chroma(b, [3]float64{0.3, 0.3, 0.3}); math.Abs(x-y) > 1e-4 {
			t.Errorf("%s: a grey has chroma %.4f with separation, %.4f without", s.ID, x, y)
		}
	}
}

// Skins of four depths stay skins: hue between red-orange and yellow-orange, coloured but not loud.
func TestSkinStaysSkin(t *testing.T) {
	d := display(t, "bt1886")
	m, white := d.Gamut.ToXYZ(), d.Gamut.White.XYZ()
	for _, s := range coloured() {
		p := positive(t, s, Media()[0])
		for _, c := range [][3]float64{{0.52, 0.39, 0.30}, {0.37, 0.255, 0.18}, {0.23, 0.15, 0.105}, {0.105, 0.070, 0.052}} {
			v := p.Code(p.Negative.Develop(c))
			lab := colour.Lab(m.Apply([3]float64{d.Decode(v[0]), d.Decode(v[1]), d.Decode(v[2])}), white)
			h, k := math.Atan2(lab[2], lab[1])*180/math.Pi, math.Hypot(lab[1], lab[2])
			t.Logf("%s: L %.0f, chroma %.0f, hue %.0f°", s.ID, lab[0], k, h)
			if h < 35 || h > 80 || k < 6 || k > 50 {
				t.Errorf("%s: skin %v prints with hue %.0f° and chroma %.0f", s.ID, c, h, k)
			}
		}
	}
}

func TestCardsAreSound(t *testing.T) {
	for _, s := range Stocks() {
		for i, row := range s.Separation {
			sum, off := 0.0, 0.0
			for j, v := range row {
				sum += v
				if i != j {
					off += v
				}
			}
			if math.Abs(sum) > 1e-9 || off > 0 {
				t.Errorf("%s: row %d of the separation sums to %g", s.ID, i, sum)
			}
		}
		n := Develop(s, Process{Strength: 1})
		for l := range 3 {
			last, sign := -1.0, 1.0
			if n.Positive() {
				sign = -1
			}
			for x := -4.0; x <= 4; x += 0.05 {
				d := n.Curve(l, sign*x)
				if d < last || d > s.Layers[l].DMax+1e-3 || d < -1e-9 {
					t.Fatalf("%s: layer %d at %g has density %g after %g", s.ID, l, x, d, last)
				}
				last = d
			}
		}
	}
	if _, err := FindStock("nix"); err == nil {
		t.Error("a stock that is not there was found")
	}
	if _, err := FindMedium("nix"); err == nil {
		t.Error("a medium that is not there was found")
	}
}

// Layers hold each other back only where they develop: light that a layer does not hear at all is to the others
// as light that it hardly hears, so strong colours do not break up; in the straight part the effect is whole.
func TestTheEffectEndsInTheToe(t *testing.T) {
	for _, s := range coloured() {
		n := Develop(s, Process{Strength: 1})
		from, to := n.Developed()
		for x := from + 0.75; x < min(to-0.75, 0.9); x += 0.1 {
			if d := n.Developing(x) - x; math.Abs(d) > 0.03 {
				t.Errorf("%s: at %+.1f the others feel %+.2f", s.ID, x, x+d)
			}
		}
		deep, faint := n.Develop([3]float64{0.3, 1e-9, 1e-9}), n.Develop([3]float64{0.3, 1e-4, 1e-4})
		for i := range deep {
			if math.Abs(deep[i]-faint[i]) > 0.08 {
				t.Errorf("%s: layer %d goes from %.3f to %.3f between hardly heard and unheard light", s.ID, i, faint[i], deep[i])
			}
		}
	}
}

// Trims do what they are called: contrast is slope, a softer toe lifts the deepest tones and a softer shoulder lowers
// the brightest; separation at nothing pales primaries, and at any value greys stay to a ten-thousandth.
func TestTrims(t *testing.T) {
	for _, s := range coloured() {
		at := func(p Process) *Negative { p.Strength = 1; return Develop(s, p) }
		plain := at(Process{})
		if a, b := at(Process{Contrast: 0.2}).Measure(1).Gamma, plain.Measure(1).Gamma; math.Abs(a/b-1.2) > 0.035 {
			t.Errorf("%s: contrast 120 %% makes gamma %.3f of %.3f", s.ID, a, b)
		}
		sign := 1.0
		if plain.Positive() { // upside down
			sign = -1
		}
		if a, b := sign*at(Process{Toe: 1}).Curve(1, -1.9), sign*plain.Curve(1, -1.9); a <= b+0.005 {
			t.Errorf("%s: a softer toe has %.3f in the deep, the stock %.3f", s.ID, a, b)
		}
		if a, b := sign*at(Process{Shoulder: 1}).Curve(1, 1.8), sign*plain.Curve(1, 1.8); a >= b-0.005 {
			t.Errorf("%s: a softer shoulder has %.3f in the lights, the stock %.3f", s.ID, a, b)
		}
		for _, sep := range []float64{-1, -0.5, 0.5, 1} {
			n := at(Process{Separation: sep})
			for x := -6.0; x <= 6; x += 0.5 {
				y := 0.18 * math.Exp2(x)
				got, want := n.Develop([3]float64{y, y, y}), plain.Develop([3]float64{y, y, y})
				for i := range got {
					if math.Abs(got[i]-want[i]) > 1e-4 {
						t.Fatalf("%s: separation %+g moves grey at %+g from %v to %v", s.ID, sep, x, want, got)
					}
				}
			}
		}
		d := display(t, "bt1886")
		chroma := func(n *Negative, p Patch) float64 {
			pos := NewPositive(n, NewPrint(Media()[0], n), [3]float64{}, 1, Screen{Display: d, Range: 0.5, Whites: 1, Tone: colour.DefaultTone})
			_, c, _ := pos.Rendered(p)
			return c
		}
		none, more := at(Process{Separation: -1}), at(Process{Separation: 0.4})
		for _, p := range Patches[1:] {
			a, b, c := chroma(none, p), chroma(plain, p), chroma(more, p)
			if !(a < 0.97*b && b < c) {
				t.Errorf("%s: %s has chroma %.1f without separation, %.1f with, %.1f with more", s.ID, p.Name, a, b, c)
			}
		}
	}
}

// Silver left in, in negative or print: greys stay neutral and mid grey at its place, contrast rises, colours pale.
func TestSilverRetention(t *testing.T) {
	d := display(t, "bt1886")
	for _, s := range Stocks()[:4] {
		for _, m := range Media() {
			if len(m.Base) > 0 || m.Mono || m.Direct || m.Scan {
				continue // with colours of their own, or none
			}
			made := func(inNegative, inPrint float64) *Positive {
				n := Develop(s, Process{Strength: 1, Silver: inNegative})
				return NewPositive(n, NewPrint(m, n).With(Printing{Silver: inPrint}), [3]float64{}, 1, Screen{Display: d, Range: 0.5, Whites: 1, Tone: colour.DefaultTone})
			}
			code := func(p *Positive, stops float64) [3]float64 {
				y := 0.18 * math.Exp2(stops)
				return p.Code(p.Negative.Develop([3]float64{y, y, y}))
			}
			plain := made(0, 0)
			for _, p := range []*Positive{made(0.6, 0), made(0, 0.6)} {
				for x := -6.0; x <= 6; x++ {
					c := code(p, x)
					if most := max(c[0], c[1], c[2]) - min(c[0], c[1], c[2]); most > 0.02 {
						t.Errorf("%s on %s: grey at %+g is %v", s.ID, m.ID, x, c)
					}
				}
				a, b := code(p, 0)[1], code(plain, 0)[1]
				if math.Abs(a-b) > 0.02 {
					t.Errorf("%s on %s: mid grey goes from %.3f to %.3f", s.ID, m.ID, b, a)
				}
				if up, was := code(p, 0.5)[1]-code(p, -0.5)[1], code(plain, 0.5)[1]-code(plain, -0.5)[1]; up < 1.05*was {
					t.Errorf("%s on %s: contrast goes from %.3f to %.3f", s.ID, m.ID, was, up)
				}
				now, was := 0.0, 0.0
				for _, patch := range Patches[1:] {
					_, c, _ := p.Rendered(patch)
					now += c
					_, c, _ = plain.Rendered(patch)
					was += c
				}
				if now > 0.98*was {
					t.Errorf("%s on %s: the paints keep a chroma of %.0f of %.0f in all", s.ID, m.ID, now, was)
				}
			}
		}
	}
}

// What the densitometer reads of the film agrees with a trapezoid sum over every nanometre, computed here from the
// card's own lobes.
func TestReadAgreesWithFineIntegration(t *testing.T) {
	at := func(l []Lobe, nm float64) float64 {
		v := 0.0
		for _, k := range l {
			v += k.Height * math.Exp(-(nm-k.Peak)*(nm-k.Peak)/(2*k.Width*k.Width))
		}
		return v
	}
	for _, s := range Stocks() {
		n := Develop(s, Process{Strength: 1})
		for _, d := range [][3]float64{{0, 0, 0}, {0.8, 0.9, 1}, {1.6, 0.2, 0.4}, {0.1, 1.9, 1.2}, {2, 2, 2}} {
			got := n.Read(d)
			for band, peak := range Filters {
				passed, all, before := 0.0, 0.0, [2]float64{}
				for nm := 380.0; nm <= 780; nm++ {
					density := at(s.Base, nm)
					for i, l := range s.Layers {
						density += (1 - s.Fade[i]) * (d[i]*at(l.Dye, nm) + s.Mask*max(l.DMax-d[i], 0)*at(l.Dye[1:], nm))
					}
					ear := math.Exp(-(nm - peak) * (nm - peak) / (2 * 12 * 12))
					now := [2]float64{ear * math.Pow(10, -density), ear}
					if nm > 380 {
						passed, all = passed+(now[0]+before[0])/2, all+(now[1]+before[1])/2
					}
					before = now
				}
				if want := -math.Log10(passed / all); math.Abs(got[band]-want) > 0.005 {
					t.Errorf("%s at %v: band %d reads %.4f, integrated %.4f", s.ID, d, band, got[band], want)
				}
			}
		}
	}
}

// A push is what the card says: slope, speed, fog; and pushed by as much as it was exposed under, mid grey is where
// it was.
func TestPushIsTheCards(t *testing.T) {
	for _, s := range Stocks() {
		at := func(p Process) *Negative { p.Strength = 1; return Develop(s, p) }
		plain, pushed := at(Process{}), at(Process{Push: 1})
		for i := range s.Layers {
			if s.Reversal {
				if a, b := pushed.Curve(i, -4), plain.Curve(i, -4); math.Abs(b-a-s.Development.Fog) > 0.01 {
					t.Errorf("%s, layer %d: black goes from %.3f to %.3f, by the card it loses %.3f", s.ID, i, b, a, s.Development.Fog)
				}
				continue
			}
			a, b := pushed.Measure(i), plain.Measure(i)
			if want := 1 + s.Development.Gamma[i]; math.Abs(a.Gamma/b.Gamma-want) > 0.015 {
				t.Errorf("%s, layer %d: gamma rises by %.3f, by the card %.3f", s.ID, i, a.Gamma/b.Gamma, want)
			}
			if fog := pushed.Curve(i, -6) - plain.Curve(i, -6); math.Abs(fog-s.Development.Fog) > 0.005 {
				t.Errorf("%s, layer %d: fog rises by %.3f, by the card %.3f", s.ID, i, fog, s.Development.Fog)
			}
			// speed: where density is a tenth above fog, the slope's own share of it left out
			foot := func(n *Negative, gamma float64) float64 {
				lo, hi := -4.0, 1.0
				for range 60 {
					mid := (lo + hi) / 2
					if n.Curve(i, mid)-n.Curve(i, -7) < 0.1*gamma {
						lo = mid
					} else {
						hi = mid
					}
				}
				return lo
			}
			if gain := (foot(plain, 1) - foot(pushed, 1+s.Development.Gamma[i])) / math.Log10(2); math.Abs(gain-s.Development.Speed) > 0.03 {
				t.Errorf("%s, layer %d: a push gains %.3f stops, by the card %.3f", s.ID, i, gain, s.Development.Speed)
			}
		}
		if s.Reversal {
			continue // it is brightness there
		}
		m := Media()[0]
		code := func(n *Negative) float64 {
			p := NewPositive(n, NewPrint(m, n), [3]float64{}, 1, Screen{Display: display(t, "bt1886"), Whites: 1, Tone: colour.DefaultTone})
			return p.Code(n.Develop([3]float64{0.18, 0.18, 0.18}))[1]
		}
		for _, stops := range []float64{-1, 1, 2} {
			a, b := at(Process{Push: stops, Rating: -stops}), plain
			grey, was := code(a), code(b)
			stop := math.Abs(code(b) - func() float64 {
				p := NewPositive(b, NewPrint(m, b), [3]float64{}, 1, Screen{Display: display(t, "bt1886"), Whites: 1, Tone: colour.DefaultTone})
				return p.Code(b.Develop([3]float64{0.36, 0.36, 0.36}))[1]
			}())
			if off := math.Abs(grey-was) / stop; off > 0.1 {
				t.Errorf("%s pushed by %+g and exposed as much under: mid grey is %.2f stops off", s.ID, stops, off)
			}
		}
	}
}

// The transfer of three kinds of film, as the measured table of the model has it.
func TestSharpnessIsTheModels(t *testing.T) {
	for _, c := range []struct {
		m    Sharpness
		at   [5]float64 // 10, 20, 30, 50, 80 cycles a millimetre
		half float64
	}{
		{Sharpness{1.9, 6.5, 0.72, 0.19, 26}, [5]float64{1.109, 1.071, 0.961, 0.758, 0.545}, 87},
		{Sharpness{2.6, 9.0, 0.70, 0.26, 28}, [5]float64{1.140, 1.035, 0.872, 0.639, 0.375}, 65},
		{Sharpness{3.6, 12.5, 0.68, 0.25, 32}, [5]float64{1.093, 0.884, 0.700, 0.449, 0.165}, 46},
	} {
		for i, f := range []float64{10, 20, 30, 50, 80} {
			if got := c.m.At(f); math.Abs(got-c.at[i]) > 0.002 {
				t.Errorf("%v at %g: %.3f, want %.3f", c.m, f, got, c.at[i])
			}
		}
		if got := c.m.Half(); math.Abs(got-c.half) > 1 {
			t.Errorf("%v has fallen to a half at %.1f, want %g", c.m, got, c.half)
		}
	}
}
