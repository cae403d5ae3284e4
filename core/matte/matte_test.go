package matte

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/frame"
	"velours/core/grade"
)

var ctx = context.Background()

// over is a part alone over a picture of w×h, grey if f is nil.
func over(t *testing.T, m *Matte, w, h int, f func(x, y int) [3]float64) *frame.Frame {
	t.Helper()
	src := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			c := [3]float64{0.18, 0.18, 0.18}
			if f != nil {
				c = f(x, y)
			}
			for p := range 3 {
				src.Row(p, y)[x] = float32(c[p])
			}
		}
	}
	out, err := m.Frame(ctx, src)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func alone(p Part) *Matte { return &Matte{Members: []Member{{Part: p}}} }

func sum(f *frame.Frame) float64 {
	s := 0.0
	for y := range f.H {
		for _, v := range f.Row(0, y) {
			s += float64(v)
		}
	}
	return s
}

// shoelace is the area of a polygon by the surveyor's formula, in pixels.
func shoelace(p [][2]float64, w, h int) float64 {
	a := 0.0
	for i, q := range p {
		r := p[(i+1)%len(p)]
		a += q[0]*r[1] - r[0]*q[1]
	}
	return math.Abs(a) / 2 * float64(w) * float64(h)
}

// A polygon covers its area, by the surveyor's formula, within half a per cent, and each pixel as clipping the
// polygon to it says (Sutherland & Hodgman 1974), within a thirtieth.
func TestPolygonCoversItsArea(t *testing.T) {
	for _, p := range [][][2]float64{
		{{0.1, 0.2}, {0.9, 0.3}, {0.5, 0.95}},
		{{0.2, 0.2}, {0.8, 0.2}, {0.8, 0.7}, {0.5, 0.4}, {0.2, 0.7}},
		{{0.31, 0.11}, {0.37, 0.13}, {0.33, 0.93}, {0.29, 0.9}},
	} {
		const w, h = 211, 120
		c := over(t, alone(Polygon{Points: p}), w, h, nil)
		if got, want := sum(c), shoelace(p, w, h); math.Abs(got/want-1) > 0.005 {
			t.Errorf("%v: it covers %g, its area is %g", p, got, want)
		}
		worst := 0.0
		for y := 0; y < h; y += 3 {
			for x := range w {
				worst = max(worst, math.Abs(float64(c.Row(0, y)[x])-clipped(p, w, h, x, y)))
			}
		}
		if worst > 1.0/30 {
			t.Errorf("%v: a pixel is off by %.3f", p, worst)
		}
	}
}

// clipped is the area of a polygon inside a pixel.
func clipped(p [][2]float64, w, h, x, y int) float64 {
	line := make([][2]float64, len(p))
	for i, q := range p {
		line[i] = [2]float64{q[0]*float64(w) - float64(x), q[1]*float64(h) - float64(y)}
	}
	for axis := range 2 {
		for _, side := range []float64{0, 1} {
			in := func(q [2]float64) bool { return (q[axis] >= 0) == (side == 0) || side == 1 && q[axis] <= 1 }
			if side == 1 {
				in = func(q [2]float64) bool { return q[axis] <= 1 }
			}
			var next [][2]float64
			for i, q := range line {
				r := line[(i+1)%len(line)]
				if in(q) {
					next = append(next, q)
				}
				if in(q) != in(r) {
					k := (side - q[axis]) / (r[axis] - q[axis])
					next = append(next, [2]float64{q[0] + k*(r[0]-q[0]), q[1] + k*(r[1]-q[1])})
				}
			}
			line = next
		}
	}
	if len(line) < 3 {
		return 0
	}
	return shoelace(line, 1, 1)
}

