package steps

import (
	"maps"
	"math"
	"math/rand/v2"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

// pointwiseKinds are all that correct colour by colour. Tints, matrices without the row rule and channels set apart keep no
// grey; a CDL whose saturation crosses channels keeps no order.
func pointwiseKinds(t *testing.T) []*look.Kind {
	var out []*look.Kind
	for _, k := range look.Kinds() {
		if k.Repeatable && (k.Work.(render.Work).Grade != nil || k.Station == look.Balance && !k.Spatial) {
			out = append(out, k)
		}
	}
	if len(out) < 30 {
		t.Fatalf("only %d kinds", len(out))
	}
	return out
}

// opOf is the whole operation of a kind under settings.
func opOf(k *look.Kind, given map[string]any) grade.Op {
	return render.Correction(k, look.Filled(k.Settings, given))
}

// colours are all sorts of light: dark and bright, grey and strong, some of them negative in a channel.
func colours(n int) [][3]float64 {
	r := rand.New(rand.NewPCG(11, 5))
	out := make([][3]float64, n)
	for i := range out {
		y := 0.18 * math.Exp2(16*r.Float64()-9)
		s := r.Float64() * r.Float64()
		for c := range 3 {
			out[i][c] = y * (1 + s*(3*r.Float64()-1.6))
		}
		if i%5 == 0 {
			out[i] = [3]float64{y, y, y}
		}
	}
	return out
}

func near(a, b [3]float64, e float64) bool {
	scale := max(math.Abs(b[0]), math.Abs(b[1]), math.Abs(b[2]), 1e-3)
	for c := range 3 {
		if !(math.Abs(a[c]-b[c]) <= e*scale) {
			return false
		}
	}
	return true
}

func TestCorrectionsAreTheIdentityAtTheirDefaults(t *testing.T) {
	for _, k := range pointwiseKinds(t) {
		op := opOf(k, nil)
		for _, c := range colours(400) {
			if got := grade.Apply(op, c); !near(got, c, 1e-6) {
				t.Errorf("%s at its defaults turns %v into %v", k.Path(), c, got)
				break
			}
		}
	}
}

// dice are settings all over the ranges, to their ends.
func dice(k *look.Kind, r *rand.Rand) map[string]any {
	out := map[string]any{}
	for i := range k.Settings {
		s := &k.Settings[i]
		switch list := s.List(); {
		case len(list) > 0:
			out[s.ID] = list[r.IntN(len(list))].ID
		case s.Points != "":
			out[s.ID] = []string{"", "0:1", "-6:-5 -1:-1 2:1.5 6:3", "-4:-4 0:-4 0.5:3"}[r.IntN(4)]
		default:
			u := r.Float64()
			switch r.IntN(4) {
			case 0:
				u = 0
			case 1:
				u = 1
			}
			out[s.ID] = s.Min + u*(s.Max-s.Min)
		}
	}
	return out
}

func TestGreysKeepWhatIsPromised(t *testing.T) {
	for _, k := range pointwiseKinds(t) {
		r := rand.New(rand.NewPCG(3, uint64(len(k.ID))))
		for range 40 {
			set := dice(k, r)
			op := opOf(k, set)
			last := math.Inf(-1)
			for x := -12.0; x < 8; x += 0.05 {
				y := 0.18 * math.Exp2(x)
				got := grade.Apply(op, [3]float64{y, y, y})
				most, least := max(got[0], got[1], got[2]), min(got[0], got[1], got[2])
				if k.KeepsGrey && most-least > 1e-4*max(most, 1e-3) {
					t.Fatalf("%s: grey at %+.2f becomes %v under %v", k.Path(), x, got, set)
				}
				light := grade.Luma[0]*got[0] + grade.Luma[1]*got[1] + grade.Luma[2]*got[2]
				// a hundred-thousandth for rounding, which in the deepest tones is of a white
				if k.KeepsOrder && light < last-2e-5*max(math.Abs(last), 0.01) {
					t.Fatalf("%s: at %+.2f light falls from %g to %g under %v", k.Path(), x, last, light, set)
				}
				last = light
			}
		}
	}
}

// Strength 0 is the picture without the step, and a half the mix of both in linear light; exposure, points and white
// balance take half their stops, points and mired instead.
func TestStrengthIsTheStatedMix(t *testing.T) {
	for _, k := range pointwiseKinds(t) {
		if k.Station == look.Finish {
			continue // it mixes there in light too, behind the codes of the display
		}
		l := look.NewLook("x")
		act(t, l, k)
		p := l.Step(k.Station, k.ID)
		delete(p.Settings, "smooth") // a second operation, with a mix of its own
		src := given{lit(colours(160))}
		whole := renderedAs(t, colour.Working(), l, src, 160, 1, look.Balance)
		p.Strength = 0
		if got := renderedAs(t, colour.Working(), l, src, 160, 1, look.Balance); !equal(got, src.f) {
			t.Errorf("%s at strength 0 changes the picture", k.Path())
		}
		p.Strength = 0.5
		half := renderedAs(t, colour.Working(), l, src, 160, 1, look.Balance)
		if k.Work.(render.Work).Grade == nil { // its settings halved
			p.Strength = 1
			for id, v := range p.Settings {
				p.Settings[id] = v.(float64) / 2
			}
			if want := renderedAs(t, colour.Working(), l, src, 160, 1, look.Balance); !equal(half, want) {
				t.Errorf("%s at half strength is not its settings halved", k.Path())
			}
			continue
		}
		for x := range 160 {
			a, b := whole.At(x, 0), src.f.At(x, 0)
			want := [3]float64{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2}
			if got := half.At(x, 0); !near(got, want, 2e-6) {
				t.Fatalf("%s at half strength makes %v of %v, not %v", k.Path(), got, b, want)
			}
		}
	}
}

// lit is a row of colours.
func lit(c [][3]float64) *frame.Frame {
	f := frame.New(len(c), 1, 3)
	for x, v := range c {
		for p := range 3 {
			f.Row(p, 0)[x] = float32(v[p])
		}
	}
	return f
}

// A setting that goes to the end of its range and back leaves no trace, in the look or in the picture.
func TestToTheEndAndBack(t *testing.T) {
	src := given{lit(colours(64))}
	for _, k := range pointwiseKinds(t) {
		l := look.NewLook("x")
		act(t, l, k)
		was, settings := renderedAs(t, colour.Working(), l, src, 64, 1, look.Finish), maps.Clone(l.Step(k.Station, k.ID).Settings)
		for i := range k.Settings {
			s := &k.Settings[i]
			if len(s.List()) > 0 || s.Points != "" {
				continue
			}
			old, had := settings[s.ID]
			for _, v := range []any{s.Max, s.Min} {
				if err := l.Set(k.Path()+"."+s.ID, v); err != nil {
					t.Fatal(err)
				}
				renderedAs(t, colour.Working(), l, src, 64, 1, look.Finish)
			}
			if had {
				if err := l.Set(k.Path()+"."+s.ID, old); err != nil {
					t.Fatal(err)
				}
			} else {
				delete(l.Step(k.Station, k.ID).Settings, s.ID)
			}
		}
		if !equal(renderedAs(t, colour.Working(), l, src, 64, 1, look.Finish), was) || !maps.Equal(l.Step(k.Station, k.ID).Settings, settings) {
			t.Errorf("%s: there and back leaves a trace", k.Path())
		}
	}
}

// What is no number is black, infinities are the largest light, and whatever comes in, finite light comes
// out; negative light in gives no hole: it comes out no brighter than nothing does, but for what adds light.
func TestUnsoundLightIsMadeSound(t *testing.T) {
	nan, inf := math.NaN(), math.Inf(1)
	bad := [][3]float64{{nan, 0.2, 0.2}, {nan, nan, nan}, {inf, inf, inf}, {0.1, -inf, 0.3}, {-0.02, 0.4, 0.1}, {-0.3, -0.2, -0.1}, {0, 0, 0}, {1e-30, 0, 1e-30}, {60000, 1, -5}}
	sound := [][3]float64{{0, 0.2, 0.2}, {0, 0, 0}, {65504, 65504, 65504}, {0.1, -65504, 0.3}}
	src := given{lit(bad)}
	for i, want := range sound {
		row := make([]float32, 3, 16)
		for c, v := range bad[i] {
			row[c] = float32(v)
		}
		grade.SoundRow(row)
		if got := [3]float64{float64(row[0]), float64(row[1]), float64(row[2])}; !near(got, want, 1e-7) {
			t.Errorf("%v is taken for %v", bad[i], got)
		}
	}
	for _, k := range pointwiseKinds(t) {
		r := rand.New(rand.NewPCG(9, uint64(len(k.Settings))))
		for range 20 {
			l := look.NewLook("x")
			act(t, l, k)
			maps.Copy(l.Step(k.Station, k.ID).Settings, dice(k, r))
			for _, tap := range []look.Station{k.Station, look.Finish} {
				f := renderedAs(t, colour.Working(), l, src, len(bad), 1, tap)
				for x := range bad {
					for c, v := range f.At(x, 0) {
						if math.IsNaN(v) || math.IsInf(v, 0) {
							t.Fatalf("%s makes %g of %v, channel %d, at %s", k.Path(), v, bad[x], c, tap)
						}
					}
				}
			}
		}
	}
}
