package studio

import (
	"context"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/path"
)

// Picked is what is read where a hand points, as light enters a step.
type Picked struct {
	// Light is linear, the mean of a few pixels around.
	Light [3]float64 `json:"light"`
	// Stops are from mid grey, Hue in degrees, Chroma over lightness.
	Stops  float64 `json:"stops"`
	Hue    float64 `json:"hue"`
	Chroma float64 `json:"chroma"`
	// Mired and Tint are the white balance under which it is neutral; none for black.
	Mired *float64 `json:"mired,omitempty"`
	Tint  *float64 `json:"tint,omitempty"`
}

// pickReach is how many pixels to each side of a point are averaged, of a picture about 1000 wide.
const pickReach = 3

// Pick reads a point of a view, in shares of what is seen, as light enters the view's Step.
func (s *Studio) Pick(ctx context.Context, v View, q Probe) (*Picked, error) {
	if !(q.X >= 0 && q.X <= 1 && q.Y >= 0 && q.Y <= 1) {
		return nil, Bad("a pixel lies inside the picture, 0 to 1 each way")
	}
	st, step, err := stepNamed(v.Step)
	if err != nil {
		return nil, err
	}
	v.Draft, v.Side, v.Show = false, "", ""
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	light, err := s.entering(ctx, c, st, step)
	if err != nil {
		return nil, err
	}
	raster, region := v.window(c.shot.Width, c.shot.Height)
	if region.W == 0 {
		region = path.Region{W: raster.W, H: raster.H}
	}
	x, y := region.X+int(q.X*float64(region.W)), region.Y+int(q.Y*float64(region.H))
	p := &Picked{Light: around(light, x, y, max(1, pickReach*light.W/1000))}
	p.Stops = grade.Stops(grade.Luma[0]*p.Light[0] + grade.Luma[1]*p.Light[1] + grade.Luma[2]*p.Light[2])
	p.Hue, p.Chroma = grade.Hue(p.Light)
	if m, t, ok := colour.Neutralise(p.Light); ok {
		p.Mired, p.Tint = &m, &t
	}
	return p, nil
}

// around is the mean of the pixels within reach of a place.
func around(f *frame.Frame, x, y, reach int) [3]float64 {
	var sum [3]float64
	n := 0.0
	for j := max(y-reach, 0); j <= min(y+reach, f.H-1); j++ {
		for i := max(x-reach, 0); i <= min(x+reach, f.W-1); i++ {
			for c, v := range f.At(i, j) {
				sum[c] += v
			}
			n++
		}
	}
	for c := range sum {
		sum[c] /= max(n, 1)
	}
	return sum
}

// Tones is how often each brightness occurs in the light that enters a step: counts of red, green, blue and
// luminance over From to To stops from mid grey, as shares of the largest.
type Tones struct {
	From  float64      `json:"from"`
	To    float64      `json:"to"`
	Count [4][]float64 `json:"count"`
}

// tonesFrom, tonesTo and tonesBins are the scale of Tones.
const tonesFrom, tonesTo, tonesBins = -10.0, 8.0, 144

// Tones counts the light that enters the view's Step, over the whole frame.
func (s *Studio) Tones(ctx context.Context, v View) (*Tones, error) {
	st, step, err := stepNamed(v.Step)
	if err != nil {
		return nil, err
	}
	v.W, v.H, v.CropW, v.CropH, v.Draft, v.Side, v.Show = restWidth, restWidth, 0, 0, true, "", ""
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	light, err := s.entering(ctx, c, st, step)
	if err != nil {
		return nil, err
	}
	t := &Tones{From: tonesFrom, To: tonesTo}
	for i := range t.Count {
		t.Count[i] = make([]float64, tonesBins)
	}
	for y := range light.H {
		for x := range light.W {
			p := light.At(x, y)
			for i, v := range [4]float64{p[0], p[1], p[2], grade.Luma[0]*p[0] + grade.Luma[1]*p[1] + grade.Luma[2]*p[2]} {
				k := int((grade.Stops(v) - tonesFrom) / (tonesTo - tonesFrom) * tonesBins)
				t.Count[i][min(max(k, 0), tonesBins-1)]++
			}
		}
	}
	most := 1.0
	for i := range t.Count {
		for k := 1; k < tonesBins-1; k++ { // the ends hold all that lies beyond
			most = max(most, t.Count[i][k])
		}
	}
	for i := range t.Count {
		for k := range t.Count[i] {
			t.Count[i][k] = min(t.Count[i][k]/most, 1)
		}
	}
	return t, nil
}

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
	// Back are the settings of the step that would put skin back where it was.
	Back map[string]float64 `json:"back"`
}

// leastSkin is the share of a frame below which it is said to have no skin.
const leastSkin = 0.0005

// SkinMove reads the skin of a frame, as the view's Step, a skin guard, finds it.
func (s *Studio) SkinMove(ctx context.Context, v View) (*SkinMove, error) {
	st, step, err := stepNamed(v.Step)
	if err != nil {
		return nil, err
	}
	v.W, v.H, v.CropW, v.CropH, v.Draft, v.Side, v.Show = 480, 480, 0, 0, true, "", ""
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	skin, err := c.look.SkinOf(st, step)
	if err != nil {
		return nil, BadInput{err}
	}
	then, err := s.entering(ctx, c, st, firstOf(c.look, st, step))
	if err != nil {
		return nil, err
	}
	if c.look.Step(st, step) == nil {
		return nil, Bad("the skin guard is not in use")
	}
	raster, _ := v.window(c.shot.Width, c.shot.Height)
	leaving := func(l *path.Look) (*frame.Frame, error) {
		plan, err := path.CompileDraft(ctx, l, raster, st)
		if err != nil {
			return nil, err
		}
		f, err := s.render.Render(ctx, plan, c.src, v.Frame)
		if err != nil {
			return nil, wrapInput(err)
		}
		return plan.SceneTerms(ctx, f, st)
	}
	now, err := leaving(c.look)
	if err != nil {
		return nil, err
	}
	cover, err := c.look.Cover(ctx, st, step, then, v.Frame)
	if err != nil {
		return nil, err
	}
	weight := skin.Weight()
	was, is, share := skins(then, now, cover, weight)
	m := &SkinMove{Share: share, Back: map[string]float64{}}
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
	m.Back, err = s.putBack(c, st, step, was, is, func(l *path.Look) ([3]float64, error) {
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
func (s *Studio) putBack(c *scene, st path.Station, step string, was, is [3]float64, try func(*path.Look) ([3]float64, error)) (map[string]float64, error) {
	l := c.look.Clone()
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

// firstOf is the name of the first step of a station, or step if it has none.
func firstOf(l *path.Look, st path.Station, step string) string {
	if in := l.Stations[st]; in != nil && len(in.Steps) > 0 {
		return in.Steps[0].Name()
	}
	return step
}
