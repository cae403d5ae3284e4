package media

import (
	"encoding/binary"
	"io"
	"os"
)

// The times of a movie's frames stand in its sample tables (ISO/IEC 14496-12, 8.6), also of QuickTime. They are read from there: listing its
// packets reads all of a file, minutes of it where a camera has filled a disk.

// mostTable is how many bytes of tables a movie may have to be read so: hours of it. mostBoxes is how many boxes may lie in one.
const mostTable, mostBoxes = 32 << 20, 10000

// sampleTable reads the packets of the first picture track of a QuickTime or MP4 file from its tables. It returns nil wherever they are not
// plain: pieces (fragments), several edits or descriptions, frames that an edit leaves out, damage. Then the packets are listed.
func sampleTable(path string) []packet {
	f, err := os.Open(path)
	if err != nil {
		return nil
	}
	defer f.Close()
	st, err := f.Stat()
	if err != nil {
		return nil
	}
	movie := movieBox(f, st.Size())
	if movie == nil {
		return nil
	}
	in := movie.inside()
	if in.has("mvex") || in.has("cmov") {
		return nil
	}
	for _, track := range in["trak"] {
		media := track.inside().only("mdia").inside()
		handler := media.only("hdlr")
		if len(handler) < 12 {
			return nil
		}
		if string(handler[8:12]) == "vide" {
			return pictureTrack(track.inside(), media, in.only("mvhd").scale())
		}
	}
	return nil
}

// movieBox is the content of the box that describes a movie; nil where there is none, several, or pieces of a movie, or where the file is cut short.
func movieBox(r io.ReaderAt, size int64) box {
	var found box
	for at, n := int64(0), 0; at < size; n++ {
		var head [16]byte
		if k, _ := r.ReadAt(head[:], at); k < 8 || n > mostBoxes {
			return nil
		}
		long, from := int64(binary.BigEndian.Uint32(head[:])), int64(8)
		if long == 1 {
			long, from = int64(binary.BigEndian.Uint64(head[8:])), 16
		}
		// one that goes on to the end, which is told by a zero, may be cut short
		if long < from || long > size-at {
			return nil
		}
		switch string(head[4:8]) {
		case "moof":
			return nil
		case "moov":
			if found != nil || long > mostTable {
				return nil
			}
			found = make(box, long-from)
			if _, err := r.ReadAt(found, at+from); err != nil {
				return nil
			}
		}
		at += long
	}
	return found
}

// pictureTrack reads the packets of a track, in the order in which they are stored.
func pictureTrack(track, media children, movieScale uint32) []packet {
	tables := media.only("minf").inside().only("stbl").inside()
	kinds, sizes := tables.only("stsd"), tables.only("stsz")
	if tables.has("stps") || len(kinds) < 8 || len(sizes) < 12 || binary.BigEndian.Uint32(kinds[4:]) != 1 {
		return nil
	}
	count := int64(binary.BigEndian.Uint32(sizes[8:]))
	if count == 0 || count > maxFrames {
		return nil
	}
	times := make([]int64, 0, count)
	at := int64(0)
	ok := tables.only("stts").entries(8, func(e []byte) bool { // so many samples, each so long
		n, long := int64(binary.BigEndian.Uint32(e)), int64(binary.BigEndian.Uint32(e[4:]))
		if n > count-int64(len(times)) || long >= 1<<31 {
			return false
		}
		for range n {
			times = append(times, at)
			at += long
		}
		return true
	})
	if !ok || int64(len(times)) != count {
		return nil
	}
	if tables.has("ctts") {
		k := 0
		ok := tables.only("ctts").entries(8, func(e []byte) bool { // so many samples, each shown so much later
			n, later := int64(binary.BigEndian.Uint32(e)), int64(int32(binary.BigEndian.Uint32(e[4:])))
			if n > int64(len(times)-k) {
				return false
			}
			for range n {
				times[k] += later
				k++
			}
			return true
		})
		if !ok {
			return nil
		}
	}
	if !edited(track, times, movieScale, media.only("mdhd").scale()) {
		return nil
	}
	list := make([]packet, count)
	for i := range list {
		list[i].Time = &times[i]
	}
	if !tables.has("stss") { // each is one to begin at
		for i := range list {
			list[i].Flags = "K"
		}
		return list
	}
	ok = tables.only("stss").entries(4, func(e []byte) bool {
		n := int64(binary.BigEndian.Uint32(e))
		if n < 1 || n > count {
			return false
		}
		list[n-1].Flags = "K"
		return true
	})
	if !ok {
		return nil
	}
	return list
}

// edited moves times by the edit that makes the first frame begin at once; ok is false where there is another, or where it leaves frames out.
func edited(track children, times []int64, movieScale, scale uint32) (ok bool) {
	if !track.has("edts") {
		return true
	}
	first, last := times[0], times[0]
	for _, t := range times {
		first, last = min(first, t), max(last, t)
	}
	list := track.only("edts").inside().only("elst")
	if len(list) < 8 || binary.BigEndian.Uint32(list[4:]) != 1 || movieScale == 0 || scale == 0 {
		return false
	}
	var long, from int64
	var rate uint32
	switch e := list[8:]; {
	case list[0] == 0 && len(e) >= 12:
		long, from, rate = int64(binary.BigEndian.Uint32(e)), int64(int32(binary.BigEndian.Uint32(e[4:]))), binary.BigEndian.Uint32(e[8:])
	case list[0] == 1 && len(e) >= 20:
		long, from, rate = int64(binary.BigEndian.Uint64(e)), int64(binary.BigEndian.Uint64(e[8:])), binary.BigEndian.Uint32(e[16:])
	default:
		return false
	}
	if rate != 1<<16 || from != first || float64(last-first)/float64(scale) >= float64(long)/float64(movieScale) {
		return false
	}
	for i := range times {
		times[i] -= from
	}
	return true
}

// box is the content of a box: others, or a table.
type box []byte

// children are the boxes in a box, by kind.
type children map[string][]box

// inside are the boxes in it, none where they do not fill it.
func (b box) inside() children {
	in := children{}
	for n := 0; len(b) >= 8; n++ {
		long, from := uint64(binary.BigEndian.Uint32(b)), uint64(8)
		if long == 1 && len(b) >= 16 {
			long, from = binary.BigEndian.Uint64(b[8:]), 16
		}
		if long < from || long > uint64(len(b)) || n > mostBoxes {
			return nil
		}
		kind := string(b[4:8])
		in[kind] = append(in[kind], b[from:long])
		b = b[long:]
	}
	return in
}

// only is its one box of a kind, nil where there are none or several.
func (c children) only(kind string) box {
	if len(c[kind]) != 1 {
		return nil
	}
	return c[kind][0]
}

func (c children) has(kind string) bool { return len(c[kind]) > 0 }

// scale is the units to a second of a head, 0 where it is too short.
func (b box) scale() uint32 {
	at := 12
	if len(b) > 0 && b[0] == 1 { // with times of 64 bits
		at = 20
	}
	if len(b) < at+4 {
		return 0
	}
	return binary.BigEndian.Uint32(b[at:])
}

// entries calls f with each entry of a table, of so many bytes. It tells whether all were there and f took them.
func (b box) entries(size int, f func(entry []byte) bool) bool {
	if len(b) < 8 {
		return false
	}
	n := int(binary.BigEndian.Uint32(b[4:]))
	if b = b[8:]; n > len(b)/size {
		return false
	}
	for i := range n {
		if !f(b[i*size : (i+1)*size]) {
			return false
		}
	}
	return true
}
