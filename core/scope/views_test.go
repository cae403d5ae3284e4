package scope

import (
	"math"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
)

// Machado, Oliveira and Fernandes 2009, table 1, severity 1.0: linear RGB as the three kinds of
// dichromats see it.
var dichromats = map[string]colour.Matrix{
	"protan": {0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998},
	"deutan": {0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.011820, 0.042940, 0.968881},
	"tritan": {1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.303900},
}

// The inks of false colour stay apart for every kind of eye.
func TestFalseColourForEveryEye(t *testing.T) {
	srgb, _ := colour.FindDisplay("srgb")
	m, white := srgb.Gamut.ToXYZ(), srgb.Gamut.White.XYZ()
	eyes := map[string]colour.Matrix{"usual": colour.Identity}
	for k, v := range dichromats {
		eyes[k] = v
	}
	bands := Bands(Limits{-6, -4, 3, 4})
	for eye, see := range eyes {
		lab := func(c [3]float64) [3]float64 {
			l := see.Apply(srgb.Light(c))
			for i := range l {
				l[i] = min(max(l[i], 0), 1)
			}
			return colour.Lab(m.Apply(l), white)
		}
		for i, a := range bands {
			for _, b := range bands[i+1:] {
				if a.Ink == nil || b.Ink == nil {
					continue
				}
				if d := colour.DeltaE2000(lab(*a.Ink), lab(*b.Ink)); d < 10 {
					t.Errorf("%s eyes: %s and %s are %.1f apart", eye, a.ID, b.ID, d)
				}
			}
		}
	}
}

// Bands touch, whatever the limits, and a wedge is painted band by band.
func TestBandsTouchAndPaint(t *testing.T) {
	for _, l := range []Limits{{-6, -4, 3, 4}, {-12, -9, 6, 8}, {-0.3, -0.1, 0.2, 0.4}} {
		bands := Bands(l)
		for i, b := range bands {
			if b.From >= b.To || i > 0 && b.From != bands[i-1].To {
				t.Errorf("%v: %s goes from %g to %g", l, b.ID, b.From, b.To)
			}
		}
	}
	bands := Bands(Limits{-6, -4, 3, 4})
	stops := []float64{-8, -5, -2, 0, 0.35, 1, 2, 2.7, 3.5, 6}
	wedge := frame.New(len(stops), 1, 3)
	for x, s := range stops {
		for c := range 3 {
			wedge.Row(c, 0)[x] = float32(0.18 * math.Exp2(s))
		}
	}
	out := FalseColour(wedge, [3]float64{0.27, 0.67, 0.06}, bands)
	last := -1.0
	for x, b := range bands {
		got := [3]float64{float64(out.Row(0, 0)[x]), float64(out.Row(1, 0)[x]), float64(out.Row(2, 0)[x])}
		if b.Ink != nil {
			for c, v := range *b.Ink {
				if math.Abs(got[c]-v) > 1e-6 {
					t.Errorf("%s is painted %v, want %v", b.ID, got, *b.Ink)
				}
			}
			continue
		}
		if got[0] != got[1] || got[1] != got[2] || got[0] <= last {
			t.Errorf("%s is painted %v after %g", b.ID, got, last)
		}
		last = got[0]
	}
}

// Limits of a straight response with two flat ends are where it leaves them, by a unit and by five.
func TestFindLimits(t *testing.T) {
	var l []float64
	for s := -10.0; s <= 10; s += 0.25 {
		l = append(l, min(max(50+8*s, 10), 90)) // from −5 to +5 stops, eight a stop
	}
	got := FindLimits(-10, 0.25, l)
	want := Limits{-5 + 1.0/8, -5 + 5.0/8, 5 - 5.0/8, 5 - 1.0/8}
	for _, p := range [][2]float64{{got.Black, want.Black}, {got.Deep, want.Deep}, {got.Near, want.Near}, {got.White, want.White}} {
		if math.Abs(p[0]-p[1]) > 0.01 {
			t.Fatalf("%v, want %v", got, want)
		}
	}
}

