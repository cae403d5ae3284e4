package studio

import (
	"context"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
	"velours/core/steps"
)

// covered shows the matte of a step as a picture: white where it is covered.
func (s *Sessions) covered(ctx context.Context, c *scene, step look.StepPath) (*frame.Frame, error) {
	light, err := s.entering(ctx, c, step)
	if err != nil {
		return nil, err
	}
	raster, region := c.view.window(c.shot.Width, c.shot.Height)
	one, err := render.Cover(ctx, c.look, step.Station, step.Name, light, c.view.Frame)
	if err != nil {
		return nil, err
	}
	out := frame.New(raster.W, raster.H, 3)
	for y := range out.H {
		for p := range 3 {
			copy(out.Row(p, y), one.Row(0, y))
		}
	}
	if region.W > 0 {
		out = out.Crop(region.X, region.Y, region.W, region.H)
	}
	return out, nil
}

// entering is the light that enters a step, in scene-linear terms, of the whole picture.
func (s *Sessions) entering(ctx context.Context, c *scene, step look.StepPath) (*frame.Frame, error) {
	if _, err := look.KindOf(step.Station, step.Name); err != nil {
		return nil, Bad("there is no step %q", step)
	}
	compile := render.Compile
	if c.view.Draft {
		compile = render.CompileDraft
	}
	raster, _ := c.view.window(c.shot.Width, c.shot.Height)
	st := step.Station
	if st == look.Negative { // its mattes go by the light before it
		st = look.Lens
	}
	plan, err := compile(ctx, c.look.Upto(step.Station, step.Name), c.encoding, raster, st)
	if err != nil {
		return nil, err
	}
	f, err := s.rendered(ctx, plan, c.src, c.view.Frame, c.view.Frame)
	if err != nil {
		return nil, wrapInput(err)
	}
	return plan.SceneTerms(ctx, f, st)
}

// zoneCodes are the greys in which the zones are shown.
var zoneCodes = [5]float64{0.03, 0.2, 0.42, 0.68, 0.97}

// zoned shows every pixel in the greys of the zones it belongs to.
func (s *Sessions) zoned(ctx context.Context, c *scene, step look.StepPath) (*frame.Frame, error) {
	z, err := steps.ZonesOf(c.look, step.Station, step.Name)
	if err != nil {
		return nil, BadInput{err}
	}
	light, err := s.entering(ctx, c, step)
	if err != nil {
		return nil, err
	}
	_, region := c.view.window(c.shot.Width, c.shot.Height)
	if region.W > 0 {
		light = light.Crop(region.X, region.Y, region.W, region.H)
	}
	return frame.Each(ctx, light, func(v [3]float64) [3]float64 {
		code := 0.0
		for i, w := range z.Weights(grade.Stops(grade.Luma[0]*v[0] + grade.Luma[1]*v[1] + grade.Luma[2]*v[2])) {
			code += w * zoneCodes[i]
		}
		return [3]float64{code, code, code}
	})
}
