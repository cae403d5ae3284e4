package studio

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"html"
	"image"
	"image/color"
	"image/png"
	"io"
	"math"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
)

// The drawing of a stock's character: four squares beside each other.
const (
	characterSide, characterGap = 96, 14
	characterW                  = 4*characterSide + 3*characterGap
	characterH                  = characterSide + 16
)

var characters = cache.Results[[]byte]{Size: 64}

// DrawCharacter draws what makes a stock itself, small: where colours of the chart go on a wheel of hue (for black and white, how
// light they come), its scale of greys against the reference, a patch of its grain, and a lamp with its halo. Grain and halo are
// rendered, 0.6 mm and 2.3 mm wide on the film. dark draws for a dim room.
func DrawCharacter(ctx context.Context, w io.Writer, id string, dark bool) error {
	s, err := film.FindStock(id)
	if err != nil {
		return BadInput{err}
	}
	data, err := characters.Get(fmt.Sprint(s.Key(), dark), func() ([]byte, error) { return drawCharacter(ctx, s, dark) })
	if err == nil {
		_, err = w.Write(data)
	}
	return err
}

func drawCharacter(ctx context.Context, s *film.Stock, dark bool) ([]byte, error) {
	d := Drawing{Dark: dark}
	p := d.plotter()
	title := func(i int, text string) {
		p.text(float64(i)*(characterSide+characterGap), characterH-3, "start", p.soft, text)
	}
	if s.Mono {
		p.responses(s)
		title(0, "how light colours come")
	} else {
		p.wheel(s)
		title(0, "where colours go")
	}
	p.scale(s, characterSide+characterGap)
	title(1, "greys")
	for i, of := range []struct {
		name string
		draw func(context.Context, *film.Stock) (*frame.Frame, error)
	}{{"grain, 0.6 mm", grainPatch}, {"a lamp, 2.3 mm", lampPatch}} {
		f, err := of.draw(ctx, s)
		if err != nil {
			return nil, err
		}
		if err := p.picture(float64(2+i)*(characterSide+characterGap), f); err != nil {
			return nil, err
		}
		title(2+i, of.name)
	}
	return fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" font-family="Inter, sans-serif" font-size="8.5" role="img" aria-label="%s">`+"\n%s</svg>\n",
		characterW, characterH, html.EscapeString("The character of "+s.Label), p.b.String()), nil
}

// wheel draws colours from where the reference has them to where the stock does: a* to the right, b* upwards.
func (p *plotter) wheel(s *film.Stock) {
	const mid, most = characterSide / 2.0, 78.0 // chroma at the rim
	at := func(lab [3]float64) (x, y float64) { return mid + mid*lab[1]/most, mid - mid*lab[2]/most }
	fmt.Fprintf(&p.b, `<circle cx="%g" cy="%g" r="%g" fill="none" stroke="%s"/>`+"\n", mid, mid, mid-0.5, p.faint)
	p.line(0, mid, characterSide, mid, p.faint)
	p.line(mid, 0, mid, characterSide, p.faint)
	for _, c := range measure.Shifts(s) {
		x0, y0 := at(c.From)
		x1, y1 := at(c.To)
		p.line(x0, y0, x1, y1, p.soft)
		fmt.Fprintf(&p.b, `<circle cx="%.1f" cy="%.1f" r="2.6" fill="%s"/>`+"\n", x1, y1, hex(c.Light))
	}
}

// responses draws how much lighter or darker than a grey of the same luminance colours come, in stops.
func (p *plotter) responses(s *film.Stock) {
	const mid, most = characterSide / 2.0, 2.0
	p.line(0, mid, characterSide, mid, p.soft)
	g := measure.SignatureOf(s)
	width := characterSide / float64(len(measure.Groups))
	for i, of := range measure.Groups {
		v := math.Max(-most, math.Min(most, g.Response[of.Name]))
		h := math.Max(math.Abs(v)/most*mid, 0.8)
		top := mid
		if v > 0 {
			top -= h
		}
		c := of.Patches[0]
		k := 0.25 / math.Max(0.2722*c[0]+0.6741*c[1]+0.0537*c[2], 1e-6)
		light := colour.Convert(colour.AP1, colour.BT709).Apply([3]float64{k * c[0], k * c[1], k * c[2]})
		fmt.Fprintf(&p.b, `<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="%s"><title>%s %+.1f stops</title></rect>`+"\n", float64(i)*width+1, top, width-2, h, hex(light), of.Name, g.Response[of.Name])
	}
}

// scale draws the lightness of greys by stops, the reference's faint behind it.
func (p *plotter) scale(s *film.Stock, x0 float64) {
	var stops []float64
	for x := -6.0; x <= 5; x += 0.25 {
		stops = append(stops, x)
	}
	fmt.Fprintf(&p.b, `<rect x="%g" y="0.5" width="%d" height="%d" fill="none" stroke="%s"/>`+"\n", x0, characterSide, characterSide-1, p.faint)
	for _, c := range []struct {
		of     *film.Stock
		colour string
	}{{film.Reference(), p.faint}, {s, p.ink}} {
		fmt.Fprintf(&p.b, `<polyline fill="none" stroke="%s" stroke-width="1.3" points="`, c.colour)
		for i, l := range measure.Scale(c.of, stops) {
			fmt.Fprintf(&p.b, "%.1f,%.1f ", x0+characterSide*(stops[i]+6)/11, characterSide*(1-l/100))
		}
		p.b.WriteString("\"/>\n")
	}
}

