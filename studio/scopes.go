package studio

import (
	"context"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/scope"
)

// ScopeAsk asks for a scope of a picture.
type ScopeAsk struct {
	ID string `json:"id"` // waveform, parade, vector, histogram or chroma
	// Tap is the station whose picture is read, Finish if empty.
	Tap look.Station `json:"tap,omitempty"`
	// Luma draws a waveform's weighted sum in place of its channels.
	Luma bool `json:"luma,omitempty"`
	// Nits reads display code values as light.
	Nits bool `json:"nits,omitempty"`
	// Zoom enlarges the middle of a vectorscope, 1, 2 or 4 times.
	Zoom float64 `json:"zoom,omitempty"`
	// W and H are the cells of the drawing.
	W int `json:"width"`
	H int `json:"height"`
	// Box restricts it to a part of the picture that is seen.
	Box *scope.Box `json:"box,omitempty"`
}

// ScopeView is what a scope has to say beside its drawing.
type ScopeView struct {
	Ask       ScopeAsk         `json:"ask"`
	Axis      scope.Axis       `json:"axis"`
	Histogram *scope.Histogram `json:"histogram,omitempty"`
	Readings  scope.Readings   `json:"readings"`
	Targets   []scope.Target   `json:"targets,omitempty"`
	Skin      *[2]float64      `json:"skin,omitempty"`
	Reach     float64          `json:"reach,omitempty"`
	Triangle  scope.Outline    `json:"triangle,omitempty"`
	Horseshoe scope.Outline    `json:"horseshoe,omitempty"`
	White     *[2]float64      `json:"white,omitempty"`
	// Empty says why there is nothing to draw.
	Empty string `json:"empty,omitempty"`
}

// maxCells bounds a scope's drawing.
const maxCells = 1024

func (q *ScopeAsk) check() error {
	if q.W < 16 || q.H < 16 || q.W > maxCells || q.H > maxCells {
		return Bad("a scope of %d×%d cells; each side goes from 16 to %d", q.W, q.H, maxCells)
	}
	if q.Zoom == 0 {
		q.Zoom = 1
	}
	if q.Zoom != 1 && q.Zoom != 2 && q.Zoom != 4 {
		return Bad("a vectorscope is enlarged 1, 2 or 4 times, not %g", q.Zoom)
	}
	if q.Tap == "" {
		q.Tap = look.Finish
	}
	if _, err := look.ParseStation(string(q.Tap)); err != nil {
		return BadInput{err}
	}
	if b := q.Box; b != nil && !(b.X0 >= 0 && b.Y0 >= 0 && b.X1 <= 1 && b.Y1 <= 1 && b.X0 < b.X1 && b.Y0 < b.Y1) {
		return Bad("a box lies inside the picture, 0 to 1 each way")
	}
	switch q.ID {
	case "waveform", "parade", "vector", "histogram", "chroma":
		return nil
	}
	return Bad("there is no scope %q", q.ID)
}

