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
	return out, addRing(ctx, out, src, Removed(h.Thickness, h.Index), perMM, 1-share, returned)
}

// Haloed is Halate up to its last step, for one who wants the rows; it is nil if the halo has parts
// that need the full picture: a ring, or a raster so coarse that the halo is narrow.
func Haloed(ctx context.Context, src *frame.Frame, h Halo, perMM float64) (*Spread, error) {
	share, direct, returned := h.parts()
	if share < 1 {
		return nil, nil
	}
	return wideSpread(ctx, src, h.terms(share, perMM), direct, returned)
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

// ringPitch is the grid, in mm, on which a ring is computed.
const ringPitch = 0.035

// addRing adds weight·gain times the spread of a bare base to dst: the exposure is averaged over blocks
// of about ringPitch, convolved by the separable terms, and brought back bilinearly.
func addRing(ctx context.Context, dst, src *frame.Frame, b Base, perMM, weight float64, gain [3]float32) error {
	f := max(1, int(math.Round(ringPitch*perMM)))
	low, err := shrink(ctx, src, f)
	if err != nil {
		return err
	}
	s := sample(b, float64(f)/perMM)
	r := s.taps[0].Reach()
	sum := frame.New(low.H, low.W, 3) // turned on its side
	for k, taps := range s.taps {
		across, err := tapsRows(ctx, low, taps, r)
		if err != nil {
			return err
		}
		turned := transpose(across)
		if err := frame.Bands(ctx, turned.H, band(turned.W), func(y0, y1 int) {
			line := make([]float32, turned.W+2*r+frame.RightPad)
			out := make([]float32, turned.W, turned.W+frame.RightPad)
			for p := range 3 {
				for y := y0; y < y1; y++ {
					replicate(line, turned.Row(p, y), r)
					vec.Taps(out, line[:turned.W+2*r], taps)
					d := sum.Row(p, y)
					vec.Mix(d, d, out, 1, s.weights[k]*float32(weight)*gain[p])
				}
			}
		}); err != nil {
			return err
		}
	}
	return addGrown(ctx, dst, transpose(sum), f)
}

func tapsRows(ctx context.Context, src *frame.Frame, taps *vec.Symmetric, r int) (*frame.Frame, error) {
	out := frame.New(src.W, src.H, 3)
	err := frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		line := make([]float32, src.W+2*r+frame.RightPad)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				replicate(line, src.Row(p, y), r)
				vec.Taps(out.Row(p, y), line[:src.W+2*r], taps)
			}
		}
	})
	return out, err
}

func transpose(f *frame.Frame) *frame.Frame {
	g := frame.New(f.H, f.W, f.Planes)
	const tile = 32
	for p := range f.Planes {
		for y0 := 0; y0 < f.H; y0 += tile {
			for x0 := 0; x0 < f.W; x0 += tile {
				for y := y0; y < min(y0+tile, f.H); y++ {
					row := f.Row(p, y)
					for x := x0; x < min(x0+tile, f.W); x++ {
						g.Row(p, x)[y] = row[x]
					}
				}
			}
		}
	}
	return g
}

// shrink averages blocks of f×f; the last block of a row or column may be smaller.
func shrink(ctx context.Context, src *frame.Frame, f int) (*frame.Frame, error) {
	if f == 1 {
		return src, nil
	}
	dst := frame.New((src.W+f-1)/f, (src.H+f-1)/f, 3)
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
	at := make([]int32, dst.W)
	mix := make([]float32, dst.W)
	for x := range at {
		u := (float64(x)+0.5)/float64(f) - 0.5
		at[x] = int32(math.Floor(u)) + 1 // into a row with one sample before it
		mix[x] = float32(u - math.Floor(u))
	}
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
				s, d := buf[frame.LeftPad-1:], dst.Row(p, y)
				for x := range d {
					a, b := s[at[x]], s[at[x]+1]
					d[x] += a + (b-a)*mix[x]
				}
			}
		}
	})
}
