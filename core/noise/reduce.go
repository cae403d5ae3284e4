package noise

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// Reduction says how much noise is taken out of frames, and where. Shares are 1 for what was measured.
type Reduction struct {
	// Bright and Colour are how much of the noise is taken out of what the channels share and of what they do not: 0 none, 1 as measured,
	// 2 as if it were twice as strong.
	Bright, Colour float64
	// Frames is how many frames before and after one are looked at, 0 to MostFrames; Over is how much is taken out over frames and Within how
	// much within one, 0 to 1.
	Frames       int
	Over, Within float64
	// Texture is how much is left in where the picture has texture, 0 to 1: what hides noise is hurt by its loss.
	Texture float64
	// Larger is how many times as large as measured its spots are.
	Larger float64
}

// MostFrames is how many frames before and after one can be looked at.
const MostFrames = 3

// Frames gives frames that come so many after another, or before it below 0; nil where there is none.
type Frames func(after int) (*frame.Frame, error)

// Row gives the frames about one of some in a row.
func Row(frames []*frame.Frame, at int) Frames {
	return func(after int) (*frame.Frame, error) {
		if k := at + after; k >= 0 && k < len(frames) {
			return frames[k], nil
		}
		return nil, nil
	}
}

// Reduce takes noise out of a frame of code values, by what was measured of its shot. Planes beyond three stay as they are. Others of its size are
// asked for one by one, and not kept.
func (m *Measured) Reduce(ctx context.Context, r Reduction, src *frame.Frame, others Frames) (*frame.Frame, error) {
	if (others == nil || r.Over == 0 || r.Frames == 0) && src.H > 2*stripRows {
		return m.inStrips(ctx, r, src, stripRows)
	}
	s := newSteady(m)
	own := frame.Get(src.W, src.H, 3)
	defer own.Release()
	if err := frame.Bands(ctx, src.H, 32, func(y0, y1 int) { s.apartFrame(src, y0, y1, own) }); err != nil {
		return nil, err
	}
	mean, shares := own, (*frame.Frame)(nil)
	if r.Over > 0 && r.Frames > 0 && others != nil {
		var err error
		if mean, shares, err = averaged(ctx, own, s, &m.Apart, r.Frames, r.Over, others); err != nil {
			return nil, err
		}
		defer mean.Release()
		defer shares.Release()
	}
	clean := frame.Get(src.W, src.H, 3)
	defer clean.Release()
	n := &spread{}
	for p, much := range [3]float64{r.Bright, r.Colour, r.Colour} {
		n.lags[p], n.factor[p] = m.Apart[p].larger(r.Larger), float32(max(much, 1)*max(much, 1))
	}
	if r.Within > 0 {
		if err := shrink(ctx, clean, mean, shares, n, 0); err != nil {
			return nil, err
		}
	}
	if err := frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for p := range 3 {
			for y := y0; y < y1; y++ {
				if r.Within == 0 {
					copy(clean.Row(p, y), mean.Row(p, y))
				} else if r.Within < 1 {
					vec.Mix(clean.Row(p, y), clean.Row(p, y), mean.Row(p, y), float32(r.Within), float32(1-r.Within))
				}
			}
		}
	}); err != nil {
		return nil, err
	}
	if r.Texture > 0 {
		if err := keepTexture(ctx, clean, own, r.Texture); err != nil {
			return nil, err
		}
	}
	out := frame.Get(src.W, src.H, src.Planes) // what the first round was made in, most likely
	err := frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for p := range src.Planes {
			for y := y0; y < y1; y++ {
				copy(out.Row(p, y), src.Row(p, y))
			}
		}
		s.changed(out, own, clean, r, y0, y1)
	})
	return out, err
}

// stripRows is how many rows of a large frame noise is taken out of at once, where no other is looked at, and stripMargin how far beside them
// rows are looked at: both keep squares of all sizes where they would lie.
const stripRows, stripMargin = 1024, 128

// inStrips takes noise out of a frame by itself, so many rows at once, so that a large still needs little more memory than its own.
func (m *Measured) inStrips(ctx context.Context, r Reduction, src *frame.Frame, rows int) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, src.Planes)
	r.Frames = 0
	for y0 := 0; y0 < src.H; y0 += rows {
		y1, top := min(y0+rows, src.H), max(y0-stripMargin, 0)
		strip := src.Crop(0, top, src.W, min(y1+stripMargin, src.H)-top)
		clean, err := m.Reduce(ctx, r, strip, nil)
		if err != nil {
			return nil, err
		}
		for p := range src.Planes {
			for y := y0; y < y1; y++ {
				copy(out.Row(p, y), clean.Row(p, y-top))
			}
		}
		clean.Release()
	}
	return out, nil
}

// changed adds to rows of code values what a change on the steady scale is worth.
func (s *steady) changed(to, from, clean *frame.Frame, r Reduction, y0, y1 int) {
	var a, b [3][]float32
	for y := y0; y < y1; y++ {
		for p, much := range [3]float64{r.Bright, r.Colour, r.Colour} {
			a[p], b[p] = from.Row(p, y), clean.Row(p, y)
			k := float32(min(much, 1))
			vec.Mix(b[p], b[p], a[p], k, 1-k)
		}
		vec.Matrix(a[0], a[1], a[2], &togetherRows)
		vec.Matrix(b[0], b[1], b[2], &togetherRows)
		for c := range 3 {
			vec.ApplyCurve(a[c], a[c], s.back[c])
			vec.ApplyCurve(b[c], b[c], s.back[c])
			vec.Mix(b[c], b[c], a[c], 1, -1)
			vec.Mix(to.Row(c, y), to.Row(c, y), b[c], 1, 1)
		}
	}
}

// quickWidth is the width from which Quick works at half the size.
const quickWidth = 960

// Quick takes noise out of one frame alone, of half its size where it is large: for pictures that follow a drag.
func (m *Measured) Quick(ctx context.Context, r Reduction, f *frame.Frame) (*frame.Frame, error) {
	r.Frames = 0
	q := *m
	if f.W > quickWidth {
		small, err := half(ctx, f, f.Planes)
		if err != nil {
			return nil, err
		}
		defer small.Release()
		f = small
		for p := range q.Apart {
			q.Apart[p] = m.Apart[p].halved()
		}
	}
	return q.Reduce(ctx, r, f, nil)
}

// learnWidth and learnHeight bound what of a frame Learn looks at.
const learnWidth, learnHeight = 960, 540

// Learn is Measure for those who take noise out: of the middle of frames, one or some in a row.
func Learn(ctx context.Context, frames []*frame.Frame) (*Measured, error) {
	var parts []*frame.Frame
	for _, f := range frames {
		w, h := min(f.W, learnWidth), min(f.H, learnHeight)
		parts = append(parts, f.Crop((f.W-w)/2, (f.H-h)/2, w, h))
	}
	return Measure(ctx, parts, Options{}, nil)
}
