package main

import (
	"encoding/xml"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/frame"
	"velours/media"
)

// patches are 48 lights: greys, skins and paints.
func patches() [][3]float64 {
	r := rand.New(rand.NewPCG(21, 4))
	var out [][3]float64
	for i := range 14 {
		y := 0.95 * math.Pow(0.64, float64(i))
		out = append(out, [3]float64{y, y, y})
	}
	for len(out) < 48 {
		y := 0.55 * math.Pow(r.Float64(), 1.3)
		out = append(out, [3]float64{y*(0.3+r.Float64()) + 0.01, y*(0.3+r.Float64()) + 0.01, y*(0.3+r.Float64()) + 0.01})
	}
	return out
}

// drawChart writes a chart of 8 by 6 patches on a dark board into a file.
func drawChart(t *testing.T, file string, depth int, colours [][3]float64, board float64) {
	t.Helper()
	const w, h, x0, y0, step = 640, 400, 90, 50, 58
	f := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			v := [3]float64{board, board, board}
			if c, r := (x-x0)/step, (y-y0)/step; x >= x0 && y >= y0 && c < 8 && r < 6 && (x-x0)%step > 7 && (y-y0)%step > 7 {
				v = colours[r*8+c]
			}
			for k := range v {
				f.Row(k, y)[x] = float32(v[k])
			}
		}
	}
	out, err := media.Create(file, 0, media.Options{Depth: depth})
	if err != nil {
		t.Fatal(err)
	}
	if err := out.Write(t.Context(), f); err != nil {
		t.Fatal(err)
	}
	if err := out.Close(); err != nil {
		t.Fatal(err)
	}
}

// One chart as light and as a scan of a stock that the fit has not seen: the card that comes back is used to render,
// and its greys are the stock's.
func TestFitOfAChartPair(t *testing.T) {
	dir := t.TempDir()
	scene, scan, card := filepath.Join(dir, "chart.exr"), filepath.Join(dir, "chart on film.tif"), filepath.Join(dir, "card.json")
	s, err := film.FindStock("tulle-400")
	if err != nil {
		t.Fatal(err)
	}
	n := film.Develop(s, film.Process{Strength: 1})
	base := n.Read([3]float64{})
	var codes [][3]float64
	r := rand.New(rand.NewPCG(3, 1))
	for _, e := range patches() {
		d := n.Read(n.Develop(e))
		for k := range d {
			d[k] = (95 + (d[k]*(1+0.01*r.NormFloat64())-base[k])/0.002) / 1023
		}
		codes = append(codes, d)
	}
	drawChart(t, scene, 0, patches(), 0.001)
	drawChart(t, scan, 16, codes, 0.02)
	args := func(scan string) []string {
		return []string{"fit", "--chart", scene + "," + scan, "--digital", "acescg", "--film", "printing-density", "--name", "Retour", "--out", card}
	}
	text := must(t, args(scan)...)
	figures := regexp.MustCompile(`on a print: ([0-9.]+) ΔE2000 over what was fitted, ([0-9.]+) over`).FindStringSubmatch(text)
	if figures == nil {
		t.Fatalf("it says:\n%s", text)
	}
	fitted, _ := strconv.ParseFloat(figures[1], 64)
	held, _ := strconv.ParseFloat(figures[2], 64)
	t.Logf("ΔE2000 %.2f, kept out %.2f", fitted, held)
	if fitted > 1.5 || held > 2.5 {
		t.Errorf("ΔE2000 %.2f, kept out %.2f", fitted, held)
	}
	placed := append(args(scan), "--grid", "8x6", "--digital-corners", "0.19,0.21,0.825,0.21,0.825,0.94,0.19,0.94", "--film-corners", "0.19,0.21,0.825,0.21,0.825,0.94,0.19,0.94")
	if again := must(t, placed...); !strings.Contains(again, "Retour") {
		t.Errorf("placed by hand it says:\n%s", again)
	}
	must(t, "render", "--in", scene, "--encoding", "acescg", "--set", "negative.stock.id="+card, "--set", "print.medium.id=rideau", "--out", filepath.Join(dir, "print.png"))

	// a picture without a chart, and one that is not there
	plain := make([][3]float64, 48)
	for i := range plain {
		plain[i] = [3]float64{0.2, 0.2, 0.2}
	}
	none := filepath.Join(dir, "wall.tif")
	drawChart(t, none, 16, plain, 0.2)
	for _, c := range []struct{ scan, why string }{{none, "wall.tif: no chart was found"}, {filepath.Join(dir, "nix.tif"), "nix.tif"}} {
		if code, _, problem := velours(args(c.scan)...); code != 2 || !strings.Contains(problem, c.why) {
			t.Errorf("%s: exit %d, %q", c.scan, code, problem)
		}
	}
}

