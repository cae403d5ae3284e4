package media

import (
	"bufio"
	"bytes"
	"container/list"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"strings"
	"sync"

	"velours/core/frame"
)

// Reader gives frames of one shot. It is safe for concurrent use.
type Reader struct {
	Info   *Info
	key    string
	layout layout
	seq    *sequence

	mu     sync.Mutex
	last   int  // the frame that was asked for last
	ahead  bool // somebody is reading ahead
	closed bool
	cache  map[int]*list.Element
	recent *list.List
	pipe   *pipe
}

type cached struct {
	n    int
	data []byte
}

// CacheBytes bounds the undecoded frames a reader keeps.
const CacheBytes = 256 << 20

// Open probes a file or sequence and prepares to read it.
func Open(ctx context.Context, path string) (*Reader, error) {
	in, err := Probe(ctx, path)
	if err != nil {
		return nil, err
	}
	r := &Reader{Info: in, layout: layoutOf(in), cache: map[int]*list.Element{}, recent: list.New()}
	first := path
	if in.Kind == "sequence" {
		s, err := findSequence(path)
		if err != nil {
			return nil, err
		}
		r.seq = &s
		first = s.file(0)
	}
	st, err := os.Stat(first)
	if err != nil {
		return nil, &FileError{path, "cannot be looked at: " + cause(err), ""}
	}
	r.key = fmt.Sprintf("%s %d %d", path, st.Size(), st.ModTime().UnixNano())
	return r, nil
}

// Key names the data behind the reader: it changes when the file does.
func (r *Reader) Key() string { return r.key }

// Integral tells whether the file holds whole numbers, not floats.
func (r *Reader) Integral() bool { return r.Info.Codec != "exr" && r.Info.Depth <= 16 }

// Close stops the decoder, if one is warm.
func (r *Reader) Close() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.closed = true
	r.stop()
}

// readAhead is how many frames are decoded before they are asked for, once frames are taken in order.
const readAhead = 4

// goOn decodes the next frames while nobody asks for others. It lets go between them, so that whoever
// asks waits for one frame at most.
func (r *Reader) goOn(path string, from int) {
	for n := from; n < min(from+readAhead, r.Info.Frames); n++ {
		r.mu.Lock()
		if r.closed || r.last != from-1 || r.pipe == nil || r.pipe.next > n {
			r.ahead = false
			r.mu.Unlock()
			return
		}
		_, err := r.bytes(context.Background(), path, n)
		if err != nil { // it is told when somebody asks for that frame
			r.ahead = false
			r.mu.Unlock()
			return
		}
		r.mu.Unlock()
	}
	r.mu.Lock()
	r.ahead = false
	r.mu.Unlock()
}

// Frame returns frame n, counted from 0.
func (r *Reader) Frame(ctx context.Context, n int) (*frame.Frame, error) {
	if n < 0 || n >= r.Info.Frames {
		return nil, &FileError{r.Info.Path, fmt.Sprintf("has no frame %d", n), fmt.Sprintf("its frames go from 0 to %d", r.Info.Frames-1)}
	}
	path := r.Info.Path
	if r.seq != nil {
		path = r.seq.file(n)
		if _, err := os.Stat(path); err != nil && r.seq.missing(n) { // unless it was copied since
			return nil, &FileError{path, "is missing: there is a gap in the sequence", "copy it beside the others, or go around it with in and out"}
		}
	}
	if isStill(path) {
		f, err := readStill(path)
		if err == nil && (f.W != r.Info.W || f.H != r.Info.H) {
			return nil, &FileError{path, fmt.Sprintf("is %d×%d in a sequence of %d×%d", f.W, f.H, r.Info.W, r.Info.H), "render it again at the sequence's size"}
		}
		return f, err
	}
	r.mu.Lock()
	data, err := r.bytes(ctx, path, n)
	inOrder := n == r.last+1 && !r.closed
	r.last = n
	if err == nil && inOrder && !r.ahead && r.Info.Kind == "movie" && r.cache[n+1] == nil {
		r.ahead = true
		go r.goOn(path, n+1)
	}
	if r.closed { // somebody still had it; no decoder stays warm
		r.stop()
	}
	r.mu.Unlock()
	if err != nil {
		return nil, err
	}
	return r.layout.decode(data), nil
}

