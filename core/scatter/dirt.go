package scatter

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"

	"velours/core/cache"
	"velours/core/frame"
)

// Dirt is what lies on the glass: specks and smears, out of focus, that light up where light falls on them and keep a little of it
// from the film. Every seed is another glass; sizes are fractions of the width, so that every raster shows the same.
type Dirt struct {
	Seed   uint64
	Specks float64 // how many, 1 for a glass that wants cleaning
	Smears float64 // how strong
	Size   float64 // against the usual size
}

// usualSpecks is how many specks a glass that wants cleaning has, and usualSmears how many strokes of a cloth.
const usualSpecks, usualSmears = 130, 7

var glasses = cache.Results[*frame.Frame]{Size: 8}

// Map is how much of the glass is covered at every place, 0 to 1, one plane. It is shared: read only.
func (d Dirt) Map(ctx context.Context, w, h int) (*frame.Frame, error) {
	return glasses.Get(fmt.Sprint(d, w, h), func() (*frame.Frame, error) { return d.draw(ctx, w, h) })
}

type speck struct{ x, y, r, edge, strength float64 }

type smear struct {
	x, y, cos, sin, long, wide, bend, strength, lines, phase float64
}

func (d Dirt) draw(ctx context.Context, w, h int) (*frame.Frame, error) {
	r := rand.New(rand.NewPCG(d.Seed, 0x6c656e73))
	aspect := float64(h) / float64(w)
	specks := make([]speck, int(math.Round(usualSpecks*d.Specks)))
	for i := range specks {
		specks[i] = speck{
			x: r.Float64(), y: r.Float64() * aspect,
			r:        0.0035 * d.Size * math.Exp(0.75*r.NormFloat64()),
			edge:     0.25 + 0.5*r.Float64(),
			strength: 0.25 + 0.75*r.Float64()*r.Float64(),
		}
	}
	smears := make([]smear, usualSmears)
	for i := range smears {
		a := r.Float64() * math.Pi
		smears[i] = smear{
			x: r.Float64(), y: r.Float64() * aspect, cos: math.Cos(a), sin: math.Sin(a),
			long: (0.10 + 0.18*r.Float64()) * d.Size, wide: (0.02 + 0.05*r.Float64()) * d.Size, bend: 3 * (r.Float64() - 0.5),
			strength: d.Smears * (0.2 + 0.5*r.Float64()), lines: (180 + 260*r.Float64()) / d.Size, phase: 6 * r.Float64(),
		}
	}
	out := frame.New(w, h, 1)
	unit := 1 / float64(w)
	return out, frame.Bands(ctx, h, 8, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			row := out.Row(0, y)
			v := (float64(y) + 0.5) * unit
			for _, s := range specks {
				dy := v - s.y
				if reach := s.r * (1 + s.edge); math.Abs(dy) < reach {
					across := math.Sqrt(reach*reach - dy*dy)
					for x := max(0, int((s.x-across)/unit)); x < min(w, int((s.x+across)/unit)+1); x++ {
						dx := (float64(x)+0.5)*unit - s.x
						c := s.strength * (1 - smooth((math.Hypot(dx, dy)/s.r-1+s.edge)/(2*s.edge)))
						row[x] += (1 - row[x]) * float32(c)
					}
				}
			}
			for _, s := range smears {
				if s.strength == 0 {
					continue
				}
				for x := range row {
					dx, dy := (float64(x)+0.5)*unit-s.x, v-s.y
					l, n := dx*s.cos+dy*s.sin, dy*s.cos-dx*s.sin
					n -= s.bend * l * l
					e := l*l/(s.long*s.long) + n*n/(s.wide*s.wide)
					if e > 6 {
						continue
					}
					// fine lines that a cloth leaves
					grain := 0.6 + 0.4*math.Sin(n*s.lines+s.phase+3*math.Sin(l*9+s.phase))
					row[x] += (1 - row[x]) * float32(s.strength*math.Exp(-e)*grain)
				}
			}
		}
	})
}
