package path

import (
	"context"
	"fmt"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/matte"
	"velours/core/scope"
	"velours/core/vec"
)

// operation is either pointwise or spatial.
type operation interface{ key() string }

// A following operation is another one at each frame of the shot: at gives it.
type following interface{ at(frame int) operation }

// mask is where a step acts, ready for a frame and a raster.
type mask struct {
	id      string
	size    matte.Size
	doc     *Matte
	matte   *matte.Matte
	outside bool
}

// maskOf is the mask of a step, nil if it acts everywhere.
func (l *Look) maskOf(p *Step, r Raster) *mask {
	if p.Matte == nil || l.Mattes[*p.Matte] == nil {
		return nil
	}
	m := &mask{size: matte.Size{W: r.W, H: r.H}, doc: l.Mattes[*p.Matte], outside: p.Outside}
	return m.at(0)
}

func (m *mask) at(frame int) *mask {
	if m == nil || m.matte != nil && !m.doc.moves() {
		return m
	}
	q := *m
	q.matte = m.doc.compile(frame)
	if q.outside {
		q.matte.Invert = !q.matte.Invert
	}
	q.id = fmt.Sprintf(" in %v", *q.matte)
	for _, p := range q.matte.Members {
		q.id += fmt.Sprintf(" %T", p.Part)
	}
	return &q
}

func (m *mask) key() string {
	if m == nil {
		return ""
	}
	return m.id
}

// gradeOp corrects colours one by one, by a strength and inside a mask that goes pixel by pixel.
type gradeOp struct {
	id       string
	op       grade.Op
	strength float32
	mask     *mask
}

func (o *gradeOp) key() string { return fmt.Sprintf("%s*%g%s", o.id, o.strength, o.mask.key()) }
func (o *gradeOp) at(frame int) operation {
	if m := o.mask.at(frame); m != o.mask {
		return &gradeOp{o.id, o.op, o.strength, m}
	}
	return o
}

func (o *gradeOp) strip(_, x0, w, _ int) func(int, [3][]float32) {
	run := o.op.Rows(w)
	if o.strength == 1 && o.mask == nil {
		return func(_ int, c [3][]float32) { run(c[0], c[1], c[2]) }
	}
	var was [3][]float32
	for i := range was {
		was[i] = make([]float32, w, w+16)
	}
	if o.mask == nil {
		k := o.strength
		return func(_ int, c [3][]float32) {
			for i := range c {
				copy(was[i], c[i])
			}
			run(c[0], c[1], c[2])
			for i := range c {
				vec.Mix(c[i], c[i], was[i], k, 1-k)
			}
		}
	}
	cover, rows := make([]float32, w, w+16), o.mask.matte.Rows(o.mask.size)
	return func(y int, c [3][]float32) {
		for i := range c {
			copy(was[i], c[i])
		}
		rows(cover, y, x0, c[0], c[1], c[2])
		run(c[0], c[1], c[2])
		for i := range c {
			mixBy(c[i], was[i], cover, o.strength)
		}
	}
}

// mixBy sets dst to was + k·cover·(dst − was); where nothing is covered it is was to the bit.
func mixBy(dst, was, cover []float32, k float32) {
	for x, m := range cover[:len(dst)] {
		switch m *= k; m {
		case 0:
			dst[x] = was[x]
		case 1:
		default:
			dst[x] = was[x] + m*(dst[x]-was[x])
		}
	}
}

// areaOp is a spatial operation by a strength and inside a mask, or a pointwise one inside a mask that is
// spatial.
type areaOp struct {
	id       string
	strength float32
	mask     *mask
	// light, if set, is the negative whose exposure the picture is: the mask goes by the light before it.
	light *film.Negative
	// do makes the whole effect; cover is the mask's coverage, nil without one.
	do func(ctx context.Context, src, cover *frame.Frame) (*frame.Frame, error)
}

