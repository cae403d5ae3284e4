package media

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"
	"time"

	"velours/core/cache"
)

// longMovie makes a movie of n frames, with key frames far apart and frames that lean on later ones.
func longMovie(t *testing.T, name string, n int, args ...string) string {
	t.Helper()
	need(t)
	file := filepath.Join(t.TempDir(), name)
	all := append([]string{"-v", "error", "-f", "lavfi", "-i", fmt.Sprintf("testsrc2=size=128x96:rate=25:duration=%g", float64(n)/25), "-pix_fmt", "yuv420p"}, args...)
	if out, err := exec.Command("ffmpeg", append(all, file)...).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	return file
}

// A far seek begins at a key frame near, and gives the very frame that decoding from the beginning gives.
func TestFarSeekIsExact(t *testing.T) {
	const n = 400
	for _, c := range []struct {
		name string
		args []string
	}{
		{"a.mp4", []string{"-c:v", "libx264", "-g", "60", "-bf", "3", "-x264-params", "open-gop=1:b-pyramid=normal"}},
		{"a.mkv", []string{"-c:v", "libx264", "-g", "48", "-bf", "2"}},
		{"b.mov", []string{"-c:v", "libx265", "-x265-params", "log-level=error:keyint=50:open-gop=1:bframes=4", "-tag:v", "hvc1"}},
		{"a.mts", []string{"-c:v", "libx264", "-g", "50", "-bf", "2"}},
		{"late.mp4", []string{"-c:v", "libx264", "-g", "40", "-bf", "2", "-output_ts_offset", "7.3"}},
		{"a.mxf", []string{"-c:v", "mpeg2video", "-g", "12", "-bf", "2"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			file := longMovie(t, c.name, n, c.args...)
			plain, err := Open(ctx, file)
			if err != nil {
				t.Fatal(err)
			}
			defer plain.Close()
			want := make([][]byte, plain.Info.Frames)
			for i := range want {
				got, err := plain.wait(ctx, i)
				if err != nil {
					t.Fatalf("frame %d: %v", i, err)
				}
				want[i] = got.([]byte)
			}
			r, err := Open(ctx, file)
			if err != nil {
				t.Fatal(err)
			}
			defer r.Close()
			near := 0
			for _, i := range []int{len(want) - 3, 200, 333, 120, 60, 299, 151} {
				if _, _, ok := r.Info.index.before(i); ok {
					near++
				}
				got, err := r.wait(ctx, i)
				if err != nil {
					t.Fatalf("frame %d: %v", i, err)
				}
				if !slices.Equal(got.([]byte), want[i]) {
					t.Errorf("frame %d is another one after a far seek", i)
				}
			}
			if near < 4 {
				t.Errorf("%d of 7 seeks began near", near)
			}
		})
	}
}

// stopDecoder stops the decoder's process, as a disk that hangs would.
func stopDecoder(t *testing.T, r *Reader) int {
	t.Helper()
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.decoder == nil {
		t.Fatal("no decoder is warm")
	}
	pid := r.decoder.cmd.Process.Pid
	if err := syscall.Kill(pid, syscall.SIGSTOP); err != nil {
		t.Fatal(err)
	}
	return pid
}

// gone waits until a process has ended.
func gone(t *testing.T, pid int) {
	t.Helper()
	for end := time.Now().Add(10 * time.Second); syscall.Kill(pid, 0) == nil; time.Sleep(10 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("process %d is still there", pid)
		}
	}
}

// soon fails if f takes longer than anything but a hang does.
func soon(t *testing.T, what string, f func()) {
	t.Helper()
	done := make(chan struct{})
	go func() { defer close(done); f() }()
	select {
	case <-done:
	case <-time.After(15 * time.Second):
		t.Fatalf("%s hangs", what)
	}
}

