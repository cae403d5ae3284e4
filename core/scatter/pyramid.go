package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// Gaussian is one term of a point spread: standard deviation in pixels, and weight.
type Gaussian struct{ Sigma, Weight float64 }

// Term is a Gaussian that weighs otherwise in each channel.
type Term struct {
	Sigma  float64
	Weight [3]float64
}

// even are Gaussians that weigh the same in every channel.
func even(list []Gaussian) []Term {
	out := make([]Term, len(list))
	for i, g := range list {
		out[i] = Term{g.Sigma, [3]float64{g.Weight, g.Weight, g.Weight}}
	}
	return out
}

// Blur is the weighted sum of Gaussian blurs of the first three planes of src, all served by one
// pyramid at a cost that hardly grows with their width. Each term is a short kernel at the level
// where its σ is 1.5 to 3 samples, less the variance ½(4ᴸ−1) px² that going down (1 3 3 1)/8 and
// up (3 1)/4 adds by itself.
func Blur(ctx context.Context, src *frame.Frame, terms []Gaussian) (*frame.Frame, error) {
	return blurInto(ctx, src, terms, [3]float32{}, [3]float32{1, 1, 1})
}

// BlurOver is keep times src and Blur of it.
func BlurOver(ctx context.Context, src *frame.Frame, keep float64, terms []Gaussian) (*frame.Frame, error) {
	k := float32(keep)
	return blurInto(ctx, src, terms, [3]float32{k, k, k}, [3]float32{1, 1, 1})
}

// blurInto is a·src + b·Blur(src), plane by plane; further planes of src are passed on.
func blurInto(ctx context.Context, src *frame.Frame, terms []Gaussian, a, b [3]float32) (*frame.Frame, error) {
	return blurTerms(ctx, src, even(terms), shape{}, a, b)
}

// blurTerms is blurInto of terms that weigh otherwise in each channel, and of a shape.
func blurTerms(ctx context.Context, src *frame.Frame, terms []Term, o shape, a, b [3]float32) (*frame.Frame, error) {
	s, narrow, err := spread(ctx, src, nil, 0, terms, o, a, b, nil)
	if err != nil {
		return nil, err
	}
	defer s.Release()
	out, err := s.Frame(ctx)
	for _, k := range narrow {
		if err == nil {
			err = k.add(ctx, out, src, b)
		}
	}
	return out, err
}

// spread does all of blurInto but its last doublings, and the kernels narrow enough to act on the
// full picture, which it returns. lower, if not nil, is the picture halved from times; the Spread takes it over, and its blur has that level. The
// rows of its blur are ended by end.
func spread(ctx context.Context, src, lower *frame.Frame, from int, terms []Term, o shape, a, b [3]float32, end rowMaker) (_ *Spread, _ []kernel, err error) {
	drawn := draw(terms, o, src.W, src.H)
	bottom := from
	if from == 0 {
		bottom = drawn.least
	}
	s := &Spread{base: src, level: bottom, lower: make([]*frame.Frame, bottom+1), a: a, b: b}
	levels := make([]*frame.Frame, max(drawn.most, from)+1)
	if from == 0 {
		levels[0] = src
	} else {
		levels[from], s.lower[from] = lower, lower
	}
	defer func() {
		if err != nil {
			s.Drop()
		}
		for _, l := range levels[bottom+1:] {
			if l != nil {
				l.Release()
			}
		}
	}()
	for l := from + 1; l < len(levels); l++ {
		if levels[l], err = down(ctx, levels[l-1]); err != nil {
			return nil, nil, err
		}
		if l <= bottom {
			s.lower[l] = levels[l]
		}
	}
	for l := len(levels) - 1; l >= bottom && l > 0; l-- {
		below, ending := s.blur, rowMaker(nil)
		if l == bottom {
			ending = end
		}
		s.blur = frame.Get(levels[l].W, levels[l].H, 3)
		err = drawn.into(ctx, s.blur, levels[l], l, below, ending)
		if below != nil {
			below.Release()
		}
		if err != nil {
			return nil, nil, err
		}
	}
	return s, drawn.kernels[0], nil
}

