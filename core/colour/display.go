package colour

import (
	"fmt"
	"math"
	"strings"
)

// Display is what a picture is shown on: a gamut and a curve from light (0…1 of its peak) to code values.
type Display struct {
	ID, Label      string
	Gamut          Gamut
	Encode, Decode func(float64) float64
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

var displays = []*Display{
	// ITU-R BT.1886, annex 1, with a black of zero: a pure power of 2.4
	{ID: "bt1886", Label: "BT.1886 video", Gamut: BT709,
		Encode: func(x float64) float64 { return math.Pow(max(x, 0), 1/2.4) },
		Decode: func(v float64) float64 { return math.Pow(max(v, 0), 2.4) }},
	{ID: "srgb", Label: "sRGB computer", Gamut: BT709, Encode: encodeSRGB, Decode: decodeSRGB},
	{ID: "p3-d65", Label: "P3-D65 projection", Gamut: P3D65, Encode: encodeP3, Decode: decodeP3},
}

// FromACEScg is the matrix from ACEScg to the display's linear RGB.
func (d *Display) FromACEScg() Matrix { return Convert(AP1, d.Gamut) }

// Luminance holds the weights of linear RGB in Y.
func (d *Display) Luminance() [3]float64 {
	m := d.Gamut.ToXYZ()
	return [3]float64{m[3], m[4], m[5]}
}
