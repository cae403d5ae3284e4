package grade

import (
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/colour"
)

func random(r *rand.Rand) [3]float64 {
	return [3]float64{2*r.Float64() - 0.2, 2*r.Float64() - 0.2, 2*r.Float64() - 0.2}
}

// The standard's formula, written out: out = clamp(in·slope + offset)^power, then saturation about BT.709 luma.
func TestCDLIsTheStandards(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for n := range 2000 {
		o := &CDL{Saturation: 2 * r.Float64(), Clamp: n%2 == 0}
		for i := range 3 {
			o.Slope[i], o.Offset[i], o.Power[i] = 0.5+r.Float64(), 0.4*r.Float64()-0.2, 0.5+1.5*r.Float64()
		}
		c := random(r)
		hold := func(v float64) float64 {
			if o.Clamp {
				return min(max(v, 0), 1)
			}
			return v
		}
		var want [3]float64
		for i := range want {
			v := hold(c[i]*o.Slope[i] + o.Offset[i])
			if v > 0 {
				v = math.Pow(v, o.Power[i])
			}
			want[i] = v
		}
		y := 0.2126*want[0] + 0.7152*want[1] + 0.0722*want[2]
		for i := range want {
			want[i] = hold(y + o.Saturation*(want[i]-y))
		}
		if got := Apply(o, c); !close3(got, want, 1e-5) {
			t.Fatalf("%+v of %v is %v, by the formula %v", *o, c, got, want)
		}
	}
}

// On ACEScct the CDL is that of encoding, formula, decoding (S-2016-001).
func TestCDLOnLog(t *testing.T) {
	cct, err := colour.FindEncoding("acescct")
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(5, 6))
	for range 500 {
		o := &CDL{Slope: [3]float64{1.1, 0.9, 1}, Offset: [3]float64{0.02, -0.03, 0}, Power: [3]float64{0.9, 1, 1.2}, Saturation: 1.2, Log: true}
		y := math.Exp2(12*r.Float64() - 10)
		c := [3]float64{y, y * (0.4 + r.Float64()), y * (0.4 + r.Float64())}
		plain := *o
		plain.Log = false
		code := [3]float64{cct.Encode(c[0]), cct.Encode(c[1]), cct.Encode(c[2])}
		code = Apply(&plain, code)
		want := [3]float64{cct.Decode(code[0]), cct.Decode(code[1]), cct.Decode(code[2])}
		if got := Apply(o, c); !close3(got, want, 2e-5) {
			t.Fatalf("%v becomes %v, not %v", c, got, want)
		}
	}
}

func TestTwelvePointsAreAStop(t *testing.T) {
	c := [3]float64{0.31, 0.18, 0.07}
	for k := -4; k <= 4; k++ {
		want := math.Exp2(float64(k))
		got := Apply(Lights(float64(12*k), 0, float64(-12*k)), c)
		if math.Abs(got[0]/c[0]/want-1) > 1e-6 || math.Abs(got[1]-c[1]) > 1e-7 || math.Abs(got[2]/c[2]*want-1) > 1e-6 {
			t.Errorf("%d points: %v", 12*k, got)
		}
	}
}

// Oklab against the figures of its publication: XYZ and the Lab they give (Ottosson 2020, table of examples),
// brought to the ACES white as the code does.
func TestOklabIsThePublished(t *testing.T) {
	for _, c := range []struct{ xyz, lab [3]float64 }{
		{[3]float64{0.950, 1.000, 1.089}, [3]float64{1.000, 0.000, 0.000}},
		{[3]float64{1.000, 0.000, 0.000}, [3]float64{0.450, 1.236, -0.019}},
		{[3]float64{0.000, 1.000, 0.000}, [3]float64{0.922, -0.671, 0.263}},
		{[3]float64{0.000, 0.000, 1.000}, [3]float64{0.153, -1.415, -0.449}},
	} {
		rgb := colour.Convert(colour.BT709, colour.AP1).Mul(colour.BT709.ToXYZ().Inverse()).Apply(c.xyz)
		l, a, b := Lab(rgb)
		if !close3([3]float64{l, a, b}, c.lab, 2e-3) {
			t.Errorf("%v is %.3f %.3f %.3f, published %v", c.xyz, l, a, b, c.lab)
		}
		if back := FromLab(l, a, b); !close3(back, rgb, 1e-9) {
			t.Errorf("there and back %v becomes %v", rgb, back)
		}
	}
}

