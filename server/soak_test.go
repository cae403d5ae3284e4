package server

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"runtime"
	"runtime/debug"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"velours/core/look"
	"velours/studio"
)

// complaints counts what is logged as a warning or worse.
type complaints struct {
	slog.Handler
	n atomic.Int64
}

func (c *complaints) Handle(ctx context.Context, r slog.Record) error {
	if r.Level >= slog.LevelWarn {
		c.n.Add(1)
	}
	return c.Handler.Handle(ctx, r)
}

// soakMemory is little, so that it is used up at once, in megabytes.
const soakMemory = 1600

// TestRandomHands drags, seeks and switches at random, as fast as a socket takes it: for a few seconds,
// or for as long as VELOURS_SOAK says. Memory stays within the budget, nothing is left running, and
// nothing is complained of.
func TestRandomHands(t *testing.T) {
	length := 4 * time.Second
	if s := os.Getenv("VELOURS_SOAK"); s != "" {
		var err error
		if length, err = time.ParseDuration(s); err != nil {
			t.Fatal(err)
		}
	}
	told := &complaints{Handler: slog.NewTextHandler(os.Stderr, nil)}
	usual := slog.Default()
	slog.SetDefault(slog.New(told))
	defer slog.SetDefault(usual)
	atFirst := runtime.NumGoroutine()
	budget := studio.Within(soakMemory)
	defer debug.SetMemoryLimit(debug.SetMemoryLimit(budget.Total())) // as the program does
	st, err := studio.OpenWithin(t.TempDir(), budget)
	if err != nil {
		t.Fatal(err)
	}
	if err := st.LoadDemoApart(t.Context()); err != nil {
		t.Skip("no demo reel without ffmpeg")
	}
	srv := httptest.NewServer(New(st, Access{}))
	before := runtime.NumGoroutine()

	h := newHands(t, srv.URL)
	end := time.Now().Add(length)
	var most uint64
	nextLook := time.Now()
	for time.Now().Before(end) {
		h.act()
		if time.Now().After(nextLook) {
			var m runtime.MemStats
			runtime.ReadMemStats(&m)
			most = max(most, m.HeapInuse)
			nextLook = time.Now().Add(500 * time.Millisecond)
		}
	}
	h.leave()
	// a warm decoder has goroutines of its own, and so has a kept connection
	left := rest(before + 4*budget.Readers + 10)
	srv.CloseClientConnections()
	srv.Close()
	if err := st.Close(); err != nil {
		t.Error(err)
	}
	http.DefaultClient.CloseIdleConnections()
	closed := rest(atFirst)
	t.Logf("%v: %d acts, %d requests, %d replies, most memory %d MB, goroutines %d before, %d when the window had gone, %d of %d when all was closed, %d complaints", length, h.acts, h.asked, h.got.Load(), most>>20, before, left, closed, atFirst, told.n.Load())
	if most > uint64(budget.Total()) {
		t.Errorf("%d MB were in use; the budget is %d", most>>20, budget.Total()>>20)
	}
	if left > before+4*budget.Readers+10 || closed > atFirst+1 {
		buf := make([]byte, 1<<20)
		t.Errorf("goroutines are left:\n%s", buf[:runtime.Stack(buf, true)])
	}
	if told.n.Load() > 0 || h.problems.Load() > 0 {
		t.Errorf("%d complaints in the log, %d problems told; the last: %v", told.n.Load(), h.problems.Load(), h.last.Load())
	}
	if h.got.Load() < int64(h.acts)/10 {
		t.Errorf("%d replies to %d acts", h.got.Load(), h.acts)
	}
}

// rest waits, for a while, until no more than n goroutines are left, and returns how many are.
func rest(n int) int {
	for end := time.Now().Add(30 * time.Second); runtime.NumGoroutine() > n && time.Now().Before(end); {
		time.Sleep(50 * time.Millisecond)
	}
	return runtime.NumGoroutine()
}

// hands are a client that does not think.
type hands struct {
	t        *testing.T
	url      string
	dice     *rand.Rand
	send     func(string)
	leave    func()
	asked    int
	acts     int
	seq      int
	got      atomic.Int64
	problems atomic.Int64
	last     atomic.Value
	looks    map[int]*look.Look
	shot     int
	frame    int
	crop     string
}

