package media

import (
	"regexp"
	"strconv"

	"velours/core/frame"
	"velours/core/vec"
)

// layout is how ffmpeg hands a frame over: planar samples of 1, 2 or 4 bytes.
type layout struct {
	name       string
	yuv, alpha bool
	subX, subY int // chroma shifts
	depth      int
	float      bool
	full       bool
	matrix     string
	w, h       int
}

var planar = regexp.MustCompile(`^(yuvj?|yuva|gbr|gbra)(4[024]{2})?p(f32|9|10|12|14|16)?(le)?$`)

// transparent are ffmpeg's formats with alpha.
var transparent = regexp.MustCompile(`^(rgba|bgra|argb|abgr|ya\d|yuva|ayuv|gbrap)`)

// packed are YUV formats that hold the samples of a planar one in another order: asked for as that,
// they keep their own matrix and range for us to apply.
var packed = map[string]string{
	"nv12": "yuv420p", "nv21": "yuv420p", "nv16": "yuv422p", "uyvy422": "yuv422p", "yuyv422": "yuv422p", "yvyu422": "yuv422p",
	"p010le": "yuv420p10le", "p210le": "yuv422p10le", "y210le": "yuv422p10le",
}

// layoutOf takes a format over as it is where its samples are planar, and asks for 16-bit planes
// where they are not.
func layoutOf(in *Info) layout {
	l := layout{name: in.Format, full: in.Full, matrix: in.Matrix, w: in.W, h: in.H}
	if p, ok := packed[l.name]; ok {
		l.name = p
	}
	m := planar.FindStringSubmatch(l.name)
	if m == nil || (m[3] != "" && m[4] == "") {
		l.name, l.depth, l.alpha = "gbrp16le", 16, transparent.MatchString(in.Format)
		if l.alpha {
			l.name = "gbrap16le"
		}
		return l
	}
	l.yuv = m[2] != ""
	l.alpha = m[1] == "yuva" || m[1] == "gbra"
	l.full = l.full || m[1] == "yuvj"
	switch m[2] {
	case "420":
		l.subX, l.subY = 1, 1
	case "422":
		l.subX = 1
	}
	switch m[3] {
	case "":
		l.depth = 8
	case "f32":
		l.depth, l.float = 32, true
	default:
		l.depth, _ = strconv.Atoi(m[3])
	}
	return l
}

func (l *layout) sample() int {
	switch {
	case l.float:
		return 4
	case l.depth > 8:
		return 2
	}
	return 1
}

func (l *layout) chroma() (w, h int) {
	return (l.w + 1<<l.subX - 1) >> l.subX, (l.h + 1<<l.subY - 1) >> l.subY
}

// bytes is the size of a frame.
func (l *layout) bytes() int {
	n := l.w * l.h
	total := 3 * n
	if l.yuv {
		cw, ch := l.chroma()
		total = n + 2*cw*ch
	}
	if l.alpha {
		total += n
	}
	return total * l.sample()
}

// coefficients are K_R and K_B of a YUV matrix.
func coefficients(matrix string) (kr, kb float64) {
	switch matrix {
	case "smpte170m", "bt470bg":
		return 0.299, 0.114 // ITU-R BT.601
	case "bt2020nc":
		return 0.2627, 0.0593 // ITU-R BT.2020
	}
	return 0.2126, 0.0722 // ITU-R BT.709
}

// decode turns the bytes of a frame into R, G, B and perhaps alpha, on every core.
func (l *layout) decode(data []byte) *frame.Frame {
	planes := 3
	if l.alpha {
		planes = 4
	}
	f := frame.Get(l.w, l.h, planes)
	if l.yuv {
		bands(l.h, func(y0, y1 int) { l.decodeYUV(f, data, y0, y1) })
		return f
	}
	n := l.w * l.h * l.sample()
	bands(l.h, func(y0, y1 int) {
		for i, p := range []int{1, 2, 0, 3}[:planes] { // G, B, R, A
			for y := y0; y < y1; y++ {
				l.row(f.Row(p, y), data[i*n+y*l.w*l.sample():], l.white(), 0)
			}
		}
	})
	return f
}

// decodeYUV decodes rows y0 to y1.
func (l *layout) decodeYUV(f *frame.Frame, data []byte, y0, y1 int) {
	kr, kb := coefficients(l.matrix)
	kg := 1 - kr - kb
	m := [12]float32{
		1, 0, float32(2 * (1 - kr)), 0,
		1, float32(-2 * (1 - kb) * kb / kg), float32(-2 * (1 - kr) * kr / kg), 0,
		1, float32(2 * (1 - kb)), 0, 0,
	}
	unit := float64(int(1) << (l.depth - 8))
	white, black, swing, zero := 219*unit, 16*unit, 224*unit, 128*unit
	if l.full {
		white, black = 256*unit-1, 0
		swing = white
	}
	s := l.sample()
	cw, ch := l.chroma()
	luma, chroma := l.w*l.h*s, cw*ch*s
	near, far, mixed := row(cw), row(cw), row(cw)
	for y := y0; y < y1; y++ {
		l.row(f.Row(0, y), data[y*l.w*s:], white, black)
		for c := range 2 {
			plane := data[luma+c*chroma:]
			cy := y >> l.subY
			src := near
			if l.subX == 0 {
				src = f.Row(1+c, y)
			}
			l.row(src, plane[cy*cw*s:], swing, zero)
			if l.subY == 1 { // samples stand between two lines
				other := min(max(cy-1+2*(y&1), 0), ch-1)
				l.row(far, plane[other*cw*s:], swing, zero)
				vec.Mix(mixed, near, far, 0.75, 0.25)
				src = mixed
			}
			if l.subX == 1 { // samples stand on even columns
				src = src[:cw+1]
				src[cw] = src[cw-1]
				vec.Between(f.Row(1+c, y), src)
			}
		}
		vec.Matrix(f.Row(0, y), f.Row(1, y), f.Row(2, y), &m)
		if l.alpha {
			l.row(f.Row(3, y), data[luma+2*chroma+y*l.w*s:], 256*unit-1, 0)
		}
	}
}

func (l *layout) white() float64 { return float64(int(1)<<min(l.depth, 16) - 1) }

// row turns samples into (v − black)/white.
func (l *layout) row(dst []float32, src []byte, white, black float64) {
	k, o := float32(1/white), float32(-black/white)
	switch l.sample() {
	case 1:
		vec.FromBytes(dst, src, k, o)
	case 2:
		vec.FromWords(dst, src, k, o)
	default:
		for i := range dst {
			dst[i] = float32FromBytes(src[4*i:])
		}
	}
}
