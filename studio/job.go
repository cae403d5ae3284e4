package studio

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"strconv"
	"strings"
	"sync"

	"velours/core/colour"
	"velours/core/fault"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/library"
	"velours/media"

	"golang.org/x/sync/errgroup"
)

// BadInput marks an error that the caller's own words or files caused.
type BadInput struct{ error }

func (e BadInput) Unwrap() error { return e.error }

// Bad is an error that the caller's input caused.
func Bad(format string, args ...any) error { return BadInput{fmt.Errorf(format, args...)} }

// Job renders frames of a source through a look to a file.
type Job struct {
	In, Out string
	Look    *look.Look
	// Encoding is how the source was recorded, empty for what its own tags settle; Display stands in place of the look's
	// where it is not empty.
	Encoding, Display string
	// First and Last frame, counted from 0; Last −1 is the end.
	First, Last int
	// Size, 0 for the source's.
	W, H int
	Tap  look.Station
	Half bool
	// Codec of a movie and Depth of a still, for other than the usual (see media.Options).
	Codec string
	Depth int
	Range string
	// PlacedGrain makes grain of clouds that are placed one by one, a hundred times slower.
	PlacedGrain bool
	// Megabits a second of an H.264 or H.265 movie, 0 for its usual quality.
	Megabits float64

	// Clean, if set, has clean frames.
	Clean render.Store

	encoding *colour.Encoding // once settled
	room     *workspace       // nil for as much memory as it likes
	waits    func(place int)  // is told the place in the line for it
}

// ParseFrames reads "A-B" or "A".
func ParseFrames(s string) (first, last int, err error) {
	if s == "" {
		return 0, -1, nil
	}
	a, b, ranged := strings.Cut(s, "-")
	first, err = strconv.Atoi(a)
	last = first
	if err == nil && ranged {
		last, err = strconv.Atoi(b)
	}
	if err != nil || first < 0 || last < first {
		return 0, 0, Bad("%q is not a range of frames; write A-B, counted from 0", s)
	}
	return first, last, nil
}

// ParseSize reads "WxH".
func ParseSize(s string) (w, h int, err error) {
	if s == "" {
		return 0, 0, nil
	}
	a, b, ok := strings.Cut(s, "x")
	w, err1 := strconv.Atoi(a)
	h, err2 := strconv.Atoi(b)
	if !ok || err1 != nil || err2 != nil || w < 1 || h < 1 || w > 16384 || h > 16384 {
		return 0, 0, Bad("%q is not a size; write WxH, each from 1 to 16384", s)
	}
	return w, h, nil
}

// SettledEncoding is what a file's own tags settle about its encoding, or "".
func SettledEncoding(in *media.Info) string {
	switch in.Transfer {
	case "arib-std-b67":
		return "hlg"
	case "smpte2084":
		return "pq"
	case "bt709":
		return "bt709"
	case "bt2020-10", "bt2020-12":
		return "bt2020"
	case "iec61966-2-1", "srgb":
		return "srgb"
	}
	switch ext := strings.ToLower(filepath.Ext(in.Path)); {
	case ext == ".jpg" || ext == ".jpeg", in.Kind != "movie" && in.Depth == 8 && (ext == ".png" || ext == ".tif" || ext == ".tiff"):
		return "srgb" // what such stills mean where they say nothing
	case ext == ".exr" && in.Chromaticities != nil:
		return linearOf(*in.Chromaticities)
	case ext == ".exr":
		return "linear-bt709" // the default chromaticities of the OpenEXR format
	}
	return ""
}

// settle fixes how the job's footage was recorded, and its look with the display.
func (j *Job) settle(in *media.Info) error {
	if j.Look == nil {
		j.Look = look.NewLook("clean")
	}
	j.Look = j.Look.Clone()
	if j.Encoding == "" {
		if j.Encoding = SettledEncoding(in); j.Encoding == "" {
			return Bad("%s does not say how it was encoded; declare it with --encoding", j.In)
		}
	}
	var err error
	if j.encoding, err = colour.FindEncoding(j.Encoding); err != nil {
		return BadInput{err}
	}
	if j.Display != "" {
		if _, err := colour.FindDisplay(j.Display); err != nil {
			return BadInput{err}
		}
		if err := j.Look.Set("screen.display.id", j.Display); err != nil {
			return BadInput{err}
		}
	}
	return nil
}

