package measure

import (
	"math"
	"slices"
	"testing"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/spectrum"
)

// coloured are the stocks that hold colour.
func coloured() []*film.Stock {
	return slices.DeleteFunc(film.Stocks(), func(s *film.Stock) bool { return s.Mono })
}

// twoRecords is the stock that cannot part green from blue: it is left out where every hue is asked for.
const twoRecords = "duplex-10"

// Stocks are themselves: on the reference print, mid grey matched, every pair is a ΔE2000 of 1.5 apart on average over the demo
// shots, the chart and two made pictures, 2 where their families differ, and 1 on every single picture.
func TestStocksAreApart(t *testing.T) {
	all := coloured()
	labs := make([][][][3]float64, len(all))
	for i, s := range all {
		var err error
		if labs[i], err = Reproduced(t.Context(), s, Scenes()); err != nil {
			t.Fatal(err)
		}
	}
	nearest, pair := math.Inf(1), ""
	for i, a := range all {
		for j, b := range all[:i] {
			d := Apart(labs[i], labs[j])
			mean := 0.0
			for _, v := range d {
				mean += v / float64(len(d))
			}
			need := 1.5
			if a.Family != b.Family {
				need = 2
			}
			if least := slices.Min(d); mean < need || least < 1 {
				t.Errorf("%s and %s: ΔE2000 %.2f on average, %.2f at least, picture by picture %.2f", a.ID, b.ID, mean, least, d)
			}
			if mean < nearest {
				nearest, pair = mean, a.Label+" and "+b.Label
			}
		}
	}
	t.Logf("the nearest are %s, %.2f apart", pair, nearest)
}

// Skin of every tone of the chart stays within 6° of its place about the skin line of a vectorscope, where the reference print
// has it, but where a card claims a hue for it.
func TestSkinStaysOnItsLine(t *testing.T) {
	for _, s := range coloured() {
		if slices.ContainsFunc(s.Claims, func(c film.Claim) bool { return c.Of == "skin" && c.Figure == "hue" }) {
			continue
		}
		r := reproduction(s)
		for _, p := range Groups[0].Patches {
			if off := math.Remainder(fromSkinLine(r, p)-fromSkinLine(reference(), p), 360); math.Abs(off) > 6 {
				t.Errorf("%s: skin %v lies %.1f° from its place", s.ID, p, off)
			}
		}
	}
	for _, p := range Groups[0].Patches {
		if off := fromSkinLine(reference(), p); math.Abs(off) > 9 {
			t.Errorf("the reference has skin %v %.1f° from the line", p, off)
		}
	}
}

// fromSkinLine is how far a colour lies from the skin line, in degrees on a vectorscope of BT.709.
func fromSkinLine(r reproduced, p [3]float64) float64 {
	c := r.Code(r.Negative.Develop(p))
	y := 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2]
	return math.Remainder(math.Atan2((c[0]-y)/1.5748, (c[2]-y)/1.8556)*180/math.Pi-123, 360)
}

// Along ramps of saturation and of exposure, 24 hues each, no hue breaks: its second difference is bounded where there is colour
// to see, and chroma folds back at the edge of the display's gamut by no more than the reference's does.
func TestHuesDoNotBreak(t *testing.T) {
	light := func(hue, strength, stops float64) (c [3]float64) {
		for j := range c {
			c[j] = 0.18 * math.Exp2(stops) * (1 + strength*math.Cos(2*math.Pi*(hue-float64(j)/3)))
		}
		return c
	}
	for _, s := range coloured() { // the reference first
		if s.ID == twoRecords {
			continue
		}
		r := reproduction(s)
		bend, fold := 0.0, 0.0
		check := func(labs [][3]float64, saturation bool) {
			most := 0.0
			for k, l := range labs {
				c := math.Hypot(l[1], l[2])
				if saturation {
					fold = max(fold, most-c)
					most = max(most, c)
				}
				if k > 1 && c > 12 && math.Hypot(labs[k-1][1], labs[k-1][2]) > 12 && math.Hypot(labs[k-2][1], labs[k-2][2]) > 12 {
					bend = max(bend, math.Abs(math.Remainder(hue(l)-2*hue(labs[k-1])+hue(labs[k-2]), 360)))
				}
			}
		}
		for i := range 24 {
			h := float64(i) / 24
			var rising, brighter [][3]float64
			for k := 1; k <= 19; k++ {
				rising = append(rising, r.lab(light(h, 0.05*float64(k), 0)))
				brighter = append(brighter, r.lab(light(h, 0.6, -4+0.4*float64(k))))
			}
			check(rising, true)
			check(brighter, false)
		}
		t.Logf("%s: hue bends by at most %.1f°, chroma folds by at most %.1f", s.ID, bend, fold)
		if bend > 6 || fold > 5 {
			t.Errorf("%s: hue bends by %.1f°, chroma folds by %.1f", s.ID, bend, fold)
		}
	}
}

