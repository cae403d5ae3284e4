package noise

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"velours/core/frame"
	"velours/core/noise/scenes"
)

const testW, testH = 512, 400

// lattice is smooth noise between 0 and 1.
func lattice(seed uint64, x, y float64) float64 {
	at := func(i, j float64) float64 {
		z := (seed*8192+uint64(int64(i)+4096))*8192 + uint64(int64(j)+4096)
		z = (z ^ z>>30) * 0xBF58476D1CE4E5B9
		z = (z ^ z>>27) * 0x94D049BB133111EB
		return float64(z>>11) / (1 << 53)
	}
	i, j := math.Floor(x), math.Floor(y)
	u, v := x-i, y-j
	u, v = u*u*(3-2*u), v*v*(3-2*v)
	return (1-v)*((1-u)*at(i, j)+u*at(i+1, j)) + v*((1-u)*at(i, j+1)+u*at(i+1, j+1))
}

// photograph is a picture with what photographs have: broad light, edges, things with texture and things without. It is larger than the test's frames,
// so that it can be panned over.
func photograph(seed uint64) *scenes.Photo {
	const w, h = testW + 64, testH + 64
	p := scenes.NewPhoto(w, h)
	each(h, func(y int) {
		for x := range w {
			fx, fy := float64(x), float64(y)
			v := 0.1 + 0.55*lattice(seed, fx/170, fy/150)
			if lattice(seed+7, fx/90, fy/110) > 0.55 { // another thing, with an edge
				v = 0.75 - 0.8*v
			}
			if q := lattice(seed+3, fx/120, fy/60); q > 0.6 { // cloth
				v += 0.12 * (lattice(seed+4, fx/3, fy/3) - 0.5)
			}
			v += 0.02 * (lattice(seed+5, fx/9, fy/9) - 0.5)
			for c, tint := range [3]float64{1.05, 1, 0.9} {
				p.V[c][y*w+x] = min(max(v*tint, 0.02), 0.95)
			}
		}
	})
	return p
}

// grainy is what a test's noise deviates by: of scatter-and-grain, part D2.
func grainy(c int, s0, luminance float64) float64 {
	return s0 * [3]float64{1, 0.9, 1.35}[c] * (0.35 + 2.6*luminance*(1-luminance))
}

// A clip is made of a photograph: how fast the camera and a thing in front of it move, its noise, and whether it has 8 bits.
type clip struct {
	seed    uint64
	pan     Shift
	thing   *Shift
	s0, sk  float64
	eight   bool
	frames  int
	without bool // noise
}

func (c clip) frame(photo, front *scenes.Photo, n int) *frame.Frame {
	f := frame.New(testW, testH, 3)
	r := rand.New(rand.NewPCG(c.seed, uint64(n)+99))
	var noise [3][]float64
	for i := range noise {
		noise[i] = scenes.Spotted(r, testW, testH, c.sk)
	}
	each(testH, func(y int) {
		for x := range testW {
			var v [3]float64
			px, py := float64(x)+20-c.pan.X*float64(n), float64(y)+20-c.pan.Y*float64(n)
			from := photo
			if c.thing != nil {
				qx, qy := float64(x)-c.thing.X*float64(n), float64(y)-c.thing.Y*float64(n)
				if qx > 150 && qx < 150+200 && qy > 120 && qy < 120+180 {
					from, px, py = front, qx, qy
				}
			}
			for i := range v {
				v[i] = from.Read(i, px, py)
			}
			luminance := float64(luma[0])*v[0] + float64(luma[1])*v[1] + float64(luma[2])*v[2]
			for i := range v {
				k := v[i]
				if !c.without {
					k += grainy(i, c.s0, luminance) * noise[i][y*testW+x]
				}
				if c.eight {
					k = math.Round(min(max(k, 0), 1)*255) / 255
				}
				f.Row(i, y)[x] = float32(k)
			}
		}
	})
	return f
}

