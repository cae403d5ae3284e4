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
	value := func(x, y int) float64 {
		if x < 0 || y < 0 || x >= f.W || y >= f.H {
			return 0
		}
		if p.Alpha {
			if f.Planes < 4 {
				return 1
			}
			return float64(f.Row(3, y)[x])
		}
		return 0.2126*float64(f.Row(0, y)[x]) + 0.7152*float64(f.Row(1, y)[x]) + 0.0722*float64(f.Row(2, y)[x])
	}
	return func(m []float32, y, x0 int, _, _, _ []float32) {
		for i := range m {
			// the place in the other picture, between its pixels' centres
			u := (float64(x0+i)+0.5-float64(s.W)/2)*k + float64(f.W)/2 - 0.5
			v := (float64(y)+0.5-float64(s.H)/2)*k + float64(f.H)/2 - 0.5
			x, y := floor(u), floor(v)
			fx, fy := u-float64(x), v-float64(y)
			top := value(x, y)*(1-fx) + value(x+1, y)*fx
			low := value(x, y+1)*(1-fx) + value(x+1, y+1)*fx
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
