package fit

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/register"
)

func stock(t testing.TB, id string) *film.Stock {
	t.Helper()
	s, err := film.FindStock(id)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// wedgeOf is what a densitometer with one per cent of noise reads of a card, as text.
func wedgeOf(s *film.Stock, share float64, shift float64) string {
	r := rand.New(rand.NewPCG(7, 7))
	n := film.Develop(s, film.Process{Strength: 1})
	var b strings.Builder
	b.WriteString("log exposure,red,green,blue\n")
	for i := range 41 {
		x := -2.4 + 0.12*float64(i)
		d := n.Read(n.Grey(x))
		for k := range d {
			d[k] *= 1 + share*r.NormFloat64()
		}
		fmt.Fprintf(&b, "%.3f,%.4f,%.4f,%.4f\n", x+shift, d[0], d[1], d[2])
	}
	return b.String()
}

// Wedges of cards that the fit has not seen, with one per cent of noise, come back within 0.03 of density.
func TestWedgeComesBack(t *testing.T) {
	for _, id := range []string{"damas-800", "moire-100", "trame-12", "vitrail-100", "brocart-100", "encre-400"} {
		s := stock(t, id)
		w, err := ReadWedge(strings.NewReader(wedgeOf(s, 0.01, -1)))
		if err != nil {
			t.Fatalf("%s: %v", id, err)
		}
		if w.Mono() != s.Mono || w.Positive != s.Reversal {
			t.Errorf("%s is taken for mono %v, positive %v", id, w.Mono(), w.Positive)
		}
		made, report, err := FitWedge(w, Options{ID: "own-x", Label: "X", Grey: -1})
		if err != nil {
			t.Fatalf("%s: %v", id, err)
		}
		if report.Like == s.Label {
			t.Fatalf("%s: it starts from itself", id)
		}
		a, b := film.Develop(made, film.Process{Strength: 1}), film.Develop(s, film.Process{Strength: 1})
		worst := 0.0
		for x := -2.4; x <= 2.4; x += 0.05 {
			p, q := a.Read(a.Grey(x)), b.Read(b.Grey(x))
			for k := range p {
				worst = max(worst, math.Abs(p[k]-q[k]))
			}
		}
		t.Logf("%s: worst %.4f of density; the report says rms %.4f, worst %.4f", id, worst, report.Rms, report.Worst)
		if worst > 0.03 {
			t.Errorf("%s: comes back %.3f of density off", id, worst)
		}
		if len(report.Limits) == 0 || len(report.Steps) != 41 {
			t.Errorf("%s: the report has %d limits and %d steps", id, len(report.Limits), len(report.Steps))
		}
	}
}

// A film that bends as no two softplus functions do is followed by its measured points, and the trims go through them.
func TestMeasuredPointsRefine(t *testing.T) {
	s := *stock(t, "aubade-250d")
	var b strings.Builder
	b.WriteString("log exposure;density\n")
	odd := func(x float64) float64 {
		d := film.Develop(&s, film.Process{Strength: 1}).Curve(1, x)
		return 0.2 + d + 0.12*math.Exp(-(x+0.6)*(x+0.6)/0.12)
	}
	for x := -2.2; x < 2.2; x += 0.08 {
		fmt.Fprintf(&b, "%.2f;%.4f\n", x, odd(x))
	}
	w, err := ReadWedge(strings.NewReader(b.String()))
	if err != nil {
		t.Fatal(err)
	}
	made, report, err := FitWedge(w, Options{ID: "own-odd", Label: "Odd", Grey: 0})
	if err != nil {
		t.Fatal(err)
	}
	if len(made.Layers[1].Measured) == 0 || report.Worst > 0.03 {
		t.Errorf("%d points, worst %.3f", len(made.Layers[1].Measured), report.Worst)
	}
	last := -1.0
	pushed := film.Develop(made, film.Process{Strength: 1, Push: 1, Toe: 0.5})
	for x := -3.0; x < 3; x += 0.02 {
		if d := pushed.Curve(1, x); d < last-1e-9 {
			t.Fatalf("pushed, it falls to %.4f at %.2f", d, x)
		} else {
			last = d
		}
	}
}

func TestBadWedgesSayWhy(t *testing.T) {
	good := wedgeOf(stock(t, "aubade-250d"), 0, 0)
	lines := strings.Split(good, "\n")
	swap := append([]string(nil), lines...)
	swap[20] = strings.Replace(swap[20], strings.Split(swap[20], ",")[2], "0.31", 1)
	for _, c := range []struct{ text, why string }{
		{"", "empty"},
		{strings.Replace(good, "green", "grün", 1), "no column for green"},
		{strings.Replace(good, "log exposure", "place", 1), "no column for log exposure"},
		{strings.Join(lines[:6], "\n"), "steps"},
		{strings.Join(swap, "\n"), "green falls from"},
		{lines[0] + "\n1,2\n" + strings.Join(lines[1:], "\n"), "line 2: there are 2 columns"},
		{strings.Replace(good, lines[5], "x,1,1,1", 1), `line 6: log exposure is "x"`},
		{strings.Replace(good, lines[5], lines[4], 1), "two steps"},
		{strings.Replace(good, lines[5], "-1.9,1,9,1", 1), "densities lie between"},
		{"stops,density\n" + "0,1\n1,1\n2,1\n3,1\n4,1\n5,1\n6,1\n7,1.01\n", "no developed film"},
	} {
		if _, err := ReadWedge(strings.NewReader(c.text)); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("%.40q: %v, want %q", c.text, err, c.why)
		}
	}
}

