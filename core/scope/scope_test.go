package scope

import (
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
)

// plainAxis makes places out of values without rounding.
var plainAxis = Axis{Lo: 0, Hi: 1}

var bt709 = [3]float64{0.2126, 0.7152, 0.0722} // ITU-R BT.709-6, item 3.2

func picture(w, h int, f func(x, y int) [3]float64) Picture {
	p := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			for c, v := range f(x, y) {
				p.Row(c, y)[x] = float32(v)
			}
		}
	}
	return Picture{Frame: p, Axis: plainAxis, Weights: bt709}
}

// A ramp of 257 levels, one a column, stands on the diagonal, with all its weight in one cell.
func TestWaveformOfARamp(t *testing.T) {
	const n = 257
	p := picture(n, 5, func(x, _ int) [3]float64 { v := float64(x) / 256; return [3]float64{v, 1 - v, 0.5} })
	w := Waveform(p, n, n)
	for x := range n {
		for y := range n {
			want := [3]uint32{}
			if y == 256-x {
				want[0] = 5 * Unit
			}
			if y == x {
				want[1] = 5 * Unit
			}
			if y == 128 {
				want[2] = 5 * Unit
			}
			for c := range want {
				if got := w.At(c, x, y); got != want[c] {
					t.Fatalf("channel %d, column %d, level %d: %d, want %d", c, x, y, got, want[c])
				}
			}
		}
	}
}

// Bars of three quarters: four columns of the picture for one of the scope; a level between two cells
// shares its weight between them.
func TestWaveformOfBars(t *testing.T) {
	levels := []float64{0, 0.25, 0.375, 0.75, 1}
	p := picture(20, 3, func(x, _ int) [3]float64 { v := levels[x/4]; return [3]float64{v, v, v} })
	w := Waveform(p, 5, 5) // cells at 1, ¾, ½, ¼, 0
	want := [5][5]uint32{  // by column, from the top
		{0, 0, 0, 0, 12 * Unit},
		{0, 0, 0, 12 * Unit, 0},
		{0, 0, 6 * Unit, 6 * Unit, 0},
		{0, 12 * Unit, 0, 0, 0},
		{12 * Unit, 0, 0, 0, 0},
	}
	for c := range 3 {
		for x := range want {
			for y, v := range want[x] {
				if got := w.At(c, x, y); got != v {
					t.Errorf("channel %d, column %d, row %d: %d, want %d", c, x, y, got, v)
				}
			}
		}
	}
	if w.Share[2] != 12*Unit {
		t.Errorf("a full cell is %g, want %d", w.Share[2], 12*Unit)
	}
	// columns that do not divide the picture evenly still look alike
	flat := Waveform(picture(11, 8, func(int, int) [3]float64 { return [3]float64{0.5, 0.5, 0.5} }), 4, 9)
	for x := range 4 {
		if n := float64(flat.At(0, x, 4)); n != flat.Share[x] {
			t.Errorf("column %d holds %g of %g", x, n, flat.Share[x])
		}
	}
}

// Noise, against counting by another road: values in quarters of a cell.
func TestScopesOfNoise(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	const w, h, levels = 64, 48, 65
	var value [3][h][w]int // in 1/256
	p := picture(w, h, func(x, y int) [3]float64 {
		var v [3]float64
		for c := range v {
			value[c][y][x] = r.IntN(257)
			v[c] = float64(value[c][y][x]) / 256
		}
		return v
	})
	wave, hist := Waveform(p, 16, levels), Count(p)
	type cell struct{ c, x, y int }
	want := map[cell]uint32{}
	var counts [3][Levels]uint32
	for c := range 3 {
		for y := range h {
			for x := range w {
				n := value[c][y][x]
				for i := range 4 { // a quarter of the pixel at a time goes down by a cell
					row := 64 - (n+i)/4
					if n%4 == 0 {
						row = 64 - n/4
					}
					want[cell{c, x / 4, row}] += Unit / 4
				}
				counts[c][min(n, 255)]++
			}
		}
	}
	for c := range 3 {
		for x := range 16 {
			for y := range levels {
				if got := wave.At(c, x, y); got != want[cell{c, x, y}] {
					t.Fatalf("channel %d, column %d, row %d: %d, want %d", c, x, y, got, want[cell{c, x, y}])
				}
			}
		}
		for i, n := range counts[c] {
			if hist.Count[c][i] != n {
				t.Fatalf("channel %d, level %d: %d, want %d", c, i, hist.Count[c][i], n)
			}
		}
	}
}

