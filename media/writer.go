package media

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"

	"golang.org/x/sync/errgroup"

	"velours/core/fault"
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
	// Frugal takes less memory, and more time, for pictures of many megapixels.
	Frugal bool
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
	encoder *encoder        // of movies, EXR and DPX
	stills  *errgroup.Group // that write the other pictures of a sequence
	failed  context.Context // done when one of them has failed
	whole   [][2]string     // parts that are whole, and the names they will have
	named   int             // how many of them have
	back    writeBack
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

// Write adds a picture. It may be packed and queued when Write returns, and fail later: then the next call tells, or Close.
func (w *Writer) Write(ctx context.Context, f *frame.Frame) error {
	defer func() { w.n++ }()
	if w.n > 0 && !w.isMovie() && !w.pattern {
		return &FileError{w.path, "holds one picture, and there are more", "write a sequence with a counter, such as name.%06d" + extension(w.path)}
	}
	if isStill(w.path) {
		return w.still(ctx, f)
	}
	if w.encoder == nil {
		start := startMovie
		if !w.isMovie() {
			start = w.startFiles
		}
		e, err := start(ctx, w.path, f, w.opt)
		if err != nil {
			return err
		}
		w.encoder = e
	}
	if err := w.encoder.write(f); err != nil {
		return err
	}
	switch {
	case w.isMovie():
		if w.n%16 == 15 {
			w.back.begin(w.encoder.part)
		}
	case w.pattern:
		if made := w.n - 2*waiting; made >= 0 { // those after it are queued, or being made
			w.back.begin(w.encoder.file(w.first + made))
		}
	default:
		return w.Close() // of one picture
	}
	return nil
}

// file is the name of the picture after n others.
func (w *Writer) file(n int) string {
	if !w.pattern {
		return w.path
	}
	return fmt.Sprintf(w.path, w.first+n)
}

func partName(path string) string {
	return filepath.Join(filepath.Dir(path), "."+filepath.Base(path)+partEnding)
}

// still writes a picture in one of the formats that need no encoder: those of a sequence on every core, one each.
func (w *Writer) still(ctx context.Context, f *frame.Frame) error {
	path := w.file(w.n)
	part := partName(path)
	write := encodeStill(extension(w.path), w.opt.Depth, w.opt.Range == "legal", f)
	w.whole = append(w.whole, [2]string{part, path})
	one := func() error {
		err := writeFile(part, write)
		if err != nil && ctx.Err() == nil {
			err = diskProblem(path, err)
		}
		return err
	}
	if !w.pattern {
		if err := one(); err != nil {
			return err
		}
		return w.name()
	}
	if w.stills == nil {
		w.stills, w.failed = errgroup.WithContext(ctx)
		w.stills.SetLimit(runtime.GOMAXPROCS(0))
	}
	if w.failed.Err() != nil {
		return w.stills.Wait()
	}
	w.stills.Go(func() error { return fault.Do(one) })
	return nil
}

func writeFile(path string, write func(w io.Writer) error) error {
	out, err := os.Create(path)
	if err != nil {
		return err
	}
	b := bufio.NewWriterSize(out, 1<<20)
	err = write(b)
	if err == nil {
		err = b.Flush()
	}
	beginWriting(out)
	return errors.Join(err, out.Close())
}

// Close finishes the delivery: only now does a movie get its name, and the pictures of a sequence get theirs, all together.
// The context of the first Write holds for it. Whoever is told an error calls Abort.
func (w *Writer) Close() error {
	if w.stills != nil {
		if err := w.stills.Wait(); err != nil {
			return err
		}
	}
	if w.encoder != nil {
		if err := w.encoder.close(); err != nil {
			return err
		}
		for n := range w.files() {
			part := w.encoder.file(w.first + n)
			if extension(w.path) == ".exr" && w.opt.Gamut != nil {
				if err := stateChromaticities(part, *w.opt.Gamut); err != nil {
					return diskProblem(w.file(n), err)
				}
			}
			w.whole = append(w.whole, [2]string{part, w.file(n)})
		}
		w.encoder = nil
	}
	return w.name()
}

// files is how many files an encoder makes of what was written.
func (w *Writer) files() int {
	if w.pattern {
		return w.n
	}
	return 1
}

// name gives what is whole its names, once it is on the disk, so that it survives a power cut whole or not at all.
func (w *Writer) name() error {
	list := w.whole[w.named:]
	if len(list) == 0 {
		return nil
	}
	var syncs errgroup.Group
	syncs.SetLimit(8) // a disk does several at once in little more than the time of one
	for _, f := range list {
		syncs.Go(func() error {
			if err := syncFile(f[0]); err != nil {
				return diskProblem(f[1], err)
			}
			return nil
		})
	}
	if err := syncs.Wait(); err != nil {
		return err
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
	if w.stills != nil {
		w.stills.Wait()
	}
	if w.encoder != nil {
		w.encoder.kill()
		for n := range w.files() {
			os.Remove(w.encoder.file(w.first + n))
		}
	}
	for i, f := range w.whole {
		os.Remove(f[0])
		if i < w.named {
			os.Remove(f[1])
		}
	}
}
