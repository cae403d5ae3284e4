package path

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// base switches on what lets every kind act.
func base(t *testing.T) *Look {
	return filmLook(t, "balance.exposure.stops=0.3", "balance.white.temperature=10", "negative.grain.amount=80", "negative.gauge.id=super16", "print.lights.green=3", "finish.overall.film=70")
}

// A step at strength 0 is a step that is off.
func TestStrengthZeroIsOff(t *testing.T) {
	src := scene{120, 68}
	for _, k := range Kinds() {
		if !k.Mixes {
			continue
		}
		zero, off := base(t), base(t)
		zero.Step(k.Station, k.ID).Strength = 0
		off.Step(k.Station, k.ID).On = false
		a, b := render(t, zero, src, 120, 68, Finish), render(t, off, src, 120, 68, Finish)
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
	src := scene{96, 54}
	usual := render(t, base(t), src, 96, 54, Finish)
	for _, k := range Kinds() {
		for _, s := range k.Settings {
			var ends []any
			if len(s.Choices) > 0 {
				for _, c := range s.Choices {
					ends = append(ends, c.ID)
				}
			} else {
				ends = []any{s.Min, s.Max}
			}
			changed := false
			for _, v := range ends {
				l := base(t)
				if err := l.Set(k.Path()+"."+s.ID, v); err != nil {
					t.Fatal(err)
				}
				f := render(t, l, src, 96, 54, Finish)
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
	l.Station(Balance).On = false
	without := base(t)
	for _, id := range []string{"exposure", "white"} {
		without.Step(Balance, id).On = false
	}
	if !equal(render(t, l, src, 64, 36, Finish), render(t, without, src, 64, 36, Finish)) {
		t.Error("a station that is off is not its steps being off")
	}
	half, steps := base(t), base(t)
	half.Station(Balance).Strength = 0.5
	for _, id := range []string{"exposure", "white"} {
		steps.Step(Balance, id).Strength = 0.5
	}
	if !equal(render(t, half, src, 64, 36, Finish), render(t, steps, src, 64, 36, Finish)) {
		t.Error("half a station is not its steps at half")
	}
}

func TestSchemaNamesEverySetting(t *testing.T) {
	stations := Schema()["properties"].(map[string]any)["stations"].(map[string]any)["properties"].(map[string]any)
	for _, k := range Kinds() {
		text := fmt.Sprint(stations[string(k.Station)])
		for _, s := range k.Settings {
			if !strings.Contains(text, s.ID+":map") {
				t.Errorf("%s.%s is not in the schema", k.Path(), s.ID)
			}
		}
	}
}
