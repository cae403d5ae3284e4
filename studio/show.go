package studio

import (
	"context"
	"fmt"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/render"
	"velours/core/scope"
)

// Shows are the ways to look at a picture beside plainly:
//
//	adds          what a step adds and takes away, in linear light, Gain times over
//	matte         where a step acts
//	solo          the path with this step alone in its station
//	far           the step at the top of its range
//	zones         where the five zones of the step lie, each in a grey of its own
//	difference    the picture less another side, in linear light, Gain times over
//	false         false colour: stops of scene light
//	clip-display  what is black or white on the display
//	clip-film     what has run out of the negative's curve
//	delivery      what a movie of Codec at Megabits a second leaves of it
//
// UsualGain is how many times over differences are shown if nothing else is asked for.
const UsualGain = 4

// Show renders a view in full precision.
func (s *Studio) Show(ctx context.Context, v View) (*Shown, error) {
	if v.Gain == 0 {
		v.Gain = UsualGain
	}
	if v.Gain < 1 || v.Gain > 64 {
		return nil, Bad("differences can be shown 1 to 64 times over, not %g times", v.Gain)
	}
	if v.Show == "" {
		return s.side(ctx, v)
	}
	show := s.judged
	switch v.Show {
	case "adds", "matte", "solo", "far", "zones":
		show = s.step
	case "difference", "false", "clip-display", "clip-film":
	case "delivery":
		show = s.delivered
	default:
		return nil, Bad("there is no view %q", v.Show)
	}
	p, err := s.side(ctx, v)
	if err != nil {
		return nil, err
	}
	if p.scene == nil {
		return nil, Bad("a still has no steps to look at")
	}
	p.altered = true
	return show(ctx, v, p)
}

// times words how often over a difference is shown.
func times(gain float64) string {
	if gain == 1 {
		return "as it is"
	}
	return fmt.Sprintf("%g times over", gain)
}

func ground(black bool) string {
	if black {
		return "on black"
	}
	return "on mid grey"
}

// step shows one step by itself.
func (s *Studio) step(ctx context.Context, v View, p *Shown) (*Shown, error) {
	st, step, err := stepNamed(v.Step)
	if err != nil {
		return nil, err
	}
	given := p.scene.look
	k, err := look.KindOf(st, step)
	if err != nil {
		return nil, err
	}
	label := k.Label
	if q := given.Step(st, step); q != nil {
		label = k.Called(q)
		if v.Show == "matte" && q.Matte != nil {
			p.Note = fmt.Sprintf("the matte of %s: white is covered", label)
			p.Frame, err = s.covered(ctx, p.scene, st, step)
			return p, err
		}
	}
	render := func(l *look.Look) (*frame.Frame, error) {
		f, _, err := s.at(ctx, p.scene, l, look.Finish)
		return f, err
	}
	if v.Show == "zones" {
		p.Note = "the zones of " + label + ", from black to white"
		p.Frame, err = s.zoned(ctx, p.scene, st, step)
		return p, err
	}
	if v.Show == "solo" {
		p.Frame, err = render(given.Solo(st, step))
		p.Note = fmt.Sprintf("%s with %s alone", k.Station.Label(), label)
		return p, err
	}
	without := func() (*frame.Frame, error) { return render(given.Without(st, step)) }
	if v.Show == "far" {
		far, more := given.Exaggerated(st, step)
		p.Note = label + " at the top of its range"
		if more == 1 {
			p.Frame, err = render(far)
			return p, err
		}
		p.Note = fmt.Sprintf("%s, %g times as far", label, more)
		f, err := without()
		if err != nil {
			return nil, err
		}
		p.Frame, err = scope.Further(ctx, p.Frame, f, p.Display, more)
		return p, err
	}
	f, err := without()
	if err != nil {
		return nil, err
	}
	if v.Show == "matte" {
		var white float64
		p.Frame, white = scope.Matte(p.Frame, f)
		p.Note = fmt.Sprintf("where %s acts; white is a change of %.2g %%", label, 100*white)
		if white == 0 {
			p.Note = label + " changes nothing here"
		}
		return p, nil
	}
	p.Note = fmt.Sprintf("what %s adds, %s, %s", label, times(v.Gain), ground(v.Black))
	return s.difference(ctx, v, p, f)
}

func (s *Studio) difference(ctx context.Context, v View, p *Shown, other *frame.Frame) (*Shown, error) {
	d, err := scope.Difference(ctx, p.Frame, other, p.Display)
	if err != nil {
		return nil, err
	}
	p.Frame, err = scope.ShowDifference(ctx, d, p.Display, v.Gain, v.Black)
	return p, err
}

