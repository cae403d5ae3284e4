package steps

import (
	"slices"
	"strings"
	"testing"

	"velours/core/look"
)

// names lists the steps of a look, station by station.
func names(l *look.Look) string {
	var list []string
	for _, s := range look.Stations {
		if st := l.Stations[s]; st != nil {
			for _, p := range st.Steps {
				list = append(list, string(s)+"."+p.Name())
			}
			if st.Follows {
				list = append(list, string(s)+" follows")
			}
		}
	}
	return strings.Join(list, " ")
}

// Parts are carried over, in the place of what is there or after it; what belongs to a picture stays unless it is asked for.
func TestCarry(t *testing.T) {
	from := look.NewLook("from")
	if err := from.SetAll("intake.compress.on=1"); err == nil {
		t.Fatal("the camera gamut's step has settings now; set one of them here")
	}
	if _, err := from.Ensure(look.Intake, "compress"); err != nil {
		t.Fatal(err)
	}
	if err := from.SetAll("intake.reframe.scale=130", "intake.denoise.amount=40", "balance.exposure.stops=0.5", "balance.exposure-2.stops=-1", "balance.saturation.all=120", "lens.bloom.amount=12", "lens.bloom.from=3",
		"lens.vignette.stops=-1", "lens.vignette.x=30", "negative.stock.id=serein-500t", "negative.grain.amount=70", "print.medium.id=coulisse", "screen.display.id=srgb", "finish.contrast.amount=110", "finish.overall.film=60"); err != nil {
		t.Fatal(err)
	}
	from.SetMatte("face", &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse", Settings: map[string]any{}}}})
	face := "face"
	from.Step(look.Balance, "saturation").Matte = &face
	to := look.NewLook("to")
	if err := to.SetAll("intake.reframe.x=5", "balance.exposure.stops=2", "balance.white.tint=3", "lens.bloom.amount=4", "negative.stock.id=pampille-500t", "negative.halation.amount=50", "finish.overall.film=90"); err != nil {
		t.Fatal(err)
	}
	have := names(to)
	for _, c := range []struct {
		name string
		look.Carry
		want  string
		again string
	}{
		{"balance in its place", look.Carry{Parts: []look.Part{look.PartBalance}},
			"intake.reframe balance.exposure balance.exposure-2 lens.bloom negative.stock negative.halation finish.overall", "balance.exposure:stops balance.exposure-2:stops"},
		{"balance with what is masked", look.Carry{Parts: []look.Part{look.PartBalance, look.PartMattes}},
			"intake.reframe balance.exposure balance.exposure-2 balance.saturation lens.bloom negative.stock negative.halation finish.overall", "balance.exposure:stops balance.exposure-2:stops balance.saturation:matte"},
		{"balance after what is there", look.Carry{Parts: []look.Part{look.PartBalance}, Add: true},
			"intake.reframe balance.exposure balance.white balance.exposure-2 balance.exposure-3 lens.bloom negative.stock negative.halation finish.overall", "balance.exposure-2:stops balance.exposure-3:stops"},
		{"lens", look.Carry{Parts: []look.Part{look.PartLens}},
			"intake.reframe balance.exposure balance.white lens.bloom lens.vignette negative.stock negative.halation finish.overall", "lens.bloom:from lens.vignette:x"},
		{"lens after", look.Carry{Parts: []look.Part{look.PartLens}, Add: true},
			"intake.reframe balance.exposure balance.white lens.bloom lens.bloom-2 lens.vignette negative.stock negative.halation finish.overall", "lens.bloom-2:from lens.vignette:x"},
		{"film and print", look.Carry{Parts: []look.Part{look.PartFilm, look.PartPrint}},
			"intake.reframe balance.exposure balance.white lens.bloom negative.stock negative.grain print.medium finish.overall", ""},
		{"film over what is there", look.Carry{Parts: []look.Part{look.PartFilm}, Add: true},
			"intake.reframe balance.exposure balance.white lens.bloom negative.stock negative.halation negative.grain finish.overall", ""},
		{"finish", look.Carry{Parts: []look.Part{look.PartFinish}},
			"intake.reframe balance.exposure balance.white lens.bloom negative.stock negative.halation finish.contrast finish.overall", ""},
		{"framing alone when asked", look.Carry{Parts: []look.Part{look.PartFraming}},
			"intake.reframe balance.exposure balance.white lens.bloom negative.stock negative.halation finish.overall", ""},
		{"cleaning beside the framing", look.Carry{Parts: []look.Part{look.PartCleaning}},
			"intake.reframe intake.denoise balance.exposure balance.white lens.bloom negative.stock negative.halation finish.overall", ""},
		{"the screen when asked", look.Carry{Parts: []look.Part{look.PartScreen}},
			"intake.reframe balance.exposure balance.white lens.bloom negative.stock negative.halation screen.display finish.overall", ""},
		{"one step in its place", look.Carry{Steps: []look.StepPath{{Station: look.Balance, Name: "exposure"}}},
			have, "balance.exposure:stops"},
		{"one step after", look.Carry{Steps: []look.StepPath{{Station: look.Balance, Name: "exposure"}}, Add: true},
			"intake.reframe balance.exposure balance.white balance.exposure-2 lens.bloom negative.stock negative.halation finish.overall", "balance.exposure-2:stops"},
		{"a masked step brings its matte", look.Carry{Steps: []look.StepPath{{Station: look.Balance, Name: "saturation"}}},
			"intake.reframe balance.exposure balance.white balance.saturation lens.bloom negative.stock negative.halation finish.overall", "balance.saturation:matte"},
		{"the camera gamut never", look.Carry{Steps: []look.StepPath{{Station: look.Intake, Name: "compress"}}}, have, ""},
	} {
		before := doc(t, to)
		got, err := c.To(to, from, nil)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if names(got) != c.want {
			t.Errorf("%s gives\n%s, want\n%s", c.name, names(got), c.want)
		}
		var again []string
		for _, s := range look.Stations {
			if st := got.Stations[s]; st != nil {
				for _, p := range st.Steps {
					for _, id := range p.Again {
						again = append(again, string(s)+"."+p.Name()+":"+id)
					}
				}
			}
		}
		if strings.Join(again, " ") != c.again {
			t.Errorf("%s: to be looked at again are %v, want %s", c.name, again, c.again)
		}
		if doc(t, to) != before {
			t.Errorf("%s has changed what it was given", c.name)
		}
		if p := got.Step(look.Intake, "compress"); p != nil {
			t.Errorf("%s brings the camera gamut's step", c.name)
		}
		if f := got.Step(look.Intake, "reframe"); slices.Contains(c.Parts, look.PartFraming) != (f.Settings["scale"] == 130.0) {
			t.Errorf("%s: the framing is %v", c.name, f.Settings)
		}
	}
	// what is seen is no longer marked: by changing it, and by saying so
	got, err := (&look.Carry{Parts: []look.Part{look.PartBalance, look.PartMattes}}).To(to, from, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range []look.Edit{{Op: look.OpSet, Station: look.Balance, Kind: "exposure", Setting: "stops", Value: 0.4}, {Op: look.OpSeen, Station: look.Balance, Kind: "saturation"}} {
		if got, _, err = e.Apply(got); err != nil {
			t.Fatal(err)
		}
	}
	if m := got.MarksOf(); len(m) != 1 || m[look.StepPath{Station: look.Balance, Name: "exposure-2"}] == nil {
		t.Errorf("left to be looked at are %v", m)
	}
	if got, _, err = (&look.Edit{Op: look.OpSeen}).Apply(got); err != nil || len(got.MarksOf()) != 0 {
		t.Errorf("after all are seen: %v, %v", got.MarksOf(), err)
	}
}

// A station that follows is carried as such, or as it is at home there.
func TestCarryOfWhatFollows(t *testing.T) {
	reel := filmLook(t, house...)
	from, to := level(t, "balance.exposure.stops=1"), own(t, level(t), look.Negative, "negative.stock.id=pampille-500t")
	film := look.Carry{Parts: []look.Part{look.PartFilm}}
	follow, err := film.To(to, from, func(look.Station) *look.Look { return nil })
	if err != nil || !follow.IsFollowing(look.Negative) {
		t.Errorf("it does not follow: %v", err)
	}
	mine, err := film.To(to, from, func(look.Station) *look.Look { return reel })
	if err != nil || mine.IsFollowing(look.Negative) || mine.Step(look.Negative, "stock").Settings["id"] != "serein-500t" {
		t.Errorf("it has not what is at home there: %v", err)
	}
	// and a step of it alone
	one, err := (&look.Carry{Steps: []look.StepPath{{Station: look.Negative, Name: "grain"}}}).To(to, from, func(look.Station) *look.Look { return reel })
	if err != nil || names(one) != "lens follows negative.stock negative.grain print follows screen follows" {
		t.Errorf("one step: %v, %v", names(one), err)
	}
}

// What a kind says of its picture is among its settings.
func TestPicturedSettingsAreThere(t *testing.T) {
	n := 0
	for _, k := range look.Kinds() {
		for _, id := range k.OfPicture() {
			if n++; k.Setting(id) == nil {
				t.Errorf("%s has no setting %q", k.Path(), id)
			}
		}
	}
	if n < 20 {
		t.Errorf("only %d settings depend on the picture", n)
	}
}
