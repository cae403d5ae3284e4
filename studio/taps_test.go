package studio

import (
	"bytes"
	"testing"

	"velours/core/look"
)

// The picture can stay at any station; at the last it is the picture itself, and no other station is like it.
func TestThePictureAtAStation(t *testing.T) {
	s, _, v := filmed(t)
	v.W, v.H = 120, 120
	whole := pixels(t, s, v)
	seen := map[string]look.Station{}
	for _, st := range look.Stations {
		v.Tap = st
		p := must(s.Show(ctx, v))
		got := p.Image().RGBA
		if before, ok := seen[string(got)]; ok && st != look.Finish && st != look.Screen {
			t.Errorf("%s looks as %s", st, before)
		}
		seen[string(got)] = st
		if st == look.Finish && !bytes.Equal(got, whole) {
			t.Error("after Finish it is not the picture")
		}
		if p.Note != "as it leaves "+st.Label() {
			t.Errorf("it says %q", p.Note)
		}
	}
	part := v
	part.Tap, part.W, part.H = look.Negative, 0, 0
	part.X, part.Y, part.CropW, part.CropH = 8, 4, 40, 24
	all := part
	all.X, all.Y, all.CropW, all.CropH = 0, 0, 0, 0
	want := must(s.Show(ctx, all)).Frame.Crop(8, 4, 40, 24)
	if d := same(must(s.Show(ctx, part)).Frame, want); d != 0 {
		t.Errorf("a part of it is %g off the whole", d)
	}
	v.Tap = "darkroom"
	if _, err := s.Show(ctx, v); err == nil {
		t.Error("a station that there is not was shown")
	}
}

// A shot's look on another shot is that shot with the look given to it, its intake kept; neither is touched.
func TestALookOnAnotherShot(t *testing.T) {
	s, _, shots, _ := reelOf(t, 4)
	set(t, s, shots[0], look.OfReel, "negative.stock.id=serein-500t", "print.medium.id=rideau")
	set(t, s, shots[0], look.OfShot, "balance.exposure.stops=0.5")
	set(t, s, shots[3], look.OfShot, "balance.exposure.stops=-2")
	a, b := must(s.Shot(shots[0])), must(s.Shot(shots[3]))
	on := pixels(t, s, View{Shot: shots[0], W: 100, H: 100, Side: Side{Of: OntoShot, ID: shots[3]}})
	if must(s.Shot(shots[0])).Look != a.Look || must(s.Shot(shots[3])).Look != b.Look {
		t.Fatal("looking changed a shot")
	}
	set(t, s, shots[3], look.OfShot, "balance.exposure.stops=0.5")
	if !bytes.Equal(on, pixels(t, s, View{Shot: shots[3], W: 100, H: 100})) {
		t.Error("it is not what the shot is under the same settings")
	}
	if side := must(ParseSide("onto:7")); side.String() != "onto:7" {
		t.Errorf("read as %v", side)
	}
}

// A step alone in all of the path is the path with nothing else in it.
func TestAStepAloneInAllOfThePath(t *testing.T) {
	s, shot, v := filmed(t)
	v.W, v.H = 100, 100
	set(t, s, shot, look.OfShot, "balance.exposure.stops=1", "lens.vignette.stops=2", "finish.contrast.amount=140")
	v.Show, v.Step = ShowAlone, look.StepPath{Station: look.Lens, Name: "vignette"}
	got := must(s.Show(ctx, v)).Image().RGBA
	l := must(look.ParseStored([]byte(must(s.Shot(shot)).Look)))
	for _, st := range look.Stations {
		if st != look.Intake && st != look.Screen {
			delete(l.Stations, st)
		}
	}
	if err := l.SetAll("lens.vignette.stops=2"); err != nil {
		t.Fatal(err)
	}
	v.Show, v.Step, v.Look = Plainly, look.StepPath{}, l
	if !bytes.Equal(got, pixels(t, s, v)) {
		t.Error("something else is still in it")
	}
}
