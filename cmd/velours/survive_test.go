package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"velours/core/frame"
	"velours/library"
	"velours/media"
)

// A test that needs a program to kill starts this test binary again, with the program's words in the environment.
const childArgs = "VELOURS_CHILD"

func TestMain(m *testing.M) {
	if args := os.Getenv(childArgs); args != "" {
		os.Exit(run(strings.Split(args, "\n"), os.Stdout, os.Stderr))
	}
	os.Exit(m.Run())
}

// child is the program in a process of its own.
type child struct {
	cmd *exec.Cmd
	url string
}

func startChild(t *testing.T, args ...string) *child {
	t.Helper()
	c := &child{cmd: exec.Command(os.Args[0])}
	c.cmd.Env = append(os.Environ(), childArgs+"="+strings.Join(args, "\n"))
	var problems bytes.Buffer
	c.cmd.Stderr = &problems
	out, err := c.cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := c.cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { c.cmd.Process.Kill(); c.cmd.Wait() })
	s := bufio.NewScanner(out)
	for s.Scan() {
		if url, ok := strings.CutPrefix(s.Text(), "Velours is at "); ok {
			c.url = url
			go io.Copy(io.Discard, out)
			return c
		}
	}
	t.Fatalf("the program did not start: %s", problems.String())
	return nil
}

// ask makes a request, and returns false where nobody answered.
func (c *child) ask(method, path, body string, into any) (status int, ok bool) {
	q, err := http.NewRequest(method, c.url+"/api/v1"+path, strings.NewReader(body))
	if err != nil {
		return 0, false
	}
	q.Header.Set("Content-Type", "application/json")
	r, err := (&http.Client{Timeout: 20 * time.Second}).Do(q)
	if err != nil {
		return 0, false
	}
	defer r.Body.Close()
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return 0, false
	}
	if into != nil && json.Unmarshal(data, into) != nil {
		return r.StatusCode, false
	}
	return r.StatusCode, true
}

