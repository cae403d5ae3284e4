package steps

import (
	"velours/core/look"
)

// matrixSettings are the entries of a matrix, with or without its diagonal.
func matrixSettings(diagonal bool, lo, hi float64) []look.Setting {
	var out []look.Setting
	for i, to := range channels {
		for j, from := range channels {
			if i == j && !diagonal {
				continue
			}
			usual := 0.0
			if i == j {
				usual = 100
			}
			s := dial(to.id+"-from-"+from.id, to.label+" from "+from.label, "%", lo, hi, usual, 0.5, "How much of "+from.label+" light runs into "+to.label+".")
			s.Group, s.Column = to.label, from.label
			out = append(out, s)
		}
	}
	return out
}

func matrixOf(v look.Values) (m [3][3]float64) {
	for i, to := range channels {
		for j, from := range channels {
			if x, ok := v[to.id+"-from-"+from.id].(float64); ok {
				m[i][j] = x / 100
			}
		}
	}
	return m
}

func leads(ids ...string) []string {
	var out []string
	for _, id := range ids {
		for _, c := range channels {
			out = append(out, id+"-"+c.id)
		}
	}
	return out
}

var channels = []struct{ id, label string }{{"red", "Red"}, {"green", "Green"}, {"blue", "Blue"}}

// triple is one dial for each channel, in a row.
func triple(id, label, unit string, lo, hi, usual, step float64, help string) []look.Setting {
	var out []look.Setting
	for _, c := range channels {
		s := dial(id+"-"+c.id, label+" "+c.label, unit, lo, hi, usual, step, help)
		s.Group, s.Column = label, c.label
		out = append(out, s)
	}
	return out
}

func tripleOf(v look.Values, id string) [3]float64 {
	var t [3]float64
	for i, c := range channels {
		t[i] = v.Number(id + "-" + c.id)
	}
	return t
}
