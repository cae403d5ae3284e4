package media

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"velours/core/cache"
)

// Info is what a file or sequence says of itself.
type Info struct {
	Path     string  `json:"path"`
	Kind     string  `json:"kind"` // movie, sequence or still
	Codec    string  `json:"codec"`
	W        int     `json:"width"`
	H        int     `json:"height"`
	Frames   int     `json:"frames"`
	Rate     float64 `json:"rate"` // frames a second, 0 for a still
	RateText string  `json:"rateText"`
	Format   string  `json:"format"` // ffmpeg's name of the pixel format
	Depth    int     `json:"depth"`
	Full     bool    `json:"full"`   // full range
	Matrix   string  `json:"matrix"` // of YUV: bt709, smpte170m, bt2020nc …
	Transfer string  `json:"transfer"`
	Alpha    bool    `json:"alpha"`
	// Primaries is the tag of the gamut; Timecode that of the first frame; Rotated the clockwise turn
	// in degrees that the file asks for, which is done already.
	Primaries string `json:"primaries"`
	Timecode  string `json:"timecode"`
	Rotated   int    `json:"rotated"`
	// Chromaticities are those an EXR states: red, green, blue and white, x and y; nil for none.
	Chromaticities *[8]float32 `json:"chromaticities"`
	// Aspect is the width of a pixel over its height.
	Aspect float64 `json:"aspect"`
	// Gaps are the frames that a sequence lacks, and Start the number of its first file.
	Gaps  []Gap `json:"gaps"`
	Start int   `json:"start"`

	container string // as ffmpeg is told to read it; empty for stills that Go reads
	index     *index
}

// Shape is the size of the picture in square pixels.
func (in *Info) Shape() (w, h int) {
	if in.Aspect == 0 {
		return in.W, in.H
	}
	return max(1, int(math.Round(float64(in.W)*in.Aspect))), in.H
}

// FileError is a failure that the user can act on: it names the file and says what to do.
type FileError struct{ Path, What, Remedy string }

func (e *FileError) Error() string {
	s := e.Path + ": " + e.What
	if e.Remedy != "" {
		s += "; " + e.Remedy
	}
	return s
}

// Probe looks a file or sequence (a name with a counter such as a.%06d.exr) over.
func Probe(ctx context.Context, path string) (*Info, error) {
	if strings.Contains(filepath.Base(path), "%") {
		s, err := findSequence(path)
		if err != nil {
			return nil, err
		}
		in, err := Probe(ctx, s.file(0))
		if err != nil {
			return nil, err
		}
		in.Path, in.Kind, in.Frames, in.Rate, in.RateText = path, "sequence", s.count, 24, "24/1"
		in.Gaps, in.Start = s.gaps, s.first
		return in, nil
	}
	st, err := os.Stat(path)
	switch {
	case errors.Is(err, os.ErrNotExist):
		return nil, &FileError{path, "there is no such file", "check the name"}
	case err != nil:
		return nil, &FileError{path, "cannot be looked at: " + cause(err), ""}
	case st.IsDir():
		return nil, &FileError{path, "is a folder", "name a file, or a sequence with a counter such as name.%06d.exr"}
	case !st.Mode().IsRegular():
		return nil, &FileError{path, "is no plain file", "name a picture or a movie"}
	case st.Size() == 0:
		return nil, &FileError{path, "is empty", "copy it again from its source"}
	}
	if isStill(path) {
		return probeStill(path)
	}
	return probeFFmpeg(ctx, path)
}

type tags struct{ Timecode string }

// ratio reads a/b, 0 where it is not one.
func ratio(s, sep string) float64 {
	a, b, _ := strings.Cut(s, sep)
	x, _ := strconv.ParseFloat(a, 64)
	y, _ := strconv.ParseFloat(b, 64)
	if v := x / y; y > 0 && v > 0 && v < 1e9 {
		return v
	}
	return 0
}

func cause(err error) string {
	var p *os.PathError
	if errors.As(err, &p) {
		return p.Err.Error()
	}
	return err.Error()
}

func probeFFmpeg(ctx context.Context, path string) (*Info, error) {
	form, err := containerOf(path)
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeoutCause(ctx, probeTime, &FileError{path, fmt.Sprintf("could not be looked over within %v", probeTime), "check the disk that it lies on"})
	defer cancel()
	var known []packet
	if form == "mov" {
		known = sampleTable(path)
	}
	in, err := lookOver(ctx, path, form, known)
	if errors.Is(err, errOtherwise) {
		in, err = lookOver(ctx, path, form, nil)
	}
	if err != nil {
		return nil, err
	}
	in.container = form
	if c, ok := exrChromaticities(path); ok && form == "exr_pipe" {
		in.Chromaticities = &c
	}
	return in, nil
}

// errOtherwise tells that ffmpeg does not take a file's tables as they were read here.
var errOtherwise = errors.New("its tables are taken otherwise")

// lookOver has ffprobe look a file over; it lists the packets where they are not known.
func lookOver(ctx context.Context, path, form string, known []packet) (*Info, error) {
	shown := "stream=codec_name,width,height,pix_fmt,color_range,color_space,color_transfer,color_primaries,sample_aspect_ratio,r_frame_rate,time_base,nb_frames,start_pts:stream_tags=timecode:format_tags=timecode:stream_side_data=rotation"
	if known == nil {
		data, err := askProbe(ctx, path, form, "packet=pts,flags:"+shown)
		if err != nil {
			return nil, err
		}
		return parseProbe(path, data, nil)
	}
	st, err := os.Stat(path)
	if err != nil {
		return nil, &FileError{path, "cannot be looked at: " + cause(err), ""}
	}
	whole, err := filepath.Abs(path)
	if err != nil {
		return nil, &FileError{path, "cannot be looked at: " + cause(err), ""}
	}
	key := fmt.Sprintf("%s %d %d %s", whole, st.Size(), st.ModTime().UnixNano(), shown)
	data, err := answers.GetStored("what ffprobe says", key, func(b []byte) []byte { return b }, func(b []byte) ([]byte, bool) { return b, json.Valid(b) },
		func() ([]byte, error) { return askProbe(ctx, path, form, shown) })
	if err != nil {
		return nil, err
	}
	return parseProbe(path, data, known)
}