// A wedge by the command line, and what is wrong with one.
func TestFitOfAWedge(t *testing.T) {
	dir := t.TempDir()
	in, card := filepath.Join(dir, "wedge.csv"), filepath.Join(dir, "card.json")
	s, err := film.FindStock("encre-400")
	if err != nil {
		t.Fatal(err)
	}
	n := film.Develop(s, film.Process{Strength: 1})
	text := "stops,density\n"
	for x := -7.0; x < 6; x += 0.5 {
		text += fmt.Sprintf("%g,%.3f\n", x, n.Read(n.Grey(x * math.Log10(2)))[1])
	}
	if err := os.WriteFile(in, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
	if said := must(t, "fit", "--wedge", in, "--name", "Encre neuve", "--grey", "0", "--out", card); !strings.Contains(said, "started from Fusain 125") {
		t.Errorf("it says:\n%s", said)
	}
	data, err := os.ReadFile(card)
	if err != nil {
		t.Fatal(err)
	}
	made, err := film.ParseStock(data)
	if err != nil {
		t.Fatal(err)
	}
	if !made.Mono || !strings.HasPrefix(made.ID, "own-encre-neuve.") {
		t.Errorf("the card is %s, mono %v", made.ID, made.Mono)
	}
	a := film.Develop(made, film.Process{Strength: 1})
	for x := -2.0; x < 1.8; x += 0.1 {
		if d := a.Read(a.Grey(x))[1] - n.Read(n.Grey(x))[1]; math.Abs(d) > 0.03 {
			t.Errorf("at %.1f it reads %.3f off", x, d)
		}
	}
	for _, c := range []struct {
		args []string
		why  string
	}{
		{[]string{"fit", "--name", "X", "--out", card}, "nothing to measure"},
		{[]string{"fit", "--wedge", in, "--out", card}, "needs a name"},
		{[]string{"fit", "--wedge", in, "--name", "X"}, "--out is missing"},
		{[]string{"fit", "--wedge", in, "--name", "X", "--out", card, "--like", "nix"}, `unknown stock "nix"`},
		{[]string{"fit", "--wedge", in, "--name", "X", "--out", card, "--like", "brocart-100"}, "start from another card"},
		{[]string{"render", "--in", in, "--out", "x.png", "--set", "negative.stock.id=" + in + ".json"}, "cannot be read"},
		{[]string{"render", "--in", in, "--out", "x.png", "--set", "recipe=nix"}, `no recipe "nix"`},
	} {
		if code, _, problem := velours(c.args...); code != 2 || !strings.Contains(problem, c.why) {
			t.Errorf("%v: exit %d, %q", c.args, code, problem)
		}
	}
}

// Curves written by the wedge command: a drawing that is XML, a table that holds both stocks.
func TestMeasureDraws(t *testing.T) {
	dir := t.TempDir()
	csv, svg := filepath.Join(dir, "a.csv"), filepath.Join(dir, "a.svg")
	must(t, "measure", "wedge", "--set", "negative.stock.id=brocart-100", "--set", "print.medium.id=direct", "--csv", csv, "--svg", svg, "--with", "mine-50")
	table, err := os.ReadFile(csv)
	if err != nil {
		t.Fatal(err)
	}
	if head, _, _ := strings.Cut(string(table), "\n"); !strings.Contains(head, "of Mine 50") {
		t.Errorf("the table's head is %s", head)
	}
	drawing, err := os.ReadFile(svg)
	if err != nil {
		t.Fatal(err)
	}
	var any struct {
		XMLName xml.Name
	}
	if err := xml.Unmarshal(drawing, &any); err != nil || any.XMLName.Local != "svg" {
		t.Errorf("the drawing is %v, %v", any.XMLName, err)
	}
	if code, _, problem := velours("measure", "wedge", "--set", "negative.stock.id=brocart-100", "--csv", filepath.Join(dir, "no", "a.csv")); code != 2 || !strings.Contains(problem, "cannot be written") {
		t.Errorf("exit %d, %q", code, problem)
	}
}
