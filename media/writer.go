package media

import (
	"bufio"
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"

	"velours/core/frame"
)

// Options say how pictures are written.
type Options struct {
	Rate  string // frames a second, as a fraction; "24/1" when empty
	Half  bool   // EXR in half instead of float
	Light bool   // the samples are not display code values: float formats only
}

// Writer takes the pictures of one delivery in order.
type Writer struct {
	path    string
	opt     Options
	pattern bool
	n       int
	first   int
	movie   *encoder
	written []string
}

// Create checks that path can be written in the format of its name and prepares to. first is the
// number of the first file of a sequence.
func Create(path string, first int, opt Options) (*Writer, error) {
	if opt.Rate == "" {
		opt.Rate = "24/1"
	}
	w := &Writer{path: path, opt: opt, first: first, pattern: strings.Contains(filepath.Base(path), "%")}
	ext := extension(path)
	if w.pattern {
		if err := checkPattern(path); err != nil {
			return nil, err
		}
	}
	switch ext {
	case ".exr":
	case ".png", ".tif", ".tiff", ".jpg", ".jpeg", ".dpx", ".mov", ".mp4", ".mkv":
		if opt.Light {
			return nil, &FileError{path, "cannot carry light or density", "write .exr"}
		}
		if w.pattern && (ext == ".mov" || ext == ".mp4" || ext == ".mkv") {
			return nil, &FileError{path, "is a movie with a counter in its name", "leave the counter out"}
		}
	default:
		return nil, &FileError{path, "has an ending that cannot be written", "use .exr .dpx .tif .png .jpg .mov .mp4 or .mkv"}
	}
	dir := filepath.Dir(path)
	if st, err := os.Stat(dir); err != nil || !st.IsDir() {
		return nil, &FileError{path, "its folder does not exist", "make it first"}
	}
	probe, err := os.CreateTemp(dir, ".velours-*.velours-part")
	if err != nil {
		return nil, &FileError{path, "cannot be written: " + cause(err), "check the folder's permissions and space"}
	}
	probe.Close()
	os.Remove(probe.Name())
	if st, err := os.Stat(path); err == nil && st.IsDir() {
		return nil, &FileError{path, "is a folder", "give a file name"}
	}
	return w, nil
}

func (w *Writer) isMovie() bool {
	switch extension(w.path) {
	case ".mov", ".mp4", ".mkv":
		return true
	}
	return false
}

// Write adds a picture.
func (w *Writer) Write(ctx context.Context, f *frame.Frame) error {
	defer func() { w.n++ }()
	if w.isMovie() {
		if w.movie == nil {
			e, err := startEncoder(w.path, f.W, f.H, w.opt)
			if err != nil {
				return err
			}
			w.movie = e
		}
		return w.movie.write(f)
	}
	path := w.path
	if w.pattern {
		path = fmt.Sprintf(w.path, w.first+w.n)
	} else if w.n > 0 {
		return &FileError{w.path, "holds one picture, and there are more", "write a sequence with a counter, such as name.%06d" + extension(w.path)}
	}
	part := partName(path)
	err := w.still(ctx, part, extension(path), f)
	if err == nil {
		err = os.Rename(part, path)
	}
	if err != nil {
		os.Remove(part)
		return &FileError{path, "cannot be written: " + cause(err), "check the folder's permissions and space"}
	}
	w.written = append(w.written, path)
	return nil
}

func partName(path string) string {
	return filepath.Join(filepath.Dir(path), "."+filepath.Base(path)+".velours-part")
}

func (w *Writer) still(ctx context.Context, part, ext string, f *frame.Frame) error {
	if ext == ".exr" || ext == ".dpx" {
		return w.ffmpegStill(ctx, part, ext, f)
	}
	out, err := os.Create(part)
	if err != nil {
		return err
	}
	b := bufio.NewWriterSize(out, 1<<20)
	err = writeStill(b, ext, f)
	if err == nil {
		err = b.Flush()
	}
	return errors.Join(err, out.Close())
}

