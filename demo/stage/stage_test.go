package stage

import (
	"runtime"
	"testing"
)

// The same frame, bit for bit, on a repeat and on any number of cores; with light where light is meant to be.
func TestScenesAreRepeatable(t *testing.T) {
	for _, s := range Shots {
		scene, camera := s.scene(0.25)
		render := func() *Picture { return scene.Render(camera, 96, 54, s.quality) }
		was := runtime.GOMAXPROCS(1)
		a := render()
		runtime.GOMAXPROCS(2)
		b := render()
		runtime.GOMAXPROCS(was)
		top := float32(0)
		for i := range a.Pix {
			if a.Pix[i] != b.Pix[i] {
				t.Fatalf("%s: sample %d differs", s.Name, i)
			}
			if a.Pix[i] < 0 || a.Pix[i] != a.Pix[i] {
				t.Fatalf("%s: sample %d is %g", s.Name, i, a.Pix[i])
			}
			top = max(top, a.Pix[i])
		}
		if top < 1 && s.Length == Frames { // second angles may look past the lamps
			t.Errorf("%s: brightest %g, nothing for film to roll off", s.Name, top)
		}
	}
}

func TestSlateHoldsWhatItSays(t *testing.T) {
	p := Slate()
	at := func(x, y int) float32 { return p.Pix[3*(y*p.W+x)+1] }
	if a, b := at(60+1800*10/21+20, 240), at(60+1800*12/21+20, 240); b/a < 1.99 || b/a > 2.01 {
		t.Errorf("two steps of the wedge are a factor of %g", b/a)
	}
	if v := at(60+1800*12/21+20, 240); v < 0.1799 || v > 0.1801 {
		t.Errorf("the step at 0 stops is %g", v)
	}
	if v := at(130+128*6, 720+86*3); v < 0.18*256*0.9 {
		t.Errorf("the +8 stop light is %g", v)
	}
}