func FuzzReadWedge(f *testing.F) {
	f.Add("log exposure,red,green,blue\n-1,0.1,0.2,0.3\n")
	f.Add("stops;density\n0;1,5\n# note\n1;1,6")
	f.Add("\ufeff\"loge\"\t\"r\"\tg\tb")
	f.Fuzz(func(t *testing.T, text string) {
		w, err := ReadWedge(strings.NewReader(text))
		if err != nil {
			return
		}
		for i, s := range w.Steps {
			if i > 0 && s.LogE <= w.Steps[i-1].LogE || math.IsNaN(s.D[0]) {
				t.Errorf("step %d is %v", i, s)
			}
		}
	})
}

// chart is 8 by 6 patches of light: a grey scale, skins, and colours all around.
func chart() [][3]float64 {
	r := rand.New(rand.NewPCG(5, 9))
	var out [][3]float64
	for i := range 12 {
		y := 0.9 * math.Pow(0.62, float64(i))
		out = append(out, [3]float64{y, y, y})
	}
	for _, k := range []float64{1, 0.7, 0.4, 0.2} {
		out = append(out, [3]float64{0.52 * k, 0.37 * k, 0.27 * k})
	}
	for len(out) < 48 {
		y := 0.6 * math.Pow(r.Float64(), 1.5)
		out = append(out, [3]float64{y*(0.3+r.Float64()) + 0.01, y*(0.3+r.Float64()) + 0.01, y*(0.3+r.Float64()) + 0.01})
	}
	return out
}

