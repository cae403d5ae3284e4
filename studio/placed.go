package studio

import (
	"context"
	"fmt"
	"time"

	"velours/core/look"
	"velours/core/render"
)

// placed shows the picture with every cloud of its grain placed where its own density has them, the reference, where it is seen 1:1. It takes seconds,
// so a draft is the picture as usual.
func (s *Sessions) placed(ctx context.Context, v View, p *Shown) (*Shown, error) {
	p.altered = false
	switch {
	case v.CropW == 0 || v.CropH == 0:
		p.Note = "clouds are placed one by one at 1:1 only; this is the quick grain"
		return p, nil
	case v.Draft:
		p.Note = "placing clouds one by one …"
		return p, nil
	}
	c := p.scene
	raster, region := c.view.window(c.shot.Width, c.shot.Height)
	plan, err := render.CompilePlaced(ctx, c.look, c.encoding, raster, look.Finish)
	if err != nil {
		return nil, err
	}
	began := time.Now()
	if p.Frame, err = s.rendered(ctx, plan.In(region), c.src, c.view.Frame, c.view.number()); err != nil {
		return nil, wrapInput(err)
	}
	p.Note = "every cloud of grain placed, one by one"
	if took := time.Since(began); took > time.Second {
		p.Note += fmt.Sprintf(": %.0f s for what is seen", took.Seconds())
	}
	return p, nil
}
