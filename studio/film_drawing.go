package studio

import (
	"fmt"
	"html"
	"io"
	"math"
	"strings"

	"velours/core/measure"
)

// Drawing says how a sensitometer's curves are drawn.
type Drawing struct {
	// Dark draws on black, for a dim room; otherwise on white, for paper.
	Dark bool
	// Other is a second film, drawn broken.
	Other *measure.Sensitometer
	// Light is how often each brightness occurs in the frame, as shares of the largest, from LightFrom to LightTo
	// stops; nil for no histogram.
	Light              []float64
	LightFrom, LightTo float64
}

// printScale is the print's density at the top of the second plot.
const printScale = 5

// The drawing's size, and its plots: x, y, width, height.
const drawingW, drawingH = 960, 640

// Plots are where the drawing has its plots, as x, y, width and height, and what their axes span, so that a pointer
// can read them.
var Plots = []PlotArea{
	{ID: "film", X: 46, Y: 30, W: 410, H: 270, From: measure.SensFrom, To: measure.SensTo, Low: 0, High: 4.2, Unit: "stops", Side: "density"},
	{ID: "path", X: 526, Y: 30, W: 410, H: 270, From: measure.SensFrom, To: measure.SensTo, Low: 0, High: 1, Unit: "stops", Side: "code value"},
	{ID: "sensitivity", X: 46, Y: 370, W: 250, H: 220, From: 380, To: 780, Low: 0, High: 1.05, Unit: "nm", Side: "sensitivity"},
	{ID: "dyes", X: 366, Y: 370, W: 250, H: 220, From: 380, To: 780, Low: 0, High: 1.4, Unit: "nm", Side: "density"},
	{ID: "pixel", X: 686, Y: 370, W: 250, H: 220, From: 380, To: 780, Low: 0, High: 1, Unit: "nm", Side: "share of the lamp"},
}

// PlotArea is one of the drawing's plots.
type PlotArea struct {
	ID   string  `json:"id"`
	X    float64 `json:"x"`
	Y    float64 `json:"y"`
	W    float64 `json:"w"`
	H    float64 `json:"h"`
	From float64 `json:"from"`
	To   float64 `json:"to"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	Unit string  `json:"unit"`
	Side string  `json:"side"`
}

func (p *PlotArea) at(x, y float64) (float64, float64) {
	return p.X + p.W*(x-p.From)/(p.To-p.From), p.Y + p.H*(1-min(max((y-p.Low)/(p.High-p.Low), -0.02), 1.02))
}

type plotter struct {
	b                        strings.Builder
	ink, soft, faint, ground string
	marks                    [3]string
}

func (d *Drawing) plotter() *plotter {
	if d.Dark {
		return &plotter{ink: "#d6d6d6", soft: "#9a9a9a", faint: "#3a3a3a", ground: "#161616", marks: [3]string{"#d9645c", "#67a86a", "#6f8fd6"}}
	}
	return &plotter{ink: "#222222", soft: "#666666", faint: "#dddddd", ground: "#ffffff", marks: [3]string{"#b8332b", "#2e7d32", "#2f55b0"}}
}

func (p *plotter) text(x, y float64, anchor, colour, s string) {
	fmt.Fprintf(&p.b, `<text x="%.1f" y="%.1f" text-anchor="%s" fill="%s">%s</text>`+"\n", x, y, anchor, colour, html.EscapeString(s))
}

func (p *plotter) line(x0, y0, x1, y1 float64, colour string) {
	fmt.Fprintf(&p.b, `<line x1="%.1f" y1="%.1f" x2="%.1f" y2="%.1f" stroke="%s"/>`+"\n", x0, y0, x1, y1, colour)
}

// curve draws a line through points, broken for a second film.
func (p *plotter) curve(plot *PlotArea, colour string, broken bool, n int, f func(i int) (x, y float64)) {
	dash := ""
	if broken {
		dash = ` stroke-dasharray="4 3" opacity="0.8"`
	}
	fmt.Fprintf(&p.b, `<polyline fill="none" stroke="%s" stroke-width="1.4"%s points="`, colour, dash)
	for i := range n {
		x, y := plot.at(f(i))
		fmt.Fprintf(&p.b, "%.1f,%.1f ", x, y)
	}
	p.b.WriteString("\"/>\n")
}

// frame draws a plot's ground: its name, its grid and its scales.
func (p *plotter) frame(plot *PlotArea, title string, every, up float64) {
	for x := math.Ceil(plot.From/every) * every; x <= plot.To+1e-9; x += every {
		px, _ := plot.at(x, 0)
		p.line(px, plot.Y, px, plot.Y+plot.H, p.faint)
		label := fmt.Sprintf("%g", x)
		if plot.From < 0 && x > 0 {
			label = "+" + label
		}
		p.text(px, plot.Y+plot.H+14, "middle", p.soft, strings.Replace(label, "-", "−", 1))
	}
	for y := plot.Low; y <= plot.High+1e-9; y += up {
		_, py := plot.at(plot.From, y)
		p.line(plot.X, py, plot.X+plot.W, py, p.faint)
		p.text(plot.X-6, py+4, "end", p.soft, fmt.Sprintf("%.1f", y))
	}
	p.text(plot.X, plot.Y-9, "start", p.ink, title)
	p.text(plot.X+plot.W, plot.Y-9, "end", p.soft, plot.Side+" by "+plot.Unit)
}