// Families: closed at 360, smooth, weights that share; whatever the settings, no hue parts from its neighbour by
// more than two degrees, half a degree apart; density leaves neutrals.
func TestFamiliesAreSmooth(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for n := range 60 {
		f := &Families{Softness: r.Float64()}
		for i := range f.Shift {
			f.Shift[i], f.Saturation[i], f.Density[i], f.Centre[i] = 40*r.Float64()-20, 2*r.Float64(), 3*r.Float64()-1.5, 40*r.Float64()-20
			if n%3 == 0 { // neighbours that pull against each other, all the way
				f.Shift[i], f.Centre[i] = 20-40*float64(i%2), 20-40*float64(i%2)
			}
		}
		for h := 0.0; h < 360; h += 0.5 {
			sum := 0.0
			for _, w := range f.Weights(h) {
				if w < 0 || w > 1 {
					t.Fatalf("a weight of %g at %g", w, h)
				}
				sum += w
			}
			if math.Abs(sum-1) > 1e-9 {
				t.Fatalf("weights sum to %g at %g", sum, h)
			}
		}
		op := f.Op()
		at := func(h float64) [3]float64 {
			s, c := math.Sincos(h * math.Pi / 180)
			return Apply(op, FromLab(0.6, 0.09*c, 0.09*s))
		}
		before := at(-0.5)
		hue := func(c [3]float64) float64 { h, _ := Hue(c); return h }
		for h := 0.0; h < 360.5; h += 0.5 {
			now := at(h)
			if _, chroma := Hue(now); chroma > 1e-3 {
				if _, was := Hue(before); was > 1e-3 {
					if d := apart(hue(now), hue(before)); d > 2 || d < -0.05 {
						t.Fatalf("setting %d: from %g to %g hue goes on by %g", n, h-0.5, h, d)
					}
				}
			}
			before = now
		}
		if a, b := at(0), at(360); !close3(a, b, 1e-6) {
			t.Errorf("0° gives %v and 360° %v", a, b)
		}
		if a, b := at(-1e-4), at(1e-4); !close3(a, b, 1e-4) {
			t.Errorf("a step at 0°: %v and %v", a, b)
		}
		for x := -10.0; x < 7; x += 0.25 {
			y := 0.18 * math.Exp2(x)
			if got := Apply(op, [3]float64{y, y, y}); !close3(got, [3]float64{y, y, y}, 1e-4*y) {
				t.Fatalf("grey at %+g becomes %v of %g", x, got, y)
			}
		}
	}
}

// Density deepens the strong: darker, and of more chroma for their lightness; pale colours hardly.
func TestDensityIsSubtractive(t *testing.T) {
	f := &Families{Softness: 1}
	for i := range f.Density {
		f.Density[i], f.Saturation[i] = 1, 1
	}
	op := f.Op()
	for _, h := range []float64{20, 100, 200, 300} {
		s, c := math.Sincos(h * math.Pi / 180)
		strong, pale := FromLab(0.6, 0.15*c, 0.15*s), FromLab(0.6, 0.006*c, 0.006*s)
		l, a, b := Lab(Apply(op, strong))
		if stops := 3 * math.Log2(0.6/l); stops < 0.6 || stops > 1 {
			t.Errorf("at %g° a stop of density takes %.2f stops", h, stops)
		}
		if was, is := 0.15/0.6, math.Hypot(a, b)/l; is <= was {
			t.Errorf("at %g° chroma over lightness goes from %.3f to %.3f", h, was, is)
		}
		if l, _, _ := Lab(Apply(op, pale)); math.Abs(3*math.Log2(0.6/l)) > 0.02 {
			t.Errorf("at %g° a pale colour loses %.3f stops", h, 3*math.Log2(0.6/l))
		}
	}
}

// Rows sum to one, whatever runs over and however hues turn; greys stay to a millionth; with the hold, so does
// the luminance of all.
func TestCrosstalkKeepsGreys(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 10))
	for range 200 {
		c := &Crosstalk{Turn: 40*r.Float64() - 20, Hold: float64(r.IntN(2))}
		for i := range 3 {
			for j := range 3 {
				c.Into[i][j] = 1.2*r.Float64() - 0.6
			}
		}
		m := c.Matrix()
		for i := range 3 {
			if s := m[3*i] + m[3*i+1] + m[3*i+2]; math.Abs(s-1) > 1e-12 {
				t.Fatalf("row %d sums to %g", i, s)
			}
		}
		y := 0.18 * math.Exp2(10*r.Float64()-6)
		if got := Apply(c.Op(), [3]float64{y, y, y}); !close3(got, [3]float64{y, y, y}, 1e-6*y) {
			t.Fatalf("grey %g becomes %v", y, got)
		}
		v := [3]float64{0.2 + 0.1*r.Float64(), 0.2 + 0.1*r.Float64(), 0.2 + 0.1*r.Float64()}
		if c.Hold == 1 {
			got := Apply(c.Op(), v)
			if a, b := lum(v), lum(got); math.Abs(a/b-1) > 1e-5 {
				t.Fatalf("held luminance goes from %g to %g", a, b)
			}
		}
	}
}

