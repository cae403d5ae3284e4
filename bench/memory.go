package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/coder/websocket"
)

// memoryGiven is what the program is given, in megabytes.
const memoryGiven = 3500

// memory starts the program as a person does and prints how much memory it and what it starts take at most: five stills of a hundred
// megapixels open at full size, four deliveries at 8192×4320, twenty windows.
func memory(named string) error {
	dir, err := os.MkdirTemp("", "velours-memory-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	program := filepath.Join(dir, "velours")
	if out, err := exec.Command("go", "build", "-o", program, "./cmd/velours").CombinedOutput(); err != nil {
		return fmt.Errorf("building the program: %w: %s", err, out)
	}
	pictures := filepath.Join(dir, "pictures")
	if err := os.Mkdir(pictures, 0o755); err != nil {
		return err
	}
	still, movie := filepath.Join(pictures, "still a.tif"), filepath.Join(pictures, "wide.mov")
	for _, args := range [][]string{
		{"-f", "lavfi", "-i", "testsrc2=s=11600x8700", "-frames:v", "1", "-pix_fmt", "rgb48le", still},
		{"-f", "lavfi", "-i", "testsrc2=s=8192x4320:r=24", "-frames:v", "8", "-pix_fmt", "yuv422p10le", "-c:v", "prores_aw", movie},
	} {
		if out, err := exec.Command("ffmpeg", append([]string{"-v", "error", "-y"}, args...)...).CombinedOutput(); err != nil {
			return fmt.Errorf("making pictures: %w: %s", err, out)
		}
	}
	stills := []string{still}
	for _, letter := range "bcde" {
		name := filepath.Join(pictures, fmt.Sprintf("still %c.tif", letter))
		if err := os.Link(still, name); err != nil {
			return err
		}
		stills = append(stills, name)
	}
	fmt.Printf("\nMemory of the program and what it starts, at most; it is given %d MB\n", memoryGiven)
	for _, c := range []struct {
		name string
		do   func(ctx context.Context, p *running) error
	}{
		{"five stills of 101 megapixels, one to one", func(ctx context.Context, p *running) error { return p.stills(ctx, stills) }},
		{"four deliveries at 8192×4320", func(ctx context.Context, p *running) error { return p.deliveries(ctx, movie) }},
		{"twenty windows, dragging at 1280×720", func(ctx context.Context, p *running) error { return p.windows(ctx, 20) }},
	} {
		if !strings.Contains(c.name, named) {
			continue
		}
		ctx, cancel := context.WithTimeout(context.Background(), 20*time.Minute)
		p, err := launch(ctx, program, filepath.Join(dir, "data"), pictures)
		if err != nil {
			cancel()
			return err
		}
		began := time.Now()
		err = c.do(ctx, p)
		took := time.Since(began)
		peak := p.end()
		cancel()
		if err != nil {
			return fmt.Errorf("%s: %w", c.name, err)
		}
		fmt.Printf("%-44s %8.0f MB %6.2f × %8.1f s\n", c.name, peak, peak/memoryGiven, took.Seconds())
		record("memory: "+c.name, peak/memoryGiven)
		if err := os.RemoveAll(filepath.Join(dir, "data")); err != nil {
			return err
		}
	}
	return nil
}

// running is the program, and the most memory that it and its children had together.
type running struct {
	cmd  *exec.Cmd
	url  string
	stop chan struct{}
	done chan float64
}

func launch(ctx context.Context, program, data, media string) (*running, error) {
	p := &running{cmd: exec.CommandContext(ctx, program, "demo", "--addr", "127.0.0.1:0", "--data", data, "--media", media, "--memory", strconv.Itoa(memoryGiven)), stop: make(chan struct{}), done: make(chan float64, 1)}
	out, err := p.cmd.StdoutPipe()
	if err != nil {
		return nil, err
	}
	if err := p.cmd.Start(); err != nil {
		return nil, err
	}
	lines := bufio.NewScanner(out)
	for p.url == "" && lines.Scan() {
		if _, url, ok := strings.Cut(lines.Text(), "Velours is at "); ok {
			p.url = url
		}
	}
	if p.url == "" {
		return nil, fmt.Errorf("the program did not start")
	}
	go func() {
		for lines.Scan() {
		}
	}()
	go func() {
		peak := 0.0
		for {
			peak = max(peak, tree(p.cmd.Process.Pid))
			select {
			case <-p.stop:
				p.done <- max(peak, status(p.cmd.Process.Pid, "VmHWM:"))
				return
			case <-time.After(20 * time.Millisecond):
			}
		}
	}()
	return p, nil
}

// end stops the program and returns the most memory that was taken, in megabytes.
func (p *running) end() float64 {
	close(p.stop)
	peak := <-p.done
	p.cmd.Process.Signal(os.Interrupt)
	p.cmd.Wait()
	return peak
}

// tree is the memory of a process and those below it, in megabytes.
func tree(pid int) float64 {
	sum := status(pid, "VmRSS:")
	own, _ := os.Readlink(fmt.Sprintf("/proc/%d/exe", pid))
	tasks, _ := filepath.Glob(fmt.Sprintf("/proc/%d/task/*/children", pid)) // what a thread has started
	for _, t := range tasks {
		list, _ := os.ReadFile(t)
		for _, f := range strings.Fields(string(list)) {
			child, err := strconv.Atoi(f)
			exe, _ := os.Readlink(fmt.Sprintf("/proc/%d/exe", child))
			if err == nil && exe != own { // which is about to be another program, and has this one's memory until then
				sum += tree(child)
			}
		}
	}
	return sum
}

// status is a figure of a process in megabytes, 0 where it is gone.
func status(pid int, what string) float64 {
	data, _ := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	for line := range strings.Lines(string(data)) {
		if rest, ok := strings.CutPrefix(line, what); ok {
			kb, _ := strconv.ParseFloat(strings.Fields(rest)[0], 64)
			return kb / 1024
		}
	}
	return 0
}

func (p *running) call(method, path string, body, into any) error {
	doc, err := json.Marshal(body)
	if err != nil {
		return err
	}
	r, err := http.NewRequest(method, p.url+"/api/v1"+path, bytes.NewReader(doc))
	if err != nil {
		return err
	}
	r.Header.Set("Content-Type", "application/json")
	got, err := http.DefaultClient.Do(r)
	if err != nil {
		return err
	}
	defer got.Body.Close()
	if got.StatusCode >= 300 {
		var said bytes.Buffer
		said.ReadFrom(got.Body)
		return fmt.Errorf("%s %s: %s", method, path, said.String())
	}
	if into == nil {
		return nil
	}
	return json.NewDecoder(got.Body).Decode(into)
}

// shots brings files in, recorded so, under the house look, and returns their shots.
func (p *running) shots(files []string, encoding string) ([]int, error) {
	var page struct{ Reels []struct{ ID int } }
	if err := p.call("GET", "/reels", nil, &page); err != nil {
		return nil, err
	}
	reel := page.Reels[0].ID
	for _, r := range page.Reels {
		var full struct{ Demo bool }
		if err := p.call("GET", fmt.Sprintf("/reels/%d", r.ID), nil, &full); err != nil {
			return nil, err
		}
		if full.Demo {
			reel = r.ID
		}
	}
	var added struct{ Shots []struct{ ID int } }
	if err := p.call("POST", fmt.Sprintf("/reels/%d/shots", reel), map[string]any{"paths": files}, &added); err != nil {
		return nil, err
	}
	var ids []int
	for _, s := range added.Shots {
		ids = append(ids, s.ID)
	}
	if err := p.call("POST", "/declarations", map[string]any{"shots": ids, "encoding": encoding}, nil); err != nil {
		return nil, err
	}
	return ids, nil
}

// exact asks for pictures of a view over a socket and waits for the exact one, with its scopes.
func (p *running) exact(ctx context.Context, c *websocket.Conn, seq int, view string) error {
	return p.pictures(ctx, c, seq, view, func(string) {})
}

// pictures does, and tells of the stage of each picture that comes.
func (p *running) pictures(ctx context.Context, c *websocket.Conn, seq int, view string, came func(stage string)) error {
	const scopes = `"scopes":[{"id":"parade","width":400,"height":120},{"id":"waveform","width":260,"height":120},{"id":"vector","width":110,"height":110}]`
	if err := c.Write(ctx, websocket.MessageText, []byte(fmt.Sprintf(`{"type":"picture","channel":"picture","seq":%d,"view":{%s},%s}`, seq, view, scopes))); err != nil {
		return err
	}
	for {
		_, data, err := c.Read(ctx)
		if err != nil {
			return err
		}
		var r struct {
			Type, Stage, Problem string
			Seq                  int
			Scope                struct{ Ask struct{ ID string } }
		}
		if err := json.Unmarshal(data[4:4+binary.LittleEndian.Uint32(data)], &r); err != nil {
			return err
		}
		if r.Problem != "" {
			return fmt.Errorf("%s", r.Problem)
		}
		if r.Seq == seq && r.Type == "picture" {
			came(r.Stage)
		}
		if r.Seq == seq && r.Stage == "exact" && r.Scope.Ask.ID == "vector" {
			return nil
		}
	}
}

func (p *running) window(ctx context.Context) (*websocket.Conn, error) {
	c, _, err := websocket.Dial(ctx, "ws"+strings.TrimPrefix(p.url, "http")+"/api/v1/window", nil)
	if err == nil {
		c.SetReadLimit(1 << 30)
	}
	return c, err
}

// each does something in windows of their own at once.
func (p *running) each(ctx context.Context, n int, do func(i int, c *websocket.Conn) error) error {
	var wait sync.WaitGroup
	problems := make([]error, n)
	for i := range n {
		wait.Go(func() {
			c, err := p.window(ctx)
			if err == nil {
				defer c.CloseNow()
				err = do(i, c)
			}
			problems[i] = err
		})
	}
	wait.Wait()
	for _, err := range problems {
		if err != nil {
			return err
		}
	}
	return nil
}

func (p *running) stills(ctx context.Context, files []string) error {
	ids, err := p.shots(files, "bt709")
	if err != nil {
		return err
	}
	return p.each(ctx, len(ids), func(i int, c *websocket.Conn) error {
		for k, at := range []int{5000, 2000} {
			if err := p.exact(ctx, c, k+1, fmt.Sprintf(`"shot":%d,"frame":0,"width":1280,"height":720,"x":%d,"y":%d,"cropWidth":1280,"cropHeight":720`, ids[i], at, at)); err != nil {
				return err
			}
		}
		return nil
	})
}

func (p *running) deliveries(ctx context.Context, movie string) error {
	ids, err := p.shots([]string{movie}, "bt709")
	if err != nil {
		return err
	}
	for _, format := range []string{"movie-prores", "movie-prores4444", "sequence-dpx", "sequence-exr"} {
		if err := p.call("POST", fmt.Sprintf("/shots/%d/deliveries", ids[0]), map[string]any{"format": format, "frame": 0}, nil); err != nil {
			return err
		}
	}
	for {
		var list []struct{ State, Note string }
		if err := p.call("GET", "/deliveries", nil, &list); err != nil {
			return err
		}
		left := 0
		for _, d := range list {
			switch d.State {
			case "failed", "cancelled":
				return fmt.Errorf("a delivery %s: %s", d.State, d.Note)
			case "done":
			default:
				left++
			}
		}
		if left == 0 {
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(200 * time.Millisecond):
		}
	}
}

func (p *running) windows(ctx context.Context, n int) error {
	return p.each(ctx, n, func(i int, c *websocket.Conn) error {
		for k := range 4 {
			if err := p.exact(ctx, c, k+1, fmt.Sprintf(`"shot":%d,"frame":%d,"width":1280,"height":720`, 1+(i+k)%3, (i+5*k)%24)); err != nil {
				return err
			}
		}
		return nil
	})
}
