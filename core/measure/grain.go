package measure

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// Grain is the grain of a look, on even greys.
type Grain struct {
	// Width is that of the picture, in pixels; Pitch that of a pixel on the film, in micrometres.
	Width int     `json:"width"`
	Pitch float64 `json:"pitch"`
	// Of is what deviates: "code", values of the display, or "density", of the layers above base.
	Of    string      `json:"of"`
	Tones []GrainTone `json:"tones"`
	// Spectrum is the power of deviations of mid grey along rows, that of one that knows nothing of its neighbours at 1.
	Spectrum []GrainPower `json:"spectrum"`
}

// GrainTone is the grain of one grey.
type GrainTone struct {
	// Stops are those of the light, from mid grey.
	Stops float64 `json:"stops"`
	// Mean and Deviation are those of red, green and blue.
	Mean      [3]float64 `json:"mean"`
	Deviation [3]float64 `json:"deviation"`
	// Correlation is that of red with green, green with blue, and red with blue.
	Correlation [3]float64 `json:"correlation"`
	// Across and Down are how much a pixel goes with its neighbour, the lag-1 correlation of each channel.
	Across [3]float64 `json:"across"`
	Down   [3]float64 `json:"down"`

	power [grainLags][3]float64 // covariance at lags along rows
}

// GrainPower is the power of one frequency.
type GrainPower struct {
	// Cycles are those of a pixel, 0 to 0.5.
	Cycles float64    `json:"cycles"`
	RGB    [3]float64 `json:"rgb"`
}

const (
	// grainLags is how far neighbours are compared, for the spectrum.
	grainLags = 10
	// grainGap is what is left out at the borders of a tone: grain reaches across them.
	grainGap = 20
	// grainPairs is how many pairs of frames are compared.
	grainPairs = 2
)

// MeasureGrain renders bands of grey under a look, without what spreads light, and compares frames: what differs is grain. The frames are
// width pixels wide, 256 to 8192; stops are the greys, up to 24 of them from −12 to 12; at is the negative, whose densities are compared, or
// finish, for the codes of the display.
func MeasureGrain(ctx context.Context, l *look.Look, width int, stops []float64, at look.Station) (*Grain, error) {
	switch {
	case width < 256 || width > 8192:
		return nil, fmt.Errorf("a width of %d; it goes from 256 to 8192 pixels", width)
	case len(stops) == 0 || len(stops) > 24:
		return nil, fmt.Errorf("%d greys; there can be 1 to 24", len(stops))
	case at != look.Negative && at != look.Finish:
		return nil, fmt.Errorf("grain is measured at the negative or at the finish, not at %s", at)
	}
	f := render.FilmOf(l)
	if f == nil {
		return nil, fmt.Errorf("there is no film to measure; switch a stock or a print on (negative.stock.id)")
	}
	l = l.WithoutStation(look.Lens)
	l.Steps(func(k *look.Kind, p *look.Step) {
		p.On = p.On && !k.Scatters
	})
	rows := max(2*grainGap+24, width*9/16/len(stops))
	src := frame.New(width, rows*len(stops), 3)
	for i, s := range stops {
		if !(s >= -12 && s <= 12) {
			return nil, fmt.Errorf("a grey of %g stops; it goes from -12 to 12", s)
		}
		for y := i * rows; y < (i+1)*rows; y++ {
			for p := range 3 {
				for x, row := 0, src.Row(p, y); x < width; x++ {
					row[x] = float32(0.18 * math.Exp2(s))
				}
			}
		}
	}
	plan, err := render.Compile(ctx, l, colour.Working(), render.Raster{W: src.W, H: src.H}, at)
	if err != nil {
		return nil, err
	}
	r := render.NewRenderer(0)
	g := &Grain{Width: width, Pitch: f.Width * 1000 / float64(width), Of: "code", Tones: make([]GrainTone, len(stops))}
	if at == look.Negative {
		g.Of = "density"
	}
	for pair := range grainPairs {
		a, err := r.Render(ctx, plan, render.Still{Picture: src}, 1000*pair)
		if err != nil {
			return nil, err
		}
		b, err := r.Render(ctx, plan, render.Still{Picture: src}, 1000*pair+500)
		if err != nil {
			a.Release()
			return nil, err
		}
		for i := range stops {
			g.Tones[i].add(a, b, i*rows+grainGap, (i+1)*rows-grainGap)
		}
		a.Release()
		b.Release()
	}
	nearest := 0
	for i, s := range stops {
		g.Tones[i].Stops = s
		g.Tones[i].end()
		if math.Abs(s) < math.Abs(stops[nearest]) {
			nearest = i
		}
	}
	g.Spectrum = g.Tones[nearest].spectrum()
	return g, nil
}

// add takes in rows of a pair of frames.
func (t *GrainTone) add(a, b *frame.Frame, y0, y1 int) {
	w := a.W - 2*grainGap
	n := float64(w*(y1-y0)) * grainPairs
	var line, above [3][]float64
	for p := range 3 {
		line[p], above[p] = make([]float64, w), make([]float64, w)
	}
	for y := y0; y < y1; y++ {
		line, above = above, line
		for p := range 3 {
			u, v := a.Row(p, y)[grainGap:], b.Row(p, y)[grainGap:]
			for x := range w {
				line[p][x] = (float64(u[x]) - float64(v[x])) / math.Sqrt2
				t.Mean[p] += (float64(u[x]) + float64(v[x])) / 2 / n
			}
			for k := range grainLags {
				sum := 0.0
				for x := k; x < w; x++ {
					sum += line[p][x] * line[p][x-k]
				}
				t.power[k][p] += sum / n * float64(w) / float64(w-k)
			}
			if y > y0 {
				for x := range w {
					t.Down[p] += line[p][x] * above[p][x] / n * float64(y1-y0) / float64(y1-y0-1)
				}
			}
		}
		for i, c := range [3][2]int{{0, 1}, {1, 2}, {0, 2}} {
			for x := range w {
				t.Correlation[i] += line[c[0]][x] * line[c[1]][x] / n
			}
		}
	}
}

// end turns sums into figures.
func (t *GrainTone) end() {
	for p := range 3 {
		v := t.power[0][p]
		t.Deviation[p] = math.Sqrt(v)
		if v > 0 {
			t.Across[p], t.Down[p] = t.power[1][p]/v, t.Down[p]/v
		}
	}
	for i, c := range [3][2]int{{0, 1}, {1, 2}, {0, 2}} {
		if d := t.Deviation[c[0]] * t.Deviation[c[1]]; d > 0 {
			t.Correlation[i] /= d
		}
	}
}

// spectrum is the power of deviations along rows.
func (t *GrainTone) spectrum() []GrainPower {
	var out []GrainPower
	for i := range 11 {
		f := 0.05 * float64(i)
		s := GrainPower{Cycles: f}
		for p := range 3 {
			v := t.power[0][p]
			if v == 0 {
				continue
			}
			s.RGB[p] = 1
			for k := 1; k < grainLags; k++ {
				fade := 1 - float64(k)/grainLags // so that far lags, which are mostly chance, do not make it ripple
				s.RGB[p] += 2 * fade * t.power[k][p] / v * math.Cos(2*math.Pi*f*float64(k))
			}
		}
		out = append(out, s)
	}
	return out
}
