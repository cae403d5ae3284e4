package scatter

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/vec"
)

// Source is the light that feeds a glow: what is brighter than From, coming in over the Knee below it, and darker than To,
// going out over the Knee above it; stops from mid grey. Spots smaller than Detail, a fraction of the width, do not feed it.
type Source struct {
	From, To, Knee float64
	Detail         float64
}

// AllLight feeds a glow with everything.
var AllLight = Source{From: math.Inf(-1), To: math.Inf(1)}

func (s Source) ranged() bool { return !math.IsInf(s.From, -1) || !math.IsInf(s.To, 1) }
func (s Source) all() bool    { return !s.ranged() && s.Detail == 0 }

// Share is the share of light of so many stops from mid grey that feeds the glow.
func (s Source) Share(stops float64) float64 {
	k := max(s.Knee, 1e-3)
	share := 1.0
	if !math.IsInf(s.From, -1) {
		share = smooth((stops - s.From + k) / k)
	}
	if !math.IsInf(s.To, 1) {
		share *= 1 - smooth((stops-s.To)/k)
	}
	return share
}

// smooth goes from 0 at 0 to 1 at 1 without a corner.
func smooth(t float64) float64 {
	t = min(max(t, 0), 1)
	return t * t * (3 - 2*t)
}

func smooth32(t float32) float32 {
	t = min(max(t, 0), 1)
	return t * t * (3 - 2*t)
}

// cover is the share of every pixel's light that feeds the glow, times that of a matte if there is one.
func (s Source) cover(ctx context.Context, src, matte *frame.Frame, luma [3]float64) (*frame.Frame, error) {
	out := frame.Get(src.W, src.H, 1)
	if err := frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		stops := make([]float32, src.W, src.W+frame.RightPad)
		for y := y0; y < y1; y++ {
			d := out.Row(0, y)
			if !s.ranged() {
				for x := range d {
					d[x] = 1
				}
			} else {
				stopsRow(stops, [3][]float32{src.Row(0, y), src.Row(1, y), src.Row(2, y)}, luma)
				s.row(d, stops)
			}
			if matte != nil {
				for x, m := range matte.Row(0, y) {
					d[x] *= m
				}
			}
		}
	}); err != nil {
		return nil, err
	}
	if s.Detail > 0 {
		return out, s.reject(ctx, out, src, luma)
	}
	return out, nil
}

func (s Source) row(d, stops []float32) {
	from, to, k := float32(s.From), float32(s.To), float32(max(s.Knee, 1e-3))
	low, high := !math.IsInf(s.From, -1), !math.IsInf(s.To, 1)
	for x, v := range stops {
		share := float32(1)
		if low {
			share = smooth32((v - from + k) / k)
		}
		if high {
			share *= 1 - smooth32((v-to)/k)
		}
		d[x] = share
	}
}

// stopsRow is luminance in stops from mid grey.
func stopsRow(dst []float32, c [3][]float32, luma [3]float64) {
	vec.Mix(dst, c[0], c[1], float32(luma[0]/midGrey), float32(luma[1]/midGrey))
	vec.Mix(dst, dst, c[2], 1, float32(luma[2]/midGrey))
	vec.Log2(dst, dst, 1e-12)
}

// reject takes spots out of a cover that are smaller than Detail: a spot is what is far brighter than its surroundings,
// averaged by a bell of half that deviation. In the middle of a disc of radius r the average has 1 − exp(−r²/2σ²) of its
// brightness; from 0.2 to 0.6 of it a spot comes to count.
func (s Source) reject(ctx context.Context, cover, src *frame.Frame, luma [3]float64) error {
	grey := frame.Get(src.W, src.H, 3)
	defer grey.Release()
	if err := frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			d := grey.Row(0, y)
			vec.Mix(d, src.Row(0, y), src.Row(1, y), float32(luma[0]), float32(luma[1]))
			vec.Mix(d, d, src.Row(2, y), 1, float32(luma[2]))
			for p := 1; p < 3; p++ {
				clear(grey.Row(p, y))
			}
		}
	}); err != nil {
		return err
	}
	around, err := Blur(ctx, grey, []Gaussian{{s.Detail / 2 * float64(src.W), 1}})
	if err != nil {
		return err
	}
	defer around.Release()
	return frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			d, a, g := cover.Row(0, y), around.Row(0, y), grey.Row(0, y)
			for x := range d {
				if g[x] > 0 {
					d[x] *= smooth32((a[x]/g[x] - 0.2) / 0.4)
				}
			}
		}
	})
}

// Hold keeps a glow away by the brightness of the picture itself, in stops from mid grey: by a share Darks from what is 3 stops
// darker than Below, and by a share Cores from what is 2 stops brighter than Above; in between it comes in softly.
type Hold struct {
	Darks, Below float64
	Cores, Above float64
}

// Share is how much of the glow a brightness takes.
func (h Hold) Share(stops float64) float64 {
	return (1 - h.Darks*(1-smooth((stops-h.Below+3)/3))) * (1 - h.Cores*smooth((stops-h.Above)/2))
}

func (h Hold) row(dst []float32, c [3][]float32, luma [3]float64) {
	stopsRow(dst, c, luma)
	darks, below, cores, above := float32(h.Darks), float32(h.Below), float32(h.Cores), float32(h.Above)
	for x, v := range dst {
		dst[x] = (1 - darks*(1-smooth32((v-below+3)/3))) * (1 - cores*smooth32((v-above)/2))
	}
}