func (c clip) make() []*frame.Frame {
	photo, front := photograph(c.seed), photograph(c.seed+50)
	var out []*frame.Frame
	for n := range max(c.frames, 4) {
		out = append(out, c.frame(photo, front, n))
	}
	return out
}

// Clips of known noise are measured: what zones deviate by, the law, and how far neighbours go together, within the bars of
// scatter-and-grain, part D2.
func TestMeasureKnownNoise(t *testing.T) {
	for _, c := range []struct {
		name            string
		clip            clip
		zone, law, spot float64
	}{
		{"static, fine spots", clip{seed: 2, s0: 0.05, sk: 0.8}, 0.11, 0.06, 0.04},
		{"static, coarse spots", clip{seed: 1, s0: 0.02, sk: 1.6}, 0.11, 0.06, 0.04},
		{"pan", clip{seed: 1, s0: 0.02, sk: 0.8, pan: Shift{1.3, 2.1}}, 0.11, 0.06, 0.04},
		{"a thing moves, 8 bits", clip{seed: 1, s0: 0.02, sk: 0.8, thing: &Shift{3.4, -5.2}, eight: true}, 0.27, 0.13, 0.2},
		{"pan, and a thing moves, 8 bits", clip{seed: 2, s0: 0.05, sk: 0.8, pan: Shift{1.3, 2.1}, thing: &Shift{3.4, -5.2}, eight: true}, 0.34, 0.13, 0.2},
	} {
		t.Run(c.name, func(t *testing.T) {
			m, err := Measure(t.Context(), c.clip.make(), Options{}, nil)
			if err != nil {
				t.Fatal(err)
			}
			worst, sum, n := 0.0, 0.0, 0.0
			for _, z := range m.Zones {
				for i := range 3 {
					want := grainy(i, c.clip.s0, z.Mean)
					worst = max(worst, math.Abs(z.Deviation[i]/want-1))
					off := m.Deviation(i, z.Mean)/want - 1
					sum, n = sum+off*off, n+1
				}
			}
			law, spot := math.Sqrt(sum/n), m.Spot(1)
			t.Logf("%d zones of %d blocks in %d pairs, shifts %.2f, %.0f %% moving: a zone off by %.1f %% at most, the law by %.1f %% rms, spots of %.2f pixels", len(m.Zones), m.Blocks, m.Pairs, m.Shifts, 100*m.Moving, 100*worst, 100*law, spot)
			if len(m.Zones) < 5 || worst > c.zone || law > c.law {
				t.Errorf("%d zones, off by %.1f %% at most, the law by %.1f %% rms", len(m.Zones), 100*worst, 100*law)
			}
			if math.Abs(spot-c.clip.sk) > max(c.spot*c.clip.sk, 0.04) {
				t.Errorf("spots of %.3f pixels, made with %.3f", spot, c.clip.sk)
			}
			for _, r := range m.Correlation {
				if math.Abs(r) > 0.06 {
					t.Errorf("channels correlate by %.3f", r)
				}
			}
		})
	}
}

