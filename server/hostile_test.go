package server

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket"

	"velours/studio"
)

// hostile is a request that must not pass, and what the answer says.
type hostile struct {
	name, method, path string
	header             [2]string
	body               string
	kind               string // of the body; JSON if empty
	host               string
	status             []int
	says               string
}

// Requests that mean harm, or come from hands that slip: none passes, each has a clear answer, and the server goes on.
func TestHostileRequests(t *testing.T) {
	srv := serve(t)
	deep := strings.Repeat(`{"a":`, 5000) + "1" + strings.Repeat("}", 5000)
	edit := func(value string) string {
		return `{"op":"set","station":"balance","kind":"exposure","setting":"stops","value":` + value + `}`
	}
	const edits, fine = "/shots/1/edits", `{"op":"set","station":"balance","kind":"exposure","setting":"stops","value":0.5}`
	huge := `{"op":"title","station":"balance","kind":"exposure","name":"` + strings.Repeat("x", 2<<20) + `"}`
	steps := strings.TrimSuffix(strings.Repeat(`{"kind":"exposure","on":true,"strength":1,"settings":{}},`, 300), ",")
	points := strings.TrimSpace(strings.Repeat("0:0 ", 5000))
	list := []hostile{
		// names that lead here from elsewhere
		{name: "another host", method: "GET", path: "/reels", host: "evil.example", status: []int{421}, says: "--host"},
		{name: "another host and port", method: "GET", path: "/reels", host: "evil.example:7410", status: []int{421}, says: "--host"},
		{name: "a host that ends alike", method: "GET", path: "/reels", host: "localhost.evil.example", status: []int{421}},
		{name: "an address of the network", method: "GET", path: "/reels", host: "192.168.1.7", status: []int{421}},
		{name: "no host's name", method: "GET", path: "/reels", host: "[::ffff:8.8.8.8]", status: []int{421}},
		{name: "a rebound edit", method: "POST", path: edits, body: fine, host: "rebound.example", status: []int{421}},
		// other sites
		{name: "another origin", method: "POST", path: edits, body: fine, header: [2]string{"Origin", "http://evil.example"}, status: []int{403}},
		{name: "a null origin", method: "POST", path: edits, body: fine, header: [2]string{"Origin", "null"}, status: []int{403}},
		{name: "an origin of another port", method: "POST", path: edits, body: fine, header: [2]string{"Origin", "http://127.0.0.1:1"}, status: []int{403}},
		{name: "an origin that ends alike", method: "POST", path: edits, body: fine, header: [2]string{"Origin", "http://x" + strings.TrimPrefix(srv.URL, "http://")}, status: []int{403}},
		{name: "cross-site by the browser's word", method: "POST", path: edits, body: fine, header: [2]string{"Sec-Fetch-Site", "cross-site"}, status: []int{403}},
		{name: "same-site by the browser's word", method: "POST", path: edits, body: fine, header: [2]string{"Sec-Fetch-Site", "same-site"}, status: []int{403}},
		{name: "reading cross-site", method: "GET", path: "/reels", header: [2]string{"Sec-Fetch-Site", "cross-site"}, status: []int{403}},
		{name: "deleting cross-site", method: "DELETE", path: "/shots/1", header: [2]string{"Sec-Fetch-Site", "cross-site"}, status: []int{403}},
		// bodies that are no JSON
		{name: "a plain form", method: "POST", path: edits, body: fine, kind: "text/plain", status: []int{415}, says: "application/json"},
		{name: "a form", method: "POST", path: edits, body: "op=set", kind: "application/x-www-form-urlencoded", status: []int{415}},
		{name: "a form of parts", method: "POST", path: edits, body: "--x\r\n\r\n", kind: "multipart/form-data; boundary=x", status: []int{415}},
		{name: "no kind", method: "POST", path: edits, body: fine, kind: "-", status: []int{415}},
		{name: "a kind that begins alike", method: "POST", path: edits, body: fine, kind: "application/jsonp", status: []int{415}},
		{name: "a plain declaration", method: "POST", path: "/declarations", body: `{"shots":[1],"encoding":"logc3"}`, kind: "text/plain", status: []int{415}},
		{name: "a plain undo", method: "POST", path: "/shots/1/undo", body: `{}`, kind: "text/plain", status: []int{415}},
		{name: "no JSON", method: "POST", path: edits, body: "{", status: []int{422}, says: "cannot be read"},
		{name: "nothing", method: "POST", path: edits, body: "", kind: "application/json", status: []int{422}},
		{name: "two values", method: "POST", path: edits, body: fine + fine, status: []int{422}},
		{name: "deep JSON", method: "POST", path: edits, body: deep, status: []int{422}, says: "deep"},
		{name: "deep lists", method: "POST", path: edits, body: strings.Repeat("[", 100000), status: []int{422}, says: "deep"},
		{name: "a huge body", method: "POST", path: edits, body: huge, status: []int{413, 422}, says: "larger"},
		{name: "an unknown field", method: "POST", path: edits, body: `{"op":"set","root":true}`, status: []int{422}, says: "root"},
		// numbers that are none
		{name: "NaN", method: "POST", path: edits, body: edit("NaN"), status: []int{422}},
		{name: "NaN as text", method: "POST", path: edits, body: edit(`"NaN"`), status: []int{422}},
		{name: "infinity as text", method: "POST", path: edits, body: edit(`"Inf"`), status: []int{422}},
		{name: "1e999", method: "POST", path: edits, body: edit("1e999"), status: []int{422}},
		{name: "3e38", method: "POST", path: edits, body: edit("3e38"), status: []int{422}, says: "-6 to 6"},
		{name: "minus 3e38", method: "POST", path: edits, body: edit("-3e38"), status: []int{422}},
		{name: "a list for a number", method: "POST", path: edits, body: edit("[1]"), status: []int{422}},
		{name: "an object for a number", method: "POST", path: edits, body: edit(`{"a":1}`), status: []int{422}},
		{name: "a strength of NaN", method: "POST", path: edits, body: `{"op":"strength","station":"balance","value":"NaN"}`, status: []int{422}},
		{name: "a strength of 9", method: "POST", path: edits, body: `{"op":"strength","station":"balance","kind":"exposure","value":9}`, status: []int{422}},
		{name: "points without end", method: "POST", path: edits, body: `{"op":"set","station":"balance","kind":"curve","setting":"all","value":"` + points + `"}`, status: []int{422}},
		{name: "points of NaN", method: "POST", path: edits, body: `{"op":"set","station":"balance","kind":"curve","setting":"all","value":"NaN:1"}`, status: []int{422}},
		{name: "steps without end", method: "POST", path: edits, body: `{"op":"paste","station":"balance","steps":[` + steps + `]}`, status: []int{422}, says: "more than"},
		{name: "a matte of nothing", method: "POST", path: edits, body: `{"op":"cover","name":"m","matte":{"parts":[null]}}`, status: []int{422}},
		{name: "a nameless matte", method: "POST", path: edits, body: `{"op":"cover","name":"","matte":{"parts":[]}}`, status: []int{422}},
		{name: "a place of 1e300", method: "POST", path: edits, body: `{"op":"move","station":"balance","kind":"exposure","value":1e300}`, status: []int{422}},
		{name: "a set of nothing", method: "POST", path: edits, body: `{"op":"set","station":"finish","kind":"overall","values":{}}`, status: []int{422}, says: "nothing to set"},
		{name: "a null step", method: "POST", path: edits, body: `{"op":"paste","station":"balance","steps":[null]}`, status: []int{422}},
		{name: "a look of null", method: "POST", path: edits, body: `{"op":"look","look":null}`, status: []int{422}},
		{name: "a look of null steps", method: "POST", path: edits, body: `{"op":"look","look":{"velours":1,"name":"","stations":{"lens":{"on":true,"strength":1,"steps":[null]},"print":null}}}`, status: []int{422}},
		{name: "a look of the future", method: "POST", path: edits, body: `{"op":"look","look":{"velours":99,"name":"","stations":{}}}`, status: []int{422}, says: "version 99"},
		// what is not there
		{name: "a shot that is not there", method: "GET", path: "/shots/99999", status: []int{404}},
		{name: "an edit of nothing", method: "POST", path: "/shots/99999/edits", body: fine, status: []int{404}},
		{name: "a shot of letters", method: "GET", path: "/shots/abc", status: []int{422}},
		{name: "a shot below zero", method: "GET", path: "/shots/-1", status: []int{422}},
		{name: "a shot beyond numbers", method: "GET", path: "/shots/99999999999999999999", status: []int{422}},
		{name: "a frame of nothing", method: "PUT", path: "/shots/99999/frame", body: `{"frame":1}`, status: []int{404}},
		{name: "a span of nothing", method: "PUT", path: "/shots/99999/span", body: `{"in":0,"out":0}`, status: []int{404}},
		{name: "a span the wrong way", method: "PUT", path: "/shots/1/span", body: `{"in":9,"out":3}`, status: []int{422}},
		{name: "a frame below zero", method: "PUT", path: "/shots/1/frame", body: `{"frame":-5}`, status: []int{422}},
		{name: "shots into no reel", method: "POST", path: "/reels/99999/shots", body: `{"paths":["/etc"]}`, status: []int{404}},
		{name: "a delivery that is not there", method: "DELETE", path: "/deliveries/99999", status: []int{404}},
		{name: "a file that is not there", method: "GET", path: "/deliveries/99999/file", status: []int{404}},
		{name: "an asset that is not there", method: "DELETE", path: "/library/99999", status: []int{404}},
		{name: "a pin that is not there", method: "PUT", path: "/pins/99999", body: `{"name":"x"}`, status: []int{404}},
		{name: "taking a pin that is not there", method: "POST", path: "/shots/1/take", body: `{"pin":99999}`, status: []int{404}},
		{name: "a frame that is not there", method: "POST", path: "/shots/1/pins", body: `{"frame":-1}`, status: []int{422}},
		{name: "a delivery of no frame", method: "POST", path: "/shots/1/deliveries", body: `{"format":"still-png","frame":1000000}`, status: []int{422}},
		{name: "a declaration of nothing", method: "POST", path: "/declarations", body: `{"shots":[99999],"encoding":"logc3"}`, status: []int{404}},
		{name: "no such way", method: "GET", path: "/../../etc/passwd", status: []int{404}},
		{name: "another method", method: "PATCH", path: "/reels", status: []int{405}},
		{name: "tracing", method: "TRACE", path: "/reels", status: []int{405, 404}},
		// paths that lead out
		{name: "a folder outside", method: "GET", path: "/media?folder=/etc", status: []int{422}, says: "outside"},
		{name: "a folder upwards", method: "GET", path: "/media?folder=../../../../etc", status: []int{422}},
		{name: "a folder with a zero", method: "GET", path: "/media?folder=%00", status: []int{422}},
		{name: "a file outside", method: "POST", path: "/reels/1/shots", body: `{"paths":["/etc/passwd"]}`, status: []int{422}, says: "outside"},
		{name: "an address", method: "POST", path: "/reels/1/shots", body: `{"paths":["http://127.0.0.1/x.mov"]}`, status: []int{422}},
		{name: "a protocol", method: "POST", path: "/reels/1/shots", body: `{"paths":["concat:/etc/passwd|/etc/hosts"]}`, status: []int{422}},
		{name: "a device", method: "POST", path: "/reels/1/shots", body: `{"paths":["/dev/zero"]}`, status: []int{422}},
		{name: "an option", method: "POST", path: "/reels/1/shots", body: `{"paths":["-i"]}`, status: []int{422, 200}},
		{name: "a favourite with a path", method: "PUT", path: "/favourites", body: `{"key":"stock:../../x","on":true}`, status: []int{422}},
		{name: "an encoding of NaN", method: "POST", path: "/library/encodings", body: `{"name":"x","base":"NaN"}`, status: []int{422}},
		{name: "an encoding of nothing", method: "POST", path: "/library/plot", body: `{"name":"x"}`, status: []int{422, 200}},
		{name: "a card of nothing", method: "POST", path: "/library/stocks", body: `{"card":null}`, status: []int{422}},
		{name: "a measurement of nothing", method: "POST", path: "/library/measure", body: `{"name":"x"}`, status: []int{422}},
		{name: "a wedge of nothing", method: "POST", path: "/library/measure", body: `{"name":"x","wedges":[{"file":"../../x","text":""}]}`, status: []int{422}},
		{name: "a chart of shots that are not there", method: "POST", path: "/library/measure", body: `{"name":"x","pictures":[{"shows":"chart","digital":99999,"film":99998}]}`, status: []int{404}},
		{name: "a chart of one shot", method: "POST", path: "/library/measure", body: `{"name":"x","pictures":[{"shows":"chart","film":1}]}`, status: []int{404, 422}},
		{name: "a picture of a horse", method: "POST", path: "/library/measure", body: `{"name":"x","pictures":[{"shows":"horse","film":1}]}`, status: []int{422}},
		{name: "a lamp as wide as a house", method: "POST", path: "/library/measure", body: `{"name":"x","pictures":[{"shows":"lamp","film":1,"width":1e300}]}`, status: []int{422}},
		{name: "an edge of no width", method: "POST", path: "/library/measure", body: `{"name":"x","pictures":[{"shows":"edge","film":1,"width":-1}]}`, status: []int{422}},
		{name: "a chart with mad corners", method: "POST", path: "/library/measure", body: `{"name":"x","pictures":[{"shows":"chart","digital":1,"film":1,"places":[{"columns":4000000,"rows":4000000,"corners":[[0,0],[1,0],[1,1],[0,1]]},{"columns":-1,"rows":0,"corners":[[0,0],[0,0],[0,0],[0,0]]}]}]}`, status: []int{422}},
		{name: "a status of nowhere", method: "POST", path: "/library/measure", body: `{"name":"x","status":"z","wedges":[{"file":"a","text":"a"}]}`, status: []int{422}},
		{name: "a film at NaN", method: "GET", path: "/shots/1/film?x=NaN&y=NaN", status: []int{422}},
		{name: "a film at frame -3", method: "GET", path: "/shots/1/film?frame=-3", status: []int{422}},
	}
	if len(list) < 60 {
		t.Errorf("only %d hostile requests", len(list))
	}
	for _, c := range list {
		q, err := http.NewRequestWithContext(t.Context(), c.method, srv.URL+"/api/v1"+c.path, strings.NewReader(c.body))
		if err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		switch {
		case c.kind == "-":
		case c.kind != "":
			q.Header.Set("Content-Type", c.kind)
		case c.body != "":
			q.Header.Set("Content-Type", "application/json")
		}
		if c.header[0] != "" {
			q.Header.Set(c.header[0], c.header[1])
		}
		if c.host != "" {
			q.Host = c.host
		}
		r, err := http.DefaultClient.Do(q)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		data, _ := io.ReadAll(r.Body)
		r.Body.Close()
		ok := false
		for _, s := range c.status {
			ok = ok || r.StatusCode == s
		}
		if !ok || !strings.Contains(string(data), c.says) || r.StatusCode >= 500 {
			t.Errorf("%s: %d %.300s, want %v with %q", c.name, r.StatusCode, data, c.status, c.says)
		}
		if r.StatusCode >= 400 && (r.Header.Get("Content-Type") != "application/problem+json" || !strings.Contains(string(data), `"detail":"`)) {
			t.Errorf("%s: the answer is %s, %.200s", c.name, r.Header.Get("Content-Type"), data)
		}
	}
	status, data := call(t, "GET", srv.URL+"/api/v1/shots/1", "")
	if status != 200 || strings.Contains(string(data), "NaN") {
		t.Errorf("afterwards the shot is %d %.200s", status, data)
	}
}

