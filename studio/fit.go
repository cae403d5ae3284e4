package studio

import (
	"context"
	"encoding/json"
	"io"
	"math"
	"path/filepath"
	"strings"

	"velours/core/colour"
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
	// Grids are where a chart's corner patches were found in the two pictures, in shares of their width and height.
	Grids []ChartPlace `json:"grids,omitempty"`
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

// FitWedge makes a card of the step wedge in a table of text; file names it in errors.
func FitWedge(file string, r io.Reader, q FitAsk) (*Fitted, error) {
	o, err := q.options()
	if err != nil {
		return nil, err
	}
	w, err := fit.ReadWedge(r)
	if err != nil {
		return nil, Bad("%s: %w", filepath.Base(file), err)
	}
	s, report, err := fit.FitWedge(w, o)
	if err != nil {
		return nil, Bad("%s: %w", filepath.Base(file), err)
	}
	return fitted(s, report, nil)
}

// fitted writes a card down under an id of its own, a digest of all it says among it.
func fitted(s *film.Stock, report *fit.Report, grids []ChartPlace) (*Fitted, error) {
	data, err := cardFile(s)
	if err != nil {
		return nil, err
	}
	return &Fitted{Card: data, Label: s.Label, Report: report, Grids: grids}, nil
}

// PairAsk says of two pictures of one chart what they do not.
type PairAsk struct {
	FitAsk
	// Scene and Scan are the encodings of the digital picture and of the film's scan. A scan in printing-density log
	// holds densities; in any other encoding, the light that came through the film.
	Scene string `json:"scene"`
	Scan  string `json:"scan"`
	// Places, if given, are where the chart lies in the two pictures, placed by hand.
	Places []ChartPlace `json:"places,omitempty"`
}

// FitPair makes a card of two pictures of one chart, by their files.
func FitPair(ctx context.Context, scene, scan string, q PairAsk) (*Fitted, error) {
	return fitPair(ctx, [2]string{scene, scan}, [2]int{}, q)
}

func fitPair(ctx context.Context, files [2]string, frames [2]int, q PairAsk) (*Fitted, error) {
	o, err := q.options()
	if err != nil {
		return nil, err
	}
	if len(q.Places) != 0 && len(q.Places) != 2 {
		return nil, Bad("a chart is placed in both pictures, or in none")
	}
	var samples [2][][3]float64
	var grids []ChartPlace
	log := false
	for i, file := range files {
		id := [2]string{q.Scene, q.Scan}[i]
		e, err := colour.FindEncoding(id)
		if err != nil {
			return nil, Bad("%s: %w", filepath.Base(file), err)
		}
		code, err := readFrame(ctx, file, frames[i])
		if err != nil {
			return nil, err
		}
		var place *ChartPlace
		if len(q.Places) == 2 {
			place = &q.Places[i]
		}
		g, err := gridOf(code, place)
		if err != nil {
			return nil, Bad("%s: %w", filepath.Base(file), err)
		}
		if len(grids) == 1 && (g.Columns != grids[0].Columns || g.Rows != grids[0].Rows) {
			return nil, Bad("%s: %d by %d patches were found in it, and %d by %d in the other picture; place the corners by hand", filepath.Base(file), g.Columns, g.Rows, grids[0].Columns, grids[0].Rows)
		}
		grids = append(grids, placeOf(g, code))
		got, err := g.Sample(code)
		if err != nil {
			return nil, Bad("%s: %w", filepath.Base(file), err)
		}
		log = i == 1 && e.ID == "printing-density"
		if !log {
			m := colour.Convert(e.Gamut, colour.AP1)
			for k := range got {
				for c := range got[k] {
					got[k][c] = e.Decode(got[k][c])
				}
				if i == 0 {
					got[k] = m.Apply(got[k])
				}
			}
		}
		samples[i] = got
	}
	o.Above = log
	s, report, err := fit.FitPair(samples[0], fit.Densities(samples[1], log), o)
	if err != nil {
		return nil, Bad("%s and %s: %w", filepath.Base(files[0]), filepath.Base(files[1]), err)
	}
	return fitted(s, report, grids)
}

// FitShots makes a card of two shots that show one chart, at the frames where they are looked at, as they were declared.
func (s *Assets) FitShots(ctx context.Context, scene, scan uint, q PairAsk) (*Fitted, error) {
	var files [2]string
	var frames [2]int
	for i, id := range []uint{scene, scan} {
		shot, err := s.lib.Shot(id)
		if err != nil {
			return nil, err
		}
		if shot.Encoding == "" {
			return nil, Bad("%s: declare how it was recorded first", shot.Name)
		}
		files[i], frames[i] = shot.Path, shot.Frame
		*[2]*string{&q.Scene, &q.Scan}[i] = shot.Encoding
	}
	return fitPair(ctx, files, frames, q)
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
