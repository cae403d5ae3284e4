package studio

import (
	"context"
	"math"

	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scope"
)

// Probe asks for the pixel under the pointer.
type Probe struct {
	// X and Y are where it lies in the picture that is seen, in shares from the left and the top.
	X float64 `json:"x"`
	Y float64 `json:"y"`
	// Scopes are those in which it is to be marked.
	Scopes []ScopeAsk `json:"scopes,omitempty"`
}

// Reading is what can be said of a pixel.
type Reading struct {
	// X and Y are the pixel's place in the shot's own size.
	X int `json:"x"`
	Y int `json:"y"`
	// Code holds display code values, 0…1; Code10 the same in 10 bits.
	Code   [3]float64 `json:"code"`
	Code10 [3]int     `json:"code10"`
	// Nits is the luminance on the display, cd/m².
	Nits float64 `json:"nits"`
	// Stops is scene light as it leaves the lens, from mid grey; none for a still.
	Stops *float64 `json:"stops,omitempty"`
	// Density holds the negative's three layers, where there is one.
	Density *[3]float64 `json:"density,omitempty"`
	// Lightness, Chroma and Hue (degrees) are CIE L*C*h against the display's white.
	Lightness float64 `json:"lightness"`
	Chroma    float64 `json:"chroma"`
	Hue       float64 `json:"hue"`
	// Marks are its places in the scopes asked for.
	Marks []ScopeMark `json:"marks"`
}

// ScopeMark is a pixel's place in a scope: shares from the left and the top; a waveform has a place down
// for each of its channels and their sum.
type ScopeMark struct {
	ID string    `json:"id"`
	X  float64   `json:"x"`
	Y  []float64 `json:"y"`
}

// Probe reads a pixel of a view.
func (s *Sessions) Probe(ctx context.Context, v View, q Probe) (*Reading, error) {
	if !(q.X >= 0 && q.X <= 1 && q.Y >= 0 && q.Y <= 1) {
		return nil, Bad("a pixel lies inside the picture, 0 to 1 each way")
	}
	v.Show, v.Draft = Plainly, false
	p, err := s.Show(ctx, v)
	if err != nil {
		return nil, err
	}
	x, y := min(int(q.X*float64(p.W)), p.W-1), min(int(q.Y*float64(p.H)), p.H-1)
	r := &Reading{X: x + v.X, Y: y + v.Y, Marks: []ScopeMark{}}
	if v.CropW == 0 {
		r.X, r.Y = (2*x+1)*p.SourceW/(2*p.W), (2*y+1)*p.SourceH/(2*p.H)
	}
	d := p.Display
	r.Code = p.Frame.At(x, y)
	for c, v := range r.Code {
		r.Code10[c] = int(min(max(v, 0), 1)*1023 + 0.5)
	}
	m := d.Gamut.ToXYZ()
	xyz := m.Apply(d.Light(r.Code))
	r.Nits = xyz[1] * d.Peak
	for i := range xyz {
		xyz[i] *= d.Head()
	}
	lab := colour.Lab(xyz, d.Gamut.White.XYZ())
	r.Lightness, r.Chroma = lab[0], math.Hypot(lab[1], lab[2])
	r.Hue = math.Mod(math.Atan2(lab[2], lab[1])*180/math.Pi+360, 360)
	if p.scene != nil {
		light, err := p.at(ctx, look.Lens)
		if err != nil {
			return nil, err
		}
		c := light.At(x, y)
		if l := lightWeights[0]*c[0] + lightWeights[1]*c[1] + lightWeights[2]*c[2]; l > 0 {
			stops := math.Log2(l / 0.18)
			r.Stops = &stops
		}
		if render.NegativeOf(p.scene.look) != nil {
			f, err := p.at(ctx, look.Negative)
			if err != nil {
				return nil, err
			}
			c := f.At(x, y)
			r.Density = &c
		}
	}
	for _, ask := range q.Scopes {
		mark, err := p.mark(ctx, ask, x, y)
		if err != nil {
			return nil, err
		}
		if mark != nil {
			r.Marks = append(r.Marks, *mark)
		}
	}
	return r, nil
}

// mark is where pixel x, y stands in a scope; nil if it is outside the scope's box, or nowhere.
func (p *Shown) mark(ctx context.Context, q ScopeAsk, x, y int) (*ScopeMark, error) {
	if err := q.check(); err != nil {
		return nil, err
	}
	across := (float64(x) + 0.5) / float64(p.W)
	if b := q.Box; b != nil {
		down := (float64(y) + 0.5) / float64(p.H)
		if across < b.X0 || across > b.X1 || down < b.Y0 || down > b.Y1 {
			return nil, nil
		}
		across = (across - b.X0) / (b.X1 - b.X0)
	}
	pic, err := p.tapped(ctx, &q)
	if err != nil {
		return nil, err
	}
	// a picture of one pixel reads as the whole does
	pic.Frame = pic.Crop(x, y, 1, 1)
	c := pic.Frame.At(0, 0)
	mark := &ScopeMark{ID: q.ID, X: across}
	switch q.ID {
	case "vector":
		c = differs(pic, q.Tap).Frame.At(0, 0)
		u, v := scope.VectorAt(c, pic.Weights, q.Zoom)
		mark.X, mark.Y = u, []float64{v}
	case "chroma":
		if pic.Light == nil {
			return nil, nil
		}
		u, v, ok := scope.Prime(pic.Light(c))
		if !ok {
			return nil, nil
		}
		u, v = scope.ChromaAt(u, v)
		mark.X, mark.Y = u, []float64{v}
	default:
		sum := pic.Weights[0]*c[0] + pic.Weights[1]*c[1] + pic.Weights[2]*c[2]
		for _, v := range []float64{c[0], c[1], c[2], sum} {
			mark.Y = append(mark.Y, 1-pic.Axis.Place(v))
		}
	}
	return mark, nil
}
