package scatter

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/vec"
)

// Flare is light that goes astray between the surfaces of a lens: a veil over all of the frame, streaks through its source, and
// ghosts, which are images of the source, out of focus and turned about the middle of the frame. All are shares of the light that
// feeds it. Every seed is another lens: its streaks and ghosts are of different lengths, sizes and colours.
type Flare struct {
	Seed uint64
	// Veil is the share that is spread over the frame.
	Veil float64
	// Streaks takes the share Streak, in Rays lines through the source, the first at Angle degrees, each as long as Length (a
	// fraction of the width, to where little is left), the brighter near its source the greater Taper, 0 to 1.
	Streak, Length, Angle, Taper float64
	Rays                         int
	StreakColour                 colour.Matrix
	// Ghosts are so many images with the share Ghost together, of the size Size (1 as usual); Variety, 0 to 1, is how colourful.
	Ghost, Size, Variety float64
	Ghosts               int
	// Lamp, if set, is a source placed by hand, which may lie outside the frame.
	Lamp *Lamp
}

// Lamp is a disc of light: its middle in shares of width and height, its radius as a fraction of the width.
type Lamp struct {
	X, Y, Radius float64
	Light        [3]float64
}

// Key tells flares apart.
func (f *Flare) Key() string {
	lamp := ""
	if f.Lamp != nil {
		lamp = fmt.Sprint(*f.Lamp)
	}
	c := *f
	c.Lamp = nil
	return fmt.Sprint("flare", c, lamp)
}

// Taken is the share of the light that goes astray.
func (f *Flare) Taken() [3]float64 {
	t := f.Veil + f.Streak + f.Ghost
	return [3]float64{t, t, t}
}

// Uniform is false: ghosts have colours.
func (f *Flare) Uniform() bool { return false }

// Shines tells that there is light of its own.
func (f *Flare) Shines() bool { return f.Lamp != nil }

// Start is nil: a flare needs the full picture.
func (f *Flare) Start(context.Context, *frame.Frame, float64) (*Spread, error) { return nil, nil }

// Run is a picture with its own flare.
func (f *Flare) Run(ctx context.Context, src *frame.Frame, gain float64) (*frame.Frame, error) {
	flare, _, err := f.Scattered(ctx, src, false)
	if err != nil {
		return nil, err
	}
	defer flare.Release()
	taken := f.Taken()
	out := frame.Get(src.W, src.H, src.Planes)
	return out, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		for p := range src.Planes {
			for y := y0; y < y1; y++ {
				if p > 2 {
					copy(out.Row(p, y), src.Row(p, y))
					continue
				}
				vec.Mix(out.Row(p, y), src.Row(p, y), flare.Row(p, y), float32(gain*(1-taken[p])), float32(gain))
			}
		}
	})
}

// The widths of the pictures on which streaks and ghosts are drawn: ghosts are far out of focus.
const streakWidth, ghostWidth = 1280, 400

// Scattered is the flare alone.
func (f *Flare) Scattered(ctx context.Context, light *frame.Frame, _ bool) (near, far *frame.Frame, err error) {
	small := light
	if light.W > streakWidth {
		if small, err = frame.Scale(ctx, light, streakWidth, max(1, int(math.Round(float64(light.H)*streakWidth/float64(light.W))))); err != nil {
			return nil, nil, err
		}
		defer small.Release()
	}
	out := frame.New(light.W, light.H, 3)
	parts := []struct {
		share float64
		width int
		draw  func(ctx context.Context, c *canvas) (*frame.Frame, error)
	}{{f.Veil + f.Ghost, ghostWidth, f.soft}, {f.Streak, streakWidth, f.streaks}}
	for _, p := range parts {
		if p.share == 0 {
			continue
		}
		c, err := f.canvas(ctx, small, p.width)
		if err != nil {
			return nil, nil, err
		}
		drawn, err := p.draw(ctx, c)
		if err == nil {
			err = addEnlarged(ctx, out, drawn)
		}
		if err != nil {
			return nil, nil, err
		}
	}
	return out, nil, nil
}