// hex is a colour of a display's light, brought into its range.
func hex(light [3]float64) string {
	var c [3]int
	for i, v := range light {
		c[i] = int(math.Round(255 * math.Pow(math.Max(0, math.Min(1, v)), 1/2.2)))
	}
	return fmt.Sprintf("#%02x%02x%02x", c[0], c[1], c[2])
}

// picture puts the middle of a picture of code values in a square.
func (p *plotter) picture(x0 float64, f *frame.Frame) error {
	img := image.NewRGBA(image.Rect(0, 0, characterSide, characterSide))
	left, top := (f.W-characterSide)/2, (f.H-characterSide)/2
	for y := range characterSide {
		for x := range characterSide {
			var c [3]uint8
			for i := range c {
				c[i] = uint8(math.Round(255 * math.Max(0, math.Min(1, float64(f.Row(i, top+y)[left+x])))))
			}
			img.SetRGBA(x, y, color.RGBA{c[0], c[1], c[2], 255})
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		return err
	}
	fmt.Fprintf(&p.b, `<image x="%g" y="0" width="%d" height="%d" href="data:image/png;base64,%s"/>`+"\n", x0, characterSide, characterSide, base64.StdEncoding.EncodeToString(b.Bytes()))
	return nil
}

// grainPatch is mid grey on the film, as its print shows it.
func grainPatch(ctx context.Context, s *film.Stock) (*frame.Frame, error) {
	return patchOf(ctx, s, 960, func(_, _ float64) float64 { return 0.18 }, "negative.grain.amount=100", "negative.sharpness.scatter=100", "negative.sharpness.adjacency=100")
}

// lampPatch is a lamp of seven stops before black cloth.
func lampPatch(ctx context.Context, s *film.Stock) (*frame.Frame, error) {
	return patchOf(ctx, s, 240, func(x, y float64) float64 {
		return 0.002 + 0.18*128*math.Max(0, math.Min(1, 3.5-math.Hypot(x, y)))
	}, "negative.halation.amount=100")
}

// patchOf renders a strip of film of the smallest gauge, so many pixels wide, on the reference print.
func patchOf(ctx context.Context, s *film.Stock, width int, light func(x, y float64) float64, sets ...string) (*frame.Frame, error) {
	l := look.NewLook("character")
	if err := l.SetAll(append([]string{"negative.stock.id=" + s.ID, "negative.gauge.id=super8", "print.medium.id=" + measure.ReferencePrint}, sets...)...); err != nil {
		return nil, err
	}
	src := frame.New(width, characterSide, 3)
	for y := range src.H {
		for x := range src.W {
			v := float32(light(float64(x)+0.5-float64(width)/2, float64(y)+0.5-characterSide/2))
			for p := range 3 {
				src.Row(p, y)[x] = v
			}
		}
	}
	plan, err := render.CompileDraft(ctx, l, colour.Working(), render.Raster{W: src.W, H: src.H}, look.Finish)
	if err != nil {
		return nil, err
	}
	return render.NewRenderer(0).Render(ctx, plan, render.Still{Picture: src}, 0)
}

// VersusRow is one colour on the reference print by two stocks: lightness, chroma and hue in degrees of CIELAB, as a colour of the web,
// and the difference of the two (ΔE2000).
type VersusRow struct {
	Name  string        `json:"name"`
	Sides [2]VersusSide `json:"sides"`
	Apart float64       `json:"apart"`
}

// VersusSide is that colour by one of them.
type VersusSide struct {
	Lightness float64 `json:"lightness"`
	Chroma    float64 `json:"chroma"`
	Hue       float64 `json:"hue"`
	Colour    string  `json:"colour"`
}

// Versus sets two stocks against each other, patch by patch of the chart, then by greys.
func Versus(id, other string) ([]VersusRow, error) {
	var both [2]*film.Stock
	for i, name := range [2]string{id, other} {
		s, err := film.FindStock(name)
		if err != nil {
			return nil, BadInput{err}
		}
		both[i] = s
	}
	var out []VersusRow
	for _, v := range measure.CompareStocks(both[0], both[1]) {
		c := VersusRow{Name: v.Name, Apart: v.Apart}
		for i, lab := range v.Lab {
			hue := math.Mod(math.Atan2(lab[2], lab[1])*180/math.Pi+360, 360)
			c.Sides[i] = VersusSide{lab[0], math.Hypot(lab[1], lab[2]), hue, hex(v.Light[i])}
		}
		out = append(out, c)
	}
	return out, nil
}