// A decoder that hangs holds nobody: a request that is cancelled leaves, others can too, and closing ends it.
func TestHungDecoderHoldsNobody(t *testing.T) {
	r, err := Open(ctx, longMovie(t, "a.mkv", 40, "-vf", "scale=640:360", "-c:v", "ffv1"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := r.Frame(ctx, 0); err != nil {
		t.Fatal(err)
	}
	pid := stopDecoder(t, r)
	for _, n := range []int{30, 20} { // beyond the three that its pipe holds, and near enough to wait for it
		leaving, cancel := context.WithTimeout(ctx, 100*time.Millisecond)
		soon(t, "a request that was cancelled", func() {
			if _, err := r.Frame(leaving, n); !errors.Is(err, context.DeadlineExceeded) {
				t.Errorf("frame %d of a hung decoder: %v", n, err)
			}
		})
		cancel()
	}
	if _, err := r.Frame(ctx, 0); err != nil {
		t.Errorf("what is kept cannot be had: %v", err)
	}
	soon(t, "closing", r.Close)
	gone(t, pid)
	if _, err := r.Frame(ctx, 20); err != nil {
		t.Errorf("a closed reader reads no more: %v", err)
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.decoder != nil {
		t.Error("a closed reader keeps a decoder warm")
	}
}

// A decoder that gives nothing is given up, with the file named, and the next request has a new one.
func TestSilentDecoderIsGivenUp(t *testing.T) {
	was := patience
	defer func() { patience = was }()
	r, err := Open(ctx, longMovie(t, "a.mkv", 300, "-c:v", "ffv1"))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	if _, err := r.Frame(ctx, 0); err != nil {
		t.Fatal(err)
	}
	pid := stopDecoder(t, r)
	patience = 300 * time.Millisecond
	_, err = r.Frame(ctx, 30)
	for n := 31; err == nil && n < 300; n += 30 { // its pipe may hold some frames
		_, err = r.Frame(ctx, n)
	}
	var f *FileError
	if !errors.As(err, &f) || !strings.Contains(err.Error(), "nothing came") {
		t.Errorf("got %v", err)
	}
	gone(t, pid)
	patience = was
	if _, err := r.Frame(ctx, 299); err != nil {
		t.Error(err)
	}
}

// Many who want the same frame have one decoding, and a picture each.
func TestOneDecodingForMany(t *testing.T) {
	r, err := Open(ctx, longMovie(t, "a.mkv", 60, "-c:v", "ffv1"))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	type result struct {
		first float32
		err   error
	}
	out := make(chan result)
	for i := range 12 {
		go func() {
			f, err := r.Frame(ctx, 30+i%3)
			if err != nil {
				out <- result{0, err}
				return
			}
			f.Row(0, 0)[0]++ // each may do with it what they want
			out <- result{f.Row(0, 0)[0], nil}
		}()
	}
	seen := map[float32]int{}
	for range 12 {
		v := <-out
		if v.err != nil {
			t.Fatal(v.err)
		}
		seen[v.first]++
	}
	for v, n := range seen {
		if n%4 != 0 {
			t.Errorf("%g was seen %d times", v, n)
		}
	}
}

// A frame that is fetched is kept where it can be; of what would be read again nothing is read.
func TestFetchReadsWhatIsKept(t *testing.T) {
	need(t)
	for _, c := range []struct {
		name, file string
		room       int64
		kept       bool
	}{{"a movie", longMovie(t, "fetched.mov", 6), CacheBytes, true}, {"a movie that does not fit", longMovie(t, "large.mov", 6), 100, false}, {"a still", still(t), CacheBytes, false}} {
		r, err := Open(t.Context(), c.file)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Close()
		r.cache = cache.New[int, []byte](c.room)
		const untouched = -7
		r.last = untouched
		n := min(3, r.Info.Frames-1)
		r.Fetch(t.Context(), n)
		r.Fetch(t.Context(), r.Info.Frames) // there is none
		if read := r.last != untouched; read != c.kept || r.cache.Has(n) != c.kept {
			t.Errorf("%s: read %v, kept %v, want %v", c.name, read, r.cache.Has(n), c.kept)
		}
	}
}

func still(t *testing.T) string {
	t.Helper()
	name := filepath.Join(t.TempDir(), "still.png")
	f, err := os.Create(name)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if err := writePNG(f, madeUp(9, 7, 3, 2)); err != nil {
		t.Fatal(err)
	}
	return name
}
