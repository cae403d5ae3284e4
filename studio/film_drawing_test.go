package studio

import (
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"errors"
	"io"
	"math"
	"strconv"
	"strings"
	"testing"

	"velours/core/look"
	"velours/core/measure"
)

// The sensitometer agrees with the wedge and with the cards; its table reads back as numbers, its drawing as XML.
func TestSensitometer(t *testing.T) {
	l := filmLook(t, "negative.stock.id=serein-500t", "print.medium.id=rideau")
	s, err := measure.MeasureFilm(l, &[3]float64{0.3, 0.2, 0.1})
	if err != nil {
		t.Fatal(err)
	}
	// mid grey at the aim: the print's own visual density there
	for _, step := range s.Steps {
		if step.Stops == 0 && math.Abs(*step.Print-1.0) > 0.06 {
			t.Errorf("mid grey prints at %.2f", *step.Print)
		}
	}
	if s.Gamma < 1.2 || s.Gamma > 2.2 || s.PrintMax < 2.6 || s.PrintMin > 0.1 || s.Aim[1] < 0.5 || s.Aim[1] > 1.2 {
		t.Errorf("whole path γ %.2f, print from %.2f to %.2f, grey %.2f above base", s.Gamma, s.PrintMin, s.PrintMax, s.Aim)
	}
	p := s.Pixel
	clear := s.Steps[0].Read // a brown exposes the red layer most
	if !(p.Read[0]-clear[0] > p.Read[2]-clear[2] && p.Code[0] > p.Code[1] && p.Code[1] > p.Code[2]) || len(p.Light) != len(s.Wavelengths) {
		t.Errorf("a brown reads %.2f and shows as %.2f", p.Read, p.Code)
	}
	red, blue := 0.0, 0.0 // a brown's light is red
	for i, nm := range s.Wavelengths {
		if p.Light[i] < 0 || p.Light[i] > 1.01 {
			t.Fatalf("at %g nm the print passes %.3f of the lamp", nm, p.Light[i])
		}
		if nm > 600 && nm < 680 {
			red += p.Light[i]
		}
		if nm > 420 && nm < 500 {
			blue += p.Light[i]
		}
	}
	if red < 2*blue {
		t.Errorf("a brown has %.2f of red light and %.2f of blue", red, blue)
	}
	other, err := measure.MeasureFilm(filmLook(t, "negative.stock.id=mine-50", "print.medium.id=rideau"), nil)
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := WriteFilmCSV(&b, s, other); err != nil {
		t.Fatal(err)
	}
	rows, err := csv.NewReader(&b).ReadAll()
	if err != nil || len(rows) != 66 || len(rows[0]) != 22 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	for i, step := range s.Steps {
		if v, err := strconv.ParseFloat(rows[i+1][3], 64); err != nil || math.Abs(v-step.Density[1]) > 1e-4 {
			t.Fatalf("row %d holds %s, the step %.4f", i, rows[i+1][3], step.Density[1])
		}
	}
	light := make([]float64, 64)
	light[30] = 1
	for _, d := range []Drawing{{}, {Dark: true, Other: other, Light: light, LightFrom: -10, LightTo: 8}} {
		b.Reset()
		if err := DrawFilm(&b, s, d); err != nil {
			t.Fatal(err)
		}
		text := b.String()
		for x := xml.NewDecoder(strings.NewReader(text)); ; {
			if _, err := x.Token(); errors.Is(err, io.EOF) {
				break
			} else if err != nil {
				t.Fatal(err)
			}
		}
		want := 4*3 + 2 + 2 // three in four plots, base and print, and two of the colour
		if d.Other != nil {
			want += 4 + 2 // black and white has one in each
		}
		if n := strings.Count(text, "<polyline"); n != want {
			t.Errorf("%d curves, want %d", n, want)
		}
		if strings.Contains(text, "NaN") || strings.Contains(text, "Inf") {
			t.Error("a place is no number")
		}
		if d.Other != nil && !strings.Contains(text, "Mine 50") {
			t.Error("the second film is not named")
		}
	}
	if _, err := measure.MeasureFilm(look.NewLook("x"), nil); err == nil {
		t.Error("a look without film was measured")
	}
}

func filmLook(t testing.TB, sets ...string) *look.Look {
	t.Helper()
	l := look.NewLook("test")
	if err := l.SetAll(append([]string{"negative.stock.id=serein-500t", "print.medium.id=rideau", "lens.bloom.amount=20", "negative.halation.amount=100"}, sets...)...); err != nil {
		t.Fatal(err)
	}
	return l
}
