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

	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	kinds "velours/core/steps"
	"velours/library"
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
	var shots []library.Shot
	for _, r := range reels {
		if len(r.Shots) > 0 {
			shots = r.Shots
		}
	}
	lookOf := func(s library.Shot) (*look.Look, error) { return look.ParseStored([]byte(s.Look)) }
	shot := shots[0]
	given, err := lookOf(shot)
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
	picture := func(of library.Shot, l *look.Look, scopes string) (draft, exact float64, err error) {
		seq++
		doc, err := json.Marshal(l)
		if err != nil {
			return 0, 0, err
		}
		began := time.Now()
		if err := c.Write(ctx, websocket.MessageText, []byte(fmt.Sprintf(`{"type":"picture","channel":"picture","seq":%d,"view":{"shot":%d,"frame":0,"width":1280,"height":720,"look":%s}%s}`, seq, of.ID, doc, scopes))); err != nil {
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
	drags := []struct {
		name, setting, scopes string
		from, to              float64
		with                  string
		shot                  library.Shot
	}{
		{"last step (overall strength)", "finish.overall.film", "", 60, 99, "", shot},
		{"first step (exposure)", "balance.exposure.stops", "", -0.5, 0.5, "", shot},
		{"first step, with three scopes", "balance.exposure.stops", scopes, -0.5, 0.5, "", shot},
		{"first step, worn backing, bloom", "balance.exposure.stops", "", -0.5, 0.5, worn, shot},
		{"the same with diffusion", "balance.exposure.stops", "", -0.5, 0.5, worn + " lens.diffusion.grade=0.5", shot},
	}
	for _, other := range shots[1:min(4, len(shots))] {
		d := drags[1]
		d.name, d.shot = "first step, "+other.Name, other
		drags = append(drags, d)
	}
	for _, d := range drags {
		own, err := lookOf(d.shot)
		if err != nil {
			return err
		}
		var drafts, exacts []float64
		for i := range changes + 5 {
			l := own.Clone()
			check(l.SetAll(strings.Fields(d.with)...))
			if err := l.Set(d.setting, d.from+(d.to-d.from)*float64(i)/(changes+5)); err != nil {
				return err
			}
			draft, exact, err := picture(d.shot, l, d.scopes)
			if err != nil {
				return err
			}
			if i >= 5 { // tables are made, pools filled
				drafts, exacts = append(drafts, draft), append(exacts, exact)
			}
		}
		fmt.Printf("%-34s %8.1f %8.1f %8.1f %8.1f %9.1f\n", d.name, at(drafts, 0.5), at(drafts, 0.95), at(exacts, 0.5), at(exacts, 0.95), at(exacts, 0.5)/copyTime())
	}
	if err := beam(ctx, c, shot.ID, given); err != nil {
		return err
	}
	fmt.Printf("a plain copy of such a picture: %.2f ms. Aims on an idle machine, 95 %%: draft below %.0f, exact below %.0f, beam %.0f\n", copyTime(), aimDraft, aimExact, aimBeam)
	return strips(ctx, c, shot.ID, given)
}

// aimBeam is the aim for the beam, in milliseconds.
const aimBeam = 60.0

// beam moves a dial of the first step, of a step of the film, and of the last, and prints how long the beam of a page 1280 wide takes to be drawn again.
func beam(ctx context.Context, c *websocket.Conn, shot uint, given *look.Look) error {
	seq := 10000
	for _, d := range []struct {
		name, setting string
		from, to      float64
	}{
		{"beam, first step (exposure)", "balance.exposure.stops", -0.5, 0.5},
		{"beam, printer lights", "print.lights.red", -10, 10},
		{"beam, last step (overall strength)", "finish.overall.film", 60, 99},
	} {
		var took []float64
		for i := range 45 {
			l := given.Clone()
			if err := l.Set(d.setting, d.from+(d.to-d.from)*float64(i)/45); err != nil {
				return err
			}
			doc, err := json.Marshal(l)
			if err != nil {
				return err
			}
			seq++
			began := time.Now()
			ask := fmt.Sprintf(`{"type":"ribbon","channel":"ribbon","seq":%d,"view":{"shot":%d,"frame":0,"width":1280,"height":720,"look":%s},"bandWidth":179,"bandHeight":62}`, seq, shot, doc)
			if err := c.Write(ctx, websocket.MessageText, []byte(ask)); err != nil {
				return err
			}
			if err := due(ctx, c, "ribbon"); err != nil {
				return err
			}
			if i >= 5 {
				took = append(took, float64(time.Since(began).Microseconds())/1000)
			}
		}
		fmt.Printf("%-34s %8s %8s %8.1f %8.1f %9.1f\n", d.name, "", "", at(took, 0.5), at(took, 0.95), at(took, 0.5)/copyTime())
	}
	return nil
}

// The aims for a test strip on an idle machine, in seconds.
const aimStocks, aimRecipes = 1.5, 3.0

// strips lays out test strips as the page does, twice: all stocks, and all recipes over the look; and prints when the first picture and the last
// are there.
func strips(ctx context.Context, c *websocket.Conn, shot uint, given *look.Look) error {
	var stocks, recipes []*look.Look
	for _, s := range film.Stocks() {
		l := given.Clone()
		if err := l.Set("negative.stock.id", s.ID); err != nil {
			return err
		}
		stocks = append(stocks, l)
	}
	list, err := kinds.Recipes()
	if err != nil {
		return err
	}
	for _, r := range list {
		l, err := r.Onto(given)
		if err != nil {
			return err
		}
		recipes = append(recipes, l)
	}
	fmt.Printf("\ntest strips; seconds until the first picture and the last, at first and again\n%-34s %8s %8s %8s %8s %8s\n", "", "first", "last", "first", "last", "aim")
	for _, s := range []struct {
		name  string
		looks []*look.Look
		aim   float64
	}{{"stocks", stocks, aimStocks}, {"recipes", recipes, aimRecipes}} {
		var took []float64
		for turn := range 2 {
			began := time.Now()
			for i, l := range s.looks {
				doc, err := json.Marshal(l)
				if err != nil {
					return err
				}
				ask := fmt.Sprintf(`{"type":"picture","channel":"try:%s %d","seq":%d,"inTurn":true,"view":{"shot":%d,"frame":0,"width":400,"height":400,"draft":true,"look":%s}}`, s.name, i, 1000*(turn+1)+i, shot, doc)
				if err := c.Write(ctx, websocket.MessageText, []byte(ask)); err != nil {
					return err
				}
			}
			for i := range s.looks {
				if err := due(ctx, c, fmt.Sprintf("try:%s %d", s.name, i)); err != nil {
					return err
				}
				if i == 0 || i == len(s.looks)-1 {
					took = append(took, time.Since(began).Seconds())
				}
			}
		}
		fmt.Printf("%-34s %8.2f %8.2f %8.2f %8.2f %8.1f\n", fmt.Sprintf("%d %s", len(s.looks), s.name), took[0], took[1], took[2], took[3], s.aim)
	}
	return nil
}

// due reads the next answer, which is to be of a channel.
func due(ctx context.Context, c *websocket.Conn, channel string) error {
	_, data, err := c.Read(ctx)
	if err != nil {
		return err
	}
	var r struct{ Channel, Problem string }
	if err := json.Unmarshal(data[4:4+binary.LittleEndian.Uint32(data)], &r); err != nil {
		return err
	}
	if r.Problem != "" || r.Channel != channel {
		return fmt.Errorf("%s where %s was due: %s", r.Channel, channel, r.Problem)
	}
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
