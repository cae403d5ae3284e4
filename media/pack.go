package media

import (
	"context"
	"encoding/binary"
	"math"

	"velours/core/dither"
	"velours/core/frame"
	"velours/core/vec"
)

// raw is a planar form of samples, as ffmpeg is given them.
type raw int

const (
	yuv422   raw = iota // 10-bit YUV 4:2:2
	yuv444              // 10-bit YUV 4:4:4
	planes10            // G, B, R of 10, 12 and 16 bits
	planes12
	planes16
	floats // G, B, R and perhaps A as floats
)

func (r raw) format(planes int) string {
	if r == floats && planes > 3 {
		return "gbrapf32le"
	}
	return [...]string{"yuv422p10le", "yuv444p10le", "gbrp10le", "gbrp12le", "gbrp16le", "gbrpf32le"}[r]
}

// depth is the bits of an integral sample.
func (r raw) depth() int { return [...]int{10, 10, 10, 12, 16, 32}[r] }

// planesOf is the form of G, B and R with so many bits.
func planesOf(depth int) raw { return map[int]raw{10: planes10, 12: planes12, 16: planes16}[depth] }

// pack brings a picture of code values to bytes of a form, on every core, in buf if it has room. YUV is of the colour's matrix; legal range is
// that of video. Below 16 bits samples are dithered, by thresholds that depend on their place alone.
func pack(buf []byte, f *frame.Frame, form raw, c Colour, full bool) []byte {
	switch form {
	case yuv422, yuv444:
		return packYUV(buf, f, c, form, full)
	case floats:
		return packFloats(buf, f)
	}
	return packPlanes(buf, f, form.depth(), full)
}

// Legal422 appends code values as planar 10-bit 4:2:2, BT.709, legal range.
func Legal422(out []byte, f *frame.Frame) []byte {
	return append(out, packYUV(nil, f, Video, yuv422, false)...)
}

// room is buf with n bytes.
func room(buf []byte, n int) []byte {
	if cap(buf) < n {
		return make([]byte, n)
	}
	return buf[:n]
}

// packRows is how many rows are packed at a time.
const packRows = 32

// bands are frame.Bands of work that is short and that nobody stops.
func bands(h int, work func(y0, y1 int)) {
	if err := frame.Bands(context.Background(), h, packRows, work); err != nil {
		panic(err) // of work itself: it goes on to whoever catches it
	}
}

// row is room for w samples, and for what a kernel writes beyond.
func row(w int) []float32 { return make([]float32, w, w+64) }

// packYUV is planes of luma and two differences, in legal or full range (H.273, equations 20 to 28 and 38 to 43); in 4:2:2 the
// differences stand on even columns, filtered by (1 2 1)/4.
func packYUV(buf []byte, f *frame.Frame, c Colour, form raw, full bool) []byte {
	kr, kb := c.weights()
	const unit = float32(4) // codes of ten bits for one of eight
	half := form == yuv422
	w := f.W
	if half {
		w /= 2
	}
	out := room(buf, 2*f.H*(f.W+2*w))
	lo, hi := unit, 255*unit-1 // the codes at either end are reserved
	black, span, swing := 16*unit, 219*unit, 224*unit
	if full {
		top := 256*unit - 1
		lo, hi, black, span, swing = 0, top, 0, top, top
	}
	kg := 1 - kr - kb
	luma := [4]float32{span * kr, span * kg, span * kb, black}
	// (B − Y)/(2(1 − kb)) and (R − Y)/(2(1 − kr)), about the middle
	b, r := swing/(2*(1-kb)), swing/(2*(1-kr))
	blue := [4]float32{-b * kr, -b * kg, b * (1 - kb), 128 * unit}
	red := [4]float32{r * (1 - kr), -r * kg, -r * kb, 128 * unit}
	planes := [3][]byte{out[:2*f.H*f.W], out[2*f.H*f.W:][:2*f.H*w], out[2*f.H*(f.W+w):]}
	bands(f.H, func(y0, y1 int) {
		limits := [3]*dither.Rows{dither.NewRows(0, f.W), dither.NewRows(1, w), dither.NewRows(2, w)}
		line := row(f.W)
		var fewer [3][]float32
		for i := range fewer {
			fewer[i] = row(w)
		}
		for y := y0; y < y1; y++ {
			rgb := [3][]float32{f.Row(0, y), f.Row(1, y), f.Row(2, y)}
			vec.Sum(line, rgb[0], rgb[1], rgb[2], &luma)
			vec.ToWords(planes[0][2*y*f.W:], line, limits[0].Row(y), lo, hi)
			if half {
				for i := range rgb {
					everySecond(fewer[i], f, i, y)
				}
				rgb = fewer
			}
			for i, k := range [2]*[4]float32{&blue, &red} {
				vec.Sum(line[:w], rgb[0], rgb[1], rgb[2], k)
				vec.ToWords(planes[1+i][2*y*w:], line[:w], limits[1+i].Row(y), lo, hi)
			}
		}
	})
	return out
}

// everySecond filters a row by (1 2 1)/4 on even columns; beyond its ends it goes on as it ends.
func everySecond(dst []float32, f *frame.Frame, p, y int) {
	vec.Every2(dst, f.Around(p, y)[frame.LeftPad-1:])
	s := f.Row(p, y)
	dst[0] = 0.75*s[0] + 0.25*s[1]
}

// packPlanes is G, B, R in codes of depth bits, two bytes a sample; legal range is 64 to 940 of 1023 (BT.709, item 4).
func packPlanes(buf []byte, f *frame.Frame, depth int, full bool) []byte {
	out := room(buf, 2*f.W*f.H*3)
	top := float32(int(1)<<depth - 1)
	bands(f.H, func(y0, y1 int) {
		line := row(f.W)
		for i, p := range [3]int{1, 2, 0} {
			limits := dither.NewRows(i, f.W)
			round := dither.Round(f.W)
			for y := y0; y < y1; y++ {
				codes(line, f, p, y, top, !full)
				t := round
				if depth < 16 {
					t = limits.Row(y)
				}
				vec.ToWords(out[2*f.W*(i*f.H+y):], line, t, 0, top)
			}
		}
	})
	return out
}

// packFloats is G, B, R and perhaps A as little-endian floats.
func packFloats(buf []byte, f *frame.Frame) []byte {
	out := room(buf, 4*f.W*f.H*f.Planes)
	bands(f.H, func(y0, y1 int) {
		for i, p := range []int{1, 2, 0, 3}[:f.Planes] {
			for y := y0; y < y1; y++ {
				at := out[4*f.W*(i*f.H+y):][:4*f.W]
				for x, v := range f.Row(p, y) {
					binary.LittleEndian.PutUint32(at[4*x:], math.Float32bits(v))
				}
			}
		}
	})
	return out
}
