package film

import (
	"math"
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
		none.Separation, none.OneSided = [3][3]float64{}, [3][3]float64{}
		a, b := Develop(s, Process{Strength: 1}), Develop(&none, Process{Strength: 1})
		with, without := 0.0, 0.0
		for _, c := range [][3]float64{{0.4, 0.15, 0.1}, {0.1, 0.25, 0.1}, {0.08, 0.12, 0.35}, {0.38, 0.25, 0.17}} {
			with += chroma(a, c)
			without += chroma(b, c)
		}
		if with <= without*1.05 {
			t.Errorf("%s: a chroma of %.1f in all with separation, %.1f without", s.ID, with, without)
		}
		if x, y := chroma(a, [3]float64{0.3, 0.3, 0.3}), chroma(b, [3]float64{0.3, 0.3, 0.3}); math.Abs(x-y) > 1e-4 {
			t.Errorf("%s: a grey has chroma %.4f with separation, %.4f without", s.ID, x, y)
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
				if d < last || d > s.Layers[l].Top()+1e-9 || d < -1e-9 {
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
// as light to which it is hardly sensitive, so strong colours do not break up; in the straight part the effect is whole.
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
		if a, b := at(Process{Contrast: 0.2}).Measure(1).Gamma, plain.Measure(1).Gamma; math.Abs(a/b-1.2) > 0.045 {
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
		var a, b, c float64
		for _, p := range Patches[1:] {
			a, b, c = a+chroma(none, p), b+chroma(plain, p), c+chroma(more, p)
		}
		if !(a < 0.97*b && b < c) {
			t.Errorf("%s: the paints have a chroma of %.1f in all without separation, %.1f with, %.1f with more", s.ID, a, b, c)
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
			if want := 1 + s.Development.Gamma[i]; math.Abs(a.Gamma/b.Gamma-want) > 0.02 {
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