func (o *areaOp) key() string   { return fmt.Sprintf("%s*%g%s", o.id, o.strength, o.mask.key()) }
func (o *areaOp) uniform() bool { return false }
func (o *areaOp) at(frame int) operation {
	if m := o.mask.at(frame); m != o.mask {
		return &areaOp{o.id, o.strength, m, o.light, o.do}
	}
	return o
}

func (o *areaOp) run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	var cover *frame.Frame
	if o.mask != nil {
		var err error
		if cover, err = o.mask.over(ctx, src, o.light); err != nil {
			return nil, err
		}
		defer cover.Release()
	}
	out, err := o.do(ctx, src, cover)
	if err != nil || cover == nil && o.strength == 1 {
		return out, err
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				d, was := out.Row(p, y), src.Row(p, y)
				if cover == nil {
					vec.Mix(d, d, was, o.strength, 1-o.strength)
				} else {
					mixBy(d, was, cover.Row(0, y), o.strength)
				}
			}
		}
	})
}

// over is the coverage of a picture of scene light, or of the exposure that a negative makes of it.
func (m *mask) over(ctx context.Context, src *frame.Frame, of *film.Negative) (*frame.Frame, error) {
	if of == nil {
		return m.matte.Frame(ctx, src)
	}
	light, err := fuse(ctx, []pointwise{&matrixOp{of.Exposure.Inverse()}}, src, 0, 0, 0)
	if err != nil {
		return nil, err
	}
	defer light.Release()
	return m.matte.Frame(ctx, light)
}

// grainInOp develops, and adds grain inside a mask that goes by the light before the film.
type grainInOp struct {
	develop *developOp
	grain   *grainOp
	mask    *mask
	number  int // of the frame that grain is of
}

func (o *grainInOp) key() string {
	return fmt.Sprintf("%s;%s%s#%d", o.develop.key(), o.grain.key(), o.mask.key(), o.number)
}
func (o *grainInOp) uniform() bool { return false }
func (o *grainInOp) at(frame int) operation {
	if m := o.mask.at(frame); m != o.mask {
		return &grainInOp{o.develop, o.grain, m, o.number}
	}
	return o
}

func (o *grainInOp) run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	cover, err := o.mask.over(ctx, src, o.develop.neg)
	if err != nil {
		return nil, err
	}
	defer cover.Release()
	smooth, err := fuse(ctx, []pointwise{o.develop}, src, o.number, 0, 0)
	if err != nil {
		return nil, err
	}
	defer smooth.Release()
	out, err := fuse(ctx, []pointwise{o.grain}, smooth, o.number, 0, 0)
	if err != nil {
		return nil, err
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for p := range 3 {
				mixBy(out.Row(p, y), smooth.Row(p, y), cover.Row(0, y), 1)
			}
		}
	})
}

// vignetteOp lets light fall off towards the edge.
type vignetteOp struct {
	v    grade.Vignette
	size Raster
}

func (o *vignetteOp) key() string   { return fmt.Sprintf("vignette%v", o.v) }
func (o *vignetteOp) uniform() bool { return true } // it commutes with a matrix
func (o *vignetteOp) strip(_, x0, w, _ int) func(int, [3][]float32) {
	gain, row := make([]float32, w, w+16), o.v.Rows(o.size.W, o.size.H)
	return func(y int, c [3][]float32) {
		row(gain, y, x0)
		for i := range c {
			for x, k := range gain {
				c[i][x] *= k
			}
		}
	}
}

// enterOp brings a display's code values to the terms of scene light, white at 1, and leaveOp brings them back.
type enterOp struct{ screen film.Screen }

