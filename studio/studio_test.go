package studio

import (
	"bytes"
	"context"
	"errors"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/library"
	"velours/media"
)

var ctx = context.Background()

// small opens a studio with one shot: a still of linear light, or n frames of it in a movie.
func small(t *testing.T, n int) (*Studio, *library.Shot, string) {
	t.Helper()
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("ffmpeg is not installed")
		}
		t.Skip("ffmpeg is not installed; make test installs it")
	}
	dir := t.TempDir()
	f := frame.New(96, 54, 3)
	for p := range 3 {
		for y := range 54 {
			for x := range 96 {
				f.Row(p, y)[x] = 0.02 + float32(x)/120 + 0.05*float32(p)
			}
		}
	}
	name := filepath.Join(dir, "rush.exr")
	if n > 1 {
		name = filepath.Join(dir, "rush.mkv")
	}
	w, err := media.Create(name, 0, media.Options{})
	if err != nil {
		t.Fatal(err)
	}
	for range n {
		if err := w.Write(ctx, f); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	s, err := Open(filepath.Join(dir, "data"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	r := must(newReel("Test"))
	if err := s.lib.AddReel(r); err != nil {
		t.Fatal(err)
	}
	shot, err := s.AddShot(ctx, r.ID, name)
	if err != nil {
		t.Fatal(err)
	}
	return s, shot, dir
}

func edit(t *testing.T, s *Studio, id uint, e look.Edit) *library.Shot {
	t.Helper()
	shot, err := s.Edit(id, e, library.Author{})
	if err != nil {
		t.Fatal(err)
	}
	return shot
}

func TestAddedShotsStartClean(t *testing.T) {
	_, shot, _ := small(t, 1)
	if shot.Encoding != "linear-bt709" {
		t.Errorf("an EXR is declared %q; its format means linear BT.709", shot.Encoding)
	}
	l, err := look.ParseLook([]byte(shot.Look))
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range look.Stations {
		if st := l.Stations[s]; st != nil && len(st.Steps) > 0 || s.Follows() != l.IsFollowing(s) {
			t.Errorf("a new shot has %v in %s", st, s)
		}
	}
	_, movie, _ := small(t, 3)
	if movie.Encoding != "" {
		t.Errorf("an untagged movie is declared %q on its own", movie.Encoding)
	}
}

func TestEveryEditAndItsWayBack(t *testing.T) {
	s, shot, _ := small(t, 1)
	id := shot.ID
	start := shot.Look
	edits := []look.Edit{
		{Op: "set", Station: look.Balance, Kind: "exposure", Setting: "stops", Value: 0.5},
		{Op: "strength", Station: look.Balance, Kind: "exposure", Value: 0.4},
		{Op: "off", Station: look.Balance, Kind: "exposure"},
		{Op: "on", Station: look.Negative, Kind: "stock"},
		{Op: "set", Station: look.Negative, Kind: "stock", Setting: "id", Value: "serein-500t"},
		{Op: "reset", Station: look.Negative, Kind: "stock", Setting: "id"},
		{Op: "strength", Station: look.Negative, Value: 0.5},
		{Op: "off", Station: look.Negative},
		{Op: "clear", Station: look.Balance, Kind: "exposure"},
		{Op: "clear", Station: look.Negative},
		{Op: "declare", Value: "logc4"},
	}
	states := []string{start}
	encodings := []string{shot.Encoding}
	for _, e := range edits {
		shot = edit(t, s, id, e)
		if _, err := look.ParseLook([]byte(shot.Look)); err != nil {
			t.Fatalf("%+v leaves a look that does not parse: %v", e, err)
		}
		states, encodings = append(states, shot.Look), append(encodings, shot.Encoding)
	}
	for i := len(states) - 2; i >= 0; i-- {
		got, err := s.Undo(id, library.Author{})
		if err != nil {
			t.Fatalf("undo to state %d: %v", i, err)
		}
		if got.Look != states[i] || got.Encoding != encodings[i] {
			t.Fatalf("undo to state %d gives %s (%s)", i, got.Look, got.Encoding)
		}
	}
	if gone, err := s.Undo(id, library.Author{}); err != nil || !gone.Removed {
		t.Errorf("the first of all was its coming in: %v", err)
	}
	if _, err := s.Undo(id, library.Author{}); !NotFound(err) {
		t.Errorf("undo past the beginning: %v", err)
	}
	if back, err := s.Redo(id, library.Author{}); err != nil || back.Removed {
		t.Errorf("it does not come in again: %v", err)
	}
	for i := 1; i < len(states); i++ {
		if got, err := s.Redo(id, library.Author{}); err != nil || got.Look != states[i] {
			t.Fatalf("redo to state %d: %v", i, err)
		}
	}
	if got := edit(t, s, id, look.Edit{Op: "restart"}); got.Look != start {
		t.Errorf("restart gives %s", got.Look)
	}
	for _, e := range []look.Edit{{Op: "set", Station: look.Intake, Kind: "encoding", Setting: "id", Value: "logc3"}, {Op: "declare", Value: "sepia"}, {Op: "strength", Station: look.Lens, Kind: "bloom", Value: "much"}, {Op: "hop", Station: look.Lens, Kind: "bloom"}} {
		var b BadInput
		if _, err := s.Edit(id, e, library.Author{}); !errors.As(err, &b) {
			t.Errorf("%+v: %v is not refused as bad input", e, err)
		}
	}
}

func TestPicturesAndComparisons(t *testing.T) {
	s, shot, _ := small(t, 1)
	for _, e := range []look.Edit{
		{Op: "on", Station: look.Negative, Kind: "stock"}, {Op: "on", Station: look.Print, Kind: "medium"},
		{Op: "set", Station: look.Balance, Kind: "exposure", Setting: "stops", Value: 1.0},
	} {
		edit(t, s, shot.ID, e)
	}
	see := func(v View) *Image {
		v.Shot = shot.ID
		im, err := s.Picture(ctx, v)
		if err != nil {
			t.Fatal(err)
		}
		return im
	}
	full, film, entered, noExposure := see(View{}), see(View{Side: must(ParseSide("film"))}), see(View{Side: must(ParseSide("entered"))}), see(View{Side: must(ParseSide("balance.exposure"))})
	if bytes.Equal(full.RGBA, film.RGBA) || bytes.Equal(film.RGBA, entered.RGBA) || bytes.Equal(full.RGBA, noExposure.RGBA) {
		t.Error("a comparison shows no difference")
	}
	if fit := see(View{W: 48, H: 400}); fit.W != 48 || fit.H != 27 || fit.SourceW != 96 {
		t.Errorf("fitted to %d×%d of %d", fit.W, fit.H, fit.SourceW)
	}
	crop := see(View{X: 10, Y: 5, CropW: 20, CropH: 10})
	if crop.W != 20 || crop.H != 10 {
		t.Fatalf("crop of %d×%d", crop.W, crop.H)
	}
	for y := range 10 {
		a, b := crop.RGBA[4*20*y:4*20*(y+1)], full.RGBA[4*(96*(y+5)+10):4*(96*(y+5)+30)]
		if !bytes.Equal(a, b) {
			t.Fatalf("row %d of the crop is not the picture's", y)
		}
	}
	ribbon, err := s.Ribbon(ctx, View{Shot: shot.ID}, 40, 20)
	if err != nil || ribbon.W != 280 || ribbon.H != 20 {
		t.Fatalf("ribbon %+v, %v", ribbon, err)
	}
	band := func(i int) [3]int {
		o := 4 * (10*ribbon.W + i*40 + 20)
		return [3]int{int(ribbon.RGBA[o]), int(ribbon.RGBA[o+1]), int(ribbon.RGBA[o+2])}
	}
	if n := band(3); !(n[0] > n[1] && n[1] > n[2]) {
		t.Errorf("the negative's band is %v, not orange", n)
	}
	if _, err := s.Picture(ctx, View{Shot: shot.ID, Side: Side{Of: AnotherShot, ID: 99}}); err == nil {
		t.Error("a comparison with nothing is accepted")
	}
}

func waitFor(t *testing.T, s *Studio, id uint, states ...string) *library.Delivery {
	t.Helper()
	for end := time.Now().Add(40 * time.Second); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		d, err := s.Delivery(id)
		if err != nil {
			t.Fatal(err)
		}
		for _, want := range states {
			if d.State == want {
				return d
			}
		}
	}
	t.Fatalf("delivery %d never became %v", id, states)
	return nil
}

func TestDeliveriesOfEveryForm(t *testing.T) {
	s, shot, _ := small(t, 4)
	var b BadInput
	if _, err := s.Deliver(shot.ID, "still-png", 0, false); !errors.As(err, &b) || !strings.Contains(err.Error(), "declare") {
		t.Errorf("an undeclared shot is delivered: %v", err)
	}
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Negative, Kind: "grain"})
	for _, f := range Formats {
		d, err := s.Deliver(shot.ID, f.ID, 1, false)
		if err != nil {
			t.Fatal(err)
		}
		got := waitFor(t, s, d.ID, "done", "failed")
		if got.State != "done" || got.Done != got.Total {
			t.Errorf("%s: %s, %d of %d, %s", f.ID, got.State, got.Done, got.Total, got.Note)
			continue
		}
		if f.Table {
			if !strings.Contains(got.Note, "Grain") {
				t.Errorf("the table does not say that it leaves grain out: %q", got.Note)
			}
			continue
		}
		if f.Group == "sheet" {
			continue // told by its own tests
		}
		in, err := media.Probe(ctx, got.Path)
		if err != nil || in.W != 96 || in.H != 54 || f.Whole && in.Frames != 4 {
			t.Errorf("%s: %+v, %v", f.ID, in, err)
		}
	}
}

