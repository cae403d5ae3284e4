package steps

import (
	"context"
	"fmt"
	"maps"
	"math"
	"strings"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/lut"
)

// base switches on what lets every kind act.
func base(t *testing.T) *look.Look {
	l := filmLook(t, "balance.exposure.stops=0.3", "balance.white.temperature=10", "negative.grain.amount=80", "negative.gauge.id=super16", "print.lights.green=3", "finish.overall.film=70")
	if _, err := l.Ensure(look.Intake, "compress"); err != nil {
		t.Fatal(err)
	}
	return l
}

// acting is base with a kind made to act, where it does not by itself.
func acting(t *testing.T, k *look.Kind) *look.Look {
	l := base(t)
	if k.Group != "" { // it does not need film to be seen
		l = look.NewLook("x")
	}
	if k == tableKind {
		KnowTable(testTable)
		t.Cleanup(func() { ForgetTable(testTable.ID) })
		if err := l.Set("print.table.id", testTable.ID); err != nil {
			t.Fatal(err)
		}
	}
	if k.Repeatable || k == filtrationKind || k == sharpnessKind || k == halationKind || k == grainKind || k == printGrainKind || k == finishGrainKind || k == denoiseKind || k == defringeKind || len(k.Lead) > 0 && k.Group != "" {
		act(t, l, k)
	}
	return l
}