// Files that mean harm, sent from a browser: each is told by its name, none becomes a shot, nothing is left.
func TestHostileUploads(t *testing.T) {
	dir := t.TempDir()
	srv := serveAt(t, dir)
	secret := filepath.Join(dir, "secret.png")
	hls := "#EXTM3U\n#EXT-X-TARGETDURATION:600\n#EXTINF:600,\n" + secret + "\n"
	for name, data := range map[string]string{
		"list.mov": hls, "live.mkv": hls, "list.dpx": hls, "concat.mp4": "ffconcat version 1.0\nfile '" + secret + "'\n", "page.png": "<html><script>alert(1)</script>", "page.html": "<html>", "run.exe": "MZ",
		"../../up.mov": hls, "%05d.png": "x", "a\x00b.png": "x", strings.Repeat("long", 100) + ".png": "x", "vast.png": "\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\xea\x60\x00\x00\xea\x60\x10\x06\x00\x00\x00\xb8\xb9\x89\x00",
	} {
		var form bytes.Buffer
		m := multipart.NewWriter(&form)
		part, err := m.CreateFormFile("file", name)
		if err != nil {
			t.Fatal(err)
		}
		part.Write([]byte(data))
		m.Close()
		r, err := http.Post(srv.URL+"/api/v1/reels/1/uploads", m.FormDataContentType(), &form)
		if err != nil {
			t.Fatal(err)
		}
		answer, _ := io.ReadAll(r.Body)
		r.Body.Close()
		if r.StatusCode >= 500 || strings.Contains(string(answer), `"path"`) || !strings.Contains(string(answer), `"shots":[]`) && r.StatusCode < 400 {
			t.Errorf("%.40q: %d %s", name, r.StatusCode, answer)
		}
	}
	var left []string
	filepath.WalkDir(filepath.Join(dir, "media"), func(p string, e os.DirEntry, err error) error {
		if err == nil && !e.IsDir() {
			left = append(left, p)
		}
		return nil
	})
	if len(left) > 0 {
		t.Errorf("left behind: %v", left)
	}
}

