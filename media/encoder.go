package media

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"velours/core/frame"
)

// encoder is a running ffmpeg that takes frames.
type encoder struct {
	cmd     *exec.Cmd
	pipe    io.WriteCloser
	problem bytes.Buffer
	ended   bool
	stopped func() error // why it was to stop, nil while it may go on
	part    string       // what it makes until that is whole; counted, a name with a counter
	counted bool
	path    string
	in      raw
	colour  Colour
	full    bool
	frugal  bool
	begun   bool // something was written

	// Packed pictures wait in a queue that a goroutine of its own empties into the pipe, so that nobody waits for the encoder alone; what it has
	// taken is packed into again.
	queue, empty chan []byte
	closed       bool          // the queue is
	broken, fed  chan struct{} // the pipe is; all of the queue is through
}

// Codec is one way to write a movie.
type Codec struct {
	ID, Label string
	// Ext are the containers it goes into; the first codec of a container is its usual one.
	Ext []string
	// in is the raw form that ffmpeg is fed with.
	in   raw
	form string // that the encoder takes, in ffmpeg's words
	args []string
	bits string // what states the colour in its frames, if the encoder does not
}

// Codecs lists them all. H.264 takes 4:2:0: at 4:2:2 Debian's encoder breaks for some heights.
var Codecs = []Codec{
	{"prores-hq", "ProRes 422 HQ", []string{".mov"}, yuv422, "yuv422p10le", []string{"-c:v", "prores_aw", "-profile:v", "3"}, "prores_metadata"},
	{"prores-4444", "ProRes 4444", []string{".mov"}, yuv444, "yuv444p10le", []string{"-c:v", "prores_aw", "-profile:v", "4"}, "prores_metadata"},
	{"h264", "H.264 10-bit", []string{".mp4", ".mov"}, yuv422, "yuv420p10le", []string{"-c:v", "libx264", "-preset", "medium", "-crf", "12", "-movflags", "+faststart"}, ""},
	{"h265", "H.265 10-bit", []string{".mp4", ".mov"}, yuv422, "yuv420p10le", []string{"-c:v", "libx265", "-preset", "fast", "-crf", "13", "-tag:v", "hvc1", "-x265-params", "log-level=error", "-movflags", "+faststart"}, ""},
	{"ffv1", "FFV1 lossless", []string{".mkv"}, planes16, "gbrp16le", []string{"-c:v", "ffv1", "-level", "3"}, ""},
}

// Encoder is what ffmpeg is fed with, in its words, and the arguments that it encodes by, for who wants to time it alone.
func (c *Codec) Encoder() (format string, args []string) { return c.in.format(3), c.args }

func codecOf(path string, opt Options) (*Codec, error) {
	ext := extension(path)
	var here []string
	for i := range Codecs {
		c := &Codecs[i]
		if slices.Contains(c.Ext, ext) {
			if opt.Codec == "" || opt.Codec == c.ID {
				return c, nil
			}
			here = append(here, c.ID)
		}
	}
	return nil, &FileError{path, fmt.Sprintf("cannot hold the codec %q", opt.Codec), "its container takes " + strings.Join(here, ", ")}
}

// spend are the codec's arguments for a rate of data, 0 for its usual quality.
func (c *Codec) spend(path string, megabits float64, short bool) ([]string, error) {
	i := slices.Index(c.args, "-crf")
	if megabits == 0 {
		return c.args, nil
	}
	if i < 0 {
		return nil, &FileError{path, c.Label + " has no rate of data to choose", "choose H.264 or H.265, or leave the rate out"}
	}
	if !(megabits >= 0.1 && megabits <= 800) {
		return nil, &FileError{path, fmt.Sprintf("%g megabits a second is no rate for a movie", megabits), "choose 0.1 to 800"}
	}
	rate := func(k float64) string { return strconv.Itoa(int(megabits * k * 1e6)) }
	ceiling, reserve := 1.5, 1.5
	if short {
		ceiling, reserve = 1, 0.4
	}
	args := append(slices.Clone(c.args[:i]), "-b:v", rate(1), "-maxrate", rate(ceiling), "-bufsize", rate(reserve))
	args = append(args, c.args[i+2:]...)
	if short && c.ID == "h264" {
		return append(args, "-x264-params", "vbv-init=0.3"), nil
	}
	return args, nil
}

