package media

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"io"
	"math"
	"slices"

	"velours/core/frame"
)

// Tags of TIFF 6.0 that a plain picture has.
const (
	tagWidth, tagHeight, tagBits, tagCompression, tagPhotometric = 256, 257, 258, 259, 262
	tagOffsets, tagSamples, tagRows, tagCounts, tagPlanar        = 273, 277, 278, 279, 284
	tagExtra, tagFormat                                          = 338, 339
)

// tiffEntry is a tag with its values, of two bytes (short) or four.
type tiffEntry struct {
	tag, kind uint16
	values    []uint32
}

const tiffShort, tiffLong = 3, 4

func (e *tiffEntry) size() int {
	if e.kind == tiffShort {
		return 2 * len(e.values)
	}
	return 4 * len(e.values)
}

// tiffHead is the head of a TIFF with one directory, which its strips follow: their offsets are counted from the end of the
// head (TIFF 6.0, section 2).
func tiffHead(order binary.AppendByteOrder, list []tiffEntry) []byte {
	slices.SortFunc(list, func(a, b tiffEntry) int { return int(a.tag) - int(b.tag) })
	directory := 8 + 2 + 12*len(list) + 4
	end := directory
	for i := range list {
		if n := list[i].size(); n > 4 { // it lies behind the directory
			end += n
		}
	}
	mark := "MM"
	if order == binary.LittleEndian {
		mark = "II"
	}
	head := order.AppendUint32(order.AppendUint16([]byte(mark), 42), 8)
	head = order.AppendUint16(head, uint16(len(list)))
	var behind []byte
	for i := range list {
		e := &list[i]
		var values []byte
		for _, v := range e.values {
			if e.tag == tagOffsets {
				v += uint32(end)
			}
			if e.kind == tiffShort {
				values = order.AppendUint16(values, uint16(v))
			} else {
				values = order.AppendUint32(values, v)
			}
		}
		head = order.AppendUint32(order.AppendUint16(order.AppendUint16(head, e.tag), e.kind), uint32(len(e.values)))
		if len(values) > 4 {
			head = order.AppendUint32(head, uint32(directory+len(behind)))
			behind = append(behind, values...)
			continue
		}
		head = append(append(head, values...), make([]byte, 4-len(values))...)
	}
	return append(order.AppendUint32(head, 0), behind...)
}

// tiffEntries are the tags that all pictures here have: of so many channels and bits, in strips of so many rows; alpha, the fourth,
// is not multiplied into the colours (section 18).
func tiffEntries(w, h, channels, bits, rows int) []tiffEntry {
	list := []tiffEntry{
		{tagWidth, tiffLong, []uint32{uint32(w)}}, {tagHeight, tiffLong, []uint32{uint32(h)}}, {tagBits, tiffShort, slices.Repeat([]uint32{uint32(bits)}, channels)},
		{tagPhotometric, tiffShort, []uint32{2}}, {tagSamples, tiffShort, []uint32{uint32(channels)}}, {tagRows, tiffLong, []uint32{uint32(rows)}}, {tagPlanar, tiffShort, []uint32{1}},
	}
	if channels > 3 {
		list = append(list, tiffEntry{tagExtra, tiffShort, []uint32{2}})
	}
	return list
}

// writeFloatTIFF writes an uncompressed TIFF of 32-bit floats, one strip (section 19).
func writeFloatTIFF(w io.Writer, f *frame.Frame) error {
	le := binary.LittleEndian
	n := f.Planes
	list := append(tiffEntries(f.W, f.H, n, 32, f.H), tiffEntry{tagCompression, tiffShort, []uint32{1}}, tiffEntry{tagOffsets, tiffLong, []uint32{0}},
		tiffEntry{tagCounts, tiffLong, []uint32{uint32(4 * n * f.W * f.H)}}, tiffEntry{tagFormat, tiffShort, slices.Repeat([]uint32{3}, n)})
	if _, err := w.Write(tiffHead(le, list)); err != nil {
		return err
	}
	row := make([]byte, 4*n*f.W)
	for y := range f.H {
		for p := range f.Planes {
			for x, v := range f.Row(p, y) {
				le.PutUint32(row[4*(x*n+p):], math.Float32bits(v))
			}
		}
		if _, err := w.Write(row); err != nil {
			return err
		}
	}
	return nil
}

// writeTIFF writes a picture of 8 or 16 bits, each sample told by its difference from the one to its left (section 14), in strips that
// are compressed on every core (Technical Note 2 of 2002: Deflate). The strips are in memory before the head is written, which
// says where they lie.
func writeTIFF(w io.Writer, s *samples) error {
	rows := max(bandBytes/s.stride(), 1)
	var strips [][]byte
	var offsets, counts []uint32
	at := 0
	err := inBands(s.h, rows, func(y0, y1 int) ([]byte, uint32) {
		return deflateStrip(s, y0, y1), 0
	}, func(_, _ int, data []byte, _ uint32) error {
		strips, offsets, counts = append(strips, data), append(offsets, uint32(at)), append(counts, uint32(len(data)))
		at += len(data)
		return nil
	})
	if err != nil {
		return err
	}
	const deflate, differences = 8, 2
	list := append(tiffEntries(s.w, s.h, s.channels, 8*s.bytes, rows), tiffEntry{tagCompression, tiffShort, []uint32{deflate}}, tiffEntry{tagPredictor, tiffShort, []uint32{differences}},
		tiffEntry{tagOffsets, tiffLong, offsets}, tiffEntry{tagCounts, tiffLong, counts})
	if _, err := w.Write(tiffHead(binary.BigEndian, list)); err != nil {
		return err
	}
	for _, strip := range strips {
		if _, err := w.Write(strip); err != nil {
			return err
		}
	}
	return nil
}

// deflateStrip compresses rows of differences.
func deflateStrip(s *samples, y0, y1 int) []byte {
	var to bytes.Buffer
	z, _ := zlib.NewWriterLevel(&to, zlib.BestSpeed) // the level is one that there is, and a buffer takes what comes
	line := make([]byte, s.stride())
	pixel := s.channels * s.bytes
	for y := y0; y < y1; y++ {
		row := s.row(y)
		copy(line, row[:pixel])
		if s.bytes == 1 {
			differences(line[pixel:], row[pixel:], row)
		} else {
			for i := pixel; i < len(row); i += 2 {
				binary.BigEndian.PutUint16(line[i:], binary.BigEndian.Uint16(row[i:])-binary.BigEndian.Uint16(row[i-pixel:]))
			}
		}
		_, _ = z.Write(line)
	}
	_ = z.Close()
	return to.Bytes()
}