var shapes = map[string]Part{
	"ellipse":   Ellipse{Placed{0.5, 0.5, 20}, 0.2, 0.1, Feather{0.04, 0.06}},
	"rectangle": Rectangle{Placed{0.5, 0.5, -15}, 0.2, 0.1, Feather{0.04, 0.06}},
	"gradient":  Gradient{Placed{0.5, 0.5, 10}, 0.3},
	"polygon":   Polygon{Points: [][2]float64{{0.3, 0.2}, {0.7, 0.3}, {0.6, 0.8}, {0.35, 0.7}}, Curved: true, Feather: Feather{0.04, 0.06}},
}

// From the middle outwards coverage never rises: from all to nothing across the feather.
func TestFeatherFallsSteadily(t *testing.T) {
	for name, p := range shapes {
		c := over(t, alone(p), 480, 270, nil)
		for _, a := range []float64{0.1, 1.2, 2.5, 4, 5.5} {
			last := float32(2)
			for r := 0.0; r < 130; r++ {
				x, y := int(240+r*math.Cos(a)), int(135+r*math.Sin(a))
				v := c.Row(0, y)[x]
				if name == "gradient" && math.Sin(a-10*math.Pi/180) < 0 {
					v = 1 - v
				}
				if v > last+0.01 { // places are rounded to pixels
					t.Fatalf("%s at %g rad, %g out: coverage rises from %g to %g", name, a, r, last, v)
				}
				last = v
			}
		}
		if v := c.Row(0, 135)[240]; name != "gradient" && v < 0.999 {
			t.Errorf("%s covers %g of its middle", name, v)
		}
	}
}

// Half the coverage lies where the feather's middle is; its ends where they are said to be.
func TestFeatherLiesWhereItIsSaid(t *testing.T) {
	c := over(t, alone(Ellipse{Placed{0.5, 0.5, 0}, 0.2, 0.2, Feather{0.05, 0.1}}), 1000, 600, nil)
	row := c.Row(0, 300)
	for _, at := range []struct {
		x    int
		want float64
	}{{500 + 148, 1}, {500 + 225, 0.5}, {500 + 302, 0}} {
		if got := float64(row[at.x]); math.Abs(got-at.want) > 0.02 {
			t.Errorf("%d pixels out it covers %.3f, not %g", at.x-500, got, at.want)
		}
	}
}

// The same matte at 640 and at 1920: brought to one size they agree.
func TestMattesAgreeAtAnySize(t *testing.T) {
	all := map[string]*Matte{}
	for name, p := range shapes {
		all[name] = alone(p)
	}
	sharp := Polygon{Points: [][2]float64{{0.3, 0.2}, {0.7, 0.3}, {0.6, 0.8}, {0.35, 0.7}}}
	all["grown"] = &Matte{Members: []Member{{Part: sharp}}, Grow: 0.011}
	all["shrunk"] = &Matte{Members: []Member{{Part: sharp}}, Grow: -0.0073}
	all["blurred"] = &Matte{Members: []Member{{Part: sharp}}, Blur: 0.013}
	all["refined"] = &Matte{Members: []Member{{Part: sharp}}, Refine: 0.01}
	scene := func(w, h int) func(x, y int) [3]float64 {
		return func(x, y int) [3]float64 {
			u, v := (float64(x)+0.5)/float64(w), (float64(y)+0.5)/float64(h)
			k := 0.18 * math.Exp2(1.5*math.Sin(9*u)+math.Cos(5*v))
			return [3]float64{k, k, k}
		}
	}
	for name, m := range all {
		small, large := over(t, m, 640, 360, scene(640, 360)), over(t, m, 1920, 1080, scene(1920, 1080))
		down, err := frame.Scale(ctx, large, 640, 360)
		if err != nil {
			t.Fatal(err)
		}
		off, most := 0.0, 0.0
		for y := range 360 {
			for x := range 640 {
				d := math.Abs(float64(small.Row(0, y)[x] - down.Row(0, y)[x]))
				off += d
				most = max(most, d)
			}
		}
		off /= 640 * 360
		// a sharp edge that grows lies on whole pixels in one and thirds of them in the other
		if off > 0.002 || most > 0.45 || name != "grown" && name != "shrunk" && most > 0.12 {
			t.Errorf("%s: off by %.4f on average, %.3f at most", name, off, most)
		}
	}
}

