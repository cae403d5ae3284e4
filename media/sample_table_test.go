package media

import (
	"bytes"
	"context"
	"encoding/binary"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"testing"
)

// The tables of a movie say what ffprobe lists of its packets, wherever they are taken: with frames that are shown in another order than they
// are stored, with an edit, with sound beside; and what is not plain is left to ffprobe. Either way the movie is looked over alike.
func TestTablesSayWhatPacketsDo(t *testing.T) {
	source := []string{"-f", "lavfi", "-i", "testsrc2=s=160x90:r=24:d=3"}
	h264 := []string{"-c:v", "libx264", "-pix_fmt", "yuv420p", "-preset", "veryfast", "-g", "12", "-bf", "3"}
	for _, c := range []struct {
		name  string
		args  []string
		plain bool
	}{
		{"prores.mov", []string{"-c:v", "prores_ks"}, true},
		{"mjpeg.mov", []string{"-c:v", "mjpeg"}, true},
		{"h264.mp4", h264, true},
		{"h264.mov", h264, true},
		{"faststart.mp4", append([]string{"-movflags", "+faststart"}, h264...), true},
		{"offsets.mp4", append([]string{"-movflags", "+negative_cts_offsets"}, h264...), false},
		{"hevc.mov", []string{"-c:v", "libx265", "-pix_fmt", "yuv422p10le", "-x265-params", "log-level=error:keyint=10:bframes=4", "-tag:v", "hvc1"}, true},
		{"uneven.mov", append([]string{"-vf", "select=not(eq(mod(n\\,5)\\,3))", "-fps_mode", "passthrough"}, h264...), true},
		{"pieces.mp4", append([]string{"-movflags", "frag_keyframe+empty_moov"}, h264...), false},
		{"late.mov", append([]string{"-output_ts_offset", "2"}, h264...), false},
	} {
		path := made(t, c.name, append(slices.Clone(source), c.args...)...)
		compare(t, path, c.plain)
	}
	with := made(t, "sound.mov", slices.Concat([]string{"-f", "lavfi", "-i", "sine=d=3"}, source, []string{"-map", "0", "-map", "1", "-c:a", "pcm_s16le", "-timecode", "01:00:00:00"}, h264)...)
	compare(t, with, true)

	t.Log("cut to begin between two frames to begin at, an edit leaves some out")
	whole := made(t, "whole.mp4", append(slices.Clone(source), h264...)...)
	cut := filepath.Join(t.TempDir(), "cut.mp4")
	if out, err := exec.Command("ffmpeg", "-v", "error", "-ss", "0.7", "-i", whole, "-c", "copy", cut).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	compare(t, cut, false)

	t.Log("cut short")
	data, err := os.ReadFile(made(t, "front.mp4", slices.Concat(source, []string{"-movflags", "+faststart"}, h264)...))
	if err != nil {
		t.Fatal(err)
	}
	short := filepath.Join(t.TempDir(), "short.mp4")
	if err := os.WriteFile(short, data[:len(data)*2/3], 0o644); err != nil {
		t.Fatal(err)
	}
	if sampleTable(short) != nil {
		t.Error("the tables of a file that is cut short are taken")
	}
}

// compare looks a movie over with its tables and without.
func compare(t *testing.T, path string, plain bool) {
	t.Helper()
	name := filepath.Base(path)
	known := sampleTable(path)
	if plain && known == nil {
		t.Errorf("%s: its tables are not taken", name)
	}
	form, err := containerOf(path)
	if err != nil {
		t.Fatal(err)
	}
	want, err := lookOver(context.Background(), path, form, nil)
	if err != nil {
		t.Fatal(err)
	}
	if known != nil {
		if in, err := lookOver(context.Background(), path, form, known); err == nil {
			if in.Frames != want.Frames || !slices.Equal(in.index.times, want.index.times) || !slices.Equal(in.index.keys, want.index.keys) {
				t.Errorf("%s: tables %d frames, %v, keys %v; packets %d, %v, keys %v", name, in.Frames, in.index.times, in.index.keys, want.Frames, want.index.times, want.index.keys)
			}
		} else if plain {
			t.Errorf("%s: %v", name, err)
		}
	}
	got, err := Probe(context.Background(), path)
	if err != nil || got.Frames != want.Frames || !slices.Equal(got.index.times, want.index.times) {
		t.Errorf("%s: looked over as %d frames, not %d: %v", name, got.Frames, want.Frames, err)
	}
}

