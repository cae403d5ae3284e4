package media

import (
	"fmt"
	"strconv"
	"strings"
)

// Colour says what the code values of a delivery mean, in the names of ITU-T H.273 as ffmpeg spells them.
type Colour struct{ Primaries, Transfer, Matrix string }

// Video is the usual: BT.709.
var Video = Colour{"bt709", "bt709", "bt709"}

// args tag both the stream and its frames: some encoders write the one into the file, some the other.
// Where the form changes on the way, the range is held.
func (c Colour) args(full bool, form string) []string {
	span := "tv"
	if full {
		span = "pc"
	}
	return []string{"-vf", fmt.Sprintf("scale=in_range=%[4]s:out_range=%[4]s,format=%[5]s,setparams=color_primaries=%[1]s:color_trc=%[2]s:colorspace=%[3]s:range=%[4]s", c.Primaries, c.Transfer, c.Matrix, span, form),
		"-color_primaries", c.Primaries, "-color_trc", c.Transfer, "-colorspace", c.Matrix, "-color_range", span}
}

// codePoints are the numbers of ITU-T H.273, tables 2 to 4.
var codePoints = map[string]int{"bt709": 1, "bt2020": 9, "bt2020nc": 9, "smpte432": 12, "iec61966-2-1": 13, "smpte2084": 16, "smpte428": 17, "arib-std-b67": 18}

// numbers are the options of ffmpeg's filters that write the colour into a stream.
func (c Colour) numbers() string {
	return fmt.Sprintf("color_primaries=%d:color_trc=%d:colorspace=%d", codePoints[c.Primaries], codePoints[c.Transfer], codePoints[c.Matrix])
}

// weights are the shares of red and blue in luma (H.273, table 4).
func (c Colour) weights() (kr, kb float32) {
	if c.Matrix == "bt2020nc" {
		return 0.2627, 0.0593
	}
	return 0.2126, 0.0722
}

// Later is the time code n frames after one, or "" where it cannot be told: drop-frame time codes are
// kept at their start alone.
func Later(timecode string, n int, rate float64) string {
	if n == 0 || timecode == "" {
		return timecode
	}
	f := strings.Split(timecode, ":")
	fps := int(rate + 0.5)
	if len(f) != 4 || fps < 1 {
		return ""
	}
	total := 0
	for i, unit := range []int{3600 * fps, 60 * fps, fps, 1} {
		v, err := strconv.Atoi(f[i])
		if err != nil {
			return ""
		}
		total += v * unit
	}
	total = (total + n) % (24 * 3600 * fps)
	return fmt.Sprintf("%02d:%02d:%02d:%02d", total/(3600*fps), total/(60*fps)%60, total/fps%60, total%fps)
}