// Charts through cards that the fit has not seen, with one per cent of noise on light and density: what the fit has
// seen prints within 1.5, and what it has not within 2.5.
func TestPairComesBack(t *testing.T) {
	for _, id := range []string{"damas-800", "moire-100", "vitrail-100", "tulle-400"} {
		r := rand.New(rand.NewPCG(11, 3))
		s := stock(t, id)
		n := film.Develop(s, film.Process{Strength: 1})
		var scene, read [][3]float64
		for _, e := range chart() {
			d := n.Read(n.Develop(e))
			for k := range d {
				d[k] += 0.01 * d[k] * r.NormFloat64()
				e[k] *= 1 + 0.01*r.NormFloat64()
			}
			scene, read = append(scene, e), append(read, d)
		}
		made, report, err := FitPair(scene, read, Options{ID: "own-pair", Label: "Pair"})
		if err != nil {
			t.Fatal(err)
		}
		t.Logf("%s: mean ΔE2000 %.2f, held out %.2f; density rms %.4f", id, report.Mean, report.MeanKeptOut, report.Rms)
		if report.Mean > 1.5 || report.MeanKeptOut > 2.5 {
			t.Errorf("%s: mean ΔE2000 %.2f, held out %.2f", id, report.Mean, report.MeanKeptOut)
		}
		if len(made.Claims) > 0 || len(made.Printed) > 0 {
			t.Errorf("%s: a stock of one's own claims what %s does", id, report.Like)
		}
		if made.Taking == nil || len(report.Patches) != 48 {
			t.Errorf("%s: %v, %d patches", id, made.Taking, len(report.Patches))
		}
		// against the truth, not against the noisy reading
		a := film.Develop(made, film.Process{Strength: 1})
		worst := 0.0
		for x := -1.2; x < 0.7; x += 0.1 {
			p, q := a.Read(a.Grey(x)), n.Read(n.Grey(x))
			for k := range p {
				worst = max(worst, math.Abs(p[k]-q[k]))
			}
		}
		if worst > 0.05 {
			t.Errorf("%s: its greys read %.3f off", id, worst)
		}
	}
}

// fourCorners are four corners, x and y of each.
func fourCorners(c ...float64) (out [4]Point) {
	for i := range out {
		out[i] = Point{X: c[2*i], Y: c[2*i+1]}
	}
	return out
}

// picture draws a chart seen from a little aside, with borders and noise.
func picture(patches [][3]float64, columns int, corners [4]Point, w, h int, border float32, share float64) *frame.Frame {
	rows := len(patches) / columns
	g, err := Placed(columns, rows, corners)
	if err != nil {
		panic(err)
	}
	f := frame.New(w, h, 3)
	r := rand.New(rand.NewPCG(2, 8))
	inverse := homographyInverse(g)
	for y := range h {
		for x := range w {
			p := inverse(Point{X: float64(x) + 0.5, Y: float64(y) + 0.5})
			c, q := math.Round(p.X), math.Round(p.Y)
			v := [3]float64{float64(border), float64(border), float64(border)}
			if c >= 0 && q >= 0 && c < float64(columns) && q < float64(rows) && math.Abs(p.X-c) < 0.38 && math.Abs(p.Y-q) < 0.38 {
				v = patches[int(q)*columns+int(c)]
			}
			for k := range v {
				f.Row(k, y)[x] = float32(v[k] * (1 + share*r.NormFloat64()))
			}
		}
	}
	return f
}

func homographyInverse(g *Grid) func(Point) Point {
	var from, to []Point
	for r := range g.Rows {
		for c := range g.Columns {
			from, to = append(from, g.At(float64(c), float64(r))), append(to, Point{X: float64(c), Y: float64(r)})
		}
	}
	i := &Grid{h: register.Through(from, to)}
	return func(p Point) Point { return i.At(p.X, p.Y) }
}

