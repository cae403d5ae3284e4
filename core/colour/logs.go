package colour

import "math"

// LogC3, exposure index 800: constants of the curve description of 2012, linear scene
// exposure form ("usage in VFX"), table for EI 800.
const (
	c3cut = 0.010591
	c3a   = 5.555556
	c3b   = 0.052272
	c3c   = 0.247190
	c3d   = 0.385537
	c3e   = 5.367655
	c3f   = 0.092809
)

func encodeLogC3(x float64) float64 {
	if x > c3cut {
		return c3c*math.Log10(c3a*x+c3b) + c3d
	}
	return c3e*x + c3f
}

func decodeLogC3(v float64) float64 {
	if v > c3e*c3cut+c3f {
		return (math.Pow(10, (v-c3d)/c3c) - c3b) / c3a
	}
	return (v - c3f) / c3e
}

// LogC4: specification of 2022, section 3, with its derived constants.
const (
	c4a = (262144.0 - 16) / 117.45
	c4b = (1023.0 - 95) / 1023
	c4c = 95.0 / 1023
)

var (
	c4s = 7 * math.Ln2 * math.Exp2(7-14*c4c/c4b) / (c4a * c4b)
	c4t = (math.Exp2(14*(-c4c/c4b)+6) - 64) / c4a
)

func encodeLogC4(x float64) float64 {
	if x < c4t {
		return (x - c4t) / c4s
	}
	return (math.Log2(c4a*x+64)-6)/14*c4b + c4c
}

func decodeLogC4(v float64) float64 {
	if v < 0 {
		return v*c4s + c4t
	}
	return (math.Exp2(14*(v-c4c)/c4b+6) - 64) / c4a
}

// S-Log3: technical summary of 2014, appendix; reflectance in, 10-bit code over 1023 out.
func encodeSLog3(x float64) float64 {
	if x >= 0.01125 {
		return (420 + math.Log10((x+0.01)/(0.18+0.01))*261.5) / 1023
	}
	return (x*(171.2102946929-95)/0.01125 + 95) / 1023
}

func decodeSLog3(v float64) float64 {
	if v >= 171.2102946929/1023 {
		return math.Pow(10, (v*1023-420)/261.5)*(0.18+0.01) - 0.01
	}
	return (v*1023 - 95) * 0.01125 / (171.2102946929 - 95)
}

// Log3G10: white paper of 2017, revision C, with the offset of 0.01.
const (
	g10a = 0.224282
	g10b = 155.975327
	g10c = 0.01
	g10g = 15.1927
)

func encodeLog3G10(x float64) float64 {
	x += g10c
	if x < 0 {
		return x * g10g
	}
	return g10a * math.Log10(x*g10b+1)
}

func decodeLog3G10(v float64) float64 {
	if v < 0 {
		return v/g10g - g10c
	}
	return (math.Pow(10, v/g10a)-1)/g10b - g10c
}

// N-Log: specification document 1.0.0 of 2018; 10-bit code over 1023.
func encodeNLog(x float64) float64 {
	if x < 0.328 {
		return 650 * math.Cbrt(x+0.0075) / 1023
	}
	return (150*math.Log(x) + 619) / 1023
}

func decodeNLog(v float64) float64 {
	c := v * 1023
	if c < 452 {
		return math.Pow(c/650, 3) - 0.0075
	}
	return math.Exp((c - 619) / 150)
}

// D-Log: white paper of 2017. Its two published directions differ in the sixth digit; the
// decoding is kept as printed and the encoding is its exact inverse.
func encodeDLog(x float64) float64 {
	if x <= (0.14-0.0929)/6.025 {
		return 6.025*x + 0.0929
	}
	return (math.Log10(x*0.9892+0.0108) + 2.27752) / 3.89616
}

func decodeDLog(v float64) float64 {
	if v <= 0.14 {
		return (v - 0.0929) / 6.025
	}
	return (math.Pow(10, 3.89616*v-2.27752) - 0.0108) / 0.9892
}

// Printing density, 10-bit: 0.002 density a code over a negative gamma of 0.6, white at 685,
// black at 95 (the film digital image file practice of SMPTE 268M, annex).
var pdOffset = math.Pow(10, (95-685)/300.0)

func encodePrinting(x float64) float64 {
	return (685 + 300*math.Log10(max(x*(1-pdOffset)+pdOffset, 1e-10))) / 1023
}

func decodePrinting(v float64) float64 {
	return (math.Pow(10, (1023*v-685)/300) - pdOffset) / (1 - pdOffset)
}

// ACEScct: S-2016-001, section 4.
const (
	cctA     = 10.5402377416545
	cctB     = 0.0729055341958355
	cctBreak = 0.155251141552511
)

func encodeACEScct(x float64) float64 {
	if x <= 0.0078125 {
		return cctA*x + cctB
	}
	return (math.Log2(x) + 9.72) / 17.52
}

func decodeACEScct(v float64) float64 {
	if v <= cctBreak {
		return (v - cctB) / cctA
	}
	return math.Exp2(v*17.52 - 9.72)
}

// ACEScc: S-2014-003, section 4.
func encodeACEScc(x float64) float64 {
	switch {
	case x <= 0:
		return (-16 + 9.72) / 17.52
	case x < math.Exp2(-15):
		return (math.Log2(math.Exp2(-16)+x*0.5) + 9.72) / 17.52
	}
	return (math.Log2(x) + 9.72) / 17.52
}

func decodeACEScc(v float64) float64 {
	switch {
	case v <= (9.72-15)/17.52:
		return (math.Exp2(v*17.52-9.72) - math.Exp2(-16)) * 2
	case v < (math.Log2(65504)+9.72)/17.52:
		return math.Exp2(v*17.52 - 9.72)
	}
	return 65504
}