// judged shows the picture measured.
func (s *Studio) judged(ctx context.Context, v View, p *Shown) (*Shown, error) {
	c := p.scene
	switch v.Show {
	case "difference":
		o := v
		o.Side, o.Show = v.Against, ""
		if o.Side == "" {
			o.Side = "film"
		}
		q, err := s.side(ctx, o)
		if err != nil {
			return nil, err
		}
		other, err := frame.Scale(ctx, q.Frame, p.W, p.H)
		if err != nil {
			return nil, err
		}
		p.Note = fmt.Sprintf("the difference, %s, %s", times(v.Gain), ground(v.Black))
		return s.difference(ctx, v, p, other)
	case "false":
		light, _, err := s.at(ctx, c, c.look, look.Lens)
		if err != nil {
			return nil, err
		}
		limits, err := responseLimits(ctx, c.look)
		if err != nil {
			return nil, err
		}
		p.Bands = scope.Bands(limits)
		p.Frame = scope.FalseColour(light, lightWeights, p.Bands)
		p.Note = "false colour: scene light in stops from mid grey"
		return p, nil
	case "clip-display":
		b := scope.CodeBounds()
		top := p.Display.Code([3]float64{1, 1, 1})
		for i := range top {
			b.High[i] *= top[i]
		}
		var n scope.Clipped
		p.Frame, n = scope.MarkClipped(p.Frame, p.Frame, p.Display.Luminance(), b)
		p.Note = clippedNote("the display", n)
		return p, nil
	}
	low, high, sign, ok := measure.Exhausted(c.look)
	if !ok {
		p.Note = "no film is on: nothing of it can run out"
		return p, nil
	}
	clean := c.look
	if k := clean.Step(look.Negative, "grain"); k != nil {
		clean = clean.Without(look.Negative, "grain")
		if render.NegativeOf(clean) == nil {
			clean = c.look
		}
	}
	d, _, err := s.at(ctx, c, clean, look.Negative)
	if err != nil {
		return nil, err
	}
	if sign < 0 {
		if d, err = frame.Each(ctx, d, func(v [3]float64) [3]float64 { return [3]float64{-v[0], -v[1], -v[2]} }); err != nil {
			return nil, err
		}
	}
	var n scope.Clipped
	p.Frame, n = scope.MarkClipped(p.Frame, d, p.Display.Luminance(), scope.Bounds{Low: low, High: high})
	p.Note = clippedNote("the film", n)
	return p, nil
}

func clippedNote(what string, n scope.Clipped) string {
	if n == (scope.Clipped{}) {
		return "nothing is clipped by " + what
	}
	most := func(v [3]float64) float64 { return 100 * max(v[0], v[1], v[2]) }
	return fmt.Sprintf("clipped by %s: dark %.2g %%, bright %.2g %% of the picture; stripes in the colour of the channels", what, most(n.Low), most(n.High))
}

// lightWeights make luminance of ACEScg.
var lightWeights = func() [3]float64 { m := colour.AP1.ToXYZ(); return [3]float64{m[3], m[4], m[5]} }()

// responseLimits are where a look runs out of tones.
func responseLimits(ctx context.Context, l *look.Look) (scope.Limits, error) {
	const lo, hi, step = -14.0, 12.0, 0.125
	var stops []float64
	for x := lo; x <= hi; x += step {
		stops = append(stops, x)
	}
	codes, d, err := measure.Response(ctx, l, stops)
	if err != nil {
		return scope.Limits{}, err
	}
	w := d.Luminance()
	lightness := make([]float64, len(codes))
	for i, c := range codes {
		v := d.Light(c)
		y := w[0]*v[0] + w[1]*v[1] + w[2]*v[2]
		lightness[i] = colour.Lab([3]float64{0, y * d.Head(), 0}, [3]float64{1, 1, 1})[0]
		if i > 0 {
			lightness[i] = max(lightness[i], lightness[i-1])
		}
	}
	return scope.FindLimits(lo, step, lightness), nil
}

// onDisplay brings code values made for one display to a raster on another.
func onDisplay(ctx context.Context, f *frame.Frame, r render.Raster, from, to *colour.Display) (*frame.Frame, error) {
	if from.Key() == to.Key() && f.W == r.W && f.H == r.H {
		return f, nil
	}
	light, code := scope.Decoder(from), scope.Encoder(to)
	m, k := colour.Convert(from.Gamut, to.Gamut), from.Head()/to.Head()
	w := to.Luminance()
	lit, err := frame.Each(ctx, f, func(c [3]float64) [3]float64 {
		v := m.Apply(light(c))
		return [3]float64{v[0] * k, v[1] * k, v[2] * k}
	})
	if err != nil {
		return nil, err
	}
	if lit, err = frame.Scale(ctx, lit, r.W, r.H); err != nil {
		return nil, err
	}
	return frame.Each(ctx, lit, func(c [3]float64) [3]float64 {
		v := colour.Fit(c, w)
		return code([3]float64{max(v[0], 0), max(v[1], 0), max(v[2], 0)})
	})
}
