package media

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// Whatever ffprobe says, what is taken from it is sound: sizes within the limit, rates and aspects that are numbers.
func FuzzProbe(f *testing.F) {
	f.Add([]byte(`{"packets":[{"pts":0,"flags":"K_"},{"pts":512,"flags":"__"}],"streams":[{"codec_name":"hevc","width":1920,"height":1080,"pix_fmt":"yuv422p10le","sample_aspect_ratio":"1:1","r_frame_rate":"24/1","time_base":"1/12288","side_data_list":[{"rotation":-90}]}],"format":{"tags":{"timecode":"01:00:00:00"}}}`))
	f.Add([]byte(`{"streams":[{"width":-3,"height":99999999,"sample_aspect_ratio":"9999:1","r_frame_rate":"nan/1","time_base":"0/0"}]}`))
	f.Add([]byte(`{"packets":[{"flags":"KD"},{"pts":3,"flags":""}],"streams":[{"width":9,"height":9,"pix_fmt":"weird","r_frame_rate":"1/0","side_data_list":[{"rotation":1e300}]}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		in, err := parseProbe("a.mov", data, nil)
		if err != nil {
			return
		}
		w, h := in.Shape()
		if in.W < 1 || in.H < 1 || w < 1 || h < 1 || int64(w)*int64(h) > Limit() || in.Frames < 1 || !(in.Rate >= 0 && in.Rate < 1e9) {
			t.Fatalf("%+v", in)
		}
		l := layoutOf(in)
		if n := l.bytes(); n < in.W*in.H || n > 16*in.W*in.H+64 {
			t.Fatalf("a frame of %d bytes for %dx%d", n, in.W, in.H)
		}
		for _, n := range []int{0, 1, in.Frames / 2, in.Frames - 1} {
			if seek, _, ok := in.index.before(n); ok && seek == "" {
				t.Fatal("a seek to nowhere")
			}
		}
	})
}

// Names of sequences, in a folder that holds files: each is a sequence whose files are there, or told what is wrong.
func FuzzSequencesInAFolder(f *testing.F) {
	dir := f.TempDir()
	for _, name := range []string{"a.0001.png", "a.0002.png", "a.0005.png", "a.10000.png", "b1.exr", "b2.exr", "c-1.dpx", "%d.png", "shot_00.tif", "shot_01.tif", "0.jpg", "x.99999999999999999999.png"} {
		if err := os.WriteFile(filepath.Join(dir, name), []byte("x"), 0o644); err != nil {
			f.Fatal(err)
		}
	}
	for _, s := range []string{"a.%04d.png", "b%d.exr", "%d.jpg", "a.%d.png", "%%d.png", "a.%0999999d.png", "%s.png", "a.%04d.%04d.png", "shot_%02d.tif", "a.0001.png", "..%d", "%+d.png", "x.%020d.png"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, name string) {
		if strings.ContainsAny(name, "/\x00") {
			return
		}
		path := filepath.Join(dir, name)
		if pattern, ok := Recognise(path); ok {
			if frames, missing := Count(pattern); frames < 2 || missing >= frames {
				t.Fatalf("%q: %d frames, %d missing", pattern, frames, missing)
			}
		}
		s, err := findSequence(path)
		if err != nil {
			return
		}
		for _, n := range []int{0, s.count - 1} {
			if _, err := os.Stat(s.file(n)); err != nil {
				t.Fatalf("%q: frame %d is %q: %v", name, n, s.file(n), err)
			}
		}
	})
}

// What movies begin with: told as something that is read, or as nothing.
func FuzzContainer(f *testing.F) {
	for _, s := range []string{"", "RIFFxxxxAVI ", "\x1a\x45\xdf\xa3", "xxxxftyp", "SDPX", string(exrMagic), strings.Repeat("G", 600), "#EXTM3U"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, head []byte) {
		switch c := container(head); c {
		case "", "exr_pipe", "dpx_pipe", "matroska", "avi", "mxf", "mov", "mpegts":
		default:
			t.Fatal(c)
		}
	})
}
