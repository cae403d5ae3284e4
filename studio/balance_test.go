package studio

import (
	"fmt"
	"math"
	"path/filepath"
	"testing"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/library"
	"velours/media"
)

// chart is a clean studio's Slate with nothing on, so that what is measured is the step alone.
func chart(t *testing.T) (*Studio, *library.Shot) {
	t.Helper()
	s := must(Open(t.TempDir()))
	t.Cleanup(func() { s.Close() })
	if err := s.LoadDemoApart(t.Context()); err != nil {
		t.Fatal(err)
	}
	shot := find(t, s, "Slate")
	edit(t, s, shot.ID, look.Edit{Op: "off", Station: look.Negative})
	edit(t, s, shot.ID, look.Edit{Op: "off", Station: look.Print})
	return s, shot
}

// find is a shot of the demo reel; reload the shot as it is now.
func find(t *testing.T, s *Studio, name string) *library.Shot {
	t.Helper()
	for _, r := range must(s.Reels()) {
		for _, shot := range r.Shots {
			if shot.Name == name {
				return &shot
			}
		}
	}
	t.Fatalf("no shot %s", name)
	return nil
}

func reload(t *testing.T, s *Studio, shot *library.Shot) *library.Shot {
	t.Helper()
	return must(s.Shot(shot.ID))
}

// patch is the mean of the middle of the i-th reflectance of the chart, in a picture of its full size.
func patch(f *frame.Frame, i int) [3]float64 {
	return around(f, 60+120*(i%15)+56, 350+150*(i/15)+70, 20)
}

// What is picked becomes neutral, under the cast of a step before.
func TestPickNeutralMakesItNeutral(t *testing.T) {
	s, shot := chart(t)
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "points", Values: map[string]any{"red": 2.0, "green": -3.0, "blue": -4.0}})
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Balance, Kind: "white"})
	edit(t, s, shot.ID, look.Edit{Op: "move", Station: look.Balance, Kind: "points", Value: 0.0})
	for _, i := range []int{23, 24, 27} { // a warm cloth, white, grey
		x, y := (60+120*float64(i%15)+56)/1920, (350+150*float64(i/15)+70)/1080
		p, err := s.Pick(t.Context(), View{Shot: shot.ID, Step: must(look.ParseStepPath("balance.white"))}, Probe{X: x, Y: y})
		if err != nil {
			t.Fatal(err)
		}
		edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "white", Values: map[string]any{"temperature": *p.Mired, "tint": *p.Tint}})
		c, err := s.prepare(t.Context(), &View{Shot: shot.ID})
		if err != nil {
			t.Fatal(err)
		}
		f, _, err := s.at(t.Context(), c, c.look, look.Balance)
		if err != nil {
			t.Fatal(err)
		}
		v := patch(f, i)
		if _, chroma := grade.Hue(v); chroma > 0.001 {
			t.Errorf("patch %d is still %v, chroma %.4f, under %g mired and %g", i, v, chroma, *p.Mired, *p.Tint)
		}
	}
	if _, err := s.Pick(t.Context(), View{Shot: shot.ID, Step: must(look.ParseStepPath("balance.white"))}, Probe{X: 2}); err == nil {
		t.Error("a place outside the picture is taken")
	}
}

// vectorAngle is where display codes of BT.709 stand on the vectorscope.
func vectorAngle(c [3]float64) (angle, far float64) {
	y := 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2]
	cb, cr := (c[2]-y)/1.8556, (c[0]-y)/1.5748
	return math.Atan2(cr, cb) * 180 / math.Pi, math.Hypot(cb, cr)
}

// The ready crosstalks on the chart, measured on the vectorscope: greys stay; skins of every depth come to lie within two degrees
// of the skin line; what lies across the line is pressed towards it, the more the
// stronger the setting.
func TestReadyCrosstalkSqueezesTheChart(t *testing.T) {
	s, shot := chart(t)
	kind, err := look.FindKind(look.Balance, "crosstalk")
	if err != nil {
		t.Fatal(err)
	}
	show := func() *frame.Frame {
		p, err := s.Show(t.Context(), View{Shot: shot.ID})
		if err != nil {
			t.Fatal(err)
		}
		return p.Frame
	}
	across := func(f *frame.Frame) float64 {
		sum := 0.0
		for i := range 23 { // all patches but the greys
			a, far := vectorAngle(patch(f, i))
			sum += math.Abs(far * math.Sin((a-grade.SkinAngle)*math.Pi/180))
		}
		return sum / 23
	}
	before := show()
	last := across(before)
	t.Logf("untouched: %.4f across the skin line", last)
	for _, r := range kind.Ready {
		edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "crosstalk", Values: r.Values})
		f := show()
		for i := 24; i < 30; i++ {
			p, q := patch(f, i), patch(before, i)
			for c := range p {
				if math.Abs(p[c]-q[c]) > 2e-5 {
					t.Errorf("%s: grey %d goes from %v to %v", r.ID, i, q, p)
				}
			}
		}
		for i := range 4 {
			was, _ := vectorAngle(patch(before, i))
			is, _ := vectorAngle(patch(f, i))
			t.Logf("%s: skin %d from %.1f° to %.1f° off the line", r.ID, i, was-grade.SkinAngle, is-grade.SkinAngle)
			if math.Abs(is-grade.SkinAngle) > 2 {
				t.Errorf("%s: skin %d lies %.1f° off its line, it lay at %.1f°", r.ID, i, is-grade.SkinAngle, was-grade.SkinAngle)
			}
		}
		now := across(f)
		t.Logf("%s: %.4f across the skin line", r.ID, now)
		if now > 0.93*last {
			t.Errorf("%s presses from %.4f to %.4f", r.ID, last, now)
		}
		last = now
	}
}

