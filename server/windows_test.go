package server

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/coder/websocket"

	"velours/core/frame"
	"velours/core/steps"
)

func shotNow(t *testing.T, url string, id int) Shot {
	t.Helper()
	status, data := call(t, "GET", fmt.Sprintf("%s/api/v1/shots/%d", url, id), "")
	var s Shot
	if err := json.Unmarshal(data, &s); err != nil || status != 200 {
		t.Fatalf("%d %s", status, data)
	}
	return s
}

func named(c Change) string { return c.Label + " " + c.Window }

func editBy(t *testing.T, url, window, gesture string, kind, setting string, value float64) {
	t.Helper()
	body := fmt.Sprintf(`{"op":"set","station":"balance","kind":%q,"setting":%q,"value":%g,"gesture":%q,"window":%q}`, kind, setting, value, gesture, window)
	if status, data := call(t, "POST", url+"/api/v1/shots/1/edits", body); status != 200 {
		t.Fatalf("%d %s", status, data)
	}
}

// Two windows see each other's changes as they happen, and each is told whose a change is.
func TestWindowsSeeEachOther(t *testing.T) {
	srv := serve(t)
	ctx, a := dial(t, srv.URL)
	_, b := dial(t, srv.URL)
	editBy(t, srv.URL, "left", "", "exposure", "stops", 0.9)
	for name, c := range map[string]*websocket.Conn{"the other": b, "its own": a} {
		r, _ := next(t, ctx, c)
		if r.Type != "shot" || r.Window != "left" || r.Shot == nil || r.Shot.ID != 1 || !strings.Contains(string(r.Shot.Look), `"stops":0.9`) || named(r.Shot.Undo) != "Exposure left" {
			t.Errorf("%s window is told %+v", name, r)
		}
	}
}

// A change of the reel's look is told to all windows, with the look and whose it is; so is that a reel holds something else.
func TestWindowsSeeLevels(t *testing.T) {
	srv := serve(t)
	ctx, a := dial(t, srv.URL)
	_, b := dial(t, srv.URL)
	body := `{"op":"set","level":"reel","station":"balance","kind":"exposure","setting":"stops","value":0.3,"window":"left"}`
	if status, data := call(t, "POST", srv.URL+"/api/v1/shots/1/edits", body); status != 200 {
		t.Fatalf("%d %s", status, data)
	}
	for name, c := range map[string]*websocket.Conn{"its own": a, "the other": b} {
		r, _ := next(t, ctx, c)
		if r.Type != "levels" || r.Window != "left" || r.Levels == nil || !strings.Contains(string(r.Levels.Look), `"stops":0.3`) || len(r.Levels.Scenes) == 0 {
			t.Errorf("%s window is told %+v", name, r)
		}
	}
	if status, data := call(t, "PUT", srv.URL+"/api/v1/shots", `{"shots":[1],"flag":true,"window":"left"}`); status != 204 {
		t.Fatalf("%d %s", status, data)
	}
	if r, _ := next(t, ctx, b); r.Type != "reels" {
		t.Errorf("the other window is told %+v", r)
	}
}

// Two who drag at once make two steps, each whole; undo of one leaves the other's.
func TestTwoWhoDragAtOnce(t *testing.T) {
	srv := serve(t)
	first := shotNow(t, srv.URL, 1)
	for i := 1; i <= 6; i++ {
		editBy(t, srv.URL, "left", "g-left", "exposure", "stops", float64(i)/10)
		editBy(t, srv.URL, "right", "g-right", "saturation", "all", float64(100+i))
	}
	s := shotNow(t, srv.URL, 1)
	if !strings.Contains(string(s.Look), `"stops":0.6`) || !strings.Contains(string(s.Look), `"all":106`) {
		t.Fatalf("after both: %s", s.Look)
	}
	undo := func(want string) Shot {
		t.Helper()
		status, data := call(t, "POST", srv.URL+"/api/v1/shots/1/undo", "")
		var now Standing
		err := json.Unmarshal(data, &now)
		s := now.Shot
		if err != nil || status != 200 || want != "" && !strings.Contains(string(s.Look), want) {
			t.Fatalf("%d %s", status, data)
		}
		return s
	}
	if named(s.Undo) != "Saturation right" {
		t.Errorf("undo would take back %+v", s.Undo)
	}
	one := undo(`"stops":0.6`)
	if strings.Contains(string(one.Look), `"kind":"saturation"`) || named(one.Undo) != "Exposure left" || named(one.Redo) != "Saturation right" {
		t.Errorf("after one step back: %s, %+v", one.Look, one.Undo)
	}
	if two := undo(""); string(two.Look) != string(first.Look) {
		t.Errorf("after two steps back: %s, was %s", two.Look, first.Look)
	}
}

