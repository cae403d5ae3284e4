package standin

import (
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/film/fit"
	"velours/core/frame"
	"velours/core/register"
)

// worst are pictures turned by ten degrees and seen aslant by a twentieth, with two per cent of noise, in light uneven by 15 per cent.
var worst = Faults{Turn: 10, Aslant: 0.05, Noise: 0.02, Uneven: 0.15, Moved: 0.02, Seed: 5}

// back is where a place of the scene lies in the film's picture: the way the film's camera sees, by steps towards it.
func (f Faults) back(x, y float64) (u, v float64) {
	for range 60 {
		var at [2]float64
		f.seen(func(x, y float64) thing { at = [2]float64{x, y}; return thing{} })(u, v)
		u, v = u+0.8*(x-at[0]), v+0.8*(y-at[1])
	}
	return u, v
}

// Charts are found at the worst, with borders and without, where they are.
func TestChartsAreFoundAtTheWorst(t *testing.T) {
	for _, bordered := range []bool{false, true} {
		for _, turn := range []float64{-10, 10} {
			f := worst
			f.Bordered, f.Turn = bordered, turn
			digital, err := fit.Find(f.digital(f.chartPhoto()))
			if err != nil || digital.Columns != chartColumns || digital.Rows != chartRows {
				t.Fatalf("borders %v, %g degrees: the digital chart is %v, %v", bordered, turn, digital, err)
			}
			p := f.scan(f.seen(f.chartPhoto()), wide, high, FilmWidth, 0, 14)
			g, err := fit.Find(p)
			if err != nil {
				t.Errorf("borders %v, %g degrees: %v", bordered, turn, err)
				continue
			}
			if g.Columns != chartColumns || g.Rows != chartRows {
				other, err := digital.Sample(f.digital(f.chartPhoto()))
				if err != nil {
					t.Fatal(err)
				}
				if g = g.As(chartColumns, chartRows, other, p); g == nil {
					t.Errorf("borders %v, %g degrees: another size was found, and does not go on", bordered, turn)
					continue
				}
			}
			for i, c := range g.Corners() {
				x, y := (float64([4]int{0, chartColumns - 1, chartColumns - 1, 0}[i])+0.5)/chartColumns-0.5, (float64([4]int{0, 0, chartRows - 1, chartRows - 1}[i])+0.5)/chartRows-0.5
				u, v := f.back(1.5*x, y)
				if off := math.Hypot(c.X-(u+1)*wide/2, c.Y-(v*wide/2+high/2)); off > 8 {
					t.Errorf("borders %v, %g degrees: corner %d is %.1f pixels off", bordered, turn, i, off)
				}
			}
		}
	}
}

// A scene is laid over its picture on film at the worst, within a pixel and a half; and another scene is not taken for it.
func TestScenesAreLaidOver(t *testing.T) {
	f := worst
	e, err := colour.FindEncoding("acescct")
	if err != nil {
		t.Fatal(err)
	}
	scene, err := frame.Each(t.Context(), f.digital(f.scenePhoto(false)), e.Light)
	if err != nil {
		t.Fatal(err)
	}
	m, err := register.Find(scene, f.scan(f.seen(f.scenePhoto(true)), wide, high, FilmWidth, 0, 14))
	if err != nil {
		t.Fatal(err)
	}
	far := 0.0
	for _, p := range []register.Point{{X: 0, Y: 0}, {X: -0.7, Y: -0.4}, {X: 0.7, Y: -0.4}, {X: 0.7, Y: 0.4}, {X: -0.7, Y: 0.4}} {
		u, v := f.back(p.X, p.Y)
		q := m.At(p)
		far = math.Max(far, math.Hypot(q.X-u, q.Y-v)*wide/2)
	}
	t.Logf("agreement %.2f, %.2f pixels off at most, turned by %.2f", m.Score, far, m.Angle())
	if far > 1.5 {
		t.Errorf("%.2f pixels off", far)
	}
	other := f
	other.Seed = 99
	if m, err := register.Find(scene, other.scan(other.seen(other.scenePhoto(true)), wide, high, FilmWidth, 0, 14)); err == nil {
		t.Errorf("another scene is taken for it: agreement %.2f", m.Score)
	}
}
