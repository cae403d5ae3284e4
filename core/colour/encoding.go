package colour

import (
	"fmt"
	"math"
	"strings"
	"sync"

	"velours/core/vec"
)

// Encoding is how a picture's numbers stand for scene light: a curve and a gamut.
type Encoding struct {
	ID, Label string
	Gamut     Gamut
	// Decode turns a code value (0…1 is the full code range) into linear light; Encode undoes it.
	Decode, Encode func(float64) float64
	// Anchor multiplies decoded light so that mid grey comes to 0.18 in the light path. It is
	// 1 wherever the published curve is itself scene-referred; a plain conversion leaves it out.
	Anchor float64
	// Linear is set where code values are light already.
	Linear bool
	// Camera is set for the log curves of cameras, whose gamuts reach beyond real colours.
	Camera bool
	// Through, if set, turns the code values into those of After, all three channels together; such an
	// encoding has no Decode and Encode of its own.
	Through Transform
	After   *Encoding
	row     *vec.Log
	table   []float32
	codes   func() *wholeCodes // what codes of 16 bits decode to
	// digest tells encodings of one id apart by their numbers, where persons make them.
	digest string
}

// Key tells encodings apart by what they do: equal keys, equal light.
func (e *Encoding) Key() string {
	k := e.ID
	if e.digest != "" {
		k += "@" + e.digest
	}
	if e.After != nil {
		k += " to " + e.After.Key()
	}
	return k
}

// Light is the linear light of three code values.
func (e *Encoding) Light(code [3]float64) [3]float64 {
	if e.Through != nil {
		code, e = e.Through.Apply(code), e.After
	}
	return [3]float64{e.Decode(code[0]), e.Decode(code[1]), e.Decode(code[2])}
}

// DecodeRows turns rows of code values into linear light, in place.
func (e *Encoding) DecodeRows(r, g, b []float32) {
	if e.Through != nil {
		e.Through.Rows(r, g, b)
		e = e.After
	}
	for _, row := range [][]float32{r, g, b} {
		e.DecodeRow(row, row)
	}
}

// ToACEScg is the matrix from the encoding's own linear RGB.
func (e *Encoding) ToACEScg() Matrix { return Convert(e.Gamut, AP1) }

// DecodeRow turns a row of code values into linear light in the encoding's own gamut.
// dst and src may be the same; they follow the padding rules of package vec.
func (e *Encoding) DecodeRow(dst, src []float32) {
	switch {
	case e.Linear:
		copy(dst, src)
	case e.row != nil:
		vec.Decode(dst, src, e.row)
	default:
		e.decodeRow(dst, src)
	}
}

// The table serves curves that are not a plain logarithm, from -0.25 to 1.25 in 6144 steps;
// codes near black and outside are computed, so that what a table blurs never shows.
const tableLo, tableStep = -0.25, 1.0 / 4096

// Codes below darkTo are not read from the table.
const darkTo = 0.1

// topCode is the highest code of 16 bits.
const topCode = 65535

// wholeCodes are what all codes of 16 bits decode to: stills have no others, and neither do those of 8.
type wholeCodes struct {
	light []float32
	// Between codes from bent to straight the curve has a corner or a step, which what lies between two entries would cut.
	bent, straight float32
}

func (e *Encoding) wholeCodes() *wholeCodes {
	c := &wholeCodes{light: make([]float32, topCode+1), bent: 2, straight: 2}
	for k := range c.light {
		c.light[k] = e.between(float32(k) / topCode)
	}
	for k := int(math.Floor(finelyFrom * topCode)); k < topCode; k++ {
		half := e.Decode((float64(k) + 0.5) / topCode)
		if d := float64(c.light[k]+c.light[k+1])/2 - half; math.Abs(d) > 1e-5*math.Abs(half) {
			c.bent = min(c.bent, float32(k)/topCode)
			c.straight = float32(k+1) / topCode
		}
	}
	return c
}

// straightAt tells that what lies between two entries about x is good.
func (c *wholeCodes) straightAt(x float32) bool {
	return x >= finelyFrom && x < 1 && (x < c.bent || x > c.straight)
}