// Sockets are held to the same: by host, by origin, by what they say.
func TestHostileSockets(t *testing.T) {
	srv := serve(t)
	address := "ws" + strings.TrimPrefix(srv.URL, "http") + "/api/v1/window"
	for name, set := range map[string]func(*websocket.DialOptions){
		"another origin": func(o *websocket.DialOptions) { o.HTTPHeader.Set("Origin", "http://evil.example") },
		"a null origin":  func(o *websocket.DialOptions) { o.HTTPHeader.Set("Origin", "null") },
		"cross-site":     func(o *websocket.DialOptions) { o.HTTPHeader.Set("Sec-Fetch-Site", "cross-site") },
		"another host":   func(o *websocket.DialOptions) { o.Host = "evil.example" },
	} {
		o := &websocket.DialOptions{HTTPHeader: http.Header{}}
		set(o)
		if c, _, err := websocket.Dial(t.Context(), address, o); err == nil {
			c.CloseNow()
			t.Errorf("%s: the socket was opened", name)
		}
	}
	ctx, c := dial(t, srv.URL)
	for _, text := range []string{
		`{`, `null`, `[]`, `"x"`, `{"channel":5}`, strings.Repeat("[", 5000), `{"channel":"nonsense","seq":1,"view":{"shot":1}}`,
		`{"type":"picture","channel":"picture","seq":2,"view":{"shot":99999,"width":10,"height":10}}`, `{"type":"picture","channel":"picture","seq":3,"view":{"shot":1,"frame":-1,"width":10,"height":10}}`,
		`{"type":"picture","channel":"picture","seq":4,"view":{"shot":1,"width":-5,"height":1000000000}}`, `{"type":"picture","channel":"picture","seq":5,"view":{"shot":1,"width":64,"height":64,"cropWidth":-1,"cropHeight":2000000000,"x":-9}}`,
		`{"type":"ribbon","channel":"ribbon","seq":6,"view":{"shot":1},"bandWidth":-1,"bandHeight":1}`, `{"type":"probe","channel":"probe","seq":7,"view":{"shot":1,"width":64,"height":64}}`,
		`{"type":"probe","channel":"probe","seq":8,"view":{"shot":1,"width":64,"height":64},"probe":{"x":9,"y":-9}}`, `{"type":"pin","channel":"pin:1","seq":9,"pin":99999}`, `{"type":"pin","channel":"pin:1","seq":9,"pin":1,"view":{"shot":0}}`, `{"channel":"picture","seq":1,"view":{"shot":1}}`, `{"type":"sparkle","channel":"x","seq":1}`,
		`{"type":"fill","channel":"fill","seq":10,"view":{"shot":1},"stretch":{"from":-5,"to":2000000000}}`, `{"type":"picture","channel":"picture","seq":11,"view":{"shot":1,"width":64,"height":64,"show":"x"}}`,
		`{"type":"picture","channel":"picture","seq":12,"view":{"shot":1,"width":64,"height":64,"side":"shot:x"}}`, `{"type":"picture","channel":"picture","seq":13,"view":{"shot":1,"width":64,"height":64,"look":{"stations":{"lens":null}}}}`,
		`{"type":"picture","channel":"picture","seq":14,"view":{"shot":1,"width":64,"height":64},"scopes":[{"id":"waveform","width":1000000,"height":-1}]}`,
		`{"type":"tones","channel":"tones","seq":15,"view":{"shot":1,"step":"a.b.c"}}`, `{"type":"skin","channel":"skin","seq":16,"view":{"shot":1,"step":""}}`,
	} {
		ask(t, ctx, c, text)
		r, _ := next(t, ctx, c)
		for r.Problem == "" && r.W > 0 { // a picture may be given where a number was mended
			if r.Stage == "exact" {
				break
			}
			r, _ = next(t, ctx, c)
		}
		if r.Problem == "" && r.W == 0 && r.Kept == nil && r.Reasons == nil {
			t.Errorf("%.80s: answered by %+v", text, r)
		}
	}
	ask(t, ctx, c, `{"type":"picture","channel":"picture","seq":99,"view":{"shot":1,"frame":0,"width":64,"height":64}}`)
	for {
		r, _ := next(t, ctx, c)
		if r.Seq == 99 && r.Stage == "exact" {
			break
		}
		if r.Seq == 99 && r.Problem != "" {
			t.Fatal(r.Problem)
		}
	}
}

