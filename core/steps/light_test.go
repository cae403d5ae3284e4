package steps

import (
	"maps"
	"math"
	"math/rand/v2"
	"runtime"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// everyLight is a look with all that the lens can do, directed, and halation.
func everyLight(t testing.TB) *look.Look {
	return lookOf(t, "lens.haze.amount=6", "lens.haze.tint=20", "lens.diffusion.family=net", "lens.diffusion.grade=1", "lens.diffusion.turn=25", "lens.diffusion.blacks=40",
		"lens.dirt.amount=20", "lens.bloom.amount=40", "lens.bloom.from=1", "lens.bloom.near-tint=30", "lens.bloom.far-tint=20", "lens.bloom.aspect=2", "lens.bloom.turn=30", "lens.bloom.detail=0.4",
		"lens.flare.veil=20", "lens.flare.streaks=20", "lens.flare.rays=3", "lens.flare.ghosts=20", "lens.flare.lamp=9", "lens.vignette.stops=-0.5", "lens.distortion.amount=-3",
		"lens.fringe.lateral=0.1", "lens.fringe.axial=0.1", "lens.focus.radius=0.8", "negative.stock.id=soierie-64", "negative.halation.amount=150", "negative.halation.backing=40", "negative.halation.cores=40")
}

func TestLightIsTheSameOnOneCoreAndTwo(t *testing.T) {
	s := stage(700)
	l := everyLight(t)
	was := runtime.GOMAXPROCS(1)
	a := s.exposed(t, l)
	runtime.GOMAXPROCS(2)
	b := s.exposed(t, l)
	runtime.GOMAXPROCS(was)
	if !equal(a, b) {
		t.Error("one core and two differ")
	}
}

// Whatever comes in and whatever is set, finite light comes out.
func TestLightStaysSoundAtEveryEnd(t *testing.T) {
	const w, h = 72, 40
	dice0 := rand.New(rand.NewPCG(5, 8))
	wild := frame.New(w, h, 3)
	for y := range h {
		for x := range w {
			for p := range 3 {
				v := 0.18 * math.Exp2(20*dice0.Float64()-10)
				switch dice0.IntN(60) {
				case 0:
					v = math.NaN()
				case 1:
					v = math.Inf(1)
				case 2:
					v = 0
				case 3:
					v = 65504
				}
				wild.Row(p, y)[x] = float32(v)
			}
		}
	}
	for _, k := range look.Kinds() {
		if k.Station != look.Lens && !k.Scatters {
			continue
		}
		r := rand.New(rand.NewPCG(2, uint64(len(k.ID))))
		for range 14 {
			l := lookOf(t, "negative.stock.id=pampille-500t")
			p, err := l.Ensure(k.Station, k.ID)
			if err != nil {
				t.Fatal(err)
			}
			maps.Copy(p.Settings, dice(k, r))
			if err := l.Check(); err != nil {
				t.Fatal(err)
			}
			plan, err := render.CompileExposure(ctx, l, colour.Working(), render.Raster{W: w, H: h})
			if err != nil {
				t.Fatal(err)
			}
			f, err := render.NewRenderer(0).Render(ctx, plan, given{wild}, 0)
			if err != nil {
				t.Fatal(err)
			}
			for y := range h {
				for x := range w {
					for c, v := range f.At(x, y) {
						if math.IsNaN(v) || math.IsInf(v, 0) {
							t.Fatalf("%s makes %g at %d, %d, channel %d under %v", k.Path(), v, x, y, c, p.Settings)
						}
					}
				}
			}
		}
	}
}

// Half the strength of a filter is an honest mix: half of the sharp picture and half of the one behind it, in light.
func TestStrengthOfDiffusionIsAMix(t *testing.T) {
	s := stage(240)
	sharp := s.exposed(t, look.NewLook("x"))
	for _, f := range diffusionFamilies {
		l := lookOf(t, "lens.diffusion.family="+f.id, "lens.diffusion.grade=1", "lens.diffusion.compensate=0", "lens.diffusion.warmth=50", "lens.diffusion.turn=20")
		whole := s.exposed(t, l)
		l.Step(look.Lens, "diffusion").Strength = 0.5
		half := s.exposed(t, l)
		var e, n float64
		for y := range s.h {
			for x := range s.w {
				a, b, c := sharp.At(x, y), whole.At(x, y), half.At(x, y)
				for i := range c {
					d := c[i] - (a[i]+b[i])/2
					e += d * d
					n += c[i] * c[i]
				}
			}
		}
		if l2 := math.Sqrt(e / n); l2 > 2e-3 {
			t.Errorf("%s at half strength is off the mix by %.5f", f.id, l2)
		}
	}
}
