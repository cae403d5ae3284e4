package media

import (
	"compress/zlib"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"slices"

	"golang.org/x/image/tiff/lzw"

	"velours/core/frame"
	"velours/core/vec"
)

// tiffFile is what the head of a TIFF says of a picture that lies in strips: whole numbers of 8 or 16 bits or floats, grey or red, green, blue
// and perhaps alpha, pixel by pixel (TIFF 6.0, sections 2 to 5, 13, 14, 18, 19). Other TIFFs are left to the library.
type tiffFile struct {
	order         binary.ByteOrder
	w, h          int
	samples, bits int
	compression   uint32
	differences   bool // from pixel to pixel
	premultiplied bool
	rows          int // of a strip
	strips        []strip
}

// strip is where a strip lies.
type strip struct{ at, size int64 }

// errOtherTIFF says that a TIFF is not one of those, so that another reader may try.
var errOtherTIFF = errors.New("is a TIFF of another kind")

const (
	compressNone, compressLZW, compressDeflate, compressOldDeflate, compressPackBits = 1, 5, 8, 32946, 32773
	tagPredictor, tagTileWidth, tagFill                                              = 317, 322, 266
	// most bytes of a head that is read, and most of one of its lists
	mostTags, mostValues = 4096, 1 << 20
)

// openTIFF reads the head of a TIFF, which errors call path.
func openTIFF(path string, f io.ReaderAt, size int64) (*tiffFile, error) {
	head := make([]byte, 8)
	if _, err := f.ReadAt(head, 0); err != nil {
		return nil, errOtherTIFF
	}
	t := &tiffFile{order: binary.LittleEndian}
	switch string(head[:4]) {
	case "II*\x00":
	case "MM\x00*":
		t.order = binary.BigEndian
	default:
		return nil, errOtherTIFF
	}
	tags, err := t.tags(f, size, int64(t.order.Uint32(head[4:])))
	if err != nil {
		return nil, err
	}
	one := func(tag uint16, or uint32) uint32 {
		if v := tags[tag]; len(v) > 0 {
			return v[0]
		}
		return or
	}
	w, h, n, format := one(tagWidth, 0), one(tagHeight, 0), one(tagSamples, 1), one(tagFormat, 1)
	t.bits, t.samples, t.compression = int(one(tagBits, 1)), int(n), one(tagCompression, 1)
	floats := format == 3 && t.bits == 32
	for _, b := range tags[tagBits] {
		if int(b) != t.bits {
			return nil, errOtherTIFF
		}
	}
	if !floats && (format != 1 || t.bits != 8 && t.bits != 16) || len(tags[tagTileWidth]) > 0 || one(tagFill, 1) != 1 {
		return nil, errOtherTIFF
	}
	if err := checkArea(path, int(w), int(h)); err != nil {
		return nil, err
	}
	photometric, extra, predictor := one(tagPhotometric, 0), one(tagExtra, 0), one(tagPredictor, 1)
	t.w, t.h, t.differences, t.premultiplied = int(w), int(h), predictor == 2, extra == 1
	if floats {
		switch {
		case n != 3 && n != 4 || one(tagPlanar, 1) != 1:
			return nil, errors.New("has other planes than red, green, blue and perhaps alpha in turn")
		case t.compression != compressNone:
			return nil, errors.New("its floats are compressed in a way that is not read here")
		}
		t.premultiplied = false
	} else {
		grey, colour := photometric == 1 && n == 1, photometric == 2 && (n == 3 || n == 4 && (extra == 1 || extra == 2))
		known := []uint32{compressNone, compressLZW, compressDeflate, compressOldDeflate, compressPackBits}
		if !grey && !colour || one(tagPlanar, 1) != 1 || !slices.Contains(known, t.compression) || predictor > 2 {
			return nil, errOtherTIFF
		}
	}
	t.rows = int(min(one(tagRows, h), h))
	offsets, counts := tags[tagOffsets], tags[tagCounts]
	if t.rows == 0 || len(offsets) < (t.h+t.rows-1)/t.rows {
		return nil, errors.New("lacks strips")
	}
	line := int64(t.w) * int64(t.samples*t.bits/8)
	for i := range (t.h + t.rows - 1) / t.rows { // before anything as large as the picture is made
		s := strip{at: int64(offsets[i]), size: line * int64(min(t.rows, t.h-i*t.rows))}
		if t.compression != compressNone {
			if i >= len(counts) {
				return nil, errOtherTIFF
			}
			s.size = int64(counts[i])
		}
		if s.at+s.size > size {
			return nil, errors.New("is cut off")
		}
		t.strips = append(t.strips, s)
	}
	return t, nil
}