// Blue and red at the edge of the gamut keep texture: a ripple of a tenth of the light is seen.
func TestStrongColoursKeepTexture(t *testing.T) {
	for _, s := range coloured() {
		r := reproduction(s)
		for _, c := range [][3]float64{{0.29, 0.03, 0.025}, {0.15, 0.012, 0.01}, {0.02, 0.025, 0.3}, {0.01, 0.01, 0.15}} {
			a, b := r.lab(c), r.lab([3]float64{1.1 * c[0], 1.1 * c[1], 1.1 * c[2]})
			if d := colour.DeltaE2000(a, b); d < 0.25 {
				t.Errorf("%s: a ripple of 10 %% on %v is ΔE2000 %.2f", s.ID, c, d)
			}
		}
	}
}

// Metamers, spectra that match for the eye, part on film as much as integrating them says: the exposure of a card's layers by a
// spectrum is that of a plain sum, and ten stocks or more see two greys that match as two colours.
func TestMetamersPart(t *testing.T) {
	light := spectrum.Daylight(5500)
	// an even grey, and the same with a ripple that the observer does not see: bells, less their projection on his three curves
	// under the light (Gram–Schmidt, twice for rounding)
	ripple := spectrum.Of(func(nm float64) float64 {
		return spectrum.Bell(nm, 430, 16) - spectrum.Bell(nm, 475, 16) + spectrum.Bell(nm, 520, 16) - spectrum.Bell(nm, 565, 14) + spectrum.Bell(nm, 600, 14) - spectrum.Bell(nm, 650, 18)
	})
	var basis []spectrum.Curve
	for i := range 3 {
		v := spectrum.Observer[i]
		v = v.Mul(&light)
		for range 2 {
			for _, b := range basis {
				k := v.Dot(&b) / b.Dot(&b)
				for n := range v {
					v[n] -= k * b[n]
				}
			}
		}
		basis = append(basis, v)
	}
	for range 2 {
		for _, b := range basis {
			k := ripple.Dot(&b) / b.Dot(&b)
			for n := range ripple {
				ripple[n] -= k * b[n]
			}
		}
	}
	most := 0.0
	for _, v := range ripple {
		most = max(most, math.Abs(v))
	}
	plain, rippled := spectrum.Of(func(float64) float64 { return 0.3 }), spectrum.Curve{}
	for n := range rippled {
		rippled[n] = 0.3 + 0.25*ripple[n]/most
	}
	a, b := plain.Mul(&light), rippled.Mul(&light)
	for i, v := range a.XYZ() {
		if math.Abs(b.XYZ()[i]/v-1) > 1e-6 {
			t.Fatalf("the eye sees %v and %v", a.XYZ(), b.XYZ())
		}
	}
	parted := 0
	for _, s := range coloured() {
		r := reproduction(s)
		under := s.Balance.Light()
		var labs [2][3]float64
		for k, p := range []spectrum.Curve{plain, rippled} {
			got := r.Negative.Hear(&p)
			for j, l := range s.Layers { // a plain sum
				heard, all := 0.0, 0.0
				for n := range p {
					nm, v := 380+5*float64(n), 0.0
					for _, lobe := range l.Sensitivity {
						v += lobe.Height * math.Exp(-math.Pow((nm-lobe.Peak)/lobe.Width, 2)/2)
					}
					heard, all = heard+v*under[n]*p[n], all+v*under[n]
				}
				if math.Abs(got[j]/(heard/all)-1) > 1e-9 {
					t.Fatalf("%s: layer %d hears %g, by a sum %g", s.ID, j, got[j], heard/all)
				}
			}
			d := r.Screen.Display
			labs[k] = colour.Lab(d.Gamut.ToXYZ().Apply(d.Light(r.Code(r.Negative.Expose(got)))), d.Gamut.White.XYZ())
		}
		if colour.DeltaE2000(labs[0], labs[1]) > 2 {
			parted++
		}
	}
	if parted < 10 {
		t.Errorf("metamers part on %d stocks", parted)
	}
	t.Logf("metamers part on %d stocks of %d", parted, len(coloured()))
}