// Skin that a colour move has shifted is read so, and put back to where it entered.
func TestSkinIsReadAndPutBack(t *testing.T) {
	s, shot := chart(t)
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "families", Values: map[string]any{"red-shift": 8.0, "orange-shift": 8.0, "orange-saturation": 140.0, "orange-density": 0.4}})
	edit(t, s, shot.ID, look.Edit{Op: "add", Station: look.Balance, Kind: "skin"})
	v := View{Shot: shot.ID, Step: must(look.ParseStepPath("balance.skin"))}
	m, err := s.SkinMove(t.Context(), v, true)
	if err != nil {
		t.Fatal(err)
	}
	if m.Share < leastSkin || m.DeltaE < 2 || m.Hue < 1 || m.Chroma < 1 {
		t.Fatalf("moved skin reads as %+v", m)
	}
	back := map[string]any{}
	for id, x := range m.Back {
		back[id] = x
	}
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "skin", Values: back})
	now, err := s.SkinMove(t.Context(), v, false)
	if err != nil {
		t.Fatal(err)
	}
	t.Logf("ΔE from %.2f to %.2f", m.DeltaE, now.DeltaE)
	if now.DeltaE > 0.6 {
		t.Errorf("put back, skin is still off by ΔE %.2f: %+v", now.DeltaE, now)
	}
	edit(t, s, shot.ID, look.Edit{Op: "strength", Station: look.Balance, Kind: "skin", Value: 0.5})
	half, err := s.SkinMove(t.Context(), v, false)
	if err != nil || half.DeltaE < now.DeltaE || half.DeltaE > m.DeltaE {
		t.Errorf("half pulled back, ΔE is %.2f: %v", half.DeltaE, err)
	}
	if _, err := s.SkinMove(t.Context(), View{Shot: shot.ID, Step: must(look.ParseStepPath("balance.families"))}, false); err == nil {
		t.Error("hue families read skin")
	}
}

// The tones of a frame are those that enter the step: an exposure before it moves them, one after it does not.
func TestTonesEnterTheStep(t *testing.T) {
	s, shot := chart(t)
	edit(t, s, shot.ID, look.Edit{Op: "add", Station: look.Balance, Kind: "zones"})
	middle := func() float64 {
		c, err := s.Tones(t.Context(), View{Shot: shot.ID, Step: must(look.ParseStepPath("balance.zones"))})
		if err != nil {
			t.Fatal(err)
		}
		sum, at := 0.0, 0.0
		for i, n := range c.Count[3] {
			sum += n
			at += n * (c.From + (float64(i)+0.5)*(c.To-c.From)/float64(len(c.Count[3])))
		}
		return at / sum
	}
	was := middle()
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "exposure", Setting: "stops", Value: 1.0})
	if d := middle() - was; math.Abs(d-1) > 0.12 {
		t.Errorf("a stop more moves the tones by %.2f", d)
	}
	edit(t, s, shot.ID, look.Edit{Op: "move", Station: look.Balance, Kind: "exposure", Value: 1.0})
	if d := middle() - was; math.Abs(d) > 0.01 {
		t.Errorf("an exposure after it moves the tones that enter by %.2f", d)
	}
}