// Union with itself, intersection with all, subtraction of itself; De Morgan's laws; order of unions.
func TestCombinationLaws(t *testing.T) {
	a, b := shapes["ellipse"], Tone{-1, 1, 1}
	scene := func(x, y int) [3]float64 {
		k := 0.18 * math.Exp2(float64(x)/40-4)
		return [3]float64{k, k, k}
	}
	cover := func(invert bool, m ...Member) *frame.Frame {
		return over(t, &Matte{Members: m, Invert: invert}, 320, 180, scene)
	}
	same := func(name string, p, q *frame.Frame) {
		t.Helper()
		for y := range p.H {
			for x, v := range p.Row(0, y) {
				if math.Abs(float64(v-q.Row(0, y)[x])) > 1e-6 {
					t.Errorf("%s: %g and %g at %d, %d", name, v, q.Row(0, y)[x], x, y)
					return
				}
			}
		}
	}
	one := func(p Part, j Join, not bool) Member { return Member{p, j, not} }
	same("a ∪ a = a", cover(false, one(a, Union, false), one(a, Union, false)), cover(false, one(a, Union, false)))
	same("a ∪ b = b ∪ a", cover(false, one(a, Union, false), one(b, Union, false)), cover(false, one(b, Union, false), one(a, Union, false)))
	same("a ∩ b = b ∩ a", cover(false, one(a, Union, false), one(b, Intersection, false)), cover(false, one(b, Union, false), one(a, Intersection, false)))
	same("a − b = a ∩ ¬b", cover(false, one(a, Union, false), one(b, Subtraction, false)), cover(false, one(a, Union, false), one(b, Intersection, true)))
	same("¬(a ∪ b) = ¬a ∩ ¬b", cover(true, one(a, Union, false), one(b, Union, false)), cover(false, one(a, Union, true), one(b, Intersection, true)))
	same("all − a = ¬a", cover(false, one(a, Subtraction, false)), cover(true, one(a, Union, false)))
	everything := cover(false)
	if everything.Row(0, 7)[7] != 1 || cover(true).Row(0, 7)[7] != 0 {
		t.Error("a matte without parts covers everything, and inverted nothing")
	}
}

// A disc grows and shrinks by what is said, and stays round.
func TestGrow(t *testing.T) {
	for _, by := range []float64{0.02, 0.0137, -0.015} {
		m := &Matte{Members: []Member{{Part: Ellipse{Placed: Placed{0.5, 0.5, 0}, A: 0.1, B: 0.1}}}, Grow: by}
		c := over(t, m, 1000, 600, nil)
		for _, a := range []float64{0, 0.8, 1.6, 2.4} {
			r := 0.0
			for ; r < 200; r += 0.5 {
				if c.Row(0, int(300+r*math.Sin(a)))[int(500+r*math.Cos(a))] < 0.5 {
					break
				}
			}
			if want := 100 + 1000*by; math.Abs(r-want) > 1.6 {
				t.Errorf("by %g: at %g rad it ends at %g, not %g", by, a, r, want)
			}
		}
	}
}