// What lies beyond the scale is held at its ends, and every pixel is counted.
func TestBeyondTheScale(t *testing.T) {
	p := picture(8, 2, func(x, _ int) [3]float64 { return [3]float64{-3, 7, math.Inf(1)} })
	w := Waveform(p, 8, 9)
	if w.At(0, 3, 8) != 2*Unit || w.At(1, 3, 0) != 2*Unit || w.At(2, 3, 0) != 2*Unit {
		t.Error("values beyond the scale are not at its ends")
	}
	if h := Count(p); h.Count[0][0] != 16 || h.Count[1][Levels-1] != 16 {
		t.Error("the histogram lost values beyond the scale")
	}
}

// Where colours stand, by the figures of ITU-R BT.709-6, items 3.3 and 3.4: the colour differences of the
// primaries.
func TestTargetsAreWhereTheStandardPutsThem(t *testing.T) {
	want := map[string][2]float64{"R": {-0.1146, 0.5}, "G": {-0.3854, -0.4542}, "B": {0.5, -0.0458}, "C": {0.1146, -0.5}, "M": {0.3854, 0.4542}, "Y": {-0.5, 0.0458}}
	list := Targets(bt709)
	if len(list) != 12 {
		t.Fatalf("%d targets", len(list))
	}
	for _, x := range list {
		w := want[x.Label]
		if math.Abs(x.Cb-w[0]*x.Level) > 5e-5 || math.Abs(x.Cr-w[1]*x.Level) > 5e-5 {
			t.Errorf("%s at %g: %.4f, %.4f, want %.4f, %.4f", x.Label, x.Level, x.Cb, x.Cr, w[0]*x.Level, w[1]*x.Level)
		}
	}
}

// The skin line is the in-phase axis: 33° from the red-difference axis (SMPTE ST 170), so 123° from the
// blue-difference one.
func TestSkinLine(t *testing.T) {
	u, v := SkinEnd()
	if a := math.Atan2(0.5-v, u-0.5) * 180 / math.Pi; math.Abs(a-(90+33)) > 1e-9 {
		t.Errorf("the skin line lies at %g°", a)
	}
}

// A picture of one colour is one spot, where VectorAt puts it, and its whole weight is there.
func TestVectorOfOneColour(t *testing.T) {
	for _, zoom := range []float64{1, 2, 4} {
		c := [3]float64{0.5, 0.45, 0.46}
		p := picture(10, 10, func(int, int) [3]float64 { return c })
		tr := Vector(p, 201, zoom)
		var sum, sx, sy float64
		for y := range 201 {
			for x := range 201 {
				n := float64(tr.At(0, x, y))
				sum, sx, sy = sum+n, sx+n*float64(x), sy+n*float64(y)
			}
		}
		u, v := VectorAt(c, bt709, zoom)
		if sum != 100*Unit || math.Abs(sx/sum-200*u) > 1.0/16 || math.Abs(sy/sum-200*v) > 1.0/16 {
			t.Errorf("zoom %g: weight %g at %.2f, %.2f, want %d at %.2f, %.2f", zoom, sum, sx/sum, sy/sum, 100*Unit, 200*u, 200*v)
		}
	}
}

