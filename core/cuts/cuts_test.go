package cuts

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"velours/core/frame"
	"velours/core/noise/scenes"
)

const w, h = 64, 36

// take makes frames of a picture: panned over from a place, with a bulb that blinks and one that wanders, and noise.
func take(t *testing.T, r *rand.Rand, name string, x, y, scale float64, frames int) (out []*Small) {
	t.Helper()
	photo, err := scenes.Load(name)
	if err != nil {
		t.Fatal(err)
	}
	pan := [2]float64{1.6 * (r.Float64() - 0.5), 0.8 * (r.Float64() - 0.5)}
	light := 0.7 + 0.6*r.Float64()
	for n := range frames {
		f := frame.New(w, h, 3)
		bx, by := 24+24*math.Sin(float64(n)/5), 16+8*math.Cos(float64(n)/7)
		for p := range 3 {
			for j := range h {
				row := f.Row(p, j)
				for i := range row {
					v := light * photo.Read(p, x+(float64(i)+pan[0]*float64(n))*scale*2.5, y+(float64(j)+pan[1]*float64(n))*scale*2.5)
					if n/3%2 == 0 && math.Hypot(float64(i)-48, float64(j)-8) < 3.2 {
						v = 0.95
					}
					if math.Hypot(float64(i)-bx, float64(j)-by) < 2.4 {
						v = 0.9
					}
					row[i] = float32(v + 0.03*r.NormFloat64())
				}
			}
		}
		out = append(out, Of(f))
	}
	return out
}

// A movie of 41 shots, of two pictures from everywhere: every cut is found, and none besides, though all pan, lights blink and things wander.
func TestEveryCutIsFound(t *testing.T) {
	for seed := range uint64(2) {
		r := rand.New(rand.NewPCG(seed, 7))
		var frames []*Small
		var want []int
		last := [3]float64{}
		for shot := range 41 {
			name := []string{"courtyard", "workbench"}[r.IntN(2)]
			at := [3]float64{40 + 330*r.Float64(), 20 + 180*r.Float64(), 0.5 + 0.9*r.Float64()}
			for shot > 0 && math.Hypot(at[0]-last[0], at[1]-last[1]) < 90 { // a cut to the same place is none
				at[0], at[1] = 40+330*r.Float64(), 20+180*r.Float64()
			}
			last = at
			if shot > 0 {
				want = append(want, len(frames))
			}
			frames = append(frames, take(t, r, name, at[0], at[1], at[2], 6+r.IntN(20))...)
		}
		if got := Find(frames); !slices.Equal(got, want) {
			t.Errorf("cuts at %v, and %v were made", got, want)
		}
	}
}

// A flash of two frames, a fade and light that is switched are told apart from cuts as far as can be: none of the first two is one.
func TestWhatIsNoCut(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	shot := take(t, r, "workbench", 120, 60, 0.8, 40)
	brightened := func(s *Small, k float32) *Small {
		n := *s
		for p := range n {
			for y := range n[p] {
				for x := range n[p][y] {
					n[p][y][x] = min(n[p][y][x]*k, 1)
				}
			}
		}
		return &n
	}
	flash := slices.Clone(shot)
	flash[15], flash[16] = brightened(flash[15], 3), brightened(flash[16], 2.5)
	fade := slices.Clone(shot)
	for i := range fade {
		fade[i] = brightened(fade[i], float32(i)/40)
	}
	for name, frames := range map[string][]*Small{"a shot": shot, "a flash": flash, "a fade": fade, "one frame": shot[:1], "nothing": nil} {
		if got := Find(frames); len(got) != 0 {
			t.Errorf("%s has cuts at %v", name, got)
		}
	}
	black := frame.New(w, h, 3)
	if got := Find([]*Small{Of(black), Of(black), shot[0], shot[1], shot[2]}); !slices.Equal(got, []int{2}) {
		t.Errorf("out of black it cuts at %v", got)
	}
	wild := frame.New(1, 1, 3)
	wild.Row(0, 0)[0] = float32(math.NaN())
	if s := Of(wild); s[0][3][5] != 0 {
		t.Errorf("what is no number is %g", s[0][3][5])
	}
}
