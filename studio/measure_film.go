package studio

import (
	"context"
	"fmt"
	"math"
	"path/filepath"
	"strings"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/film/fit"
	"velours/core/frame"
)

// FilmAsk is a whole measurement: wedges, and pictures of what a short test shows. Each part may be missing.
type FilmAsk struct {
	FitAsk
	// Status is that of the densitometer that read the wedges: m, a or scan.
	Status string      `json:"status,omitempty"`
	Wedges []WedgeText `json:"wedges,omitempty"`
	// Pictures are of the shots named by their ids.
	Pictures []FilmPicture `json:"pictures,omitempty"`
}

// WedgeText is a table of densities.
type WedgeText struct {
	File string `json:"file"`
	Text string `json:"text"`
}

// TestShot is what a picture of a test shows.
type TestShot string

// What pictures of a test show.
const (
	ShowsChart   TestShot = "chart"
	ShowsScene   TestShot = "scene"
	ShowsEdge    TestShot = "edge"
	ShowsPatches TestShot = "patches"
	ShowsLamp    TestShot = "lamp"
)

// tells is the part of a card that a picture is for.
var tells = map[TestShot]fit.PartOf{ShowsChart: fit.Colours, ShowsScene: fit.Colours, ShowsEdge: fit.Detail, ShowsPatches: fit.Grain, ShowsLamp: fit.Base}

// UnmarshalText reads what a picture shows.
func (s *TestShot) UnmarshalText(text []byte) error {
	*s = TestShot(text)
	if tells[*s] == "" {
		return Bad("a picture of a test shows a chart, a scene, an edge, patches or a lamp, not %q", text)
	}
	return nil
}

// FilmPicture is one picture of a test: of a chart and of a scene there are two, Digital and Film; of the rest there is Film.
type FilmPicture struct {
	Shows   TestShot `json:"shows"`
	Digital uint     `json:"digital,omitempty"`
	Film    uint     `json:"film"`
	// Stops, of a chart or a scene, is how much more light the film got than the digital picture tells; of a lamp, how bright it is from
	// mid grey. Nil is 0 for the first, and not known for a lamp.
	Stops *float64 `json:"stops,omitempty"`
	// Width is how wide the picture is on the film, in mm: what detail, grain and halo are measured by.
	Width float64 `json:"width,omitempty"`
	// Places, if given, are where a chart lies in the two pictures, placed by hand.
	Places []ChartPlace `json:"places,omitempty"`
}

// FilmFile is a picture of a test by its files: the digital one, if there is one, and the film's, with their encodings.
type FilmFile struct {
	FilmPicture
	Files     [2]string
	Encodings [2]string
	Frames    [2]int
}

// MeasureShots makes a card of shots, at the frames where they are looked at, as they were declared.
func (s *Assets) MeasureShots(ctx context.Context, q FilmAsk, tell func(doing string)) (*Fitted, error) {
	var files []FilmFile
	if len(q.Pictures) > mostParts {
		return nil, Bad("at most %d pictures are measured at once", mostParts)
	}
	for _, p := range q.Pictures {
		f := FilmFile{FilmPicture: p}
		for i, id := range [2]uint{p.Digital, p.Film} {
			if id == 0 && i == 0 && tells[p.Shows] != fit.Colours {
				continue
			}
			shot, err := s.lib.Shot(id)
			if err != nil {
				return nil, err
			}
			if shot.Encoding == "" {
				return nil, Bad("%s: declare how it was recorded first", shot.Name)
			}
			f.Files[i], f.Frames[i], f.Encodings[i] = shot.Path, shot.Frame, shot.Encoding
		}
		files = append(files, f)
	}
	return MeasureFilm(ctx, q, files, tell)
}

// mostParts is how many wedges, and how many pictures, one measurement takes.
const mostParts = 24

