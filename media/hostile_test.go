package media

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/crc32"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
)

// vastPNG is a PNG of a few bytes that claims a size.
func vastPNG(w, h uint32) []byte {
	b := bytes.NewBufferString("\x89PNG\r\n\x1a\n")
	chunk := func(kind string, data []byte) {
		binary.Write(b, binary.BigEndian, uint32(len(data)))
		all := append([]byte(kind), data...)
		b.Write(all)
		binary.Write(b, binary.BigEndian, crc32.ChecksumIEEE(all))
	}
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, w), h)
	chunk("IHDR", append(head, 16, 6, 0, 0, 0))
	chunk("IDAT", []byte{0x78, 0x9c})
	return b.Bytes()
}

// vastTIFF claims a size in its directory; with floats it is read by ourselves.
func vastTIFF(w, h uint32, floats bool) []byte {
	le := binary.LittleEndian
	format, bits := uint32(1), uint32(16)
	if floats {
		format, bits = 3, 32
	}
	tags := [][3]uint32{{256, 4, w}, {257, 4, h}, {258, 3, bits}, {259, 3, 1}, {262, 3, 1}, {273, 4, 8}, {277, 3, 1}, {278, 4, h}, {279, 4, 16}, {339, 3, format}}
	b := []byte{'I', 'I', 42, 0, 8, 0, 0, 0}
	b = le.AppendUint16(b, uint16(len(tags)))
	for _, e := range tags {
		b = le.AppendUint16(le.AppendUint16(b, uint16(e[0])), uint16(e[1]))
		b = le.AppendUint32(le.AppendUint32(b, 1), e[2])
	}
	return append(b, 0, 0, 0, 0)
}

// vastJPEG claims a size in its frame header.
func vastJPEG(w, h uint16) []byte {
	b := []byte{0xff, 0xd8, 0xff, 0xc0, 0, 17, 8}
	b = binary.BigEndian.AppendUint16(binary.BigEndian.AppendUint16(b, h), w)
	return append(b, 3, 1, 0x22, 0, 2, 0x11, 1, 3, 0x11, 1, 0xff, 0xd9)
}

// vastEXR claims a data window.
func vastEXR(w, h int32) []byte {
	b := append([]byte{}, exrMagic...)
	b = append(b, 2, 0, 0, 0)
	attribute := func(name, kind string, data []byte) {
		b = append(b, name+"\x00"+kind+"\x00"...)
		b = append(binary.LittleEndian.AppendUint32(b, uint32(len(data))), data...)
	}
	box := binary.LittleEndian.AppendUint32(binary.LittleEndian.AppendUint32(make([]byte, 8), uint32(w-1)), uint32(h-1))
	var channels []byte
	for _, c := range "BGR" {
		channels = append(channels, byte(c), 0, 1, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0)
	}
	attribute("channels", "chlist", append(channels, 0))
	attribute("compression", "compression", []byte{0})
	attribute("dataWindow", "box2i", box)
	attribute("displayWindow", "box2i", box)
	attribute("lineOrder", "lineOrder", []byte{0})
	attribute("pixelAspectRatio", "float", []byte{0, 0, 0x80, 0x3f})
	attribute("screenWindowCenter", "v2f", make([]byte, 8))
	attribute("screenWindowWidth", "float", []byte{0, 0, 0x80, 0x3f})
	return append(b, make([]byte, 64)...)
}

