package film

import (
	"context"
	"math"
	"testing"

	"velours/core/colour"
)

// meant is the process in which a stock is printed on a medium: one that projects the film itself needs a positive.
func meant(s *Stock, m *Medium) Process {
	return Process{Strength: 1, Crossed: m.Direct && !s.Reversal}
}

// declared is the cast that a card declares for a grey, in CIE a*, b*.
func declared(casts []Cast, stops float64) (a, b float64) {
	for i, c := range casts {
		if i == 0 && stops <= c.Stops || i == len(casts)-1 && stops >= c.Stops {
			return c.A, c.B
		}
		if n := casts[min(i+1, len(casts)-1)]; stops >= c.Stops && stops < n.Stops {
			t := (stops - c.Stops) / (n.Stops - c.Stops)
			return c.A + t*(n.A-c.A), c.B + t*(n.B-c.B)
		}
	}
	return 0, 0
}

// Every stock on every medium: the grey scale is neutral, but for the cast that stock or medium declares, rises all
// the way, and has no kinks. Greys are judged against the medium's own white.
func TestGreyScaleOfAllPairs(t *testing.T) {
	d := display(t, "bt1886")
	lum := d.Luminance()
	for _, m := range Media() {
		worst, at := 0.0, ""
		for _, s := range append(Stocks(), Straight()) {
			n := Develop(s, meant(s, m))
			print := NewPrint(m, n)
			pos := NewPositive(n, print, [3]float64{}, 1, Screen{Display: d, Range: 0.5, Whites: 1, Tone: colour.DefaultTone})
			table, err := NewTable(context.Background(), pos, DraftTableSize)
			if err != nil {
				t.Fatal(err)
			}
			without := func(x [3]float64) [3]float64 { // flare
				w := print.Projector()
				for i := range x {
					x[i] -= m.Flare * w[i]
				}
				return x
			}
			white := without(print.White)
			casts, limit := s.Printed, 5.0
			switch {
			case m.Direct: // the film itself, balanced for itself
				casts = s.Cast
			case m.Mono:
				casts = nil
			case m.ID == Media()[0].ID:
				limit = 0.8
			case m.Scan: // which has no dyes that balance: what crosses shows whole
				casts, limit = nil, 24
			}
			if s == Reference() {
				limit = 0.5
				if m.Generations > 0 { // whose own ends cross a little
					limit = 3
				}
			}
			var light []float64
			for stops := -6.0; stops <= 6; stops += 0.125 {
				y := 0.18 * math.Exp2(stops)
				dens := n.Develop([3]float64{y, y, y})
				r, g, b := table.Cube.At(table.Shapers[0].At(float32(dens[0])), table.Shapers[1].At(float32(dens[1])), table.Shapers[2].At(float32(dens[2])))
				shown := d.Light([3]float64{float64(r), float64(g), float64(b)})
				light = append(light, 116*math.Cbrt(max(shown[0]*lum[0]+shown[1]*lum[1]+shown[2]*lum[2], 1e-6)))
				xyz := without(print.Light(dens, [3]float64{}))
				lab := colour.Lab(xyz, white)
				a, b2 := declared(casts, stops)
				L := lab[0] / 100
				there := (1 - math.Pow(xyz[1]/white[1], 4)) * (1 - math.Exp(-L/0.08))
				a += there * (m.Darks[0] + (m.Lights[0]-m.Darks[0])*L)
				b2 += there * (m.Darks[1] + (m.Lights[1]-m.Darks[1])*L)
				c := math.Hypot(lab[1]-a, lab[2]-b2)
				if c > worst {
					worst, at = c, s.ID
				}
				if c > limit || m.Scan && math.Abs(stops) <= 3 && c > 15 {
					t.Errorf("%s on %s: %+.2f stops, L* %.0f, has a* %.1f, b* %.1f; declared are %.1f, %.1f", s.ID, m.ID, stops, lab[0], lab[1], lab[2], a, b2)
				}
			}
			for i := range light {
				if i > 0 && light[i] < light[i-1]-1e-3 {
					t.Errorf("%s on %s: lightness falls from %.3f to %.3f at %+.2f stops", s.ID, m.ID, light[i-1], light[i], -6+float64(i)/8)
				}
				if i > 1 {
					if k := light[i] - 2*light[i-1] + light[i-2]; math.Abs(k) > 0.9 {
						t.Errorf("%s on %s: a kink of %.2f L* at %+.2f stops", s.ID, m.ID, k, -6+float64(i)/8)
					}
				}
			}
		}
		t.Logf("%s: at most %.2f from the declared grey, by %s", m.ID, worst, at)
	}
}

// Black and white are placed without a kink, for grey and for colour: with the range open the deepest shadow is
// darker but not lost, steps in it stay apart, and what is bright is where it was; no channel ends before another.
func TestBlackAndWhiteArePlacedSoftly(t *testing.T) {
	d := display(t, "bt1886")
	lum := d.Luminance()
	n := Develop(Reference(), Process{Strength: 1})
	p := NewPrint(Media()[0], n)
	light := func(blacks, whites, stops float64, tint [3]float64) [3]float64 {
		pos := NewPositive(n, p, [3]float64{}, 1, Screen{Display: d, Range: blacks, Whites: whites, Tone: colour.DefaultTone})
		y := 0.18 * math.Exp2(stops)
		return d.Light(pos.Code(n.Develop([3]float64{y * tint[0], y * tint[1], y * tint[2]})))
	}
	y := func(c [3]float64) float64 { return lum[0]*c[0] + lum[1]*c[1] + lum[2]*c[2] }
	grey := [3]float64{1, 1, 1}
	if own, open := y(light(0, 1, -8, grey)), y(light(1, 1, -8, grey)); open > 0.2*own || open <= 0 {
		t.Errorf("black is %.6f of light, opened %.6f", own, open)
	}
	if a, b := y(light(0, 1, 2, grey)), y(light(1, 1, 2, grey)); math.Abs(a/b-1) > 0.002 {
		t.Errorf("two stops over go from %.4f to %.4f", a, b)
	}
	if own, full := y(light(0, 0, 7, grey)), y(light(0, 1, 7, grey)); math.Abs(own-p.White[1]) > 0.01 || math.Abs(full-1) > 0.01 {
		t.Errorf("white is %.3f, brought to the display's %.3f; clear film passes %.3f", own, full, p.White[1])
	}
	for _, tint := range [][3]float64{grey, {1, 0.4, 0.3}, {0.3, 0.5, 1}} {
		last := 0.0
		for stops := -7.0; stops < -2; stops += 0.25 {
			c := light(1, 1, stops, tint)
			if v := y(c); v < 1.002*last {
				t.Errorf("%v at %+.2f is %.7f after %.7f", tint, stops, v, last)
			} else {
				last = v
			}
			if min(c[0], c[1], c[2]) <= 0 && max(c[0], c[1], c[2]) > 1e-3 {
				t.Errorf("%v at %+.2f ends in one channel alone: %v", tint, stops, c)
			}
		}
	}
}
