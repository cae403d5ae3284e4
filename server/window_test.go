package server

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket"
)

// dial opens a window's socket.
func dial(t *testing.T, url string) (context.Context, *websocket.Conn) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), 2*time.Minute)
	t.Cleanup(cancel)
	c := dialUntil(t, ctx, url)
	t.Cleanup(func() { c.CloseNow() })
	return ctx, c
}

// dialUntil opens a window's socket that lasts as long as ctx.
func dialUntil(t *testing.T, ctx context.Context, url string) *websocket.Conn {
	t.Helper()
	c, _, err := websocket.Dial(ctx, "ws"+strings.TrimPrefix(url, "http")+"/api/v1/window", nil)
	if err != nil {
		t.Fatal(err)
	}
	c.SetReadLimit(64 << 20)
	return c
}

func ask(t *testing.T, ctx context.Context, c *websocket.Conn, text string) {
	t.Helper()
	if err := c.Write(ctx, websocket.MessageText, []byte(text)); err != nil {
		t.Fatal(err)
	}
}

// collect reads replies until one of a channel and stage has come.
func collect(t *testing.T, ctx context.Context, c *websocket.Conn, channel, stage string) (all []told, last told, pixels []byte) {
	t.Helper()
	for {
		r, px := next(t, ctx, c)
		all = append(all, r)
		if r.Problem != "" || r.Channel == channel && r.Stage == stage {
			return all, r, px
		}
	}
}

// collectScope reads replies until an exact scope of a channel's picture has come.
func collectScope(t *testing.T, ctx context.Context, c *websocket.Conn, channel, scope string) (all []told, last told, pixels []byte) {
	t.Helper()
	for {
		r, px := next(t, ctx, c)
		all = append(all, r)
		if r.Problem != "" || r.Type == "scope" && r.Channel == channel && r.Scope.Ask.ID == scope && r.Stage == "exact" {
			return all, r, px
		}
	}
}

// A picture brings its scopes, draft and exact; the other side's come beneath.
func TestScopesComeWithThePicture(t *testing.T) {
	srv := serve(t)
	ctx, c := dial(t, srv.URL)
	scopes := `"scopes":[{"id":"parade","width":240,"height":100},{"id":"histogram","width":100,"height":100}]`
	ask(t, ctx, c, `{"type":"picture","channel":"picture","seq":1,"view":{"shot":4,"frame":0,"width":640,"height":480},`+scopes+`}`)
	all, last, _ := collectScope(t, ctx, c, "picture", "histogram")
	var names []string
	for _, r := range all {
		name := r.Type
		if r.Scope != nil {
			name += ":" + r.Scope.Ask.ID
		}
		names = append(names, name+" "+r.Stage)
	}
	if got, want := strings.Join(names, ", "), "picture draft, scope:parade draft, scope:histogram draft, picture exact, scope:parade exact, scope:histogram exact"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
	if last.Scope == nil || last.Scope.Histogram == nil || last.W != 0 {
		t.Fatalf("the histogram is %+v", last)
	}
	total := uint32(0)
	for _, n := range last.Scope.Histogram.Count[0] {
		total += n
	}
	if total != 640*360 {
		t.Errorf("the histogram counts %d pixels", total)
	}
	ask(t, ctx, c, `{"type":"picture","channel":"other","seq":2,"exact":true,"view":{"shot":4,"frame":0,"width":640,"height":480,"side":"film"},`+scopes+`}`)
	if _, r, px := collectScope(t, ctx, c, "other", "parade"); r.Scope == nil || len(px) != 4*r.W*r.H || r.H != 100 {
		t.Errorf("the other side's parade is %+v", r)
	}
}