func TestChartsAreFound(t *testing.T) {
	patches := chart()
	for _, c := range []struct {
		name    string
		corners [4]Point
		border  float32
	}{
		{"square on", fourCorners(180, 120, 780, 120, 780, 480, 180, 480), 0.02},
		{"turned and aslant", fourCorners(200, 110, 800, 160, 770, 520, 150, 470), 0.02},
		{"on white", fourCorners(120, 80, 860, 90, 850, 500, 130, 510), 1.4},
	} {
		f := picture(patches, 8, c.corners, 960, 600, c.border, 0.01)
		g, err := Find(f)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if g.Columns != 8 || g.Rows != 6 {
			t.Errorf("%s: %d by %d patches", c.name, g.Columns, g.Rows)
			continue
		}
		for i, p := range g.Corners() {
			if math.Hypot(p.X-c.corners[i].X, p.Y-c.corners[i].Y) > 6 {
				t.Errorf("%s: corner %d at %.0f, want %.0f", c.name, i, p, c.corners[i])
			}
		}
		got, err := g.Sample(f)
		if err != nil {
			t.Fatal(err)
		}
		for i := range got {
			for k := range got[i] {
				if math.Abs(got[i][k]-patches[i][k]) > 0.01*patches[i][k]+0.002 {
					t.Errorf("%s: patch %d is %.4f, drawn as %.4f", c.name, i, got[i], patches[i])
					break
				}
			}
		}
	}
	none := frame.New(640, 360, 3)
	for y := range none.H {
		for x := range none.W {
			for k := range 3 {
				none.Row(k, y)[x] = float32(0.5 + 0.4*math.Sin(float64(x)/17)*math.Cos(float64(y)/23))
			}
		}
	}
	if g, err := Find(none); err == nil {
		t.Errorf("a chart of %d by %d was found where there is none", g.Columns, g.Rows)
	}
	if _, err := Placed(8, 6, fourCorners(0, 0, 100, 100, 100, 0, 0, 100)); err == nil {
		t.Error("corners that cross were taken")
	}
}

// A scan that leaves the base out takes that of the card it starts from: the same greys above it, and an orange film.
func TestPairAboveTheBase(t *testing.T) {
	s, from := stock(t, "tulle-400"), stock(t, "aubade-250d")
	n, like := film.Develop(s, film.Process{Strength: 1}), film.Develop(from, film.Process{Strength: 1})
	base, other := n.Read([3]float64{}), like.Read([3]float64{})
	var above [][3]float64
	for _, e := range chart() {
		d := n.Read(n.Develop(e))
		above = append(above, [3]float64{d[0] - base[0], d[1] - base[1], d[2] - base[2]})
	}
	made, report, err := FitPair(chart(), above, Options{ID: "own-above", Label: "Above", Above: true})
	if err != nil {
		t.Fatal(err)
	}
	clear := film.Develop(made, film.Process{Strength: 1}).Read([3]float64{})
	for i := range clear {
		if math.Abs(clear[i]-other[i]) > 0.06 {
			t.Errorf("its base reads %.2f, that of the other card %.2f", clear, other)
			break
		}
	}
	if report.Mean > 1 || !strings.Contains(strings.Join(report.Limits, " "), "leaves the base out") {
		t.Errorf("ΔE2000 %.2f; %v", report.Mean, report.Limits)
	}
	mono := stock(t, "mine-50")
	if _, _, err := FitPair(chart(), above, Options{ID: "x", Label: "X", Like: mono}); err == nil || !strings.Contains(err.Error(), "black and white") {
		t.Errorf("started from black and white: %v", err)
	}
}

func TestBadPairsSayWhy(t *testing.T) {
	many := chart()
	flat := make([][3]float64, len(many))
	for i := range flat {
		flat[i] = [3]float64{0.5, 0.5, 0.5}
	}
	silver := make([][3]float64, len(many))
	for i, c := range many {
		d := 1 + 0.6*math.Log10(c[1]/0.18)
		silver[i] = [3]float64{d + 0.1, d, d + 0.02}
	}
	for _, c := range []struct {
		scene, read [][3]float64
		why         string
	}{
		{many, many[:40], "48 patches in one picture and 40"},
		{many[:9], many[:9], "9 patches; colours need"},
		{flat, many, "span 0.0 stops"},
		{many, flat, "hardly changes"},
		{many, silver, "black and white on the film"},
	} {
		if _, _, err := FitPair(c.scene, c.read, Options{ID: "own-x", Label: "X"}); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("%v, want %q", err, c.why)
		}
	}
}
