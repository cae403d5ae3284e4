package noise

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"velours/core/frame"
)

// Measured is the noise of a clip. Channels are red, green and blue.
type Measured struct {
	// Zones are tones in which it was measured, dark to bright.
	Zones []Zone
	// Law is the variance of each channel over luminance, as a cubic: Law[c][k] is that of luminance to the power of k.
	Law [3][4]float64
	// From and To are the luminances between which the law was measured.
	From, To float64
	// Own is the law of each channel over its own value rather than luminance.
	Own [3]Own
	// Correlation is that of red with green, green with blue, and red with blue.
	Correlation [3]float64
	// Neighbours are the correlations of a channel with itself so many pixels across and down: Neighbours[c][lags+y][lags+x] for x, y from
	// −lags to lags.
	Neighbours [3]Lags
	// Apart are the covariances, so many pixels across and down, of what channels share and of what they do not (apart), each channel in units
	// of its deviation.
	Apart [3]Lags
	// Hold is how many frames keep one noise, 1 for new noise on every frame.
	Hold int
	// Shifts are the displacements that were found, of the first pair of frames.
	Shifts []Shift
	// Frames are how many there were. Pairs are how many pairs of frames were compared, Blocks how many blocks believed, Clipped the share of blocks left out because they
	// are clipped, Moving that left out because more differs there than noise.
	Frames, Pairs   int
	Blocks          int
	Clipped, Moving float64
}

// Zone is the noise of a range of tones.
type Zone struct {
	// Mean is the mean luminance, Deviation that of each channel, Blocks how many are in it.
	Mean      float64
	Deviation [3]float64
	Blocks    int
}

// Options says where and how noise is measured. Its zero value measures everywhere.
type Options struct {
	// Boxes are where it is measured, in pixels of the frames; none is everywhere.
	Boxes []Area
}

const (
	// zones is how many ranges of tones there are, between these quantiles of blocks.
	zones, zonesFrom, zonesTo = 8, 0.01, 0.99
	// flattest is the share of a zone's blocks that is believed, fewest how many at least.
	flattest, fewest = 0.5, 24
	// mostWide and mostHigh bound what is looked at of a large frame.
	mostWide, mostHigh = 1920, 1088
)

// Looked is the part of frames that Measure looks at: all of it, or the middle of a large one, or what lies about the boxes, by which motion is told.
func Looked(w, h int, boxes []Area) Area {
	if len(boxes) == 0 {
		lw, lh := min(w, mostWide), min(h, mostHigh)
		return Area{(w - lw) / 2, (h - lh) / 2, lw, lh}
	}
	x0, y0, x1, y1 := w, h, 0, 0
	for _, b := range boxes {
		x0, y0, x1, y1 = min(x0, b.X), min(y0, b.Y), max(x1, b.X+b.W), max(y1, b.Y+b.H)
	}
	lw, lh := min(w, mostWide, x1-x0+2*tile), min(h, mostHigh, y1-y0+2*tile)
	return Area{min(max((x0+x1-lw)/2, 0), w-lw), min(max((y0+y1-lh)/2, 0), h-lh), lw, lh}
}

// Within are boxes as they lie in a part of the frames.
func Within(part Area, boxes []Area) []Area {
	out := slices.Clone(boxes)
	for i := range out {
		out[i].X, out[i].Y = out[i].X-part.X, out[i].Y-part.Y
	}
	return out
}

// ErrTooLittle is that there is too little to measure.
var ErrTooLittle = errors.New("too little of the picture is flat, unclipped and at rest")

// Measure measures the noise of frames in a row, of one size: at least 64 × 64 pixels. It needs no flat area where there are two frames or more; of
// one frame it measures what is flat. progress, if not nil, is told the share that is done.
func Measure(ctx context.Context, frames []*frame.Frame, o Options, progress func(float64)) (*Measured, error) {
	if len(frames) == 0 {
		return nil, errors.New("there are no frames")
	}
	w, h := frames[0].W, frames[0].H
	if w < tile || h < tile {
		return nil, fmt.Errorf("frames of %d × %d pixels; noise is measured from %d × %d on", w, h, tile, tile)
	}
	for _, f := range frames {
		if f.W != w || f.H != h {
			return nil, fmt.Errorf("frames of %d × %d and %d × %d pixels; they must be of one size", w, h, f.W, f.H)
		}
	}
	at := Looked(w, h, o.Boxes)
	x0, y0, w, h := at.X, at.Y, at.W, at.H
	boxes := Within(at, o.Boxes)
	m := &Measured{Hold: 1, Frames: len(frames)}
	if len(frames) == 1 {
		return m, m.still(frames[0], at, boxes)
	}
	var all []sample
	clipped := 0
	last := part(frames[0], x0, y0, w, h)
	still := 0
	for i := 1; i < len(frames); i++ {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		next := part(frames[i], x0, y0, w, h)
		if alikeFrames(last, next) { // nothing at all differs: one frame shown again
			still++
			continue
		}
		shifts := motions(last.c[lumaAt].smoothed(quiet), next.c[lumaAt].smoothed(quiet), 0, nil)
		var pairs []*pair
		for k, s := range shifts {
			if m.Pairs == 0 && k > 0 {
				m.Shifts = append(m.Shifts, s.Shift)
			}
			pairs = append(pairs, laid(last, next, s))
		}
		found, cut := samples(pairs, boxes)
		all, clipped = append(all, found...), clipped+cut
		m.Pairs++
		last = next
		if progress != nil {
			progress(float64(i) / float64(len(frames)))
		}
	}
	if m.Pairs == 0 {
		return nil, errors.New("the frames are all the same: a still has no noise that frames could tell")
	}
	if still > 0 {
		m.Hold = int(math.Round(float64(len(frames)) / float64(m.Pairs+1)))
	}
	if n := len(all) + clipped; n > 0 {
		m.Clipped = float64(clipped) / float64(n)
	}
	if err := m.read(all); err != nil {
		return nil, err
	}
	return m, nil
}