var muxers = map[string]string{".mov": "mov", ".mp4": "mp4", ".mkv": "matroska"}

// startMovie starts ffmpeg for a movie of pictures like f.
func startMovie(ctx context.Context, path string, f *frame.Frame, opt Options) (*encoder, error) {
	w, h := f.W, f.H
	c, err := codecOf(path, opt)
	if err != nil {
		return nil, err
	}
	untagged := opt.Colour == Colour{}
	if untagged {
		opt.Colour = Video
	}
	e := &encoder{part: partName(path), path: path, frugal: opt.Frugal, in: c.in, colour: opt.Colour, full: opt.Range == "full" || c.in == planes16}
	if c.in == yuv422 && w%2 != 0 {
		return nil, &FileError{path, fmt.Sprintf("a movie of %d pixels across cannot be 4:2:2", w), "choose an even width"}
	}
	args := feed(w, h, opt.Rate, c.in.format(f.Planes))
	spend, err := c.spend(path, opt.Megabits, opt.Short)
	if err != nil {
		return nil, err
	}
	args = append(args, spend...)
	if opt.Frugal { // each of its threads has pictures of its own
		args = append(args, "-threads", "1")
	}
	switch {
	case c.in != planes16:
		args = append(args, opt.Colour.args(e.full, c.form)...)
	case !untagged: // planes need no matrix, so they may keep silent
		args = append(args, "-color_primaries", opt.Colour.Primaries, "-color_trc", opt.Colour.Transfer)
	}
	if c.bits != "" { // some of what the encoder cannot say in its frames
		args = append(args, "-bsf:v", c.bits+"="+opt.Colour.numbers())
	}
	if opt.Timecode != "" && extension(path) != ".mkv" {
		args = append(args, "-timecode", opt.Timecode)
	}
	args = append(args, "-f", muxers[extension(path)])
	args = append(args, "-fflags", "+bitexact", "-flags:v", "+bitexact", "file:"+e.part)
	return e, e.start(ctx, "", args)
}

// startFiles starts ffmpeg for one EXR or DPX, or a sequence of them: EXR in float or half, compressed by zip; DPX of 10, 12 or 16-bit RGB.
func (w *Writer) startFiles(ctx context.Context, path string, f *frame.Frame, opt Options) (*encoder, error) {
	e := &encoder{part: partName(path), path: path, frugal: opt.Frugal, full: opt.Range != "legal"}
	var codec []string
	if extension(path) == ".exr" {
		format := "float"
		if opt.Half {
			format = "half"
		}
		e.in, codec = floats, []string{"-c:v", "exr", "-compression", "zip16", "-format", format}
	} else {
		depth := cmp.Or(opt.Depth, 10)
		e.in, codec = planesOf(depth), []string{"-c:v", "dpx"}
		if depth == 16 {
			codec = append(codec, "-pix_fmt", "rgb48be")
		}
	}
	args := append(feed(f.W, f.H, "24", e.in.format(f.Planes)), codec...)
	if opt.Frugal {
		args = append(args, "-threads", "1")
	}
	args = append(args, "-f", "image2")
	if w.pattern {
		e.counted, e.part = true, partName(counter.ReplaceAllString(path, "%d"))
		args = append(args, "-start_number", strconv.Itoa(w.first))
	} else {
		args = append(args, "-update", "1")
	}
	// named from its folder: a % in the way there is no counter
	args = append(args, "file:"+filepath.Base(e.part))
	return e, e.start(ctx, filepath.Dir(path), args)
}