// act sets what a kind leads with away from rest, as a hand would that added it; a patch gets a shape.
func act(t *testing.T, l *look.Look, k *look.Kind) {
	t.Helper()
	p, err := l.Ensure(k.Station, k.ID)
	if err != nil {
		t.Fatal(err)
	}
	for i, id := range k.Lead {
		s := k.Setting(id)
		if v, ok := l.Values(k, p)[id].(float64); ok && v == s.Default {
			_, part := math.Modf(0.3 + float64(i)*0.618) // each by another amount
			p.Settings[id] = s.Default + (0.05+0.25*part)*(s.Max-s.Default)
		}
	}
	maps.Copy(p.Settings, k.Begin)
	if k.Setting("darks") != nil { // what goes by others must have them
		maps.Copy(p.Settings, map[string]any{"from": -1.0, "darks": 40.0, "cores": 40.0})
	}
	switch k.ID {
	case "bloom":
		p.Settings["near-tint"], p.Settings["far-tint"], p.Settings["aspect"] = 30.0, 30.0, 2.0
	case "grain":
		if k != grainKind { // which is finer, and quieter
			p.Settings["amount"] = 300.0
			break
		}
		maps.Copy(p.Settings, map[string]any{"link": 50.0, "shadows": 180.0, "tint": 30.0, "time": "held"})
	case "defringe": // there is an error to be undone, or made
		maps.Copy(p.Settings, map[string]any{"purple": 100.0, "green": 100.0, "lateral": 0.3, "width": 0.8})
	case "flare":
		p.Settings["lamp"] = 11.0
	case "haze":
		p.Settings["tint"] = 40.0
	case "focus":
		maps.Copy(p.Settings, map[string]any{"radius": 2.0, "size": 5.0, "feather": 20.0})
	case "diffusion":
		p.Settings["aspect"] = 2.0
	case "cdl":
		p.Settings["slope-red"], p.Settings["saturation"], p.Settings["on"] = 1.3, 0.8, "light"
	case "mono":
		p.Settings["tint"] = 40.0
	case "curve":
		p.Settings["all"] = "-4:-4.5 0:0.4 3:2.8"
	case "remap":
		p.Settings["red-from-green"] = 30.0
	case "patch":
		name := "shape"
		l.SetMatte(name, &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse", Settings: map[string]any{"in": 1.0}}}})
		p.Matte = &name
	case "floor":
		p.Settings["below"] = -2.0
	}
}

// testTable is a small table that turns printing-density codes into a soft picture.
var testTable = &Table{ID: "test-00000000", Label: "Test", List: &lut.List{Nodes: []lut.Node{lut.NewTable3(9, func(i, j, k int) [3]float32 {
	s := func(a, b int) float32 { return float32(a*a)/80 + float32(b)/80 }
	return [3]float32{s(i, j), s(j, k), s(k, i)}
})}}}

// A step at strength 0 is a step that is off.
func TestStrengthZeroIsOff(t *testing.T) {
	for _, k := range look.Kinds() {
		if !k.HasStrength {
			continue
		}
		src := shotOf(k, 120, 68)
		zero, off := acting(t, k), acting(t, k)
		zero.Step(k.Station, k.ID).Strength = 0
		off.Step(k.Station, k.ID).On = false
		a, b := rendered(t, zero, src, 120, 68, look.Finish), rendered(t, off, src, 120, 68, look.Finish)
		worst := 0.0
		for p := range 3 {
			for y := range a.H {
				for x, v := range a.Row(p, y) {
					worst = max(worst, math.Abs(float64(v-b.Row(p, y)[x])))
				}
			}
		}
		if worst > 1e-5 {
			t.Errorf("%s at strength 0 differs from off by %g", k.Path(), worst)
		}
	}
}

// Every setting at either end gives a picture of finite code values, and changes it.
func TestEverySettingAtItsEnds(t *testing.T) {
	for _, k := range look.Kinds() {
		src := shotOf(k, 96, 54)
		whole := rendered(t, acting(t, k), src, 96, 54, look.Finish)
		for _, s := range k.Settings {
			usual := whole
			var ends []any
			if list := s.List(); len(list) > 0 {
				every := 1
				if k != stockKind && len(list) > 12 { // stocks, chosen for something else than the film
					every = 5
				}
				for i := 0; i < len(list); i += every {
					ends = append(ends, list[i].ID)
				}
			} else if s.Points != "" {
				ends = []any{"-12:-12 -1:-2 10:10", "0:0.5 2:2"}
			} else {
				ends = []any{s.Min, s.Max}
			}
			changed := false
			for _, v := range ends {
				l := acting(t, k)
				if len(s.Only) > 0 {
					if err := l.Set(k.Path()+"."+k.Settings[0].ID, s.Only[0]); err != nil {
						t.Fatal(err)
					}
					usual = rendered(t, l, src, 96, 54, look.Finish)
				}
				if err := l.Set(k.Path()+"."+s.ID, v); err != nil {
					t.Fatal(err)
				}
				f := rendered(t, l, src, 96, 54, look.Finish)
				changed = changed || !equal(f, usual)
				for p := range 3 {
					for y := range f.H {
						for x, c := range f.Row(p, y) {
							if !(c >= -0.01 && c <= 1.01) {
								t.Fatalf("%s.%s = %v: sample %d, %d, %d is %g", k.Path(), s.ID, v, p, x, y, c)
							}
						}
					}
				}
			}
			// the neutral scale shows through the 30 % without film; the one medium is the default
			if !changed && len(ends) > 1 {
				t.Errorf("%s.%s changes nothing from end to end", k.Path(), s.ID)
			}
		}
	}
}

// A switched-off station does nothing; its strength scales its steps.
func TestStationsSwitchAndScale(t *testing.T) {
	src := scene{64, 36}
	l := base(t)
	l.Station(look.Balance).On = false
	without := base(t)
	for _, id := range []string{"exposure", "white"} {
		without.Step(look.Balance, id).On = false
	}
	if !equal(rendered(t, l, src, 64, 36, look.Finish), rendered(t, without, src, 64, 36, look.Finish)) {
		t.Error("a station that is off is not its steps being off")
	}
	half, steps := base(t), base(t)
	half.Station(look.Balance).Strength = 0.5
	for _, id := range []string{"exposure", "white"} {
		steps.Step(look.Balance, id).Strength = 0.5
	}
	if !equal(rendered(t, half, src, 64, 36, look.Finish), rendered(t, steps, src, 64, 36, look.Finish)) {
		t.Error("half a station is not its steps at half")
	}
}

func TestSchemaNamesEverySetting(t *testing.T) {
	stations := look.Schema()["properties"].(map[string]any)["stations"].(map[string]any)["properties"].(map[string]any)
	for _, k := range look.Kinds() {
		text := fmt.Sprint(stations[string(k.Station)])
		for _, s := range k.Settings {
			if !strings.Contains(text, s.ID+":map") {
				t.Errorf("%s.%s is not in the schema", k.Path(), s.ID)
			}
		}
	}
}

// The camera gamut's step is the published compression, and leaves the usual colours alone.
func TestCompressIsTheReference(t *testing.T) {
	l := look.NewLook("x")
	step, err := l.Ensure(look.Intake, "compress")
	if err != nil {
		t.Fatal(err)
	}
	src := scene{64, 36}
	for _, strength := range []float64{1, 0.25} {
		step.Strength = strength
		in := outside(t, src)
		got := renderedAs(t, colour.Working(), l, given{in}, 64, 36, look.Intake)
		for y := range in.H {
			for x := range in.W {
				v := [3]float64{float64(in.Row(0, y)[x]), float64(in.Row(1, y)[x]), float64(in.Row(2, y)[x])}
				want := colour.Compress(v)
				for c := range v {
					w := v[c] + strength*(want[c]-v[c])
					if math.Abs(float64(got.Row(c, y)[x])-w) > 1e-5*(1+math.Abs(w)) {
						t.Fatalf("%d, %d: got %g, want %g of %v", x, y, got.Row(c, y)[x], w, v)
					}
				}
			}
		}
	}
}

// given is a source of one frame.
type given struct{ f *frame.Frame }

func (g given) Key() string                                      { return fmt.Sprintf("given %p", g.f) }
func (g given) Frame(context.Context, int) (*frame.Frame, error) { return g.f, nil }