// ffmpegStill writes one EXR (float or half, zip) or DPX (10-bit RGB).
func (w *Writer) ffmpegStill(ctx context.Context, part, ext string, f *frame.Frame) error {
	size := strconv.Itoa(f.W) + "x" + strconv.Itoa(f.H)
	args := []string{"-v", "error", "-y", "-f", "rawvideo", "-s", size}
	var data []byte
	if ext == ".exr" {
		format := "float"
		if w.opt.Half {
			format = "half"
		}
		pix := "gbrpf32le"
		if f.Planes > 3 {
			pix = "gbrapf32le"
		}
		args = append(args, "-pix_fmt", pix, "-i", "pipe:0", "-frames:v", "1", "-c:v", "exr", "-compression", "zip16", "-format", format, "-f", "image2", "-update", "1", "file:"+part)
		data = floatPlanes(f)
	} else {
		args = append(args, "-pix_fmt", "gbrp10le", "-i", "pipe:0", "-frames:v", "1", "-c:v", "dpx", "-f", "image2", "-update", "1", "file:"+part)
		data = intPlanes(f, 10)
	}
	cmd := exec.CommandContext(ctx, "ffmpeg", args...)
	var problem bytes.Buffer
	cmd.Stdin, cmd.Stderr = bytes.NewReader(data), &problem
	if err := cmd.Run(); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		line, _, _ := strings.Cut(problem.String(), "\n")
		return fmt.Errorf("%w (%s)", err, line)
	}
	return nil
}

// floatPlanes is G, B, R and perhaps A as little-endian floats.
func floatPlanes(f *frame.Frame) []byte {
	out := make([]byte, 0, 4*f.W*f.H*f.Planes)
	for _, p := range []int{1, 2, 0, 3}[:f.Planes] {
		for y := range f.H {
			for _, v := range f.Row(p, y) {
				out = binary.LittleEndian.AppendUint32(out, math.Float32bits(v))
			}
		}
	}
	return out
}

// intPlanes is G, B, R rounded to depth bits, two bytes a sample.
func intPlanes(f *frame.Frame, depth int) []byte {
	top := float32(int(1)<<depth - 1)
	out := make([]byte, 0, 2*f.W*f.H*3)
	for _, p := range []int{1, 2, 0} {
		for y := range f.H {
			for _, v := range f.Row(p, y) {
				out = binary.LittleEndian.AppendUint16(out, uint16(min(max(v, 0), 1)*top+0.5))
			}
		}
	}
	return out
}

// Close finishes the delivery: a movie gets its name only now.
func (w *Writer) Close() error {
	if w.movie == nil {
		return nil
	}
	if err := w.movie.close(); err != nil {
		os.Remove(w.movie.part)
		return err
	}
	return os.Rename(w.movie.part, w.path)
}

// Abort leaves nothing of the delivery behind.
func (w *Writer) Abort() {
	if w.movie != nil {
		w.movie.kill()
		os.Remove(w.movie.part)
	}
	for _, p := range w.written {
		os.Remove(p)
	}
}

// encoder is a running ffmpeg that takes frames.
type encoder struct {
	cmd     *exec.Cmd
	in      io.WriteCloser
	problem bytes.Buffer
	part    string
	path    string
	rgb     bool
	buf     []byte
}

