package studio

import (
	"strings"
	"testing"

	"velours/core/look"
)

// Clouds are placed where the picture is seen 1:1: the part is another picture than the quick one, and the same each time. Fitted, and in a draft, the
// quick one is shown, and it says so.
func TestCloudsPlacedOnScreen(t *testing.T) {
	s, shot, _ := small(t, 1)
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Negative, Kind: "stock"})
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Print, Kind: "medium"})
	edit(t, s, shot.ID, look.Edit{Op: look.OpSet, Station: look.Negative, Kind: "grain", Setting: "amount", Value: 100.0})
	shown := func(v View) *Shown {
		p, err := s.Show(t.Context(), v)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	v := View{Shot: shot.ID, Step: look.StepPath{Station: look.Negative, Name: "grain"}, X: 20, Y: 8, CropW: 40, CropH: 24}
	quick := shown(v)
	v.Show = ShowPlaced
	placed, again := shown(v), shown(v)
	if same(quick.Frame, placed.Frame) == 0 {
		t.Error("placed clouds are the quick grain")
	}
	if same(placed.Frame, again.Frame) != 0 || placed.W != 40 || placed.H != 24 {
		t.Errorf("the same part is another picture of %d×%d", placed.W, placed.H)
	}
	whole := v
	whole.X, whole.Y, whole.CropW, whole.CropH = 0, 0, shot.Width, shot.Height
	if same(placed.Frame, shown(whole).Crop(20, 8, 40, 24)) != 0 {
		t.Error("a part is not what the whole has there")
	}
	v.Draft = true
	if p := shown(v); !strings.Contains(p.Note, "placing") {
		t.Errorf("a draft says %q", p.Note)
	}
	v.Draft, v.CropW, v.CropH = false, 0, 0
	if p := shown(v); !strings.Contains(p.Note, "1:1 only") {
		t.Errorf("a fitted picture says %q", p.Note)
	}
}
