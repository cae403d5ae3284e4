package server

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
)

// Reels, scenes and shots through the API: made, named, ordered, undone; what is wrong is refused with a word on it.
func TestReelsByTheAPI(t *testing.T) {
	srv := serve(t)
	api := srv.URL + "/api/v1"
	var page ReelPage
	httpCall(t, "GET", api+"/reels", nil, 200, &page)
	if len(page.Reels) != 2 || page.Undo.ID != 0 {
		t.Fatalf("%+v", page)
	}
	demo := page.Reels[0]
	if !demo.Demo {
		demo = page.Reels[1]
	}
	if demo.Count != 4 || demo.Cover == 0 {
		t.Errorf("the demo reel is %+v", demo)
	}
	var made, copied ReelHead
	httpCall(t, "POST", api+"/reels", json.RawMessage(`{"name":" Night "}`), 200, &made)
	httpCall(t, "POST", fmt.Sprintf("%s/reels/%d/copy", api, demo.ID), nil, 200, &copied)
	if made.Name != "Night" || copied.Name != demo.Name+" (copy)" {
		t.Errorf("made %q, copied %q", made.Name, copied.Name)
	}
	var reel, twin Reel
	httpCall(t, "GET", fmt.Sprintf("%s/reels/%d", api, demo.ID), nil, 200, &reel)
	httpCall(t, "GET", fmt.Sprintf("%s/reels/%d", api, copied.ID), nil, 200, &twin)
	if len(twin.Shots) != 4 || twin.Shots[0].ID == reel.Shots[0].ID || len(twin.Scenes) != len(reel.Scenes) || twin.Undo.ID != 0 {
		t.Errorf("the copy is %+v", twin)
	}
	a, b := reel.Shots[0].ID, reel.Shots[2].ID
	httpCall(t, "POST", fmt.Sprintf("%s/reels/%d/scenes", api, demo.ID), json.RawMessage(fmt.Sprintf(`{"name":"Both","shots":[%d,%d]}`, a, b)), 200, &reel)
	last := reel.Scenes[len(reel.Scenes)-1]
	if last.Name != "Both" || reel.Shots[2].ID != a || reel.Shots[2].SceneID != last.ID || reel.Undo.Label != "Scene Both" {
		t.Errorf("after grouping: %+v", reel.Shots)
	}
	httpCall(t, "POST", fmt.Sprintf("%s/reels/%d/order", api, demo.ID), json.RawMessage(fmt.Sprintf(`{"shots":[%d],"scene":%d,"before":%d}`, b, last.ID, a)), 200, &reel)
	if reel.Shots[2].ID != b || reel.Shots[3].ID != a {
		t.Errorf("after moving: %+v", reel.Shots)
	}
	httpCall(t, "PUT", api+"/shots", json.RawMessage(fmt.Sprintf(`{"shots":[%d,%d],"flag":true}`, a, b)), 204, nil)
	httpCall(t, "PUT", api+"/shots", json.RawMessage(fmt.Sprintf(`{"shots":[%d],"name":"Puppet","note":"eyes"}`, a)), 204, nil)
	var shot Shot
	httpCall(t, "GET", fmt.Sprintf("%s/shots/%d", api, a), nil, 200, &shot)
	if !shot.Flag || shot.Name != "Puppet" || shot.Note != "eyes" || shot.Undo.Of != "shot facts" {
		t.Errorf("the shot is %+v", shot.ShotCard)
	}
	var standing Standing
	for range 4 {
		httpCall(t, "POST", fmt.Sprintf("%s/shots/%d/undo", api, b), nil, 200, &standing)
	}
	httpCall(t, "GET", fmt.Sprintf("%s/reels/%d", api, demo.ID), nil, 200, &reel)
	if reel.Shots[0].ID != a || reel.Shots[0].Name != "Footlights" || reel.Shots[0].Flag || len(reel.Scenes) != len(twin.Scenes) || reel.Undo.ID != 0 {
		t.Errorf("undone it is %+v", reel)
	}
	httpCall(t, "PUT", fmt.Sprintf("%s/reels/%d", api, made.ID), json.RawMessage(`{"removed":true}`), 204, nil)
	httpCall(t, "POST", api+"/reels/undo", json.RawMessage(`{}`), 200, &page)
	if len(page.Reels) != 4 || page.Redo.Label != "Remove Night" {
		t.Errorf("undone the page is %+v", page)
	}

	t.Log("levels")
	edit := fmt.Sprintf("%s/shots/%d/edits", api, a)
	httpCall(t, "POST", edit, json.RawMessage(`{"op":"set","level":"reel","station":"balance","kind":"exposure","setting":"stops","value":0.25}`), 200, &standing)
	if standing.Levels == nil || !strings.Contains(string(standing.Levels.Look), `"stops":0.25`) || standing.Shot.Undo.Of != "reel" {
		t.Errorf("the reel's look is %+v", standing.Levels)
	}
	for what, c := range map[string]struct {
		method, path, body string
		status             int
	}{
		"a level of nobody":         {"POST", fmt.Sprintf("/shots/%d/edits", a), `{"op":"set","level":"wall","station":"balance","kind":"exposure","setting":"stops","value":0}`, 422},
		"intake of a reel":          {"POST", fmt.Sprintf("/shots/%d/edits", a), `{"op":"set","level":"reel","station":"intake","kind":"reframe","setting":"scale","value":110}`, 422},
		"an encoding of a reel":     {"POST", fmt.Sprintf("/shots/%d/edits", a), `{"op":"declare","level":"reel","value":"logc3"}`, 422},
		"a reel that follows":       {"POST", fmt.Sprintf("/shots/%d/edits", a), `{"op":"follow","level":"reel","station":"print"}`, 422},
		"a reel without a name":     {"POST", "/reels", `{"name":"  "}`, 422},
		"a reel of nobody":          {"PUT", "/reels/999", `{"name":"x"}`, 404},
		"a scene of nobody":         {"PUT", "/scenes/999", `{"name":"x"}`, 404},
		"one name for two":          {"PUT", "/shots", fmt.Sprintf(`{"shots":[%d,%d],"name":"x"}`, a, b), 422},
		"no shots":                  {"PUT", "/shots", `{"shots":[],"flag":true}`, 422},
		"a place of another reel":   {"POST", fmt.Sprintf("/reels/%d/order", made.ID), fmt.Sprintf(`{"shots":[%d],"scene":0,"before":0}`, a), 422},
		"a part of nobody":          {"POST", "/carry", fmt.Sprintf(`{"from":{"shot":%d},"to":[%d],"parts":["shoes"]}`, a, b), 422},
		"carried from nowhere":      {"POST", "/carry", fmt.Sprintf(`{"from":{},"to":[%d],"parts":["film"]}`, b), 422},
		"matched to itself":         {"POST", fmt.Sprintf("/shots/%d/match", a), fmt.Sprintf(`{"side":"shot:%d","frame":0}`, a), 422},
		"a look at twice strength":  {"POST", fmt.Sprintf("/shots/%d/look", a), `{"look":"demo:slate.json","strength":2}`, 422},
		"a look of nobody":          {"POST", fmt.Sprintf("/shots/%d/look", a), `{"look":"x","strength":1}`, 422},
		"a programme of no file":    {"POST", fmt.Sprintf("/reels/%d/programme", made.ID), `{"path":"/etc/passwd","handles":0}`, 422},
		"split where nothing is":    {"POST", fmt.Sprintf("/shots/%d/split", a), `{"at":[0]}`, 422},
		"a file of no looks":        {"GET", "/looks/file?ids=", "", 422},
		"a summary of nobody":       {"GET", "/shots/999/summary", "", 404},
		"an undo of another change": {"POST", fmt.Sprintf("/shots/%d/undo", a), `{"change":1}`, 409},
	} {
		var body any
		if c.body != "" {
			body = json.RawMessage(c.body)
		}
		if text := httpCall(t, c.method, api+c.path, body, c.status, nil); !strings.Contains(text, `"detail"`) {
			t.Errorf("%s: no word on what is wrong: %s", what, text)
		}
	}
	if text := httpCall(t, "GET", fmt.Sprintf("%s/shots/%d/summary?format=text", api, a), nil, 200, nil); !strings.Contains(text, "Exposure (of the reel)") {
		t.Errorf("the summary reads\n%s", text)
	}
	if page := httpCall(t, "GET", fmt.Sprintf("%s/shots/%d/summary?format=html", api, a), nil, 200, nil); !strings.HasPrefix(page, "<!doctype html>") {
		t.Errorf("the page begins %.40q", page)
	}
}
