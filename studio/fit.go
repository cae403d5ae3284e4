package studio

import (
	"context"
	"encoding/json"
	"math"
	"strings"

	"velours/core/film"
	"velours/core/film/fit"
	"velours/core/frame"
	"velours/media"
)

// FitAsk says what measurements do not.
type FitAsk struct {
	// Name is what the stock will be called.
	Name string `json:"name"`
	// Like is the id of the card to start from; empty chooses one of the same sort.
	Like string `json:"like,omitempty"`
	// Grey is the log exposure of mid grey in a wedge, nil to place it by the film's speed.
	Grey *float64 `json:"grey,omitempty"`
}

// Fitted is a stock card made of measurements, not yet kept.
type Fitted struct {
	Card   json.RawMessage `json:"card" ts:"unknown"`
	Label  string          `json:"label"`
	Report *fit.Report     `json:"report"`
	// Placed are where the charts of a whole measurement were found, picture by picture.
	Placed []PlacedChart `json:"placed,omitempty"`
}

// PlacedChart is where a chart lies in its two pictures; empty for what is no chart.
type PlacedChart struct {
	Places []ChartPlace `json:"places"`
}

// ChartPlace is where a chart lies in a picture.
type ChartPlace struct {
	Columns int `json:"columns"`
	Rows    int `json:"rows"`
	// Corners are the middles of the corner patches, x and y as shares: top left, top right, bottom right, bottom left.
	Corners [4][2]float64 `json:"corners"`
}

func (q FitAsk) options() (fit.Options, error) {
	o := fit.Options{Label: strings.TrimSpace(q.Name), Grey: math.NaN()}
	if o.Label == "" || len(o.Label) > 60 {
		return o, Bad("a stock needs a name of up to 60 letters")
	}
	o.ID = "own-" + strings.Trim(notWord.ReplaceAllString(strings.ToLower(o.Label), "-"), "-")
	if q.Like != "" {
		s, err := film.FindStock(q.Like)
		if err != nil {
			return o, BadInput{err}
		}
		o.Like = s
	}
	if q.Grey != nil {
		o.Grey = *q.Grey
	}
	return o, nil
}

// fitted writes a card down under an id of its own, a digest of all it says among it.
func fitted(s *film.Stock, report *fit.Report) (*Fitted, error) {
	data, err := cardFile(s)
	if err != nil {
		return nil, err
	}
	return &Fitted{Card: data, Label: s.Label, Report: report}, nil
}

// readFrame is a frame of a file, as code values.
func readFrame(ctx context.Context, file string, n int) (*frame.Frame, error) {
	src, err := media.Open(ctx, file)
	if err != nil {
		return nil, wrapInput(err)
	}
	defer src.Close()
	f, err := src.Frame(ctx, n)
	return f, wrapInput(err)
}

// gridOf is a chart's grid, as placed, or as it is found.
func gridOf(f *frame.Frame, place *ChartPlace) (*fit.Grid, error) {
	if place == nil {
		return fit.Find(f)
	}
	var c [4]fit.Point
	for i, p := range place.Corners {
		c[i] = fit.Point{X: p[0] * float64(f.W), Y: p[1] * float64(f.H)}
	}
	return fit.Placed(place.Columns, place.Rows, c)
}

func placeOf(g *fit.Grid, f *frame.Frame) ChartPlace {
	p := ChartPlace{Columns: g.Columns, Rows: g.Rows}
	for i, c := range g.Corners() {
		p.Corners[i] = [2]float64{c.X / float64(f.W), c.Y / float64(f.H)}
	}
	return p
}
