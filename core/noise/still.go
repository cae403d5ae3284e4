package noise

import (
	"cmp"
	"math"
	"slices"

	"velours/core/frame"
)

const (
	// broad is the Gaussian, in pixels, beyond which what varies in one frame is picture; fineTexture that within which it may be noise.
	broad, fineTexture = 8.0, 2.0
	// flattestOfOne is the share of a frame's blocks that is believed where nobody has marked what is flat.
	flattestOfOne = 0.08
)

// still measures the noise of one frame, where it is flat: in boxes that are marked, or else where it varies least in what is larger than
// noise and smaller than broad light.
func (m *Measured) still(f *frame.Frame, at Area, boxes []Area) error {
	p := part(f, at.X, at.Y, at.W, at.H)
	m.Frames = 1
	// what is left over broad light stands for a difference of frames
	flat := &pair{diff: &picture{}, w: at.W / step, h: at.H / step}
	flat.cells = make([]cell, flat.w*flat.h)
	for i := range p.c {
		d, soft := newPlane(at.W, at.H), p.c[i].smoothed(broad)
		flat.diff.c[i] = d
		each(at.H, func(y int) {
			to, a, b := d.row(y), p.c[i].row(y), soft.row(y)
			for x := range to {
				to[x] = a[x] - b[x]
			}
		})
	}
	// texture is told by what is coarser than noise
	texture := flat.diff.c[lumaAt].smoothed(fineTexture)
	each(flat.h, func(cy int) {
		for y := cy * step; y < (cy+1)*step; y++ {
			luma, tex := p.c[lumaAt].row(y), texture.row(y)
			for x := range flat.w * step {
				c := &flat.cells[cy*flat.w+x/step]
				c.mean += float64(luma[x])
				c.square += float64(tex[x]) * float64(tex[x])
				for i := range 3 {
					v, d := p.c[i].row(y)[x], float64(flat.diff.c[i].row(y)[x])
					c.value[i] += float64(v)
					c.energy[i] += d * d
					if v <= 0 || v >= 1 {
						c.clipped++
					}
				}
			}
		}
	})
	var all []sample
	clipped := 0
	for y := 0; y+cells <= flat.h; y++ {
		for x := 0; x+cells <= flat.w; x++ {
			var s cell
			for j := range cells {
				for i := range cells {
					s.add(&flat.cells[(y+j)*flat.w+x+i])
				}
			}
			if !covered(boxes, x*step, y*step) {
				continue
			}
			const n = block * block
			if s.clipped > 0.005*3*n {
				clipped++
				continue
			}
			b := sample{pair: flat, x: x * step, y: y * step, mean: s.mean / n, active: s.square / n}
			for i := range b.energy {
				b.value[i], b.energy[i] = s.value[i]/n, s.energy[i]/n
			}
			all = append(all, b)
		}
	}
	if n := len(all) + clipped; n > 0 {
		m.Clipped = float64(clipped) / float64(n)
	}
	if len(boxes) == 0 {
		all = flattestOf(all)
	}
	if err := m.read(all); err != nil {
		return err
	}
	if len(boxes) == 0 && m.textured() {
		return ErrTooLittle
	}
	m.restore()
	return nil
}

// spotReach is how far spots of noise are taken to go, in pixels.
const spotReach = 5

// lost is what covariances lack of noise that broad light was taken from: the same at all that are near, in their own units. Of noise of white
// spectrum it would be the Gaussian's height twice, less that of the Gaussian upon itself, and of other noise as many times as it is broad.
func (l *Lags) lost() float64 {
	const height = 1/(2*math.Pi*broad*broad)*2 - 1/(4*math.Pi*broad*broad)
	sum, n := 0.0, 0.0
	for y := -spotReach; y <= spotReach; y++ {
		for x := -spotReach; x <= spotReach; x++ {
			if x*x+y*y <= spotReach*spotReach {
				sum, n = sum+l[lags+y][lags+x], n+1
			}
		}
	}
	return max(height*sum/(1-height*n), 0)
}

// raised are covariances and so much more, where they are near.
func (l *Lags) raised(by float64) Lags {
	out := *l
	for y := -spotReach; y <= spotReach; y++ {
		for x := -spotReach; x <= spotReach; x++ {
			if x*x+y*y <= spotReach*spotReach {
				out[lags+y][lags+x] += by
			}
		}
	}
	return out
}

// restore gives back what noise lost when broad light was taken from it.
func (m *Measured) restore() {
	mean := 0.0
	for c := range 3 {
		lost := m.Neighbours[c].lost()
		near := m.Neighbours[c].raised(lost)
		m.Neighbours[c] = near.scaled(1 / (1 + lost))
		mean += lost / 3
		for i := range m.Law[c] {
			m.Law[c][i] *= 1 + lost
			m.Own[c].Law[i] *= 1 + lost
		}
		for i := range m.Zones {
			m.Zones[i].Deviation[c] *= math.Sqrt(1 + lost)
		}
	}
	for c := range 3 {
		apart := m.Apart[c].raised(m.Apart[c].lost())
		m.Apart[c] = apart.scaled(1 / (1 + mean))
	}
}

// flattestOf are the blocks that vary least, in each of so many tones.
func flattestOf(all []sample) (out []sample) {
	if len(all) == 0 {
		return nil
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, s := range all {
		lo, hi = min(lo, s.mean), max(hi, s.mean)
	}
	var in [zones][]sample
	for _, s := range all {
		k := min(int((s.mean-lo)/max(hi-lo, 1e-9)*zones), zones-1)
		in[k] = append(in[k], s)
	}
	for _, list := range in {
		if len(list) < fewest {
			continue
		}
		slices.SortFunc(list, func(a, b sample) int { return cmp.Compare(a.active, b.active) })
		out = append(out, list[:max(fewest, int(flattestOfOne*float64(len(list))))]...)
	}
	return out
}

// textured tells that what was believed to be noise is picture: noise of spots that are hardly smaller than a block.
func (m *Measured) textured() bool {
	return m.Neighbours[1][lags][lags+6] > 0.25 || m.Neighbours[1][lags+6][lags] > 0.25
}
