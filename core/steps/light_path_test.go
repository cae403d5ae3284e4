package steps

import (
	"context"
	"fmt"
	"math"
	"os"
	"runtime"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/vec"
)

var ctx = context.Background()

// scene is a made-up log frame: ramps, coloured fields, a bright lamp, dark corners.
type scene struct{ w, h int }

func (s scene) Key() string { return fmt.Sprint("scene", s) }
func (s scene) Length() int { return 4 }
func (s scene) Frame(context.Context, int) (*frame.Frame, error) {
	e, err := colour.FindEncoding("logc3")
	if err != nil {
		return nil, err
	}
	f := frame.New(s.w, s.h, 3)
	for y := range s.h {
		for x := range s.w {
			u, v := float64(x)/float64(s.w), float64(y)/float64(s.h)
			k := 0.18 * math.Exp2(6*u-4)
			c := [3]float64{k * (1 + 0.6*math.Sin(9*v)), k * (1 + 0.5*math.Sin(7*v+2)), k * (1 + 0.6*math.Sin(5*v+4))}
			if math.Hypot(u-0.3, (v-0.4)*float64(s.h)/float64(s.w)) < 0.02 {
				c = [3]float64{30, 24, 15}
			}
			for p := range c {
				f.Row(p, y)[x] = float32(e.Encode(c[p]))
			}
		}
	}
	return f, nil
}

func filmLook(t testing.TB, sets ...string) *look.Look {
	t.Helper()
	l := look.NewLook("test")
	if err := l.SetAll(append([]string{"negative.stock.id=serein-500t", "print.medium.id=rideau", "lens.bloom.amount=20", "negative.halation.amount=100"}, sets...)...); err != nil {
		t.Fatal(err)
	}
	return l
}

// logC3 is how the scenes of these tests are recorded.
var logC3 = func() *colour.Encoding {
	e, err := colour.FindEncoding("logc3")
	if err != nil {
		panic(err)
	}
	return e
}()

func rendered(t testing.TB, l *look.Look, src render.Source, w, h int, tap look.Station) *frame.Frame {
	t.Helper()
	return renderedAs(t, logC3, l, src, w, h, tap)
}

