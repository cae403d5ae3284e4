package steps

import (
	"math"
	"testing"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scope"
)

// every kind there is, without exception: what it adds, where it acts, alone, and pushed.
func TestEveryKindCanBeSeenAlone(t *testing.T) {
	const w, h = 160, 90
	for _, k := range look.Kinds() {
		t.Run(k.Path(), func(t *testing.T) {
			l := acting(t, k)
			src := shotOf(k, w, h)
			if k.Wants == "wide" {
				src = given{outside(t, scene{w, h})}
			}
			if k == reframeKind {
				if err := l.Set("intake.reframe.x", 3.0); err != nil {
					t.Fatal(err)
				}
			}
			d := planOf(t, l, w, h).Display
			with := rendered(t, l, src, w, h, look.Finish)
			without := rendered(t, l.Without(k.Station, k.ID), src, w, h, look.Finish)
			if c := scope.Change(with, without); c < 1e-3 {
				t.Fatalf("it changes no code value by more than %g: nothing of it could be shown", c)
			}

			diff, err := scope.Difference(t.Context(), with, without, d)
			if err != nil {
				t.Fatal(err)
			}
			matte, white := scope.Matte(with, without)
			if white <= 0 {
				t.Error("the matte is empty")
			}
			for y := range h {
				for x := range w {
					p, q := lightAt(d.Light, with, x, y), lightAt(d.Light, without, x, y)
					most := 0.0
					for c := range 3 {
						if e := math.Abs(q[c] + float64(diff.Row(c, y)[x]) - p[c]); e > 1e-5 {
							t.Fatalf("adds and the picture without it miss the picture by %g", e)
						}
						most = max(most, math.Abs(float64(with.Row(c, y)[x]-without.Row(c, y)[x])))
					}
					if m := float64(matte.Row(0, y)[x]); math.Abs(m-min(most/white, 1)) > 1e-4 {
						t.Fatalf("the matte is %g where code values change by %g of %g", m, most, white)
					}
				}
			}

			// solo: of its station nothing else is left, and without it nothing at all
			solo := l.Solo(k.Station, k.ID)
			none := l.WithoutStation(k.Station)
			if !equal(rendered(t, solo.Without(k.Station, k.ID), src, w, h, look.Finish), rendered(t, none, src, w, h, look.Finish)) {
				t.Error("solo leaves more of the station than the step")
			}
			if equal(rendered(t, solo, src, w, h, look.Finish), rendered(t, none, src, w, h, look.Finish)) && k.Precondition == "" { // a step that waits for another has nothing alone
				t.Error("solo shows nothing")
			}

			// exaggerated: further in the step's own direction
			far, times := l.Exaggerated(k.Station, k.ID)
			pushed := rendered(t, far, src, w, h, look.Finish)
			if times != 1 {
				if pushed, err = scope.Further(t.Context(), with, without, d, times); err != nil {
					t.Fatal(err)
				}
			}
			along, own := 0.0, 0.0
			for y := range h {
				for x := range w {
					for c := range 3 {
						a := float64(with.Row(c, y)[x] - without.Row(c, y)[x])
						along += a * float64(pushed.Row(c, y)[x]-without.Row(c, y)[x])
						own += a * a
					}
				}
			}
			if along < 1.1*own {
				t.Errorf("exaggerated it goes %.2f times as far", along/own)
			}
		})
	}
}

// outside is a scene some of whose colours lie beyond what light can be.
func outside(t *testing.T, s scene) *frame.Frame {
	t.Helper()
	f, err := s.Frame(t.Context(), 0)
	if err != nil {
		t.Fatal(err)
	}
	for y := range f.H {
		for x := range f.W / 4 {
			f.Row(2, y)[x] = -0.3 * f.Row(1, y)[x]
		}
	}
	return f
}

func planOf(t *testing.T, l *look.Look, w, h int) *render.Plan {
	t.Helper()
	p, err := render.Compile(t.Context(), l, logC3, render.Raster{W: w, H: h}, look.Finish)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func lightAt(f func([3]float64) [3]float64, p *frame.Frame, x, y int) [3]float64 {
	return f([3]float64{float64(p.Row(0, y)[x]), float64(p.Row(1, y)[x]), float64(p.Row(2, y)[x])})
}

// A step whose settings do nothing says so, and says nothing once they do something.
func TestRestingStepsSaySo(t *testing.T) {
	for _, k := range look.Kinds() {
		if k.NoEffect == nil {
			continue
		}
		l := look.NewLook("x")
		p, err := l.Ensure(k.Station, k.ID)
		if err != nil {
			t.Fatal(err)
		}
		// kinds that came before the defaults were at rest do something at theirs
		for i := range k.Settings {
			if s := &k.Settings[i]; !k.Repeatable && s.Min <= 0 && s.Max > 0 || k == bloomKind {
				p.Settings[s.ID] = max(s.Min, 0)
			}
		}
		if k == overallKind {
			p.Settings["film"] = 100.0
		}
		if l.NoEffect(k, p) == "" {
			t.Errorf("%s does nothing and does not say so", k.Path())
		}
		if k == overallKind {
			p.Settings["film"] = 40.0
		} else if p.Settings = map[string]any{}; k.Repeatable {
			act(t, l, k)
		} else if len(k.Lead) > 0 {
			p.Settings[k.Lead[0]] = k.Setting(k.Lead[0]).Max
		}
		if why := l.NoEffect(k, p); why != "" {
			t.Errorf("%s acts, and says %q", k.Path(), why)
		}
		p.Strength = 0
		if k.HasStrength && l.NoEffect(k, p) == "" {
			t.Errorf("%s at strength 0 does not say so", k.Path())
		}
	}
}