// Every channel answers in its own way, and a mistake is told on it.
func TestEveryChannel(t *testing.T) {
	srv := serve(t)
	ctx, c := dial(t, srv.URL)
	view := `"view":{"shot":4,"frame":0,"width":320,"height":240}`
	ask(t, ctx, c, `{"type":"probe","channel":"probe","seq":1,`+view+`,"probe":{"x":0.5,"y":0.5}}`)
	if _, r, _ := collect(t, ctx, c, "probe", ""); r.Reading == nil || r.Reading.X < 950 || r.Reading.X > 970 {
		t.Errorf("probe: %+v", r)
	}
	ask(t, ctx, c, `{"type":"no-effect","channel":"no-effect","seq":2,`+view+`}`)
	if _, r, _ := collect(t, ctx, c, "no-effect", ""); r.Reasons == nil || r.Problem != "" {
		t.Errorf("rests: %+v", r)
	}
	ask(t, ctx, c, `{"type":"play","channel":"play:0","seq":3,`+view+`}`)
	if _, r, px := collect(t, ctx, c, "play:0", "exact"); len(px) != 4*320*180 {
		t.Errorf("play: %+v, %d bytes", r, len(px))
	}
	ask(t, ctx, c, `{"type":"fill","channel":"fill","seq":4,"stretch":{"from":0,"to":1},`+view+`}`)
	if _, r, _ := collect(t, ctx, c, "fill", ""); r.Kept == nil || fmt.Sprint(*r.Kept) != "[[0 1]]" {
		t.Errorf("fill: %+v", r)
	}
	for _, bad := range []struct{ text, wrong string }{
		{`{"type":"probe","channel":"probe","seq":5,` + view + `}`, "without its pixel"},
		{`{"type":"fill","channel":"fill","seq":6,` + view + `}`, "a stretch goes"},
		{`{"type":"pin","channel":"pin:9","seq":7,"pin":9}`, "pin 9"},
		{`{"type":"picture","channel":"picture","seq":8,"view":{"shot":4,"frame":0,"width":320,"height":240,"show":"sparkle"}}`, "no view"},
		{`{"type":"picture","channel":"picture","seq":9,` + view + `,"scopes":[{"id":"oracle","width":90,"height":90}]}`, "no scope"},
		{`{"channel":`, "cannot be read"},
	} {
		ask(t, ctx, c, bad.text)
		for {
			r, _ := next(t, ctx, c)
			if r.Stage == "draft" || r.Channel == "fill" && r.Problem == "" {
				continue
			}
			if !strings.Contains(r.Problem, bad.wrong) {
				t.Errorf("%s: %+v", bad.text, r)
			}
			break
		}
	}
}

// A stop ends what is under way, by the beginning of its name, and nothing is left running when the window
// has gone.
func TestStopEndsAStrip(t *testing.T) {
	srv := serve(t)
	ctx, c := dial(t, srv.URL)
	ask(t, ctx, c, `{"type":"picture","channel":"picture","seq":70,"view":{"shot":1,"frame":0,"width":160,"height":90}}`)
	collect(t, ctx, c, "picture", "exact") // the decoder is warm from here on
	before := runtime.NumGoroutine()
	for i := range 12 {
		ask(t, ctx, c, fmt.Sprintf(`{"type":"picture","channel":"try:%d","seq":%d,"exact":true,"inTurn":true,"view":{"shot":1,"frame":0,"width":1600,"height":900,"look":{"velours":1,"name":"","stations":{"balance":{"on":true,"strength":1,"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{"stops":%g}}]}}}}}`, i, i+1, float64(i)/8))
	}
	collect(t, ctx, c, "try:0", "exact")
	ask(t, ctx, c, `{"type":"stop","channel":"try","seq":90}`)
	ask(t, ctx, c, `{"type":"no-effect","channel":"no-effect","seq":91,"view":{"shot":4,"frame":0,"width":320,"height":240}}`)
	all, _, _ := collect(t, ctx, c, "no-effect", "")
	if len(all) > 4 {
		t.Errorf("%d more pictures came after the stop", len(all)-1)
	}
	c.CloseNow()
	if n := rest(before + 3); n > before+3 {
		t.Errorf("%d goroutines before the strip, %d after", before, n)
	}
}

// What is played comes in the order in which it was asked for, and so do the pictures of a strip; who is called off lets the others on.
func TestInTheOrderAskedFor(t *testing.T) {
	srv := serve(t)
	for _, kind := range []string{"play", "picture"} {
		ctx, c := dial(t, srv.URL)
		const n = 12
		for i := range n {
			ask(t, ctx, c, fmt.Sprintf(`{"type":%q,"channel":"%s:%d.","seq":%d,%s"view":{"shot":4,"frame":0,"number":%d,"width":160,"height":90,"draft":%v}}`,
				kind, kind, i, i+1, map[bool]string{true: `"inTurn":true,`}[kind == "picture"], i, kind == "picture"))
		}
		ask(t, ctx, c, fmt.Sprintf(`{"type":"stop","channel":"%s:%d.","seq":99}`, kind, n-2))
		last := 0
		for {
			r, _ := next(t, ctx, c)
			if r.Problem != "" {
				t.Fatal(r.Problem)
			}
			if r.Type != "picture" {
				continue
			}
			if r.Seq <= last {
				t.Errorf("%s: %d came after %d", kind, r.Seq, last)
			}
			if last = r.Seq; last == n {
				break
			}
		}
	}
}