// tags reads the numbers of the first directory.
func (t *tiffFile) tags(f io.ReaderAt, size, at int64) (map[uint16][]uint32, error) {
	part := func(at int64, n int64) ([]byte, error) {
		if at < 0 || at+n > size {
			return nil, errOtherTIFF
		}
		b := make([]byte, n)
		if _, err := f.ReadAt(b, at); err != nil {
			return nil, errOtherTIFF
		}
		return b, nil
	}
	b, err := part(at, 2)
	if err != nil {
		return nil, err
	}
	count := int64(t.order.Uint16(b))
	if count > mostTags {
		return nil, errOtherTIFF
	}
	if b, err = part(at+2, 12*count); err != nil {
		return nil, err
	}
	tags := map[uint16][]uint32{}
	for ; len(b) > 0; b = b[12:] {
		tag, kind, n := t.order.Uint16(b), t.order.Uint16(b[2:]), int64(t.order.Uint32(b[4:]))
		width := map[uint16]int64{3: 2, 4: 4}[kind] // numbers of two and of four bytes
		if width == 0 || n > mostValues {
			continue
		}
		values := b[8:12]
		if width*n > 4 {
			if values, err = part(int64(t.order.Uint32(values)), width*n); err != nil {
				return nil, err
			}
		}
		for k := range n {
			if width == 2 {
				tags[tag] = append(tags[tag], uint32(t.order.Uint16(values[2*k:])))
			} else {
				tags[tag] = append(tags[tag], t.order.Uint32(values[4*k:]))
			}
		}
	}
	return tags, nil
}

// mostRows is how many rows of a strip that is not compressed are read at a time.
const mostRows = 32

// read reads the picture, strip by strip on every core.
func (t *tiffFile) read(f io.ReaderAt) (*frame.Frame, error) {
	planes := max(t.samples, 3) // grey is all three
	out := frame.Get(t.w, t.h, planes)
	if t.compression == compressNone {
		t.part()
	}
	line := t.w * t.samples * t.bits / 8
	problems := make([]error, len(t.strips))
	err := frame.Bands(context.Background(), len(t.strips), 1, func(i, _ int) {
		y0 := i * t.rows
		data := make([]byte, line*min(t.rows, t.h-y0))
		if problems[i] = t.unpack(data, f, t.strips[i]); problems[i] != nil {
			return
		}
		for y := y0; len(data) > 0; y, data = y+1, data[line:] {
			t.row(out, y, data[:line])
		}
	})
	if err = errors.Join(append(problems, err)...); err != nil {
		out.Release()
		return nil, err
	}
	if planes == 4 && solid(out) {
		out.Planes = 3
	}
	return out, nil
}

// part takes strips that are not compressed apart, so that a picture in one is read by every core, a little at a time.
func (t *tiffFile) part() {
	line := int64(t.w) * int64(t.samples*t.bits/8)
	var parts []strip
	rows := min(t.rows, mostRows)
	if t.rows%rows != 0 && len(t.strips) > 1 {
		return // a part would lie in two strips
	}
	for i, s := range t.strips {
		for y := 0; y < min(t.rows, t.h-i*t.rows); y += rows {
			parts = append(parts, strip{s.at + int64(y)*line, line * int64(min(rows, t.rows-y, t.h-i*t.rows-y))})
		}
	}
	t.strips, t.rows = parts, rows
}

// unpack reads a strip's samples, as many as data has room for.
func (t *tiffFile) unpack(data []byte, f io.ReaderAt, s strip) error {
	in := io.NewSectionReader(f, s.at, s.size)
	var from io.Reader = in
	switch t.compression {
	case compressPackBits:
		packed := make([]byte, s.size)
		if _, err := io.ReadFull(in, packed); err != nil || !unpackBits(data, packed) {
			return errors.New("is cut off")
		}
		return nil
	case compressLZW:
		l := lzw.NewReader(in, lzw.MSB, 8)
		defer l.Close()
		from = l
	case compressDeflate, compressOldDeflate:
		z, err := zlib.NewReader(in)
		if err != nil {
			return fmt.Errorf("a strip cannot be unpacked: %w", err)
		}
		defer z.Close()
		from = z
	}
	if _, err := io.ReadFull(from, data); err != nil {
		if errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF) {
			return errors.New("is cut off")
		}
		return fmt.Errorf("a strip cannot be unpacked: %w", err)
	}
	return nil
}

