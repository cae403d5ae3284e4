package steps

import (
	"strings"
	"testing"

	"velours/core/look"
)

func TestParseBracket(t *testing.T) {
	for _, c := range []struct {
		text   string
		labels string
		wrong  string
	}{
		{"balance.exposure.stops=-1,0, 0.5", "Exposure -1 stops|Exposure 0 stops|Exposure +0.5 stops", ""},
		{"negative.gauge.id=super8,65mm", "Super 8|65 mm", ""},
		{"negative.halation.backing=intact,removed", "Backing 100 %|Backing 0 %", ""},
		{"balance.exposure.stops", "", "is not station.kind.setting"},
		{"balance.exposure=1", "", "is not station.kind.setting"},
		{"balance.exposure.stops=1,9", "", "goes from -6 to 6"},
		{"balance.exposure.colour=1", "", "no setting"},
		{"balance.sparkle.stops=1", "", "no step"},
		{"attic.sparkle.stops=1", "", "unknown station"},
		{"negative.gauge.id=9mm", "", "no option"},
	} {
		b, err := look.ParseBracket(c.text)
		if c.wrong != "" {
			if err == nil || !strings.Contains(err.Error(), c.wrong) {
				t.Errorf("%s: %v, want %q", c.text, err, c.wrong)
			}
			continue
		}
		if err != nil {
			t.Errorf("%s: %v", c.text, err)
			continue
		}
		var labels []string
		for i := range b.Values {
			labels = append(labels, b.Label(i))
		}
		if got := strings.Join(labels, "|"); got != c.labels {
			t.Errorf("%s: %s, want %s", c.text, got, c.labels)
		}
	}
	all, err := look.ParseBracket("negative.gauge.id=all")
	if err != nil || len(all.Values) != len(gauges) {
		t.Errorf("all gauges are %v, %v", all, err)
	}
}

// Two brackets make a grid, the first going down; the look itself stays.
func TestVariants(t *testing.T) {
	a, _ := look.ParseBracket("balance.exposure.stops=-1,1")
	b, _ := look.ParseBracket("negative.gauge.id=super8,35mm,65mm")
	l := look.NewLook("x")
	list, err := look.Variants(l, a, b)
	if err != nil || len(list) != 6 {
		t.Fatalf("%d variants, %v", len(list), err)
	}
	v := list[4]
	if v.Label != "Exposure +1 stops, 35 mm" || v.Look.Step(look.Balance, "exposure").Settings["stops"] != 1.0 || v.Look.Step(look.Negative, "gauge").Settings["id"] != "35mm" {
		t.Errorf("the fifth is %+v", v)
	}
	if len(l.Stations) != 0 {
		t.Error("the look was changed")
	}
	if _, err := look.Variants(l, b, b, b, b, b); err == nil {
		t.Error("243 pictures fit a sheet")
	}
}
