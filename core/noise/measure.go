package noise

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"velours/core/frame"
	"velours/core/solve"
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

// Lags are figures of so many pixels across and down: [lags+y][lags+x] for x, y from −lags to lags.
type Lags [2*lags + 1][2*lags + 1]float64

// Own is the variance of a channel over its own value, between From and To: a cubic.
type Own struct {
	Law      [4]float64
	From, To float64
}

// Deviation is what the law says at a value; beyond where it was measured it stays.
func (o *Own) Deviation(value float64) float64 {
	return math.Sqrt(max(cubicAt(o.Law[:], min(max(value, o.From), o.To)), 0))
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

// mostCompared is how many blocks are compared with themselves, for the neighbours.
const mostCompared = 600

// square are the samples of a block.
type square [block][block]float32

// lagged adds to sums what a block has in common with itself so far across and down, a pixel's worth.
func (q *square) lagged(sums *Lags) {
	for dy := 0; dy <= lags; dy++ {
		for dx := -lags; dx <= lags; dx++ {
			if dy == 0 && dx < 0 {
				continue
			}
			v := float32(0)
			from, to := max(0, -dx), min(block, block-dx)
			for y := 0; y+dy < block; y++ {
				a, b := &q[y], &q[y+dy]
				for x := from; x < to; x++ {
					v += a[x] * b[x+dx]
				}
			}
			r := float64(v) / float64((block-dy)*(to-from))
			sums[lags+dy][lags+dx] += r
			if dy > 0 || dx > 0 {
				sums[lags-dy][lags-dx] += r
			}
		}
	}
}

// neighbours reads how channels and neighbours go together in the blocks that are believed.
func (m *Measured) neighbours(kept [][]sample) {
	type part struct {
		near, apart [3]Lags
		cross       [3]float64
		n           float64
	}
	var list []sample
	var zone []int
	for z, in := range kept {
		for i, s := range in {
			if len(in) > mostCompared/len(kept) && i%(len(in)*len(kept)/mostCompared+1) != 0 {
				continue
			}
			list, zone = append(list, s), append(zone, z)
		}
	}
	const parts = 8
	sums := make([]part, parts)
	each(parts, func(k int) {
		sum := &sums[k]
		var own, mixed [3]square
		for i := k; i < len(list); i += parts {
			s, dev := list[i], m.Zones[zone[i]].Deviation
			if dev[0] == 0 || dev[1] == 0 || dev[2] == 0 {
				continue
			}
			sum.n++
			for c := range own {
				for y := range block {
					for x, v := range s.pair.diff.c[c].row(s.y + y)[s.x : s.x+block] {
						own[c][y][x] = v / float32(dev[c])
					}
				}
			}
			for y := range block {
				for x := range block {
					mixed[0][y][x], mixed[1][y][x], mixed[2][y][x] = apart(own[0][y][x], own[1][y][x], own[2][y][x])
				}
			}
			for c := range own {
				own[c].lagged(&sum.near[c])
				mixed[c].lagged(&sum.apart[c])
			}
			for j, pair := range [3][2]int{{0, 1}, {1, 2}, {0, 2}} {
				v := 0.0
				for y := range block {
					a, b := &own[pair[0]][y], &own[pair[1]][y]
					for x := range a {
						v += float64(a[x]) * float64(b[x])
					}
				}
				sum.cross[j] += v / (block * block)
			}
		}
	})
	var total part
	for _, s := range sums {
		total.n += s.n
		for c := range 3 {
			total.cross[c] += s.cross[c]
			total.near[c].add(&s.near[c])
			total.apart[c].add(&s.apart[c])
		}
	}
	if total.n == 0 {
		return
	}
	for c := range 3 {
		m.Correlation[c] = total.cross[c] / total.n
		m.Neighbours[c], m.Apart[c] = total.near[c].scaled(1/total.near[c][lags][lags]), total.apart[c].scaled(1/total.n)
	}
}

func (l *Lags) add(m *Lags) {
	for y := range l {
		for x := range l[y] {
			l[y][x] += m[y][x]
		}
	}
}

func (l *Lags) scaled(k float64) (out Lags) {
	for y := range l {
		for x := range l[y] {
			out[y][x] = k * l[y][x]
		}
	}
	return out
}

// own is the law of a channel over its own value, from the blocks that are believed.
func own(kept [][]sample, c int) Own {
	var all []sample
	var values []float32
	for _, in := range kept {
		for _, s := range in {
			all, values = append(all, s), append(values, float32(s.value[c]))
		}
	}
	lo, hi := float64(quantile(values, zonesFrom)), float64(quantile(values, zonesTo))
	bins := zones
	if hi-lo < 0.02 {
		bins = 1
	}
	by := make([]reading, bins)
	for _, s := range all {
		k := min(max(int((s.value[c]-lo)/max(hi-lo, 1e-9)*float64(bins)), 0), bins-1)
		by[k].at += s.value[c]
		by[k].variance += s.energy[c]
		by[k].blocks++
	}
	by = slices.DeleteFunc(by, func(r reading) bool { return r.blocks < 4 })
	for i := range by {
		n := float64(by[i].blocks)
		by[i].at, by[i].variance = by[i].at/n, by[i].variance/n
	}
	if len(by) == 0 {
		return Own{}
	}
	return Own{law(by), by[0].at, by[len(by)-1].at}
}

// reading is the variance of so many blocks about a tone.
type reading struct {
	at, variance float64
	blocks       int
}

// law draws a cubic through readings, by least squares that doubt what lies off.
func law(by []reading) (out [4]float64) {
	terms := min(4, len(by))
	doubt := make([]float64, len(by))
	for i := range doubt {
		doubt[i] = 1
	}
	var p []float64
	for range 8 {
		a, b := make([][]float64, terms), make([]float64, terms)
		for i := range a {
			a[i] = make([]float64, terms)
		}
		for k, r := range by {
			weight := doubt[k] * float64(r.blocks) / max(r.variance*r.variance, 1e-18)
			pow := [7]float64{1}
			for i := 1; i < len(pow); i++ {
				pow[i] = pow[i-1] * r.at
			}
			for i := range terms {
				for j := range terms {
					a[i][j] += weight * pow[i+j]
				}
				b[i] += weight * pow[i] * r.variance
			}
		}
		scale := 0.0
		for i := range a {
			scale = max(scale, a[i][i])
		}
		for i := range a {
			for j := range a[i] {
				a[i][j] /= scale
			}
			b[i] /= scale
		}
		p = solve.Linear(a, b, 0)
		for k, r := range by {
			off := math.Abs(cubicAt(p, r.at)/max(r.variance, 1e-18) - 1)
			doubt[k] = 1 / max(1, off/0.1)
		}
	}
	copy(out[:], p)
	return out
}

func cubicAt(p []float64, x float64) float64 {
	v := 0.0
	for i := len(p) - 1; i >= 0; i-- {
		v = v*x + p[i]
	}
	return v
}

// Deviation is what the law says of a channel at a luminance; beyond where it was measured it stays.
func (m *Measured) Deviation(channel int, luminance float64) float64 {
	return math.Sqrt(max(cubicAt(m.Law[channel][:], min(max(luminance, m.From), m.To)), 0))
}

// Spot is the deviation, in pixels, of the round Gaussian that white noise would be seen through to go with its neighbours as this does: 0 for
// white noise.
func (m *Measured) Spot(channel int) float64 {
	n := &m.Neighbours[channel]
	num, den := 0.0, 0.0
	for y := -lags; y <= lags; y++ {
		for x := -lags; x <= lags; x++ {
			r := n[lags+y][lags+x]
			d := float64(x*x + y*y)
			if d == 0 || d > 9 || r < 0.1 {
				continue
			}
			// ρ = exp(−d/4s²)
			num, den = num+r*r*d*d, den-r*r*d*math.Log(r)
		}
	}
	if den <= 0 {
		return 0
	}
	return math.Sqrt(num / den / 4)
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
