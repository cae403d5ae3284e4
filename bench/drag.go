package main

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"os"
	"sort"
	"strings"
	"time"

	"github.com/coder/websocket"

	"velours/core/frame"
	"velours/core/look"
	"velours/server"
	"velours/studio"
)

// The aims for a change on an idle machine, at the 95th percentile, in milliseconds.
const aimDraft, aimExact = 60.0, 150.0

// changes is how many times a dial is moved.
const changes = 100

// drag moves dials over a window's socket, as the page does, and prints how long the pictures take: the
// draft, and the exact one, at 1280×720, of the last step of the light path and of the first.
func drag() error {
	dir, err := os.MkdirTemp("", "velours-bench-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	st, err := studio.Open(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Minute)
	defer cancel()
	if err := st.LoadDemoApart(ctx); err != nil {
		return err
	}
	reels, err := st.Reels()
	if err != nil {
		return err
	}
	shot := reels[len(reels)-1].Shots[0]
	for _, r := range reels {
		if len(r.Shots) > 0 {
			shot = r.Shots[0]
		}
	}
	given, err := look.ParseStored([]byte(shot.Look))
	if err != nil {
		return err
	}
	srv := httptest.NewServer(server.New(st, server.Access{}))
	defer srv.Close()
	defer srv.CloseClientConnections()
	c, _, err := websocket.Dial(ctx, "ws"+strings.TrimPrefix(srv.URL, "http")+"/api/v1/window", nil)
	if err != nil {
		return err
	}
	defer c.CloseNow()
	c.SetReadLimit(64 << 20)
	seq := 0
	picture := func(l *look.Look, scopes string) (draft, exact float64, err error) {
		seq++
		doc, err := json.Marshal(l)
		if err != nil {
			return 0, 0, err
		}
		began := time.Now()
		if err := c.Write(ctx, websocket.MessageText, []byte(fmt.Sprintf(`{"type":"picture","channel":"picture","seq":%d,"view":{"shot":%d,"frame":0,"width":1280,"height":720,"look":%s}%s}`, seq, shot.ID, doc, scopes))); err != nil {
			return 0, 0, err
		}
		for {
			_, data, err := c.Read(ctx)
			if err != nil {
				return 0, 0, err
			}
			var r struct {
				Type, Stage, Problem string
				Scope                struct{ Ask struct{ ID string } }
			}
			if err := json.Unmarshal(data[4:4+binary.LittleEndian.Uint32(data)], &r); err != nil {
				return 0, 0, err
			}
			took := float64(time.Since(began).Microseconds()) / 1000
			switch {
			case r.Problem != "":
				return 0, 0, fmt.Errorf("%s", r.Problem)
			case r.Type == "picture" && r.Stage == "draft":
				draft = took
			case r.Type == "picture":
				exact = took
			}
			if r.Stage == "exact" && (scopes == "" || r.Scope.Ask.ID == "vector") {
				return draft, exact, nil
			}
		}
	}
	fmt.Printf("\nDragging %s at 1280×720 over the socket, %d changes each; milliseconds from change to picture\n", shot.Name, changes)
	fmt.Printf("%-34s %8s %8s %8s %8s %9s\n", "", "draft", "95 %", "exact", "95 %", "× copy")
	const worn = "lens.bloom.amount=20 negative.halation.amount=100 negative.halation.backing=50"
	const scopes = `,"scopes":[{"id":"parade","width":400,"height":120},{"id":"waveform","width":260,"height":120},{"id":"vector","width":110,"height":110}]`
	for _, d := range []struct {
		name, setting, scopes string
		from, to              float64
		with                  string
	}{
		{"last step (overall strength)", "finish.overall.film", "", 60, 99, ""},
		{"first step (exposure)", "balance.exposure.stops", "", -0.5, 0.5, ""},
		{"first step, with three scopes", "balance.exposure.stops", scopes, -0.5, 0.5, ""},
		{"first step, worn backing, bloom", "balance.exposure.stops", "", -0.5, 0.5, worn},
		{"the same with diffusion", "balance.exposure.stops", "", -0.5, 0.5, worn + " lens.diffusion.grade=0.5"},
	} {
		var drafts, exacts []float64
		for i := range changes + 5 {
			l := given.Clone()
			check(l.SetAll(strings.Fields(d.with)...))
			if err := l.Set(d.setting, d.from+(d.to-d.from)*float64(i)/(changes+5)); err != nil {
				return err
			}
			draft, exact, err := picture(l, d.scopes)
			if err != nil {
				return err
			}
			if i >= 5 { // tables are made, pools filled
				drafts, exacts = append(drafts, draft), append(exacts, exact)
			}
		}
		fmt.Printf("%-34s %8.1f %8.1f %8.1f %8.1f %9.1f\n", d.name, at(drafts, 0.5), at(drafts, 0.95), at(exacts, 0.5), at(exacts, 0.95), at(exacts, 0.5)/copyTime())
	}
	fmt.Printf("a plain copy of such a picture: %.2f ms. Aims on an idle machine, 95 %%: draft below %.0f, exact below %.0f\n", copyTime(), aimDraft, aimExact)
	return nil
}

// at is a quantile.
func at(v []float64, q float64) float64 {
	v = append([]float64(nil), v...)
	sort.Float64s(v)
	return v[min(len(v)-1, int(q*float64(len(v))))]
}

// copyTime is the median time of a plain copy of the planes of a 1280×720 picture, in milliseconds.
func copyTime() float64 {
	src, dst := frame.New(1280, 720, 3), frame.New(1280, 720, 3)
	var took []float64
	for range 21 {
		began := time.Now()
		for c := range 3 {
			for y := range src.H {
				copy(dst.Row(c, y), src.Row(c, y))
			}
		}
		took = append(took, float64(time.Since(began).Nanoseconds())/1e6)
	}
	return at(took, 0.5)
}