// A squeeze leaves skin where it is, and what lies across the skin line comes nearer by what is asked.
func TestSqueezePressesAcrossTheSkinLine(t *testing.T) {
	c := Squeeze(0.4)
	m := c.Matrix()
	skin := skinLight()
	if got := m.Apply(skin); !close3(got, skin, 1e-6) {
		t.Errorf("skin goes from %v to %v", skin, got)
	}
}

func lum(c [3]float64) float64 { return Luma[0]*c[0] + Luma[1]*c[1] + Luma[2]*c[2] }

// The skin line is that of the vectorscope: the colour that stands for skin lies on it in codes of BT.709.
func TestSkinHueLiesOnTheSkinLine(t *testing.T) {
	for _, stops := range []float64{-3, 0, 1.5} {
		c := colour.Convert(colour.AP1, colour.BT709).Apply(skinLight())
		for i := range c {
			c[i] = math.Pow(c[i]*math.Exp2(stops), 1/2.4)
		}
		y := 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2]
		a := math.Atan2((c[0]-y)/1.5748, (c[2]-y)/1.8556) * 180 / math.Pi
		if math.Abs(a-SkinAngle) > 0.01 {
			t.Errorf("%+g stops: at %.2f°", stops, a)
		}
	}
}

// The guard moves skin by what it is told, and nothing else at all.
func TestGuardMovesSkinAlone(t *testing.T) {
	g := &Guard{Skin: UsualSkin, Hue: 6, Chroma: 1.2, Light: 0.4}
	op := g.Op()
	s, c := math.Sincos(SkinHue * math.Pi / 180)
	for _, l := range []float64{0.4, 0.55, 0.75} {
		skin := FromLab(l, 0.11*l*c, 0.11*l*s)
		got := Apply(op, skin)
		h, chroma := Hue(got)
		if d := apart(h, SkinHue); math.Abs(d-6) > 0.1 || math.Abs(chroma/0.11-1.2) > 0.01 || math.Abs(math.Log2(lum(got)/lum(skin))-0.4) > 0.06 {
			t.Errorf("skin moves by %.2f°, chroma %.2f times, %.2f stops", d, chroma/0.11, math.Log2(lum(got)/lum(skin)))
		}
	}
	for _, other := range [][3]float64{{0.1, 0.3, 0.1}, {0.1, 0.15, 0.5}, {0.18, 0.18, 0.18}, {0.6, 0.02, 0.01}} {
		if got := Apply(op, other); got != [3]float64{float64(float32(other[0])), float64(float32(other[1])), float64(float32(other[2]))} {
			t.Errorf("%v is no skin and becomes %v", other, got)
		}
	}
	pulled := &Guard{Skin: UsualSkin, Chroma: 1, Line: 0.5}
	s, c = math.Sincos((SkinHue + 10) * math.Pi / 180)
	h, _ := Hue(Apply(pulled.Op(), FromLab(0.55, 0.06*c, 0.06*s)))
	if d := apart(h, SkinHue); math.Abs(d-5) > 0.2 {
		t.Errorf("half of ten degrees to the line leaves %.2f", d)
	}
}