func (o *enterOp) key() string { return "enter " + o.screen.Display.Key() }
func (o *enterOp) strip(int, int, int, int) func(int, [3][]float32) {
	d := o.screen.Display
	light, m := scope.Decoder(d), d.FromACEScg()
	k := m.Inverse().Scale(d.Head()).Row12()
	return func(_ int, c [3][]float32) {
		for i := range c[0] {
			v := light([3]float64{float64(c[0][i]), float64(c[1][i]), float64(c[2][i])})
			c[0][i], c[1][i], c[2][i] = float32(v[0]), float32(v[1]), float32(v[2])
		}
		vec.Matrix(c[0], c[1], c[2], &k)
	}
}

type leaveOp struct{ screen film.Screen }

func (o *leaveOp) key() string { return "leave " + o.screen.Display.Key() }
func (o *leaveOp) strip(int, int, int, int) func(int, [3][]float32) {
	d := o.screen.Display
	code, w, m := scope.Encoder(d), d.Luminance(), d.FromACEScg()
	k := m.Scale(1 / d.Head()).Row12()
	return func(_ int, c [3][]float32) {
		vec.Matrix(c[0], c[1], c[2], &k)
		for i := range c[0] {
			v := [3]float64{float64(c[0][i]), float64(c[1][i]), float64(c[2][i])}
			v = code(inside(v, w))
			c[0][i], c[1][i], c[2][i] = float32(v[0]), float32(v[1]), float32(v[2])
		}
	}
}

// inside moves a colour that a display cannot show towards the grey of its luminance until it can; w holds the
// weights of luminance.
func inside(c, w [3]float64) [3]float64 {
	lo, hi := min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
	if lo >= 0 && hi <= 1 {
		return c
	}
	y := min(max(w[0]*c[0]+w[1]*c[1]+w[2]*c[2], 0), 1)
	s := 1.0
	if lo < 0 {
		s = min(s, y/(y-lo))
	}
	if hi > 1 {
		s = min(s, (1-y)/(hi-y))
	}
	for i, v := range c {
		c[i] = min(max(y+(v-y)*s, 0), 1)
	}
	return c
}

// Cover is the coverage of a step's matte at a frame of the shot, one plane, given the light that enters the step
// in scene-linear terms; everything is covered if it has none.
func (l *Look) Cover(ctx context.Context, s Station, step string, light *frame.Frame, n int) (*frame.Frame, error) {
	p := l.Step(s, step)
	if p == nil {
		return nil, fmt.Errorf("station %s has no step %q", s, step)
	}
	m := l.maskOf(p, Raster{light.W, light.H})
	if m == nil {
		return (&matte.Matte{}).Frame(ctx, light)
	}
	return m.at(n).matte.Frame(ctx, light)
}

// SceneTerms brings a picture that left a station to scene-linear terms: codes of the finish are taken for light
// of the plan's display, white at 1.
func (p *Plan) SceneTerms(ctx context.Context, f *frame.Frame, tap Station) (*frame.Frame, error) {
	if tap.index() < Screen.index() {
		return f, nil
	}
	return fuse(ctx, []pointwise{&enterOp{film.Screen{Display: p.Display}}}, f, 0, 0, 0)
}

// SkinOf is where a skin guard looks for skin.
func (l *Look) SkinOf(s Station, step string) (*grade.Skin, error) {
	k, err := KindOf(s, step)
	if err != nil {
		return nil, err
	}
	if k.ID != "skin" {
		return nil, fmt.Errorf("%s is no skin guard", k.Path())
	}
	p := l.Step(s, step)
	if p == nil {
		p = &Step{Kind: k.ID}
	}
	skin := p.values(k).skin()
	return &skin, nil
}

// ZonesOf are the zones of a step of that kind.
func (l *Look) ZonesOf(s Station, step string) (*grade.Zones, error) {
	k, err := KindOf(s, step)
	if err != nil {
		return nil, err
	}
	if k.ID != "zones" {
		return nil, fmt.Errorf("%s has no zones", k.Path())
	}
	p := l.Step(s, step)
	if p == nil {
		p = &Step{Kind: k.ID}
	}
	return p.values(k).zones(), nil
}
