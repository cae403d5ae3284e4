package media

import (
	"bufio"
	"bytes"
	"cmp"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"velours/core/frame"
)

// Options say how pictures are written.
type Options struct {
	Rate  string // frames a second, as a fraction; "24/1" when empty
	Half  bool   // EXR in half instead of float
	Light bool   // the samples are not display code values: float formats only
	// Codec of a movie; empty for the usual of its container (see Codecs).
	Codec string
	// Megabits a second that an H.264 or H.265 movie is to take, 0 for as many as its quality needs.
	Megabits float64
	// Short holds a movie of few frames to that rate from the first on, where a long one may spend ahead.
	Short bool
	// Depth of a still in bits: 8, 10, 12, 16 or 32 (float), 0 for the usual of its format.
	Depth int
	// Colour is what the code values mean; Gamut, if not nil, the chromaticities that an EXR states:
	// red, green, blue and white, x and y.
	Colour Colour
	Gamut  *[8]float32
	// Range is "legal" or "full"; empty for the usual: full for stills, legal for movies.
	Range string
	// Timecode of the first frame, for movies that carry one.
	Timecode string
}

// Writer takes the pictures of one delivery in order.
type Writer struct {
	path    string
	opt     Options
	pattern bool
	n       int
	first   int
	movie   *encoder
	whole   [][2]string // parts that are whole, and the names they will have
	named   int         // how many of them have
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
		if opt.Codec != "" || opt.Depth != 0 || opt.Range != "" || opt.Megabits != 0 {
			return nil, &FileError{path, "has no codec, depth, rate or range to choose", "leave them out; half or float is all an EXR asks for"}
		}
	case ".png", ".tif", ".tiff", ".jpg", ".jpeg", ".dpx", ".mov", ".mp4", ".mkv":
		if opt.Light {
			return nil, &FileError{path, "cannot carry light or density", "write .exr"}
		}
		if w.pattern && (ext == ".mov" || ext == ".mp4" || ext == ".mkv") {
			return nil, &FileError{path, "is a movie with a counter in its name", "leave the counter out"}
		}
		if err := checkForm(path, ext, opt); err != nil {
			return nil, err
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
		return nil, diskProblem(path, err)
	}
	probe.Close()
	os.Remove(probe.Name())
	if st, err := os.Stat(path); err == nil && st.IsDir() {
		return nil, &FileError{path, "is a folder", "give a file name"}
	}
	return w, nil
}

// stillDepths are the bits a still can have; the first is the usual.
var stillDepths = map[string][]int{".png": {16, 8}, ".tif": {16, 8, 32}, ".tiff": {16, 8, 32}, ".jpg": {8}, ".jpeg": {8}, ".dpx": {10, 16, 12}}

func checkForm(path, ext string, opt Options) error {
	if opt.Range != "" && opt.Range != "legal" && opt.Range != "full" {
		return &FileError{path, fmt.Sprintf("cannot have a range %q", opt.Range), "choose legal or full"}
	}
	if list, still := stillDepths[ext]; still {
		if opt.Codec != "" {
			return &FileError{path, "is no movie, so it has no codec " + opt.Codec, "leave the codec out"}
		}
		if opt.Megabits != 0 {
			return &FileError{path, "is no movie, so it has no rate of data", "leave the rate out"}
		}
		if opt.Depth != 0 && !slices.Contains(list, opt.Depth) {
			return &FileError{path, fmt.Sprintf("cannot have %d bits", opt.Depth), "choose one of " + fmt.Sprint(list)}
		}
		return nil
	}
	if opt.Depth != 0 {
		return &FileError{path, "is a movie; its codec sets the bits", "leave the depth out"}
	}
	c, err := codecOf(path, opt)
	if err == nil {
		_, err = c.spend(path, opt.Megabits, opt.Short)
	}
	return err
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
			e, err := startEncoder(ctx, w.path, f.W, f.H, w.opt)
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
	if w.opt.Range == "legal" {
		f = toLegal(f)
	}
	if err := w.still(ctx, part, extension(path), f); err != nil {
		os.Remove(part)
		if ctx.Err() != nil || errors.Is(err, ErrNoFFmpeg) {
			return err
		}
		return diskProblem(path, err)
	}
	w.whole = append(w.whole, [2]string{part, path})
	if w.pattern { // of a sequence, all together
		return nil
	}
	return w.name()
}

