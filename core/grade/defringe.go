package grade

import (
	"context"
	"math"

	"velours/core/frame"
)

// Fringes are colours that a lens leaves along strong edges, to be taken out: what parts from the surroundings' colour in a range of hues, where light
// changes much within a short way.
type Fringes struct {
	// Purple and Green are how much of either is taken out, 0 to 1; their hues are in degrees of Oklab, and Range is how far to either side of
	// them colours count, falling off over the outer half.
	Purple, Green       float64
	PurpleHue, GreenHue float64
	Range               float64
}

// An edge is where light changes by edgeFrom stops within the reach of fringes; from edgeWhole stops on they are taken out wholly.
const edgeFrom, edgeWhole = 0.6, 1.8

// taken is how much of a colour's parting is taken out by its hue.
func (f *Fringes) taken(hue float64) float64 {
	near := func(centre, amount float64) float64 {
		away := math.Abs(math.Mod(hue-centre+540, 360) - 180)
		return amount * smooth(2*(1-away/f.Range))
	}
	return min(near(f.PurpleHue, f.Purple)+near(f.GreenHue, f.Green), 1)
}

// TakeOut takes fringes out of scene light, in place: soft is it softened by the reach of fringes, reach pixels, wide by some times as much.
// Lightness (of Oklab) and the light of greys stay.
func (f *Fringes) TakeOut(ctx context.Context, light, soft, wide *frame.Frame, reach int) error {
	const dark = 1e-3 // of light, below which edges are not told
	w, h := light.W, light.H
	level := func(x, y int) float64 {
		x, y = min(max(x, 0), w-1), min(max(y, 0), h-1)
		return float64(soft.Row(0, y)[x]+2*soft.Row(1, y)[x]+soft.Row(2, y)[x]) / 4
	}
	return frame.Bands(ctx, h, 16, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			r, g, b := light.Row(0, y), light.Row(1, y), light.Row(2, y)
			for x := range r {
				left, right, up, down := level(x-reach, y), level(x+reach, y), level(x, y-reach), level(x, y+reach)
				ratio := max((max(left, right)+dark)/(max(min(left, right), 0)+dark), (max(up, down)+dark)/(max(min(up, down), 0)+dark))
				if ratio < 1.516 { // edgeFrom stops
					continue
				}
				edge := smooth((math.Log2(ratio) - edgeFrom) / (edgeWhole - edgeFrom))
				l, p, q := Lab([3]float64{float64(r[x]), float64(g[x]), float64(b[x])})
				lw, pw, qw := Lab([3]float64{float64(wide.Row(0, y)[x]), float64(wide.Row(1, y)[x]), float64(wide.Row(2, y)[x])})
				if l <= 0 || lw <= 0 {
					continue
				}
				dp, dq := p/l-pw/lw, q/l-qw/lw
				hue := math.Mod(math.Atan2(dq, dp)*180/math.Pi+360, 360)
				k := edge * f.taken(hue)
				if k == 0 {
					continue
				}
				c := FromLab(l, p-k*dp*l, q-k*dq*l)
				r[x], g[x], b[x] = float32(c[0]), float32(c[1]), float32(c[2])
			}
		}
	})
}