// Run renders the job; progress, if not nil, is told after every frame. Whatever fails, no file is
// left half-written.
func (j Job) Run(ctx context.Context, progress func(done, total int)) error {
	var memory *ticket
	defer func() { // when the decoder has ended
		if memory != nil {
			memory.release()
		}
	}()
	src, err := media.Open(ctx, j.In)
	if err != nil {
		return wrapInput(err)
	}
	defer src.Close()
	if err := j.settle(src.Info); err != nil {
		return err
	}
	if j.Tap == "" {
		j.Tap = look.Finish
	}
	if j.Last < 0 {
		j.Last = src.Info.Frames - 1
	}
	if j.Last >= src.Info.Frames {
		return Bad("%s has frames 0 to %d, not %d", j.In, src.Info.Frames-1, j.Last)
	}
	if j.room == nil { // decoding begins while tables are made
		early, end := context.WithCancel(ctx)
		var fetching sync.WaitGroup
		defer fetching.Wait()
		defer end()
		fetching.Go(func() { src.Fetch(early, j.First) })
	}
	w, h := src.Info.Shape()
	if j.W > 0 {
		w, h = j.W, j.H
	}
	compile := render.Compile
	if j.PlacedGrain {
		compile = render.CompilePlaced
	}
	plan, err := compile(ctx, j.Look, j.encoding, render.Raster{W: w, H: h}, j.Tap)
	if err != nil {
		return err
	}
	render := render.NewRenderer(0)
	render.Clean = j.Clean
	if plan, err = render.Bind(ctx, plan, src); err != nil {
		return wrapInput(err)
	}
	opt := j.options(src.Info, plan.Display)
	frames := framesAtOnce
	if j.room != nil {
		n := deliveryNeed(src.Info, j.Out, plan.Raster(), frames, false)
		for ; n.sum() > j.room.all/2 && frames > 1; n = deliveryNeed(src.Info, j.Out, plan.Raster(), frames, opt.Frugal) {
			frames -= 2
			opt.Frugal = frames == 1
		}
		if memory, err = j.room.take(ctx, delivered, n, j.waits); err != nil {
			return err
		}
	}
	out, err := media.Create(j.Out, j.First, opt)
	if err != nil {
		return wrapInput(err)
	}
	total := j.Last - j.First + 1
	footage := render.Footage(plan, src)
	asRead := footage.Key() == src.Key() // not cleaned: nobody shares the frames
	err = pipeline(ctx, j.First, j.Last, frames, footage.Frame,
		func(ctx context.Context, n int, f *frame.Frame) (*frame.Frame, error) {
			return render.Render(ctx, plan, single{footage.Key(), f, asRead && src.Integral(), asRead && plan.Once()}, n)
		},
		func(n int, f *frame.Frame) error {
			if err := out.Write(ctx, f); err != nil {
				return err
			}
			f.Release()
			if progress != nil {
				progress(n-j.First+1, total)
			}
			return nil
		})
	if err == nil {
		err = out.Close()
	}
	if err != nil {
		out.Abort()
	}
	return err
}

// single is a source of one frame already read.
type single struct {
	key      string
	f        *frame.Frame
	integral bool
	given    bool // to who renders it
}

func (h single) Key() string                                      { return h.key }
func (h single) Integral() bool                                   { return h.integral }
func (h single) Gives() bool                                      { return h.given }
func (h single) Frame(context.Context, int) (*frame.Frame, error) { return h.f, nil }

// framesAtOnce is how many frames of a delivery are under way where there is the memory: one that is worked on in each stage, and one that
// waits between two.
const framesAtOnce = 5

