package studio

import (
	"context"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
	"velours/core/steps"
)

// SkinMove is how far skin has moved between the entry of a station and its exit.
type SkinMove struct {
	// Share is how much of the frame is skin; without any the rest is nothing.
	Share float64 `json:"share"`
	// Hue in degrees, Chroma and Lightness in CIE L*C*h, DeltaE after CIEDE2000: now less then.
	Hue       float64 `json:"hue"`
	Chroma    float64 `json:"chroma"`
	Lightness float64 `json:"lightness"`
	DeltaE    float64 `json:"deltaE"`
	// Line is how far skin now lies from the skin line, in degrees.
	Line float64 `json:"line"`
	// Back are the settings of the step that would put skin back where it was, if they were asked for.
	Back map[string]float64 `json:"back,omitempty"`
}

// leastSkin is the share of a frame below which it is said to have no skin.
const leastSkin = 0.0005

// SkinMove reads the skin of a frame, as the view's Step, a skin guard, finds it. With back it also finds the way
// back, for which the frame is rendered a few times over.
func (s *Sessions) SkinMove(ctx context.Context, v View, back bool) (*SkinMove, error) {
	st, step := v.Step.Station, v.Step.Name
	v.W, v.H, v.CropW, v.CropH, v.Draft, v.Side, v.Show = 480, 480, 0, 0, true, Side{}, Plainly
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	skin, err := steps.SkinOf(c.look, st, step)
	if err != nil {
		return nil, BadInput{err}
	}
	then, err := s.entering(ctx, c, firstOf(c.look, v.Step))
	if err != nil {
		return nil, err
	}
	if c.look.Step(st, step) == nil {
		return nil, Bad("the skin guard is not in use")
	}
	raster, _ := v.window(c.shot.Width, c.shot.Height)
	leaving := func(l *look.Look) (*frame.Frame, error) {
		plan, err := render.CompileDraft(ctx, l, c.encoding, raster, st)
		if err != nil {
			return nil, err
		}
		f, err := s.rendered(ctx, plan, c.src, v.Frame, v.Frame)
		if err != nil {
			return nil, wrapInput(err)
		}
		return plan.SceneTerms(ctx, f, st)
	}
	now, err := leaving(c.look)
	if err != nil {
		return nil, err
	}
	cover, err := render.Cover(ctx, c.look, st, step, then, v.Frame)
	if err != nil {
		return nil, err
	}
	weight := skin.Weight()
	was, is, share := skins(then, now, cover, weight)
	m := &SkinMove{Share: share}
	if share < leastSkin {
		return m, nil
	}
	lab := func(c [3]float64) [3]float64 {
		return colour.Lab(colour.AP1.ToXYZ().Apply(c), colour.AP1.White.XYZ())
	}
	p, q := lab(was), lab(is)
	turn := func(v [3]float64) float64 { return math.Atan2(v[2], v[1]) * 180 / math.Pi }
	m.Hue = math.Remainder(turn(q)-turn(p), 360)
	m.Chroma, m.Lightness = math.Hypot(q[1], q[2])-math.Hypot(p[1], p[2]), q[0]-p[0]
	m.DeltaE = colour.DeltaE2000(p, q)
	hue, _ := grade.Hue(is)
	m.Line = math.Remainder(hue-grade.SkinHue, 360)
	if !back {
		return m, nil
	}
	m.Back, err = putBack(c.look, st, step, was, is, func(l *look.Look) ([3]float64, error) {
		f, err := leaving(l)
		if err != nil {
			return [3]float64{}, err
		}
		_, is, _ := skins(then, f, cover, weight)
		return is, nil
	})
	return m, err
}

// putBack finds the settings of a skin guard under which skin comes out as it was: by their effect, tried a few
// times over.
func putBack(look *look.Look, st look.Station, step string, was, is [3]float64, try func(*look.Look) ([3]float64, error)) (map[string]float64, error) {
	l := look.Clone()
	back := map[string]float64{"hue": 0, "chroma": 100, "light": 0}
	if p := l.Step(st, step); p != nil {
		for id := range back {
			if v, ok := p.Settings[id].(float64); ok {
				back[id] = v
			}
		}
	}
	light := func(c [3]float64) float64 { return grade.Luma[0]*c[0] + grade.Luma[1]*c[1] + grade.Luma[2]*c[2] }
	for range 4 {
		h0, c0 := grade.Hue(was)
		h1, c1 := grade.Hue(is)
		back["hue"] = min(max(back["hue"]+math.Remainder(h0-h1, 360), -30), 30)
		back["chroma"] = min(max(back["chroma"]*c0/max(c1, 1e-4), 40), 180)
		back["light"] = min(max(back["light"]+math.Log2(light(was)/max(light(is), 1e-6)), -1.5), 1.5)
		for id, v := range back {
			if err := l.Set(string(st)+"."+step+"."+id, v); err != nil {
				return nil, BadInput{err}
			}
		}
		var err error
		if is, err = try(l); err != nil {
			return nil, err
		}
	}
	return back, nil
}

// skins are the mean colours of what is skin in the first of two pictures, in both, and its share of the picture;
// only what a step's matte covers counts.
func skins(a, b, cover *frame.Frame, weight func([3]float64) float64) (was, is [3]float64, share float64) {
	sum := 0.0
	for y := range a.H {
		for x := range a.W {
			p := a.At(x, y)
			w := weight(p) * float64(cover.Row(0, y)[x])
			if w == 0 {
				continue
			}
			sum += w
			q := b.At(x, y)
			for c := range p {
				was[c] += w * p[c]
				is[c] += w * q[c]
			}
		}
	}
	for c := range was {
		was[c] /= max(sum, 1e-9)
		is[c] /= max(sum, 1e-9)
	}
	return was, is, sum / float64(a.W*a.H)
}

// firstOf is the first step of a step's station, or the step if there is none.
func firstOf(l *look.Look, step look.StepPath) look.StepPath {
	if in := l.Stations[step.Station]; in != nil && len(in.Steps) > 0 {
		step.Name = in.Steps[0].Name()
	}
	return step
}
