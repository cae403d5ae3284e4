package server

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket"

	"velours/studio"
)

func serve(t *testing.T) *httptest.Server {
	t.Helper()
	return serveAt(t, t.TempDir())
}

func serveAt(t *testing.T, dir string) *httptest.Server {
	t.Helper()
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("ffmpeg is not installed")
		}
		t.Skip("ffmpeg is not installed; make test installs it")
	}
	st, err := studio.Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := st.LoadDemoApart(context.Background()); err != nil {
		t.Fatal(err)
	}
	srv := httptest.NewServer(New(st, Access{}))
	t.Cleanup(func() {
		srv.CloseClientConnections()
		srv.Close()
		st.Close()
	})
	return srv
}

func TestOtherSitesAreRefused(t *testing.T) {
	srv := serve(t)
	for origin, want := range map[string]int{"": 200, srv.URL: 200, "http://elsewhere.example": 403, "null": 403} {
		q, err := http.NewRequest("GET", srv.URL+"/api/v1/reels", nil)
		if err != nil {
			t.Fatal(err)
		}
		if origin != "" {
			q.Header.Set("Origin", origin)
		}
		r, err := http.DefaultClient.Do(q)
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		if r.StatusCode != want {
			t.Errorf("origin %q: %d, want %d", origin, r.StatusCode, want)
		}
	}
}

// next reads one message of the socket.
func next(t *testing.T, ctx context.Context, c *websocket.Conn) (told, []byte) {
	t.Helper()
	_, data, err := c.Read(ctx)
	if err != nil {
		t.Fatal(err)
	}
	n := binary.LittleEndian.Uint32(data)
	var r told
	if err := json.Unmarshal(data[4:4+n], &r); err != nil {
		t.Fatal(err)
	}
	if (4+n)%4 != 0 {
		t.Errorf("pixels start at byte %d, not on a step of four", 4+n)
	}
	return r, data[4+n:]
}

func TestDraftThenExactAndTheNewestWins(t *testing.T) {
	srv := serve(t)
	ctx, cancel := context.WithTimeout(context.Background(), 60*time.Second)
	defer cancel()
	c, _, err := websocket.Dial(ctx, "ws"+strings.TrimPrefix(srv.URL, "http")+"/api/v1/window", nil)
	if err != nil {
		t.Fatal(err)
	}
	defer c.CloseNow()
	c.SetReadLimit(64 << 20)
	ask := func(seq int, text string) {
		if err := c.Write(ctx, websocket.MessageText, []byte(fmt.Sprintf(`{"type":"picture","channel":"picture","seq":%d,"view":%s}`, seq, text))); err != nil {
			t.Fatal(err)
		}
	}
	ask(1, `{"shot":4,"frame":0,"width":800,"height":600}`)
	draft, small := next(t, ctx, c)
	exact, full := next(t, ctx, c)
	if draft.Stage != "draft" || exact.Stage != "exact" || draft.W >= exact.W || exact.W != 800 || exact.H != 450 || exact.SourceW != 1920 {
		t.Errorf("draft %+v, exact %+v", draft, exact)
	}
	t.Logf("draft after %.0f ms, exact after %.0f ms, tables made on the way", draft.MS, exact.MS)
	if len(small) != 4*draft.W*draft.H || len(full) != 4*exact.W*exact.H {
		t.Errorf("%d and %d bytes of pixels", len(small), len(full))
	}
	for i := 2; i <= 9; i++ {
		ask(i, fmt.Sprintf(`{"shot":4,"frame":0,"width":1900,"height":1900,"look":{"velours":1,"name":"","stations":{"balance":{"on":true,"strength":1,"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{"stops":%g}}]}}}}`, float64(i)/4))
	}
	exacts := 0
	for {
		r, _ := next(t, ctx, c)
		if r.Stage == "exact" {
			exacts++
		}
		if r.Seq == 9 && r.Stage == "exact" {
			break
		}
	}
	if exacts > 4 {
		t.Errorf("%d exact pictures of eight requests: older ones were not cancelled", exacts)
	}
	ask(10, `{"shot":4,"frame":0,"width":80,"height":60,"look":{"velours":1,"stations":{"cellar":{"on":true,"strength":1,"steps":[]}}}}`)
	if r, _ := next(t, ctx, c); !strings.Contains(r.Problem, "cellar") {
		t.Errorf("a bad look gets %+v", r)
	}
	ask(11, `{"shot":99,"frame":0,"width":80,"height":60}`)
	if r, _ := next(t, ctx, c); r.Problem == "" {
		t.Errorf("a missing shot gets %+v", r)
	}
}

func TestDescriptionIsWhole(t *testing.T) {
	data, err := json.Marshal(Describe())
	if err != nil {
		t.Fatal(err)
	}
	var d struct {
		Paths  map[string]map[string]any
		Window map[string]struct {
			Summary string
			Request map[string]any
		} `json:"x-window-requests"`
		Components struct{ Schemas map[string]any }
	}
	if err := json.Unmarshal(data, &d); err != nil {
		t.Fatal(err)
	}
	for _, part := range strings.Split(string(data), `"$ref":"#/components/schemas/`)[1:] {
		name, _, _ := strings.Cut(part, `"`)
		if d.Components.Schemas[name] == nil {
			t.Errorf("no schema for %s", name)
		}
	}
	for _, r := range requests {
		if q := d.Window[r.name]; q.Summary == "" || q.Request == nil {
			t.Errorf("the request %s is not described", r.name)
		}
	}
	for _, r := range routes {
		p := strings.ReplaceAll(r.path, ":id", "{id}")
		if d.Paths[p][strings.ToLower(r.method)] == nil {
			t.Errorf("%s %s is not described", r.method, p)
		}
	}
}

func TestFrontEndTypesAreCurrent(t *testing.T) {
	data, err := os.ReadFile("../web/src/api/types.gen.ts")
	if err != nil {
		t.Fatal(err)
	}
	if string(data) != TypeScript() {
		t.Error("web/src/api/types.gen.ts is not what the Go types say: run make generate")
	}
}

func TestTheFrontEndIsServed(t *testing.T) {
	srv := serve(t)
	for _, p := range []string{"/", "/some/page"} {
		r, err := http.Get(srv.URL + p)
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		if r.StatusCode != 200 || !strings.HasPrefix(r.Header.Get("Content-Type"), "text/html") {
			t.Errorf("%s: %d %s", p, r.StatusCode, r.Header.Get("Content-Type"))
		}
	}
}