// DrawFilm draws the curves of negative and path with the frame's own light beneath, and the spectra.
func DrawFilm(w io.Writer, s *measure.Sensitometer, d Drawing) error {
	p := d.plotter()
	fmt.Fprintf(&p.b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" width="%d" height="%d" font-family="Inter, Helvetica, Arial, sans-serif" font-size="11">`+"\n", drawingW, drawingH, drawingW, drawingH)
	fmt.Fprintf(&p.b, `<rect width="%d" height="%d" fill="%s"/>`+"\n", drawingW, drawingH, p.ground)
	film, way, sensitivity, dyes, pixel := &Plots[0], &Plots[1], &Plots[2], &Plots[3], &Plots[4]
	title := s.Stock
	if d.Other != nil {
		title += ", broken: " + d.Other.Stock
	}
	p.histogram(film, &d)
	p.frame(film, title, 2, 0.6)
	p.histogram(way, &d)
	to := "To the display, without a print"
	if s.Medium != "" {
		to = "To the display, by " + s.Medium
	}
	p.frame(way, to, 2, 0.2)
	p.frame(sensitivity, "Sensitivity of the layers", 100, 0.2)
	p.frame(dyes, "Dyes and film base", 100, 0.2)
	for i, m := range measure.Markers {
		for _, plot := range []*PlotArea{film, way} {
			x, _ := plot.at(m.Stops, 0)
			p.line(x, plot.Y, x, plot.Y+plot.H, p.soft)
			p.text(x+3, plot.Y+11+float64(i%2)*13, "start", p.soft, m.Label) // neighbours are less than a word apart
		}
	}
	all := []*measure.Sensitometer{s}
	if d.Other != nil {
		all = append(all, d.Other)
	}
	if s.Medium != "" {
		for v := 0; v <= printScale; v++ {
			_, y := way.at(way.From, float64(v)/printScale)
			p.text(way.X+way.W+4, y+4, "start", p.soft, fmt.Sprint(v))
		}
		p.text(way.X+way.W, way.Y+way.H+28, "end", p.soft, "grey line: density of the print, on the right")
	}
	for i := len(all) - 1; i >= 0; i-- {
		q, broken := all[i], i > 0
		for c := range 3 {
			colour := p.marks[c]
			if q.Mono {
				if c > 0 {
					continue
				}
				colour = p.ink
			}
			p.curve(film, colour, broken, len(q.Steps), func(k int) (float64, float64) { return q.Steps[k].Stops, q.Steps[k].Read[c] })
			p.curve(way, colour, broken, len(q.Steps), func(k int) (float64, float64) { return q.Steps[k].Stops, q.Steps[k].Code[c] })
			p.curve(sensitivity, colour, broken, len(q.Wavelengths), func(k int) (float64, float64) { return q.Wavelengths[k], q.Sensitivities[c][k] })
			p.curve(dyes, colour, broken, len(q.Wavelengths), func(k int) (float64, float64) { return q.Wavelengths[k], q.Dyes[c][k] })
		}
		if q.Medium != "" {
			p.curve(way, p.soft, broken, len(q.Steps), func(k int) (float64, float64) { return q.Steps[k].Stops, *q.Steps[k].Print / printScale })
		}
		p.curve(dyes, p.soft, broken, len(q.Wavelengths), func(k int) (float64, float64) { return q.Wavelengths[k], q.Base[k] })
	}
	p.pixel(pixel, s)
	p.b.WriteString("</svg>\n")
	_, err := io.WriteString(w, p.b.String())
	return err
}

// histogram draws the frame's own light at the foot of a plot.
func (p *plotter) histogram(plot *PlotArea, d *Drawing) {
	n := len(d.Light)
	if n == 0 {
		return
	}
	step := (d.LightTo - d.LightFrom) / float64(n)
	fmt.Fprintf(&p.b, `<g fill="%s" opacity="0.55">`, p.soft)
	for i, v := range d.Light {
		from := d.LightFrom + step*float64(i)
		if from < plot.From || from+step > plot.To || v <= 0 {
			continue
		}
		x0, _ := plot.at(from, 0)
		x1, _ := plot.at(from+step, 0)
		h := 0.22 * plot.H * math.Sqrt(v)
		fmt.Fprintf(&p.b, `<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`, x0, plot.Y+plot.H-h, x1-x0+0.2, h)
	}
	p.b.WriteString("</g>\n")
}

// pixel draws the spectra of the chosen colour, or asks for one.
func (p *plotter) pixel(plot *PlotArea, s *measure.Sensitometer) {
	p.frame(plot, "A colour, printed", 100, 0.2)
	if s.Pixel == nil {
		p.text(plot.X+plot.W/2, plot.Y+plot.H/2, "middle", p.soft, "choose a point in the picture")
		return
	}
	if len(s.Pixel.Light) > 0 {
		p.curve(plot, p.ink, false, len(s.Wavelengths), func(k int) (float64, float64) { return s.Wavelengths[k], s.Pixel.Light[k] })
	}
	p.curve(plot, p.soft, true, len(s.Wavelengths), func(k int) (float64, float64) {
		return s.Wavelengths[k], math.Pow(10, -s.Pixel.Density[k])
	})
	p.text(plot.X+4, plot.Y+12, "start", p.soft, "broken: through the film, which reads")
	p.text(plot.X+4, plot.Y+25, "start", p.soft, fmt.Sprintf("%.2f  %.2f  %.2f", s.Pixel.Read[0], s.Pixel.Read[1], s.Pixel.Read[2]))
}