// Pins go through the API from a frame to a look that is taken.
func TestPinsThroughTheAPI(t *testing.T) {
	srv := serve(t)
	do := func(method, path, body string, into any) int {
		t.Helper()
		status, data := call(t, method, srv.URL+"/api/v1"+path, body)
		if into != nil {
			if err := json.Unmarshal(data, into); err != nil {
				t.Fatalf("%s %s: %s", method, path, data)
			}
		}
		return status
	}
	var p Pin
	if s := do("POST", "/shots/4/pins", `{"frame":0}`, &p); s != 200 || p.Name != "Slate 0" || p.Width != 1920 {
		t.Fatalf("%d, %+v", s, p)
	}
	if s := do("PUT", fmt.Sprint("/pins/", p.ID), `{"name":"Chart"}`, &p); s != 200 || p.Name != "Chart" {
		t.Errorf("%d, %+v", s, p)
	}
	var shot Shot
	if s := do("POST", "/shots/1/take", fmt.Sprintf(`{"pin":%d}`, p.ID), &shot); s != 200 || shot.Undo.Label == "" {
		t.Errorf("%d, %+v", s, shot.Undo)
	}
	var looks []struct{ ID, Label string }
	if s := do("GET", "/looks", "", &looks); s != 200 || len(looks) != 5 || looks[4].Label != "Chart" {
		t.Errorf("%d, %+v", s, looks)
	}
	if s := do("DELETE", fmt.Sprint("/pins/", p.ID), "", nil); s != 204 {
		t.Errorf("%d", s)
	}
	var list Pins
	if do("GET", "/pins", "", &list); len(list.Pins) != 0 {
		t.Errorf("%+v", list)
	}
	if s := do("DELETE", fmt.Sprint("/pins/", p.ID), "", nil); s != 404 {
		t.Errorf("a pin that is gone: %d", s)
	}
}

// call makes a request and returns what came.
func call(t *testing.T, method, url, body string) (int, []byte) {
	t.Helper()
	q, err := http.NewRequestWithContext(t.Context(), method, url, strings.NewReader(body))
	if err != nil {
		t.Fatal(err)
	}
	if body != "" {
		q.Header.Set("Content-Type", "application/json")
	}
	r, err := http.DefaultClient.Do(q)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	data, err := io.ReadAll(r.Body)
	if err != nil {
		t.Fatal(err)
	}
	return r.StatusCode, data
}

// Grain is measured while the window is told how far it is; it can be stopped on the way, and begun again.
func TestGrainMeasuredInAWindow(t *testing.T) {
	srv := serve(t)
	ctx, c := dial(t, srv.URL)
	grain := func(seq, frames int) {
		ask(t, ctx, c, fmt.Sprintf(`{"type":"grain","channel":"grain:measure","seq":%d,"grain":{"shot":2,"frame":0,"frames":%d,"shown":true,"boxes":[{"x":200,"y":100,"width":600,"height":500}]}}`, seq, frames))
	}
	grain(1, 12)
	r, _ := next(t, ctx, c)
	if r.Type != "grain" || r.Done <= 0 || r.Done >= 1 || r.Measured != nil {
		t.Fatalf("on the way it tells %+v", r)
	}
	ask(t, ctx, c, `{"type":"stop","channel":"grain","seq":2}`)
	ask(t, ctx, c, `{"type":"probe","channel":"probe","seq":3,"view":{"shot":4,"frame":0,"width":320,"height":240},"probe":{"x":0.5,"y":0.5}}`)
	all, _, _ := collect(t, ctx, c, "probe", "")
	for _, r := range all {
		if r.Measured != nil || r.Problem != "" {
			t.Errorf("stopped, it tells %+v", r)
		}
	}
	grain(4, 2)
	last := 0.0
	for {
		r, _ := next(t, ctx, c)
		if r.Type != "grain" || r.Problem != "" {
			t.Fatalf("it tells %+v", r)
		}
		if r.Seq < 4 {
			continue
		}
		if r.Done < last {
			t.Errorf("it goes back from %.2f to %.2f", last, r.Done)
		}
		if last = r.Done; r.Measured != nil {
			if card := r.Measured.Card; r.Done != 1 || card == nil || card.Deviation[0][1] == 0 || !strings.HasPrefix(r.Measured.Patch, "data:image/png") {
				t.Errorf("it comes to %+v", card)
			}
			return
		}
	}
}