// FuzzSampleTable: whatever a file's tables hold, they are read within their bounds, and what is taken has a time for each frame.
func FuzzSampleTable(f *testing.F) {
	path := filepath.Join(f.TempDir(), "a.mov")
	if out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=s=32x32:r=24:d=0.5", "-c:v", "libx264", "-bf", "2", "-g", "6", "-movflags", "+faststart", path).CombinedOutput(); err != nil {
		f.Skipf("ffmpeg: %v: %s", err, out)
	}
	data, err := os.ReadFile(path)
	if err != nil {
		f.Fatal(err)
	}
	f.Add(data)
	if at := bytes.Index(data, []byte("mdat")); at > 0 {
		f.Add(data[:at+4])
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		file := filepath.Join(t.TempDir(), "f.mov")
		if err := os.WriteFile(file, data, 0o644); err != nil {
			t.Fatal(err)
		}
		list := sampleTable(file)
		if len(list) > maxFrames {
			t.Fatalf("%d frames", len(list))
		}
		for _, p := range list {
			if p.Time == nil {
				t.Fatal("a frame without a time")
			}
		}
	})
}

// What ffprobe said of a movie is asked once, as long as the file is as it was.
func TestAMovieIsAskedOnce(t *testing.T) {
	ctx := context.Background()
	one := made(t, "one.mov", "-f", "lavfi", "-i", "testsrc2=s=64x36:r=24:d=0.5", "-c:v", "prores_ks")
	other := made(t, "other.mov", "-f", "lavfi", "-i", "testsrc2=s=96x54:r=24:d=0.25", "-c:v", "prores_ks")
	if in, err := Probe(ctx, one); err != nil || in.W != 64 || in.Frames != 12 {
		t.Fatalf("%+v, %v", in, err)
	}
	path := os.Getenv("PATH")
	t.Setenv("PATH", t.TempDir())
	if in, err := Probe(ctx, one); err != nil || in.W != 64 || in.Frames != 12 {
		t.Errorf("without ffprobe, once it has answered: %+v, %v", in, err)
	}
	t.Setenv("PATH", path)
	if err := os.Rename(other, one); err != nil {
		t.Fatal(err)
	}
	if in, err := Probe(ctx, one); err != nil || in.W != 96 || in.Frames != 6 {
		t.Errorf("another file in its place: %+v, %v", in, err)
	}
}

// What a stranger may have put into a file is not taken: boxes without number, one larger than the file, one that goes on to the end, tables that say more than they hold.
func TestTablesOfAStranger(t *testing.T) {
	box := func(kind string, content ...[]byte) []byte {
		all := slices.Concat(content...)
		return append(binary.BigEndian.AppendUint32(nil, uint32(8+len(all))), append([]byte(kind), all...)...)
	}
	words := func(v ...uint32) (b []byte) {
		for _, n := range v {
			b = binary.BigEndian.AppendUint32(b, n)
		}
		return b
	}
	movie := func(count, entries uint32, more ...[]byte) []byte {
		tables := box("stbl", box("stsd", words(0, 1)), box("stsz", words(0, 100, count)), box("stts", words(0, entries, 3, 512)))
		media := box("mdia", box("mdhd", words(0, 0, 0, 12288, 0)), box("hdlr", words(0, 0), []byte("vide")), box("minf", tables))
		return box("moov", append([][]byte{box("mvhd", words(0, 0, 0, 1000, 0)), box("trak", media)}, more...)...)
	}
	for _, c := range []struct {
		name string
		data []byte
		want int
	}{
		{"as it should be", movie(3, 1), 3},
		{"fewer samples than are told", movie(4, 1), 0},
		{"more entries than there are", movie(3, 1<<31), 0},
		{"more frames than any movie", movie(1<<32-1, 1), 0},
		{"boxes without number", movie(3, 1, bytes.Repeat(box("free"), 20000)), 0},
		{"in pieces", append(movie(3, 1), box("moof")...), 0},
		{"cut short", append(movie(3, 1), words(1000, 0x6d646174)...), 0},
		{"open at its end", append(movie(3, 1), words(0, 0x6d646174)...), 0},
		{"twice", append(movie(3, 1), movie(3, 1)...), 0},
	} {
		file := filepath.Join(t.TempDir(), "a.mov")
		if err := os.WriteFile(file, c.data, 0o644); err != nil {
			t.Fatal(err)
		}
		list := sampleTable(file)
		if len(list) != c.want {
			t.Errorf("%s: %d frames, not %d", c.name, len(list), c.want)
		}
		for i, p := range list {
			if *p.Time != int64(512*i) || p.Flags != "K" {
				t.Errorf("%s: frame %d at %d, %q", c.name, i, *p.Time, p.Flags)
			}
		}
	}
}
