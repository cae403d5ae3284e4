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

// Show says how a picture is looked at.
type Show string

// The ways to look at a picture. Those of a step show the view's Step.
const (
	Plainly        Show = ""             // as it is
	ShowAdds       Show = "adds"         // what a step adds and takes away, in linear light, Gain times over
	ShowMatte      Show = "matte"        // where a step acts
	ShowSolo       Show = "solo"         // the path with this step alone in its station
	ShowAlone      Show = "alone"        // the picture with this step alone in all of the path
	ShowSource     Show = "source"       // the light alone that feeds a step which spreads it
	ShowFar        Show = "far"          // the step at the top of its range
	ShowWedge      Show = "wedge"        // a wedge of greys in the picture's place
	ShowPlaced     Show = "placed"       // the picture with every cloud of its grain placed, where it is seen 1:1
	ShowZones      Show = "zones"        // where the five zones of the step lie, each in a grey of its own
	ShowDifference Show = "difference"   // the picture less another side, in linear light, Gain times over
	ShowFalse      Show = "false"        // false colour: stops of scene light
	ShowClipped    Show = "clip-display" // what is black or white on the display
	ShowExhausted  Show = "clip-film"    // what has run out of the negative's curve
	ShowDelivery   Show = "delivery"     // what a movie of Codec at Megabits a second leaves of it
)

// shows are what makes the pictures of each way, out of the side as it is.
var shows = map[Show]func(*Sessions, context.Context, View, *Shown) (*Shown, error){
	ShowAdds: (*Sessions).adds, ShowMatte: (*Sessions).matte, ShowSolo: (*Sessions).solo, ShowAlone: (*Sessions).alone, ShowSource: (*Sessions).source, ShowFar: (*Sessions).far, ShowWedge: (*Sessions).wedge, ShowPlaced: (*Sessions).placed, ShowZones: (*Sessions).zones,
	ShowDifference: (*Sessions).less, ShowFalse: (*Sessions).falseColour, ShowClipped: (*Sessions).clipped, ShowExhausted: (*Sessions).exhausted,
	ShowDelivery: (*Sessions).delivered,
}

// Shows lists the ways to look at a picture.
func Shows() []Show {
	return []Show{Plainly, ShowAdds, ShowMatte, ShowSolo, ShowAlone, ShowSource, ShowFar, ShowWedge, ShowPlaced, ShowZones, ShowDifference, ShowFalse, ShowClipped, ShowExhausted, ShowDelivery}
}

// UnmarshalText reads a way to look at a picture.
func (s *Show) UnmarshalText(text []byte) error {
	*s = Show(text)
	if *s != Plainly && shows[*s] == nil {
		return Bad("there is no view %q", text)
	}
	return nil
}

// UsualGain is how many times over differences are shown if nothing else is asked for.
const UsualGain = 4