// What a page may do, and who may frame it, is said with every answer; files that persons sent are never pages.
func TestHeadersOfAnswers(t *testing.T) {
	srv := serve(t)
	for _, path := range []string{"/", "/api/v1/reels", "/api/v1/shots/1/film.svg", "/api/v1/nothing"} {
		r, err := http.Get(srv.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		h := r.Header
		if h.Get("X-Content-Type-Options") != "nosniff" || h.Get("X-Frame-Options") != "DENY" || !strings.Contains(h.Get("Content-Security-Policy"), "frame-ancestors 'none'") {
			t.Errorf("%s: %v", path, h)
		}
	}
	own := `{"name":"<script>alert(1)</script>","base":2,"logSlope":0.09,"logOffset":0.6,"linSlope":5.5,"linOffset":0.06,"red":[0.7,0.3],"green":[0.2,0.72],"blue":[0.14,0.05],"white":[0.3127,0.329]}`
	status, data := call(t, "POST", srv.URL+"/api/v1/library/encodings", own)
	if status != 200 {
		t.Fatalf("%d %s", status, data)
	}
	r, err := http.Get(srv.URL + "/api/v1/library/1/file")
	if err != nil {
		t.Fatal(err)
	}
	r.Body.Close()
	if !strings.HasPrefix(r.Header.Get("Content-Disposition"), "attachment") || strings.Contains(r.Header.Get("Content-Type"), "html") {
		t.Errorf("a file that was sent is served as %v", r.Header)
	}
}

// Beyond the loopback a token is asked for: in the link, then by a cookie, or as a bearer's.
func TestTokenBeyondTheLoopback(t *testing.T) {
	if !Loopback("127.0.0.1:7410") || !Loopback("[::1]:1") || !Loopback("localhost:9") || Loopback("0.0.0.0:1") || Loopback(":7410") || Loopback("10.0.0.5:80") || Loopback("[::]:1") {
		t.Error("the loopback is not told from others")
	}
	st, err := studio.Open(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	srv := httptest.NewServer(New(st, Access{Token: "a-secret", Hosts: []string{"suite.example"}}))
	defer srv.Close()
	get := func(path string, set func(*http.Request)) (int, []*http.Cookie) {
		q, err := http.NewRequest("GET", srv.URL+path, nil)
		if err != nil {
			t.Fatal(err)
		}
		q.Host = "suite.example:7410"
		if set != nil {
			set(q)
		}
		r, err := http.DefaultClient.Do(q)
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		return r.StatusCode, r.Cookies()
	}
	if s, _ := get("/api/v1/reels", nil); s != 401 {
		t.Errorf("without a token: %d", s)
	}
	if s, _ := get("/?token=wrong", nil); s != 401 {
		t.Errorf("with a wrong one: %d", s)
	}
	s, cookies := get("/?token=a-secret", nil)
	if s == 401 || len(cookies) != 1 || !cookies[0].HttpOnly || cookies[0].SameSite != http.SameSiteStrictMode {
		t.Fatalf("with the link: %d, %v", s, cookies)
	}
	if s, _ := get("/api/v1/reels", func(q *http.Request) { q.AddCookie(cookies[0]) }); s != 200 {
		t.Errorf("with the cookie: %d", s)
	}
	if s, _ := get("/api/v1/reels", func(q *http.Request) { q.Header.Set("Authorization", "Bearer a-secret") }); s != 200 {
		t.Errorf("as a bearer: %d", s)
	}
	if one, other := NewToken(), NewToken(); len(one) < 30 || one == other {
		t.Error("tokens can be guessed")
	}
}

// A port that is taken is told in a line, with the remedy.
func TestBusyPort(t *testing.T) {
	l, err := Listen("127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	if _, err := Listen(l.Addr().String()); err == nil || !strings.Contains(err.Error(), "--addr") || strings.Contains(err.Error(), "\n") {
		t.Errorf("got %v", err)
	}
	if _, err := Listen("nowhere"); err == nil || !strings.Contains(err.Error(), "--addr") {
		t.Errorf("got %v", err)
	}
}

// Ending takes little time, whatever windows have open.
func TestServingEndsSoon(t *testing.T) {
	st, err := studio.Open(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	l, err := Listen("127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	ended := make(chan error, 1)
	go func() { ended <- New(st, Access{}).Serve(ctx, l) }()
	c, _, err := websocket.Dial(t.Context(), fmt.Sprintf("ws://%s/api/v1/window", l.Addr()), nil)
	if err != nil {
		t.Fatal(err)
	}
	defer c.CloseNow()
	cancel()
	select {
	case err := <-ended:
		if err != nil {
			t.Error(err)
		}
	case <-time.After(15 * time.Second):
		t.Fatal("the server does not end")
	}
}
