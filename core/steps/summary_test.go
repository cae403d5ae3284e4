package steps

import (
	"strings"
	"testing"

	"velours/core/look"
)

// The summary names every value that is not at rest, of every kind, and nothing that is.
func TestSummaryNamesEveryValue(t *testing.T) {
	for _, k := range look.Kinds() {
		for i := range k.Settings {
			set := &k.Settings[i]
			l := look.NewLook("one value")
			v := another(set)
			if v == nil {
				continue // there is but one
			}
			if err := l.Set(k.Path()+"."+set.ID, v); err != nil {
				t.Fatal(err)
			}
			told := l.Tell()
			if len(told.Stations) != 1 || len(told.Stations[0].Steps) != 1 {
				t.Fatalf("%s.%s is told as %+v", k.Path(), set.ID, told)
			}
			step := told.Stations[0].Steps[0]
			if len(step.Values) != 1 || step.Values[0].ID != set.ID || step.Called != k.Label {
				t.Errorf("%s.%s is told as %+v", k.Path(), set.ID, step)
				continue
			}
			text := told.String()
			if !strings.Contains(text, set.Label+": "+step.Values[0].Says) || !strings.Contains(text, k.Label) || !strings.Contains(text, k.Station.Label()) {
				t.Errorf("%s.%s reads\n%s", k.Path(), set.ID, text)
			}
			if set.Unit != "" && set.Points == "" && len(set.List()) == 0 && len(set.Names) == 0 && !strings.Contains(step.Values[0].Says, set.Unit) {
				t.Errorf("%s.%s is told without its unit: %s", k.Path(), set.ID, step.Values[0].Says)
			}
		}
	}
}

// another is a value of a setting that is not its default, nil if it has none.
func another(s *look.Setting) any {
	if list := s.List(); len(list) > 0 {
		for _, c := range list {
			if c.ID != s.Initial() {
				return c.ID
			}
		}
		return nil
	}
	switch s.Points {
	case "curve":
		return "0:0 0.4:0.5 1:1"
	case "outline":
		return "0.1:0.1 0.9:0.1 0.5:0.9"
	}
	if s.Default != s.Max {
		return s.Max
	}
	return s.Min
}

// Switches, strengths, mattes, keys and levels are told too.
func TestSummaryTellsTheRest(t *testing.T) {
	reel := filmLook(t, "balance.saturation.all=90")
	shot := shaped(t, &look.MattePart{Kind: "ellipse", Settings: map[string]any{"x": 30.0}}, &look.MattePart{Kind: "tone", Join: "within", Settings: map[string]any{"low": 2.0}})
	masked(t, shot, "balance.exposure.stops", 0.5).Strength = 0.4
	if err := shot.SetAll("lens.vignette.stops=-1"); err != nil {
		t.Fatal(err)
	}
	p := shot.Step(look.Lens, "vignette")
	p.On = false
	p.Keys = []*look.Key{{Frame: 3, Settings: map[string]any{"x": 20.0}}, {Frame: 9, Settings: map[string]any{"x": 40.0}}}
	shot.Stations[look.Negative] = look.Following("").Stations[look.Negative]
	text := look.Levels{Shot: shot, Reel: reel}.Whole().Tell().String()
	for _, want := range []string{"Exposure, at 40 %, inside the matte here", "Vignette, off", "Across at frame 9: ", "Saturation (of the reel)", "Serein 500T", "here: ellipse, across +30 %; within tones, from +2 stops"} {
		if !strings.Contains(text, want) {
			t.Errorf("the summary lacks %q:\n%s", want, text)
		}
	}
}
