package media

import (
	"errors"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"reflect"
	"strings"
	"testing"
)

func TestSequencesAndTheirGaps(t *testing.T) {
	dir := t.TempDir()
	pattern := filepath.Join(dir, "take2.%04d.png")
	w, err := Create(pattern, 1001, Options{})
	if err != nil {
		t.Fatal(err)
	}
	for n := range 9 {
		if err := w.Write(ctx, card(32, 18, n)); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	for _, n := range []string{"1003", "1004", "1007"} {
		os.Remove(filepath.Join(dir, "take2."+n+".png"))
	}
	got, ok := Recognise(filepath.Join(dir, "take2.1005.png"))
	if !ok || got != pattern {
		t.Fatalf("one file is taken for %q, %v", got, ok)
	}
	r, err := Open(ctx, pattern)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	in := r.Info
	if in.Frames != 9 || in.Start != 1001 || !reflect.DeepEqual(in.Gaps, []Gap{{2, 3}, {6, 6}}) {
		t.Errorf("%d frames from %d, gaps %v", in.Frames, in.Start, in.Gaps)
	}
	if frames, missing := Count(pattern); frames != 9 || missing != 3 {
		t.Errorf("counted %d with %d missing", frames, missing)
	}
	for n := range 9 {
		f, err := r.Frame(ctx, n)
		var bad *FileError
		if gap := n == 2 || n == 3 || n == 6; gap != (err != nil) || gap && (!errors.As(err, &bad) || !strings.Contains(err.Error(), "gap")) {
			t.Errorf("frame %d: %v", n, err)
		} else if !gap && math.Abs(float64(f.Row(0, 9)[16]-card(32, 18, n).Row(0, 9)[16])) > 1e-4 {
			t.Errorf("frame %d is another", n)
		}
	}
	// a frame that is copied there later fills its gap, without another look at the folder
	data, err := os.ReadFile(filepath.Join(dir, "take2.1002.png"))
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(dir, "take2.1007.png"), data, 0o644); err != nil {
		t.Fatal(err)
	}
	if _, err := r.Frame(ctx, 6); err != nil {
		t.Errorf("the filled gap: %v", err)
	}
	if got := Gaps(pattern); !reflect.DeepEqual(got, []Gap{{2, 3}}) {
		t.Errorf("gaps are %v now", got)
	}
	for _, lone := range []string{"still.png", "take2.png", "take2.9999.mov", "take2.%04d.png", "take3.0001.png"} {
		if p, ok := Recognise(filepath.Join(dir, lone)); ok {
			t.Errorf("%s was taken for %s", lone, p)
		}
	}
}

// made runs ffmpeg to make a file as another program would.
func made(t *testing.T, name string, args ...string) string {
	t.Helper()
	need(t)
	path := filepath.Join(t.TempDir(), name)
	if out, err := exec.Command("ffmpeg", append(append([]string{"-v", "error", "-y"}, args...), path)...).CombinedOutput(); err != nil {
		t.Fatalf("ffmpeg: %v: %s", err, out)
	}
	return path
}

// A portrait telephone movie, anamorphic video, time code and colour tags.
func TestWhatFilesSay(t *testing.T) {
	flat := made(t, "flat.mp4", "-f", "lavfi", "-i", "testsrc2=s=160x90:r=25:d=0.4", "-c:v", "libx264", "-pix_fmt", "yuv420p")
	turned := filepath.Join(t.TempDir(), "turned.mp4")
	if out, err := exec.Command("ffmpeg", "-v", "error", "-display_rotation", "90", "-i", flat, "-c", "copy", turned).CombinedOutput(); err != nil {
		// older programs have no such option: the rotate tag stands for it
		if out2, err := exec.Command("ffmpeg", "-v", "error", "-i", flat, "-c", "copy", "-metadata:s:v", "rotate=270", turned).CombinedOutput(); err != nil {
			t.Fatalf("ffmpeg: %s %s", out, out2)
		}
	}
	r, err := Open(ctx, turned)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	if r.Info.W != 90 || r.Info.H != 160 || r.Info.Rotated%180 != 90 {
		t.Errorf("turned: %d×%d, by %d", r.Info.W, r.Info.H, r.Info.Rotated)
	}
	upright, err := Open(ctx, flat)
	if err != nil {
		t.Fatal(err)
	}
	defer upright.Close()
	a, err := r.Frame(ctx, 3)
	if err != nil {
		t.Fatal(err)
	}
	b, err := upright.Frame(ctx, 3)
	if err != nil {
		t.Fatal(err)
	}
	// the tag turns a point (x, y) clockwise by Rotated
	var worst float64
	for y := 4; y < 156; y++ {
		for x := 4; x < 86; x++ {
			sx, sy := y, 89-x
			if r.Info.Rotated == 270 {
				sx, sy = 159-y, x
			}
			worst = max(worst, math.Abs(float64(a.Row(1, y)[x]-b.Row(1, sy)[sx])))
		}
	}
	if worst > 0.25 { // chroma is resampled when a 4:2:0 picture turns
		t.Errorf("the turned picture is another: %g", worst)
	}

	wide := made(t, "wide.mov", "-f", "lavfi", "-i", "testsrc2=s=720x576:r=25:d=0.2", "-vf", "setsar=64/45", "-timecode", "10:00:00:12",
		"-c:v", "libx264", "-pix_fmt", "yuv422p10le", "-color_primaries", "bt709", "-color_trc", "bt709", "-colorspace", "bt709")
	in, err := Probe(ctx, wide)
	if err != nil {
		t.Fatal(err)
	}
	w, h := in.Shape()
	if w != 1024 || h != 576 || in.Timecode != "10:00:00:12" || in.Depth != 10 || in.Primaries != "bt709" || in.Transfer != "bt709" || in.Full {
		t.Errorf("wide: %d×%d, %+v", w, h, in)
	}
}

