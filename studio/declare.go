package studio

import (
	"fmt"
	"strings"

	"velours/core/colour"
	"velours/core/frame"
	"velours/library"
)

// Suggestion is an encoding that a file's own tags point to without settling it, and on what ground.
type Suggestion struct {
	Encoding string `json:"encoding"`
	Why      string `json:"why"`
}

// Says is what a shot's file tells of itself, in a line.
func Says(s *library.Shot) string {
	var w []string
	add := func(yes bool, format string, args ...any) {
		if yes {
			w = append(w, fmt.Sprintf(format, args...))
		}
	}
	add(s.Codec != "", "%s", s.Codec)
	add(s.Depth == 8, "8 bits only")
	add(s.Depth > 8 && s.Depth < 32, "%d-bit", s.Depth)
	add(s.Depth == 32, "float")
	video := s.Matrix != "" && s.Matrix != "gbr" && s.Matrix != "unknown"
	add(video && !s.Full, "legal range")
	add(s.Full && s.Kind == "movie", "full range")
	add(video, "matrix %s", s.Matrix)
	add(s.Primaries != "" && s.Primaries != s.Matrix && s.Kind == "movie", "primaries %s", s.Primaries)
	add(s.Transfer != "" && s.Transfer != "unknown" && s.Kind == "movie", "tagged %s", s.Transfer)
	add(s.Rotated != 0, "turned by %d°", s.Rotated)
	add(s.Aspect != 0 && (s.Aspect < 0.999 || s.Aspect > 1.001), "pixels %.3g wide", s.Aspect)
	return strings.Join(w, " · ")
}

// displayTags are the transfer tags of pictures made for a display.
var displayTags = map[string]string{"bt709": "BT.709 video", "smpte170m": "SD video", "bt470bg": "SD video", "bt2020-10": "BT.2020 video", "bt2020-12": "BT.2020 video", "iec61966-2-1": "sRGB", "srgb": "sRGB"}

// Doubt is what speaks against a shot's declared encoding, or "".
func Doubt(s *library.Shot) string {
	e, err := colour.FindEncoding(s.Encoding)
	if err != nil {
		return ""
	}
	tag := displayTags[s.Transfer]
	deep := s.Dark > darkShare
	switch {
	case e.Camera && tag != "" && deep:
		return fmt.Sprintf("Declared as %s, but tagged %s, and its blacks lie below where that curve puts any light.", e.Label, tag)
	case e.Camera && deep:
		return fmt.Sprintf("Declared as %s, but its blacks lie below where that curve puts any light: it looks like display video.", e.Label)
	case (s.Transfer == "smpte2084" && e.ID != "pq") || (s.Transfer == "arib-std-b67" && e.ID != "hlg"):
		return fmt.Sprintf("Declared as %s, but its tag says otherwise.", e.Label)
	case e.Camera && s.Depth == 8:
		return "8 bits are few for a log curve: smooth tones may break into bands."
	}
	return ""
}

// Suggest is what an undeclared shot's tags and tones point to.
func Suggest(s *library.Shot) Suggestion {
	if s.Encoding != "" {
		return Suggestion{}
	}
	deep := s.Dark > darkShare
	switch {
	case s.Matrix == "bt2020nc" && deep:
		return Suggestion{"bt2020", "its matrix is BT.2020’s, and its blacks lie at code zero, as video’s do"}
	case (s.Matrix == "bt709" || s.Matrix == "smpte170m") && deep:
		return Suggestion{"bt709", "its matrix is that of video, and its blacks lie at code zero, as video’s do"}
	case s.Kind != "movie" && s.Depth == 16 && deep:
		return Suggestion{"srgb", "it is a still, and its blacks lie at code zero, as a computer picture’s do"}
	}
	return Suggestion{}
}

// darkShare is how much of a picture must lie below darkCode to say that its blacks do: the log curves
// of cameras put no light at all at code 0.092 and keep their noise above 0.06.
const darkShare, darkCode = 0.02, 0.05

// darkness is the share of a frame's samples whose every channel lies below darkCode.
func darkness(f *frame.Frame) float64 {
	n, dark := 0, 0
	for y := 0; y < f.H; y += 1 + f.H/180 {
		r, g, b := f.Row(0, y), f.Row(1, y), f.Row(2, y)
		for x := 0; x < f.W; x += 1 + f.W/320 {
			n++
			if max(r[x], g[x], b[x]) < darkCode {
				dark++
			}
		}
	}
	return float64(dark) / float64(n)
}