// startEncoder chooses codec and container by the name: ProRes 422 HQ in .mov, H.264 10-bit 4:2:0 in
// .mp4 (at 4:2:2 Debian's encoder breaks for some heights), lossless FFV1 in .mkv. Both of the
// first take planar 4:2:2 in BT.709, legal range.
func startEncoder(path string, w, h int, opt Options) (*encoder, error) {
	e := &encoder{part: partName(path), path: path}
	args := []string{"-v", "error", "-y", "-f", "rawvideo", "-s", strconv.Itoa(w) + "x" + strconv.Itoa(h), "-r", opt.Rate}
	tags := []string{"-color_primaries", "bt709", "-color_trc", "bt709", "-colorspace", "bt709", "-color_range", "tv"}
	switch extension(path) {
	case ".mov":
		args = append(args, "-pix_fmt", "yuv422p10le", "-i", "pipe:0", "-c:v", "prores_ks", "-profile:v", "3")
		args = append(append(args, tags...), "-f", "mov")
	case ".mp4":
		args = append(args, "-pix_fmt", "yuv422p10le", "-i", "pipe:0", "-c:v", "libx264", "-pix_fmt", "yuv420p10le", "-preset", "medium", "-crf", "12")
		args = append(append(args, tags...), "-movflags", "+faststart", "-f", "mp4")
	default:
		e.rgb = true
		args = append(args, "-pix_fmt", "gbrp16le", "-i", "pipe:0", "-c:v", "ffv1", "-level", "3", "-f", "matroska")
	}
	if !e.rgb && w%2 != 0 {
		return nil, &FileError{path, fmt.Sprintf("a movie of %d pixels across cannot be 4:2:2", w), "choose an even width"}
	}
	args = append(args, "-fflags", "+bitexact", "-flags:v", "+bitexact", "file:"+e.part)
	e.cmd = exec.Command("ffmpeg", args...)
	e.cmd.Stderr = &e.problem
	in, err := e.cmd.StdinPipe()
	if err != nil {
		return nil, fmt.Errorf("starting the encoder: %w", err)
	}
	e.in = in
	if err := e.cmd.Start(); err != nil {
		if errors.Is(err, exec.ErrNotFound) {
			return nil, errors.New("ffmpeg is not installed; install Debian's ffmpeg package")
		}
		return nil, fmt.Errorf("starting the encoder: %w", err)
	}
	return e, nil
}

func (e *encoder) write(f *frame.Frame) error {
	data := []byte(nil)
	if e.rgb {
		data = intPlanes(f, 16)
	} else {
		e.buf = Legal422(e.buf[:0], f)
		data = e.buf
	}
	if _, err := e.in.Write(data); err != nil {
		e.cmd.Wait()
		line, _, _ := strings.Cut(strings.TrimSpace(e.problem.String()), "\n")
		return &FileError{e.path, "the encoder stopped (" + line + ")", "check the space on the disk"}
	}
	return nil
}

func (e *encoder) close() error {
	e.in.Close()
	if err := e.cmd.Wait(); err != nil {
		line, _, _ := strings.Cut(strings.TrimSpace(e.problem.String()), "\n")
		return &FileError{e.path, "the encoder failed (" + line + ")", "check the space on the disk"}
	}
	return nil
}

func (e *encoder) kill() {
	e.cmd.Process.Kill()
	e.cmd.Wait()
}

// Legal422 appends code values as planar 10-bit 4:2:2, BT.709, legal range, chroma on even columns
// filtered by (1 2 1)/4.
func Legal422(out []byte, f *frame.Frame) []byte {
	const kr, kb = 0.2126, 0.0722
	put := func(v float32, lo, hi float32) {
		out = binary.LittleEndian.AppendUint16(out, uint16(min(max(v, lo), hi)+0.5))
	}
	luma := make([]float32, f.W)
	for y := range f.H {
		r, g, b := f.Row(0, y), f.Row(1, y), f.Row(2, y)
		for x := range f.W {
			put(64+876*(kr*r[x]+(1-kr-kb)*g[x]+kb*b[x]), 4, 1019)
		}
	}
	for c := range 2 {
		k := float32(896 / (2 * (1 - kb)))
		p := 2
		if c == 1 {
			k, p = float32(896/(2*(1-kr))), 0
		}
		for y := range f.H {
			r, g, b, v := f.Row(0, y), f.Row(1, y), f.Row(2, y), f.Row(p, y)
			for x := range luma {
				luma[x] = v[x] - (kr*r[x] + (1-kr-kb)*g[x] + kb*b[x])
			}
			for x := 0; x < f.W; x += 2 {
				a, d := luma[max(x-1, 0)], luma[min(x+1, f.W-1)]
				put(512+k*(0.25*a+0.5*luma[x]+0.25*d), 4, 1019)
			}
		}
	}
	return out
}