// What a file claims or is called does not lead out of it: each is refused with its name, and quickly.
func TestHostileFiles(t *testing.T) {
	need(t)
	dir := t.TempDir()
	secret := filepath.Join(dir, "secret.png")
	if err := writePicture(secret); err != nil {
		t.Fatal(err)
	}
	hls := fmt.Sprintf("#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\n%s\n#EXT-X-ENDLIST\n", secret)
	live := fmt.Sprintf("#EXTM3U\n#EXT-X-TARGETDURATION:600\n#EXTINF:600,\n%s\n", secret)
	concat := fmt.Sprintf("ffconcat version 1.0\nfile '%s'\n", secret)
	sdp := "v=0\no=- 0 0 IN IP4 127.0.0.1\ns=x\nc=IN IP4 127.0.0.1\nt=0 0\nm=video 5004 RTP/AVP 96\na=rtpmap:96 H264/90000\n"
	dash := `<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011" type="static"><Period><AdaptationSet mimeType="video/mp4"><Representation id="1"><BaseURL>` + secret + `</BaseURL></Representation></AdaptationSet></Period></MPD>`
	for name, data := range map[string]string{
		"hls.mov": hls, "hls.mp4": hls, "hls.mts": hls, "hls.dpx": hls, "hls.exr": hls, "live.mkv": live, "concat.mov": concat, "concat.dpx": concat, "concat.avi": concat,
		"sdp.mp4": sdp, "dash.mp4": dash, "empty.mov": "", "text.mov": "not a movie at all", "one.mov": "x",
		"magic.mkv": "\x1a\x45\xdf\xa3" + hls, "magic.exr": string(exrMagic) + hls, "magic.dpx": "SDPX" + concat, "magic.mov": "\x00\x00\x00\x18ftyp" + concat,
		"vast.png": string(vastPNG(60000, 60000)), "wide.png": string(vastPNG(1<<31-1, 1)), "zero.png": string(vastPNG(0, 10)),
		"vast.tif": string(vastTIFF(60000, 60000, false)), "vastfloat.tif": string(vastTIFF(60000, 60000, true)), "overflow.tif": string(vastTIFF(1<<31, 1<<31, true)),
		"vast.jpg": string(vastJPEG(65535, 65535)), "vast.exr": string(vastEXR(60000, 60000)), "negative.exr": string(vastEXR(-5, 3)),
		"exr.mov": string(vastEXR(64, 64)), "png.mov": string(vastPNG(8, 8)), "mov.exr": "\x00\x00\x00\x18ftypqt  ",
		"-i.mov": hls, "-version.png": "x", "a;rm -rf b.mov": hls, "%s%n.mov": hls, "%999999999d.png": "x", "new\nline.mov": hls,
	} {
		t.Run(name, func(t *testing.T) {
			file := filepath.Join(dir, name)
			if err := os.WriteFile(file, []byte(data), 0o644); err != nil {
				t.Fatal(err)
			}
			var err error
			soon(t, "reading it", func() {
				var r *Reader
				if r, err = Open(ctx, file); err == nil {
					_, err = r.Frame(ctx, 0)
					r.Close()
				}
			})
			var f *FileError
			if !errors.As(err, &f) || !strings.Contains(err.Error(), name) {
				t.Errorf("got %v", err)
			}
		})
	}
	for _, name := range []string{"queue.mov", "queue.png", "queue.exr"} { // to open one waits for ever
		file := filepath.Join(dir, name)
		if err := syscall.Mkfifo(file, 0o644); err != nil {
			t.Skip(err)
		}
		soon(t, "opening a pipe", func() {
			if _, err := Open(ctx, file); err == nil {
				t.Errorf("%s was read", name)
			}
		})
	}
}

// A % in the path of a folder is no pattern, and neither is one in the name of a still that is read by its own name.
func TestPercentInPathIsNoPattern(t *testing.T) {
	need(t)
	dir := filepath.Join(t.TempDir(), "100%d cotton %04d")
	if err := os.MkdirAll(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	for _, ext := range []string{".png", ".exr", ".dpx", ".mov"} {
		file := filepath.Join(dir, "card"+ext)
		w, err := Create(file, 0, Options{})
		if err != nil {
			t.Fatal(err)
		}
		if err := errors.Join(w.Write(ctx, card(32, 18, 0)), w.Close()); err != nil {
			t.Fatal(err)
		}
		r, err := Open(ctx, file)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := r.Frame(ctx, 0); err != nil {
			t.Error(err)
		}
		r.Close()
	}
}

// The limit follows the memory that is set, and its refusal says the figures.
func TestLimitFollowsMemory(t *testing.T) {
	was := Limit()
	defer limit.Store(was)
	SetMemory(3500 << 20)
	if got := Limit(); got < 100e6 || got > 200e6 {
		t.Errorf("3500 MB allow %d pixels", got)
	}
	SetMemory(1 << 30)
	err := checkArea("a.png", 20000, 10000)
	if err == nil || !strings.Contains(err.Error(), "20000×10000") || !strings.Contains(err.Error(), "--memory") || !strings.Contains(err.Error(), "45 million") {
		t.Errorf("got %v", err)
	}
	if err := checkArea("a.png", 4000, 3000); err != nil {
		t.Error(err)
	}
}

func writePicture(file string) error {
	w, err := Create(file, 0, Options{})
	if err != nil {
		return err
	}
	return errors.Join(w.Write(ctx, card(16, 16, 0)), w.Close())
}
