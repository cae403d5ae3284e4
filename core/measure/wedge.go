package measure

import (
	"errors"
	"math"

	"velours/core/film"
	"velours/core/look"
	"velours/core/render"
)

// Wedge is what a look's film makes of a step wedge of neutral light.
type Wedge struct {
	Stock  string `json:"stock"`
	Medium string `json:"medium,omitempty"`
	// Layers are the figures of the three layers' curves, red first.
	Layers [3]film.Sensitometry `json:"layers"`
	Steps  []WedgeStep          `json:"steps"`
}

// WedgeStep is one step of it.
type WedgeStep struct {
	// Stops are those of the light, from mid grey.
	Stops float64 `json:"stops"`
	// Density is that of the layers, above base; Read what a densitometer reads of the film (film.Filters).
	Density [3]float64 `json:"density"`
	Read    [3]float64 `json:"read"`
	// Print is the print's visual density, none without one; Code the display's code values.
	Print *float64   `json:"print,omitempty"`
	Code  [3]float64 `json:"code"`
}

// MeasureWedge exposes steps from one brightness to another, in stops from mid grey.
func MeasureWedge(l *look.Look, from, to, step float64) (*Wedge, error) {
	if !(step > 0) || !(to >= from) || (to-from)/step > 2000 {
		return nil, errors.New("a wedge goes from one brightness up to another, by steps above 0, 2000 at most")
	}
	f := render.FilmOf(l)
	if f == nil {
		return nil, errors.New("there is no film to measure; switch a stock or a print on (negative.stock.id)")
	}
	n, pos := f.Negative, f.Positive
	w := &Wedge{Stock: n.Stock.ID}
	if f.Medium != nil && f.Table == nil {
		w.Medium = f.Medium.ID
	}
	for i := range w.Layers {
		w.Layers[i] = n.Measure(i)
	}
	for i := 0; ; i++ {
		x := from + float64(i)*step
		if x > to+1e-9 {
			return w, nil
		}
		y := 0.18 * math.Exp2(x)
		d := n.Develop([3]float64{y, y, y})
		s := WedgeStep{Stops: x, Density: d, Read: n.Read(d), Code: pos.Code(d)}
		if pos.Print != nil {
			v := -math.Log10(pos.Print.Light(d, f.Lights)[1])
			s.Print = &v
		}
		w.Steps = append(w.Steps, s)
	}
}