// drawing is how terms are drawn: by which kernels at which level, 0 being the full picture, and which of them on a picture that is continued
// beyond its edges, at a level of its own. Least and most are the levels, 1 or more, from which on and up to which anything is drawn; 0 for none.
type drawing struct {
	kernels     map[int][]kernel
	wide        []Term
	wideAt      int
	least, most int
	shape       shape
}

func draw(terms []Term, o shape, w, h int) *drawing {
	d := &drawing{kernels: map[int][]kernel{}, shape: o}
	at := func(l int) {
		if l > 0 && (d.least == 0 || l < d.least) {
			d.least = l
		}
		d.most = max(d.most, l)
	}
	if o.Surrounded {
		if terms, d.wide = o.apart(terms, w); d.wide != nil {
			d.wideAt = surroundedLevel(w)
			at(d.wideAt)
		}
	}
	for _, t := range terms {
		l, k := plan(t, o, w, h)
		d.kernels[l] = append(d.kernels[l], k)
		at(l)
	}
	return d
}

// into draws what belongs to level l, whose picture is src, over what was drawn below it, doubled. Rows are ended by end, if it is not nil.
func (d *drawing) into(ctx context.Context, dst, src *frame.Frame, l int, below *frame.Frame, end rowMaker) error {
	rows := rowSum{begin: clearRow}
	if below != nil {
		rows.begin = doubling(below)
	}
	all := d.kernels[l]
	round := all
	for i, k := range all { // those of a direction are drawn apart
		if k.along != nil {
			round = all[:i]
			break
		}
	}
	rows.blurs = by(src, round, [3]float32{1, 1, 1})
	continued := d.wide != nil && l == d.wideAt
	last := len(round) == len(all) && !continued
	if last {
		rows.end = end
	}
	err := rows.into(ctx, dst)
	for _, k := range all[len(round):] {
		if err == nil {
			err = k.add(ctx, dst, src, [3]float32{1, 1, 1})
		}
	}
	if continued && err == nil {
		err = addSurrounded(ctx, dst, src, d.wide, d.shape, l)
		repeatEdges(dst)
	}
	if !last && end != nil && err == nil {
		err = rowSum{end: end}.into(ctx, dst)
	}
	return err
}

// wideSpread is spread made ready for its rows; nil if a kernel needs the full picture.
func wideSpread(ctx context.Context, src *frame.Frame, terms []Term, o shape, a, b [3]float32) (*Spread, error) {
	if needsFull(terms, o, src) {
		return nil, nil
	}
	s, _, err := spread(ctx, src, nil, 0, terms, o, a, b, nil)
	return s, err
}

// needsFull tells that a kernel is so narrow, or a picture so small, that the full picture is drawn on.
func needsFull(terms []Term, o shape, src *frame.Frame) bool {
	for _, t := range terms {
		if l, _ := plan(t, o, src.W, src.H); l == 0 {
			return true
		}
	}
	return o.Surrounded && surroundedLevel(src.W) == 0
}

type kernel struct {
	taps   *vec.Symmetric
	weight [3]float32
	along  *line // for a stretched one, how far it goes on along its direction
}

// plan is the level at which a term is computed, and its kernel there.
func plan(t Term, o shape, w, h int) (int, kernel) {
	sigma, along := o.of(t.Sigma)
	l := 0
	for sigma/math.Exp2(float64(l+1)) >= 1.5 && min(w, h)>>(l+1) >= 2 {
		l++
	}
	four := math.Exp2(float64(2 * l))
	v := max((sigma*sigma-0.5*(four-1))/four, 0)
	var k kernel
	if along > 0 {
		var across float64
		k.along, across = o.line(along / math.Exp2(float64(l)))
		v = max(v-across, 0)
	}
	k.taps = vec.NewSymmetric(gaussianTaps(math.Sqrt(v)))
	for i, w := range t.Weight {
		k.weight[i] = float32(w)
	}
	return l, k
}

