package colour

import (
	"fmt"
	"math"
	"strings"
)

// Display is what a picture is shown on: a gamut, a peak, and a curve from light to code values.
type Display struct {
	ID, Label string
	Gamut     Gamut
	// Encode turns light, 0…1 of the peak, into a code value; Decode undoes it. Where a display
	// treats its channels together they are one part of Code and Light.
	Encode, Decode func(float64) float64
	// Peak is the display's brightest white and White that of a print or a sheet of paper, both in
	// cd/m². They are equal where brightness above white is not to be had.
	Peak, White float64
	// High tells that Peak and White may be chosen.
	High bool
	// system is the exponent between scene light and display light, 1 for most (BT.2100, note 5f).
	system float64
	luma   [3]float64 // weights of linear RGB in Y
}

// Key tells displays with different settings apart.
func (d *Display) Key() string { return fmt.Sprintf("%s %g/%g", d.ID, d.White, d.Peak) }

// Head is how many times brighter the peak is than white.
func (d *Display) Head() float64 { return d.Peak / d.White }

// At is the display with another white and peak, in cd/m²; displays that have none to choose stay.
func (d *Display) At(white, peak float64) *Display {
	if !d.High || d.White == white && d.Peak == peak {
		return d
	}
	c := *d
	c.White, c.Peak = white, max(peak, white)
	switch d.ID {
	case "pq":
		c.Encode, c.Decode = perceptual(c.Peak)
	case "hlg":
		c.system = 1.2 + 0.42*math.Log10(c.Peak/1000)
	}
	return &c
}

// System is the exponent between the scene light that the code stands for and display light.
func (d *Display) System() float64 { return d.system }

// Code is the code value of linear light, 0…1 of the peak in each channel.
func (d *Display) Code(v [3]float64) [3]float64 {
	if d.system != 1 {
		v = d.bend(v, (1-d.system)/d.system)
	}
	return [3]float64{d.Encode(v[0]), d.Encode(v[1]), d.Encode(v[2])}
}

// Light undoes Code.
func (d *Display) Light(code [3]float64) [3]float64 {
	v := [3]float64{d.Decode(code[0]), d.Decode(code[1]), d.Decode(code[2])}
	if d.system != 1 {
		v = d.bend(v, d.system-1)
	}
	return v
}

// bend multiplies by a power of luminance (BT.2100, table 5, the opto-optical transfer function).
func (d *Display) bend(v [3]float64, power float64) [3]float64 {
	w := &d.luma
	y := w[0]*v[0] + w[1]*v[1] + w[2]*v[2]
	if y <= 0 {
		return [3]float64{}
	}
	k := math.Pow(y, power)
	return [3]float64{v[0] * k, v[1] * k, v[2] * k}
}

// perceptual is the curve of ST 2084 with 1 at a peak in cd/m².
func perceptual(peak float64) (encode, decode func(float64) float64) {
	k := peak / 10000
	return func(x float64) float64 { return encodePQ(x * k) }, func(v float64) float64 { return decodePQ(v) / k }
}

// Displays lists all that ship.
func Displays() []*Display { return displays }

// FindDisplay returns the display with an id, or an error that lists the ids there are.
func FindDisplay(id string) (*Display, error) {
	var ids []string
	for _, d := range displays {
		if d.ID == id {
			return d, nil
		}
		ids = append(ids, d.ID)
	}
	return nil, fmt.Errorf("unknown display %q; there are %s", id, strings.Join(ids, ", "))
}

// UsualPeak and UsualWhite are the grading peak of BT.2100's examples and the white of BT.2408, cd/m².
const UsualPeak, UsualWhite = 1000, 203

var displays = []*Display{
	// ITU-R BT.1886, annex 1, with a black of zero: a pure power of 2.4
	{ID: "bt1886", Label: "BT.1886 video", Gamut: BT709, Peak: 100, White: 100, system: 1,
		Encode: func(x float64) float64 { return math.Pow(max(x, 0), 1/2.4) },
		Decode: func(v float64) float64 { return math.Pow(max(v, 0), 2.4) }},
	{ID: "srgb", Label: "sRGB computer", Gamut: BT709, Encode: encodeSRGB, Decode: decodeSRGB, Peak: 80, White: 80, system: 1},
	{ID: "p3-d65", Label: "P3-D65 projection", Gamut: P3D65, Encode: encodeP3, Decode: decodeP3, Peak: 48, White: 48, system: 1},
	pqDisplay(),
	// ITU-R BT.2100-2, table 5: display light through the inverse of the opto-optical transfer first
	{ID: "hlg", Label: "HLG (BT.2100)", Gamut: BT2020, Encode: encodeHLG, Decode: decodeHLG, Peak: UsualPeak, White: UsualWhite, High: true, system: 1.2},
}

func init() {
	for _, d := range displays {
		m := d.Gamut.ToXYZ()
		d.luma = [3]float64{m[3], m[4], m[5]}
	}
}

func pqDisplay() *Display {
	d := &Display{ID: "pq", Label: "PQ (BT.2100)", Gamut: BT2020, Peak: UsualPeak, White: UsualWhite, High: true, system: 1}
	d.Encode, d.Decode = perceptual(d.Peak)
	return d
}

// FromACEScg is the matrix from ACEScg to the display's linear RGB.
func (d *Display) FromACEScg() Matrix { return Convert(AP1, d.Gamut) }

// Luminance holds the weights of linear RGB in Y.
func (d *Display) Luminance() [3]float64 { return d.luma }
