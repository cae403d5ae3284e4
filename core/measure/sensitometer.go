package measure

import (
	"math"

	"velours/core/film"
	"velours/core/look"
	"velours/core/render"
	"velours/core/spectrum"
)

// Sensitometer is what a sensitometer and a densitometer tell of a look's film: curves, figures and spectra.
type Sensitometer struct {
	Stock  string `json:"stock"`  // labels
	Medium string `json:"medium"` // empty for none
	// Positive tells that density falls with light; Mono that there is one layer.
	Positive bool `json:"positive"`
	Mono     bool `json:"mono"`
	// Layers are the figures of the layers' curves, red first, and Aim what is read of mid grey above base: how dense
	// a laboratory wants a test frame.
	Layers [3]film.Sensitometry `json:"layers"`
	Aim    [3]float64           `json:"aim"`
	// Gamma is the steepest slope of the print's visual density against log exposure of the camera, and PrintMin and
	// PrintMax its ends; nothing without a print.
	Gamma    float64 `json:"gamma"`
	PrintMin float64 `json:"printMin"`
	PrintMax float64 `json:"printMax"`
	// Steps is the whole way of a grey, a quarter of a stop apart.
	Steps []WedgeStep `json:"steps"`
	// Wavelengths are those of the spectra, in nanometres.
	Wavelengths   []float64    `json:"wavelengths"`
	Sensitivities [3][]float64 `json:"sensitivities"`
	Dyes          [3][]float64 `json:"dyes"`
	Base          []float64    `json:"base"`
	// Pixel is one colour of the picture, if one was asked for.
	Pixel *PixelReading `json:"pixel,omitempty"`
}

// PixelReading is a colour on its way through the film.
type PixelReading struct {
	// Scene is its light as it comes to the film, ACEScg; Stops that of each layer's exposure, from mid grey.
	Scene [3]float64 `json:"scene"`
	Stops [3]float64 `json:"stops"`
	// Read is what a densitometer reads of the film, Density the spectral density of the film, Light that of the
	// print's projected light, as a share of the lamp; empty without a print.
	Read    [3]float64 `json:"read"`
	Density []float64  `json:"density"`
	Light   []float64  `json:"light,omitempty"`
	Code    [3]float64 `json:"code"`
}

// The steps of a sensitometer, in stops.
const SensFrom, SensTo, sensStep = -8.0, 8.0, 0.25

// Markers are greys by which curves are read: mid grey, light skin, and a white sheet, in stops from mid grey.
var Markers = []struct {
	Label string
	Stops float64
}{{"grey", 0}, {"skin", 0.95}, {"white", 2.32}}

// MeasureFilm reads a look's film. pixel, if not nil, is scene light of which the spectra are wanted.
func MeasureFilm(l *look.Look, pixel *[3]float64) (*Sensitometer, error) {
	w, err := MeasureWedge(l, SensFrom, SensTo, sensStep)
	if err != nil {
		return nil, err
	}
	f := render.FilmOf(l)
	n, pos := f.Negative, f.Positive
	s := &Sensitometer{Stock: n.Stock.Label, Positive: n.Positive(), Mono: n.Stock.Mono, Layers: w.Layers, Steps: w.Steps}
	if f.Stock == nil {
		s.Stock = film.Straight().Label
	}
	if pos.Print != nil {
		s.Medium = f.Medium.Label
		s.PrintMin, s.PrintMax = math.Inf(1), math.Inf(-1)
		for i, step := range w.Steps {
			s.PrintMin, s.PrintMax = min(s.PrintMin, *step.Print), max(s.PrintMax, *step.Print)
			if i > 0 {
				s.Gamma = max(s.Gamma, (*w.Steps[i-1].Print-*step.Print)/(sensStep*math.Log10(2)))
			}
		}
	}
	base := n.Read([3]float64{})
	if n.Positive() {
		base = n.Read(n.Grey(4))
	}
	mid := n.Read(n.Mid())
	for i := range s.Aim {
		s.Aim[i] = mid[i] - base[i]
	}
	for i := range spectrum.N {
		s.Wavelengths = append(s.Wavelengths, spectrum.Wavelength(i))
	}
	for i, c := range n.Stock.Sensitivities() {
		s.Sensitivities[i] = c[:]
	}
	for i, c := range n.Dyes() {
		s.Dyes[i] = c[:]
	}
	own := n.Base()
	s.Base = own[:]
	if pixel != nil {
		p := &PixelReading{Scene: *pixel}
		e := n.Exposed(*pixel)
		for i, v := range e {
			p.Stops[i] = math.Log2(max(v, film.MinExposure) / 0.18)
		}
		d := n.Develop(*pixel)
		p.Read, p.Code = n.Read(d), pos.Code(d)
		c := n.Spectrum(d)
		p.Density = c[:]
		if pos.Print != nil && !f.Medium.Scan {
			light, lamp := pos.Print.Spectrum(d, f.Lights)
			for i := range light {
				p.Light = append(p.Light, light[i]/lamp[i])
			}
		}
		s.Pixel = p
	}
	return s, nil
}
