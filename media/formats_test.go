package media

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/frame"
)

// ramp is a picture of every 10-bit code, as fractions of a range, w wide.
func ramp(w, h int) *frame.Frame {
	f := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			for x := range w {
				f.Row(p, y)[x] = float32(x) / float32(w-1)
			}
		}
	}
	return f
}

// A ramp of all codes in legal and full range, lossless and as ProRes: read right within a code, and
// when delivered again, right in values and tags as ffprobe and ffmpeg see them.
func TestRampThroughMovies(t *testing.T) {
	need(t)
	const w, h = 1024, 64
	dir := t.TempDir()
	codes := make([]byte, 0, 4*w*h)
	for range h {
		for x := range w {
			codes = binary.LittleEndian.AppendUint16(codes, uint16(x))
		}
	}
	for range w * h {
		codes = binary.LittleEndian.AppendUint16(codes, 512)
	}
	for _, c := range []struct {
		name, file string
		full       bool
		lo, hi     int // the codes that the form can hold
		args       []string
	}{
		{"H.264, legal", "a.mov", false, 4, 1019, []string{"-c:v", "libx264", "-qp", "0", "-color_range", "tv"}},
		{"H.264, full", "b.mov", true, 0, 1023, []string{"-c:v", "libx264", "-qp", "0", "-color_range", "pc"}},
		{"ProRes, legal", "c.mov", false, 4, 1019, []string{"-c:v", "prores_ks", "-profile:v", "3", "-color_range", "tv"}},
	} {
		path := filepath.Join(dir, c.file)
		args := append([]string{"-v", "error", "-y", "-f", "rawvideo", "-s", fmt.Sprint(w, "x", h), "-pix_fmt", "yuv422p10le", "-i", "-"}, c.args...)
		cmd := exec.Command("ffmpeg", append(args, "-pix_fmt", "yuv422p10le", "-colorspace", "bt709", path)...)
		cmd.Stdin = bytes.NewReader(codes)
		if out, err := cmd.CombinedOutput(); err != nil {
			t.Fatalf("%s: %v: %s", c.name, err, out)
		}
		r, err := Open(ctx, path)
		if err != nil {
			t.Fatal(err)
		}
		if r.Info.Full != c.full || r.Info.Depth != 10 {
			t.Errorf("%s: full %v, %d bits", c.name, r.Info.Full, r.Info.Depth)
		}
		f, err := r.Frame(ctx, 0)
		if err != nil {
			t.Fatal(err)
		}
		r.Close()
		for x := range w {
			want, code := (float64(x)-64)/876, 1/876.0
			if c.full {
				want, code = float64(x)/1023, 1/1023.0
			}
			if x < c.lo || x > c.hi {
				continue
			}
			for p := range 3 {
				if got := float64(f.Row(p, h/2)[x]); math.Abs(got-want) > 1.01*code {
					t.Fatalf("%s: code %d reads as %.5f, want %.5f", c.name, x, got, want)
				}
			}
		}
	}
}

// Every movie codec: what ffprobe says of it, and what ffmpeg decodes.
func TestDeliveredMovies(t *testing.T) {
	need(t)
	dir := t.TempDir()
	const w, h = 320, 180
	for _, c := range []struct {
		codec, file, name, format string
		colour                    Colour
		unit                      float64 // codes for one of 10 bits
		within                    float64 // codes of 10 bits
	}{
		{"prores-hq", "a.mov", "prores", "yuv422p10le", Video, 1, 1},
		{"prores-4444", "b.mov", "prores", "yuv444p12le", Colour{"smpte432", "smpte428", "bt709"}, 4, 1},
		{"h264", "c.mp4", "h264", "yuv420p10le", Video, 1, 2},
		{"h265", "d.mp4", "hevc", "yuv420p10le", Colour{"bt2020", "smpte2084", "bt2020nc"}, 1, 2},
		{"ffv1", "e.mkv", "ffv1", "gbrp16le", Video, 1, 0.1},
	} {
		path := filepath.Join(dir, c.file)
		out, err := Create(path, 0, Options{Rate: "24000/1001", Codec: c.codec, Colour: c.colour, Timecode: "10:00:00:05"})
		if err != nil {
			t.Fatal(err)
		}
		for range 4 {
			if err := out.Write(ctx, ramp(w, h)); err != nil {
				t.Fatal(err)
			}
		}
		if err := out.Close(); err != nil {
			t.Fatal(err)
		}
		said, err := exec.Command("ffprobe", "-v", "error", "-select_streams", "v:0", "-show_entries",
			"stream=codec_name,pix_fmt,color_range,color_space,color_transfer,color_primaries,r_frame_rate", "-of", "json", path).Output()
		if err != nil {
			t.Fatal(err)
		}
		var got struct{ Streams []map[string]string }
		if err := json.Unmarshal(said, &got); err != nil || len(got.Streams) != 1 {
			t.Fatalf("%s: %s", c.codec, said)
		}
		want := map[string]string{"codec_name": c.name, "pix_fmt": c.format, "color_primaries": c.colour.Primaries, "color_transfer": c.colour.Transfer, "r_frame_rate": "24000/1001"}
		if c.codec != "ffv1" {
			want["color_space"], want["color_range"] = c.colour.Matrix, "tv"
		}
		for k, v := range want {
			if got.Streams[0][k] != v {
				t.Errorf("%s: %s is %q, want %q", c.codec, k, got.Streams[0][k], v)
			}
		}
		// the first plane as ffmpeg decodes it: luma, or green
		gray, err := exec.Command("ffmpeg", "-v", "error", "-i", path, "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", c.format, "-").Output()
		if err != nil || len(gray) < 2*w*h {
			t.Fatalf("%s: %v, %d bytes", c.codec, err, len(gray))
		}
		lo, span := 64.0*c.unit, 876*c.unit
		if c.codec == "ffv1" {
			lo, span = 0, 65535
		}
		for x := 8; x < w-8; x++ { // dithered: a code either way, averaged over rows
			var sum float64
			for y := range h {
				sum += (float64(binary.LittleEndian.Uint16(gray[2*(y*w+x):])) - lo) / span
			}
			if d := math.Abs(sum/h - float64(x)/(w-1)); d*876 > c.within {
				t.Errorf("%s: column %d is off by %.2f codes", c.codec, x, d*876)
				break
			}
		}
		in, err := Probe(ctx, path)
		if err != nil {
			t.Fatal(err)
		}
		if in.Frames != 4 || (c.codec != "ffv1" && in.Timecode != "10:00:00:05") {
			t.Errorf("%s: %d frames, time code %q", c.codec, in.Frames, in.Timecode)
		}
	}
}