// Clipped channels are counted and painted in their colours, others stay grey.
func TestMarkClipped(t *testing.T) {
	f := frame.New(16, 16, 3)
	for y := range 16 {
		for x := range 16 {
			r, g, b := float32(0.5), float32(0.5), float32(0.5)
			switch {
			case x < 4:
				r = 1 // red clipped
			case x < 8:
				r, g, b = 0, 0, 0
			}
			f.Row(0, y)[x], f.Row(1, y)[x], f.Row(2, y)[x] = r, g, b
		}
	}
	out, n := MarkClipped(f, f, bt709, CodeBounds())
	if n.High != [3]float64{0.25, 0, 0} || n.Low != [3]float64{0.25, 0.25, 0.25} {
		t.Errorf("shares %+v", n)
	}
	reds := 0
	for y := range 16 {
		for x := range 16 {
			r, g, b := out.Row(0, y)[x], out.Row(1, y)[x], out.Row(2, y)[x]
			if x >= 8 && (r != g || g != b) {
				t.Fatal("a pixel that is not clipped is coloured")
			}
			if x < 4 && r > 0.9 && g < 0.2 {
				reds++
			}
		}
	}
	if reds < 16 || reds > 48 {
		t.Errorf("%d of 64 clipped pixels are striped", reds)
	}
}

// What one picture has more than another, plus that other, is the one: in linear light, to 1e-5, on every
// display.
func TestDifferenceAddsUp(t *testing.T) {
	for _, d := range colour.Displays() {
		top := d.Code([3]float64{1, 1, 1})[0] // PQ goes on beyond its peak
		a := picture(64, 40, func(x, y int) [3]float64 {
			return [3]float64{top * float64(x) / 63, top * float64(y) / 39, top * float64(x*y%64) / 63}
		}).Frame
		b := picture(64, 40, func(x, y int) [3]float64 {
			return [3]float64{top * float64(63-x) / 63, top * float64(y*x%40) / 39, 0.3 * top}
		}).Frame
		diff, err := Difference(t.Context(), a, b, d)
		if err != nil {
			t.Fatal(err)
		}
		for y := range 40 {
			for x := range 64 {
				at := func(f *frame.Frame) [3]float64 {
					return d.Light([3]float64{float64(f.Row(0, y)[x]), float64(f.Row(1, y)[x]), float64(f.Row(2, y)[x])})
				}
				p, q := at(a), at(b)
				for c := range 3 {
					if e := math.Abs(q[c] + float64(diff.Row(c, y)[x]) - p[c]); e > 1e-5 {
						t.Fatalf("%s: off by %g", d.ID, e)
					}
				}
			}
		}
		// further by one is the picture itself; by nothing the other
		for k, want := range map[float64]*frame.Frame{1: a, 0: b} {
			got, err := Further(t.Context(), a, b, d, k)
			if err != nil {
				t.Fatal(err)
			}
			off, err := Difference(t.Context(), got, want, d)
			if err != nil {
				t.Fatal(err)
			}
			r := Read(Picture{Frame: off})
			for c := range 3 {
				if e := max(r.High[c], -r.Low[c]); e > 1e-5 {
					t.Errorf("%s: further by %g is off by %g in light", d.ID, k, e)
				}
			}
		}
		same, err := Difference(t.Context(), a, a, d)
		if err != nil {
			t.Fatal(err)
		}
		grey, err := ShowDifference(t.Context(), same, d, 8, false)
		if err != nil {
			t.Fatal(err)
		}
		code := d.Code([3]float64{0.18 / d.Head(), 0.18 / d.Head(), 0.18 / d.Head()})
		if e := math.Abs(float64(grey.Row(1, 20)[20]) - code[1]); e > 1e-5 {
			t.Errorf("%s: no difference shows as %g, not mid grey, %g", d.ID, grey.Row(1, 20)[20], code[1])
		}
	}
}

// A matte is white where the change is greatest and black where there is none.
func TestMatte(t *testing.T) {
	with := picture(100, 50, func(x, y int) [3]float64 {
		if x >= 50 {
			return [3]float64{0.5, 0.5 + 0.2*float64(x-50)/49, 0.5}
		}
		return [3]float64{0.5, 0.5, 0.5}
	}).Frame
	without := picture(100, 50, func(int, int) [3]float64 { return [3]float64{0.5, 0.5, 0.5} }).Frame
	m, white := Matte(with, without)
	if math.Abs(white-0.2) > 1e-6 {
		t.Errorf("white stands for %g, want 0.2", white)
	}
	if m.Row(0, 9)[20] != 0 || m.Row(2, 9)[99] != 1 || math.Abs(float64(m.Row(1, 9)[74])-24.0/49) > 1e-5 {
		t.Errorf("the matte is %g, %g, %g", m.Row(0, 9)[20], m.Row(2, 9)[99], m.Row(1, 9)[74])
	}
	if _, none := Matte(without, without); none != 0 {
		t.Error("no change has a white")
	}
}