// A clip that cannot tell its noise says why.
func TestWhatTellsNothing(t *testing.T) {
	flat := func(w, h int, v float32) *frame.Frame {
		f := frame.New(w, h, 3)
		for p := range 3 {
			for y := range h {
				for x := range w {
					f.Row(p, y)[x] = v
				}
			}
		}
		return f
	}
	grainyFlat := func(v, by float64, n uint64) *frame.Frame {
		f, r := flat(256, 192, 0), rand.New(rand.NewPCG(n, 5))
		for p := range 3 {
			for y := range f.H {
				for x := range f.W {
					f.Row(p, y)[x] = float32(min(max(v+by*r.NormFloat64(), 0), 1))
				}
			}
		}
		return f
	}
	for _, c := range []struct {
		name   string
		frames []*frame.Frame
		why    string
	}{
		{"no frame", nil, "no frames"},
		{"one frame, clipped", []*frame.Frame{flat(256, 192, 1)}, "too little"},
		{"a still", []*frame.Frame{flat(256, 192, 0.5), flat(256, 192, 0.5)}, "all the same"},
		{"small", []*frame.Frame{flat(32, 32, 0.5), flat(32, 32, 0.4)}, "64 × 64"},
		{"two sizes", []*frame.Frame{flat(256, 192, 0.5), flat(256, 128, 0.5)}, "one size"},
		{"clipped", []*frame.Frame{grainyFlat(0.995, 0.02, 1), grainyFlat(0.995, 0.02, 2)}, "too little"},
	} {
		if _, err := Measure(t.Context(), c.frames, Options{}, nil); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
	// one tone is measured, and the card says how little it knows
	m, err := Measure(t.Context(), []*frame.Frame{grainyFlat(0.4, 0.02, 1), grainyFlat(0.4, 0.02, 2)}, Options{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	card := m.Card("flat", "Flat", "a test", "bt1886", 256)
	if d := card.At(0.4)[1]; math.Abs(d/0.02-1) > 0.03 {
		t.Errorf("a deviation of %.4f, made with 0.02", d)
	}
	if len(card.Trust.Why) != 2 || card.Trust.Within < 0.15 {
		t.Errorf("it may be off by %.2f: %q", card.Trust.Within, card.Trust.Why)
	}
	// what is no number is left out
	holed := []*frame.Frame{grainyFlat(0.4, 0.02, 7), grainyFlat(0.4, 0.02, 8)}
	for y := range 60 {
		for x := range 80 {
			holed[y%2].Row(y%3, y)[x] = []float32{float32(math.NaN()), float32(math.Inf(1)), 1e30}[x%3]
		}
	}
	if m, err = Measure(t.Context(), holed, Options{}, nil); err != nil || math.Abs(m.Deviation(1, 0.4)/0.02-1) > 0.03 || m.Clipped == 0 {
		t.Errorf("with holes: %v, %+v", err, m)
	} else if _, err := ParseCard(m.Card("holes", "", "", "bt1886", 256).JSON()); err != nil {
		t.Errorf("the card with holes: %v", err)
	}
	// the middle of a large frame is looked at, or what is about the boxes
	if b := Looked(7680, 4320, nil); b != (Area{2880, 1616, 1920, 1088}) {
		t.Errorf("of 8K %v is looked at", b)
	}
	if b := Looked(7680, 4320, []Area{{7600, 4200, 60, 60}}); b != (Area{7680 - 188, 4320 - 188, 188, 188}) {
		t.Errorf("about a box in the corner %v is looked at", b)
	}
	// boxes are kept to
	half := grainyFlat(0.4, 0.02, 3)
	other := grainyFlat(0.4, 0.02, 4)
	loud, still := grainyFlat(0.4, 0.08, 5), grainyFlat(0.4, 0.08, 6)
	for p := range 3 {
		for y := range half.H {
			copy(half.Row(p, y)[128:], loud.Row(p, y)[128:])
			copy(other.Row(p, y)[128:], still.Row(p, y)[128:])
		}
	}
	for _, c := range []struct {
		x    int
		want float64
	}{{0, 0.02}, {128, 0.08}} {
		m, err := Measure(t.Context(), []*frame.Frame{half, other}, Options{Boxes: []Area{{c.x, 0, 128, 192}}}, nil)
		if err != nil {
			t.Fatal(err)
		}
		if d := m.Deviation(1, 0.4); math.Abs(d/c.want-1) > 0.05 {
			t.Errorf("in the box at %d it deviates by %.4f, made with %.2f", c.x, d, c.want)
		}
	}
}

// One frame is measured where it is flat, told by itself or marked; a strip that was exposed evenly is flat all over.
func TestMeasureOneFrame(t *testing.T) {
	for _, c := range []struct {
		name   string
		boxes  []Area
		sk     float64
		within float64
	}{{"by itself", nil, 0.8, 0.15}, {"marked", []Area{{40, 40, 160, 120}}, 0.8, 0.05}, {"marked, coarse", []Area{{40, 40, 160, 120}}, 1.6, 0.08}} {
		r := rand.New(rand.NewPCG(8, 9))
		f, picture := frame.New(testW, testH, 3), photograph(2)
		for p := range 3 {
			noise := scenes.Spotted(r, testW, testH, c.sk)
			for y := range f.H {
				for x := range f.W {
					v := picture.V[p][y*picture.W+x]
					if x >= 30 && x < 230 && y >= 30 && y < 180 { // a wall in broad light
						v = 0.3 + 0.0005*float64(x)
					}
					f.Row(p, y)[x] = float32(v + 0.03*noise[y*testW+x])
				}
			}
		}
		m, err := Measure(t.Context(), []*frame.Frame{f}, Options{Boxes: c.boxes}, nil)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		d, spot := m.Deviation(1, 0.36), m.Spot(1)
		t.Logf("%s: it deviates by %.4f, made with 0.03; spots of %.2f pixels, made with %.1f", c.name, d, spot, c.sk)
		if math.Abs(d/0.03-1) > c.within || math.Abs(spot/c.sk-1) > c.within {
			t.Errorf("%s: it deviates by %.4f, made with 0.03; spots of %.2f pixels, made with %.1f", c.name, d, spot, c.sk)
		}
		if why := m.Card("one", "", "", "bt1886", testW).Trust.Why; len(why) == 0 || !strings.Contains(why[0], "One frame") {
			t.Errorf("%s: its card says %q", c.name, why)
		}
	}
}

// A card goes through its file as it is; one that is broken says what of it is.
func TestGrainCardFile(t *testing.T) {
	m, err := Measure(t.Context(), clip{seed: 3, s0: 0.03, sk: 0.8}.make(), Options{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	card := m.Card("night-1", "Night", "night.mov, frames 0 to 3", "bt1886", testW)
	again, err := ParseCard(card.JSON())
	if err != nil {
		t.Fatal(err)
	}
	if string(again.JSON()) != string(card.JSON()) {
		t.Error("it comes back another")
	}
	for _, y := range []float64{0.3, 0.4, 0.5} {
		if d := card.At(y)[2]; math.Abs(d/grainy(2, 0.03, y)-1) > 0.08 {
			t.Errorf("blue deviates by %.4f at %.1f, made with %.4f", d, y, grainy(2, 0.03, y))
		}
	}
	for _, c := range []struct{ was, is, why string }{
		{`"velours": 1`, `"velours": 7`, "version"}, {`"hold": 1`, `"hold": 0`, "hold"}, {`"id": "night-1"`, `"id": "Night 1"`, "letters"}, {`"width": 512`, `"width": 0`, "width"},
		{`"tones": [`, `"tones": [9,`, "tones"}, {`"codes"`, `"code"`, "not a grain card"},
	} {
		text := strings.Replace(string(card.JSON()), c.was, c.is, 1)
		if _, err := ParseCard([]byte(text)); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("with %s: %v", c.is, err)
		}
	}
}

func FuzzGrainCard(f *testing.F) {
	f.Add([]byte(`{"velours":1,"id":"a","label":"","from":"","codes":"bt1886","width":640,"tones":[0.1],"deviation":[[0.1,0.1,0.1]],"correlation":[0,0,0],"across":[[1],[1],[1]],"down":[[1],[1],[1]],"spot":[0,0,0],"hold":1,"trust":{"pairs":1,"blocks":1,"clipped":0,"moving":0,"from":0,"to":0,"within":0}}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		c, err := ParseCard(data)
		if err != nil {
			return
		}
		if _, err := ParseCard(c.JSON()); err != nil {
			t.Fatalf("a card that was read is not read again: %v", err)
		}
		for _, y := range []float64{-2, 0, 0.3, 5} {
			for _, d := range c.At(y) {
				if math.IsNaN(d) || d < 0 || d > 1 {
					t.Fatalf("a deviation of %g", d)
				}
			}
		}
	})
}