func newHands(t *testing.T, url string) *hands {
	ctx, cancel := context.WithCancel(context.Background())
	c := dialUntil(t, ctx, url)
	h := &hands{t: t, url: url, dice: rand.New(rand.NewPCG(7, 11)), looks: map[int]*look.Look{}, shot: 1}
	done := make(chan struct{})
	go func() {
		defer close(done)
		for {
			_, data, err := c.Read(ctx)
			if err != nil {
				return
			}
			h.got.Add(1)
			head := data[4 : 4+int(data[0])+int(data[1])<<8+int(data[2])<<16]
			var r told
			if err := json.Unmarshal(head, &r); err != nil || r.Problem != "" {
				h.problems.Add(1)
				h.last.Store(r.Type + " " + r.Channel + ": " + r.Problem)
			}
		}
	}()
	h.send = func(text string) {
		h.asked++
		ask(t, ctx, c, text)
	}
	h.leave = func() {
		c.CloseNow()
		cancel()
		<-done
	}
	for i := 1; i <= 4; i++ {
		status, data := call(t, "GET", fmt.Sprintf("%s/api/v1/shots/%d", url, i), "")
		var s Shot
		if err := json.Unmarshal(data, &s); err != nil || status != 200 {
			t.Fatalf("%d %s", status, data)
		}
		look, err := look.ParseLook(s.Look)
		if err != nil {
			t.Fatal(err)
		}
		h.looks[i] = look
	}
	return h
}

// view is the view of the moment; extra is put into it.
func (h *hands) view(extra string) string {
	look, err := json.Marshal(h.looks[h.shot])
	if err != nil {
		h.t.Fatal(err)
	}
	return fmt.Sprintf(`{"shot":%d,"frame":%d,"width":%d,"height":480,"look":%s%s%s}`, h.shot, h.frame, 400+h.dice.IntN(3)*200, look, h.crop, extra)
}

const soakScopes = `[{"id":"parade","width":300,"height":120},{"id":"waveform","width":300,"height":120,"tap":"negative"},{"id":"vector","width":128,"height":128},{"id":"histogram","width":128,"height":128}]`

func (h *hands) picture(extra string, draft bool) {
	h.seq++
	if draft {
		extra += `,"draft":true`
	}
	h.send(fmt.Sprintf(`{"type":"picture","channel":"picture","seq":%d,"scopes":%s,"view":%s}`, h.seq, soakScopes, h.view(extra)))
}

// change sets a random setting to a random value.
func (h *hands) change(k *look.Kind) (station, kind, setting string, value any) {
	s := &k.Settings[h.dice.IntN(len(k.Settings))]
	if list := s.List(); len(list) > 0 {
		value = list[h.dice.IntN(len(list))].ID
	} else if s.Points != "" {
		value = []string{"", "0:0.5", "-5:-5.5 0:0.2 4:3.4"}[h.dice.IntN(3)]
	} else {
		value = s.Min + (s.Max-s.Min)*h.dice.Float64()
	}
	if err := h.looks[h.shot].Set(k.Path()+"."+s.ID, value); err != nil {
		h.t.Fatal(err)
	}
	return string(k.Station), k.ID, s.ID, value
}

func (h *hands) kind() *look.Kind {
	for {
		k := look.Kinds()[h.dice.IntN(len(look.Kinds()))]
		if len(k.Settings) > 0 && k.Path() != "print.table" {
			return k
		}
	}
}

