package colour

import (
	"math"
	"testing"
)

// Reference levels of BT.2408, table 1, and of BT.2100: HLG at 1000 cd/m², PQ.
func TestHighRangeLevels(t *testing.T) {
	for _, c := range []struct {
		id         string
		nits, code float64
	}{
		{"hlg", 203, 0.75}, {"hlg", 26, 0.38}, {"hlg", 1000, 1},
		{"pq", 203, 0.58}, {"pq", 26, 0.38}, {"pq", 1000, 0.7518}, {"pq", 100, 0.5081},
	} {
		d, err := FindDisplay(c.id)
		if err != nil {
			t.Fatal(err)
		}
		v := c.nits / d.Peak
		got := d.Code([3]float64{v, v, v})
		for _, g := range got {
			if !near(g, c.code, 5.5e-3) {
				t.Errorf("%s: %g cd/m² has code %.4f, want %.4f", c.id, c.nits, g, c.code)
			}
		}
	}
}

func TestDisplaysReturn(t *testing.T) {
	for _, d := range Displays() {
		for _, at := range []*Display{d, d.At(100, 4000)} {
			for i := range 200 {
				v := [3]float64{float64(i) / 199, float64(i*7%200) / 199, float64(i*31%200) / 199}
				back := at.Light(at.Code(v))
				for c := range v {
					if !near(back[c], v[c], 1e-6) {
						t.Fatalf("%s: %v comes back as %v", at.Key(), v, back)
					}
				}
			}
		}
	}
	if d, _ := FindDisplay("srgb"); d.At(100, 400) != d {
		t.Error("a computer screen took a peak")
	}
}

// White of a print is at White on every display; without film there is room above it.
func TestWhiteAndHead(t *testing.T) {
	for _, d := range Displays() {
		w := d.Luminance()
		got := d.Light(d.Show([3]float64{1, 1, 1}, 0, &w))
		if !near(got[1]*d.Peak, d.White, 1e-3*d.White) {
			t.Errorf("%s: white is at %g cd/m², want %g", d.ID, got[1]*d.Peak, d.White)
		}
		if g := DefaultTone.At(0.18, d.Head()); !near(g, DefaultTone.Grey, 1e-9) {
			t.Errorf("%s: mid grey at %g of white", d.ID, g)
		}
		if top := DefaultTone.At(1e6, d.Head()); !near(top, d.Head(), 1e-3*d.Head()) {
			t.Errorf("%s: the scale ends at %g, the peak is %g", d.ID, top, d.Head())
		}
	}
}

// The example of the model's authors.
func TestCAM16(t *testing.T) {
	a := CAM16([3]float64{19.01, 20, 21.78}, [3]float64{95.05, 100, 108.88}, 318.30988618379, 20)
	if !near(a.J, 41.7312079, 1e-5) || !near(a.C, 0.1033557, 1e-5) || !near(a.H, 217.0679597, 1e-4) {
		t.Errorf("got %+v", a)
	}
}

// The gamut fit turns no hue by much: measured in CAM16 over colours outside every display.
func TestFitKeepsHue(t *testing.T) {
	for _, d := range Displays() {
		xyz, w := d.Gamut.ToXYZ(), d.Luminance()
		white := d.Gamut.White.XYZ()
		look := func(v [3]float64) Appearance {
			c := xyz.Apply(v)
			for i := range c {
				c[i] *= 100
			}
			return CAM16(c, [3]float64{white[0] * 100, 100, white[2] * 100}, 20, 20)
		}
		var sum, worst float64
		n := 0
		for i := range 36 {
			for _, chroma := range []float64{0.1, 0.3, 0.6, 0.9} {
				for _, y := range []float64{0.05, 0.2, 0.5, 0.8} {
					a := float64(i) * math.Pi / 18
					v := [3]float64{y * (1 + chroma*1.3*math.Cos(a)), y * (1 + chroma*1.3*math.Cos(a-2*math.Pi/3)), y * (1 + chroma*1.3*math.Cos(a+2*math.Pi/3))}
					f := Fit(v, w)
					before, after := look(v), look(f)
					if after.C < 5 {
						continue // no hue to speak of
					}
					e := HueError(before.H, after.H)
					sum, n = sum+e, n+1
					worst = max(worst, e)
				}
			}
		}
		t.Logf("%s: mean %.2f°, worst %.2f° over %d colours", d.ID, sum/float64(n), worst, n)
		if sum/float64(n) > 1 || worst > 16 {
			t.Errorf("%s: the fit turns hue by %.2f° on average, %.2f° at worst", d.ID, sum/float64(n), worst)
		}
	}
}

