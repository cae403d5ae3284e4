package media

import (
	"bytes"
	"compress/flate"
	"context"
	"encoding/binary"
	"hash/adler32"
	"hash/crc32"
	"io"
	"runtime"

	"velours/core/frame"
)

// samples is a picture as files have it: rows of channels, the higher byte of a sample first.
type samples struct {
	w, h, channels, bytes int
	data                  []byte
}

// stride is the length of a row in bytes.
func (s *samples) stride() int { return s.w * s.channels * s.bytes }

func (s *samples) row(y int) []byte { return s.data[y*s.stride() : (y+1)*s.stride()] }

// bandBytes is about how many bytes are compressed at a time: each band by itself, so that all cores work. It is variable for tests.
var bandBytes = 1 << 20

// writePNG writes a picture of 8 or 16 bits (PNG, third edition). Every row is told by its difference from the one above: of the
// filters, that makes the smallest files of grained pictures at this compression, and takes no search. Bands are compressed apart
// and follow each other as blocks of one stream (RFC 1951, 3.2.3; RFC 1950).
func writePNG(w io.Writer, s *samples) error {
	out := &chunks{w: w}
	out.write("\x89PNG\r\n\x1a\n")
	kind := byte(2) // colour
	if s.channels == 4 {
		kind = 6 // and alpha
	}
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, uint32(s.w)), uint32(s.h))
	out.chunk("IHDR", append(head, byte(8*s.bytes), kind, 0, 0, 0))

	rows := max(bandBytes/(s.stride()+1), 1)
	sum := uint32(1)
	err := inBands(s.h, rows, func(y0, y1 int) ([]byte, uint32) {
		return deflateRows(s, y0, y1, y1 == s.h)
	}, func(y0, y1 int, data []byte, adler uint32) error {
		sum = joinAdler(sum, adler, (y1-y0)*(s.stride()+1))
		if y0 == 0 {
			data = append([]byte{0x78, 0x01}, data...) // a stream of the usual window, quickly made
		}
		if y1 == s.h {
			data = binary.BigEndian.AppendUint32(data, sum)
		}
		out.chunk("IDAT", data)
		return out.err
	})
	if err != nil {
		return err
	}
	out.chunk("IEND", nil)
	return out.err
}

// inBands has bands of rows packed on every core, some for each at a time, and passes them on in their order.
func inBands(h, rows int, pack func(y0, y1 int) ([]byte, uint32), pass func(y0, y1 int, data []byte, sum uint32) error) error {
	type packed struct {
		data []byte
		sum  uint32
	}
	some := make([]packed, 4*runtime.GOMAXPROCS(0))
	for y := 0; y < h; y += len(some) * rows {
		n := (min(len(some)*rows, h-y) + rows - 1) / rows
		if err := frame.Bands(context.Background(), n, 1, func(k, _ int) {
			some[k].data, some[k].sum = pack(y+k*rows, min(y+(k+1)*rows, h))
		}); err != nil {
			return err
		}
		for k := range some {
			if y0 := y + k*rows; y0 < h {
				if err := pass(y0, min(y0+rows, h), some[k].data, some[k].sum); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// deflateRows compresses rows with their filters, and is the checksum of what it compressed. Unless they are the last, they end
// where a byte ends, so that others can follow.
func deflateRows(s *samples, y0, y1 int, last bool) ([]byte, uint32) {
	const up = 2
	var to bytes.Buffer
	z, _ := flate.NewWriter(&to, flate.BestSpeed) // the level is one that there is, and a buffer takes what comes
	sum := adler32.New()
	line := make([]byte, 1+s.stride())
	none := make([]byte, s.stride())
	line[0] = up
	for y := y0; y < y1; y++ {
		above := none
		if y > 0 {
			above = s.row(y - 1)
		}
		differences(line[1:], s.row(y), above)
		_, _ = sum.Write(line)
		_, _ = z.Write(line)
	}
	if last {
		_ = z.Close()
	} else {
		_ = z.Flush()
	}
	return to.Bytes(), sum.Sum32()
}

// differences sets dst to a − b, byte by byte, eight at a time: the highest bit of each is kept out of borrowing.
func differences(dst, a, b []byte) {
	const high = 0x8080808080808080
	n := len(dst) &^ 7
	for i := 0; i < n; i += 8 {
		x, y := binary.LittleEndian.Uint64(a[i:]), binary.LittleEndian.Uint64(b[i:])
		binary.LittleEndian.PutUint64(dst[i:], ((x|high)-(y&^high))^((x^^y)&high))
	}
	for i := n; i < len(dst); i++ {
		dst[i] = a[i] - b[i]
	}
}

// joinAdler is the checksum of what has the checksum a and then n bytes with the checksum b (RFC 1950, 8.2): both are sums of
// bytes, and sums of those sums, modulo 65521.
func joinAdler(a, b uint32, n int) uint32 {
	const modulus = 65521
	lowA, highA, lowB, highB := a&0xffff, a>>16, b&0xffff, b>>16
	low := (lowA + lowB + modulus - 1) % modulus
	// the first 1 of b counted n times, where a's low sum should have
	high := (uint64(highA) + uint64(highB) + uint64(n%modulus)*uint64(lowA+modulus-1)) % modulus
	return uint32(high)<<16 | low
}

// chunks writes the pieces that a PNG is made of, up to the first error.
type chunks struct {
	w   io.Writer
	err error
}

func (c *chunks) write(s string) {
	if c.err == nil {
		_, c.err = io.WriteString(c.w, s)
	}
}

func (c *chunks) chunk(name string, data []byte) {
	if c.err != nil {
		return
	}
	head := append(binary.BigEndian.AppendUint32(nil, uint32(len(data))), name...)
	sum := crc32.NewIEEE()
	_, _ = sum.Write(head[4:])
	_, _ = sum.Write(data)
	for _, part := range [][]byte{head, data, binary.BigEndian.AppendUint32(nil, sum.Sum32())} {
		if _, c.err = c.w.Write(part); c.err != nil {
			return
		}
	}
}
