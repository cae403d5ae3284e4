package studio

import (
	"context"
	"math"

	"velours/core/look"
	"velours/core/render"
	"velours/media"
)

// ContactSheet renders one frame of a job under every value of one or two brackets, side by side with their
// labels, into one still. W, the width of one picture, is sheetWidth if it is 0.
func (j Job) ContactSheet(ctx context.Context, brackets []*look.Bracket) error {
	if len(brackets) == 0 || len(brackets) > 2 {
		return Bad("a sheet is of one bracket, or of two crossed, not of %d", len(brackets))
	}
	src, err := media.Open(ctx, j.In)
	if err != nil {
		return wrapInput(err)
	}
	defer src.Close()
	if err := j.settle(src.Info); err != nil {
		return err
	}
	if j.First >= src.Info.Frames {
		return Bad("%s has frames 0 to %d, not %d", j.In, src.Info.Frames-1, j.First)
	}
	variants, err := look.Variants(j.Look, brackets...)
	if err != nil {
		return BadInput{err}
	}
	w, h := j.W, j.H
	if w == 0 {
		sw, sh := src.Info.Shape()
		w = min(sw, sheetWidth)
		h = max(1, int(math.Round(float64(sh)*float64(w)/float64(sw))))
	}
	columns := len(brackets[len(brackets)-1].Values)
	if len(brackets) == 1 {
		columns = int(math.Ceil(math.Sqrt(float64(len(variants)))))
	}
	rows := (len(variants) + columns - 1) / columns
	sheet, err := newSheet(columns, rows, w, h, "")
	if err != nil {
		return err
	}
	renderer := render.NewRenderer(sheetBudget)
	var opt media.Options
	for i, v := range variants {
		plan, err := render.Compile(ctx, v.Look, j.encoding, render.Raster{W: w, H: h}, look.Finish)
		if err != nil {
			return err
		}
		opt = j.options(src.Info, plan.Display)
		f, err := renderer.Render(ctx, plan, src, j.First)
		if err != nil {
			return wrapInput(err)
		}
		sheet.put(i%columns, i/columns, f, v.Label)
	}
	out, err := media.Create(j.Out, 0, opt)
	if err != nil {
		return wrapInput(err)
	}
	err = out.Write(ctx, sheet.Frame)
	if err == nil {
		err = out.Close()
	}
	if err != nil {
		out.Abort()
	}
	return err
}