// alikeFrames tells that two pictures are one.
func alikeFrames(a, b *picture) bool {
	for i := range 3 {
		if !slices.Equal(a.c[i].v, b.c[i].v) {
			return false
		}
	}
	return true
}

// read makes figures of samples.
func (m *Measured) read(all []sample) error {
	if len(all) < fewest {
		return ErrTooLittle
	}
	means := make([]float32, len(all))
	for i, s := range all {
		means[i] = float32(s.mean)
	}
	lo, hi := float64(quantile(means, zonesFrom)), float64(quantile(means, zonesTo))
	var flat [][]sample
	n := min(zones, max(len(all)/(2*fewest), 1))
	if hi-lo < 0.02 || n == 1 { // one tone
		n, lo, hi = 1, math.Inf(-1), math.Inf(1)
	}
	for z := range n {
		from, to := lo+(hi-lo)*float64(z)/float64(n), lo+(hi-lo)*float64(z+1)/float64(n)
		if n == 1 {
			from, to = lo, hi
		}
		var in []sample
		for _, s := range all {
			if s.mean >= from && s.mean < to {
				in = append(in, s)
			}
		}
		if len(in) < fewest {
			continue
		}
		slices.SortFunc(in, func(a, b sample) int { return cmp.Compare(a.active, b.active) })
		flat = append(flat, in[:max(fewest, int(flattest*float64(len(in))))])
	}
	if len(flat) == 0 {
		return ErrTooLittle
	}
	// the spread of blocks follows from how neighbours go together, which the blocks tell that are believed
	spread := 1.0 // Σρ², one for white noise
	var kept [][]sample
	for range 3 {
		kept = kept[:0]
		m.Zones, m.Blocks = nil, 0
		dropped, of := 0, 0
		for _, in := range flat {
			good := guarded(in, block*block/spread)
			dropped, of = dropped+len(in)-len(good), of+len(in)
			z := Zone{Blocks: len(good)}
			for _, s := range good {
				z.Mean += s.mean / float64(len(good))
				for c := range z.Deviation {
					z.Deviation[c] += s.energy[c] / float64(len(good))
				}
			}
			for c := range z.Deviation {
				z.Deviation[c] = math.Sqrt(z.Deviation[c])
			}
			m.Zones, kept, m.Blocks = append(m.Zones, z), append(kept, good), m.Blocks+len(good)
		}
		m.Moving = float64(dropped) / float64(of)
		m.neighbours(kept)
		now := 0.0
		for _, row := range m.Neighbours[1] {
			for _, r := range row {
				now += r * r
			}
		}
		if math.Abs(now-spread) < 0.05*spread {
			break
		}
		spread = max(now, 1)
	}
	m.From, m.To = m.Zones[0].Mean, m.Zones[len(m.Zones)-1].Mean
	for c := range m.Law {
		var by []reading
		for _, z := range m.Zones {
			by = append(by, reading{z.Mean, z.Deviation[c] * z.Deviation[c], z.Blocks})
		}
		m.Law[c] = law(by)
		m.Own[c] = own(kept, c)
	}
	return nil
}

// guarded are the blocks of a zone in which no more differs than noise: the level of noise is told by the lower quarter of energies, and what is
// further above it than chance puts a block is left out. dof is how many independent values a block has.
func guarded(in []sample, dof float64) []sample {
	keep := in
	for c := range 3 {
		energies := make([]float32, len(in))
		for i, s := range in {
			energies[i] = float32(s.energy[c])
		}
		level := float64(quantile(energies, 0.25)) / chiSquare(-0.6745, dof)
		limit := level * (1 + 2.5*math.Sqrt(2/dof) + 0.05)
		var good []sample
		for _, s := range keep {
			if s.energy[c] <= limit {
				good = append(good, s)
			}
		}
		keep = good
	}
	if len(keep) < 4 {
		return in
	}
	return keep
}

// chiSquare is a quantile of χ² over its degrees of freedom, z deviations from the middle (Wilson and Hilferty).
func chiSquare(z, dof float64) float64 {
	t := 2 / (9 * dof)
	return math.Pow(1-t+z*math.Sqrt(t), 3)
}

// quantile is a quantile of values, by order.
func quantile(v []float32, q float64) float32 {
	if len(v) == 0 {
		return 0
	}
	s := slices.Clone(v)
	slices.Sort(s)
	return s[min(int(q*float64(len(s))), len(s)-1)]
}