// between decodes a code by the table, or by computing it where the table would blur it.
func (e *Encoding) between(x float32) float32 {
	u := (x - tableLo) / tableStep
	if !(u > 0.05/tableStep && u < float32(len(e.table)-1)) || x < darkTo {
		return float32(e.Decode(float64(x)))
	}
	i := int(u)
	f := u - float32(i)
	return e.table[i]*(1-f) + e.table[i+1]*f
}

// decodeRow decodes codes that are no plain logarithm: whole codes of 16 bits by a table of all, others by what lies between two of
// its entries.
func (e *Encoding) decodeRow(dst, src []float32) {
	whole16 := e.codes()
	codes := whole16.light
	var at [256]int32
	var part [256]float32
	for len(src) > 0 {
		n := min(len(at), len(src))
		whole := n &^ 15
		if vec.Numbers(at[:whole], src, topCode) {
			for i, k := range at[:whole] {
				dst[i] = codes[uint16(k)]
			}
		} else {
			vec.Places(at[:whole], part[:whole], src, topCode)
			for i, x := range src[:whole] {
				if whole16.straightAt(x) {
					y := codes[uint16(at[i])]
					dst[i] = y + (codes[uint16(at[i])+1]-y)*part[i]
				} else {
					dst[i] = e.computed(x, codes)
				}
			}
		}
		for i, x := range src[whole:n] {
			if k := int32(x*topCode + 0.5); x >= 0 && x <= 1 && float32(k)/topCode == x {
				dst[whole+i] = codes[k]
			} else if whole16.straightAt(x) {
				v := x * topCode
				y := codes[int(v)]
				dst[whole+i] = y + (codes[int(v)+1]-y)*(v-float32(int(v)))
			} else {
				dst[whole+i] = e.computed(x, codes)
			}
		}
		dst, src = dst[n:], src[n:]
	}
}

// finelyFrom is from where on the codes of 16 bits are close enough for straight pieces between them: a power of 2.4 strays by
// 2.5 millionths there, as it does by the coarser table at darkTo.
const finelyFrom = 0.0065

// computed decodes a code that lies near black or outside.
func (e *Encoding) computed(x float32, codes []float32) float32 {
	if k := int32(x*topCode + 0.5); x >= 0 && x <= 1 && float32(k)/topCode == x {
		return codes[k]
	}
	return e.between(x)
}

// Encodings lists all that ship, in the order in which they are offered, and after them those that
// persons have added.
func Encodings() []*Encoding {
	return append(encodings[:len(encodings):len(encodings)], known.All()...)
}

// FindEncoding returns the encoding with an id, or an error that lists the ids there are.
func FindEncoding(id string) (*Encoding, error) {
	var ids []string
	for _, e := range Encodings() {
		if e.ID == id {
			return e, nil
		}
		ids = append(ids, e.ID)
	}
	return nil, fmt.Errorf("unknown encoding %q; there are %s", id, strings.Join(ids, ", "))
}

// Undeclared is what footage is taken for while nobody has said how it was recorded: plain video, which shows as it
// stands.
func Undeclared() *Encoding { return shipped("bt709") }

// Working is the light that steps work on, as an encoding: ACEScg.
func Working() *Encoding { return shipped("acescg") }

// shipped is an encoding of ours.
func shipped(id string) *Encoding {
	for _, e := range encodings {
		if e.ID == id {
			return e
		}
	}
	panic("colour: no encoding " + id)
}

func same(x float64) float64 { return x }

