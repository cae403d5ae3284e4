package media

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
)

// exrHeader is what is needed of an EXR file's header: where its attributes end, and their values.
type exrHeader struct {
	end        int // of the attributes, before the closing zero
	attributes map[string][]byte
}

var exrMagic = []byte{0x76, 0x2f, 0x31, 0x01}

// parseEXR reads the header of a single-part EXR (OpenEXR file layout, "Header").
func parseEXR(data []byte) (*exrHeader, error) {
	if len(data) < 9 || !bytes.HasPrefix(data, exrMagic) {
		return nil, errors.New("is no EXR")
	}
	if flags := data[5]; flags&0x10 != 0 {
		return nil, errors.New("has many parts")
	}
	h := &exrHeader{attributes: map[string][]byte{}}
	word := func(at int) (string, int, error) {
		n := bytes.IndexByte(data[at:min(len(data), at+256)], 0)
		if n < 0 {
			return "", 0, errors.New("its header is cut off")
		}
		return string(data[at : at+n]), at + n + 1, nil
	}
	at := 8
	for {
		if at >= len(data) {
			return nil, errors.New("its header is cut off")
		}
		if data[at] == 0 {
			h.end = at
			return h, nil
		}
		name, next, err := word(at)
		if err != nil {
			return nil, err
		}
		if _, next, err = word(next); err != nil { // the type
			return nil, err
		}
		if next+4 > len(data) {
			return nil, errors.New("its header is cut off")
		}
		size := int(int32(binary.LittleEndian.Uint32(data[next:])))
		next += 4
		if size < 0 || size > len(data)-next {
			return nil, errors.New("its header is cut off")
		}
		h.attributes[name] = data[next : next+size]
		at = next + size
	}
}

// chromaticities are the red, green, blue and white that the header states, x and y of each.
func (h *exrHeader) chromaticities() (c [8]float32, ok bool) {
	v := h.attributes["chromaticities"]
	if len(v) != 32 {
		return c, false
	}
	for i := range c {
		c[i] = float32FromBytes(v[4*i:])
	}
	return c, true
}

// maxHeader bounds what is read to find a header's end.
const maxHeader = 1 << 20

// exrChromaticities reads them from a file.
func exrChromaticities(path string) (c [8]float32, ok bool) {
	f, err := os.Open(path)
	if err != nil {
		return c, false
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, maxHeader))
	if err != nil {
		return c, false
	}
	h, err := parseEXR(data)
	if err != nil {
		return c, false
	}
	return h.chromaticities()
}

// stateChromaticities puts them into the header of a file of scan lines, and moves the offsets of its
// chunks by what that adds.
func stateChromaticities(path string, c [8]float32) error {
	data, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	h, err := parseEXR(data)
	if err != nil {
		return err
	}
	w := h.attributes["dataWindow"]
	lines := map[byte]int{0: 1, 1: 1, 2: 1, 3: 16, 4: 32}
	k := h.attributes["compression"]
	if len(w) != 16 || len(k) != 1 || lines[k[0]] == 0 || h.attributes["chromaticities"] != nil {
		return fmt.Errorf("%s: its chromaticities cannot be stated", path)
	}
	rows := int(int32(binary.LittleEndian.Uint32(w[12:]))-int32(binary.LittleEndian.Uint32(w[4:]))) + 1
	chunks := (rows + lines[k[0]] - 1) / lines[k[0]]
	add := append([]byte("chromaticities\x00chromaticities\x00"), 32, 0, 0, 0)
	for _, v := range c {
		add = binary.LittleEndian.AppendUint32(add, math.Float32bits(v))
	}
	table := data[h.end+1:]
	if chunks < 1 || len(table) < 8*chunks {
		return fmt.Errorf("%s: its table of chunks is cut off", path)
	}
	for i := range chunks {
		o := table[8*i:]
		binary.LittleEndian.PutUint64(o, binary.LittleEndian.Uint64(o)+uint64(len(add)))
	}
	out := make([]byte, 0, len(data)+len(add))
	out = append(append(append(out, data[:h.end]...), add...), data[h.end:]...)
	return os.WriteFile(path, out, 0o644)
}
