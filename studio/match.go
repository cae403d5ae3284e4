package studio

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/register"
	"velours/core/render"
	"velours/core/scope"
	"velours/library"
)

// MatchTo asks for a shot to be brought to a reference.
type MatchTo struct {
	// Side is the reference: a pin or a still, or another shot where it was last looked at.
	Side  Side `json:"side"`
	Frame int  `json:"frame"`
	// Box and Theirs, if set, are the parts that are compared.
	Box    *scope.Box `json:"box,omitempty"`
	Theirs *scope.Box `json:"theirs,omitempty"`
}

// Met is what became of a shot that was brought to a reference.
type Met struct {
	Shot *library.Shot
	// Same tells that both show the same things, which were compared place by place. Of others only tones and colours as a
	// whole were.
	Same bool
	// Was and Is are how far the pictures were apart and are then, in ΔE.
	Was, Is float64
	// Says is that in a sentence.
	Says string
}

// matchWidth is how wide pictures are that are compared.
const matchWidth = 240

// Match brings a shot to a reference by exposure, white balance and contrast, as ordinary steps of its own balance and one act. What its
// look does after that stays, and is taken into account.
func (s *Sessions) Match(ctx context.Context, id uint, q MatchTo, by library.Author) (*Met, error) {
	if q.Side.Of != APin && q.Side.Of != AnotherShot {
		return nil, Bad("a shot is brought to a pin, a still or another shot, not to %q", q.Side)
	}
	if q.Side.Of == AnotherShot && q.Side.ID == id {
		return nil, Bad("a shot cannot be brought to itself; choose another")
	}
	v := View{Shot: id, Frame: q.Frame, W: matchWidth, H: matchWidth, Side: q.Side}
	theirs, err := s.Show(ctx, v)
	if err != nil {
		return nil, err
	}
	v.Side = Side{}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	if c.encoding == nil {
		return nil, Bad("%s does not say how it was encoded; declare it in Intake first", c.shot.Name)
	}
	raster, _ := v.window(c.shot.Width, c.shot.Height)
	render := func(l *look.Look) (*frame.Frame, *colour.Display, error) {
		whole := c.levels.With(look.OfShot, l).Whole()
		whole.Tabular = true // places are compared, not what spreads between them
		f, plan, err := s.quick(ctx, c, whole, raster)
		if err != nil {
			return nil, nil, err
		}
		return f, plan.Display, nil
	}
	found, same, err := matched(ctx, c.levels.Shot, theirs, q, render)
	if err != nil {
		return nil, err
	}
	out := &Met{Same: same, Was: found.Was, Is: found.Is}
	out.Says = found.sentence(same)
	if found.Balance == (measure.Balance{}) {
		out.Shot = c.shot
		return out, nil
	}
	out.Shot, err = s.change(id, by, func(_ *library.Document, l *look.Look) (*look.Look, string, error) {
		after, err := balanced(l, found.Balance)
		return after, "Match", err
	})
	return out, err
}

// quick is at, coarse and on a raster of its own.
func (s *Sessions) quick(ctx context.Context, c *scene, l *look.Look, r render.Raster) (*frame.Frame, *render.Plan, error) {
	plan, err := render.CompileDraft(ctx, l, c.encoding, r, look.Finish)
	if err != nil {
		return nil, nil, err
	}
	f, err := s.rendered(ctx, plan, c.src, c.view.Frame, c.view.number())
	return f, plan, wrapInput(err)
}

// found is a match in words.
type found struct{ measure.Matched }

func (m *found) sentence(same bool) string {
	if m.Balance == (measure.Balance{}) {
		return fmt.Sprintf("Nothing brings it nearer: ΔE %.1f apart.", m.Was)
	}
	b := m.Balance
	says := ""
	add := func(v float64, format string) {
		if v != 0 {
			says += fmt.Sprintf(format, v)
		}
	}
	add(b.Stops, ", exposure %+.2f stops")
	add(b.Mired, ", temperature %+.0f mired")
	add(b.Tint, ", tint %+.1f mDuv")
	add(b.Contrast, ", contrast %+.0f %%")
	text := fmt.Sprintf("ΔE %.1f to %.1f%s.", m.Was, m.Is, says)
	if !same {
		text += " Another scene: its tones and its colours as a whole were compared; look at skin and greys."
	}
	return text
}