// Grain can be placed cloud by cloud for a delivery: the frame is another, its mean is not; a table refuses.
func TestDeliveryOfPlacedGrain(t *testing.T) {
	s, shot, _ := small(t, 4)
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	edit(t, s, shot.ID, look.Edit{Op: "on", Station: look.Negative, Kind: "grain"})
	if _, err := s.Deliver(shot.ID, "table-cube", 0, true); err == nil || !strings.Contains(err.Error(), "no grain") {
		t.Errorf("a table of placed clouds: %v", err)
	}
	var means [2]float64
	var frames [2]*frame.Frame
	for i, placed := range []bool{false, true} {
		d, err := s.Deliver(shot.ID, "still-tiff32", 1, placed)
		if err != nil {
			t.Fatal(err)
		}
		got := waitFor(t, s, d.ID, "done", "failed")
		if got.State != "done" {
			t.Fatalf("placed %v: %s", placed, got.Note)
		}
		r, err := media.Open(ctx, got.Path)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Close()
		if frames[i], err = r.Frame(ctx, 0); err != nil {
			t.Fatal(err)
		}
		for y := range frames[i].H {
			for _, v := range frames[i].Row(1, y) {
				means[i] += float64(v) / float64(frames[i].W*frames[i].H)
			}
		}
	}
	if frames[0].Row(1, 20)[30] == frames[1].Row(1, 20)[30] || math.Abs(means[0]-means[1]) > 0.004 {
		t.Errorf("means of %.4f and %.4f, one sample %g and %g", means[0], means[1], frames[0].Row(1, 20)[30], frames[1].Row(1, 20)[30])
	}
}

