package studio

import (
	"bytes"
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"velours/core/look"
	"velours/demo"
	"velours/library"
)

// reelOf makes a reel of n shots in four scenes: the demo's media, one after the other.
func reelOf(t *testing.T, n int) (s *Studio, reel uint, shots []uint, scenes []uint) {
	t.Helper()
	dir := t.TempDir()
	if err := demo.Unpack(filepath.Join(dir, "media")); err != nil {
		t.Fatal(err)
	}
	s = must(Open(filepath.Join(dir, "data")))
	t.Cleanup(func() { s.Close() })
	reel = must(s.AddReel("The reel")).ID
	for i := range n {
		d := demo.Shots[i%len(demo.Shots)]
		shot := must(s.AddShot(ctx, reel, filepath.Join(dir, "media", d.File)))
		shots = append(shots, shot.ID)
		must(s.Declare([]uint{shot.ID}, d.Encoding, library.Author{}))
	}
	for i, name := range []string{"Morning", "Noon", "Evening", "Night"} {
		scenes = append(scenes, must(s.AddScene(reel, name, shots[i*n/4:(i+1)*n/4], library.Author{})).ID)
	}
	return s, reel, shots, scenes
}

// set gives settings to a level of a shot.
func set(t *testing.T, s *Studio, shot uint, level look.Level, sets ...string) {
	t.Helper()
	for _, x := range sets {
		path, v, _ := strings.Cut(x, "=")
		part := strings.Split(path, ".")
		if _, err := s.EditAt(shot, level, look.Edit{Op: look.OpSet, Station: look.Station(part[0]), Kind: part[1], Setting: part[2], Value: v}, library.Author{}); err != nil {
			t.Fatalf("%s at the %s: %v", x, level, err)
		}
	}
}

func pixels(t *testing.T, s *Studio, v View) []byte {
	t.Helper()
	return must(s.Picture(ctx, v)).RGBA
}

