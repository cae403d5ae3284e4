package look

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// mostPoints bounds what a line goes through.
const mostPoints = 64

// ParsePoints reads the text of a setting of points.
func (s *Setting) ParsePoints(text string) ([][2]float64, error) {
	var out [][2]float64
	for word := range strings.FieldsSeq(text) {
		a, b, ok := strings.Cut(word, ":")
		x, err := strconv.ParseFloat(a, 64)
		y, err2 := strconv.ParseFloat(b, 64)
		if !ok || err != nil || err2 != nil || math.IsNaN(x) || math.IsNaN(y) {
			return nil, fmt.Errorf("%q is not a point; points are x:y", word)
		}
		if min(x, y) < s.Min || max(x, y) > s.Max {
			return nil, fmt.Errorf("the point %s lies outside %g to %g", word, s.Min, s.Max)
		}
		if n := len(out); s.Points == "curve" && n > 0 {
			if x <= out[n-1][0] {
				return nil, fmt.Errorf("the point %s lies left of the one before", word)
			}
			if y < out[n-1][1] {
				return nil, fmt.Errorf("the point %s lies under the one before; a tone curve does not fall", word)
			}
		}
		out = append(out, [2]float64{x, y})
	}
	if len(out) > mostPoints {
		return nil, fmt.Errorf("%d points are more than %d", len(out), mostPoints)
	}
	if s.Points == "outline" && len(out) > 0 && len(out) < 3 {
		return nil, errors.New("an outline has three points at least")
	}
	return out, nil
}

// writePoints is the text of points, to a ten-thousandth.
func writePoints(p [][2]float64) string {
	words := make([]string, len(p))
	for i, q := range p {
		words[i] = short(q[0]) + ":" + short(q[1])
	}
	return strings.Join(words, " ")
}

func short(v float64) string { return strconv.FormatFloat(math.Round(v*1e4)/1e4, 'f', -1, 64) }

// Points are those of a setting; a checked value has no others.
func (v Values) Points(id string) [][2]float64 {
	s := Setting{Min: math.Inf(-1), Max: math.Inf(1)}
	p, _ := s.ParsePoints(v[id].(string))
	return p
}