// Both ranges, in stills and in movies: black and white lie where the range puts them, and a movie in
// full range comes back as what went in.
func TestRanges(t *testing.T) {
	need(t)
	dir := t.TempDir()
	f := ramp(256, 32)
	for _, c := range []struct {
		file, span string
		lo, hi     float64 // of black and white as the reader sees them
	}{
		{"a.dpx", "legal", 64.0 / 1023, 940.0 / 1023}, {"b.dpx", "", 0, 1}, {"c.tif", "legal", 64.0 / 1023, 940.0 / 1023},
		{"d.mp4", "full", 0, 1}, {"e.mp4", "legal", 0, 1}, {"f.mov", "", 0, 1},
	} {
		path := filepath.Join(dir, c.file)
		w, err := Create(path, 0, Options{Range: c.span})
		if err != nil {
			t.Fatal(err)
		}
		if err := w.Write(ctx, f); err != nil {
			t.Fatal(err)
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
		r, err := Open(ctx, path)
		if err != nil {
			t.Fatal(err)
		}
		got, err := r.Frame(ctx, 0)
		r.Close()
		if err != nil {
			t.Fatal(err)
		}
		if movie := Movie(path); movie && r.Info.Full != (c.span == "full") {
			t.Errorf("%s: full %v", c.file, r.Info.Full)
		}
		for x := 4; x < 252; x++ {
			want := c.lo + (c.hi-c.lo)*float64(x)/255
			if d := math.Abs(float64(got.Row(1, 16)[x]) - want); d > 0.006 {
				t.Fatalf("%s: column %d is %.4f, want %.4f", c.file, x, got.Row(1, 16)[x], want)
			}
		}
	}
	if _, err := Create(filepath.Join(dir, "x.png"), 0, Options{Range: "wide"}); err == nil {
		t.Error("a range that is none was taken")
	}
}

// Every still at every depth comes back within half a step, or one where it is dithered.
func TestDeliveredStills(t *testing.T) {
	need(t)
	dir := t.TempDir()
	f := card(64, 36, 3)
	for ext, depths := range stillDepths {
		for _, depth := range depths {
			path := filepath.Join(dir, fmt.Sprintf("a%d%s", depth, ext))
			out, err := Create(path, 0, Options{Depth: depth})
			if err != nil {
				t.Fatal(err)
			}
			if err := out.Write(ctx, f); err != nil {
				t.Fatal(err)
			}
			r, err := Open(ctx, path)
			if err != nil {
				t.Fatal(err)
			}
			back, err := r.Frame(ctx, 0)
			r.Close()
			if err != nil {
				t.Fatal(err)
			}
			step := 1.01 / float64(int64(1)<<depth-1)
			switch {
			case strings.HasPrefix(ext, ".jp"):
				step = 0.15 // chroma is halved
			case depth == 32:
				step = 0
			}
			if depth != r.Info.Depth && ext != ".dpx" && !strings.HasPrefix(ext, ".jp") {
				t.Errorf("%s: %d bits", path, r.Info.Depth)
			}
			for p := range 3 {
				for y := range f.H {
					for x, v := range f.Row(p, y) {
						if d := math.Abs(float64(back.Row(p, y)[x] - min(max(v, 0), 1))); d > step && !(depth == 32 && back.Row(p, y)[x] == v) {
							t.Fatalf("%s: %d, %d, %d is off by %g", path, p, x, y, d)
						}
					}
				}
			}
		}
	}
	for _, bad := range []struct {
		name string
		opt  Options
	}{{"a.png", Options{Depth: 32}}, {"a.mov", Options{Codec: "ffv1"}}, {"a.png", Options{Codec: "h264"}}, {"a.mov", Options{Depth: 8}}, {"a.exr", Options{Depth: 16}}, {"a.exr", Options{Range: "legal"}}} {
		var e *FileError
		if _, err := Create(filepath.Join(dir, "x"+bad.name), 0, bad.opt); !errors.As(err, &e) {
			t.Errorf("%s with %+v: %v", bad.name, bad.opt, err)
		}
	}
}

// The chromaticities are in the header, and the picture still is what it was.
func TestChromaticities(t *testing.T) {
	need(t)
	dir := t.TempDir()
	want := [8]float32{0.713, 0.293, 0.165, 0.830, 0.128, 0.044, 0.32168, 0.33767}
	f := card(70, 41, 2)
	for _, half := range []bool{false, true} {
		path := filepath.Join(dir, fmt.Sprint(half, ".exr"))
		out, err := Create(path, 0, Options{Light: true, Half: half, Gamut: &want})
		if err != nil {
			t.Fatal(err)
		}
		if err := out.Write(ctx, f); err != nil {
			t.Fatal(err)
		}
		r, err := Open(ctx, path)
		if err != nil {
			t.Fatal(err)
		}
		if r.Info.Chromaticities == nil || *r.Info.Chromaticities != want {
			t.Errorf("got %v", r.Info.Chromaticities)
		}
		back, err := r.Frame(ctx, 0)
		r.Close()
		if err != nil {
			t.Fatal(err)
		}
		for y := range f.H {
			for x, v := range f.Row(1, y) {
				if d := math.Abs(float64(back.Row(1, y)[x] - v)); d > 1e-3*math.Abs(float64(v))+1e-6 {
					t.Fatalf("half %v: %d, %d is %g, was %g", half, x, y, back.Row(1, y)[x], v)
				}
			}
		}
	}
}

func FuzzTIFF(f *testing.F) {
	var b bytes.Buffer
	if err := writeFloatTIFF(&b, card(5, 4, 1)); err != nil {
		f.Fatal(err)
	}
	f.Add(b.Bytes())
	f.Fuzz(func(t *testing.T, data []byte) {
		in := bytes.NewReader(data)
		if head, err := openTIFF("", in, in.Size()); err == nil && head.w*head.h < 1<<22 {
			if p, err := head.read(in); err == nil && (p.W < 1 || p.H < 1) {
				t.Error("an empty picture")
			}
		}
	})
}

func FuzzEXRHeader(f *testing.F) {
	head := append(append([]byte{}, exrMagic...), 2, 0, 0, 0)
	head = append(head, "chromaticities\x00chromaticities\x00\x20\x00\x00\x00"...)
	head = append(append(head, make([]byte, 32)...), 0)
	f.Add(head)
	f.Fuzz(func(t *testing.T, data []byte) {
		if h, err := parseEXR(data); err == nil && h.end >= len(data) {
			t.Error("the header ends beyond the file")
		}
	})
}

// A large EXR with alpha, in half and in float, comes in and goes out with the same bits.
func TestLargeEXRIsExact(t *testing.T) {
	need(t)
	if testing.Short() {
		t.Skip("large")
	}
	dir := t.TempDir()
	const w, h = 4096, 2160
	f := frame.New(w, h, 4)
	for p := range 4 {
		for y := range h {
			row := f.Row(p, y)
			for x := range row { // halves are exact in both forms
				row[x] = float32(int16((x*31+y*17+p*7)%2048)-300) / 256
			}
		}
	}
	path := filepath.Join(dir, "a.exr")
	out, err := Create(path, 0, Options{Light: true, Half: true})
	if err != nil {
		t.Fatal(err)
	}
	if err := out.Write(ctx, f); err != nil {
		t.Fatal(err)
	}
	r, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	back, err := r.Frame(ctx, 0)
	if err != nil {
		t.Fatal(err)
	}
	if !r.Info.Alpha || back.Planes != 4 {
		t.Fatalf("alpha was lost: %d planes", back.Planes)
	}
	for p := range 4 {
		for y := range h {
			a, b := f.Row(p, y), back.Row(p, y)
			for x := range a {
				if a[x] != b[x] {
					t.Fatalf("plane %d, %d, %d: %g became %g", p, x, y, a[x], b[x])
				}
			}
		}
	}
	os.Remove(path)
}