// addEnlarged adds src, bilinearly enlarged to the size of dst, to it.
func addEnlarged(ctx context.Context, dst, src *frame.Frame) error {
	between := func(i, from, to int) (int, float32) {
		v := max((float64(i)+0.5)*float64(from)/float64(to)-0.5, 0)
		k := min(int(v), max(from-2, 0))
		return k, min(float32(v-float64(k)), 1)
	}
	at, t := make([]int, dst.W), make([]float32, dst.W)
	for x := range at {
		at[x], t[x] = between(x, src.W, dst.W)
	}
	return frame.Bands(ctx, dst.H, band(dst.W), func(y0, y1 int) {
		line := make([]float32, src.W+1, src.W+1+frame.RightPad)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				j, k := between(y, src.H, dst.H)
				vec.Mix(line[:src.W], src.Row(p, j), src.Row(p, min(j+1, src.H-1)), 1-k, k)
				line[src.W] = line[src.W-1]
				row := dst.Row(p, y)
				for x, i := range at {
					row[x] += line[i] + (line[i+1]-line[i])*t[x]
				}
			}
		}
	})
}

// canvas is light on a smaller picture, with room around the frame: W×H of it at X, Y.
type canvas struct {
	*frame.Frame
	x, y, w, h int
}

func (f *Flare) canvas(ctx context.Context, light *frame.Frame, width int) (*canvas, error) {
	w := min(width, light.W)
	h := max(1, int(math.Round(float64(light.H)*float64(w)/float64(light.W))))
	small, err := frame.Scale(ctx, light, w, h)
	if err != nil {
		return nil, err
	}
	// dark all around: what lies at the edge of the frame does not go on beyond it
	room := 0.08
	if l := f.Lamp; l != nil {
		for _, p := range [4]float64{-l.X, l.X - 1, -l.Y, l.Y - 1} {
			room = max(room, p+0.1)
		}
	}
	side := int(math.Ceil(room * float64(w)))
	c := &canvas{frame.New(w+2*side, h+2*side, 3), side, side, w, h}
	for p := range 3 {
		for y := range h {
			copy(c.Row(p, side+y)[side:], small.Row(p, y))
		}
	}
	if f.Lamp != nil {
		c.light(f.Lamp)
	}
	return c, nil
}

// light adds a lamp, no smaller than a few samples, with as much light.
func (c *canvas) light(l *Lamp) {
	r := max(l.Radius*float64(c.w), 1.5)
	scale := math.Pow(l.Radius*float64(c.w)/r, 2)
	lx, ly := float64(c.x)+l.X*float64(c.w), float64(c.y)+l.Y*float64(c.h)
	// it reaches a sample beyond its radius
	x0, x1 := inFrame(lx-r-2, c.W), inFrame(lx+r+2, c.W)
	y0, y1 := inFrame(ly-r-2, c.H), inFrame(ly+r+2, c.H)
	for p := range 3 {
		for y := y0; y < y1; y++ {
			row := c.Row(p, y)
			for x := x0; x < x1; x++ {
				d := math.Hypot(float64(x)+0.5-lx, float64(y)+0.5-ly) - r
				if d < 1 {
					row[x] += float32(scale * l.Light[p] * (1 - smooth((d+1)/2)))
				}
			}
		}
	}
}

// inFrame is a place held to 0…n.
func inFrame(v float64, n int) int { return int(min(max(v, 0), float64(n))) }

// seen is the part of a picture of the canvas that lies in the frame.
func (c *canvas) seen(f *frame.Frame) *frame.Frame { return f.Crop(c.x, c.y, c.w, c.h) }

