package studio

import (
	"math"

	"velours/core/colour"
	"velours/core/look"
	"velours/media"
)

// tagsOf are the words of ITU-T H.273 for a display's code values.
var tagsOf = map[string]media.Colour{
	"bt1886": {Primaries: "bt709", Transfer: "bt709", Matrix: "bt709"},
	"srgb":   {Primaries: "bt709", Transfer: "iec61966-2-1", Matrix: "bt709"},
	"p3-d65": {Primaries: "smpte432", Transfer: "smpte428", Matrix: "bt709"},
	"pq":     {Primaries: "bt2020", Transfer: "smpte2084", Matrix: "bt2020nc"},
	"hlg":    {Primaries: "bt2020", Transfer: "arib-std-b67", Matrix: "bt2020nc"},
}

// options are how a job's pictures are written: tagged for the display they were made for, or stating
// the gamut of their light, with the source's rate and time code.
func (j *Job) options(in *media.Info, d *colour.Display) media.Options {
	o := media.Options{Rate: in.RateText, Half: j.Half, Codec: j.Codec, Depth: j.Depth, Range: j.Range, Megabits: j.Megabits, Timecode: media.Later(in.Timecode, j.First, in.Rate)}
	var gamut [8]float32
	switch j.Tap {
	case look.Screen, look.Finish:
		o.Colour = tagsOf[d.ID]
		gamut = chromaticities(d.Gamut)
		o.Gamut = &gamut
	case look.Intake, look.Balance, look.Lens:
		gamut = chromaticities(colour.AP1)
		o.Gamut, o.Light = &gamut, true
	default: // densities and CIE XYZ have no primaries
		o.Light = true
	}
	return o
}

func chromaticities(g colour.Gamut) [8]float32 {
	var c [8]float32
	for i, p := range []colour.XY{g.R, g.G, g.B, g.White} {
		c[2*i], c[2*i+1] = float32(p.X), float32(p.Y)
	}
	return c
}

// linearOf is the linear encoding whose primaries and white are those, or "" where there is none.
func linearOf(c [8]float32) string {
	for _, e := range colour.Encodings() {
		if !e.Linear {
			continue
		}
		same := true
		for i, v := range chromaticities(e.Gamut) {
			same = same && math.Abs(float64(v-c[i])) < 2e-3
		}
		if same {
			return e.ID
		}
	}
	return ""
}