// Chromaticities against the figures of the standards: D65 in CIE 1976 is 0.1978, 0.4683, and the
// primaries of BT.709 are red 0.4507, 0.5229, green 0.1250, 0.5625, blue 0.1754, 0.1579 (CIE 15 with
// the x, y of ITU-R BT.709-6).
func TestChromaticities(t *testing.T) {
	white := White(colour.BT709)
	if math.Abs(white[0]*chromaU-0.1978) > 5e-5 || math.Abs((1-white[1])*chromaV-0.4683) > 5e-5 {
		t.Errorf("white stands at %.4f, %.4f", white[0]*chromaU, (1-white[1])*chromaV)
	}
	tri := Triangle(colour.BT709)
	for i, want := range [][2]float64{{0.4507, 0.5229}, {0.1250, 0.5625}, {0.1754, 0.1579}} {
		if math.Abs(tri[i][0]*chromaU-want[0]) > 5e-5 || math.Abs((1-tri[i][1])*chromaV-want[1]) > 5e-5 {
			t.Errorf("corner %d stands at %.4f, %.4f, want %v", i, tri[i][0]*chromaU, (1-tri[i][1])*chromaV, want)
		}
	}
	m := colour.BT709.ToXYZ()
	p := picture(6, 6, func(x, _ int) [3]float64 {
		if x == 0 {
			return [3]float64{} // black says nothing
		}
		return [3]float64{0.4, 0.4, 0.4}
	})
	p.Light = m.Apply
	tr := Chroma(p, 129)
	var sum, sx, sy float64
	for y := range 129 {
		for x := range 129 {
			n := float64(tr.At(0, x, y))
			sum, sx, sy = sum+n, sx+n*float64(x), sy+n*float64(y)
		}
	}
	if sum != 30*Unit || math.Abs(sx/sum-128*white[0]) > 1.0/16 || math.Abs(sy/sum-128*white[1]) > 1.0/16 {
		t.Errorf("grey: weight %g at %.2f, %.2f", sum, sx/sum, sy/sum)
	}
	for _, q := range Horseshoe() {
		if q[0] < 0 || q[0] > 1 || q[1] < 0 || q[1] > 1 {
			t.Errorf("the edge of colours leaves the plot at %v", q)
		}
	}
}

// The scales put what they should where they should.
func TestAxes(t *testing.T) {
	stops, codes, density, nits := Stops(), Codes(), Density(), Nits(1000)
	for _, c := range []struct {
		a    *Axis
		v    float64
		want float64
	}{
		{&stops, 0.18, 9.0 / 17}, {&stops, 0.36, 10.0 / 17}, {&stops, -1, 0}, {&stops, 1e6, 1},
		{&codes, 0, 0.03 / 1.06}, {&codes, 1, 1.03 / 1.06}, {&density, 1.6, 0.5}, {&nits, 1150, 1}, {&nits, 0.02, 0},
	} {
		if got := c.a.Place(c.v); math.Abs(got-c.want) > 1e-12 {
			t.Errorf("%s: %g stands at %g, want %g", c.a.Unit, c.v, got, c.want)
		}
		row := []float32{0}
		c.a.row(row, []float32{float32(c.v)})
		if math.Abs(float64(row[0])-c.want) > 1e-6 {
			t.Errorf("%s: a row puts %g at %g, want %g", c.a.Unit, c.v, row[0], c.want)
		}
	}
	for _, a := range []Axis{stops, codes, density, nits} {
		for i, m := range a.Marks {
			if m.At < 0 || m.At > 1 || i > 0 && m.At <= a.Marks[i-1].At {
				t.Errorf("%s: mark %s at %g", a.Unit, m.Label, m.At)
			}
		}
	}
	if stops.Marks[stops.Strong].Label != "0" {
		t.Error("mid grey is not the strong mark")
	}
}

// Drawings show one pixel in a million, do not blind, and keep to their channels.
func TestDrawings(t *testing.T) {
	p := picture(300, 200, func(x, y int) [3]float64 {
		if x == 7 && y == 7 {
			return [3]float64{0.9, 0.9, 0.9}
		}
		return [3]float64{0.25, 0.5, 0.75}
	})
	w := Waveform(p, 300, 129)
	for name, im := range map[string]*Image{"luma": DrawLuma(w), "rgb": DrawRGB(w), "parade": DrawParade(Waveform(p, 100, 129)), "vector": DrawVector(Vector(p, 128, 1))} {
		seen, most := 0, byte(0)
		for i := 3; i < len(im.RGBA); i += 4 {
			if im.RGBA[i] > 0 {
				seen++
			}
			most = max(most, im.RGBA[i])
		}
		if seen == 0 || most < 200 || len(im.RGBA) != 4*im.W*im.H {
			t.Errorf("%s: %d cells seen, the brightest %d", name, seen, most)
		}
	}
	one := bright(1.0/(300*200), waveGain)
	if one < 0.02 || one > 0.3 {
		t.Errorf("a single pixel shows at %.3f", one)
	}
	im := DrawParade(Waveform(p, 100, 129))
	for i, want := range channelInk {
		x := i*(100+3) + 50
		for y := range 129 {
			if q := im.RGBA[4*(y*im.W+x):]; q[3] > 100 {
				for c := range 3 {
					if math.Abs(float64(q[c])/255-want[c]/max(want[0], want[1], want[2])) > 0.02 {
						t.Fatalf("panel %d is drawn in %v", i, q[:3])
					}
				}
			}
		}
	}
}