func TestCancelledDeliveryLeavesNothing(t *testing.T) {
	s, shot, dir := small(t, 90)
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	progress, stop := s.Watch()
	defer stop()
	d, err := s.Deliver(shot.ID, "movie-prores", 0, false)
	if err != nil {
		t.Fatal(err)
	}
	wait, cancel := context.WithTimeout(ctx, 20*time.Second)
	defer cancel()
	if len(progress.Next(wait)) == 0 {
		t.Fatal("no word of progress")
	}
	if err := s.CancelDelivery(d.ID); err != nil {
		t.Fatal(err)
	}
	got := waitFor(t, s, d.ID, "cancelled", "done")
	left, err := os.ReadDir(filepath.Join(dir, "data", "deliveries"))
	if err != nil {
		t.Fatal(err)
	}
	if got.State == "cancelled" && len(left) != 0 {
		t.Errorf("left behind: %v", left)
	}
	if err := s.CancelDelivery(999); !NotFound(err) {
		t.Errorf("cancelling nothing: %v", err)
	}
}

func TestRangesAndSizes(t *testing.T) {
	for _, c := range []struct {
		text        string
		first, last int
		ok          bool
	}{{"", 0, -1, true}, {"3", 3, 3, true}, {"2-9", 2, 9, true}, {"9-2", 0, 0, false}, {"-4", 0, 0, false}, {"a-b", 0, 0, false}} {
		a, b, err := ParseFrames(c.text)
		if (err == nil) != c.ok || err == nil && (a != c.first || b != c.last) {
			t.Errorf("%q: %d %d %v", c.text, a, b, err)
		}
	}
	for text, ok := range map[string]bool{"": true, "10x20": true, "0x5": false, "axb": false, "10": false, "99999x1": false} {
		if _, _, err := ParseSize(text); (err == nil) != ok {
			t.Errorf("%q: %v", text, err)
		}
	}
}

