package studio

import (
	"context"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/media"
)

// Scope measures one frame of the job, at its own size or that of the job.
func (j Job) Scope(ctx context.Context, q ScopeAsk) (*ScopeView, *Image, error) {
	src, err := media.Open(ctx, j.In)
	if err != nil {
		return nil, nil, wrapInput(err)
	}
	defer src.Close()
	if err := j.settle(src.Info); err != nil {
		return nil, nil, err
	}
	if j.First >= src.Info.Frames {
		return nil, nil, Bad("%s has frames 0 to %d, not %d", j.In, src.Info.Frames-1, j.First)
	}
	w, h := src.Info.Shape()
	if j.W > 0 {
		w, h = j.W, j.H
	}
	renderer := render.NewRenderer(sheetBudget)
	p := &Shown{SourceW: w, SourceH: h}
	p.at = func(ctx context.Context, tap look.Station) (*frame.Frame, error) {
		plan, err := render.Compile(ctx, j.Look, j.encoding, render.Raster{W: w, H: h}, tap)
		if err != nil {
			return nil, err
		}
		p.Display = plan.Display
		f, err := renderer.Render(ctx, plan, src, j.First)
		return f, wrapInput(err)
	}
	if p.Frame, err = p.at(ctx, look.Finish); err != nil {
		return nil, nil, err
	}
	return p.Scope(ctx, q)
}