// unpackBits fills data from runs of bytes, as TIFF 6.0 packs them (section 9), and tells whether they sufficed: a byte n up to 127 is
// followed by n+1 that are taken as they are, one from 129 on by a byte that is taken 257−n times; 128 says nothing.
func unpackBits(data, packed []byte) bool {
	for len(data) > 0 && len(packed) > 1 {
		n := int(packed[0])
		packed = packed[1:]
		switch {
		case n < 128:
			k := copy(data, packed[:min(n+1, len(packed))])
			data, packed = data[k:], packed[k:]
		case n > 128:
			run := data[:min(257-n, len(data))]
			for i := range run {
				run[i] = packed[0]
			}
			data, packed = data[len(run):], packed[1:]
		}
	}
	return len(data) == 0
}

// row turns a row of samples into code values.
func (t *tiffFile) row(f *frame.Frame, y int, data []byte) {
	n := t.samples
	var to [4][]float32
	for p := range n {
		to[p] = f.Row(p, y)
	}
	switch t.bits {
	case 32:
		for x := range t.w {
			for p := range n {
				to[p][x] = math.Float32frombits(t.order.Uint32(data[4*(x*n+p):]))
			}
		}
		return
	case 16:
		t.row16(to, data)
	default:
		if t.differences {
			for i := n; i < len(data); i++ {
				data[i] += data[i-n]
			}
		}
		for p := range n {
			d := to[p]
			for x := range d {
				d[x] = of8[data[x*n+p]]
			}
		}
	}
	if n == 1 {
		copy(f.Row(1, y), to[0])
		copy(f.Row(2, y), to[0])
	}
	if t.premultiplied {
		divide(to)
	}
}

func (t *tiffFile) row16(to [4][]float32, data []byte) {
	words := make([]byte, 2*t.w)
	for p := range t.samples {
		vec.WordsOf(words, data, t.samples, p, t.order == binary.ByteOrder(binary.BigEndian))
		if t.differences {
			sum := uint16(0)
			for x := 0; x < len(words); x += 2 {
				sum += binary.LittleEndian.Uint16(words[x:])
				binary.LittleEndian.PutUint16(words[x:], sum)
			}
		}
		vec.Shares(to[p], words, 65535)
	}
}

// of8 are the code values of 8 bits.
var of8 = func() (t [256]float32) {
	for i := range t {
		t[i] = float32(i*257) / 65535
	}
	return t
}()

// divide takes the alpha of the fourth row out of the others, which it was multiplied into, as whole numbers of 16 bits.
func divide(rgba [4][]float32) {
	for x, a := range rgba[3] {
		if a == 1 {
			continue
		}
		k := uint32(a*65535 + 0.5)
		for p := range 3 {
			v := uint32(rgba[p][x]*65535 + 0.5)
			if k == 0 {
				rgba[p][x] = 0
				continue
			}
			rgba[p][x] = float32(uint16(v*65535/k)) / 65535
		}
	}
}

// solid tells that the fourth plane is 1 everywhere.
func solid(f *frame.Frame) bool {
	for y := range f.H {
		for _, a := range f.Row(3, y) {
			if a != 1 {
				return false
			}
		}
	}
	return true
}

// withTIFF opens a file as one of these TIFFs; ok is false for all other files.
func withTIFF(path string, use func(t *tiffFile, f *os.File) error) (ok bool, err error) {
	if ext := extension(path); ext != ".tif" && ext != ".tiff" {
		return false, nil
	}
	f, err := os.Open(path)
	if err != nil {
		return false, nil // the other reader names the cause
	}
	defer f.Close()
	st, err := f.Stat()
	if err != nil {
		return false, nil
	}
	t, err := openTIFF(path, f, st.Size())
	if err == nil {
		err = use(t, f)
	}
	var named *FileError
	switch {
	case errors.Is(err, errOtherTIFF):
		return false, nil
	case err != nil && !errors.As(err, &named):
		err = &FileError{path, err.Error(), "write it as 16 bits or as uncompressed 32-bit floats, or copy it again"}
	}
	return true, err
}
