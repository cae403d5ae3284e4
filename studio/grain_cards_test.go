package studio

import (
	"image"
	"image/color"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/noise"
	"velours/library"
	"velours/media"
)

// grainyClip writes a movie of 480 × 272 pixels: a soft picture with noise that is stronger in the middle tones.
func grainyClip(t *testing.T, file string) {
	t.Helper()
	out, err := media.Create(file, 0, media.Options{Rate: "24/1", Codec: "ffv1"})
	if err != nil {
		t.Fatal(err)
	}
	for n := range 6 {
		f := frame.New(480, 272, 3)
		r := rand.New(rand.NewPCG(2, uint64(n)))
		for p := range 3 {
			for y := range f.H {
				row := f.Row(p, y)
				for x := range row {
					v := 0.15 + 0.6*float64(x)/480 + 0.02*math.Sin(float64(y)/9+float64(x)/7)
					row[x] = float32(v + 0.05*v*(1-v)*4*r.NormFloat64())
				}
			}
		}
		if err := out.Write(t.Context(), f); err != nil {
			t.Fatal(err)
		}
	}
	if err := out.Close(); err != nil {
		t.Fatal(err)
	}
}

// title writes a picture with alpha: a ramp in the middle, nothing about it.
func title(t *testing.T, file string) {
	t.Helper()
	im := image.NewNRGBA64(image.Rect(0, 0, 480, 272))
	for y := range 272 {
		for x := range 480 {
			v := uint16(10000 + 90*x)
			a := uint16(0)
			if y > 20 && y < 250 && x > 20 && x < 460 {
				a = 65535
			}
			im.SetNRGBA64(x, y, color.NRGBA64{v, v, v, a})
		}
	}
	f, err := os.Create(file)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if err := png.Encode(f, im); err != nil {
		t.Fatal(err)
	}
}

