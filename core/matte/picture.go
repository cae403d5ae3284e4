package matte

import "velours/core/frame"

// Picture covers as another picture has it: by its luma or its opacity. It is fitted into the frame without
// being stretched, or kept at its size about the centre; beyond its edge nothing is covered.
type Picture struct {
	Frame *frame.Frame // code values, with a fourth plane if it has opacity
	Alpha bool
	Fit   bool
}

// Rows implements Part.
func (p Picture) Rows(s Size) func(m []float32, y, x0 int, r, g, b []float32) {
	f := p.Frame
	k := 1.0 // its pixels for one of ours
	if p.Fit {
		k = max(float64(f.W)/float64(s.W), float64(f.H)/float64(s.H))
	}
	// values are what covers in row y of it, with nothing to either side; a row serves several of ours
	type values struct {
		y   int
		row []float64
	}
	lines := [2]values{{-1, make([]float64, f.W+2)}, {-1, make([]float64, f.W+2)}}
	none := make([]float64, f.W+2)
	value := func(y int) []float64 {
		if y < 0 || y >= f.H {
			return none
		}
		l := &lines[y%2]
		if l.y == y {
			return l.row
		}
		l.y = y
		switch to := l.row[1 : f.W+1]; {
		case !p.Alpha:
			r, g, b := f.Row(0, y), f.Row(1, y)[:f.W], f.Row(2, y)[:f.W]
			for x := range to {
				to[x] = 0.2126*float64(r[x]) + 0.7152*float64(g[x]) + 0.0722*float64(b[x])
			}
		case f.Planes < 4:
			for x := range to {
				to[x] = 1
			}
		default:
			for x, v := range f.Row(3, y) {
				to[x] = float64(v)
			}
		}
		return l.row
	}
	return func(m []float32, y, x0 int, _, _, _ []float32) {
		// the place in the other picture, between its pixels' centres
		v := (float64(y)+0.5-float64(s.H)/2)*k + float64(f.H)/2 - 0.5
		row := floor(v)
		fy := v - float64(row)
		above, below := value(row), value(row+1)
		for i := range m {
			u := (float64(x0+i)+0.5-float64(s.W)/2)*k + float64(f.W)/2 - 0.5
			x := floor(u)
			fx := u - float64(x)
			x++ // nothing lies before it
			if x < 0 || x > f.W {
				m[i] = 0
				continue
			}
			top := above[x]*(1-fx) + above[x+1]*fx
			low := below[x]*(1-fx) + below[x+1]*fx
			m[i] = float32(min(max(top*(1-fy)+low*fy, 0), 1))
		}
	}
}

func floor(v float64) int {
	i := int(v)
	if float64(i) > v {
		i--
	}
	return i
}