// act does one thing that a hand might.
func (h *hands) act() {
	h.acts++
	pause := func(ms int) { time.Sleep(time.Duration(h.dice.IntN(ms)) * time.Millisecond) }
	channel := func(name, rest, extra string) {
		h.seq++
		kind, _, _ := strings.Cut(name, ":")
		if kind == "try" {
			kind = "picture"
		}
		h.send(fmt.Sprintf(`{"type":"%s","channel":"%s","seq":%d,"view":%s%s}`, kind, name, h.seq, h.view(extra), rest))
	}
	switch h.dice.IntN(14) {
	case 0, 1, 2, 3: // drag
		k := h.kind()
		for range 3 + h.dice.IntN(20) {
			h.change(k)
			h.picture("", true)
			pause(25)
		}
		h.picture("", false)
		channel("ribbon", `,"bandWidth":120,"bandHeight":60`, "")
	case 4: // an edit that is kept, and perhaps its way back
		station, kind, setting, value := h.change(h.kind())
		body, err := json.Marshal(map[string]any{"op": "set", "station": station, "kind": kind, "setting": setting, "value": value})
		if err != nil {
			h.t.Fatal(err)
		}
		h.must("POST", fmt.Sprintf("/shots/%d/edits", h.shot), string(body))
		if h.dice.IntN(2) == 0 {
			h.must("POST", fmt.Sprintf("/shots/%d/undo", h.shot), "")
		}
	case 5: // seek
		if h.shot != 4 {
			for range 1 + h.dice.IntN(12) {
				h.frame = h.dice.IntN(48)
				h.picture("", true)
				pause(20)
			}
		}
		h.picture("", false)
	case 6: // another shot
		h.shot = 1 + h.dice.IntN(4)
		h.frame = 0
		h.picture("", false)
	case 7: // nearer and back
		h.crop = ""
		if h.dice.IntN(2) == 0 {
			h.crop = fmt.Sprintf(`,"x":%d,"y":%d,"cropWidth":400,"cropHeight":300`, h.dice.IntN(1500), h.dice.IntN(700))
		}
		h.picture("", false)
	case 8: // one step alone
		k := h.kind()
		how := []string{"adds", "matte", "solo", "far"}[h.dice.IntN(4)]
		h.picture(fmt.Sprintf(`,"show":"%s","step":"%s"`, how, k.Path()), false)
	case 9: // measured, compared
		h.picture([]string{`,"show":"false"`, `,"show":"clip-display"`, `,"show":"clip-film"`, `,"show":"difference","against":"entered"`}[h.dice.IntN(4)], false)
		h.seq++
		h.send(fmt.Sprintf(`{"type":"picture","channel":"other","seq":%d,"scopes":%s,"view":%s}`, h.seq, soakScopes, h.view(fmt.Sprintf(`,"side":"%s"`, []string{"film", "entered", "previous", "shot:2"}[h.dice.IntN(4)]))))
	case 10: // the pointer wanders
		for range 5 + h.dice.IntN(20) {
			channel("probe", fmt.Sprintf(`,"probe":{"x":%g,"y":%g,"scopes":%s}`, h.dice.Float64(), h.dice.Float64(), soakScopes), "")
			pause(16)
		}
		channel("no-effect", "", "")
	case 11: // play a little, fill a little
		for n := range 6 {
			channel(fmt.Sprint("play:", n), "", fmt.Sprintf(`,"number":%d`, n))
		}
		channel("fill", `,"stretch":{"from":0,"to":6,"still":true}`, "")
		pause(300)
		h.send(`{"type":"stop","channel":"play:","seq":0}`)
		h.send(`{"type":"fill","type":"stop","channel":"fill","seq":0}`)
	case 13: // a step masked, or freed; what a card reads
		l := h.looks[h.shot]
		parts := look.MatteKinds()
		l.SetMatte("m", &look.Matte{Blur: h.dice.Float64(), Parts: []*look.MattePart{{Kind: parts[h.dice.IntN(len(parts))].ID}}})
		if k := h.kind(); k.Masks {
			p, err := l.Ensure(k.Station, k.ID)
			if err != nil {
				h.t.Fatal(err)
			}
			if name := "m"; p.Matte == nil {
				p.Matte = &name
			} else {
				p.Matte = nil
			}
		}
		h.picture("", false)
		channel("pick", `,"probe":{"x":0.4,"y":0.5}`, `,"step":"balance.white"`)
		channel("tones:balance.zones", "", `,"step":"balance.zones"`)
		if l.Step(look.Balance, "skin") != nil {
			channel("skin:balance.skin", "", `,"step":"balance.skin"`)
		}
	case 12: // a test strip, left soon
		saved := h.looks[h.shot].Clone()
		k := h.kind()
		for i := range 7 {
			h.change(k)
			channel(fmt.Sprint("try:", i), `,"inTurn":true`, `,"draft":true`)
		}
		h.looks[h.shot] = saved
		pause(200)
		h.send(`{"type":"stop","channel":"try","seq":0}`)
	}
	pause(60)
}

func (h *hands) must(method, where, body string) {
	if status, data := call(h.t, method, h.url+"/api/v1"+where, body); status >= 300 && !strings.Contains(string(data), "not found") {
		h.problems.Add(1)
		h.last.Store(string(data))
	}
}