// Grown is the greatest within a disc, sample by sample, for what has edges, slopes, spots and noise, larger and smaller than what is looked at at once.
func TestGrowIsTheGreatestWithinADisc(t *testing.T) {
	const w, h = 300, 70
	random := rand.New(rand.NewPCG(5, 8))
	pictures := map[string]func(x, y int) float32{
		"noise": func(x, y int) float32 { return random.Float32() },
		"slope": func(x, y int) float32 { return float32(x)/w/2 + float32(y)/h/3 },
		"edge": func(x, y int) float32 {
			return float32(math.Max(0, math.Min(1, (200-math.Hypot(float64(x-40), float64(y-200)))/6)))
		},
		"spots": func(x, y int) float32 { return float32((x*7919+y*104729)%997/990) * random.Float32() },
		"flat":  func(x, y int) float32 { return 0.25 },
	}
	for title, at := range pictures {
		src := frame.New(w, h, 1)
		for y := range h {
			for x := range w {
				src.Row(0, y)[x] = at(x, y)
			}
		}
		for _, by := range []float64{0.4, 2, 9.25, -13, 40.5, -75} {
			got, err := grow(ctx, src, by)
			if err != nil {
				t.Fatal(err)
			}
			sign, radius := float32(1), by
			if by < 0 {
				sign, radius = -1, -by
			}
			greatest := func(x, y, n int) float32 {
				v := float32(-1000)
				for q := max(0, y-n); q <= min(h-1, y+n); q++ {
					r := int(math.Sqrt((float64(n)+0.5)*(float64(n)+0.5) - float64((q-y)*(q-y))))
					for p := x - r; p <= x+r; p++ {
						v = max(v, sign*src.Row(0, q)[min(max(p, 0), w-1)])
					}
				}
				return v
			}
			whole := math.Floor(radius)
			for y := 0; y < h; y += 3 {
				for x := y % 4; x < w; x += 5 {
					want := greatest(x, y, int(whole))
					if share := float32(radius - whole); share > 0 {
						want += share * (greatest(x, y, int(whole)+1) - want)
					}
					if v := got.Row(0, y)[x]; v != sign*want {
						t.Fatalf("%s grown by %g: %g at %d, %d, not %g", title, by, v, x, y, sign*want)
					}
				}
			}
			got.Release()
		}
	}
}

// A rough shape finds the edge of the thing beneath it.
func TestRefineFindsEdges(t *testing.T) {
	scene := func(x, y int) [3]float64 {
		if x < 200 {
			return [3]float64{0.5, 0.5, 0.5}
		}
		return [3]float64{0.05, 0.05, 0.05}
	}
	rough := Rectangle{Placed: Placed{0.2, 0.5, 0}, A: 0.3 - 0.008, B: 1, Feather: Feather{0.01, 0.01}} // ends at 196.8 of 400
	at := func(refine float64) (inside, outside float64) {
		c := over(t, &Matte{Members: []Member{{Part: rough}}, Refine: refine}, 400, 100, scene)
		return float64(c.Row(0, 50)[198]), float64(c.Row(0, 50)[201])
	}
	in, out := at(0)
	if in-out > 0.5 {
		t.Fatalf("the shape is not rough: %.2f and %.2f", in, out)
	}
	if in, out = at(0.03); in-out < 0.5 {
		t.Errorf("drawn to the edge it covers %.2f inside and %.2f outside", in, out)
	}
}

// Keys are exact at their frames, smooth and within their neighbours between, and rest outside.
func TestKeysAreExact(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 3))
	frames := []int{3, 10, 11, 40, 90}
	values := make([]float64, len(frames))
	for i := range values {
		values[i] = 10 * r.Float64()
	}
	for i, f := range frames {
		if got := Between(frames, values, f); got != values[i] {
			t.Errorf("at frame %d it is %g, the key says %g", f, got, values[i])
		}
	}
	if Between(frames, values, 0) != values[0] || Between(frames, values, 200) != values[4] {
		t.Error("it does not rest outside its keys")
	}
	for f := 3; f < 90; f++ {
		i := 0
		for frames[i+1] <= f {
			i++
		}
		lo, hi := min(values[i], values[i+1]), max(values[i], values[i+1])
		if v := Between(frames, values, f); v < lo-1e-12 || v > hi+1e-12 {
			t.Errorf("at %d it is %g, beyond %g and %g", f, v, lo, hi)
		}
	}
}

