package studio

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/path"
	"velours/core/scope"
)

// restWidth is how wide the picture is on which steps are tried, and slight the change of code values
// that nobody sees.
const restWidth, slight = 320, 0.001

// brightFrom is the scene light, in stops over mid grey, from which on things are brighter than a white
// wall: 0.9 of the light that falls on them.
const brightFrom = 2.3

// Rests tells, for every step of a look that is on and changes nothing in this frame, why.
func (s *Studio) Rests(ctx context.Context, v View) (map[string]string, error) {
	v.W, v.H, v.CropW, v.CropH, v.Draft, v.Side = restWidth, restWidth, 0, 0, true, ""
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	why := map[string]string{}
	with, _, err := s.at(ctx, c, c.look, path.Finish)
	if err != nil {
		return nil, err
	}
	for _, k := range path.Kinds() {
		if reason := c.look.Rests(k); reason != "" {
			why[k.Path()] = reason
			continue
		}
		if k.Wants == "" || !c.look.Acts(k) {
			continue
		}
		if k.Wants == "bright" {
			light, _, err := s.at(ctx, c, c.look, path.Balance)
			if err != nil {
				return nil, err
			}
			r := scope.Read(scope.Picture{Frame: light})
			most := math.Log2(max(r.High[0], r.High[1], r.High[2], 1e-6) / 0.18)
			if most < brightFrom {
				why[k.Path()] = fmt.Sprintf("Little to act on: nothing in this frame is brighter than %+.1f stops from mid grey, and a glow needs lamps, glints or sky.", most)
			}
			continue
		}
		without, _, err := s.at(ctx, c, c.look.Without(k.Station, k.ID), path.Finish)
		if err != nil {
			return nil, err
		}
		if scope.Change(with, without) < slight {
			why[k.Path()] = fmt.Sprintf("Nothing to act on: no colour of this frame is nearer the edge than %.0f %%.", 100*reached(ctx, s, c))
		}
	}
	return why, nil
}

// reached is how far the most distant colour of a scene lies towards the edge of the working gamut, as a
// share of the way from its grey.
func reached(ctx context.Context, s *Studio, c *scene) float64 {
	f, _, err := s.at(ctx, c, c.look.Without(path.Intake, "compress"), path.Intake)
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