// OpenColorIO 2.1.2's built-in of the same published transform, fed with AP1 light.
func TestCompress(t *testing.T) {
	for _, c := range []struct{ in, want [3]float64 }{
		{[3]float64{0.18, 0.18, 0.18}, [3]float64{0.18, 0.18, 0.18}},
		{[3]float64{0.5, -0.1, 0.02}, [3]float64{0.5, 0.005459428, 0.03118974}},
		{[3]float64{-0.05, 0.3, 0.9}, [3]float64{0.02675903, 0.3, 0.9}},
		{[3]float64{2, 0.05, -0.3}, [3]float64{2, 0.1543946, 0.02836323}},
		{[3]float64{0.01, 0.6, 0.02}, [3]float64{0.03690606, 0.6, 0.03554094}},
		{[3]float64{10, 9, -2}, [3]float64{10, 9, 0.08588409}},
		{[3]float64{0.02, -0.004, 0.5}, [3]float64{0.03694731, 0.031672, 0.5}},
		{[3]float64{0.9, 0.1, 0.95}, [3]float64{0.9, 0.1150563, 0.95}},
		{[3]float64{-0.1, -0.2, -0.05}, [3]float64{-0.09733216, -0.1034912, -0.05}},
	} {
		got := Compress(c.in)
		back := Decompress(got)
		for i := range got {
			if !near(got[i], c.want[i], 2e-6) {
				t.Errorf("%v: got %v, want %v", c.in, got, c.want)
			}
			if !near(back[i], c.in[i], 1e-9) {
				t.Errorf("%v comes back as %v", c.in, back)
			}
		}
	}
}

// At every setting the scale rises, keeps mid grey, and bends without a kink there.
func TestToneSettings(t *testing.T) {
	for _, toe := range []float64{-0.4, 0, 0.6} {
		for _, roll := range []float64{-0.3, 0, 0.6} {
			tone := DefaultTone
			tone.Toe, tone.RollOff = toe, roll
			if g := tone.At(0.18, 1); !near(g, DefaultTone.Grey, 1e-12) {
				t.Errorf("toe %g, roll-off %g: mid grey at %g", toe, roll, g)
			}
			last := 0.0
			for s := -12.0; s <= 12; s += 0.05 {
				v := tone.At(0.18*math.Exp2(s), 1)
				if v <= last {
					t.Fatalf("toe %g, roll-off %g: falls at %g stops", toe, roll, s)
				}
				last = v
			}
			slope := func(a, b float64) float64 { return (tone.Bend(b) - tone.Bend(a)) / (b - a) }
			if !near(slope(-1e-4, 0), slope(0, 1e-4), 1e-3) || !near(slope(-1000, -999), 1+toe, 1e-3) || !near(slope(999, 1000), 1-roll, 1e-3) {
				t.Errorf("toe %g, roll-off %g: slopes %g %g %g %g", toe, roll, slope(-1000, -999), slope(-1e-4, 0), slope(0, 1e-4), slope(999, 1000))
			}
		}
	}
}

// Rows are encoded as the formulas say, within a fiftieth of a 10-bit code where a curve has a kink.
func TestEncoderRows(t *testing.T) {
	for _, e := range Encodings() {
		if e.Encode == nil {
			continue
		}
		n := NewEncoder(e)
		row, scratch := make([]float32, 400, 448), make([]float32, 400, 448)
		for i := range row {
			row[i] = float32(0.18 * math.Exp2(float64(i)/16-14))
		}
		row[0], row[1], row[2] = 0, -0.1, -1e-5
		want := make([]float64, len(row))
		for i, x := range row {
			want[i] = e.Encode(float64(x))
		}
		n.Row(row, scratch)
		for i, w := range want {
			if math.Abs(float64(row[i])-w) > 2e-5*(1+math.Abs(w)) {
				t.Fatalf("%s: sample %d is %g, want %g", e.ID, i, row[i], w)
			}
		}
	}
}