// gaussianTaps is half of a discrete Gaussian of sum 1, centre first.
func gaussianTaps(sigma float64) []float32 {
	if sigma < 0.05 {
		return []float32{1}
	}
	if sigma < narrow {
		return narrowTaps(sigma)
	}
	r := min(int(math.Ceil(3.5*sigma)), frame.LeftPad-1)
	// averaging over a sample adds 1/12 of variance, so take it off first
	sigma = math.Sqrt(max(sigma*sigma-1.0/12, 0.01))
	h := make([]float64, r+1)
	sum := 0.0
	for k := range h {
		// the integral over a sample's width keeps the sum right for small σ
		h[k] = math.Erf((float64(k)+0.5)/sigma/math.Sqrt2) - math.Erf((float64(k)-0.5)/sigma/math.Sqrt2)
		if k == 0 {
			sum += h[k]
		} else {
			sum += 2 * h[k]
		}
	}
	out := make([]float32, r+1)
	for k := range out {
		out[k] = float32(h[k] / sum)
	}
	return out
}

// narrow is the deviation, in samples, below which a Gaussian is three taps of its variance: its own samples would
// blur more, and its exact transfer needs weights below 0, which draw dark rings around what is bright.
const narrow = 0.6

func narrowTaps(sigma float64) []float32 {
	v := sigma * sigma
	return []float32{float32(1 - v), float32(v / 2)}
}

// band is how many rows make a work item: enough samples to be worth the waking of another core.
func band(width int) int { return max(16, 1<<15/width) }

// add adds gain times the kernel's blur of src to dst.
func (k kernel) add(ctx context.Context, dst, src *frame.Frame, gain [3]float32) error {
	if k.along != nil {
		drawn, err := k.along.draw(ctx, src)
		if err != nil {
			return err
		}
		defer drawn.Release()
		k.along = nil
		return k.add(ctx, dst, drawn, gain)
	}
	return rowSum{blurs: by(src, []kernel{k}, gain)}.into(ctx, dst)
}

// replicate writes row to line with r samples of its edges on either side (and enough more for
// a kernel's overrun).
func replicate(line, row []float32, r int) {
	n := copy(line[r:], row)
	for i := range r {
		line[i] = row[0]
	}
	for i := r + n; i < min(r+n+r+16, len(line)); i++ {
		line[i] = row[n-1]
	}
}

// downColumns is how many columns of a half picture are made at a time: what four rows of the full one hold for them stays in the nearest cache.
const downColumns = 384

// down halves a picture by (1 3 3 1)/8 along both axes.
func down(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	dst := frame.Get((src.W+1)/2, (src.H+1)/2, 3)
	k := &[4]float32{0.125, 0.375, 0.375, 0.125}
	err := frame.Bands(ctx, dst.H, band(dst.W), func(y0, y1 int) {
		buf := make([]float32, 2*downColumns+3+2*frame.RightPad)
		for p := range 3 {
			for x0 := 0; x0 < dst.W; x0 += downColumns {
				w := min(downColumns, dst.W-x0)
				// columns 2·x0−1 to 2·(x0+w)+1 of the full picture, which goes on as it ends
				from, to := max(2*x0-1, 0), min(2*(x0+w)+2, src.W)
				row := func(y int) []float32 { return src.Part(p, min(max(y, 0), src.H-1), from, to-from) }
				line := buf[from-(2*x0-1):][:to-from]
				for y := y0; y < y1; y++ {
					vec.Weigh(line, row(2*y-1), row(2*y), row(2*y+1), row(2*y+2), k)
					if x0 == 0 {
						buf[0] = buf[1]
					}
					if n := len(line); to == src.W {
						end := buf[from-(2*x0-1)+n:]
						end[0], end[1], end[2] = line[n-1], line[n-1], line[n-1]
					}
					vec.Halve(dst.Part(p, y, x0, w), buf)
				}
			}
		}
	})
	return dst, err
}
