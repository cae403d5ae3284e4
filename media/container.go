package media

import (
	"bytes"
	"io"
	"os"
)

// container is what ffmpeg calls the form of a movie, EXR or DPX, told by how its data begins, not by its name: an
// empty string for what is none of those that are read here.
func container(head []byte) string {
	at := func(i int, s string) bool { return len(head) >= i+len(s) && string(head[i:i+len(s)]) == s }
	switch {
	case bytes.HasPrefix(head, exrMagic):
		return "exr_pipe"
	case at(0, "SDPX"), at(0, "XPDS"):
		return "dpx_pipe"
	case at(0, "\x1a\x45\xdf\xa3"):
		return "matroska" // WebM too
	case at(0, "RIFF") && (at(8, "AVI ") || at(8, "AVIX")):
		return "avi"
	case at(0, "\x06\x0e\x2b\x34\x02\x05\x01\x01"):
		return "mxf"
	}
	for _, box := range []string{"ftyp", "moov", "mdat", "wide", "free", "skip", "pnot"} {
		if at(4, box) {
			return "mov" // MP4 too (ISO/IEC 14496-12)
		}
	}
	for _, p := range [][2]int{{188, 0}, {192, 4}, {204, 0}} { // ISO/IEC 13818-1; with time codes; with parity
		if size, first := p[0], p[1]; at(first, "G") && at(first+size, "G") && at(first+2*size, "G") {
			return "mpegts"
		}
	}
	return ""
}

// containerOf is container of a file.
func containerOf(path string) (string, error) {
	f, err := os.Open(path)
	if err != nil {
		return "", &FileError{path, "cannot be opened: " + cause(err), ""}
	}
	defer f.Close()
	head := make([]byte, 1024)
	n, err := io.ReadFull(f, head)
	if n == 0 && err != nil {
		return "", &FileError{path, "cannot be read: " + cause(err), ""}
	}
	c := container(head[:n])
	if c == "" {
		return "", &FileError{path, "is not a picture or movie that can be read", "check that it is what its name says, or copy it again: it may be cut short"}
	}
	if ext := extension(path); (c == "exr_pipe") != (ext == ".exr") || (c == "dpx_pipe") != (ext == ".dpx") {
		return "", &FileError{path, "is not what its name says", "give it the ending of its own format"}
	}
	return c, nil
}

// regular refuses what is no plain file: to open a pipe or a device may wait for ever.
func regular(path string) error {
	st, err := os.Stat(path)
	switch {
	case err != nil:
		return &FileError{path, "cannot be looked at: " + cause(err), "check the name"}
	case !st.Mode().IsRegular():
		return &FileError{path, "is no plain file", "name a picture or a movie"}
	}
	return nil
}
