package scatter

import (
	"context"
	"fmt"
	"slices"

	"velours/core/frame"
	"velours/core/vec"
)

// Lens is what spreads light before the film: nets, then filters one after the other, all served by one pyramid. Aspect times
// as long as high is a glow that is stretched along the direction Turn, in degrees.
type Lens struct {
	Filters []Filter
	Nets    []Net
	// Aspect is 1 for a round glow.
	Aspect, Turn float64
	// Apart is the deviation, as a fraction of the width, from which on a glow is far; Balance, −1 to 1, moves light from its
	// far part to the near one (below 0) or the other way.
	Apart, Balance float64
}

// Key tells lenses apart.
func (l *Lens) Key() string { return fmt.Sprint("lens", *l) }

func (l *Lens) shape() shape { return shape{l.Aspect, l.Turn, true} }

// Uniform tells that all channels are treated alike.
func (l *Lens) Uniform() bool {
	return len(l.Nets) == 0 && same(l.Filters, 0, 1) && same(l.Filters, 0, 2)
}

// Straight is the share of light of each channel that goes straight on.
func (l *Lens) Straight() [3]float64 {
	out := fit(l.Filters).direct
	for _, n := range l.Nets {
		a := n.open()
		for i := range out {
			out[i] *= a * a
		}
	}
	return out
}

// Taken is the share of light that does not go straight on.
func (l *Lens) Taken() [3]float64 {
	out := l.Straight()
	for i := range out {
		out[i] = 1 - out[i]
	}
	return out
}

// Transfer is what is left, along a net's axis, of a contrast of so many cycles across the width.
func (l *Lens) Transfer(cycles float64) [3]float64 {
	out := [3]float64{1, 1, 1}
	for _, f := range l.Filters {
		for i, t := range f.Transfer(cycles) {
			out[i] *= t
		}
	}
	for _, n := range l.Nets {
		for i, t := range n.Transfer(cycles) {
			out[i] *= t
		}
	}
	return out
}

// balanced are the filters' terms in pixels, after Balance.
func (l *Lens) balanced(width int) []Term {
	terms := fit(l.Filters).pixels(width)
	if l.Balance == 0 {
		return terms
	}
	var was, is [3]float64
	for i := range terms {
		k := 1 + l.Balance
		if !l.far(terms[i], width) {
			k = 1 - l.Balance
		}
		for c := range terms[i].Weight {
			was[c] += terms[i].Weight[c]
			terms[i].Weight[c] *= k
			is[c] += terms[i].Weight[c]
		}
	}
	for i := range terms {
		for c := range terms[i].Weight {
			if is[c] > 0 {
				terms[i].Weight[c] *= was[c] / is[c]
			}
		}
	}
	return terms
}

func (l *Lens) far(t Term, width int) bool { return t.Sigma > l.Apart*float64(width) }

// Scattered is where the light that is taken arrives.
func (l *Lens) Scattered(ctx context.Context, light *frame.Frame, apart bool) (near, far *frame.Frame, err error) {
	on, err := l.netted(ctx, light)
	if err != nil {
		return nil, nil, err
	}
	if on != light {
		defer on.Release()
	}
	var parts [2][]Term
	for _, t := range l.balanced(light.W) {
		i := 0
		if apart && l.far(t, light.W) {
			i = 1
		}
		parts[i] = append(parts[i], t)
	}
	one := [3]float32{1, 1, 1}
	if near, err = blurTerms(ctx, on, parts[0], l.shape(), [3]float32{}, one); err != nil {
		return nil, nil, err
	}
	if on != light { // the arms of what meets no scatterer
		direct, straight := fit(l.Filters).direct, l.Straight()
		if err := frame.Bands(ctx, light.H, band(light.W), func(y0, y1 int) {
			for p := range 3 {
				for y := y0; y < y1; y++ {
					d := near.Row(p, y)
					vec.Mix(d, d, on.Row(p, y), 1, float32(direct[p]))
					vec.Mix(d, d, light.Row(p, y), 1, -float32(straight[p]))
				}
			}
		}); err != nil {
			return nil, nil, err
		}
	}
	if apart {
		far, err = blurTerms(ctx, on, parts[1], l.shape(), [3]float32{}, one)
	}
	return near, far, err
}

// netted is light behind the nets.
func (l *Lens) netted(ctx context.Context, light *frame.Frame) (*frame.Frame, error) {
	on := light
	for _, n := range l.Nets {
		next, err := n.through(ctx, on)
		if on != light {
			on.Release()
		}
		if err != nil {
			return nil, err
		}
		on = next
	}
	return withRest(on, light), nil
}

// withRest gives a picture of three planes those that another has beyond the third.
func withRest(f, src *frame.Frame) *frame.Frame {
	if f == src || src.Planes <= 3 {
		return f
	}
	defer f.Release()
	out := frame.Get(src.W, src.H, src.Planes)
	for p := range src.Planes {
		from := f
		if p > 2 {
			from = src
		}
		for y := range src.H {
			copy(out.Row(p, y), from.Row(p, y))
		}
	}
	return out
}

// Run is what a picture becomes behind the lens, gain times as bright.
func (l *Lens) Run(ctx context.Context, src *frame.Frame, gain float64) (*frame.Frame, error) {
	on, err := l.netted(ctx, src)
	if err != nil {
		return nil, err
	}
	if on != src {
		defer on.Release()
	}
	a, b := l.factors(gain)
	return blurTerms(ctx, on, l.balanced(src.W), l.shape(), a, b)
}

// Start is Run up to its last step, for one who wants the rows; nil where the full picture is needed.
func (l *Lens) Start(ctx context.Context, src *frame.Frame, gain float64) (*Spread, error) {
	terms := l.balanced(src.W)
	if needsFull(terms, l.shape(), src) {
		return nil, nil
	}
	on, err := l.netted(ctx, src)
	if err != nil {
		return nil, err
	}
	a, b := l.factors(gain)
	s, err := wideSpread(ctx, on, terms, l.shape(), a, b)
	if s != nil {
		s.own = on != src
	}
	return s, err
}

// StartOn is Start over a picture that is not put together yet, whose base it takes over; nil where that cannot be.
func (l *Lens) StartOn(ctx context.Context, s *Spread, gain float64) (*Spread, error) {
	if len(l.Nets) > 0 {
		return nil, nil
	}
	a, b := l.factors(gain)
	return s.then(ctx, l.balanced(s.base.W), l.shape(), a, b)
}

// factors are those of the light that goes straight on and of the light that is spread.
func (l *Lens) factors(gain float64) (a, b [3]float32) {
	for i, d := range fit(l.Filters).direct {
		a[i], b[i] = float32(d*gain), float32(gain)
	}
	return a, b
}

// Then is what two lenses do one after the other, nil if they cannot be one: where a glow is stretched or out of balance.
func (l *Lens) Then(next *Lens) *Lens {
	for _, x := range [2]*Lens{l, next} {
		if x.Aspect != 1 || x.Balance != 0 {
			return nil
		}
	}
	return &Lens{Aspect: 1, Filters: slices.Concat(l.Filters, next.Filters), Nets: slices.Concat(l.Nets, next.Nets)}
}