// answers are what ffprobe said of files that are as they were: a few hundred bytes each, for which it takes a sixth of a second.
var answers = cache.Results[[]byte]{Size: 1024}

// askProbe is what ffprobe shows of a file's first picture stream, as JSON.
func askProbe(ctx context.Context, path, form, shown string) ([]byte, error) {
	cmd := tool(ctx, "ffprobe", append([]string{"-v", "error", "-select_streams", "v:0", "-show_entries", shown, "-of", "json=c=1"}, input(path, form)...)...)
	var out bytes.Buffer
	cmd.Stdout = &out
	if err := cmd.Run(); err != nil {
		if errors.Is(err, exec.ErrNotFound) {
			return nil, ErrNoFFmpeg
		}
		if ctx.Err() != nil {
			return nil, context.Cause(ctx)
		}
		return nil, &FileError{path, "is not a picture or movie that can be read", "check that it is what its name says, or copy it again: it may be cut short"}
	}
	return out.Bytes(), nil
}

// probeTime is how long a file may take to be looked over: where its tables are not plain, all of a movie is read for it.
const probeTime = 15 * time.Minute

// parseProbe reads what ffprobe says of a file, whose packets it lists unless they are known. Where it does not agree with those, the error
// is errOtherwise.
func parseProbe(path string, data []byte, known []packet) (*Info, error) {
	var r struct {
		Packets []packet

		Streams []struct {
			Codec    string `json:"codec_name"`
			W        int    `json:"width"`
			H        int    `json:"height"`
			Format   string `json:"pix_fmt"`
			Range    string `json:"color_range"`
			Matrix   string `json:"color_space"`
			Transfer string `json:"color_transfer"`
			Rate     string `json:"r_frame_rate"`
			Unit     string `json:"time_base"`
			Frames   string `json:"nb_frames"`
			Start    *int64 `json:"start_pts"`

			Primaries string `json:"color_primaries"`
			Aspect    string `json:"sample_aspect_ratio"`
			Tags      tags
			Side      []struct{ Rotation float64 } `json:"side_data_list"`
		}
		Format struct{ Tags tags }
	}
	if err := json.Unmarshal(data, &r); err != nil || len(r.Streams) == 0 || r.Streams[0].W == 0 {
		return nil, &FileError{path, "holds no picture that can be read", "check that it is what its name says, or copy it again: it may be cut short"}
	}
	s := r.Streams[0]
	in := &Info{Path: path, Kind: "movie", Codec: s.Codec, W: s.W, H: s.H, Format: s.Format, RateText: s.Rate, Matrix: s.Matrix, Transfer: s.Transfer, Full: s.Range == "pc"}
	packets := r.Packets
	if known != nil {
		packets = known
		if s.Frames != strconv.Itoa(len(known)) || s.Start == nil || *s.Start != *slices.MinFunc(known, func(a, b packet) int { return cmp.Compare(*a.Time, *b.Time) }).Time {
			return nil, errOtherwise
		}
	}
	list := slices.DeleteFunc(packets, func(p packet) bool { return strings.HasPrefix(strings.TrimLeft(p.Flags, "K_"), "D") })
	in.Frames, in.index = len(list), newIndex(list, ratio(s.Unit, "/"))
	if err := checkArea(path, in.W, in.H); err != nil {
		return nil, err
	}
	in.Rate, in.Aspect = ratio(s.Rate, "/"), ratio(s.Aspect, ":")
	if in.Aspect < 0.1 || in.Aspect > 10 {
		in.Aspect = 1
	}
	if in.Primaries = s.Primaries; in.Primaries == "unknown" {
		in.Primaries = ""
	}
	if in.Timecode = s.Tags.Timecode; in.Timecode == "" {
		in.Timecode = r.Format.Tags.Timecode
	}
	for _, d := range s.Side {
		if turn := ((-int(d.Rotation) % 360) + 360) % 360; turn != 0 {
			in.Rotated = turn // the decoder turns it
			if turn == 90 || turn == 270 {
				in.W, in.H, in.Aspect = in.H, in.W, 1/in.Aspect
			}
		}
	}
	if ext := strings.ToLower(filepath.Ext(path)); ext == ".exr" || ext == ".dpx" {
		in.Kind, in.Frames, in.Rate, in.RateText, in.index = "still", 1, 0, "", nil
	}
	if in.Kind == "movie" && in.Rate == 0 {
		in.Rate, in.RateText = 24, "24/1"
	}
	if w, h := in.Shape(); w != in.W {
		if err := checkArea(path, w, h); err != nil {
			return nil, err
		}
	}
	if in.Frames > maxFrames {
		return nil, &FileError{path, fmt.Sprintf("says it holds %d frames", in.Frames), "cut it into shorter files"}
	}
	if in.Frames == 0 {
		return nil, &FileError{path, "holds no frames", "copy it again: it may be cut short"}
	}
	l := layoutOf(in)
	in.Depth, in.Alpha = l.depth, l.alpha
	return in, nil
}
