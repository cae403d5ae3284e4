// Package film exposes, develops, prints and projects film, wavelength by wavelength.
//
// Exposure is scene-linear ACEScg turned into the light on three layers; log exposure is
// base 10, 0 at mid grey. Density is base 10, above base and fog unless it says otherwise;
// the order of layers is red, green, blue (cyan, magenta, yellow dye). Projected light is
// CIE XYZ with open-gate white at Y = 1. Stocks and media are data in stocks/ and media/; their figures
// are invented, within the ranges of published sensitometry. Equations follow Hunt, The
// Reproduction of Colour, and the notes beside each function.
package film