// Zones share the scale, move what they say, and stay in order.
func TestZones(t *testing.T) {
	z := &Zones{Borders: [4]float64{-5.5, -2.5, 0.8, 2.8}, Softness: 2.2}
	for x := -12.0; x < 9; x += 0.1 {
		sum := 0.0
		for _, w := range z.Weights(x) {
			sum += w
		}
		if math.Abs(sum-1) > 1e-9 {
			t.Fatalf("weights at %g sum to %g", x, sum)
		}
	}
	z.Level = [5]float64{0, 0, 0.5, 0, -1}
	op := z.Op()
	for _, c := range []struct{ at, by float64 }{{-0.85, 0.5}, {-9, 0}, {-4, 0}, {6, -1}} {
		y := Grey * math.Exp2(c.at)
		if got := math.Log2(Apply(op, [3]float64{y, y, y})[0] / y); math.Abs(got-c.by) > 0.02 {
			t.Errorf("at %+g it gives %+.3f stops, not %+g", c.at, got, c.by)
		}
	}
	warm := &Zones{Borders: z.Borders, Softness: 2.2, Warm: [5]float64{0, 0, 0.6, 0, 0}}
	got := Apply(warm.Op(), [3]float64{Grey, Grey, Grey})
	if !(got[0] > got[1] && got[1] > got[2]) || math.Abs(lum(got)/Grey-1) > 0.01 {
		t.Errorf("a warm middle makes %v of grey", got)
	}
}

// Lift leaves white, gamma black and white, gain black; offset adds.
func TestPrimariesDoWhatTheyAreCalled(t *testing.T) {
	one := [3]float64{1, 1, 1}
	at := func(p Primaries, v float64) float64 {
		if p.Gamma == [3]float64{} {
			p.Gamma = one
		}
		if p.Gain == [3]float64{} {
			p.Gain = one
		}
		return Apply(&p, [3]float64{v, v, v})[1]
	}
	all := func(v float64) [3]float64 { return [3]float64{v, v, v} }
	for _, c := range []struct {
		p        Primaries
		in, want float64
	}{
		{Primaries{Lift: all(0.1)}, 1, 1}, {Primaries{Lift: all(0.1)}, 0, math.Pow(0.1, 2.4)},
		{Primaries{Gamma: all(1.5)}, 1, 1}, {Primaries{Gamma: all(1.5)}, 0, 0}, {Primaries{Gamma: all(1.5)}, 0.18, math.Pow(0.18, 1/1.5)},
		{Primaries{Gain: all(1.5)}, 0, 0}, {Primaries{Gain: all(1.5)}, 0.4, 0.6},
		{Primaries{Offset: all(0.05)}, 0, 0.05}, {Primaries{Offset: all(0.05)}, 2, 2.05},
		{Primaries{Lift: all(0.1)}, -0.2, math.Pow(0.1, 2.4) - 0.2},
	} {
		if got := at(c.p, c.in); math.Abs(got-c.want) > 2e-6 {
			t.Errorf("%+v of %g is %g, not %g", c.p, c.in, got, c.want)
		}
	}
}

// Levels bring their ends to black and white, and grey where it is told.
func TestLevels(t *testing.T) {
	for _, c := range []struct {
		l        Levels
		in, want float64
	}{{Levels{0.02, 1.5, 0}, 0.02, 0}, {Levels{0.02, 1.5, 0}, 1.5, 1}, {Levels{0, 1, 0.7}, 0.18, 0.18 * math.Exp2(0.7)}, {Levels{0, 1, -1}, 0.18, 0.09}, {Levels{0, 1, -1}, 1, 1}} {
		if got := Apply(&c.l, [3]float64{c.in, c.in, c.in})[0]; math.Abs(got-c.want) > 2e-6 {
			t.Errorf("%+v of %g is %g, not %g", c.l, c.in, got, c.want)
		}
	}
}

// The roll-off holds by the strongest channel: ratios of channels, and so hue, stay.
func TestRollOffKeepsHue(t *testing.T) {
	o := RollOff{Knee: 2, Amount: 1}
	op := NewTone(ByStrongest, o.Gain)
	c := [3]float64{Grey * 64, Grey * 20, Grey * 3}
	got := Apply(op, c)
	if math.Abs(math.Log2(got[0]/Grey)-(2+4/3.0)) > 1e-3 {
		t.Errorf("four stops over the knee become %.3f", math.Log2(got[0]/Grey)-2)
	}
	for i := range c {
		if math.Abs(got[i]/got[0]/(c[i]/c[0])-1) > 1e-6 {
			t.Errorf("ratios move: %v to %v", c, got)
		}
	}
	if low := Apply(op, [3]float64{0.3, 0.2, 0.1}); !close3(low, [3]float64{0.3, 0.2, 0.1}, 1e-6) {
		t.Errorf("below the knee it moves %v", low)
	}
}

func close3(a, b [3]float64, e float64) bool {
	for i := range a {
		if !(math.Abs(a[i]-b[i]) <= e*max(1, math.Abs(b[i]))) {
			return false
		}
	}
	return true
}