// pipeline overlaps reading, rendering and writing: each works on its own frame, and no more of them than are said are under way. The first
// error ends all three.
func pipeline(ctx context.Context, first, last, frames int,
	read func(context.Context, int) (*frame.Frame, error),
	work func(context.Context, int, *frame.Frame) (*frame.Frame, error),
	write func(int, *frame.Frame) error) error {
	type item struct {
		n int
		f *frame.Frame
	}
	group, inner := errgroup.WithContext(ctx)
	pass := func(to chan<- item, n int, f *frame.Frame, err error) error {
		if err != nil {
			return err
		}
		select {
		case to <- item{n, f}:
			return nil
		case <-inner.Done():
			return inner.Err()
		}
	}
	decoded, rendered := make(chan item, 1), make(chan item, 1)
	under := make(chan struct{}, frames) // a token for each frame that is under way
	stage := func(f func() error) { group.Go(func() error { return fault.Do(f) }) }
	stage(func() error {
		defer close(decoded)
		for n := first; n <= last; n++ {
			select {
			case under <- struct{}{}:
			case <-inner.Done():
				return inner.Err()
			}
			f, err := read(inner, n)
			if err := pass(decoded, n, f, err); err != nil {
				return err
			}
		}
		return nil
	})
	stage(func() error {
		defer close(rendered)
		for i := range decoded {
			f, err := work(inner, i.n, i.f)
			if err := pass(rendered, i.n, f, err); err != nil {
				return err
			}
		}
		return nil
	})
	stage(func() error {
		for i := range rendered {
			if err := inner.Err(); err != nil {
				return err
			}
			if err := write(i.n, i.f); err != nil {
				return err
			}
			<-under
		}
		return nil
	})
	if err := group.Wait(); err != nil {
		return err
	}
	return ctx.Err()
}

// wrapInput marks the failures of media that the user's file name or file causes.
func wrapInput(err error) error {
	var f *media.FileError
	var u *library.UserError
	if errors.As(err, &f) || errors.As(err, &u) || errors.Is(err, media.ErrNoFFmpeg) {
		return BadInput{err}
	}
	return err
}

// Conversion changes the encoding of pictures, with no film and no tone scale.
type Conversion struct{ In, Out, From, To string }

// Run converts every frame, in float64 by the published formulas; nothing is clipped.
func (c Conversion) Run(ctx context.Context) error {
	from, err := colour.FindEncoding(c.From)
	if err != nil {
		return BadInput{err}
	}
	to, err := colour.FindEncoding(c.To)
	if err != nil {
		return BadInput{err}
	}
	if to.Encode == nil {
		return Bad("%s is known as a table alone: it can be converted from, not to", to.Label)
	}
	src, err := media.Open(ctx, c.In)
	if err != nil {
		return wrapInput(err)
	}
	defer src.Close()
	gamut := chromaticities(to.Gamut)
	out, err := media.Create(c.Out, 0, media.Options{Rate: src.Info.RateText, Gamut: &gamut, Timecode: src.Info.Timecode})
	if err != nil {
		return wrapInput(err)
	}
	m := colour.Convert(from.Gamut, to.Gamut)
	err = pipeline(ctx, 0, src.Info.Frames-1, framesAtOnce, src.Frame,
		func(ctx context.Context, _ int, f *frame.Frame) (*frame.Frame, error) {
			err := frame.Bands(ctx, f.H, 16, func(y0, y1 int) {
				for y := y0; y < y1; y++ {
					r, g, b := f.Row(0, y), f.Row(1, y), f.Row(2, y)
					for x := range r {
						v := m.Apply(from.Light([3]float64{float64(r[x]), float64(g[x]), float64(b[x])}))
						r[x], g[x], b[x] = float32(to.Encode(v[0])), float32(to.Encode(v[1])), float32(to.Encode(v[2]))
					}
				}
			})
			return f, err
		},
		func(_ int, f *frame.Frame) error { return out.Write(ctx, f) })
	if err == nil {
		err = out.Close()
	}
	if err != nil {
		out.Abort()
	}
	return err
}