// Keys cover what they name: tones, hues, picked colours by what is compared, skin; and not the rest.
func TestKeysCoverWhatTheyName(t *testing.T) {
	skin := grade.FromLab(0.6, 0.07*math.Cos(grade.SkinHue*math.Pi/180), 0.07*math.Sin(grade.SkinHue*math.Pi/180))
	red, darkRed := grade.FromLab(0.6, 0.14, 0.07), grade.FromLab(0.3, 0.07, 0.035)
	blue, grey, bright := grade.FromLab(0.6, -0.03, -0.14), [3]float64{0.18, 0.18, 0.18}, [3]float64{3, 3, 3}
	redHue, _ := grade.Hue(red)
	hue := Colour{Hue: redHue, Width: 20, LowChroma: 0.04, HighChroma: 1, Low: -12, High: 10, Soft: 0.3}
	pick := func(what string) Part { return Picked{Light: red, Tolerance: 0.08, Softness: 0.08, Compare: what} }
	for _, c := range []struct {
		name    string
		part    Part
		in, out [][3]float64
	}{
		{"tones", Tone{1, 10, 1}, [][3]float64{bright}, [][3]float64{grey, darkRed}},
		{"hues", hue, [][3]float64{red, darkRed}, [][3]float64{blue, grey}},
		{"picked colour", pick("colour"), [][3]float64{red}, [][3]float64{blue, grey, darkRed}},
		{"picked hue", pick("hue"), [][3]float64{red, darkRed}, [][3]float64{blue, grey}},
		{"picked chroma", pick("chroma"), [][3]float64{red, darkRed, blue}, [][3]float64{grey}},
		{"picked brightness", pick("brightness"), [][3]float64{red}, [][3]float64{bright, darkRed}},
		{"picked blue", Picked{Light: blue, Tolerance: 0.08, Softness: 0.08, Compare: "blue"}, [][3]float64{blue}, [][3]float64{darkRed, bright}},
		{"skin", Skin{grade.UsualSkin}, [][3]float64{skin}, [][3]float64{blue, grey, red}},
	} {
		for _, v := range c.in {
			if got := over(t, alone(c.part), 1, 1, func(int, int) [3]float64 { return v }).Row(0, 0)[0]; got < 0.95 {
				t.Errorf("%s covers only %.2f of %v", c.name, got, v)
			}
		}
		for _, v := range c.out {
			if got := over(t, alone(c.part), 1, 1, func(int, int) [3]float64 { return v }).Row(0, 0)[0]; got > 0.05 {
				t.Errorf("%s covers %.2f of %v", c.name, got, v)
			}
		}
	}
}

// Another picture is fitted, not stretched, or stands at its size in the middle; by its luma or its opacity.
func TestPictureIsFitted(t *testing.T) {
	f := frame.New(100, 100, 4)
	for y := range 100 {
		for x := range 100 {
			for c := range 3 {
				f.Row(c, y)[x] = 1
			}
			if x < 50 {
				f.Row(3, y)[x] = 1
			}
		}
	}
	fit := over(t, alone(Picture{Frame: f, Fit: true}), 400, 200, nil)
	if in, out := fit.Row(0, 100)[110], fit.Row(0, 100)[90]; in != 1 || out != 0 {
		t.Errorf("fitted, a square covers from a quarter: %g inside, %g outside", in, out)
	}
	centre := over(t, alone(Picture{Frame: f}), 400, 200, nil)
	if in, out := centre.Row(0, 100)[155], centre.Row(0, 100)[145]; in != 1 || out != 0 {
		t.Errorf("at its size it covers from 150: %g inside, %g outside", in, out)
	}
	alpha := over(t, alone(Picture{Frame: f, Fit: true, Alpha: true}), 400, 200, nil)
	if in, out := alpha.Row(0, 100)[110], alpha.Row(0, 100)[250]; in != 1 || out != 0 {
		t.Errorf("by opacity: %g and %g", in, out)
	}
}