// Steps are added, named, moved, copied with their mattes, switched and removed together; each is one change that
// can be undone, and mattes are shared, named anew and taken away.
func TestStepsAreArranged(t *testing.T) {
	s, shot := chart(t)
	start, err := look.ParseLook([]byte(reload(t, s, shot).Look))
	if err != nil {
		t.Fatal(err)
	}
	given := func() *look.Look {
		l, err := look.ParseLook([]byte(reload(t, s, shot).Look))
		if err != nil {
			t.Fatal(err)
		}
		return l
	}
	names := func() string {
		text := ""
		if st := given().Stations[look.Balance]; st != nil {
			for _, p := range st.Steps {
				text += p.Name() + " "
			}
		}
		return text
	}
	changes := 0
	do := func(e look.Edit) {
		t.Helper()
		e.Station = look.Balance
		edit(t, s, shot.ID, e)
		changes++
	}
	do(look.Edit{Op: "add", Kind: "contrast"})
	do(look.Edit{Op: "add", Kind: "mono", Value: 0.0})
	do(look.Edit{Op: "add", Kind: "contrast"})
	if got := names(); got != "mono contrast contrast-2 " {
		t.Fatalf("added: %s", got)
	}
	if given().Step(look.Balance, "mono").Settings["amount"] != 100.0 {
		t.Error("black and white begins without effect")
	}
	do(look.Edit{Op: "move", Kind: "contrast-2", Value: 0.0})
	do(look.Edit{Op: "title", Kind: "contrast-2", Name: "Lift the face"})
	do(look.Edit{Op: "cover", Name: "Face", Matte: &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse"}}}})
	do(look.Edit{Op: "matte", Kind: "contrast-2", Name: "Face"})
	do(look.Edit{Op: "matte", Kind: "mono", Name: "Face"})
	do(look.Edit{Op: "outside", Kind: "mono", Value: true})
	do(look.Edit{Op: "rename", Name: "Face", Value: "Puppet"})
	l := given()
	if p := l.Step(look.Balance, "contrast-2"); names() != "contrast-2 mono contrast " || p.Title != "Lift the face" || p.Matte == nil || *p.Matte != "Puppet" {
		t.Errorf("arranged: %s, %+v", names(), p)
	}
	if p := l.Step(look.Balance, "mono"); p.Matte == nil || *p.Matte != "Puppet" || !p.Outside {
		t.Errorf("the shared matte: %+v", p)
	}
	do(look.Edit{Op: "off", Names: []string{"mono", "contrast"}})
	if l := given(); l.Step(look.Balance, "mono").On || l.Step(look.Balance, "contrast").On || !l.Step(look.Balance, "contrast-2").On {
		t.Error("two are not switched off together")
	}
	// copied to another shot, with the matte; pasted twice over another matte of the name
	other := find(t, s, "Courtyard")
	edit(t, s, other.ID, look.Edit{Op: "cover", Name: "Puppet", Matte: &look.Matte{Parts: []*look.MattePart{{Kind: "skin"}}}})
	paste := look.Edit{Op: "paste", Station: look.Balance, Steps: []*look.Step{l.Step(look.Balance, "contrast-2"), l.Step(look.Balance, "mono")}, Mattes: l.Mattes}
	edit(t, s, other.ID, paste)
	edit(t, s, other.ID, paste)
	o, err := look.ParseLook([]byte(reload(t, s, other).Look))
	if err != nil {
		t.Fatal(err)
	}
	if len(o.Mattes) != 2 || o.Mattes["Puppet"].Parts[0].Kind != "skin" || *o.Step(look.Balance, "contrast-2").Matte != "Puppet 2" || *o.Step(look.Balance, "mono").Matte != "Puppet 2" {
		t.Errorf("pasted mattes: %v", o.Mattes)
	}
	do(look.Edit{Op: "uncover", Name: "Puppet"})
	do(look.Edit{Op: "remove", Names: []string{"contrast", "contrast-2"}})
	if names() != "mono " || given().Step(look.Balance, "mono").Matte != nil {
		t.Errorf("removed: %s", names())
	}
	for range changes {
		if _, err := s.Undo(shot.ID, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	if a, b := fmt.Sprint(len(start.Stations), start.Mattes), fmt.Sprint(len(given().Stations), given().Mattes); a != b {
		t.Errorf("all undone, the look is %s, it was %s", b, a)
	}
	for _, e := range []look.Edit{
		{Op: "add", Kind: "cloud"}, {Op: "move", Kind: "mono", Value: 9.0}, {Op: "remove", Names: []string{"mono-7"}}, {Op: "matte", Kind: "mono", Name: "nowhere"},
		{Op: "rename", Name: "nothing", Value: "x"}, {Op: "paste"}, {Op: "cover", Name: "", Matte: &look.Matte{}}, {Op: "cover", Name: "x"},
	} {
		e.Station = look.Balance
		if _, err := s.Edit(shot.ID, e, library.Author{}); err == nil {
			t.Errorf("%+v is taken", e)
		}
	}
}

// A matte's view is its coverage; the zones' view shows each zone in its grey.
func TestMatteAndZoneViews(t *testing.T) {
	s, shot := chart(t)
	edit(t, s, shot.ID, look.Edit{Op: "cover", Name: "m", Matte: &look.Matte{Parts: []*look.MattePart{{Kind: "rectangle", Settings: map[string]any{"in": 0.0, "out": 0.0, "a": 25.0, "b": 40.0}}}}})
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "contrast", Setting: "amount", Value: 120.0})
	edit(t, s, shot.ID, look.Edit{Op: "matte", Station: look.Balance, Kind: "contrast", Name: "m"})
	p, err := s.Show(t.Context(), View{Shot: shot.ID, W: 960, H: 540, Show: "matte", Step: must(look.ParseStepPath("balance.contrast"))})
	if err != nil {
		t.Fatal(err)
	}
	if in, out := p.At(480, 270)[0], p.At(20, 270)[0]; in != 1 || out != 0 {
		t.Errorf("the matte shows %g inside and %g outside", in, out)
	}
	crop, err := s.Show(t.Context(), View{Shot: shot.ID, X: 400, Y: 300, CropW: 200, CropH: 100, Show: "matte", Step: must(look.ParseStepPath("balance.contrast"))})
	if err != nil || crop.W != 200 || crop.At(10, 50)[0] != 0 || crop.At(150, 50)[0] != 1 {
		t.Errorf("of a part it shows %v, %v: %v", crop.At(10, 50), crop.At(150, 50), err)
	}
	edit(t, s, shot.ID, look.Edit{Op: "add", Station: look.Balance, Kind: "zones"})
	z, err := s.Show(t.Context(), View{Shot: shot.ID, Show: "zones", Step: must(look.ParseStepPath("balance.zones"))})
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range map[int]float64{24: zoneCodes[3], 27: zoneCodes[2]} { // a white sheet, mid grey
		if got := patch(z.Frame, i)[1]; math.Abs(got-want) > 0.14 {
			t.Errorf("patch %d is shown as %.2f, its zone is %.2f", i, got, want)
		}
	}
	if _, err := s.Show(t.Context(), View{Shot: shot.ID, Show: "zones", Step: must(look.ParseStepPath("balance.contrast"))}); err == nil {
		t.Error("contrast has zones")
	}
}

// A pinned still covers where it is bright, and cannot be thrown away while a matte names it.
func TestPinsServeAsMattes(t *testing.T) {
	s, shot := chart(t)
	pin, err := s.AddPin(t.Context(), shot.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	edit(t, s, shot.ID, look.Edit{Op: "cover", Name: "m", Matte: &look.Matte{Parts: []*look.MattePart{{Kind: "picture", Settings: map[string]any{"id": pictureID(pin)}}}}})
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "exposure", Setting: "stops", Value: -3.0})
	edit(t, s, shot.ID, look.Edit{Op: "matte", Station: look.Balance, Kind: "exposure", Name: "m"})
	p, err := s.Show(t.Context(), View{Shot: shot.ID, Show: "matte", Step: must(look.ParseStepPath("balance.exposure"))})
	if err != nil {
		t.Fatal(err)
	}
	if white, dark := patch(p.Frame, 24)[0], patch(p.Frame, 29)[0]; white < 0.7 || dark > 0.3 {
		t.Errorf("white covers %.2f and black %.2f", white, dark)
	}
	if err := s.RemovePin(pin.ID); err == nil {
		t.Error("a pin that a matte names is thrown away")
	}
}

// A float file with samples that are no number, or infinite, shows; they are black, and white.
func TestUnsoundSamplesOfAFileAreMended(t *testing.T) {
	s := must(Open(t.TempDir()))
	t.Cleanup(func() { s.Close() })
	f := frame.New(64, 36, 3)
	for p := range 3 {
		for y := range 36 {
			for x := range 64 {
				f.Row(p, y)[x] = 0.18
			}
		}
		f.Row(p, 10)[20] = float32(math.Inf(1))
	}
	f.Row(1, 10)[40] = float32(math.NaN())
	name := filepath.Join(t.TempDir(), "bad.exr")
	w := must(media.Create(name, 0, media.Options{}))
	if err := w.Write(t.Context(), f); err != nil {
		t.Fatal(err)
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	shot := must(s.AddShot(t.Context(), must(s.Reels())[0].ID, name))
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "acescg"})
	p := show(t, s, View{Shot: shot.ID})
	if v := p.At(20, 10); min(v[0], v[1], v[2]) < 0.99 {
		t.Errorf("infinite light shows as %v", v)
	}
	for _, v := range p.At(40, 10) {
		if math.IsNaN(v) || v > p.At(5, 5)[0]+0.2 {
			t.Errorf("what is no number shows as %v", p.At(40, 10))
		}
	}
	if r := must(media.Open(t.Context(), name)); r.Integral() {
		t.Error("a float file is taken for whole numbers")
	}
	if r := must(media.Open(t.Context(), find(t, chartOf(t), "Courtyard").Path)); !r.Integral() {
		t.Error("a movie is taken for floats")
	}
}

func chartOf(t *testing.T) *Studio { s, _ := chart(t); return s }