func (r *Reader) bytes(ctx context.Context, path string, n int) ([]byte, error) {
	if e := r.cache[n]; e != nil {
		r.recent.MoveToFront(e)
		return e.Value.(*cached).data, nil
	}
	if r.Info.Kind != "movie" {
		p, err := r.start(path, 0)
		if err != nil {
			return nil, err
		}
		defer p.stop()
		data, err := p.read(r.layout.bytes())
		if err != nil {
			return nil, &FileError{path, "cannot be decoded" + p.complaint(), "check that it is what its name says, or copy it again"}
		}
		r.keep(n, data)
		return data, nil
	}
	if r.pipe == nil || n < r.pipe.next || n > r.pipe.next+32 {
		r.stop()
		p, err := r.start(path, n)
		if err != nil {
			return nil, err
		}
		r.pipe = p
	}
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		at := r.pipe.next
		data, err := r.pipe.read(r.layout.bytes())
		if err != nil {
			what := fmt.Sprintf("frame %d cannot be decoded%s", at, r.pipe.complaint())
			r.stop()
			return nil, &FileError{path, what, "the file may be cut short: copy it again"}
		}
		r.pipe.next++
		r.keep(at, data)
		if at == n {
			return data, nil
		}
	}
}

func (r *Reader) keep(n int, data []byte) {
	r.cache[n] = r.recent.PushFront(&cached{n, data})
	for len(r.cache)*len(data) > CacheBytes && len(r.cache) > 1 {
		e := r.recent.Back()
		r.recent.Remove(e)
		delete(r.cache, e.Value.(*cached).n)
	}
}

func (r *Reader) stop() {
	if r.pipe != nil {
		r.pipe.stop()
		r.pipe = nil
	}
}

// pipe is a running decoder.
type pipe struct {
	cmd     *exec.Cmd
	out     *bufio.Reader
	next    int
	problem *bytes.Buffer
}

// start runs a decoder whose first frame is frame from, counted by decoding from the beginning, so
// that it is that frame whatever the file's index claims.
func (r *Reader) start(path string, from int) (*pipe, error) {
	args := []string{"-v", "error", "-nostdin", "-xerror", "-i", "file:" + path, "-map", "0:v:0", "-fps_mode", "passthrough"}
	if from > 0 {
		args = append(args, "-vf", fmt.Sprintf("select=gte(n\\,%d)", from))
	}
	args = append(args, "-f", "rawvideo", "-pix_fmt", r.layout.name, "pipe:1")
	cmd := exec.Command("ffmpeg", args...)
	p := &pipe{cmd: cmd, next: from, problem: &bytes.Buffer{}}
	cmd.Stderr = p.problem
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, fmt.Errorf("starting the decoder: %w", err)
	}
	if err := cmd.Start(); err != nil {
		if errors.Is(err, exec.ErrNotFound) {
			return nil, errors.New("ffmpeg is not installed; install Debian's ffmpeg package")
		}
		return nil, fmt.Errorf("starting the decoder: %w", err)
	}
	p.out = bufio.NewReaderSize(out, 1<<20)
	return p, nil
}

func (p *pipe) read(n int) ([]byte, error) {
	data := make([]byte, n)
	_, err := io.ReadFull(p.out, data)
	return data, err
}

func (p *pipe) stop() {
	p.cmd.Process.Kill()
	p.cmd.Wait()
}

// complaint is the decoder's first line of complaint, in brackets. It ends the decoder.
func (p *pipe) complaint() string {
	p.stop()
	line, _, _ := strings.Cut(strings.TrimSpace(p.problem.String()), "\n")
	if line == "" {
		return ""
	}
	if _, after, ok := strings.Cut(line, "] "); ok {
		line = after
	}
	return " (" + line + ")"
}

// Stale tells whether the file has changed since the reader was opened.
func (r *Reader) Stale() bool {
	first := r.Info.Path
	if r.seq != nil {
		first = r.seq.file(0)
	}
	st, err := os.Stat(first)
	return err != nil || r.key != fmt.Sprintf("%s %d %d", r.Info.Path, st.Size(), st.ModTime().UnixNano())
}