// streaks draws lines through every source: of blurs along a direction, each twice as long as the one before, which together
// fall off from the source.
func (f *Flare) streaks(ctx context.Context, c *canvas) (*frame.Frame, error) {
	dice := rand.New(rand.NewPCG(f.Seed, 0x73747265616b))
	sum := frame.New(c.W, c.H, 3)
	var weights []float64
	total := 0.0
	type ray struct{ length, turn, weight float64 }
	rays := make([]ray, max(f.Rays, 1))
	for i := range rays {
		rays[i] = ray{0.7 + 0.6*dice.Float64(), f.Angle + 180*float64(i)/float64(len(rays)) + 2*(dice.Float64()-0.5), 0.6 + 0.8*dice.Float64()}
		if len(rays) == 1 {
			rays[i].length, rays[i].turn, rays[i].weight = 1, f.Angle, 1
		}
		total += rays[i].weight
	}
	for _, r := range rays {
		l := &line{}
		l.dy, l.dx = math.Sincos(r.turn * math.Pi / 180)
		length := max(f.Length*r.length*float64(c.w), 4)
		n := int(math.Ceil(math.Log2(length)))
		first := length / math.Exp2(float64(n))
		weights = weights[:0]
		all := 0.0
		for k := range n {
			// at Taper 0 the longest alone; the greater, the more of the shorter ones
			w := math.Pow(1.25*f.Taper, float64(n-1-k))
			weights = append(weights, w)
			all += w
		}
		at := c.Frame
		for k := range n {
			d := first * math.Exp2(float64(k))
			// red goes a little further
			next, err := l.stage(ctx, at, [3]float64{1.06 * d, d, 0.94 * d})
			if at != c.Frame {
				at.Release()
			}
			if err != nil {
				return nil, err
			}
			at = next
			share := float32(f.Streak * r.weight / total * weights[k] / all)
			if share == 0 {
				continue
			}
			if err := frame.Bands(ctx, c.H, band(c.W), func(y0, y1 int) {
				for p := range 3 {
					for y := y0; y < y1; y++ {
						s := sum.Row(p, y)
						vec.Mix(s, s, at.Row(p, y), 1, share)
					}
				}
			}); err != nil {
				return nil, err
			}
		}
		at.Release()
	}
	m := f.StreakColour.Row12()
	for y := range sum.H {
		vec.Matrix(sum.Row(0, y), sum.Row(1, y), sum.Row(2, y), &m)
	}
	return c.seen(sum), nil
}

// ghost is one image of the light: Scale times as large as it and turned about the middle, a negative scale leaves it
// upright; out of focus by a radius, as a fraction of the width.
type ghost struct {
	scale, radius, rim, share float64
	colour                    [3]float64
}

// ghosts are those of the lens.
func (f *Flare) ghosts() []ghost {
	dice := rand.New(rand.NewPCG(f.Seed, 0x67686f7374))
	out := make([]ghost, f.Ghosts)
	total := 0.0
	for i := range out {
		g := &out[i]
		g.scale = 0.25 + 1.15*math.Pow(dice.Float64(), 1.3)
		if dice.Float64() < 0.3 {
			g.scale = -g.scale * 0.6
		}
		g.radius = f.Size * (0.012 + 0.07*math.Pow(dice.Float64(), 2))
		g.rim = 1.3*dice.Float64() - 0.4
		g.share = 0.3 + dice.Float64()
		hue := 2 * math.Pi * dice.Float64()
		for c := range g.colour {
			g.colour[c] = 1 + 0.5*f.Variety*math.Cos(hue-2*math.Pi*float64(c)/3)
		}
		total += g.share
	}
	for i := range out {
		out[i].share *= f.Ghost / total
	}
	return out
}

// soft draws what is far out of focus: the veil, and the ghosts.
func (f *Flare) soft(ctx context.Context, c *canvas) (*frame.Frame, error) {
	out := frame.New(c.w, c.h, 3)
	if f.Veil > 0 {
		for p := range 3 {
			sum := 0.0
			for y := range c.H {
				for _, v := range c.Row(p, y) {
					sum += float64(v)
				}
			}
			v := float32(f.Veil * sum / float64(c.w*c.h))
			for y := range c.h {
				row := out.Row(p, y)
				for x := range row {
					row[x] += v
				}
			}
		}
	}
	for _, g := range f.ghosts() {
		if g.share == 0 {
			continue
		}
		// blurred before it is scaled, so that nothing of a small source is missed
		blurred, err := blurredByDisc(ctx, c.Frame, max(g.radius*float64(c.w)/math.Abs(g.scale), 1.5/math.Abs(g.scale)), g.rim)
		if err != nil {
			return nil, err
		}
		mx, my := float64(c.w)/2, float64(c.h)/2
		if err := frame.Bands(ctx, c.h, 16, func(y0, y1 int) {
			for p := range 3 {
				k := float32(g.share * g.colour[p] / (g.scale * g.scale))
				for y := y0; y < y1; y++ {
					row := out.Row(p, y)
					v := my - (float64(y)+0.5-my)/g.scale + float64(c.y) - 0.5
					if v < 0 || v > float64(c.H-1) {
						continue
					}
					for x := range row {
						u := mx - (float64(x)+0.5-mx)/g.scale + float64(c.x) - 0.5
						if u >= 0 && u <= float64(c.W-1) { // beyond there is no light
							row[x] += k * blurred.Sample(p, u, v)
						}
					}
				}
			}
		}); err != nil {
			return nil, err
		}
		blurred.Release()
	}
	return out, nil
}