// A look that replaces the whole one, from a window that has not seen a change, is refused with what changed; so is undo.
func TestStaleWindowsAreRefused(t *testing.T) {
	srv := serve(t)
	s := shotNow(t, srv.URL, 1)
	editBy(t, srv.URL, "left", "", "exposure", "stops", 0.9)
	whole := fmt.Sprintf(`{"op":"look","look":%s,"name":"Old","window":"right","revision":%d}`, s.Look, s.Revision)
	for path, body := range map[string]string{
		"/shots/1/edits": whole, "/shots/1/undo": fmt.Sprintf(`{"revision":%d,"window":"right"}`, s.Revision), "/shots/1/redo": fmt.Sprintf(`{"revision":%d}`, s.Revision),
	} {
		status, data := call(t, "POST", srv.URL+"/api/v1"+path, body)
		if status != 409 || !strings.Contains(string(data), "Exposure") || !strings.Contains(string(data), "Footlights") {
			t.Errorf("%s: %d %s", path, status, data)
		}
	}
	now := shotNow(t, srv.URL, 1)
	if !strings.Contains(string(now.Look), `"stops":0.9`) {
		t.Error("what came between was lost")
	}
	fresh := fmt.Sprintf(`{"op":"look","look":%s,"name":"Old","window":"right","revision":%d}`, s.Look, now.Revision)
	if status, data := call(t, "POST", srv.URL+"/api/v1/shots/1/edits", fresh); status != 200 {
		t.Errorf("from a window that has seen all: %d %s", status, data)
	}
}

// A panic in a strip of a picture, in a message and in a delivery is an error of that one; the rest goes on.
func TestFaultsStayWhereTheyHappen(t *testing.T) {
	srv := serve(t)
	ctx, c := dial(t, srv.URL)
	// a picture without samples panics in the strips that read it, and one whose loading panics in the message that asks
	steps.KnowPicture(&steps.MattePicture{ID: "hollow", Label: "Hollow", Load: func() (*frame.Frame, error) { return &frame.Frame{W: 16, H: 9, Planes: 3}, nil }})
	steps.KnowPicture(&steps.MattePicture{ID: "boom", Label: "Boom", Load: func() (*frame.Frame, error) { panic("deliberate") }})
	t.Cleanup(func() { steps.ForgetPicture("hollow"); steps.ForgetPicture("boom") })
	edits := srv.URL + "/api/v1/shots/1/edits"
	editBy(t, srv.URL, "", "", "exposure", "stops", 0.5)
	mask := func(id string) {
		t.Helper()
		for _, body := range []string{
			fmt.Sprintf(`{"op":"cover","name":"m","matte":{"parts":[{"kind":"picture","settings":{"id":%q}}]}}`, id),
			`{"op":"matte","station":"balance","kind":"exposure","name":"m"}`,
		} {
			if status, data := call(t, "POST", edits, body); status != 200 {
				t.Fatalf("%d %s", status, data)
			}
		}
	}
	answer := func(text, channel string) told {
		t.Helper()
		ask(t, ctx, c, text)
		for {
			if r, _ := next(t, ctx, c); r.Channel == channel && (r.Problem != "" || r.Stage == "exact") {
				return r
			}
		}
	}
	picture := `{"type":"picture","channel":"picture","seq":%d,"view":{"shot":1,"frame":0,"width":320,"height":180}}`
	mask("hollow")
	if r := answer(fmt.Sprintf(picture, 1), "picture"); !strings.Contains(r.Problem, "a fault in the program") {
		t.Errorf("a broken strip: %+v", r)
	}
	if status, data := call(t, "POST", srv.URL+"/api/v1/shots/1/deliveries", `{"format":"still-png","frame":0}`); status != 200 {
		t.Fatalf("%d %s", status, data)
	}
	var list []Delivery
	for list == nil || list[0].State == "running" {
		_, data := call(t, "GET", srv.URL+"/api/v1/deliveries", "")
		if err := json.Unmarshal(data, &list); err != nil || ctx.Err() != nil {
			t.Fatalf("the delivery does not end: %s", data)
		}
	}
	if d := list[0]; d.State != "failed" || !strings.Contains(d.Note, "a fault in the program") {
		t.Errorf("a broken delivery: %+v", d)
	}
	mask("boom")
	if r := answer(`{"type":"no-effect","channel":"no-effect","seq":2,"view":{"shot":1,"frame":0,"width":320,"height":180}}`, "no-effect"); !strings.Contains(r.Problem, "deliberate") || strings.Contains(r.Problem, "\n") {
		t.Errorf("a broken message: %+v", r)
	}
	// all else goes on: another shot, the same one without the matte, and another delivery
	if r := answer(strings.Replace(fmt.Sprintf(picture, 3), `"shot":1`, `"shot":2`, 1), "picture"); r.Problem != "" {
		t.Error(r.Problem)
	}
	if status, data := call(t, "POST", edits, `{"op":"uncover","name":"m"}`); status != 200 {
		t.Fatalf("%d %s", status, data)
	}
	if r := answer(fmt.Sprintf(picture, 4), "picture"); r.Problem != "" {
		t.Error(r.Problem)
	}
}
