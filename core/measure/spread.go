package measure

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

// Spread is what becomes of a point of white light before film is developed: how the steps of a look spread it.
type Spread struct {
	// Width is that of the square picture in the middle of which the point lies, in pixels; Light its brightness in stops from
	// mid grey.
	Width int     `json:"width"`
	Light float64 `json:"light"`
	// Energy is the light that there is in the end against the light that came, channel by channel.
	Energy [3]float64 `json:"energy"`
	// Transfers are what is left of contrasts across the picture, Profile how much light lies around the point.
	Transfers []SpreadTransfer `json:"transfer"`
	Profile   []SpreadRing     `json:"profile"`
	Halo      SpreadHalo       `json:"halo"`
}

// SpreadTransfer is what is left of a horizontal contrast of so many cycles across the width.
type SpreadTransfer struct {
	Cycles float64    `json:"cycles"`
	RGB    [3]float64 `json:"rgb"`
}

// SpreadRing is the mean light at a radius, in per cent of the width, as a share of the point's for an area of one per cent of
// the width squared.
type SpreadRing struct {
	Radius float64    `json:"radius"`
	RGB    [3]float64 `json:"rgb"`
}

// SpreadHalo is all light outside the point: its share of what came, and its colour as that of Oklab, hue in degrees.
type SpreadHalo struct {
	RGB    [3]float64 `json:"rgb"`
	Hue    float64    `json:"hue"`
	Chroma float64    `json:"chroma"`
}

// Share is the halo's share of the light that came, by luminance.
func (h SpreadHalo) Share() float64 {
	luma := colour.AP1.ToXYZ()
	return luma[3]*h.RGB[0] + luma[4]*h.RGB[1] + luma[5]*h.RGB[2]
}

// UsualCycles are the contrasts that are measured where none are named.
var UsualCycles = []float64{3, 30, 150, 600}

// coreRadius is how far the point itself reaches, in pixels.
const coreRadius = 1.5

// MeasureSpread spreads a point through a look. Width goes from 64 to 4096 pixels, light from −10 to 16 stops, cycles up to
// half the width.
func MeasureSpread(ctx context.Context, l *look.Look, width int, light float64, cycles []float64) (*Spread, error) {
	switch {
	case width < 64 || width > 4096:
		return nil, fmt.Errorf("a width of %d; it goes from 64 to 4096 pixels", width)
	case !(light >= -10 && light <= 16):
		return nil, fmt.Errorf("a light of %g stops; it goes from -10 to 16", light)
	}
	for _, c := range cycles {
		if !(c >= 0 && c <= float64(width)/2) {
			return nil, fmt.Errorf("%g cycles; a picture of %d pixels has 0 to %g", c, width, float64(width)/2)
		}
	}
	at := width / 2
	point := 0.18 * math.Exp2(light)
	src := frame.New(width, width, 3)
	for p := range 3 {
		src.Row(p, at)[at] = float32(point)
	}
	plan, err := render.CompileExposure(ctx, l, colour.Working(), render.Raster{W: width, H: width})
	if err != nil {
		return nil, err
	}
	f, err := render.NewRenderer(0).Render(ctx, plan, render.Still{Picture: src}, 0)
	if err != nil {
		return nil, err
	}
	s := &Spread{Width: width, Light: light}
	share := func(v float32) float64 { return float64(v) / point }
	lines := [3][]float64{}
	radii := radiiOf(width)
	sums, counts := make([][3]float64, len(radii)), make([]float64, len(radii))
	for p := range 3 {
		lines[p] = make([]float64, width)
	}
	for y := range width {
		rows := [3][]float32{f.Row(0, y), f.Row(1, y), f.Row(2, y)}
		for x := range width {
			d := math.Hypot(float64(x-at), float64(y-at))
			ring := ringOf(d, radii)
			for p := range 3 {
				v := share(rows[p][x])
				lines[p][x] += v
				if d > coreRadius {
					s.Halo.RGB[p] += v
				}
				if ring >= 0 {
					sums[ring][p] += v
				}
			}
			if ring >= 0 {
				counts[ring]++
			}
		}
	}
	for p := range 3 {
		for _, v := range lines[p] {
			s.Energy[p] += v
		}
	}
	for _, c := range cycles {
		t := SpreadTransfer{Cycles: c}
		for p := range 3 {
			for x, v := range lines[p] {
				t.RGB[p] += v * math.Cos(2*math.Pi*c*float64(x-at)/float64(width))
			}
		}
		s.Transfers = append(s.Transfers, t)
	}
	// of a pixel to that of one per cent of the width squared
	area := math.Pow(float64(width)/100, 2)
	for i, r := range radii {
		if counts[i] == 0 {
			continue
		}
		ring := SpreadRing{Radius: 100 * r / float64(width)}
		for p := range 3 {
			ring.RGB[p] = sums[i][p] / counts[i] * area
		}
		s.Profile = append(s.Profile, ring)
	}
	if sum := s.Halo.RGB[0] + s.Halo.RGB[1] + s.Halo.RGB[2]; sum > 1e-9 {
		k := 3 * 0.18 / sum // as bright as grey: chroma depends on brightness
		_, a, b := grade.Lab([3]float64{k * s.Halo.RGB[0], k * s.Halo.RGB[1], k * s.Halo.RGB[2]})
		s.Halo.Hue = math.Mod(math.Atan2(b, a)*180/math.Pi+360, 360)
		s.Halo.Chroma = math.Hypot(a, b)
	}
	return s, nil
}

// ringStep is how many times as wide each ring is as the one inside it.
const ringStep = 1.05

// radiiOf are the radii at which rings lie, in pixels: the point, then each a twentieth wider.
func radiiOf(width int) []float64 {
	out := []float64{0}
	for r := 2.0; r < float64(width)/2; r *= ringStep {
		out = append(out, r)
	}
	return out
}

// ringOf is the ring that a distance belongs to, half way to its neighbours; −1 for none.
func ringOf(d float64, radii []float64) int {
	if d < 0.5 {
		return 0
	}
	if d < radii[1]/math.Sqrt(ringStep) {
		return -1
	}
	i := int(math.Round(math.Log(d/radii[1])/math.Log(ringStep))) + 1
	if i < 1 || i >= len(radii) {
		return -1
	}
	return i
}
