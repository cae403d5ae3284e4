package media

import (
	"encoding/binary"
	"io"
	"math"

	"velours/core/frame"
)

// Tags of TIFF 6.0 that a plain float picture has.
const (
	tagWidth, tagHeight, tagBits, tagCompression, tagPhotometric = 256, 257, 258, 259, 262
	tagOffsets, tagSamples, tagRows, tagCounts, tagPlanar        = 273, 277, 278, 279, 284
	tagExtra, tagFormat                                          = 338, 339
)

// writeFloatTIFF writes an uncompressed TIFF of 32-bit floats, one strip, alpha unassociated (TIFF 6.0,
// sections 2 and 19).
func writeFloatTIFF(w io.Writer, f *frame.Frame) error {
	le := binary.LittleEndian
	n := uint32(f.Planes)
	type entry struct {
		tag, kind uint16
		values    []uint32
	}
	repeat := func(v uint32) []uint32 {
		out := make([]uint32, n)
		for i := range out {
			out[i] = v
		}
		return out
	}
	const short, long = 3, 4
	size := 4 * n * uint32(f.W) * uint32(f.H)
	list := []entry{
		{tagWidth, long, []uint32{uint32(f.W)}}, {tagHeight, long, []uint32{uint32(f.H)}}, {tagBits, short, repeat(32)}, {tagCompression, short, []uint32{1}},
		{tagPhotometric, short, []uint32{2}}, {tagOffsets, long, []uint32{0}}, {tagSamples, short, []uint32{n}}, {tagRows, long, []uint32{uint32(f.H)}},
		{tagCounts, long, []uint32{size}}, {tagPlanar, short, []uint32{1}},
	}
	if n > 3 {
		list = append(list, entry{tagExtra, short, []uint32{2}})
	}
	list = append(list, entry{tagFormat, short, repeat(3)})
	head := []byte{'I', 'I', 42, 0, 8, 0, 0, 0}
	head = le.AppendUint16(head, uint16(len(list)))
	more := uint32(8 + 2 + 12*len(list) + 4) // where values lie that do not fit their entry
	var tail []byte
	start := more
	for _, e := range list {
		if e.kind == short && len(e.values) > 2 {
			start += 2 * uint32(len(e.values))
		}
	}
	for _, e := range list {
		head = le.AppendUint16(le.AppendUint16(head, e.tag), e.kind)
		head = le.AppendUint32(head, uint32(len(e.values)))
		switch {
		case e.tag == tagOffsets:
			head = le.AppendUint32(head, start)
		case e.kind == long:
			head = le.AppendUint32(head, e.values[0])
		case len(e.values) > 2:
			head = le.AppendUint32(head, more+uint32(len(tail)))
			for _, v := range e.values {
				tail = le.AppendUint16(tail, uint16(v))
			}
		default:
			head = le.AppendUint32(head, e.values[0])
		}
	}
	head = append(le.AppendUint32(head, 0), tail...)
	if _, err := w.Write(head); err != nil {
		return err
	}
	row := make([]byte, 4*int(n)*f.W)
	for y := range f.H {
		for p := range f.Planes {
			for x, v := range f.Row(p, y) {
				le.PutUint32(row[4*(x*int(n)+p):], math.Float32bits(v))
			}
		}
		if _, err := w.Write(row); err != nil {
			return err
		}
	}
	return nil
}