func renderedAs(t testing.TB, e *colour.Encoding, l *look.Look, src render.Source, w, h int, tap look.Station) *frame.Frame {
	t.Helper()
	p, err := render.Compile(ctx, l, e, render.Raster{W: w, H: h}, tap)
	if err != nil {
		t.Fatal(err)
	}
	f, err := render.NewRenderer(0).Render(ctx, p, src, 3)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func equal(a, b *frame.Frame) bool {
	for p := range a.Planes {
		for y := range a.H {
			x, z := a.Row(p, y), b.Row(p, y)
			for i := range x {
				if x[i] != z[i] {
					return false
				}
			}
		}
	}
	return true
}

func TestSameBitsOnOneCoreAndTwo(t *testing.T) {
	l := filmLook(t, "negative.grain.amount=100", "negative.halation.backing=40", "finish.overall.film=80")
	src := scene{1100, 500}
	was := runtime.GOMAXPROCS(1)
	a := rendered(t, l, src, 1100, 500, look.Finish)
	runtime.GOMAXPROCS(2)
	b := rendered(t, l, src, 1100, 500, look.Finish)
	runtime.GOMAXPROCS(was)
	if !equal(a, b) {
		t.Error("one core and two differ")
	}
	if !equal(b, rendered(t, l, src, 1100, 500, look.Finish)) {
		t.Error("a repeat differs")
	}
}

// A renderer that keeps nothing joins passes; the picture is the same, bit for bit, as that of one
// that keeps every pass, whatever can and cannot be joined.
func TestJoinedPassesGiveTheSameBits(t *testing.T) {
	for name, sets := range map[string][]string{
		"intact backing": {"negative.halation.backing=100"},
		"ring":           {"negative.halation.backing=50"},
		"bloom too":      {"negative.halation.backing=100", "lens.bloom.amount=30"},
		"film in part":   {"negative.halation.backing=100", "finish.overall.film=60"},
	} {
		l := filmLook(t, sets...)
		for _, size := range []render.Raster{{W: 1503, H: 401}, {W: 1502, H: 402}, {W: 320, H: 180}} { // even ones spread at half size, the smallest has a narrow halo
			src := scene{size.W, size.H}
			plan, err := render.Compile(context.Background(), l, logC3, size, look.Finish)
			if err != nil {
				t.Fatal(err)
			}
			joined, err := render.NewRenderer(0).Render(context.Background(), plan, src, 3)
			if err != nil {
				t.Fatal(err)
			}
			kept, err := render.NewRenderer(1<<30).Render(context.Background(), plan, src, 3)
			if err != nil {
				t.Fatal(err)
			}
			if !equal(joined, kept) {
				t.Errorf("%s at %d×%d: joined and kept passes differ", name, size.W, size.H)
			}
		}
	}
}

// What a renderer keeps of light that spreads serves plans that go on from it, and those that end with it, again and again: each picture is that
// of a renderer which keeps nothing.
func TestKeptSpreadsServeEveryPlan(t *testing.T) {
	r := render.NewRenderer(1 << 30)
	src := scene{1502, 402}
	both := []string{"lens.bloom.amount=30", "negative.halation.backing=100"}
	for i, sets := range [][]string{
		both, {"lens.bloom.amount=30", "negative.halation.amount=0"}, {"lens.bloom.amount=30", "negative.halation.amount=0", "print.lights.red=5"},
		{"lens.bloom.amount=30", "negative.halation.backing=70"}, {"lens.bloom.amount=12", "negative.halation.backing=70"}, {"lens.bloom.amount=30", "negative.halation.amount=60"}, both,
	} {
		for _, tap := range []look.Station{look.Lens, look.Finish} {
			plan, err := render.Compile(t.Context(), filmLook(t, sets...), logC3, render.Raster{W: src.w, H: src.h}, tap)
			if err != nil {
				t.Fatal(err)
			}
			want, err := render.NewRenderer(0).Render(t.Context(), plan, src, 3)
			if err != nil {
				t.Fatal(err)
			}
			got, err := r.Render(t.Context(), plan, src, 3)
			if err != nil {
				t.Fatal(err)
			}
			if !equal(got, want) {
				t.Errorf("look %d, %v, after %s: another picture than without what was kept", i, sets, tap)
			}
		}
	}
}

// handed gives its frames away, and counts them.
type handed struct {
	scene
	read *int
}

func (g handed) Gives() bool { return true }
func (g handed) Frame(ctx context.Context, n int) (*frame.Frame, error) {
	*g.read++
	return g.scene.Frame(ctx, n)
}

// Pictures so large that no two of them can be kept are made in place, and what is kept of them serves other parts and what comes later: the
// same bits as in a renderer that keeps everything, the source read no more than once for what changes after the light that spreads.
func TestLargePicturesAreMadeInPlace(t *testing.T) {
	const w, h = 502, 402
	read := 0
	src := handed{scene{w, h}, &read}
	tight := render.NewRenderer(w * h * 12 * 3 / 2)
	all := []string{"lens.bloom.amount=30", "negative.halation.backing=100"}
	for i, c := range []struct {
		sets  []string
		tap   look.Station
		part  render.Region
		reads int
	}{
		{all, look.Finish, render.Region{X: 100, Y: 50, W: 120, H: 90}, 1},
		{all, look.Finish, render.Region{X: 180, Y: 80, W: 120, H: 90}, 1},
		{append([]string{"print.lights.red=5"}, all...), look.Finish, render.Region{X: 180, Y: 80, W: 120, H: 90}, 1},
		{all, look.Finish, render.Region{}, 1},
		{all, look.Lens, render.Region{X: 10, Y: 20, W: 50, H: 60}, 2},
		{append([]string{"balance.exposure.stops=0.5"}, all...), look.Finish, render.Region{X: 10, Y: 20, W: 50, H: 60}, 3},
		{append([]string{"finish.overall.film=60"}, all...), look.Finish, render.Region{X: 10, Y: 20, W: 50, H: 60}, 5},
		{append([]string{"finish.texture.fine=30"}, all...), look.Finish, render.Region{X: 10, Y: 20, W: 50, H: 60}, 6},
		{[]string{"negative.halation.amount=0"}, look.Finish, render.Region{X: 10, Y: 20, W: 50, H: 60}, 7},
	} {
		plan, err := render.Compile(t.Context(), filmLook(t, c.sets...), logC3, render.Raster{W: w, H: h}, c.tap)
		if err != nil {
			t.Fatal(err)
		}
		got, err := tight.Render(t.Context(), plan.In(c.part), src, 3)
		if err != nil {
			t.Fatal(err)
		}
		want, err := render.NewRenderer(1<<30).Render(t.Context(), plan.In(c.part), src.scene, 3)
		if err != nil {
			t.Fatal(err)
		}
		if !equal(got, want) {
			t.Errorf("%d, %v, after %s: another picture than without being large", i, c.sets, c.tap)
		}
		if read > c.reads {
			t.Errorf("%d, %v: the source was read %d times, want %d at most", i, c.sets, read, c.reads)
		}
		if tight.Used() > w*h*12*3/2 {
			t.Errorf("%d: %d bytes are kept", i, tight.Used())
		}
	}
}

// Every vector width gives the same bits; the plain form agrees within 16/65535 after the whole path.
func TestVectorFormsAgree(t *testing.T) {
	if os.Getenv("VELOURS_EXPECT_VECTORS") != "" && len(vec.Backends()) < 2 {
		t.Fatal("vector kernels are expected on this machine and absent: build with GOEXPERIMENT=simd")
	}
	l := filmLook(t, "negative.grain.amount=100")
	src := scene{640, 360}
	was := vec.Backend()
	defer vec.Use(was)
	var plain, wide *frame.Frame
	for _, name := range vec.Backends() {
		vec.Use(name)
		f := rendered(t, l, src, 640, 360, look.Finish)
		if name == "plain" {
			plain = f
			continue
		}
		if wide == nil {
			wide = f
		} else if !equal(wide, f) {
			t.Errorf("%s differs from the other width", name)
		}
		worst := 0.0
		for p := range 3 {
			for y := range f.H {
				for x, v := range f.Row(p, y) {
					worst = max(worst, math.Abs(float64(v-plain.Row(p, y)[x])))
				}
			}
		}
		t.Logf("%s: worst difference from plain %.1f/65535", name, worst*65535)
		if worst > 16.0/65535 {
			t.Errorf("%s differs from plain by %.1f/65535", name, worst*65535)
		}
	}
}

// The look at 1920 scaled down to 640 against the look at 640.
func TestDeliveryAgreesWithPreview(t *testing.T) {
	for _, gauge := range []string{"35mm", "super8"} {
		l := filmLook(t, "negative.halation.backing=60", "negative.gauge.id="+gauge)
		src := scene{1920, 1080}
		big := rendered(t, l, src, 1920, 1080, look.Finish)
		d, _ := colour.FindDisplay("bt1886")
		// scale in light, as a display would
		for p := range 3 {
			for y := range big.H {
				for x, v := range big.Row(p, y) {
					big.Row(p, y)[x] = float32(d.Decode(float64(v)))
				}
			}
		}
		small, err := frame.Scale(ctx, big, 640, 360)
		if err != nil {
			t.Fatal(err)
		}
		preview := rendered(t, l, src, 640, 360, look.Finish)
		m, white := d.Gamut.ToXYZ(), d.Gamut.White.XYZ()
		var all []float64
		sum := 0.0
		for y := range 360 {
			for x := range 640 {
				var a, b [3]float64
				for p := range 3 {
					a[p], b[p] = float64(small.Row(p, y)[x]), d.Decode(float64(preview.Row(p, y)[x]))
				}
				e := colour.DeltaE2000(colour.Lab(m.Apply(a), white), colour.Lab(m.Apply(b), white))
				all = append(all, e)
				sum += e
			}
		}
		mean, p99 := sum/float64(len(all)), percentile(all, 0.99)
		t.Logf("%s: mean ΔE2000 %.3f, 99th percentile %.3f", gauge, mean, p99)
		if mean > 1 || p99 > 3 {
			t.Errorf("%s: mean ΔE2000 %.3f, 99th percentile %.3f", gauge, mean, p99)
		}
	}
}

func percentile(v []float64, q float64) float64 {
	count := make([]int, 20000)
	for _, x := range v {
		count[min(int(x*1000), len(count)-1)]++
	}
	left := int(float64(len(v)) * q)
	for i, c := range count {
		if left -= c; left < 0 {
			return float64(i) / 1000
		}
	}
	return float64(len(count)) / 1000
}

func TestTapsSpeakTheirUnits(t *testing.T) {
	l := filmLook(t)
	src := scene{200, 100}
	lin := rendered(t, l, src, 200, 100, look.Intake)
	e, _ := colour.FindEncoding("logc3")
	code, _ := src.Frame(ctx, 0)
	m := e.ToACEScg()
	for x := 0; x < 200; x += 17 {
		var c [3]float64
		for p := range 3 {
			c[p] = e.Decode(float64(code.Row(p, 50)[x]))
		}
		want := m.Apply(c)
		for p := range 3 {
			if got := float64(lin.Row(p, 50)[x]); math.Abs(got-want[p]) > 2e-5*math.Abs(want[p])+1e-6 {
				t.Fatalf("intake at %d: %g, want %g", x, got, want[p])
			}
		}
	}
	dens := rendered(t, l, src, 200, 100, look.Negative)
	n := render.FilmOf(l).Negative
	lens := rendered(t, l, src, 200, 100, look.Lens)
	off := l.Without(look.Negative, "halation")
	plainDens := rendered(t, off, src, 200, 100, look.Negative)
	for x := 0; x < 200; x += 13 {
		want := n.Develop([3]float64{float64(lens.Row(0, 20)[x]), float64(lens.Row(1, 20)[x]), float64(lens.Row(2, 20)[x])})
		for p := range 3 {
			if got := float64(plainDens.Row(p, 20)[x]); math.Abs(got-want[p]) > 2e-4 {
				t.Fatalf("density at %d: %g, reference %g", x, got, want[p])
			}
		}
	}
	if equal(dens, plainDens) {
		t.Error("halation changes nothing")
	}
	xyz := rendered(t, l, src, 200, 100, look.Print)
	for y := range 100 {
		for _, v := range xyz.Row(1, y) {
			if v <= 0 || v >= 1 {
				t.Fatalf("projected Y %g is not between black and open gate", v)
			}
		}
	}
}

func TestCleanLookIsConversionAlone(t *testing.T) {
	l := look.NewLook("clean")
	src := scene{64, 32}
	f := rendered(t, l, src, 64, 32, look.Finish)
	lin := rendered(t, l, src, 64, 32, look.Intake)
	d, _ := colour.FindDisplay("bt1886")
	m, w := d.FromACEScg(), d.Luminance()
	for y := range 32 {
		for x := range 64 {
			want := colour.DefaultTone.Render([3]float64{float64(lin.Row(0, y)[x]), float64(lin.Row(1, y)[x]), float64(lin.Row(2, y)[x])}, d, 0, &m, &w)
			for p := range 3 {
				if got := float64(f.Row(p, y)[x]); math.Abs(got-want[p]) > 3e-5 {
					t.Fatalf("at %d, %d: %g, want %g", x, y, got, want[p])
				}
			}
		}
	}
}

func TestOverallStrengthGoesToTheNeutralPath(t *testing.T) {
	src := scene{96, 54}
	none := rendered(t, filmLook(t, "finish.overall.film=0"), src, 96, 54, look.Finish)
	if !equal(none, rendered(t, filmLook(t).WithoutFilm(), src, 96, 54, look.Finish)) {
		t.Error("0 % film is not the path without film")
	}
	full, half := rendered(t, filmLook(t), src, 96, 54, look.Finish), rendered(t, filmLook(t, "finish.overall.film=50"), src, 96, 54, look.Finish)
	want := (full.Row(1, 9)[40] + none.Row(1, 9)[40]) / 2
	if got := half.Row(1, 9)[40]; math.Abs(float64(got-want)) > 1e-6 {
		t.Errorf("half strength gives %g, want %g", got, want)
	}
}

// A change of printer lights must not run what comes before it again.
func TestCacheServesWhatDidNotChange(t *testing.T) {
	r := render.NewRenderer(64 << 20)
	src := &counted{scene: scene{160, 90}}
	for i, points := range []string{"0", "2", "4"} {
		l := filmLook(t, "print.lights.red="+points)
		p, err := render.Compile(ctx, l, logC3, render.Raster{W: 160, H: 90}, look.Finish)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := r.Render(ctx, p, src, 0); err != nil {
			t.Fatal(err)
		}
		if src.reads != 1 {
			t.Fatalf("after change %d the source was read %d times", i, src.reads)
		}
	}
}

type counted struct {
	scene
	reads int
}

func (c *counted) Frame(ctx context.Context, n int) (*frame.Frame, error) {
	c.reads++
	return c.scene.Frame(ctx, n)
}

func TestCancelStopsInTheMiddle(t *testing.T) {
	done, cancel := context.WithCancel(ctx)
	cancel()
	p, err := render.Compile(ctx, filmLook(t), logC3, render.Raster{W: 160, H: 90}, look.Finish)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := render.NewRenderer(0).Render(done, p, scene{160, 90}, 0); err == nil {
		t.Error("a cancelled render finished")
	}
}
