package studio

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/look"
	"velours/demo"
	"velours/library"
)

// folderWith opens a studio in a folder of its own, with the workbench in a reel.
func folderWith(t *testing.T) (s *Studio, reel, shot uint) {
	t.Helper()
	dir := t.TempDir()
	if err := demo.Unpack(filepath.Join(dir, "media")); err != nil {
		t.Fatal(err)
	}
	s = must(Open(filepath.Join(dir, "data")))
	t.Cleanup(func() { s.Close() })
	reel = must(s.AddReel("A reel")).ID
	shot = must(s.AddShot(ctx, reel, filepath.Join(dir, "media", "workbench.mov"))).ID
	must(s.Declare([]uint{shot}, "logc3", library.Author{}))
	return s, reel, shot
}

// A look with a table, a picture of a matte and an earlier card goes out in a file, and comes into another data folder: the same bits.
func TestLooksTravelInAFile(t *testing.T) {
	s, _, shot := folderWith(t)
	cube := "TITLE \"Half warm\"\nLUT_3D_SIZE 2\n"
	for b := range 2 {
		for g := range 2 {
			for r := range 2 {
				cube += fmt.Sprintf("%g %g %g\n", float64(r), 0.9*float64(g), 0.8*float64(b))
			}
		}
	}
	table := must(s.AddTable("warm.cube", "", strings.NewReader(cube)))
	pin := must(s.AddPin(ctx, shot, 0))
	set(t, s, shot, look.OfShot, "balance.exposure.stops=0.4", "balance.contrast.amount=108")
	for _, st := range []look.Station{look.Negative, look.Print} {
		if _, err := s.Edit(shot, look.Edit{Op: look.OpOwn, Station: st}, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	set(t, s, shot, look.OfShot, "negative.stock.id=serein-500t", "negative.grain.amount=80", "print.table.id="+table.Key)
	matte := &look.Matte{Parts: []*look.MattePart{{Kind: "picture", Settings: map[string]any{"id": pictureID(pin)}}}}
	for _, e := range []look.Edit{{Op: look.OpCover, Name: "bright", Matte: matte}, {Op: look.OpMask, Station: look.Balance, Kind: "contrast", Name: "bright"}} {
		if _, err := s.Edit(shot, e, library.Author{}); err != nil {
			t.Fatal(err)
		}
	}
	a := must(s.KeepLook(ctx, KeepLook{Shot: shot, Name: "Warm bench", Mood: "warm", Note: "for wood"}))
	b := must(s.KeepLook(ctx, KeepLook{Shot: shot, Name: "Its film", Carry: look.Carry{Parts: []look.Part{look.PartFilm, look.PartPrint}}}))
	data := must(s.WriteLooks([]uint{a.ID, b.ID}))
	v := View{Shot: shot, W: 320, H: 180}
	want := pixels(t, s, v)

	o, reel2, shot2 := folderWith(t)
	if _, err := o.ReadLooks("bench.looks.json", []byte(strings.Replace(string(data), `"name": "Its film"`, `"name": ""`, 1)), reel2); err == nil || !strings.Contains(err.Error(), "look 2") {
		t.Errorf("a look without a name: %v", err)
	}
	if list := must(o.AllAssets()); len(list) != 0 {
		t.Errorf("what was refused has left %d things", len(list))
	}
	got := must(o.ReadLooks("bench.looks.json", data, reel2))
	if len(got) != 2 || got[0].Name != "Warm bench" {
		t.Fatalf("%d looks came in", len(got))
	}
	if _, err := o.TakeLook(shot2, look.OfShot, got[0].Key, 1, library.Author{}); err != nil {
		t.Fatal(err)
	}
	v.Shot = shot2
	if !bytes.Equal(pixels(t, o, v), want) {
		t.Error("in the other folder it is another picture")
	}
	if m := must(parse(must(o.Shot(shot2)).Look)).MarksOf(); len(m) != 2 {
		t.Errorf("to be looked at again: %v", m)
	}
	// its film alone leaves the balance; again is no second copy; a strength of none changes nothing of the picture
	if _, err := o.Undo(shot2, library.Author{}); err != nil {
		t.Fatal(err)
	}
	plain := pixels(t, o, v)
	if _, err := o.TakeLook(shot2, look.OfShot, got[1].Key, 0, library.Author{}); err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(pixels(t, o, v), plain) {
		t.Error("at no strength it changes the picture")
	}
	if l := must(parse(must(o.Shot(shot2)).Look)); l.Step(look.Balance, "exposure") != nil || l.Step(look.Negative, "stock") == nil {
		t.Error("its film alone brings more, or less")
	}
	must(o.ReadLooks("bench.looks.json", data, reel2))
	if list := must(o.AllAssets()); len(list) != 3 {
		t.Errorf("read twice there are %d things", len(list))
	}
}

// Files that do not hold are refused whole, with what is wrong and where; looks of an older format open.
func TestHostileLookFiles(t *testing.T) {
	s, reel, shot := folderWith(t)
	set(t, s, shot, look.OfShot, "balance.exposure.stops=0.4")
	a := must(s.KeepLook(ctx, KeepLook{Shot: shot, Name: "Plain"}))
	good := string(must(s.WriteLooks([]uint{a.ID})))
	for what, c := range map[string][2]string{
		"half a file":           {good[:len(good)/2], "no file of looks"},
		"a field of nobody":     {strings.Replace(good, `"looks":`, `"wild": 1, "looks":`, 1), "wild"},
		"a newer format":        {strings.Replace(good, `"velours-looks": 1`, `"velours-looks": 9`, 1), "format 9"},
		"no looks":              {`{"velours-looks":1,"looks":[]}`, "0 looks"},
		"a setting of nobody":   {strings.Replace(good, `"stops"`, `"steps"`, 1), "look 1"},
		"a value out of range":  {strings.Replace(good, `0.4`, `4000`, 1), "stops"},
		"a kind of need":        {strings.Replace(good, `"looks":`, `"needs":[{"kind":"reel","key":"x","name":"n","file":"f","data":""}],"looks":`, 1), "need 1"},
		"a need by a false key": {strings.Replace(good, `"looks":`, `"needs":[{"kind":"table","key":"x","name":"n","file":"a.cube","data":"TFVUXzFEX1NJWkUgMgowIDAgMAoxIDEgMQo="}],"looks":`, 1), "need 1"},
		"a picture elsewhere":   {strings.Replace(good, `"looks":`, `"pictures":[{"id":"pin-../../x","name":"n","display":"srgb","white":100,"peak":100,"width":1,"height":1,"ext":".png","data":""}],"looks":`, 1), "picture 1"},
		"a card of nothing":     {strings.Replace(good, `"looks":`, `"cards":[{"kind":"stock","key":"x","data":{}}],"looks":`, 1), "card 1"},
	} {
		before := len(must(s.AllAssets()))
		if _, err := s.ReadLooks("x.looks.json", []byte(c[0]), reel); err == nil || !strings.Contains(err.Error(), c[1]) || !strings.Contains(err.Error(), "x.looks.json") {
			t.Errorf("%s: %v", what, err)
		}
		if now := len(must(s.AllAssets())); now != before {
			t.Errorf("%s has left something", what)
		}
	}
	old := `{"velours-looks":1,"looks":[{"name":"Old","look":{"velours":1,"name":"x","stations":{"intake":{"on":true,"strength":1,"steps":[{"kind":"encoding","on":true,"strength":1,"settings":{"id":"logc3"}}]},"balance":{"on":true,"strength":1,"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{"stops":0.5}}]}}}}]}`
	got := must(s.ReadLooks("old.looks.json", []byte(old), reel))
	_, l, err := savedLook(got[0])
	if err != nil || l.ProcessOf(look.Negative) != 1 || l.Step(look.Balance, "exposure") == nil {
		t.Errorf("a look of an older format: %+v, %v", l, err)
	}
	if err := s.DescribeLook(got[0].ID, "Old one", "grey", ""); err != nil {
		t.Fatal(err)
	}
	list := must(s.Looks())
	found := false
	for _, r := range list {
		found = found || r.Kept == got[0].ID && r.Label == "Old one" && r.Mood == "grey"
	}
	if !found {
		t.Errorf("it is not listed as it is called: %+v", list)
	}
}

// The summary of a shot is text, a page that is whole in itself, and data.
func TestSummaryOfAShot(t *testing.T) {
	s, _, shot := folderWith(t)
	set(t, s, shot, look.OfReel, "negative.stock.id=serein-500t", "print.medium.id=rideau")
	set(t, s, shot, look.OfShot, "balance.exposure.stops=0.4")
	sum := must(s.Summary(ctx, shot, 2))
	text := sum.Text()
	for _, want := range []string{"workbench", "LogC3", "A reel", "Exposure: +0.4 stops", "Serein 500T", "Rideau"} {
		if !strings.Contains(text, want) {
			t.Errorf("the text lacks %q:\n%s", want, text)
		}
	}
	page := string(must(sum.HTML()))
	for _, want := range []string{"<svg", "data:image/png;base64,", "0.4 stops", "Serein 500T"} {
		if !strings.Contains(page, want) {
			t.Errorf("the page lacks %q", want)
		}
	}
	if strings.Contains(page, "http://") && !strings.Contains(page, "http://www.w3.org") || strings.Contains(page, "<script") {
		t.Error("the page fetches something")
	}
	if _, err := json.Marshal(sum.Told); err != nil {
		t.Error(err)
	}
	if _, err := s.Summary(ctx, shot, 999); err == nil {
		t.Error("a frame that is not there was summed up")
	}
	if dir := os.Getenv("VELOURS_KEEP"); dir != "" {
		if err := os.WriteFile(filepath.Join(dir, "summary.html"), []byte(page), 0o644); err != nil {
			t.Fatal(err)
		}
	}
}
