package media

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"os/exec"
	"strings"
	"sync/atomic"
	"time"
)

// decoder is a running ffmpeg that gives frames in order.
type decoder struct {
	cmd     *exec.Cmd
	end     context.CancelFunc // ends the process
	out     io.Reader
	next    int // the frame that comes next
	problem *bytes.Buffer
	silent  atomic.Bool // it was ended because nothing came
}

// patience is how long a decoder may give nothing before it counts as stuck. Variable for tests.
var patience = 90 * time.Second

// start runs a decoder whose first frame is frame from. In a movie whose packets could be listed it begins at a key
// frame near; the first frame is told by its own time, whatever the file's index claims. Otherwise it counts from the
// beginning.
func (r *Reader) start(path string, from int) (*decoder, error) {
	args := []string{"-v", "error", "-nostdin", "-xerror"}
	pick := ""
	if from > 0 {
		pick = fmt.Sprintf("select=gte(n\\,%d)", from)
		if seek, first, ok := r.Info.index.before(from); ok {
			args = append(args, "-copyts", "-seek_timestamp", "1", "-noaccurate_seek", "-ss", seek)
			pick = fmt.Sprintf("select=gte(pts\\,%d)", first)
		}
	}
	if r.layout.bytes() > largeFrame {
		args = append(args, "-thread_type", "slice")
	}
	args = append(args, input(path, r.Info.container)...)
	args = append(args, "-map", "0:v:0", "-fps_mode", "passthrough")
	if pick != "" {
		args = append(args, "-vf", pick)
	}
	args = append(args, "-f", "rawvideo", "-pix_fmt", r.layout.name, "pipe:1")
	ctx, end := context.WithCancel(context.Background())
	d := &decoder{cmd: tool(ctx, "ffmpeg", args...), end: end, next: from, problem: &bytes.Buffer{}}
	d.cmd.Stderr = &capped{to: d.problem}
	d.cmd.WaitDelay = time.Second
	out, err := d.cmd.StdoutPipe()
	if err == nil {
		err = d.cmd.Start()
	}
	if err != nil {
		end()
		return nil, started(err, "decoder")
	}
	widen(out)
	d.out = out
	return d, nil
}

// read reads the next n bytes. Where nothing at all comes for too long, the decoder is ended.
func (d *decoder) read(n int) ([]byte, error) {
	data := make([]byte, n)
	watch := time.AfterFunc(patience, func() { d.silent.Store(true); d.end() })
	defer watch.Stop()
	for at := 0; at < n; {
		k, err := d.out.Read(data[at:min(n, at+1<<20)])
		at += k
		if err != nil && at < n {
			if err == io.EOF {
				err = io.ErrUnexpectedEOF
			}
			return nil, err
		}
		watch.Reset(patience)
	}
	return data, nil
}

func (d *decoder) stop() {
	d.end()
	d.cmd.Wait()
}

// complaint is the decoder's first line of complaint, in brackets. It ends the decoder.
func (d *decoder) complaint() string {
	if d.silent.Load() {
		d.stop()
		return fmt.Sprintf(" (nothing came for %v)", patience)
	}
	// what it has to say it says as it ends: it has closed its output already, or is ended
	time.AfterFunc(time.Second, d.end)
	d.cmd.Wait()
	d.end()
	line, _, _ := strings.Cut(strings.TrimSpace(d.problem.String()), "\n")
	if line == "" {
		return ""
	}
	if _, after, ok := strings.Cut(line, "] "); ok {
		line = after
	}
	return " (" + line + ")"
}

// capped keeps the first few kilobytes of what is written.
type capped struct{ to *bytes.Buffer }

func (c *capped) Write(p []byte) (int, error) {
	if room := 8192 - c.to.Len(); room > 0 {
		c.to.Write(p[:min(room, len(p))])
	}
	return len(p), nil
}