// Frame n by random access is frame n of a decode from the start, in a movie whose pictures depend on
// far ones before and after.
func TestRandomAccessIsExact(t *testing.T) {
	const frames = 120
	path := made(t, "long.mp4", "-f", "lavfi", "-i", "testsrc2=s=96x54:r=24:d=5", "-c:v", "libx264", "-preset", "veryfast", "-g", "120", "-bf", "4", "-pix_fmt", "yuv420p")
	line, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	defer line.Close()
	if line.Info.Frames != frames {
		t.Fatalf("%d frames", line.Info.Frames)
	}
	sum := func(r *Reader, n int) (s float64) {
		f, err := r.Frame(ctx, n)
		if err != nil {
			t.Fatalf("frame %d: %v", n, err)
		}
		for p := range 3 {
			for y := range f.H {
				for x, v := range f.Row(p, y) {
					s += float64(v) * float64(1+(x*7+y*13)%31)
				}
			}
		}
		return s
	}
	var want [frames]float64
	for n := range frames {
		want[n] = sum(line, n)
	}
	r := rand.New(rand.NewPCG(4, 2))
	var random *Reader
	for i := range 100 {
		if i%10 == 0 { // a new reader has nothing in its cache
			if random != nil {
				random.Close()
			}
			if random, err = Open(ctx, path); err != nil {
				t.Fatal(err)
			}
		}
		n := r.IntN(frames)
		if i%20 >= 10 { // backwards
			n = frames - 1 - (i%10)*11 - r.IntN(8)
		}
		if got := sum(random, n); got != want[n] {
			t.Fatalf("frame %d is another by random access", n)
		}
	}
	random.Close()
}