// rush writes a small movie of n frames.
func rush(t *testing.T, file string, n int) {
	t.Helper()
	w, err := media.Create(file, 0, media.Options{})
	if err != nil {
		t.Fatal(err)
	}
	for i := range n {
		f := frame.New(192, 108, 3)
		for p := range 3 {
			for y := range f.H {
				for x := range f.W {
					f.Row(p, y)[x] = float32(x+y*p+i) / 400
				}
			}
		}
		if err := w.Write(t.Context(), f); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
}

type shotNow struct {
	ID       uint
	Revision int
	Look     struct {
		Stations map[string]struct {
			Steps []struct {
				Kind     string
				Settings map[string]any
			}
		}
	}
}

func (s *shotNow) stops() float64 {
	for _, p := range s.Look.Stations["balance"].Steps {
		if p.Kind == "exposure" {
			v, _ := p.Settings["stops"].(float64)
			return v
		}
	}
	return 0
}

// Killed at any moment while it edits and delivers, the program has every change that it acknowledged, no file is damaged
// or half there, and the database's own check passes. VELOURS_KILLS says how often (`make survive`: 100 times).
func TestSurvivesBeingKilled(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil && os.Getenv("CI") == "" {
		t.Skip("needs ffmpeg")
	}
	kills := 30
	if v, err := strconv.Atoi(os.Getenv("VELOURS_KILLS")); err == nil {
		kills = v
	}
	dir := t.TempDir()
	data := filepath.Join(dir, "data")
	rush(t, filepath.Join(dir, "rush.mkv"), 24)
	dice := rand.New(rand.NewPCG(3, uint64(kills)))
	args := []string{"serve", "--addr", "127.0.0.1:0", "--data", data, "--memory", "1200", "--media", dir}
	formats := []string{"movie-ffv1", "sequence-png", "still-tiff", "sequence-dpx", "movie-prores", "table-cube"}
	acked, pending, revision := 0.0, 0.0, 0
	edits, delivered := 0, 0
	for round := range kills + 1 {
		a := args
		if round == 0 {
			a = append(args, "--add", filepath.Join(dir, "rush.mkv"))
		}
		c := startChild(t, a...)
		var s shotNow
		if status, ok := c.ask("GET", "/shots/1", "", &s); !ok || status != 200 {
			t.Fatalf("round %d: the shot is gone: %d", round, status)
		}
		if got := s.stops(); got != acked && got != pending {
			t.Fatalf("round %d: exposure is %g; %g was acknowledged, %g was on its way", round, got, acked, pending)
		}
		if s.Revision < revision {
			t.Fatalf("round %d: revision %d, and %d was acknowledged", round, s.Revision, revision)
		}
		checkFolder(t, round, c, data)
		if round == kills {
			c.cmd.Process.Signal(os.Interrupt)
			if err := c.cmd.Wait(); err != nil {
				t.Errorf("it does not end well: %v", err)
			}
			break
		}
		if round == 0 {
			if status, ok := c.ask("POST", "/declarations", `{"shots":[1],"encoding":"srgb"}`, nil); !ok || status != 200 {
				t.Fatalf("declaring: %d", status)
			}
		}
		acked = s.stops()
		go func() {
			time.Sleep(time.Duration(dice.IntN(450)) * time.Millisecond)
			c.cmd.Process.Kill()
		}()
		for n := 0; ; n++ {
			if n%6 == 0 {
				if status, ok := c.ask("POST", "/shots/1/deliveries", fmt.Sprintf(`{"format":%q,"frame":3}`, formats[(round+n)%len(formats)]), nil); ok && status == 200 {
					delivered++
				}
			}
			pending = float64(1+(round*97+n)%5000) / 1000
			status, ok := c.ask("POST", "/shots/1/edits", fmt.Sprintf(`{"op":"set","station":"balance","kind":"exposure","setting":"stops","value":%g}`, pending), &s)
			if !ok {
				break
			}
			if status != 200 {
				t.Fatalf("round %d: an edit is refused: %d", round, status)
			}
			acked, revision = pending, s.Revision
			edits++
		}
		c.cmd.Wait()
	}
	if err := library.CheckFile(filepath.Join(data, "library.db")); err != nil {
		t.Errorf("the database does not hold: %v", err)
	}
	t.Logf("%d kills, %d edits acknowledged, %d deliveries begun", kills, edits, delivered)
	if edits < kills {
		t.Errorf("%d edits in %d rounds: nothing was put to the test", edits, kills)
	}
}

// checkFolder looks for what a killed program must not leave, once another has started.
func checkFolder(t *testing.T, round int, c *child, data string) {
	t.Helper()
	err := filepath.WalkDir(data, func(p string, e os.DirEntry, err error) error {
		if err == nil && strings.Contains(e.Name(), "velours-part") {
			t.Errorf("round %d: a part is left: %s", round, p)
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	var list []struct {
		ID                  uint
		Format, Path, State string
		Total               int
	}
	if status, ok := c.ask("GET", "/deliveries", "", &list); !ok || status != 200 {
		t.Fatalf("round %d: the deliveries cannot be had: %d", round, status)
	}
	for _, d := range list {
		if d.Path == "" {
			t.Errorf("round %d: delivery %d has no path", round, d.ID)
			continue
		}
		file := d.Path
		whole := strings.HasPrefix(d.Format, "sequence")
		if whole {
			file = filepath.Dir(file)
		}
		_, err := os.Stat(file)
		switch d.State {
		case "done":
			if err != nil {
				t.Errorf("round %d: delivery %d is done, and its file is not there: %v", round, d.ID, err)
			} else if n, _ := filepath.Glob(filepath.Join(file, "*")); whole && len(n) != d.Total {
				t.Errorf("round %d: delivery %d is done, and has %d of %d files", round, d.ID, len(n), d.Total)
			}
		case "failed":
			// it may have got its name in the moment before: then it is whole
			if err == nil && whole {
				if n, _ := filepath.Glob(filepath.Join(file, "*")); len(n) != d.Total {
					t.Errorf("round %d: %d of %d files stand under the name of delivery %d", round, len(n), d.Total, d.ID)
				}
			} else if err == nil && strings.HasPrefix(d.Format, "movie") {
				if r, err := media.Open(t.Context(), file); err != nil || r.Info.Frames != d.Total {
					t.Errorf("round %d: half a movie stands under the name of delivery %d: %v", round, d.ID, err)
				} else {
					r.Close()
				}
			}
		default:
			t.Errorf("round %d: delivery %d is %s after a new start", round, d.ID, d.State)
		}
	}
}

// A decoder that hangs keeps nobody from ending the program.
func TestEndsBesideAHungDecoder(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil && os.Getenv("CI") == "" {
		t.Skip("needs ffmpeg")
	}
	dir := t.TempDir()
	rush(t, filepath.Join(dir, "rush.mkv"), 200)
	c := startChild(t, "serve", "--addr", "127.0.0.1:0", "--data", filepath.Join(dir, "data"), "--memory", "1200", "--add", filepath.Join(dir, "rush.mkv"))
	if status, ok := c.ask("POST", "/declarations", `{"shots":[1],"encoding":"srgb"}`, nil); !ok || status != 200 {
		t.Fatal(status)
	}
	if status, ok := c.ask("POST", "/shots/1/deliveries", `{"format":"movie-ffv1","frame":0}`, nil); !ok || status != 200 {
		t.Fatal(status)
	}
	stopped := 0
	for end := time.Now().Add(20 * time.Second); stopped == 0 && time.Now().Before(end); time.Sleep(5 * time.Millisecond) {
		out, _ := exec.Command("pgrep", "-P", strconv.Itoa(c.cmd.Process.Pid), "ffmpeg").Output()
		for _, word := range strings.Fields(string(out)) {
			if pid, err := strconv.Atoi(word); err == nil && syscall.Kill(pid, syscall.SIGSTOP) == nil {
				stopped++
			}
		}
	}
	if stopped == 0 {
		t.Skip("no decoder was met at work")
	}
	c.cmd.Process.Signal(os.Interrupt)
	ended := make(chan error, 1)
	go func() { ended <- c.cmd.Wait() }()
	select {
	case err := <-ended:
		var exit *exec.ExitError
		if err != nil && !errors.As(err, &exit) {
			t.Error(err)
		}
	case <-time.After(20 * time.Second):
		t.Fatal("the program does not end beside a hung decoder")
	}
}

// A full or read-only disk is told in one line with its cause and remedy; what was acknowledged before is there.
func TestDisksThatRefuse(t *testing.T) {
	dir := t.TempDir()
	disk := filepath.Join(dir, "disk")
	if err := os.Mkdir(disk, 0o755); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("mount", "-t", "tmpfs", "-o", "size=6m", "tmpfs", disk).CombinedOutput(); err != nil {
		t.Skipf("a small disk cannot be made here: %s", out)
	}
	t.Cleanup(func() { exec.Command("umount", "-l", disk).Run() })
	rush(t, filepath.Join(dir, "rush.mkv"), 60)
	data := filepath.Join(disk, "data")
	c := startChild(t, "serve", "--addr", "127.0.0.1:0", "--data", data, "--memory", "1200", "--add", filepath.Join(dir, "rush.mkv"))
	if status, ok := c.ask("POST", "/declarations", `{"shots":[1],"encoding":"srgb"}`, nil); !ok || status != 200 {
		t.Fatal(status)
	}
	c.ask("POST", "/shots/1/deliveries", `{"format":"sequence-dpx16","frame":0}`, nil)
	var list []struct{ State, Note string }
	for end := time.Now().Add(2 * time.Minute); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		if _, ok := c.ask("GET", "/deliveries", "", &list); ok && len(list) > 0 && list[0].State != "running" {
			break
		}
	}
	if len(list) == 0 || list[0].State != "failed" || !strings.Contains(list[0].Note, "disk is full") || strings.Contains(list[0].Note, "\n") {
		t.Errorf("a delivery onto a full disk: %+v", list)
	}
	if left, _ := filepath.Glob(filepath.Join(data, "deliveries", "*")); len(left) > 0 {
		t.Errorf("left on the full disk: %v", left)
	}
	// fill what is left, and edit until it is told
	var acked float64
	f, err := os.Create(filepath.Join(disk, "filler"))
	if err != nil {
		t.Fatal(err)
	}
	io.Copy(f, zeros{})
	f.Close()
	told := ""
	for n := 1; n < 3000 && told == ""; n++ {
		var answer struct {
			Detail   string
			Revision int
		}
		status, ok := c.ask("POST", "/shots/1/edits", fmt.Sprintf(`{"op":"set","station":"balance","kind":"exposure","setting":"stops","value":%g}`, float64(n)/1000), &answer)
		switch {
		case !ok:
			t.Fatal("the program is gone")
		case status == 200:
			acked = float64(n) / 1000
		default:
			told = fmt.Sprintf("%d %s", status, answer.Detail)
		}
	}
	if !strings.Contains(told, "507") || !strings.Contains(told, "disk is full") || strings.Contains(told, "\n") {
		t.Errorf("an edit onto a full disk: %q", told)
	}
	os.Remove(filepath.Join(disk, "filler"))
	var s shotNow
	if status, ok := c.ask("GET", "/shots/1", "", &s); !ok || status != 200 || s.stops() != acked {
		t.Errorf("after the disk was full exposure is %g, and %g was acknowledged", s.stops(), acked)
	}
	if status, _ := c.ask("POST", "/shots/1/edits", `{"op":"set","station":"balance","kind":"exposure","setting":"stops","value":2}`, &s); status != 200 {
		t.Errorf("with room again: %d", status)
	}
	c.cmd.Process.Signal(os.Interrupt)
	c.cmd.Wait()
	if out, err := exec.Command("mount", "-o", "remount,ro", disk).CombinedOutput(); err != nil {
		t.Skipf("it cannot be made read-only: %s", out)
	}
	var problems bytes.Buffer
	if code := run([]string{"serve", "--addr", "127.0.0.1:0", "--data", data}, io.Discard, &problems); code != 2 || strings.Count(problems.String(), "\n") != 1 || !strings.Contains(problems.String(), "--data") {
		t.Errorf("a read-only disk: %d %q", code, problems.String())
	}
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) { clear(p); return len(p), nil }