// file is what an encoder makes, or the one of its files with a number, before it has its name.
func (e *encoder) file(number int) string {
	if !e.counted {
		return e.part
	}
	dir, base := filepath.Split(e.part)
	return dir + fmt.Sprintf(base, number)
}

// feed are the arguments for pictures that come through a pipe.
func feed(w, h int, rate, format string) []string {
	return []string{"-v", "error", "-y", "-f", "rawvideo", "-s", strconv.Itoa(w) + "x" + strconv.Itoa(h), "-r", rate, "-pix_fmt", format, "-i", "pipe:0"}
}

// start runs the encoder in a folder, "" for this program's.
func (e *encoder) start(ctx context.Context, dir string, args []string) error {
	e.cmd = tool(ctx, "ffmpeg", args...)
	e.cmd.Dir = dir
	e.stopped = ctx.Err
	e.cmd.Stderr = &capped{to: &e.problem}
	in, err := e.cmd.StdinPipe()
	if err != nil {
		return fmt.Errorf("starting the encoder: %w", err)
	}
	e.pipe = in
	if err := e.cmd.Start(); err != nil {
		return started(err, "encoder")
	}
	widen(in)
	n := waiting
	if e.frugal {
		n = 0
	}
	e.queue, e.empty = make(chan []byte, n), make(chan []byte, n+2)
	e.broken, e.fed = make(chan struct{}), make(chan struct{})
	go func() {
		defer close(e.fed)
		for data := range e.queue {
			if _, err := e.pipe.Write(data); err != nil {
				close(e.broken)
				return
			}
			e.empty <- data
		}
	}()
	return nil
}

// waiting is how many packed pictures may wait for the encoder.
const waiting = 2

// EncoderBytes is what an encoder of so many pixels takes for a file of that name, and what is packed for it, as measured.
func EncoderBytes(path string, pixels int64, frugal bool) (queued, own int64) {
	packed, each := int64(6), int64(50)
	if extension(path) == ".exr" {
		packed, each = 12, 90
	}
	if frugal {
		return packed * pixels, each * pixels * 6 / 10
	}
	return (waiting + 2) * packed * pixels, each * pixels
}

// DecoderBytes is what a decoder of so many pixels takes.
func DecoderBytes(pixels int64) int64 { return 40<<20 + 32*pixels }

// write packs a picture and queues it.
func (e *encoder) write(f *frame.Frame) error {
	var buf []byte
	select {
	case buf = <-e.empty:
	default:
		if e.frugal && e.begun { // there is one alone
			select {
			case buf = <-e.empty:
			case <-e.broken:
			}
		}
	}
	e.begun = true
	select {
	case <-e.broken:
		e.wait()
		return e.failed("the encoder stopped")
	case e.queue <- pack(buf, f, e.in, e.colour, e.full):
		return nil
	}
}

func (e *encoder) close() error {
	e.finish()
	<-e.fed
	e.pipe.Close()
	if err := e.wait(); err != nil || e.isBroken() {
		return e.failed("the encoder failed")
	}
	return nil
}

func (e *encoder) isBroken() bool {
	select {
	case <-e.broken:
		return true
	default:
		return false
	}
}

// finish tells that nothing more is queued.
func (e *encoder) finish() {
	if !e.closed {
		e.closed = true
		close(e.queue)
	}
}

// failed words why the encoder ended, by what it said.
func (e *encoder) failed(what string) error {
	if err := e.stopped(); err != nil {
		return err
	}
	line, _, _ := strings.Cut(strings.TrimSpace(e.problem.String()), "\n")
	if p := diskProblem(e.path, errors.New(e.problem.String())); !strings.HasPrefix(p.Remedy, "check") {
		return p
	}
	return &FileError{e.path, what + " (" + line + ")", "check the space on the disk, and that memory is left"}
}

func (e *encoder) wait() error {
	if e.ended {
		return nil
	}
	e.ended = true
	return e.cmd.Wait()
}

func (e *encoder) kill() {
	e.finish()
	if !e.ended {
		e.cmd.Process.Kill()
		<-e.fed
		e.wait()
	}
}
