package scope

// Histogram counts how often each level occurs.
type Histogram struct {
	// Count holds red, green, blue and the weighted sum, lowest level first.
	Count [4][]uint32 `json:"count"`
}

// Levels is how many levels a histogram tells apart.
const Levels = 256

// Count makes the histogram of a picture.
func Count(p Picture) *Histogram {
	h := &Histogram{}
	for i := range h.Count {
		h.Count[i] = make([]uint32, Levels)
	}
	p.rows(func(_ int, c [4][]float32) {
		for i, row := range c {
			field := h.Count[i]
			for _, v := range row {
				field[min(int(v*Levels), Levels-1)]++
			}
		}
	})
	return h
}

// Readings are figures of a picture.
type Readings struct {
	Low  [3]float64 `json:"low"`
	High [3]float64 `json:"high"`
	Mean [3]float64 `json:"mean"`
}

// Read takes the readings of a picture in the units of its planes.
func Read(p Picture) Readings {
	var r Readings
	for c := range 3 {
		lo, hi, sum := p.Row(c, 0)[0], p.Row(c, 0)[0], 0.0
		for y := range p.H {
			var s float32
			for _, v := range p.Row(c, y) {
				lo, hi = min(lo, v), max(hi, v)
				s += v
			}
			sum += float64(s)
		}
		r.Low[c], r.High[c], r.Mean[c] = float64(lo), float64(hi), sum/float64(p.W*p.H)
	}
	return r
}
