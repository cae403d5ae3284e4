package measure

import (
	"fmt"
	"math"
	"slices"
)

// feature is one thing that a picture's colours come to, whatever the scene; known tells that there is enough to say it by.
type feature struct {
	value float64
	known bool
}

// tones are the shares of a picture's lightnesses that are read, from black to white.
var tones = []float64{0.01, 0.05, 0.15, 0.3, 0.5, 0.7, 0.85, 0.95, 0.99}

// A sector is a range of hues of CIELAB, in degrees, by the name that its colours have.
type sector struct {
	name     string
	from, to float64
}

// sectors go once round; skins, which lie among reds and yellows, are told apart by being pale.
var sectors = []sector{{"red", -15, 40}, {"orange", 40, 75}, {"yellow", 75, 105}, {"green", 105, 185}, {"sky", 185, 285}, {"purple", 285, 345}}

// greyish is the chroma under which a colour counts as neutral, sectorLeast the share of a picture that a sector needs to be read.
const greyish, sectorLeast = 8.0, 0.01

func (s sector) holds(lab [3]float64) bool {
	return math.Hypot(lab[1], lab[2]) >= greyish && math.Mod(hue(lab)-s.from+720, 360) < s.to-s.from
}

// featuresOf reads a picture: its lightnesses, the cast of its least colourful parts by tone, and how colourful, light and turned its
// colours are, hue by hue. Units are those of ΔE, roughly.
func featuresOf(labs [][3]float64) []feature {
	light := make([]float64, len(labs))
	for i, c := range labs {
		light[i] = c[0]
	}
	slices.Sort(light)
	var out []feature
	for _, t := range tones {
		out = append(out, feature{light[int(t*float64(len(light)-1)+0.5)], true})
	}
	for _, band := range [3][2]float64{{0, 30}, {30, 60}, {60, 101}} {
		var in [][3]float64
		for _, c := range labs {
			if c[0] >= band[0] && c[0] < band[1] {
				in = append(in, c)
			}
		}
		slices.SortFunc(in, func(a, b [3]float64) int {
			return int(1000 * (math.Hypot(a[1], a[2]) - math.Hypot(b[1], b[2])))
		})
		in = in[:(len(in)+3)/4]
		var a, b float64
		for _, c := range in {
			a, b = a+c[1]/float64(len(in)), b+c[2]/float64(len(in))
		}
		known := len(in) >= 3 && math.Hypot(a, b) < 2*greyish
		out = append(out, feature{2 * a, known}, feature{2 * b, known})
	}
	for _, s := range sectors {
		var chroma, turn, lightness, n float64
		for _, c := range labs {
			if s.holds(c) {
				k := math.Hypot(c[1], c[2])
				chroma, turn, lightness, n = chroma+k, turn+math.Mod(hue(c)-s.from+720, 360), lightness+c[0], n+1
			}
		}
		known := n >= sectorLeast*float64(len(labs)) && n > 1
		n = max(n, 1)
		out = append(out, feature{0.7 * chroma / n, known}, feature{0.35 * turn / n, known}, feature{0.5 * lightness / n, known})
	}
	return out
}

// missed are the differences of the features that a reference has; one that is not there is as far off as it is large.
func missed(got, want []feature) []float64 {
	out := make([]float64, 0, len(got)+4)
	for i, g := range got {
		switch {
		case !want[i].known:
		case !g.known:
			out = append(out, want[i].value)
		default:
			out = append(out, g.value-want[i].value)
		}
	}
	return out
}

// Difference is what remains between a film and a reference: of which colours, and in which Figure, "hue" in degrees of CIELAB,
// "chroma" in per cent, "lightness" in L*, "a" and "b" of greys.
type Difference struct {
	Of     string  `json:"of"`
	Figure string  `json:"figure"`
	Value  float64 `json:"value"`
}

// greyTones are the tones of which casts and lightness are told, as ranges of L*.
var greyTones = []struct {
	name     string
	from, to float64
}{{"shadows", 3, 30}, {"mid tones", 30, 62}, {"whites", 62, 101}}

// differences are what a person would say of a picture against a reference, the largest first. Hues are judged by how far they carry a
// colour, so that a turn of what is pale counts less.
func differences(got [][3]float64, ref *Reference) []Difference {
	type told struct {
		Difference
		size float64
	}
	var all []told
	add := func(of, figure string, value, size, least float64) {
		if math.Abs(size) >= least {
			all = append(all, told{Difference{of, figure, value}, math.Abs(size) / least})
		}
	}
	where := func(holds func(lab [3]float64) bool, labs [][3]float64) (at []int) {
		for i, c := range labs {
			if holds(c) {
				at = append(at, i)
			}
		}
		return at
	}
	mean := func(labs [][3]float64, at []int) (m [3]float64) {
		for _, i := range at {
			for k, v := range labs[i] {
				m[k] += v / float64(len(at))
			}
		}
		return m
	}
	compare := func(holds func(lab [3]float64) bool) (a, b [3]float64, ok bool) {
		own, theirs := where(holds, ref.Lab), where(holds, got)
		if ref.Same {
			theirs = own
		}
		if len(own) < 3 || len(theirs) < 3 {
			return a, b, false
		}
		return mean(got, theirs), mean(ref.Lab, own), true
	}
	for _, s := range sectors {
		a, b, ok := compare(s.holds)
		if !ok {
			continue
		}
		was, is := math.Hypot(b[1], b[2]), math.Hypot(a[1], a[2])
		turn := math.Remainder(hue(a)-hue(b), 360)
		add(s.name, "hue", turn, turn*was*math.Pi/180, 1.2)
		add(s.name, "chroma", 100*(is/was-1), is-was, 1.5)
		add(s.name, "lightness", a[0]-b[0], a[0]-b[0], 2.5)
	}
	for _, t := range greyTones {
		in := func(lab [3]float64) bool { return lab[0] >= t.from && lab[0] < t.to }
		a, b, ok := compare(func(lab [3]float64) bool { return in(lab) && math.Hypot(lab[1], lab[2]) < 1.5*greyish })
		if !ok {
			continue
		}
		add(t.name, "a", a[1]-b[1], a[1]-b[1], 1)
		add(t.name, "b", a[2]-b[2], a[2]-b[2], 1)
		if ref.Same { // of another scene, lightness is the scene's
			add(t.name, "lightness", a[0]-b[0], a[0]-b[0], 1.5)
		}
	}
	slices.SortStableFunc(all, func(a, b told) int { return int(1000 * (b.size - a.size)) })
	var out []Difference
	for _, d := range all[:min(len(all), 4)] {
		out = append(out, d.Difference)
	}
	return out
}

// Words are a difference in plain words: what the film's colours are against the reference's.
func (d Difference) Words() string {
	of := d.Of
	if p := plural[of]; p != "" {
		of = p
	}
	side := func(less, more string) string {
		if d.Value < 0 {
			return less
		}
		return more
	}
	size := math.Abs(d.Value)
	switch d.Figure {
	case "hue":
		return fmt.Sprintf("%s %s, by %.0f°", of, side(towards[d.Of][0], towards[d.Of][1]), size)
	case "chroma":
		return fmt.Sprintf("%s %s, by %.0f %%", of, side("paler", "fuller"), size)
	case "a":
		return of + " " + side("greener", "rosier")
	case "b":
		return of + " " + side("bluer", "yellower")
	}
	return fmt.Sprintf("%s %s, by %.0f L*", of, side("darker", "lighter"), size)
}
