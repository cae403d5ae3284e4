package grade

import "math"

// bend is the power that moves mid grey by so many stops and leaves 0 and 1.
func bend(stops float64) float64 { return 1 + stops*math.Ln2/math.Log(Grey) }

// Levels bring Black (light, 1 for white) to nothing and White to white, and bend what lies between so that
// mid grey would move by Mid stops if the ends stayed.
type Levels struct{ Black, White, Mid float64 }

// Rows implements Op.
func (l *Levels) Rows(w int) func(r, g, b []float32) {
	t := scratch(w)
	k, black := float32(1/(l.White-l.Black)), float32(l.Black)
	gamma := float32(1.0)
	if l.Mid != 0 {
		gamma = float32(bend(l.Mid))
	}
	return func(r, g, b []float32) {
		t := t[:len(r)]
		for _, row := range [3][]float32{r, g, b} {
			for i, v := range row {
				row[i] = (v - black) * k
			}
			if gamma == 1 {
				continue
			}
			power(t, row, gamma)
			for i, v := range row {
				row[i] = t[i] + min(v, 0)
			}
		}
	}
}
