package steps

import (
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return familiesKind() }) }

func familiesKind() *look.Kind {
	k := &look.Kind{
		ID: "families", Place: 180, KeepsGrey: true, KeepsOrder: true, Label: "Hue families", HasStrength: true, Editor: "families", Group: "Colour",
		Purpose: "Moves families of hue: their hue, their saturation, and their density as if there were more dye. Greys stay.",
	}
	for _, f := range grade.FamilyList {
		row := []look.Setting{
			dial(f.ID+"-shift", f.Label+" shift", "°", -20, 20, 0, 0.2, "Turns the hue."),
			dial(f.ID+"-saturation", f.Label+" saturation", "%", 0, 200, 100, 1, "How strong the colour is."),
			dial(f.ID+"-density", f.Label+" density", "stops", -1.5, 1.5, 0, 0.02, "Deepens strong colours and makes them richer, as more dye does; pale ones hardly."),
			dial(f.ID+"-centre", f.Label+" centre", "°", -20, 20, 0, 0.5, "Where the family's middle lies, from its usual place."),
		}
		for i, column := range []string{"Shift", "Saturation", "Density", "Centre"} {
			row[i].Group, row[i].Column = f.Label, column
			if i < 3 {
				k.Lead = append(k.Lead, row[i].ID)
			}
		}
		k.Settings = append(k.Settings, row...)
	}
	k.Settings = append(k.Settings, dial("softness", "Softness", "%", 0, 100, 100, 1, "How gently one family passes into the next."))
	k.Work = render.Work{Grade: func(v look.Values) grade.Op {
		f := &grade.Families{Softness: v.Number("softness") / 100}
		for i, fam := range grade.FamilyList {
			f.Shift[i], f.Saturation[i] = v.Number(fam.ID+"-shift"), v.Number(fam.ID+"-saturation")/100
			f.Density[i], f.Centre[i] = v.Number(fam.ID+"-density"), v.Number(fam.ID+"-centre")
		}
		return f.Op()
	}}
	but := []string{"softness"}
	for _, f := range grade.FamilyList {
		but = append(but, f.ID+"-centre")
	}
	return atRest(k, "no family has been moved", but...)
}