// A reel of 24 shots in four scenes: a house look, a scene with another print, a scene balanced as a whole, two shots of their
// own. Every shot's pixels are those of the same settings written out on one level, at every raster; a change of the house
// look changes the shots that follow, and no other.
func TestAReelUnderAHouseLook(t *testing.T) {
	s, _, shots, _ := reelOf(t, 24)
	house := []string{"lens.bloom.amount=6", "negative.stock.id=serein-500t", "negative.grain.amount=60", "print.medium.id=rideau", "print.lights.red=2", "finish.contrast.amount=106"}
	set(t, s, shots[0], look.OfReel, append([]string{"balance.saturation.all=108"}, house...)...)
	if _, err := s.EditAt(shots[6], look.OfScene, look.Edit{Op: look.OpOwn, Station: look.Print}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	set(t, s, shots[6], look.OfScene, "print.medium.id=coulisse")
	set(t, s, shots[12], look.OfScene, "balance.white.temperature=5")
	for _, own := range []struct {
		shot uint
		of   look.Station
	}{{shots[20], look.Negative}, {shots[21], look.Lens}} {
		if _, err := s.Edit(own.shot, look.Edit{Op: look.OpOwn, Station: own.of}, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	set(t, s, shots[20], look.OfShot, "negative.stock.id=pampille-500t")
	set(t, s, shots[21], look.OfShot, "lens.bloom.amount=0")
	written := make([][]string, len(shots))
	for i, id := range shots {
		stops := fmt.Sprintf("balance.exposure.stops=%.2f", float64(i-12)/24)
		set(t, s, id, look.OfShot, stops)
		list := []string{stops}
		if i/6 == 2 {
			list = append(list, "balance.white.temperature=5")
		}
		list = append(list, "balance.saturation.all=108")
		for _, h := range house {
			switch {
			case i/6 == 1 && strings.HasPrefix(h, "print.medium"):
				h = "print.medium.id=coulisse"
			case i == 20 && strings.HasPrefix(h, "negative.stock"):
				h = "negative.stock.id=pampille-500t"
			case i == 21 && strings.HasPrefix(h, "lens"):
				h = "lens.bloom.amount=0"
			}
			list = append(list, h)
		}
		written[i] = list
	}
	// the same written out, in a reel that has no look
	plain := must(s.AddReel("Written out")).ID
	rasters := []View{{W: 240, H: 135, Frame: 3}, {W: 101, H: 101, Frame: 3}, {W: 300, H: 300, Frame: 3, Draft: true}}
	before := map[uint][]byte{}
	for i, id := range shots {
		shot := must(s.Shot(id))
		one := must(s.AddShot(ctx, plain, shot.Path))
		must(s.Declare([]uint{one.ID}, shot.Encoding, library.Author{}))
		for _, st := range look.Stations {
			if st.Follows() {
				if _, err := s.Edit(one.ID, look.Edit{Op: look.OpOwn, Station: st}, library.Author{}); err != nil {
					t.Fatal(err)
				}
			}
		}
		set(t, s, one.ID, look.OfShot, written[i]...)
		for _, v := range rasters {
			if shot.Frames == 1 {
				v.Frame = 0
			}
			w := v
			v.Shot, w.Shot = id, one.ID
			a := pixels(t, s, v)
			if !bytes.Equal(a, pixels(t, s, w)) {
				t.Errorf("shot %d at %d×%d is another picture than that of %v", i, v.W, v.H, written[i])
			}
			before[id] = a
		}
	}
	set(t, s, shots[0], look.OfReel, "negative.stock.rating=1")
	for i, id := range shots {
		v := rasters[len(rasters)-1]
		v.Shot = id
		if must(s.Shot(id)).Frames == 1 {
			v.Frame = 0
		}
		if changed := !bytes.Equal(before[id], pixels(t, s, v)); changed != (i != 20) {
			t.Errorf("shot %d: changed with the house look: %v", i, changed)
		}
	}
}

// Steps and stations go up and down the levels, and one undo takes each way back exactly, from whichever shot of the reel.
func TestMovingBetweenLevels(t *testing.T) {
	s, reel, shots, scenes := reelOf(t, 4)
	a, b := shots[0], shots[1]
	set(t, s, a, look.OfShot, "balance.exposure.stops=0.5", "balance.white.tint=4", "finish.saturation.all=90")
	texts := func() [3]string {
		return [3]string{must(s.Shot(a)).Look, must(s.lib.Scene(scenes[0])).Look, must(s.lib.ReelAlone(reel)).Look}
	}
	lift := func(from, to look.Level, st look.Station, kind string) {
		t.Helper()
		if _, err := s.EditAt(a, from, look.Edit{Op: look.OpLift, Station: st, Kind: kind, Value: string(to)}, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	was := texts()
	lift(look.OfShot, look.OfReel, look.Balance, "exposure")
	if l := must(parse(must(s.lib.ReelAlone(reel)).Look)); l.Step(look.Balance, "exposure") == nil || l.Step(look.Balance, "exposure").Settings["stops"] != 0.5 {
		t.Fatal("the reel has no exposure")
	}
	if l := must(parse(must(s.Shot(a)).Look)); l.Step(look.Balance, "exposure") != nil {
		t.Fatal("the shot has it still")
	}
	up := texts()
	lift(look.OfReel, look.OfScene, look.Balance, "exposure")
	// the other shot is in another scene; its chain has the reel's part of that
	for _, want := range [][3]string{up, was} {
		if _, err := s.Undo(a, library.Author{}); err != nil {
			t.Fatal(err)
		}
		if texts() != want {
			t.Fatalf("undo has left\n%v\nnot\n%v", texts(), want)
		}
	}
	for range 2 {
		if _, err := s.Redo(a, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := s.Undo(b, library.Author{}); err != nil { // reaches the reel's part of the act, and so all of it
		t.Fatal(err)
	}
	if texts() != up {
		t.Error("undo from another shot has not taken the whole act back")
	}
	// a station as a whole, and what cannot go
	for _, bad := range []look.Edit{
		{Op: look.OpLift, Station: look.Balance, Value: "reel"}, {Op: look.OpLift, Station: look.Negative, Kind: "stock", Value: "reel"},
		{Op: look.OpLift, Station: look.Intake, Kind: "reframe", Value: "reel"}, {Op: look.OpLift, Station: look.Print, Value: "reel"}, {Op: look.OpLift, Station: look.Print, Value: "shot"},
	} {
		if _, err := s.EditAt(a, look.OfShot, bad, library.Author{}); err == nil {
			t.Errorf("%+v was done", bad)
		}
	}
	if _, err := s.Edit(a, look.Edit{Op: look.OpOwn, Station: look.Negative}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	set(t, s, a, look.OfShot, "negative.stock.id=serein-500t")
	v := View{Shot: a, W: 160, H: 90}
	picture := pixels(t, s, v)
	lift(look.OfShot, look.OfReel, look.Negative, "")
	if !bytes.Equal(picture, pixels(t, s, v)) {
		t.Error("the shot's picture is another after its negative went to the reel")
	}
	if l := must(parse(must(s.Shot(a)).Look)); !l.IsFollowing(look.Negative) {
		t.Error("the shot does not follow it")
	}
}

// Two windows on two shots of one scene, and both on the scene: no edit is lost, and undo takes back whole steps.
func TestTwoWindowsOnOneScene(t *testing.T) {
	s, _, shots, scenes := reelOf(t, 8)
	var all sync.WaitGroup
	edit := func(window string, shot uint, level look.Level, path string, n int) {
		all.Go(func() {
			part := strings.Split(path, ".")
			for i := 1; i <= n; i++ {
				e := look.Edit{Op: look.OpSet, Station: look.Station(part[0]), Kind: part[1], Setting: part[2], Value: float64(i) / 100}
				if _, err := s.EditAt(shot, level, e, library.Author{Window: window, Gesture: window + path + string(level)}); err != nil {
					t.Error(err)
				}
			}
		})
	}
	before := must(s.lib.Scene(scenes[0])).Look
	edit("left", shots[0], look.OfShot, "balance.exposure.stops", 20)
	edit("left", shots[0], look.OfScene, "balance.exposure.stops", 21)
	edit("right", shots[1], look.OfShot, "balance.exposure.stops", 22)
	edit("right", shots[1], look.OfScene, "balance.white.tint", 23)
	edit("right", shots[1], look.OfReel, "finish.exposure.stops", 0)
	all.Wait()
	stops := func(doc, kind, setting string) any {
		p := must(parse(doc)).Step(look.Balance, kind)
		if p == nil {
			return nil
		}
		return p.Settings[setting]
	}
	scene := must(s.lib.Scene(scenes[0]))
	for _, c := range []struct {
		what      string
		got, want any
	}{
		{"the first shot", stops(must(s.Shot(shots[0])).Look, "exposure", "stops"), 0.2}, {"the second", stops(must(s.Shot(shots[1])).Look, "exposure", "stops"), 0.22},
		{"the scene's exposure", stops(scene.Look, "exposure", "stops"), 0.21}, {"the scene's tint", stops(scene.Look, "white", "tint"), 0.23},
	} {
		if c.got != c.want {
			t.Errorf("%s is %v, want %v", c.what, c.got, c.want)
		}
	}
	// from the first shot: its own and the scene's two, each one step
	for range 3 {
		if _, err := s.Undo(shots[0], library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	if now := must(s.lib.Scene(scenes[0])).Look; now != before {
		t.Errorf("three steps back the scene is %s", now)
	}
	if stops(must(s.Shot(shots[1])).Look, "exposure", "stops") != 0.22 {
		t.Error("the other shot's own edit is gone")
	}
}

// Settings taken over to shots of other encodings: what belongs to a shot stays, one undo takes all of it back, and a station that
// follows goes on following where that is the same look.
func TestCarryingOver(t *testing.T) {
	s, _, shots, _ := reelOf(t, 8)
	a := shots[0]
	set(t, s, a, look.OfReel, "negative.stock.id=serein-500t", "print.medium.id=rideau")
	set(t, s, a, look.OfShot, "intake.reframe.scale=120", "balance.exposure.stops=0.75", "balance.contrast.amount=110")
	if _, err := s.EditAt(a, look.OfScene, look.Edit{Op: look.OpOwn, Station: look.Lens}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	set(t, s, a, look.OfScene, "lens.bloom.amount=9")
	if _, err := s.SetSpan(a, 3, 20, library.Author{}); err != nil {
		t.Fatal(err)
	}
	to := shots[1:]
	before := map[uint]*library.Shot{}
	for _, id := range to {
		before[id] = must(s.Shot(id))
	}
	ask := CarryAsk{From: CarrySource{Shot: a}, To: append([]uint{a}, to...), Carry: look.Carry{Parts: []look.Part{look.PartBalance, look.PartLens, look.PartFilm, look.PartPrint, look.PartFinish, look.PartMattes}}}
	got := must(s.Carry(ask, library.Author{}))
	if len(got) != len(to) {
		t.Fatalf("%d shots were given it", len(got))
	}
	for i, shot := range got {
		was := before[shot.ID]
		l := must(parse(shot.Look))
		if shot.Encoding != was.Encoding || shot.In != was.In || shot.Out != was.Out {
			t.Errorf("shot %d: encoding, in or out have gone along", i)
		}
		if l.Step(look.Intake, "reframe") != nil || (l.Step(look.Intake, "compress") != nil) != (must(parse(was.Look)).Step(look.Intake, "compress") != nil) {
			t.Errorf("shot %d: what belongs to the picture has gone along", i)
		}
		if p := l.Step(look.Balance, "exposure"); p == nil || p.Settings["stops"] != 0.75 || len(p.Again) != 1 || !Marked(shot) {
			t.Errorf("shot %d: its exposure is %+v", i, p)
		}
		if !l.IsFollowing(look.Negative) || !l.IsFollowing(look.Print) {
			t.Errorf("shot %d does not follow the reel's film", i)
		}
		if same := i == 0; l.IsFollowing(look.Lens) != same { // shots[1] is in the same scene
			t.Errorf("shot %d: its lens follows: %v", i, !same)
		}
	}
	if _, err := s.Undo(to[3], library.Author{}); err != nil {
		t.Fatal(err)
	}
	for _, id := range to {
		if now := must(s.Shot(id)); now.Look != before[id].Look {
			t.Errorf("one undo has left %s", now.Look)
		}
	}
	for _, bad := range []CarryAsk{
		{}, {From: CarrySource{Shot: a}, To: []uint{a}, Carry: ask.Carry}, {From: CarrySource{Look: "nix"}, To: to, Carry: ask.Carry}, {From: CarrySource{Shot: a}, To: to}, {From: CarrySource{Pin: 99}, To: to, Carry: ask.Carry},
	} {
		if _, err := s.Carry(bad, library.Author{}); err == nil {
			t.Errorf("%+v was done", bad)
		}
	}
	// from another reel: as a look that stands for itself
	other := must(s.AddReel("Other")).ID
	one := must(s.AddShot(ctx, other, must(s.Shot(a)).Path))
	far := must(s.Carry(CarryAsk{From: CarrySource{Shot: a}, To: []uint{one.ID}, Carry: ask.Carry}, library.Author{}))
	l := must(parse(far[0].Look))
	if l.IsFollowing(look.Negative) || l.Step(look.Negative, "stock").Settings["id"] != "serein-500t" || l.Step(look.Lens, "bloom").Settings["amount"] != 9.0 {
		t.Errorf("in another reel it is %s", far[0].Look)
	}
}

// A scene that is dissolved acts on its shots no longer; undone, it does again.
func TestADissolvedSceneActsNoMore(t *testing.T) {
	s, _, shots, scenes := reelOf(t, 4)
	a := shots[0]
	set(t, s, a, look.OfReel, "print.medium.id=rideau")
	v := View{Shot: a, W: 120, H: 68, Draft: true}
	plain := pixels(t, s, v)
	set(t, s, a, look.OfScene, "balance.exposure.stops=1")
	brighter := pixels(t, s, v)
	if bytes.Equal(plain, brighter) {
		t.Fatal("the scene does nothing")
	}
	gone := true
	if err := s.ChangeScene(scenes[0], Change{Removed: &gone}, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(pixels(t, s, v), plain) {
		t.Error("the scene that is gone acts still")
	}
	if _, err := s.EditAt(a, look.OfScene, look.Edit{Op: look.OpSet, Station: look.Balance, Kind: "exposure", Setting: "stops", Value: 2.0}, library.Author{}); err == nil {
		t.Error("a scene that is gone was changed")
	}
	if _, err := s.Undo(a, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(pixels(t, s, v), brighter) {
		t.Error("brought back it does not act")
	}
}

// A step that is set in a station that follows makes it the level's own, as it is above, and then sets it.
func TestSettingWhatFollowsMakesItOwn(t *testing.T) {
	s, _, shots, _ := reelOf(t, 4)
	set(t, s, shots[0], look.OfReel, "negative.stock.id=serein-500t", "negative.grain.amount=70")
	set(t, s, shots[0], look.OfShot, "negative.grain.amount=40")
	l := must(parse(must(s.Shot(shots[0])).Look))
	if l.IsFollowing(look.Negative) || l.Step(look.Negative, "stock").Settings["id"] != "serein-500t" || l.Step(look.Negative, "grain").Settings["amount"] != 40.0 {
		t.Errorf("it is %s", must(s.Shot(shots[0])).Look)
	}
	if !must(parse(must(s.Shot(shots[1])).Look)).IsFollowing(look.Negative) {
		t.Error("another shot has left too")
	}
}