func partName(path string) string {
	return filepath.Join(filepath.Dir(path), "."+filepath.Base(path)+partEnding)
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
	err = writeStill(b, ext, w.opt.Depth, f)
	if err == nil {
		err = b.Flush()
	}
	return errors.Join(err, out.Close())
}

// ffmpegStill writes one EXR (float or half, zip) or DPX (10, 12 or 16-bit RGB).
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
		depth := cmp.Or(w.opt.Depth, 10)
		args = append(args, "-pix_fmt", fmt.Sprintf("gbrp%dle", depth), "-i", "pipe:0", "-frames:v", "1", "-c:v", "dpx")
		if depth == 16 {
			args = append(args, "-pix_fmt", "rgb48be")
		}
		args = append(args, "-f", "image2", "-update", "1", "file:"+part)
		data = intPlanes(f, depth)
	}
	cmd := tool(ctx, "ffmpeg", args...)
	var problem bytes.Buffer
	cmd.Stdin, cmd.Stderr = bytes.NewReader(data), &problem
	if err := cmd.Run(); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if errors.Is(err, exec.ErrNotFound) {
			return ErrNoFFmpeg
		}
		line, _, _ := strings.Cut(problem.String(), "\n")
		return fmt.Errorf("%w (%s)", err, line)
	}
	if ext == ".exr" && w.opt.Gamut != nil {
		return stateChromaticities(part, *w.opt.Gamut)
	}
	return nil
}

// toLegal brings code values of full range to the legal one: 64 to 940 of 1023 (BT.709, item 4).
func toLegal(f *frame.Frame) *frame.Frame {
	out := frame.New(f.W, f.H, f.Planes)
	for p := range f.Planes {
		for y := range f.H {
			dst := out.Row(p, y)
			copy(dst, f.Row(p, y))
			if p < 3 {
				for x, v := range dst {
					dst[x] = (64 + 876*v) / 1023
				}
			}
		}
	}
	return out
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

// intPlanes is G, B, R in codes of depth bits, two bytes a sample; below 16 bits they are dithered.
func intPlanes(f *frame.Frame, depth int) []byte {
	top := float32(int(1)<<depth - 1)
	out := make([]byte, 2*f.W*f.H*3)
	at := out
	codes := make([]float32, f.W)
	for _, p := range []int{1, 2, 0} {
		d := NewDither(f.W, 0, top)
		for y := range f.H {
			for x, v := range f.Row(p, y) {
				codes[x] = v * top
			}
			if depth >= 16 {
				for x, v := range codes {
					binary.LittleEndian.PutUint16(at[2*x:], uint16(min(max(v, 0), top)+0.5))
				}
			} else {
				d.Row(codes, func(x int, c uint16) { binary.LittleEndian.PutUint16(at[2*x:], c) })
			}
			at = at[2*f.W:]
		}
	}
	return out
}

// Close finishes the delivery: only now does a movie get its name, and the pictures of a sequence get theirs, all together.
// The context of the first Write holds for it. Whoever is told an error calls Abort.
func (w *Writer) Close() error {
	if w.movie != nil {
		if err := w.movie.close(); err != nil {
			return err
		}
		w.whole = append(w.whole, [2]string{w.movie.part, w.path})
	}
	return w.name()
}

// name gives what is whole its names, once it is on the disk, so that it survives a power cut whole or not at all.
func (w *Writer) name() error {
	list := w.whole[w.named:]
	if len(list) == 0 {
		return nil
	}
	for _, f := range list {
		if err := syncFile(f[0]); err != nil {
			return diskProblem(f[1], err)
		}
	}
	for _, f := range list {
		if err := os.Rename(f[0], f[1]); err != nil {
			return diskProblem(f[1], err)
		}
		w.named++
	}
	return syncFile(filepath.Dir(w.path))
}

// Abort leaves nothing of the delivery behind.
func (w *Writer) Abort() {
	if w.movie != nil {
		w.movie.kill()
		os.Remove(w.movie.part)
	}
	for i, f := range w.whole {
		os.Remove(f[0])
		if i < w.named {
			os.Remove(f[1])
		}
	}
}
