package studio

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scope"
	"velours/core/steps"
)

// readWidth is how wide the picture is on which steps are tried, and slight the change of code values
// that nobody sees.
const readWidth, slight = 320, 0.001

// brightFrom is the scene light, in stops over mid grey, from which on things are brighter than a white
// wall: 0.9 of the light that falls on them.
const brightFrom = 2.3

// NoEffect tells, for every step of a look that is on and changes nothing in this frame, why.
func (s *Sessions) NoEffect(ctx context.Context, v View) (map[string]string, error) {
	v.W, v.H, v.CropW, v.CropH, v.Draft, v.Side = readWidth, readWidth, 0, 0, true, Side{}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	why := map[string]string{}
	with, _, err := s.at(ctx, c, c.look, look.Finish)
	if err != nil {
		return nil, err
	}
	var problem error
	c.look.Steps(func(k *look.Kind, p *look.Step) {
		if problem != nil {
			return
		}
		name := string(k.Station) + "." + p.Name()
		if reason := c.look.NoEffect(k, p); reason != "" {
			why[name] = reason
			return
		}
		if (k.Wants != "" || k.Scatters) && c.look.Acts(k, p) {
			var reason string
			if reason, problem = s.wanting(ctx, c, k, p, with); reason != "" {
				why[name] = reason
			}
		}
	})
	return why, problem
}

// wanting tells what a step lacks in a frame whose picture with it is given; empty if it has it.
func (s *Sessions) wanting(ctx context.Context, c *scene, k *look.Kind, p *look.Step, with *frame.Frame) (string, error) {
	if k.Scatters {
		if why, err := s.unfed(ctx, c, k, p); why != "" || err != nil {
			return why, err
		}
		if k.Wants == "" || k.Range != nil && !k.TakesAll(c.look.Values(k, p)) {
			return "", nil
		}
	}
	if k.Wants == "noise" {
		m, err := steps.NoiseOf(ctx, c.src, c.shot.Frames)
		if m == nil && err == nil {
			return "Nothing to act on: the noise of this shot cannot be told, because too little of it is flat, unclipped and at rest.", nil
		}
		return "", err
	}
	if k.Wants == "tones" {
		return quietTones(with), nil
	}
	if k.Wants == "bright" || k.Wants == "light" {
		light, _, err := s.at(ctx, c, c.look.Upto(k.Station, p.Name()), look.Balance)
		if err != nil {
			return "", err
		}
		r := scope.Read(scope.Picture{Frame: light})
		most := math.Log2(max(r.High[0], r.High[1], r.High[2], 1e-6) / 0.18)
		if k.Wants == "light" {
			if v, ok := p.Settings["knee"].(float64); ok && k.Station == look.Balance && most < v {
				return fmt.Sprintf("Nothing to act on: nothing in this frame is brighter than %+.1f stops from mid grey, and the knee is at %+.1f.", most, v), nil
			}
			return "", nil
		}
		if most < brightFrom {
			return fmt.Sprintf("Little to act on: nothing in this frame is brighter than %+.1f stops from mid grey, and a glow needs lamps, glints or sky.", most), nil
		}
		return "", nil
	}
	without, _, err := s.at(ctx, c, c.look.Without(k.Station, p.Name()), look.Finish)
	if err != nil {
		return "", err
	}
	if scope.Change(with, without) < slight {
		return fmt.Sprintf("Nothing to act on: no colour of this frame is nearer the edge than %.0f %%.", 100*reached(ctx, s, c)), nil
	}
	return "", nil
}

// grainFrom and grainTo are the codes between which grain is seen: below, a print's black takes it, and above its white. grainShare is how much of
// a frame must lie between them.
const grainFrom, grainTo, grainShare = 0.12, 0.82, 0.1

// quietTones tells that nearly all of a finished picture is too dark or too bright for grain to be seen, empty if it is not.
func quietTones(f *frame.Frame) string {
	dark, bright, all := 0, 0, f.W*f.H
	for y := range f.H {
		for _, v := range f.Row(1, y) {
			if v < grainFrom {
				dark++
			}
			if v > grainTo {
				bright++
			}
		}
	}
	if float64(all-dark-bright) >= grainShare*float64(all) {
		return ""
	}
	where := "dark: a print’s black takes it"
	if bright > dark {
		where = "bright: a print’s white takes it"
	}
	return "Hardly seen in this frame: nearly all of it is too " + where + "."
}

// reached is how far the most distant colour of a scene lies towards the edge of the working gamut, as a
// share of the way from its grey.
func reached(ctx context.Context, s *Sessions, c *scene) float64 {
	f, _, err := s.at(ctx, c, c.look.Without(look.Intake, "compress"), look.Intake)
	if err != nil {
		return colour.NearCompressed
	}
	far := 0.0
	for y := range f.H {
		for x := range f.W {
			p := f.At(x, y)
			if top := max(p[0], p[1], p[2]); top > 0.002 {
				far = max(far, 1-min(p[0], p[1], p[2])/top)
			}
		}
	}
	return far
}

// unfed tells why nothing feeds a step that spreads light; empty if something does.
func (s *Sessions) unfed(ctx context.Context, c *scene, k *look.Kind, p *look.Step) (string, error) {
	chosen := p.Matte != nil && p.Source
	ranged := k.Range != nil && !k.TakesAll(c.look.Values(k, p))
	if !chosen && !ranged || k.Range != nil && k.Range.Besides != "" && c.look.Values(k, p).Number(k.Range.Besides) != k.Setting(k.Range.Besides).Default {
		return "", nil
	}
	raster, _ := c.view.window(c.shot.Width, c.shot.Height)
	plan, err := render.CompileExposure(ctx, c.look.FedAlone(k.Station, p.Name()), c.encoding, raster)
	if err != nil {
		return "", err
	}
	fed, err := s.rendered(ctx, plan, c.src, c.view.Frame, c.view.Frame)
	if err != nil {
		return "", wrapInput(err)
	}
	if r := scope.Read(scope.Picture{Frame: fed}); max(r.High[0], r.High[1], r.High[2]) > fedFrom {
		return "", nil
	}
	light, err := s.entering(ctx, c, look.StepPath{Station: k.Station, Name: p.Name()})
	if err != nil {
		return "", err
	}
	r := scope.Read(scope.Picture{Frame: light})
	most := math.Log2(max(r.High[0], r.High[1], r.High[2], 1e-6) / 0.18)
	if !ranged {
		return "Nothing feeds it: its matte on the source covers nothing here. Move the matte to where light is, or let it act on the result.", nil
	}
	low := k.Setting(k.Range.Low)
	if from := c.look.Values(k, p).Number(low.ID); most < from {
		return fmt.Sprintf("Nothing feeds it: nothing in this frame is brighter than %+.1f stops from mid grey, and it takes light from %+.1f on. Bring %s down to %+.1f.", most, from, low.Label, most-1), nil
	}
	return "Nothing feeds it: no light of this frame lies in its range. Widen it, or its knee.", nil
}

// fedFrom is the light from which on something feeds a step, as light of which mid grey has 0.18.
const fedFrom = 1e-5
