package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// Halo describes the halation of a negative.
type Halo struct {
	Thickness, Index float64 // base: mm, refractive index
	// Backing is how much of the anti-halation layer is left: 1 intact, 0 removed.
	Backing float64
	// Held and Back are, for red, green and blue, the share of light that enters the base and
	// how well it exposes the layer on its return.
	Held, Back [3]float64
	// Amount scales the returned light; 1 is what the film does.
	Amount float64
	// Quick draws a ring on a coarser grid, for pictures that follow a drag.
	Quick bool
}

// intactTerms are five Gaussians for the spread of a backed base 0.13 mm thick: σ in mm, weights
// that sum to 1; 0.3 % of the exact profile is left over (design notes, table A3).
var intactTerms = []Gaussian{{.0934, .0871}, {.1524, .2608}, {.2856, .1613}, {.6892, .2751}, {1.5084, .2157}}

// Gains are the returned light of each layer as a share of its direct exposure.
func (h Halo) Gains() [3]float64 {
	total := h.Backing*Intact(h.Thickness, h.Index).Total() + (1-h.Backing)*Removed(h.Thickness, h.Index).Total()
	var g [3]float64
	for i := range g {
		g[i] = h.Amount * h.Held[i] * h.Back[i] * total
	}
	return g
}

// Halate adds the halo to the exposure of the layers and divides by 1 + gain: a stock's speed and
// balance are measured on even patches, where the returned light is already in. perMM is the raster
// in pixels for a millimetre of film.
func Halate(ctx context.Context, src *frame.Frame, h Halo, perMM float64) (*frame.Frame, error) {
	share, direct, returned := h.parts()
	out, err := blurInto(ctx, src, h.terms(share, perMM), direct, returned)
	if err != nil || share == 1 {
		return out, err
	}
	pitch := ringPitch
	if h.Quick {
		pitch = quickPitch
	}
	return out, addRing(ctx, out, src, Removed(h.Thickness, h.Index), perMM, pitch, 1-share, returned)
}

// Haloed is Halate up to its last step, for one who wants the rows; it is nil if the halo has parts
// that need the full picture: a ring, or a raster so coarse that the halo is narrow.
func Haloed(ctx context.Context, src *frame.Frame, h Halo, perMM float64) (*Spread, error) {
	share, direct, returned := h.parts()
	if share < 1 {
		return nil, nil
	}
	return wideSpread(ctx, src, even(h.terms(share, perMM)), shape{}, direct, returned)
}

// parts returns how much of the returned light a backing leaves its shape, and the factors of
// direct and returned light in each layer.
func (h Halo) parts() (share float64, direct, returned [3]float32) {
	intact, removed := h.Backing*Intact(h.Thickness, h.Index).Total(), (1-h.Backing)*Removed(h.Thickness, h.Index).Total()
	for i, g := range h.Gains() {
		direct[i], returned[i] = float32(1/(1+g)), float32(g/(1+g))
	}
	return intact / (intact + removed), direct, returned
}

// terms are the Gaussians of a backed base in pixels.
func (h Halo) terms(share, perMM float64) []Gaussian {
	var terms []Gaussian
	if share > 0 {
		for _, t := range intactTerms {
			terms = append(terms, Gaussian{t.Sigma * h.Thickness / 0.13 * perMM, t.Weight * share})
		}
	}
	return terms
}

// ringPitch is the grid, in mm, on which a ring is computed, and quickPitch that for drafts.
const ringPitch, quickPitch = 0.035, 0.1

// addRing adds weight·gain times the spread of a bare base to dst: the exposure is averaged over blocks
// of about pitch, and coarser ones for what is far, convolved by separable terms, and brought back
// bilinearly.
func addRing(ctx context.Context, dst, src *frame.Frame, b Base, perMM, pitch, weight float64, gain [3]float32) error {
	f := max(1, int(math.Round(pitch*perMM)))
	s := sample(b, float64(f)/perMM)
	for i := range gain {
		gain[i] *= float32(weight)
	}
	low, err := shrink(ctx, src, f)
	if err != nil {
		return err
	}
	sum := dst // where the grid is the raster's own, there is nothing to bring back
	if low != src {
		defer low.Release()
		sum = frame.New(low.W, low.H, 3)
	}
	if err := s.near.addTo(ctx, sum, low, gain); err != nil {
		return err
	}
	if s.coarse > 1 {
		lower, err := shrink(ctx, low, s.coarse)
		if err != nil {
			return err
		}
		defer lower.Release()
		far := frame.New(lower.W, lower.H, 3)
		if err := s.far.addTo(ctx, far, lower, gain); err != nil {
			return err
		}
		if err := addGrown(ctx, sum, far, s.coarse); err != nil {
			return err
		}
	}
	if sum == dst {
		return nil
	}
	return addGrown(ctx, dst, sum, f)
}