// Show renders a view in full precision.
func (s *Sessions) Show(ctx context.Context, v View) (*Shown, error) {
	if v.Gain == 0 {
		v.Gain = UsualGain
	}
	if v.Gain < 1 || v.Gain > 64 {
		return nil, Bad("differences can be shown 1 to 64 times over, not %g times", v.Gain)
	}
	show := shows[v.Show]
	if show == nil && v.Show != Plainly {
		return nil, Bad("there is no view %q", v.Show)
	}
	if v.Tap != "" && show == nil && v.Side.Of == AsItIs {
		return s.tapped(ctx, v)
	}
	p, err := s.side(ctx, v)
	if err != nil || show == nil {
		return p, err
	}
	if p.scene == nil && v.Show != ShowDifference {
		return nil, Bad("a still has no steps to look at")
	}
	p.altered = true
	return show(s, ctx, v, p)
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

// named is a step that is shown by itself, with what it is called.
func named(v View, p *Shown) (step look.StepPath, in *look.Step, label string, err error) {
	step = v.Step
	k, err := look.KindOf(step.Station, step.Name)
	if err != nil {
		return step, nil, "", Bad("there is no step %q", step)
	}
	label = k.Label
	if in = p.scene.look.Step(step.Station, step.Name); in != nil {
		label = k.Called(in)
	}
	return step, in, label, nil
}

// shown is the scene of a picture under another look.
func (s *Sessions) shown(ctx context.Context, p *Shown, l *look.Look) (*frame.Frame, error) {
	f, _, err := s.at(ctx, p.scene, l, look.Finish)
	return f, err
}

// without is the picture without a step.
func (s *Sessions) without(ctx context.Context, p *Shown, step look.StepPath) (*frame.Frame, error) {
	return s.shown(ctx, p, p.scene.look.Without(step.Station, step.Name))
}

func (s *Sessions) adds(ctx context.Context, v View, p *Shown) (*Shown, error) {
	step, _, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	f, err := s.without(ctx, p, step)
	if err != nil {
		return nil, err
	}
	p.Note = fmt.Sprintf("what %s adds, %s, %s", label, times(v.Gain), ground(v.Black))
	return s.difference(ctx, v, p, f)
}

func (s *Sessions) matte(ctx context.Context, v View, p *Shown) (*Shown, error) {
	step, in, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	if in != nil && in.Matte != nil {
		p.Note = fmt.Sprintf("the matte of %s: white is covered", label)
		p.Frame, err = s.covered(ctx, p.scene, step)
		return p, err
	}
	f, err := s.without(ctx, p, step)
	if err != nil {
		return nil, err
	}
	var white float64
	p.Frame, white = scope.Matte(p.Frame, f)
	p.Note = fmt.Sprintf("where %s acts; white is a change of %.2g %%", label, 100*white)
	if white == 0 {
		p.Note = label + " changes nothing here"
	}
	return p, nil
}

func (s *Sessions) solo(ctx context.Context, v View, p *Shown) (*Shown, error) {
	step, _, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	p.Note = fmt.Sprintf("%s with %s alone", step.Station.Label(), label)
	p.Frame, err = s.shown(ctx, p, p.scene.look.Solo(step.Station, step.Name))
	return p, err
}

func (s *Sessions) alone(ctx context.Context, v View, p *Shown) (*Shown, error) {
	step, _, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	p.Note = label + " alone, all other steps at rest"
	p.Frame, err = s.shown(ctx, p, p.scene.look.Alone(step.Station, step.Name))
	return p, err
}

// source is the light that feeds a step, seen through the rest of the path, where nothing else spreads it.
func (s *Sessions) source(ctx context.Context, v View, p *Shown) (*Shown, error) {
	step, in, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	k, err := look.KindOf(step.Station, step.Name)
	if err != nil || !k.Scatters {
		return nil, Bad("%s spreads no light: nothing feeds it", label)
	}
	p.Note = "what feeds " + label
	if in == nil || in.Matte == nil || !in.Source {
		if k.Range == nil || k.TakesAll(p.scene.look.Values(k, orNew(in, k))) {
			p.Note += ": all light, as it comes"
		}
	}
	p.Frame, err = s.shown(ctx, p, p.scene.look.FedAlone(step.Station, step.Name))
	return p, err
}

func orNew(p *look.Step, k *look.Kind) *look.Step {
	if p == nil {
		return &look.Step{Kind: k.ID}
	}
	return p
}

func (s *Sessions) far(ctx context.Context, v View, p *Shown) (*Shown, error) {
	step, _, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	far, more := p.scene.look.Exaggerated(step.Station, step.Name)
	if more == 1 {
		p.Note = label + " at the top of its range"
		p.Frame, err = s.shown(ctx, p, far)
		return p, err
	}
	p.Note = fmt.Sprintf("%s, %g times as far", label, more)
	f, err := s.without(ctx, p, step)
	if err != nil {
		return nil, err
	}
	p.Frame, err = scope.Further(ctx, p.Frame, f, p.Display, more)
	return p, err
}

func (s *Sessions) zones(ctx context.Context, v View, p *Shown) (*Shown, error) {
	step, _, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	p.Note = "the zones of " + label + ", from black to white"
	p.Frame, err = s.zoned(ctx, p.scene, step)
	return p, err
}

func (s *Sessions) difference(ctx context.Context, v View, p *Shown, other *frame.Frame) (*Shown, error) {
	d, err := scope.Difference(ctx, p.Frame, other, p.Display)
	if err != nil {
		return nil, err
	}
	p.Frame, err = scope.ShowDifference(ctx, d, p.Display, v.Gain, v.Black)
	return p, err
}

// less is the picture less another side, that without film if none is named.
func (s *Sessions) less(ctx context.Context, v View, p *Shown) (*Shown, error) {
	o := v
	o.Side, o.Show = v.Against, Plainly
	if o.Side.Of == AsItIs {
		o.Side.Of = WithoutFilm
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
}

func (s *Sessions) falseColour(ctx context.Context, _ View, p *Shown) (*Shown, error) {
	light, _, err := s.at(ctx, p.scene, p.scene.look, look.Lens)
	if err != nil {
		return nil, err
	}
	limits, err := responseLimits(ctx, p.scene.look)
	if err != nil {
		return nil, err
	}
	p.Bands = scope.Bands(limits)
	p.Frame = scope.FalseColour(light, lightWeights, p.Bands)
	p.Note = "false colour: scene light in stops from mid grey"
	return p, nil
}

// clipped marks what is black or white on the display.
func (s *Sessions) clipped(_ context.Context, _ View, p *Shown) (*Shown, error) {
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

// exhausted marks what has run out of the negative's curve.
func (s *Sessions) exhausted(ctx context.Context, _ View, p *Shown) (*Shown, error) {
	c := p.scene
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
