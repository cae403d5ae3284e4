package studio

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// wedgeFrom and wedgeTo are the greys of a wedge that grain is judged on, in stops from mid grey, a stop apart.
const wedgeFrom, wedgeTo = -5, 5

// wedge shows greys in the picture's place, a step wedge above and mid grey beneath, through the film and all that comes after it: what grain is on them,
// alone. What corrects the scene, and what spreads its light, is left out.
func (s *Sessions) wedge(ctx context.Context, v View, p *Shown) (*Shown, error) {
	_, _, label, err := named(v, p)
	if err != nil {
		return nil, err
	}
	c := p.scene
	l := c.look.Without(look.Negative, "halation")
	for _, st := range []look.Station{look.Intake, look.Balance, look.Lens} {
		l = l.WithoutStation(st)
	}
	raster, region := c.view.window(c.shot.Width, c.shot.Height)
	compile := render.Compile
	if c.view.Draft {
		compile = render.CompileDraft
	}
	plan, err := compile(ctx, l, colour.Working(), raster, look.Finish)
	if err != nil {
		return nil, err
	}
	if p.Frame, err = s.rendered(ctx, plan.In(region), newWedge(raster, region), c.view.Frame, c.view.number()); err != nil {
		return nil, err
	}
	p.Note = fmt.Sprintf("%s on greys from −%d to +%d stops, mid grey beneath", label, -wedgeFrom, wedgeTo)
	return p, nil
}

// wedgeSource is a wedge of scene light on a raster, over the part that is seen: upright bars on its upper half, mid grey on the lower.
type wedgeSource struct {
	render.Raster
	seen render.Region
}

func newWedge(r render.Raster, seen render.Region) wedgeSource {
	if seen.W == 0 {
		seen = render.Region{W: r.W, H: r.H}
	}
	return wedgeSource{r, seen}
}

// Key tells wedges by where they lie.
func (s wedgeSource) Key() string { return fmt.Sprint("wedge ", s.Raster, s.seen) }

// Frame is the wedge.
func (s wedgeSource) Frame(context.Context, int) (*frame.Frame, error) {
	f := frame.Get(s.W, s.H, 3)
	const bars = wedgeTo - wedgeFrom + 1
	for p := range 3 {
		for y := range s.H {
			row := f.Row(p, y)
			for x := range row {
				row[x] = 0.18
				if y < s.seen.Y+s.seen.H/2 {
					bar := min(max((x-s.seen.X)*bars/s.seen.W, 0), bars-1)
					row[x] = float32(0.18 * math.Exp2(float64(wedgeFrom+bar)))
				}
			}
		}
	}
	return f, nil
}