// matched finds the balance that brings a look's picture to another.
func matched(ctx context.Context, l *look.Look, theirs *Shown, q MatchTo, render func(*look.Look) (*frame.Frame, *colour.Display, error)) (*found, bool, error) {
	mine, _, err := render(l)
	if err != nil {
		return nil, false, err
	}
	a, b := cut(mine, q.Box), cut(theirs.Frame, q.Theirs)
	labs := func(f *frame.Frame, d *colour.Display, w, h int) ([][3]float64, error) {
		lit, err := frame.Each(ctx, f, d.Light)
		if err != nil {
			return nil, err
		}
		small, err := frame.Scale(ctx, lit, w, h)
		if err != nil {
			return nil, err
		}
		lab, out := labOn(d), make([][3]float64, 0, w*h)
		for y := range small.H {
			for x := range small.W {
				out = append(out, lab(small.At(x, y)))
			}
		}
		return out, nil
	}
	const across = 80
	h := max(1, int(math.Round(across*float64(a.H)/float64(a.W))))
	shown := func(by measure.Balance) ([][3]float64, error) {
		next, err := balanced(l, by)
		if err != nil {
			return nil, err
		}
		f, d, err := render(next)
		if err != nil {
			return nil, err
		}
		return labs(cut(f, q.Box), d, across, h)
	}
	if q.Box == nil && q.Theirs == nil {
		if m, err := register.Find(a, b); err == nil {
			fit, err := measure.Match(placed(m, b, theirs.Display, a, across, h), true, shown)
			if err != nil {
				return nil, false, err
			}
			if fit.Is <= alike { // else they only seemed to show the same
				return &found{*fit}, true, nil
			}
		}
	}
	ref, err := labs(b, theirs.Display, across, max(1, int(math.Round(across*float64(b.H)/float64(b.W)))))
	if err != nil {
		return nil, false, err
	}
	fit, err := measure.Match(resampled(ref, across*h), false, shown) // as many of each, by their shares
	if err != nil {
		return nil, false, err
	}
	return &found{*fit}, false, nil
}

// alike is how far places of one scene may be apart once they are matched, in ΔE.
const alike = 6

// placed are the colours of b at the places of a that a registration gives, no number outside.
func placed(m *register.Match, b *frame.Frame, d *colour.Display, a *frame.Frame, w, h int) [][3]float64 {
	lab := labOn(d)
	out := make([][3]float64, 0, w*h)
	half := float64(a.W) / 2
	for y := range h {
		for x := range w {
			var sum [3]float64
			n := 0.0
			const k = 3
			for j := range k {
				for i := range k {
					u, v := (float64(x)+(float64(i)+0.5)/k)*float64(a.W)/float64(w), (float64(y)+(float64(j)+0.5)/k)*float64(a.H)/float64(h)
					p := m.At(register.Point{X: (u - half) / half, Y: (v - float64(a.H)/2) / half})
					bx, by := int(p.X*float64(b.W)/2+float64(b.W)/2), int(p.Y*float64(b.W)/2+float64(b.H)/2)
					if bx < 0 || by < 0 || bx >= b.W || by >= b.H {
						continue
					}
					for c, v := range d.Light(b.At(bx, by)) {
						sum[c] += v
					}
					n++
				}
			}
			if n < 5 {
				out = append(out, [3]float64{math.NaN(), math.NaN(), math.NaN()})
				continue
			}
			for c := range sum {
				sum[c] /= n
			}
			out = append(out, lab(sum))
		}
	}
	return out
}

// resampled are n of a list, evenly.
func resampled(list [][3]float64, n int) [][3]float64 {
	out := make([][3]float64, n)
	for i := range out {
		out[i] = list[i*len(list)/n]
	}
	return out
}

// cut is the part of a picture in a box.
func cut(f *frame.Frame, b *scope.Box) *frame.Frame {
	if b == nil {
		return f
	}
	within := func(v, most float64) float64 { return math.Max(0, math.Min(v, most)) }
	x, y := int(within(b.X0, 0.98)*float64(f.W)), int(within(b.Y0, 0.98)*float64(f.H))
	w, h := int(within(b.X1-b.X0, 1)*float64(f.W)), int(within(b.Y1-b.Y0, 1)*float64(f.H))
	return f.Crop(x, y, max(1, min(w, f.W-x)), max(1, min(h, f.H-y)))
}

// balanced adds a balance to a look, in the steps of its own that are there for the whole picture, or in new ones.
func balanced(l *look.Look, by measure.Balance) (*look.Look, error) {
	c := l.Clone()
	for _, part := range []struct {
		kind   string
		change map[string]float64
	}{{"exposure", map[string]float64{"stops": by.Stops}}, {"white", map[string]float64{"temperature": by.Mired, "tint": by.Tint}}, {"contrast", map[string]float64{"amount": by.Contrast}}} {
		any := false
		for _, v := range part.change {
			any = any || v != 0
		}
		if !any {
			continue
		}
		p, err := plainStep(c, part.kind)
		if err != nil {
			return nil, err
		}
		k, err := look.FindKind(look.Balance, part.kind)
		if err != nil {
			return nil, err
		}
		now := c.Values(k, p)
		for id, v := range part.change {
			set := k.Setting(id)
			p.Settings[id] = math.Round(100*math.Max(set.Min, math.Min(set.Max, now.Number(id)+v))) / 100
		}
	}
	return c, c.Check()
}

// plainStep is the first step of a kind in balance that acts whole and everywhere, made if there is none.
func plainStep(l *look.Look, kind string) (*look.Step, error) {
	for _, p := range l.Station(look.Balance).Steps {
		if p.Kind == kind && p.Matte == nil && p.Strength == 1 && len(p.Keys) == 0 {
			p.On = true
			return p, nil
		}
	}
	if l.Step(look.Balance, kind) == nil {
		return l.Ensure(look.Balance, kind)
	}
	return l.Add(look.Balance, kind, -1)
}
