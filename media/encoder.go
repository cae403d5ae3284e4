package media

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"os/exec"
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
	part    string
	path    string
	in      raw
	colour  Colour
	full    bool
	buf     []byte
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
}

// raw is a planar form of code values.
type raw int

const (
	yuv422     raw = iota // 10-bit YUV 4:2:2
	yuv444                // 10-bit YUV 4:4:4
	planesFull            // 16-bit G, B, R
)

func (r raw) format() string {
	return [...]string{"yuv422p10le", "yuv444p10le", "gbrp16le"}[r]
}

// Codecs lists them all. H.264 takes 4:2:0: at 4:2:2 Debian's encoder breaks for some heights.
var Codecs = []Codec{
	{"prores-hq", "ProRes 422 HQ", []string{".mov"}, yuv422, "yuv422p10le", []string{"-c:v", "prores_ks", "-profile:v", "3"}},
	{"prores-4444", "ProRes 4444", []string{".mov"}, yuv444, "yuv444p10le", []string{"-c:v", "prores_ks", "-profile:v", "4"}},
	{"h264", "H.264 10-bit", []string{".mp4", ".mov"}, yuv422, "yuv420p10le", []string{"-c:v", "libx264", "-preset", "medium", "-crf", "12", "-movflags", "+faststart"}},
	{"h265", "H.265 10-bit", []string{".mp4", ".mov"}, yuv422, "yuv420p10le", []string{"-c:v", "libx265", "-preset", "fast", "-crf", "13", "-tag:v", "hvc1", "-x265-params", "log-level=error", "-movflags", "+faststart"}},
	{"ffv1", "FFV1 lossless", []string{".mkv"}, planesFull, "gbrp16le", []string{"-c:v", "ffv1", "-level", "3"}},
}

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

// startEncoder starts ffmpeg for pictures of a size.
func startEncoder(ctx context.Context, path string, w, h int, opt Options) (*encoder, error) {
	c, err := codecOf(path, opt)
	if err != nil {
		return nil, err
	}
	untagged := opt.Colour == Colour{}
	if untagged {
		opt.Colour = Video
	}
	e := &encoder{part: partName(path), path: path, in: c.in, colour: opt.Colour, full: opt.Range == "full"}
	if c.in == yuv422 && w%2 != 0 {
		return nil, &FileError{path, fmt.Sprintf("a movie of %d pixels across cannot be 4:2:2", w), "choose an even width"}
	}
	args := []string{"-v", "error", "-y", "-f", "rawvideo", "-s", strconv.Itoa(w) + "x" + strconv.Itoa(h), "-r", opt.Rate, "-pix_fmt", c.in.format(), "-i", "pipe:0"}
	spend, err := c.spend(path, opt.Megabits, opt.Short)
	if err != nil {
		return nil, err
	}
	args = append(args, spend...)
	switch {
	case c.in != planesFull:
		args = append(args, opt.Colour.args(e.full, c.form)...)
	case !untagged: // planes need no matrix, so they may keep silent
		args = append(args, "-color_primaries", opt.Colour.Primaries, "-color_trc", opt.Colour.Transfer)
	}
	if opt.Timecode != "" && extension(path) != ".mkv" {
		args = append(args, "-timecode", opt.Timecode)
	}
	args = append(args, "-f", muxers[extension(path)])
	args = append(args, "-fflags", "+bitexact", "-flags:v", "+bitexact", "file:"+e.part)
	e.cmd = tool(ctx, "ffmpeg", args...)
	e.stopped = ctx.Err
	e.cmd.Stderr = &capped{to: &e.problem}
	in, err := e.cmd.StdinPipe()
	if err != nil {
		return nil, fmt.Errorf("starting the encoder: %w", err)
	}
	e.pipe = in
	if err := e.cmd.Start(); err != nil {
		return nil, started(err, "encoder")
	}
	return e, nil
}

func (e *encoder) write(f *frame.Frame) error {
	var data []byte
	switch e.in {
	case planesFull:
		data = intPlanes(f, 16)
	default:
		e.buf = yuv(e.buf[:0], f, e.colour, e.in, e.full)
		data = e.buf
	}
	if _, err := e.pipe.Write(data); err != nil {
		e.wait()
		return e.failed("the encoder stopped")
	}
	return nil
}

func (e *encoder) close() error {
	e.pipe.Close()
	if err := e.wait(); err != nil {
		return e.failed("the encoder failed")
	}
	return nil
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
	if !e.ended {
		e.cmd.Process.Kill()
		e.wait()
	}
}

// Legal422 appends code values as planar 10-bit 4:2:2, BT.709, legal range.
func Legal422(out []byte, f *frame.Frame) []byte { return yuv(out, f, Video, yuv422, false) }

// yuv appends code values as planes of luma and two differences, in legal or full range (H.273,
// equations 20 to 28 and 38 to 43), dithered; in 4:2:2 the differences stand on even columns, filtered by (1 2 1)/4.
func yuv(out []byte, f *frame.Frame, c Colour, form raw, full bool) []byte {
	kr, kb := c.weights()
	const unit = float32(4) // codes of ten bits for one of eight
	step := 2               // columns for one difference
	if form == yuv444 {
		step = 1
	}
	start := len(out)
	size := 2 * f.H * (f.W + 2*(f.W/step))
	out = append(out, make([]byte, size)...)
	at := out[start:]
	luma, row := make([]float32, f.W), make([]float32, f.W)
	lo, hi := unit, 255*unit-1 // the codes at either end are reserved
	black, span, swing := 16*unit, 219*unit, 224*unit
	if full {
		top := 256*unit - 1
		lo, hi, black, span, swing = 0, top, 0, top, top
	}
	d := NewDither(f.W, lo, hi)
	mix := func(y int) {
		r, g, b := f.Row(0, y), f.Row(1, y), f.Row(2, y)
		for x := range luma {
			luma[x] = kr*r[x] + (1-kr-kb)*g[x] + kb*b[x]
		}
	}
	for y := range f.H {
		mix(y)
		for x, v := range luma {
			row[x] = black + span*v
		}
		d.Row(row, func(x int, c uint16) { binary.LittleEndian.PutUint16(at[2*x:], c) })
		at = at[2*f.W:]
	}
	for _, p := range []int{2, 0} {
		k := kb
		if p == 0 {
			k = kr
		}
		k = swing / (2 * (1 - k))
		row := row[:f.W/step]
		d := NewDither(len(row), lo, hi)
		for y := range f.H {
			mix(y)
			v := f.Row(p, y)
			for x := range luma {
				luma[x] = v[x] - luma[x]
			}
			for i := range row {
				x := i * step
				m := luma[x]
				if step == 2 {
					m = 0.25*luma[max(x-1, 0)] + 0.5*m + 0.25*luma[min(x+1, f.W-1)]
				}
				row[i] = unit*128 + k*m
			}
			d.Row(row, func(x int, c uint16) { binary.LittleEndian.PutUint16(at[2*x:], c) })
			at = at[2*len(row):]
		}
	}
	return out
}
