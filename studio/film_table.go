package studio

import (
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"velours/core/measure"
)

// WriteFilmCSV writes the curves as a table of text, and those of a second film beside them.
func WriteFilmCSV(w io.Writer, s, other *measure.Sensitometer) error {
	all := []*measure.Sensitometer{s}
	if other != nil {
		all = append(all, other)
	}
	var b strings.Builder
	b.WriteString("stops,log exposure")
	for i, q := range all {
		tail := ""
		if i > 0 {
			tail = " of " + q.Stock
		}
		for _, part := range []string{"density red", "density green", "density blue", "read red", "read green", "read blue", "print density", "code red", "code green", "code blue"} {
			b.WriteString("," + strings.ReplaceAll(part+tail, ",", " "))
		}
	}
	b.WriteString("\n")
	number := func(v float64) string { return strconv.FormatFloat(v, 'f', 4, 64) }
	for i, step := range s.Steps {
		b.WriteString(number(step.Stops) + "," + number(step.Stops*math.Log10(2)))
		for _, q := range all {
			t := q.Steps[i]
			print := ""
			if t.Print != nil {
				print = number(*t.Print)
			}
			for _, v := range []string{number(t.Density[0]), number(t.Density[1]), number(t.Density[2]), number(t.Read[0]), number(t.Read[1]), number(t.Read[2]), print, number(t.Code[0]), number(t.Code[1]), number(t.Code[2])} {
				b.WriteString("," + v)
			}
		}
		b.WriteString("\n")
	}
	_, err := io.WriteString(w, b.String())
	return err
}

// FilmFigures are the readings in words and numbers, for a table.
func FilmFigures(s *measure.Sensitometer) [][2]string {
	g := s.Layers[1]
	out := [][2]string{
		{"γ", fmt.Sprintf("%.2f  %.2f  %.2f", s.Layers[0].Gamma, g.Gamma, s.Layers[2].Gamma)},
		{"gradient", fmt.Sprintf("%.2f  %.2f  %.2f", s.Layers[0].Gradient, g.Gradient, s.Layers[2].Gradient)},
		{"latitude", fmt.Sprintf("−%.1f  +%.1f stops", g.Below, g.Above)},
		{"D-min, D-max", fmt.Sprintf("%.2f  %.2f", extreme(s, false), extreme(s, true))},
		{"grey above base", fmt.Sprintf("%.2f  %.2f  %.2f", s.Aim[0], s.Aim[1], s.Aim[2])},
	}
	if s.Medium != "" {
		out = append(out, [2]string{"whole path γ", fmt.Sprintf("%.2f", s.Gamma)}, [2]string{"print", fmt.Sprintf("%.2f  %.2f", s.PrintMin, s.PrintMax)})
	}
	return out
}

// extreme is the least or most that is read of green.
func extreme(s *measure.Sensitometer, most bool) float64 {
	v := s.Steps[0].Read[1]
	for _, t := range s.Steps {
		if most {
			v = max(v, t.Read[1])
		} else {
			v = min(v, t.Read[1])
		}
	}
	return v
}