// addTo adds gain times the convolution of src to dst.
func (s *separable) addTo(ctx context.Context, dst, src *frame.Frame, gain [3]float32) error {
	for k, taps := range s.taps {
		scaled := gain
		for i := range scaled {
			scaled[i] *= s.weights[k]
		}
		if err := (kernel{taps: taps, weight: [3]float32{1, 1, 1}}).add(ctx, dst, src, scaled); err != nil {
			return err
		}
	}
	return nil
}

// shrink averages blocks of f×f; the last block of a row or column may be smaller.
func shrink(ctx context.Context, src *frame.Frame, f int) (*frame.Frame, error) {
	if f == 1 {
		return src, nil
	}
	dst := frame.Get((src.W+f-1)/f, (src.H+f-1)/f, 3)
	err := frame.Bands(ctx, dst.H, 4, func(y0, y1 int) {
		line := make([]float32, src.W, src.W+frame.RightPad)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				rows := min(f, src.H-y*f)
				copy(line, src.Row(p, y*f))
				for j := 1; j < rows; j++ {
					vec.Mix(line, line, src.Row(p, y*f+j), 1, 1)
				}
				d := dst.Row(p, y)
				for x := range d {
					part := line[x*f : min((x+1)*f, src.W)]
					var s float32
					for _, v := range part {
						s += v
					}
					d[x] = s / float32(len(part)*rows)
				}
			}
		}
	})
	return dst, err
}

// addGrown adds src, bilinearly enlarged f times, to dst.
func addGrown(ctx context.Context, dst, src *frame.Frame, f int) error {
	if f == 2 { // a doubling has its own kernel
		one := [3]float32{1, 1, 1}
		return (&Spread{base: dst, blur: src, a: one, b: one}).Fill(ctx, dst)
	}
	mix := mixes(f)
	return frame.Bands(ctx, dst.H, band(dst.W), func(y0, y1 int) {
		buf := make([]float32, src.W+frame.LeftPad+frame.RightPad)
		line := buf[frame.LeftPad : frame.LeftPad+src.W : len(buf)]
		for p := range 3 {
			for y := y0; y < y1; y++ {
				v := (float64(y)+0.5)/float64(f) - 0.5
				i := int(math.Floor(v))
				t := float32(v - math.Floor(v))
				vec.Mix(line, src.Row(p, min(max(i, 0), src.H-1)), src.Row(p, min(i+1, src.H-1)), 1-t, t)
				buf[frame.LeftPad-1], buf[frame.LeftPad+src.W] = line[0], line[src.W-1]
				grow(dst.Row(p, y), buf[frame.LeftPad-1:frame.LeftPad+src.W+1], f, mix)
			}
		}
	})
}

// mixes are how far each of f samples lies from one sample of f times its width to the next.
func mixes(f int) []float32 {
	mix := make([]float32, f)
	for i := range mix {
		u := (float64(i)+0.5)/float64(f) - 0.5
		mix[i] = float32(u - math.Floor(u))
	}
	return mix
}

// grow adds a row, enlarged f times between its samples, to dst; src has its edge samples repeated on
// either side, and mix is how far each of f samples lies from one of src to the next.
func grow(dst, src []float32, f int, mix []float32) {
	half := f / 2 // so many of a block lie before its middle
	for i, x := 0, 0; x < len(dst); i++ {
		before, here, after := src[i], src[i+1], src[i+2]
		d := dst[x:min(x+f, len(dst))]
		m := mix[:len(d)]
		for k := range min(half, len(d)) {
			d[k] += before + (here-before)*m[k]
		}
		for k := half; k < len(d); k++ {
			d[k] += here + (after-here)*m[k]
		}
		x += len(d)
	}
}
