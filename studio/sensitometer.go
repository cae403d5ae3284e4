package studio

import (
	"context"

	"velours/core/look"
	"velours/core/measure"
)

// FilmReading is what the sensitometer says of a shot's film: it, a second stock in its place, and the frame's own
// light.
type FilmReading struct {
	Film  *measure.Sensitometer `json:"film"`
	Other *measure.Sensitometer `json:"other,omitempty"`
	// Figures are the readings in words, Others those of the second stock.
	Figures [][2]string `json:"figures"`
	Others  [][2]string `json:"others,omitempty"`
	// Light is how often each brightness occurs in what comes to the film.
	Light *Tones `json:"light"`
	// Plots are where the drawing has its plots.
	Plots []PlotArea `json:"plots"`
}

// Drawing are the settings by which the reading is drawn.
func (r *FilmReading) Drawing(dark bool) Drawing {
	return Drawing{Dark: dark, Other: r.Other, Light: r.Light.Count[3], LightFrom: r.Light.From, LightTo: r.Light.To}
}

// ReadFilm measures the film of a view. with is the id of a stock to compare with, or empty; at, if not nil, is a
// point of the whole frame, 0 to 1 each way, of whose colour the spectra are wanted.
func (s *Sessions) ReadFilm(ctx context.Context, v View, with string, at *Probe) (*FilmReading, error) {
	v.Step, v.Side, v.Show = look.StepPath{Station: look.Negative, Name: "stock"}, Side{}, Plainly
	v.W, v.H, v.CropW, v.CropH, v.Draft = readWidth, readWidth, 0, 0, true
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	r := &FilmReading{Plots: Plots}
	if r.Light, err = s.Tones(ctx, v); err != nil {
		return nil, err
	}
	var pixel *[3]float64
	if at != nil {
		v.W, v.H = 1024, 1024
		p, err := s.Pick(ctx, v, *at)
		if err != nil {
			return nil, err
		}
		pixel = &p.Light
	}
	if r.Film, err = measure.MeasureFilm(c.look, pixel); err != nil {
		return nil, BadInput{err}
	}
	r.Figures = FilmFigures(r.Film)
	if with != "" {
		second := c.look.Clone()
		if err := second.Set("negative.stock.id", with); err != nil {
			return nil, BadInput{err}
		}
		if r.Other, err = measure.MeasureFilm(second, nil); err != nil {
			return nil, BadInput{err}
		}
		r.Others = FilmFigures(r.Other)
	}
	return r, nil
}