// tapped is the picture behind Shown as it leaves a station, with what its numbers mean. A still has one
// picture alone.
func (p *Shown) tapped(ctx context.Context, q *ScopeAsk) (scope.Picture, error) {
	d := p.Display
	m := d.Gamut.ToXYZ()
	third := [3]float64{1.0 / 3, 1.0 / 3, 1.0 / 3}
	tap := q.Tap
	if p.at == nil {
		tap = look.Finish
	}
	switch tap {
	case look.Intake, look.Balance, look.Lens:
		f, err := p.at(ctx, tap)
		return scope.Picture{Frame: f, Axis: scope.Stops(), Weights: lightWeights, Light: colour.AP1.ToXYZ().Apply, Display: d}, err
	case look.Negative:
		f, err := p.at(ctx, tap)
		return scope.Picture{Frame: f, Axis: scope.Density(), Weights: third, Display: d}, err
	case look.Print:
		f, err := p.at(ctx, tap)
		if err != nil {
			return scope.Picture{}, err
		}
		// as light of the display's primaries, in cd/m² of its white
		lit, err := frame.Each(ctx, f, m.Inverse().Scale(d.White).Apply)
		toXYZ := m.Scale(1 / d.White)
		return scope.Picture{Frame: lit, Axis: scope.Nits(d.Peak), Weights: d.Luminance(), Light: toXYZ.Apply, Display: d}, err
	}
	f := p.Frame
	if p.at != nil && (tap != look.Finish || p.altered) {
		var err error
		if f, err = p.at(ctx, tap); err != nil {
			return scope.Picture{}, err
		}
	}
	light := scope.Decoder(d)
	toXYZ := m.Scale(d.Head())
	pic := scope.Picture{Frame: f, Axis: scope.Codes(), Weights: d.Luminance(), Display: d, Light: func(c [3]float64) [3]float64 { return toXYZ.Apply(light(c)) }}
	if !q.Nits || q.ID == "vector" || q.ID == "chroma" {
		return pic, nil
	}
	lit, err := frame.Each(ctx, f, func(c [3]float64) [3]float64 {
		v := light(c)
		return [3]float64{v[0] * d.Peak, v[1] * d.Peak, v[2] * d.Peak}
	})
	pic.Frame, pic.Axis = lit, scope.Nits(d.Peak)
	return pic, err
}

// differs brings a tap's picture to numbers whose colour differences a vectorscope can show: code values
// as they are, light as ACEScct (ACES S-2016-001), densities as shares of the scale.
func differs(p scope.Picture, tap look.Station) scope.Picture {
	var f func(float64) float64
	switch tap {
	case look.Intake, look.Balance, look.Lens:
		e, _ := colour.FindEncoding("acescct")
		f = e.Encode
	case look.Negative:
		f = func(v float64) float64 { return v / p.Axis.Hi }
	case look.Print:
		f = func(v float64) float64 { return p.Display.Encode(max(v, 0) / p.Display.Peak) }
	default:
		return p
	}
	// nothing is cancelled between a picture and its scopes
	p.Frame, _ = frame.Each(context.Background(), p.Frame, func(c [3]float64) [3]float64 { return [3]float64{f(c[0]), f(c[1]), f(c[2])} })
	return p
}

// Scope measures the picture.
func (p *Shown) Scope(ctx context.Context, q ScopeAsk) (*ScopeView, *Image, error) {
	if err := q.check(); err != nil {
		return nil, nil, err
	}
	pic, err := p.tapped(ctx, &q)
	if err != nil {
		return nil, nil, err
	}
	if q.Box != nil {
		pic = pic.In(*q.Box)
	}
	v := &ScopeView{Ask: q, Axis: pic.Axis, Readings: scope.Read(pic)}
	var im *scope.Image
	switch q.ID {
	case "waveform":
		t := scope.Waveform(pic, q.W, q.H)
		if q.Luma {
			im = scope.DrawLuma(t)
		} else {
			im = scope.DrawRGB(t)
		}
	case "parade":
		im = scope.DrawParade(scope.Waveform(pic, q.W/3, q.H))
	case "histogram":
		v.Histogram = scope.Count(pic)
		return v, nil, nil
	case "vector":
		im = scope.DrawVector(scope.Vector(differs(pic, q.Tap), q.H, q.Zoom))
		v.Targets = scope.Targets(pic.Weights)
		x, y := scope.SkinEnd()
		v.Skin = &[2]float64{x, y}
		v.Reach = scope.VectorReach
	case "chroma":
		if pic.Light == nil {
			v.Empty = "Densities are no light: they have no chromaticity."
			return v, nil, nil
		}
		im = scope.DrawChroma(scope.Chroma(pic, q.H))
		g := pic.Display.Gamut
		v.Triangle, v.Horseshoe = scope.Triangle(g), scope.Horseshoe()
		w := scope.White(g)
		v.White = &w
	}
	return v, &Image{W: im.W, H: im.H, RGBA: im.RGBA, SourceW: im.W, SourceH: im.H}, nil
}