// The forms that cameras and programs leave: each codec, sampling, depth and range decodes to the card
// that went in.
func TestMoviesOfManyForms(t *testing.T) {
	need(t)
	encoders, err := exec.Command("ffmpeg", "-v", "error", "-encoders").Output()
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	still := filepath.Join(dir, "card.png")
	w, err := Create(still, 0, Options{})
	if err != nil {
		t.Fatal(err)
	}
	f := ramp(320, 180)
	for c := range 3 { // soft colours, so that halved chroma is not the question
		for y := range f.H {
			for x := range f.W {
				f.Row(c, y)[x] = 0.15 + 0.6*float32(x)/320 + 0.1*float32(math.Sin(float64(y)/40+float64(c)))
			}
		}
	}
	if err := w.Write(ctx, f); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		file, codec, format, colours string
		depth                        int
		within                       float64
	}{
		{"a.mov", "prores_ks", "yuv422p10le", "tv", 10, 0.012}, {"b.mov", "prores_ks", "yuva444p10le", "tv", 12, 0.012},
		{"c.mp4", "libx264", "yuv420p", "tv", 8, 0.02}, {"d.mp4", "libx264", "yuv420p", "pc", 8, 0.02}, {"e.mp4", "libx264", "yuv444p", "tv", 8, 0.02},
		{"f.mp4", "libx264", "yuv420p10le", "tv", 10, 0.015}, {"g.mp4", "libx265", "yuv420p", "tv", 8, 0.02}, {"h.mp4", "libx265", "yuv422p10le", "tv", 10, 0.015},
		{"i.mp4", "libx265", "yuv444p12le", "pc", 12, 0.015}, {"j.mkv", "ffv1", "yuv444p16le", "pc", 16, 0.008}, {"k.mkv", "ffv1", "gbrp12le", "pc", 12, 0.001},
		{"l.mov", "dnxhd", "yuv422p", "tv", 8, 0.02}, {"m.avi", "mjpeg", "yuvj420p", "pc", 8, 0.02}, {"n.mkv", "ffv1", "yuv420p10le", "tv", 10, 0.008},
		{"o.mov", "v210", "yuv422p10le", "tv", 10, 0.008}, {"p.mov", "qtrle", "argb", "pc", 16, 0.012}, {"q.avi", "rawvideo", "bgr24", "pc", 16, 0.012},
	} {
		if !strings.Contains(string(encoders), " "+c.codec+" ") {
			t.Errorf("ffmpeg lacks the encoder %s", c.codec)
			continue
		}
		path := filepath.Join(dir, c.file)
		size, args := "320:180", []string{"-crf", "4"}
		switch c.codec {
		case "dnxhd":
			size, args = "1280:720", []string{"-profile:v", "dnxhr_hq"}
		case "libx264", "libx265":
		case "mjpeg":
			args = []string{"-q:v", "1"}
		default:
			args = nil
		}
		filter := "scale=" + size + ":out_color_matrix=bt709:out_range=" + c.colours
		all := append([]string{"-v", "error", "-y", "-loop", "1", "-i", still, "-frames:v", "3", "-vf", filter, "-c:v", c.codec, "-pix_fmt", c.format, "-colorspace", "bt709", "-color_range", c.colours}, args...)
		if out, err := exec.Command("ffmpeg", append(all, path)...).CombinedOutput(); err != nil {
			t.Errorf("%s %s: %v: %s", c.codec, c.format, err, out)
			continue
		}
		r, err := Open(ctx, path)
		if err != nil {
			t.Errorf("%s %s: %v", c.codec, c.format, err)
			continue
		}
		got, err := r.Frame(ctx, 1)
		r.Close()
		if err != nil {
			t.Errorf("%s %s: %v", c.codec, c.format, err)
			continue
		}
		if r.Info.Depth != c.depth || r.Info.Frames != 3 {
			t.Errorf("%s %s: %d bits, %d frames", c.codec, c.format, r.Info.Depth, r.Info.Frames)
		}
		var worst float64
		for p := range 3 {
			for y := 6; y < f.H-6; y += 7 {
				for x := 6; x < f.W-6; x += 7 {
					gx, gy := x*got.W/f.W, y*got.H/f.H
					worst = max(worst, math.Abs(float64(got.Row(p, gy)[gx]-f.Row(p, y)[x])))
				}
			}
		}
		if worst > c.within {
			t.Errorf("%s %s %s: off by %.4f", c.codec, c.format, c.colours, worst)
		}
	}
}

// EXR in all the compressions that ffmpeg writes, DPX of other depths.
func TestStillsOfOtherPrograms(t *testing.T) {
	need(t)
	dir := t.TempDir()
	source := filepath.Join(dir, "s.exr")
	w, err := Create(source, 0, Options{Light: true, Half: true})
	if err != nil {
		t.Fatal(err)
	}
	f := ramp(128, 72)
	if err := w.Write(ctx, f); err != nil {
		t.Fatal(err)
	}
	check := func(name string, within float64, args ...string) {
		t.Helper()
		path := filepath.Join(dir, name)
		if out, err := exec.Command("ffmpeg", append(append([]string{"-v", "error", "-y", "-i", source, "-frames:v", "1"}, args...), path)...).CombinedOutput(); err != nil {
			t.Errorf("%s: %v: %s", name, err, out)
			return
		}
		r, err := Open(ctx, path)
		if err != nil {
			t.Error(err)
			return
		}
		defer r.Close()
		got, err := r.Frame(ctx, 0)
		if err != nil {
			t.Error(err)
			return
		}
		for x := range f.W {
			if d := math.Abs(float64(got.Row(1, 40)[x] - f.Row(1, 40)[x])); d > within {
				t.Errorf("%s: column %d is off by %g", name, x, d)
				return
			}
		}
	}
	for _, c := range []string{"none", "rle", "zip1", "zip16"} {
		for _, format := range []string{"half", "float"} {
			check(c+format+".exr", 5e-4, "-compression", c, "-format", format)
		}
	}
	check("a10.dpx", 2.1/1023, "-pix_fmt", "gbrp10be")
	check("a12.dpx", 2.1/1023, "-pix_fmt", "gbrp12be")
	check("a8.dpx", 1.4/255, "-pix_fmt", "rgb24")
	check("a16.dpx", 1e-3, "-pix_fmt", "rgb48be")
	check("a8.tif", 1.4/255, "-pix_fmt", "rgb24")
	check("a16.tif", 1e-3, "-pix_fmt", "rgb48le")
	check("a8.png", 1.4/255, "-pix_fmt", "rgb24")
}
