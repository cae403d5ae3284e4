package film

import (
	"math"
	"testing"

	"velours/core/colour"
)

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

// Silver left in, in negative or print: greys stay neutral and mid grey at its place, contrast rises, colours pale.
func TestSilverRetention(t *testing.T) {
	d := display(t, "bt1886")
	for _, id := range []string{"aubade-250d", "lagune-50d", "serein-500t", "corail-200t"} {
		s, err := FindStock(id)
		if err != nil {
			t.Fatal(err)
		}
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
					c, own := code(p, x), code(plain, x)
					crossed := max(own[0], own[1], own[2]) - min(own[0], own[1], own[2]) // without silver
					if most := max(c[0], c[1], c[2]) - min(c[0], c[1], c[2]); most > crossed+0.02 {
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