// The grain of a shot is measured as a card, kept, and put on a title: there it measures like the shot, zone by zone, and what is transparent stays
// untouched bit for bit. Undo takes it off in one act; the card stays in use and is not removed.
func TestMatchATitle(t *testing.T) {
	s, _, _ := small(t, 1)
	dir := t.TempDir()
	clip, card := filepath.Join(dir, "night.mkv"), filepath.Join(dir, "title.png")
	grainyClip(t, clip)
	title(t, card)
	added, err := s.Add(t.Context(), []string{clip, card})
	if err != nil || len(added.Shots) != 2 {
		t.Fatalf("%v, %v", added, err)
	}
	for _, shot := range added.Shots {
		if _, err := s.Edit(shot.ID, look.Edit{Op: look.OpEncode, Value: "bt709"}, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	shot, titled := added.Shots[0].ID, added.Shots[1].ID
	found, err := s.MeasureGrain(t.Context(), GrainAsk{Shot: shot, Shown: true, Boxes: []noise.Area{{X: 10, Y: 10, W: 230, H: 250}, {X: 250, Y: 10, W: 220, H: 250}}}, nil)
	if err != nil {
		t.Fatal(err)
	}
	if found.Codes != "bt1886" || found.Width != 480 || !strings.HasPrefix(found.ID, "night-") || found.Trust.Blocks < 200 {
		t.Errorf("the card is %+v", found)
	}
	asset, err := s.AddGrain(found)
	if err != nil {
		t.Fatal(err)
	}
	bare, err := s.Show(t.Context(), View{Shot: titled})
	if err != nil {
		t.Fatal(err)
	}
	m, err := s.MatchGrain(t.Context(), titled, found.ID, library.Author{})
	if err != nil {
		t.Fatal(err)
	}
	if m.Was != nil || m.Is == nil {
		t.Fatalf("it had %v, and has %v: %s", m.Was, m.Is, m.Why)
	}
	worst := 0.0
	for i, y := range m.Is.Tones {
		if y < found.Tones[0] || y > found.Tones[len(found.Tones)-1] {
			continue
		}
		want := found.At(y)
		for c, d := range m.Is.Deviation[i] {
			worst = max(worst, math.Abs(d/want[c]-1))
		}
	}
	t.Logf("the title is off by %.1f %% at most", 100*worst)
	if worst > 0.1 {
		t.Errorf("the title is off by %.1f %%", 100*worst)
	}
	now, err := s.Show(t.Context(), View{Shot: titled})
	if err != nil {
		t.Fatal(err)
	}
	touched := 0
	for p := range 3 {
		for y := range now.H {
			for x, v := range now.Row(p, y) {
				if inside := y > 20 && y < 250 && x > 20 && x < 460; !inside && v != bare.Row(p, y)[x] {
					t.Fatalf("%d, %d is transparent, and was touched", x, y)
				} else if inside && v != bare.Row(p, y)[x] {
					touched++
				}
			}
		}
	}
	if touched < 100000 {
		t.Errorf("%d samples have grain", touched)
	}
	// what is there is taken into account: the shot itself needs nothing, or hardly anything
	same, err := s.MatchGrain(t.Context(), shot, found.ID, library.Author{})
	if err != nil {
		t.Fatal(err)
	}
	if same.Was == nil || same.Is == nil {
		t.Fatalf("the shot had %v, and has %v: %s", same.Was, same.Is, same.Why)
	}
	if a, b := found.At(0.5)[1], same.Is.At(0.5)[1]; math.Abs(b/a-1) > 0.1 {
		t.Errorf("its own grain on top of it makes %.4f of %.4f", b, a)
	}
	if err := s.RemoveAsset(asset.ID); err == nil {
		t.Error("a card in use is removed")
	}
	back, err := s.Undo(titled, library.Author{})
	if err != nil {
		t.Fatal(err)
	}
	if strings.Contains(back.Look, found.ID) {
		t.Error("undo leaves the grain")
	}
	// of another display's codes it cannot be matched
	if _, err := s.Edit(titled, look.Edit{Op: look.OpSet, Station: look.Screen, Kind: "display", Setting: "id", Value: "srgb"}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.MatchGrain(t.Context(), titled, found.ID, library.Author{}); err == nil || !strings.Contains(err.Error(), "bt1886") {
		t.Errorf("for another display: %v", err)
	}
}

// A card goes out as a file and comes in; what cannot be measured is told with the remedy; a pin is measured as one frame.
func TestGrainCards(t *testing.T) {
	s, _, _ := small(t, 1)
	clip := filepath.Join(t.TempDir(), "night.mkv")
	grainyClip(t, clip)
	added, err := s.Add(t.Context(), []string{clip})
	if err != nil || len(added.Shots) != 1 {
		t.Fatalf("%v, %v", added, err)
	}
	id := added.Shots[0].ID
	for _, c := range []struct {
		ask GrainAsk
		why string
	}{
		{GrainAsk{Shot: id}, "declare it"},
		{GrainAsk{Shot: id, Shown: true, Frames: 40}, "1 to 12"},
		{GrainAsk{Shot: id, Shown: true, Frame: 99}, "frames 0 to 5"},
		{GrainAsk{Shot: id, Shown: true, Boxes: []noise.Area{{X: 400, Y: 0, W: 100, H: 100}}}, "inside the 480 × 272"},
		{GrainAsk{Shot: id, Shown: true, Boxes: make([]noise.Area, 17)}, "there can be 16"},
	} {
		if _, err := s.MeasureGrain(t.Context(), c.ask, nil); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("%+v: %v", c.ask, err)
		}
	}
	card, err := s.MeasureGrain(t.Context(), GrainAsk{Shot: id, Shown: true, Name: "Night grain"}, nil)
	if err != nil {
		t.Fatal(err)
	}
	a, err := s.AddCardFile("night.json", strings.NewReader(string(card.JSON())))
	if err != nil {
		t.Fatal(err)
	}
	if a.Kind != "grain" || a.Key != card.ID || a.Name != "Night grain" {
		t.Errorf("kept as %+v", a)
	}
	if !slices.ContainsFunc(noise.Cards(), func(c *noise.Card) bool { return c.ID == card.ID }) {
		t.Error("it cannot be followed")
	}
	edited := strings.Replace(string(card.JSON()), `"hold": 1`, `"hold": 2`, 1)
	if b, err := s.AddCardFile("night.json", strings.NewReader(edited)); err != nil || b.Key == a.Key {
		t.Errorf("a card that was changed by hand is %v, %v", b, err)
	}
	if _, err := s.AddCardFile("night.json", strings.NewReader(`{"deviation":[[1]]}`)); err == nil || !strings.Contains(err.Error(), "night.json") {
		t.Errorf("a broken card: %v", err)
	}
	pin, err := s.AddPin(t.Context(), id, 2)
	if err != nil {
		t.Fatal(err)
	}
	still, err := s.MeasureGrain(t.Context(), GrainAsk{Shot: id, Pin: pin.ID, Boxes: []noise.Area{{X: 0, Y: 0, W: 480, H: 272}}}, nil)
	if err != nil {
		t.Fatal(err)
	}
	if a, b := card.At(0.4)[1], still.At(0.4)[1]; math.Abs(b/a-1) > 0.15 {
		t.Errorf("one frame deviates by %.4f, four by %.4f", b, a)
	}
	if patch, err := GrainPatch(t.Context(), card); err != nil || !strings.HasPrefix(patch, "data:image/png;base64,") || len(patch) < 5000 {
		t.Errorf("its patch: %.40s, %v", patch, err)
	}
}

// A shot whose noise cannot be told is shown as it is, and the step says why it does nothing.
func TestNoiseThatCannotBeTold(t *testing.T) {
	s, shot, _ := small(t, 1) // smaller than noise is measured in
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	before, err := s.Show(t.Context(), View{Shot: shot.ID})
	if err != nil {
		t.Fatal(err)
	}
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Intake, Kind: "denoise"})
	after, err := s.Show(t.Context(), View{Shot: shot.ID})
	if err != nil {
		t.Fatal(err)
	}
	for p := range 3 {
		for y := range after.H {
			if !slices.Equal(after.Row(p, y), before.Row(p, y)) {
				t.Fatalf("row %d of plane %d changes", y, p)
			}
		}
	}
	why, err := s.NoEffect(t.Context(), View{Shot: shot.ID})
	if err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(why["intake.denoise"], "cannot be told") {
		t.Errorf("the step says %q", why["intake.denoise"])
	}
}
