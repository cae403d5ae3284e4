package studio

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"strings"
	"testing"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/scope"
	"velours/library"
)

// filmed is a small shot with film on.
func filmed(t *testing.T) (*Studio, uint, View) {
	t.Helper()
	s, shot, _ := small(t, 1)
	for _, e := range []look.Edit{
		{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: 0.4},
		{Op: "on", Station: "negative", Kind: "stock"}, {Op: "on", Station: "negative", Kind: "halation"}, {Op: "on", Station: "negative", Kind: "grain"},
		{Op: "on", Station: "print", Kind: "medium"}, {Op: "on", Station: "lens", Kind: "bloom"},
	} {
		if _, err := s.Edit(shot.ID, e, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	return s, shot.ID, View{Shot: shot.ID}
}

func show(t *testing.T, s *Studio, v View) *Shown {
	t.Helper()
	p, err := s.Show(ctx, v)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// same is how far two pictures lie apart in code values.
func same(a, b *frame.Frame) float64 {
	if a.W != b.W || a.H != b.H {
		return math.Inf(1)
	}
	return scope.Change(a, b)
}

// The side before the last change is the picture that was there before it.
func TestTheSideBeforeTheLastChange(t *testing.T) {
	s, id, v := filmed(t)
	before := show(t, s, v)
	if _, err := s.Edit(id, look.Edit{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: -1.0}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	now := v
	now.Side = must(ParseSide("previous"))
	if d := same(show(t, s, now).Frame, before.Frame); d != 0 {
		t.Errorf("the side before the last change is %g off", d)
	}
	if d := same(show(t, s, v).Frame, before.Frame); d < 0.05 {
		t.Errorf("the change changed %g", d)
	}
}

// A pin is frozen: the shot goes on without it, and its settings can be taken in one change.
func TestPinsAreFrozen(t *testing.T) {
	s, id, v := filmed(t)
	was := show(t, s, v)
	pin, err := s.AddPin(ctx, id, 0)
	if err != nil {
		t.Fatal(err)
	}
	edit(t, s, id, look.Edit{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: 2.0})
	edit(t, s, id, look.Edit{Op: "off", Station: "negative", Kind: "stock"})
	side := v
	side.Side = must(ParseSide("pin:" + fmt.Sprint(pin.ID)))
	if d := same(show(t, s, side).Frame, was.Frame); d > 1.0/65535 {
		t.Errorf("the pin is %g off the picture it was made of", d)
	}
	part := side
	part.X, part.Y, part.CropW, part.CropH = 20, 10, 40, 30
	if d := same(show(t, s, part).Frame, was.Frame.Crop(20, 10, 40, 30)); d > 1.0/65535 {
		t.Errorf("a part of the pin is %g off", d)
	}
	small, err := s.PinImage(ctx, pin.ID, 48, 48)
	if err != nil || small.W != 48 || small.H != 27 {
		t.Fatalf("on the board: %v, %v", small, err)
	}
	lit := 0
	for i, b := range small.RGBA {
		if i%4 != 3 && b > 20 {
			lit++
		}
	}
	if lit < 48*27 {
		t.Errorf("on the board %d of %d samples are lit", lit, 3*48*27)
	}
	if _, err := s.TakePin(id, pin.ID, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if d := same(show(t, s, v).Frame, was.Frame); d != 0 {
		t.Errorf("with the pin's settings the picture is %g off", d)
	}
	if _, err := s.Undo(id, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if d := same(show(t, s, v).Frame, was.Frame); d < 0.05 {
		t.Error("one undo does not bring the shot's own settings back")
	}
	if _, err := s.RenamePin(pin.ID, "  "); err == nil {
		t.Error("a pin without a name was kept")
	}
	if p, err := s.RenamePin(pin.ID, "Dusk"); err != nil || p.Name != "Dusk" {
		t.Errorf("renamed: %v, %v", p, err)
	}
	if err := os.Remove(pin.File); err != nil { // somebody has tidied up
		t.Fatal(err)
	}
	if err := s.RemovePin(pin.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Show(ctx, side); !NotFound(err) {
		t.Errorf("a pin that is gone: %v", err)
	}
	if _, err := s.AddPin(ctx, id, 7); err == nil {
		t.Error("a frame that is not there was pinned")
	}
}

// A reference stands as its file does on the display it was made for, and its scopes can be read.
func TestReferences(t *testing.T) {
	s, id, v := filmed(t)
	shot, err := s.Shot(id)
	if err != nil {
		t.Fatal(err)
	}
	im := image.NewNRGBA(image.Rect(0, 0, 96, 54))
	for y := range 54 {
		for x := range 96 {
			im.SetNRGBA(x, y, color.NRGBA{uint8(2 * x), uint8(4 * y), 99, 255})
		}
	}
	var data bytes.Buffer
	if err := png.Encode(&data, im); err != nil {
		t.Fatal(err)
	}
	pin, err := s.AddReference(ctx, shot.ReelID, "poster.png", data.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	if pin.Name != "poster" || pin.Display != "srgb" || !pin.Reference {
		t.Errorf("%+v", pin)
	}
	edit(t, s, id, look.Edit{Op: "set", Station: "screen", Kind: "display", Setting: "id", Value: "srgb"})
	v.Side = must(ParseSide("pin:" + fmt.Sprint(pin.ID)))
	p := show(t, s, v)
	for _, at := range [][2]int{{0, 0}, {40, 30}, {95, 53}} {
		c := p.Frame.At(at[0], at[1])
		want := im.NRGBAAt(at[0], at[1])
		if math.Abs(c[0]-float64(want.R)/255) > 1e-6 || math.Abs(c[1]-float64(want.G)/255) > 1e-6 {
			t.Errorf("%v: %v, want %v", at, c, want)
		}
	}
	if view, _, err := p.Scope(ctx, ScopeAsk{ID: "waveform", W: 64, H: 64}); err != nil || math.Abs(view.Readings.High[0]-190.0/255) > 1e-6 {
		t.Errorf("its scope reads %+v, %v", view, err)
	}
	// on another display it looks the same: its light is
	edit(t, s, id, look.Edit{Op: "set", Station: "screen", Kind: "display", Setting: "id", Value: "bt1886"})
	q := show(t, s, v)
	a, b := p.Display.Light(p.Frame.At(40, 30)), q.Display.Light(q.Frame.At(40, 30))
	for c := range a {
		if math.Abs(a[c]-b[c]) > 1e-4 {
			t.Errorf("light %v on one display, %v on the other", a, b)
		}
	}
	for name, data := range map[string][]byte{"notes.txt": []byte("x"), "broken.png": data.Bytes()[:60]} {
		if _, err := s.AddReference(ctx, shot.ReelID, name, data); err == nil || !strings.Contains(err.Error(), name) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, err := s.TakePin(id, pin.ID, library.Author{}); err == nil {
		t.Error("a reference gave settings")
	}
	v.Show, v.Step = ShowAdds, must(look.ParseStepPath("lens.bloom"))
	if _, err := s.Show(ctx, v); err == nil {
		t.Error("a still has steps")
	}
}

// Every step can be looked at in every way, and says what is shown.
func TestEveryStepInEveryWay(t *testing.T) {
	s, _, v := filmed(t)
	plain := show(t, s, v)
	for _, k := range look.Kinds() {
		for _, how := range []Show{"adds", "matte", "solo", "far"} {
			w := v
			w.Show, w.Step = how, look.StepPath{Station: k.Station, Name: k.ID}
			p, err := s.Show(ctx, w)
			if err != nil {
				t.Errorf("%s of %s: %v", how, k.Path(), err)
				continue
			}
			if p.Note == "" || p.W != plain.W || !strings.Contains(p.Note, k.Label) {
				t.Errorf("%s of %s says %q", how, k.Path(), p.Note)
			}
		}
	}
	for _, bad := range []View{{Shot: v.Shot, Show: "sparkle"}, {Shot: v.Shot, Show: "adds", Step: look.StepPath{Station: look.Lens, Name: "sparkle"}}, {Shot: v.Shot, Gain: 1000}, {Shot: v.Shot, Show: ShowAdds}, {Shot: v.Shot, Side: Side{Of: APin, ID: 99}}} {
		if _, err := s.Show(ctx, bad); err == nil {
			t.Errorf("%+v was shown", bad)
		}
	}
}

// Without a station the picture is that of a look whose station is off.
func TestTheSideWithoutAStation(t *testing.T) {
	s, id, v := filmed(t)
	side := v
	side.Side = must(ParseSide("station:negative"))
	without := show(t, s, side)
	if same(without.Frame, show(t, s, v).Frame) < 0.01 {
		t.Error("the negative makes no difference")
	}
	edit(t, s, id, look.Edit{Op: "off", Station: "negative"})
	if d := same(without.Frame, show(t, s, v).Frame); d != 0 {
		t.Errorf("%g off the picture with the station off", d)
	}
}

// Sides, steps and ways to look are read once, as text, and written back as they were.
func TestSidesAsText(t *testing.T) {
	for text, want := range map[string]Side{
		"": {}, "film": {Of: WithoutFilm}, "entered": {Of: AsItEntered}, "previous": {Of: BeforeLast},
		"lens.bloom": {Of: WithoutStep, Step: look.StepPath{Station: look.Lens, Name: "bloom"}}, "balance.exposure-2": {Of: WithoutStep, Step: look.StepPath{Station: look.Balance, Name: "exposure-2"}},
		"station:negative": {Of: WithoutStation, Station: look.Negative}, "shot:3": {Of: AnotherShot, ID: 3}, "pin:12": {Of: APin, ID: 12},
	} {
		got, err := ParseSide(text)
		if err != nil || got != want || got.String() != text {
			t.Errorf("%q is %+v, as text %q, %v", text, got, got, err)
		}
	}
	for _, text := range []string{"nonsense", "step", "pin:x", "pin:-1", "shot:", "dream:1", "station:attic", "lens.sparkle", "film:1", "print.medium-2"} {
		if s, err := ParseSide(text); err == nil {
			t.Errorf("%q is %+v", text, s)
		}
	}
	var v View
	if err := json.Unmarshal([]byte(`{"show":"sparkle"}`), &v); err == nil || !strings.Contains(err.Error(), "no view") {
		t.Errorf("got %v", err)
	}
	for _, how := range Shows() {
		if err := new(Show).UnmarshalText([]byte(how)); err != nil {
			t.Error(err)
		}
	}
}

// The difference to a side is what the two pictures are apart.
func TestDifferenceToASide(t *testing.T) {
	s, _, v := filmed(t)
	a := show(t, s, v)
	v.Side = must(ParseSide("film"))
	b := show(t, s, v)
	v.Side, v.Show, v.Against, v.Gain, v.Black = Side{}, ShowDifference, Side{Of: WithoutFilm}, 2, true
	d := show(t, s, v)
	for _, at := range [][2]int{{3, 3}, {50, 20}, {90, 50}} {
		p, q, got := a.Display.Light(a.Frame.At(at[0], at[1])), a.Display.Light(b.Frame.At(at[0], at[1])), a.Display.Light(d.Frame.At(at[0], at[1]))
		for c := range p {
			if want := min(max(2*(p[c]-q[c]), 0), 1); math.Abs(got[c]-want) > 1e-5 {
				t.Errorf("%v: %g, want %g", at, got[c], want)
			}
		}
	}
	// without film nothing of it can run out, and the view says so
	v.Show, v.Side = ShowExhausted, Side{Of: WithoutFilm}
	if p := show(t, s, v); !strings.Contains(p.Note, "no film") {
		t.Errorf("clipping of no film: %q", p.Note)
	}
	v.Side = Side{}
	for _, how := range []Show{"clip-film", "clip-display", "false"} {
		v.Show = how
		p := show(t, s, v)
		if (how == "false") != (len(p.Bands) > 0) || p.Note == "" {
			t.Errorf("%s: %q, %d bands", how, p.Note, len(p.Bands))
		}
	}
}

// Scopes at every tap read the picture that leaves it.
func TestScopesAtEveryTap(t *testing.T) {
	s, _, v := filmed(t)
	p := show(t, s, v)
	units := map[look.Station]string{look.Intake: "stops", look.Balance: "stops", look.Lens: "stops", look.Negative: "D", look.Print: "cd/m²", look.Screen: "%", look.Finish: "%"}
	for tap, unit := range units {
		for _, id := range []string{"waveform", "parade", "vector", "histogram", "chroma"} {
			view, im, err := p.Scope(ctx, ScopeAsk{ID: id, Tap: tap, W: 90, H: 60})
			if err != nil {
				t.Errorf("%s after %s: %v", id, tap, err)
				continue
			}
			if view.Axis.Unit != unit {
				t.Errorf("%s after %s is in %s", id, tap, view.Axis.Unit)
			}
			if id == "chroma" && tap == look.Negative {
				if view.Empty == "" {
					t.Error("densities have a chromaticity")
				}
				continue
			}
			if (id == "histogram") != (im == nil) {
				t.Errorf("%s after %s: drawn %v", id, tap, im != nil)
			}
		}
		f, err := p.at(ctx, tap)
		if err != nil {
			t.Fatal(err)
		}
		r := scope.Read(scope.Picture{Frame: f})
		view, _, err := p.Scope(ctx, ScopeAsk{ID: "histogram", Tap: tap, W: 90, H: 60})
		if err != nil {
			t.Fatal(err)
		}
		if tap != look.Print && view.Readings != r { // the print's is brought to the display's primaries
			t.Errorf("after %s it reads %v, the picture is %v", tap, view.Readings, r)
		}
	}
	// a box restricts it; what shows the picture otherwise does not change what is measured
	all, _, _ := p.Scope(ctx, ScopeAsk{ID: "histogram", W: 90, H: 60})
	box, _, err := p.Scope(ctx, ScopeAsk{ID: "histogram", W: 90, H: 60, Box: &scope.Box{X0: 0.5, Y0: 0, X1: 1, Y1: 1}})
	if err != nil {
		t.Fatal(err)
	}
	if sum(all.Histogram.Count[1]) != 96*54 || sum(box.Histogram.Count[1]) != 48*54 {
		t.Errorf("%d and %d pixels", sum(all.Histogram.Count[1]), sum(box.Histogram.Count[1]))
	}
	v.Show = "false"
	coloured, _, err := show(t, s, v).Scope(ctx, ScopeAsk{ID: "histogram", W: 90, H: 60})
	if err != nil || coloured.Readings != all.Readings {
		t.Errorf("under false colour the scopes read %v, want %v (%v)", coloured.Readings, all.Readings, err)
	}
	for _, bad := range []ScopeAsk{{ID: "oracle", W: 90, H: 60}, {ID: "vector", W: 3, H: 3}, {ID: "vector", W: 90, H: 90, Zoom: 3}, {ID: "vector", W: 90, H: 90, Tap: "attic"}, {ID: "vector", W: 90, H: 90, Box: &scope.Box{X0: 0.5, X1: 0.2, Y1: 1}}} {
		if _, _, err := p.Scope(ctx, bad); err == nil {
			t.Errorf("%+v was measured", bad)
		}
	}
}

func sum(v []uint32) (n uint32) {
	for _, x := range v {
		n += x
	}
	return n
}

// The pixel under the pointer reads what the picture has there, and stands in the scopes where its value
// does.
func TestProbeReadsThePicture(t *testing.T) {
	s, _, v := filmed(t)
	p := show(t, s, v)
	q := Probe{X: 70.5 / 96, Y: 20.5 / 54, Scopes: []ScopeAsk{{ID: "parade", W: 96, H: 54}, {ID: "vector", W: 54, H: 54, Zoom: 2}, {ID: "waveform", W: 96, H: 54, Tap: look.Negative}, {ID: "chroma", W: 60, H: 60, Box: &scope.Box{X0: 0, Y0: 0, X1: 0.5, Y1: 1}}}}
	r, err := s.Probe(ctx, v, q)
	if err != nil {
		t.Fatal(err)
	}
	want := p.Frame.At(70, 20)
	if r.X != 70 || r.Y != 20 || r.Code != want {
		t.Errorf("%d, %d: %v, want %v", r.X, r.Y, r.Code, want)
	}
	negative, err := p.at(ctx, look.Negative)
	if err != nil {
		t.Fatal(err)
	}
	if d := negative.At(70, 20); r.Density == nil || *r.Density != d {
		t.Errorf("density %v, want %v", r.Density, d)
	}
	lit := p.Display.Light(want)
	w := p.Display.Luminance()
	if nits := 100 * (w[0]*lit[0] + w[1]*lit[1] + w[2]*lit[2]); math.Abs(r.Nits-nits) > 1e-3 {
		t.Errorf("%g cd/m², want %g", r.Nits, nits)
	}
	if len(r.Marks) != 3 { // the fourth scope is of another part
		t.Fatalf("%d marks", len(r.Marks))
	}
	codes, density := scope.Codes(), scope.Density()
	if m := r.Marks[0]; math.Abs(m.X-70.5/96) > 1e-9 || math.Abs(m.Y[1]-(1-codes.Place(want[1]))) > 1e-6 {
		t.Errorf("in the parade it stands at %v", m)
	}
	if m := r.Marks[2]; math.Abs(m.Y[0]-(1-density.Place((*r.Density)[0]))) > 1e-6 {
		t.Errorf("in the waveform of densities it stands at %v", m)
	}
	u, y := scope.VectorAt(want, w, 2)
	if m := r.Marks[1]; math.Abs(m.X-u) > 1e-9 || math.Abs(m.Y[0]-y) > 1e-9 {
		t.Errorf("in the vectorscope it stands at %v, want %g, %g", m, u, y)
	}
	// a part at full size is read at its own place
	v.X, v.Y, v.CropW, v.CropH = 60, 10, 30, 30
	if r, err = s.Probe(ctx, v, Probe{X: 10.5 / 30, Y: 10.5 / 30}); err != nil || r.X != 70 || r.Y != 20 || r.Code != want {
		t.Errorf("in a part: %d, %d: %v, %v", r.X, r.Y, r.Code, err)
	}
	if _, err := s.Probe(ctx, v, Probe{X: 2}); err == nil {
		t.Error("a pixel outside was read")
	}
}

// Steps with nothing to do say so, with the reason; others keep silent.
func TestStepsThatRestSaySo(t *testing.T) {
	s, id, v := filmed(t)
	edit(t, s, id, look.Edit{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: -1.0})
	why, err := s.NoEffect(ctx, v)
	if err != nil {
		t.Fatal(err)
	}
	// the ramp's brightest is far below a white wall at this exposure
	if w := why["lens.bloom"]; !strings.Contains(w, "nothing in this frame is brighter than") {
		t.Errorf("bloom without lamps says %q", w)
	}
	if w, ok := why["balance.exposure"]; ok {
		t.Errorf("an exposure of −1 stop says %q", w)
	}
	edit(t, s, id, look.Edit{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: 4.0})
	edit(t, s, id, look.Edit{Op: "on", Station: "balance", Kind: "white"})
	edit(t, s, id, look.Edit{Op: "on", Station: "intake", Kind: "compress"})
	if why, err = s.NoEffect(ctx, v); err != nil {
		t.Fatal(err)
	}
	if w, ok := why["lens.bloom"]; ok {
		t.Errorf("bloom with bright light says %q", w)
	}
	if !strings.Contains(why["balance.white"], "Resting") || !strings.Contains(why["intake.compress"], "Nothing to act on") {
		t.Errorf("%v", why)
	}
}