var encodings = []*Encoding{
	{ID: "logc3", Label: "LogC3 (EI 800)", Camera: true, Gamut: logC3, Decode: decodeLogC3, Encode: encodeLogC3},
	{ID: "logc4", Label: "LogC4", Camera: true, Gamut: logC4, Decode: decodeLogC4, Encode: encodeLogC4},
	{ID: "slog3", Label: "S-Log3, S-Gamut3", Camera: true, Gamut: sGamut3, Decode: decodeSLog3, Encode: encodeSLog3},
	{ID: "slog3-cine", Label: "S-Log3, S-Gamut3.Cine", Camera: true, Gamut: sCine, Decode: decodeSLog3, Encode: encodeSLog3},
	{ID: "log3g10", Label: "Log3G10", Camera: true, Gamut: log3g10, Decode: decodeLog3G10, Encode: encodeLog3G10},
	{ID: "nlog", Label: "N-Log", Camera: true, Gamut: BT2020, Decode: decodeNLog, Encode: encodeNLog},
	{ID: "dlog", Label: "D-Log", Camera: true, Gamut: dGamut, Decode: decodeDLog, Encode: encodeDLog},
	{ID: "printing-density", Label: "Printing-density log", Gamut: BT709, Decode: decodePrinting, Encode: encodePrinting},
	{ID: "acescct", Label: "ACEScct", Gamut: AP1, Decode: decodeACEScct, Encode: encodeACEScct},
	{ID: "acescc", Label: "ACEScc", Gamut: AP1, Decode: decodeACEScc, Encode: encodeACEScc},
	{ID: "acescg", Label: "ACEScg (linear)", Gamut: AP1, Decode: same, Encode: same, Linear: true},
	{ID: "aces2065-1", Label: "ACES2065-1 (linear)", Gamut: AP0, Decode: same, Encode: same, Linear: true},
	{ID: "linear-bt709", Label: "Linear BT.709", Gamut: BT709, Decode: same, Encode: same, Linear: true},
	{ID: "linear-bt2020", Label: "Linear BT.2020", Gamut: BT2020, Decode: same, Encode: same, Linear: true},
	{ID: "linear-p3-d65", Label: "Linear P3-D65", Gamut: P3D65, Decode: same, Encode: same, Linear: true},
	{ID: "hlg", Label: "HLG (BT.2100)", Gamut: BT2020, Decode: decodeHLG, Encode: encodeHLG, Anchor: 1 / decodeHLG(0.75)},
	{ID: "pq", Label: "PQ (BT.2100)", Gamut: BT2020, Decode: decodePQ, Encode: encodePQ, Anchor: 10000.0 / 203},
	{ID: "bt709", Label: "BT.709", Gamut: BT709, Decode: decodeBT709, Encode: encodeBT709},
	{ID: "bt2020", Label: "BT.2020", Gamut: BT2020, Decode: decodeBT2020, Encode: encodeBT2020},
	{ID: "srgb", Label: "sRGB", Gamut: BT709, Decode: decodeSRGB, Encode: encodeSRGB},
	{ID: "p3-d65", Label: "P3-D65 (2.6)", Gamut: P3D65, Decode: decodeP3, Encode: encodeP3},
}

func init() {
	for _, e := range encodings {
		if e.Anchor == 0 {
			e.Anchor = 1
		}
		e.row = rowForms[e.ID]
		if e.row == nil && !e.Linear {
			e.codes = sync.OnceValue(e.wholeCodes)
			e.table = make([]float32, 6145)
			for i := range e.table {
				e.table[i] = float32(e.Decode(tableLo + tableStep*float64(i)))
			}
		}
	}
}

// rowForms are the curves that fit the kernel's straight piece and exponential.
var rowForms = map[string]*vec.Log{
	"logc3":            logForm(c3e*c3cut+c3f, 1/c3e, -c3f/c3e, 1/c3a, math.Log2(10)/c3c, -c3d/c3c*math.Log2(10), -c3b/c3a),
	"logc4":            logForm(0, c4s, c4t, 1/c4a, 14/c4b, -14*c4c/c4b+6, -64/c4a),
	"slog3":            sLogForm,
	"slog3-cine":       sLogForm,
	"log3g10":          logForm(0, 1/g10g, -g10c, 1/g10b, math.Log2(10)/g10a, 0, -1/g10b-g10c),
	"dlog":             logForm(0.14, 1/6.025, -0.0929/6.025, 1/0.9892, 3.89616*math.Log2(10), -2.27752*math.Log2(10), -0.0108/0.9892),
	"printing-density": logForm(-10, 0, 0, 1/(1-pdOffset), 1023.0/300*math.Log2(10), -685.0/300*math.Log2(10), -pdOffset/(1-pdOffset)),
	"acescct":          logForm(cctBreak, 1/cctA, -cctB/cctA, 1, 17.52, -9.72, 0),
}

var sLogForm = logForm(171.2102946929/1023, 1023*0.01125/(171.2102946929-95), -95*0.01125/(171.2102946929-95),
	0.19, 1023/261.5*math.Log2(10), -420/261.5*math.Log2(10), -0.01)

func logForm(cut, a, b, c, d, e, f float64) *vec.Log {
	return &vec.Log{Cut: float32(cut), A: float32(a), B: float32(b), C: float32(c), D: float32(d), E: float32(e), F: float32(f)}
}
