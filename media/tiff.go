package media

import (
	"encoding/binary"
	"errors"
	"fmt"
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

// errNoFloat says that a TIFF holds no 32-bit floats, so that another reader may try.
var errNoFloat = errors.New("holds no floats")

// readFloatTIFF reads a TIFF of 32-bit floats in strips, three or four samples a pixel, uncompressed.
// With headOnly it answers with an empty frame of the size.
func readFloatTIFF(data []byte, headOnly bool) (*frame.Frame, error) {
	if len(data) < 8 {
		return nil, errNoFloat
	}
	var order binary.ByteOrder = binary.LittleEndian
	switch string(data[:4]) {
	case "II*\x00":
	case "MM\x00*":
		order = binary.BigEndian
	default:
		return nil, errNoFloat
	}
	tags := map[uint16][]uint32{}
	at := int64(order.Uint32(data[4:]))
	if at+2 > int64(len(data)) {
		return nil, errNoFloat
	}
	count := int64(order.Uint16(data[at:]))
	for i := range count {
		e := at + 2 + 12*i
		if e+12 > int64(len(data)) {
			return nil, errNoFloat
		}
		tag, kind, n := order.Uint16(data[e:]), order.Uint16(data[e+2:]), int64(order.Uint32(data[e+4:]))
		size := map[uint16]int64{3: 2, 4: 4}[kind]
		if size == 0 || n > 1<<20 {
			continue
		}
		place := e + 8
		if size*n > 4 {
			place = int64(order.Uint32(data[e+8:]))
		}
		if place+size*n > int64(len(data)) {
			return nil, errNoFloat
		}
		for k := range n {
			if size == 2 {
				tags[tag] = append(tags[tag], uint32(order.Uint16(data[place+2*k:])))
			} else {
				tags[tag] = append(tags[tag], order.Uint32(data[place+4*k:]))
			}
		}
	}
	one := func(tag uint16, or uint32) uint32 {
		if v := tags[tag]; len(v) > 0 {
			return v[0]
		}
		return or
	}
	w, h, n := one(tagWidth, 0), one(tagHeight, 0), one(tagSamples, 1)
	if one(tagFormat, 1) != 3 || one(tagBits, 1) != 32 {
		return nil, errNoFloat
	}
	switch {
	case w < 1 || h < 1 || int64(w)*int64(h) > Limit():
		return nil, fmt.Errorf("its size is %d×%d, and %d million pixels are the most", w, h, Limit()/1e6)
	case n != 3 && n != 4 || one(tagPlanar, 1) != 1:
		return nil, errors.New("has other planes than red, green, blue and perhaps alpha in turn")
	case one(tagCompression, 1) != 1:
		return nil, errors.New("its floats are compressed in a way that is not read here")
	}
	rows := min(one(tagRows, h), h)
	strips := (int64(h) + int64(rows) - 1) / max(int64(rows), 1)
	if rows == 0 || int64(len(tags[tagOffsets])) < strips {
		return nil, errors.New("lacks strips")
	}
	line := int64(4*n) * int64(w)
	for i := range strips { // before anything as large as the picture is made
		if end := int64(tags[tagOffsets][i]) + line*min(int64(rows), int64(h)-i*int64(rows)); end > int64(len(data)) {
			return nil, errors.New("is cut off")
		}
	}
	if headOnly {
		return &frame.Frame{W: int(w), H: int(h), Planes: int(n)}, nil
	}
	f := frame.New(int(w), int(h), int(n))
	for y := range f.H {
		strip, in := y/int(rows), y%int(rows)
		src := data[int64(tags[tagOffsets][strip])+line*int64(in):]
		for x := range f.W {
			for p := range f.Planes {
				f.Row(p, y)[x] = math.Float32frombits(order.Uint32(src[4*(x*f.Planes+p):]))
			}
		}
	}
	return f, nil
}
