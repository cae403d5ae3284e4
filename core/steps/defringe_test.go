package steps

import (
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
)

// Purple and green rims of a bright window go; a purple thing away from edges, greys, and the lightness of all stay.
func TestRimsAreTakenOut(t *testing.T) {
	const w, h = 400, 200
	rim := map[bool][3]float64{true: {1.5, 0.7, 2.2}, false: {0.7, 1.6, 0.8}} // purple and green
	f := frame.New(w, h, 3)
	put := func(x, y int, c [3]float64) {
		for p, v := range c {
			f.Row(p, y)[x] = float32(v)
		}
	}
	for y := range h {
		for x := range w {
			c := [3]float64{0.05, 0.05, 0.05}
			switch {
			case x >= 150 && x < 250: // the window
				c = [3]float64{4, 4, 4}
			case x >= 148 && x < 150:
				c = rim[true]
			case x >= 250 && x < 252:
				c = rim[false]
			case x >= 330 && x < 390 && y >= 60 && y < 140: // a purple thing, softly lit
				c = [3]float64{0.06, 0.04, 0.075}
			}
			put(x, y, c)
		}
	}
	l := look.NewLook("x")
	if err := l.SetAll("intake.defringe.width=0.75"); err != nil {
		t.Fatal(err)
	}
	got := renderedAs(t, colour.Working(), l, given{f}, w, h, look.Intake)
	at := func(f *frame.Frame, x int) [3]float64 {
		return [3]float64{float64(f.Row(0, 100)[x]), float64(f.Row(1, 100)[x]), float64(f.Row(2, 100)[x])}
	}
	for _, x := range []int{148, 149, 250, 251} {
		_, before := grade.Hue(at(f, x))
		_, after := grade.Hue(at(got, x))
		was, _, _ := grade.Lab(at(f, x))
		now, _, _ := grade.Lab(at(got, x))
		t.Logf("at %d chroma %.3f becomes %.3f", x, before, after)
		if after > 0.3*before || math.Abs(now-was) > 1e-4 {
			t.Errorf("at %d chroma %.3f becomes %.3f, lightness %.4f %.4f", x, before, after, was, now)
		}
	}
	for _, x := range []int{10, 140, 200, 300, 360} {
		for p, v := range at(got, x) {
			if math.Abs(v-at(f, x)[p]) > 1e-5 {
				t.Errorf("at %d it was %v and is %v", x, at(f, x), at(got, x))
				break
			}
		}
	}
}

// Red and blue that a lens has parted come back onto green.
func TestLateralErrorIsUndone(t *testing.T) {
	const w, h = 640, 360
	f := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			row := f.Row(p, y)
			for x := range row {
				row[x] = float32(0.5 + 0.4*math.Sin(float64(x)/5)*math.Sin(float64(y)/6))
			}
		}
	}
	lens := look.NewLook("x")
	if err := lens.SetAll("lens.fringe.lateral=0.3"); err != nil {
		t.Fatal(err)
	}
	parted := renderedAs(t, colour.Working(), lens, given{f}, w, h, look.Lens)
	back := look.NewLook("y")
	if err := back.SetAll("intake.defringe.purple=0", "intake.defringe.green=0", "intake.defringe.lateral=0.3"); err != nil {
		t.Fatal(err)
	}
	got := renderedAs(t, colour.Working(), back, given{parted}, w, h, look.Intake)
	off := func(g *frame.Frame) float64 {
		sum := 0.0
		for y := 20; y < h-20; y++ {
			for x := 20; x < w-20; x++ {
				d := float64(g.Row(0, y)[x] - g.Row(1, y)[x])
				sum += d * d
			}
		}
		return math.Sqrt(sum / float64((w-40)*(h-40)))
	}
	t.Logf("red is off green by %.4f, and then by %.4f", off(parted), off(got))
	if off(got) > 0.1*off(parted) {
		t.Errorf("red is off green by %.4f, and then by %.4f", off(parted), off(got))
	}
}
