package steps

import (
	"fmt"
	"math"

	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(s look.Station) *look.Kind { return zonesKind(zoneBorders(s)) }) }

func zonesKind(borders [4]float64) *look.Kind {
	k := &look.Kind{
		ID: "zones", Place: 120, Pictured: []string{"border-1", "border-2", "border-3", "border-4"}, KeepsOrder: true, Label: "Zones", HasStrength: true, Editor: "zones", Group: "Tone",
		Purpose: "Five zones of the tone scale, each with its level and its tint. Brighter stays brighter, whatever the levels.",
	}
	for _, z := range zoneNames {
		row := []look.Setting{
			dial(z.id+"-level", z.label+" level", "stops", -3, 3, 0, 0.02, "Lifts or lowers the zone."),
			dial(z.id+"-warm", z.label+" warm", "stops", -1, 1, 0, 0.01, "Red against blue: right is warmer."),
			dial(z.id+"-green", z.label+" green", "stops", -1, 1, 0, 0.01, "Green against red and blue: up is greener, down more magenta."),
		}
		for i, column := range []string{"Level", "Warm", "Green"} {
			row[i].Group, row[i].Column = z.label, column
			k.Lead = append(k.Lead, row[i].ID)
		}
		k.Settings = append(k.Settings, row...)
	}
	for i, at := range borders {
		s := dial("border-"+string(rune('1'+i)), zoneNames[i].label+" ends", "stops", -10, 8, at, 0.05, "Where "+zoneNames[i].label+" passes into "+zoneNames[i+1].label+", in stops from mid grey.")
		s.Group = "Borders"
		k.Settings = append(k.Settings, s)
	}
	k.Settings = append(k.Settings, dial("softness", "Softness", "stops", 0.5, 6, 2.2, 0.05, "How many stops it takes from one zone into the next. Narrow borders show in skies."))
	k.Work = render.Work{Grade: func(v look.Values) grade.Op { return zonesOf(v).Op() }}
	return atRest(k, "all levels and tints at 0", "border-1", "border-2", "border-3", "border-4", "softness")
}

// zoneNames are the five zones, dark to bright.
var zoneNames = []struct{ id, label string }{{"black", "Black"}, {"shadow", "Shadow"}, {"mid", "Mid"}, {"light", "Light"}, {"white", "White"}}

func zonesOf(v look.Values) *grade.Zones {
	z := &grade.Zones{Softness: v.Number("softness")}
	for i, n := range zoneNames {
		z.Level[i], z.Warm[i], z.Green[i] = v.Number(n.id+"-level"), v.Number(n.id+"-warm"), v.Number(n.id+"-green")
	}
	last := math.Inf(-1)
	for i := range z.Borders {
		last = max(last, v.Number("border-"+string(rune('1'+i))))
		z.Borders[i] = last
	}
	return z
}

// ZonesOf are the zones of a step of that kind.
func ZonesOf(l *look.Look, s look.Station, step string) (*grade.Zones, error) {
	k, err := look.KindOf(s, step)
	if err != nil {
		return nil, err
	}
	if k.ID != "zones" {
		return nil, fmt.Errorf("%s has no zones", k.Path())
	}
	p := l.Step(s, step)
	if p == nil {
		p = &look.Step{Kind: k.ID}
	}
	return zonesOf(l.Values(k, p)), nil
}

// zoneBorders are where zones meet, in stops from mid grey: a display has no more than two and a half stops above it.
func zoneBorders(s look.Station) [4]float64 {
	if s == look.Finish {
		return [4]float64{-4.5, -2, 0.3, 1.5}
	}
	return [4]float64{-5.5, -2.5, 0.8, 2.8}
}