// MeasureFilm makes a card of all there is. What cannot be measured is told part by part; an error says that nothing can. tell, if not nil,
// hears what is under way.
func MeasureFilm(ctx context.Context, q FilmAsk, pictures []FilmFile, tell func(doing string)) (*Fitted, error) {
	o, err := q.options()
	if err != nil {
		return nil, err
	}
	if q.Status != "" {
		if o.Status, err = film.FindStatus(q.Status); err != nil {
			return nil, BadInput{err}
		}
	}
	if len(q.Wedges) == 0 && len(pictures) == 0 {
		return nil, Bad("there is nothing to measure: give a wedge, or a picture of a chart, a scene, an edge, patches or a lamp")
	}
	if len(q.Wedges) > mostParts || len(pictures) > mostParts {
		return nil, Bad("at most %d wedges and %d pictures are measured at once", mostParts, mostParts)
	}
	e := fit.Evidence{Problems: map[fit.PartOf][]string{}}
	for _, w := range q.Wedges {
		wedge, err := fit.ReadWedge(strings.NewReader(w.Text))
		if err != nil {
			e.Problems[fit.Curves] = append(e.Problems[fit.Curves], fmt.Sprintf("%s: %v", filepath.Base(w.File), err))
			continue
		}
		e.Wedges = append(e.Wedges, wedge)
	}
	places := map[int][]ChartPlace{}
	for i := range pictures {
		p := &pictures[i]
		if tell != nil {
			tell("reading " + filepath.Base(p.Files[1]))
		}
		grids, err := p.read(ctx, &e)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err != nil {
			of := tells[p.Shows]
			e.Problems[of] = append(e.Problems[of], err.Error())
		}
		places[i] = grids
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	s, report, err := fit.Whole(ctx, e, o, tell)
	if err != nil {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		return nil, BadInput{err}
	}
	out, err := fitted(s, report)
	if err != nil {
		return nil, err
	}
	for i := range pictures {
		out.Placed = append(out.Placed, PlacedChart{places[i]})
	}
	return out, nil
}

// read adds a picture to what there is.
func (p *FilmFile) read(ctx context.Context, e *fit.Evidence) ([]ChartPlace, error) {
	var light [2]*frame.Frame // of the scene as ACEScg, and what came through the film
	var code [2]*frame.Frame
	above := false
	for i, file := range p.Files {
		if file == "" {
			if i == 0 && tells[p.Shows] != fit.Colours {
				continue
			}
			return nil, Bad("the %s: its %s picture is missing", p.Shows, [2]string{"digital", "film's"}[i])
		}
		enc, err := colour.FindEncoding(p.Encodings[i])
		if err != nil {
			return nil, fmt.Errorf("%s: %w", filepath.Base(file), err)
		}
		if code[i], err = readFrame(ctx, file, p.Frames[i]); err != nil {
			return nil, err
		}
		toLight := func(c [3]float64) [3]float64 { return enc.Light(c) }
		if i == 0 {
			m := enc.ToACEScg()
			toLight = func(c [3]float64) [3]float64 { return m.Apply(enc.Light(c)) }
		} else if above = enc.ID == "printing-density"; above {
			toLight = func(c [3]float64) [3]float64 {
				for k, v := range c {
					c[k] = math.Pow(10, -(v*1023-95)*0.002)
				}
				return c
			}
		}
		known := func(c [3]float64) [3]float64 {
			for k, v := range c {
				if !(math.Abs(v) < 1e6) { // what is no number
					c[k] = 0
				}
			}
			return toLight(c)
		}
		if light[i], err = frame.Each(ctx, code[i], known); err != nil {
			return nil, err
		}
	}
	name := filepath.Base(p.Files[1])
	stops := 0.0
	if p.Stops != nil {
		stops = *p.Stops
	}
	switch p.Shows {
	case ShowsChart:
		return p.readChart(e, light, code, above, stops)
	case ShowsScene:
		scene, through, at, _, err := fit.SampleScene(light[0], light[1])
		if err != nil {
			return nil, fmt.Errorf("%s and %s: %w", filepath.Base(p.Files[0]), name, err)
		}
		e.Pairs = append(e.Pairs, fit.Pair{Name: "scene " + name, OfScene: true, Scene: scene, Read: fit.Densities(through, false), Above: above, Places: at, Stops: stops})
		return nil, nil
	}
	if !(p.Width > 0.1 && p.Width < 400) {
		return nil, fmt.Errorf("%s: say how wide it is on the film, in mm", name)
	}
	scan := &fit.Scan{Name: name, Light: light[1], PerMM: float64(light[1].W) / p.Width, Stops: math.NaN(), Dark: p.Shows == ShowsLamp}
	if p.Stops != nil {
		scan.Stops = stops
	}
	*map[TestShot]**fit.Scan{ShowsEdge: &e.Edge, ShowsPatches: &e.Patches, ShowsLamp: &e.Lamp}[p.Shows] = scan
	return nil, nil
}

// readChart finds a chart in its two pictures, and reads it.
func (p *FilmFile) readChart(e *fit.Evidence, light, code [2]*frame.Frame, above bool, stops float64) ([]ChartPlace, error) {
	if len(p.Places) != 0 && len(p.Places) != 2 {
		return nil, Bad("a chart is placed in both pictures, or in none")
	}
	var grids []ChartPlace
	var read [2][][3]float64
	var at []fit.Point
	for i := range light {
		file := filepath.Base(p.Files[i])
		var place *ChartPlace
		if len(p.Places) == 2 {
			place = &p.Places[i]
		}
		g, err := gridOf(code[i], place)
		if err != nil {
			return grids, fmt.Errorf("%s: %w", file, err)
		}
		if i == 1 && place == nil && (g.Columns != grids[0].Columns || g.Rows != grids[0].Rows) {
			if grown := g.As(grids[0].Columns, grids[0].Rows, read[0], light[1]); grown != nil {
				g = grown
			}
		}
		if i == 1 && (g.Columns != grids[0].Columns || g.Rows != grids[0].Rows) {
			return grids, fmt.Errorf("%s: %d by %d patches were found in it, and %d by %d in the other picture; place the corners by hand", file, g.Columns, g.Rows, grids[0].Columns, grids[0].Rows)
		}
		grids = append(grids, placeOf(g, code[i]))
		if read[i], err = g.Sample(light[i]); err != nil {
			return grids, fmt.Errorf("%s: %w", file, err)
		}
		for k := range g.Columns * g.Rows {
			if c := g.At(float64(k%g.Columns), float64(k/g.Columns)); i == 1 {
				at = append(at, fit.Point{X: 2*c.X/float64(light[1].W) - 1, Y: 2*c.Y/float64(light[1].H) - 1})
			}
		}
	}
	e.Pairs = append(e.Pairs, fit.Pair{Name: "chart " + filepath.Base(p.Files[1]), Scene: read[0], Read: fit.Densities(read[1], false), Above: above, Places: at, Stops: stops})
	return grids, nil
}
