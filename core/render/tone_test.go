package render

import (
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/vec"
)

// The neutral path by rows against its definition in double precision, over every display and setting, at every width of the kernels: within
// half a code of 16 bits in the mean; at worst a code of ten bits, where a channel of a strong colour has next to no light, a ten-millionth
// of white.
func TestToneIsAsDefined(t *testing.T) {
	const n = 4096
	r := rand.New(rand.NewPCG(3, 3))
	var colours [n][3]float64
	for i := range colours {
		level := math.Exp2(-14 + 20*r.Float64())
		for c := range 3 {
			colours[i][c] = float64(float32(level * (1 + 0.9*(2*r.Float64()-1)*float64(i%3))))
		}
		if i%50 == 0 { // black, below black, far above white
			colours[i] = [][3]float64{{0, 0, 0}, {-0.01, -0.02, -0.005}, {3000, 2800, 2900}, {1e-9, 1e-9, 1e-9}, {200, -3, 4}}[i/50%5]
		}
	}
	was := vec.Backend()
	defer vec.Use(was)
	for _, name := range vec.Backends() {
		vec.Use(name)
		for _, d := range colour.Displays() {
			for _, s := range []film.Screen{
				{Display: d, Tone: colour.DefaultTone},
				{Display: d, Tone: colour.Tone{Contrast: 1.2, Grey: 0.15, Toe: 0.4, RollOff: -0.5}, Surround: 0.1},
				{Display: d, Tone: colour.Tone{Contrast: 1.35, Grey: 0.13, Straight: true}, Surround: -0.05},
			} {
				var rows [3][]float32
				for c := range rows {
					rows[c] = make([]float32, n, n+64)
					for i := range n {
						rows[c][i] = float32(colours[i][c])
					}
				}
				newTone(s).Columns(0, 0, n, 0)(0, rows)
				m, w := d.FromACEScg(), d.Luminance()
				sum, worst, at := 0.0, 0.0, 0
				for i := range n {
					want := s.Tone.Render(colours[i], d, s.Surround, &m, &w)
					for c := range 3 {
						e := math.Abs(float64(rows[c][i]) - want[c])
						if sum += e; !(e <= worst) {
							worst, at = e, i
						}
					}
				}
				t.Logf("%s, %s, toe %g: mean %.3f, worst %.1f of 65535 at %v", name, d.ID, s.Tone.Toe, sum/3/n*65535, worst*65535, colours[at])
				if !(sum/3/n*65535 < 0.5) || !(worst*65535 < 70) {
					t.Errorf("%s, %s: mean %.2f, worst %.0f of 65535, at %v", name, d.ID, sum/3/n*65535, worst*65535, colours[at])
				}
			}
		}
	}
}