// What a step adds, four times over and on mid grey, is the difference of the two pictures; a step that
// is off adds nothing.
func TestAdds(t *testing.T) {
	s, shot, _ := small(t, 1)
	if _, err := s.Edit(shot.ID, look.Edit{Op: "set", Station: "balance", Kind: "exposure", Setting: "stops", Value: 0.2}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	view := View{Shot: shot.ID, W: 96, H: 54}
	with, err := s.Picture(ctx, view)
	if err != nil {
		t.Fatal(err)
	}
	view.Side = must(ParseSide("balance.exposure"))
	without, err := s.Picture(ctx, view)
	if err != nil {
		t.Fatal(err)
	}
	view.Side, view.Show, view.Step = Side{}, ShowAdds, must(look.ParseStepPath("balance.exposure"))
	got, err := s.Picture(ctx, view)
	if err != nil {
		t.Fatal(err)
	}
	d, _ := colour.FindDisplay("bt1886")
	light := func(b byte) float64 { return d.Decode(float64(b) / 255) }
	moved := false
	for i := range got.RGBA {
		if i%4 == 3 {
			continue
		}
		want := min(max(0.18+4*(light(with.RGBA[i])-light(without.RGBA[i])), 0), 1)
		moved = moved || want > 0.2
		if e := math.Abs(light(got.RGBA[i]) - want); e > 0.04 { // both pictures were rounded to 8 bits
			t.Fatalf("sample %d: light %.3f, want %.3f", i, light(got.RGBA[i]), want)
		}
	}
	if !moved {
		t.Error("nothing was added")
	}
	view.Step = must(look.ParseStepPath("negative.grain"))
	if got, err = s.Picture(ctx, view); err != nil {
		t.Fatal(err)
	}
	for i, b := range got.RGBA {
		if i%4 != 3 && b != got.RGBA[0] {
			t.Fatal("a step that is off adds something")
		}
	}
	view.Step = look.StepPath{Station: look.Negative, Name: "sparkle"}
	if _, err := s.Picture(ctx, view); err == nil {
		t.Error("a step that is not there was shown")
	}
}

// A delivery is compensated as the screen is: what was found of the shot is found for it too, though its frames are read one by
// one.
func TestDeliveriesAreCompensatedAsTheScreenIs(t *testing.T) {
	s, shot, _ := small(t, 4)
	edit(t, s, shot.ID, look.Edit{Op: "declare", Value: "srgb"})
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Balance, Kind: "contrast", Setting: "amount", Value: 200.0})
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Lens, Kind: "diffusion", Values: map[string]any{"family": "fog", "grade": 2.0}})
	screen := show(t, s, View{Shot: shot.ID, Frame: 1})
	d, err := s.Deliver(shot.ID, "still-tiff", 1, false)
	if err != nil {
		t.Fatal(err)
	}
	got := waitFor(t, s, d.ID, "done", "failed")
	r, err := media.Open(ctx, got.Path)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	f, err := r.Frame(ctx, 0)
	if err != nil {
		t.Fatal(err)
	}
	edit(t, s, shot.ID, look.Edit{Op: "set", Station: look.Lens, Kind: "diffusion", Setting: "compensate", Value: 0.0})
	without := show(t, s, View{Shot: shot.ID, Frame: 1})
	if c := same(screen.Frame, without.Frame); c < 0.01 {
		t.Fatalf("compensation changes codes by %.4f: there is nothing to see", c)
	}
	if c := same(screen.Frame, f); c > 0.002 {
		t.Errorf("the delivery is off the screen by %.4f", c)
	}
}
