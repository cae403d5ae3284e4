package scatter

import (
	"context"
	"fmt"
	"math"

	"velours/core/cache"
	"velours/core/frame"
	"velours/core/vec"
)

// Net is the grating of a stretched net: threads of Width at every Pitch (mm) across and down, turned by Turn degrees, before
// a lens of a focal length over a gate of a width (mm). A bar grating passes a² of the light straight on and spreads the rest
// along both of its directions, under an envelope sinc² with its first zero at wavelength·focal/width; the orders of irregular
// threads fuse. Grade is the number of nets, or the part of one.
type Net struct {
	Grade, Turn  float64
	Pitch, Width float64
	Focal, Gate  float64
}

// wavelengths of red, green and blue light, in mm.
var wavelengths = [3]float64{0.62e-3, 0.54e-3, 0.46e-3}

// open is the share that passes along one axis undiffracted.
func (n Net) open() float64 { return math.Pow(1-n.Width/n.Pitch, n.Grade) }

// cutoff is the contrast, in cycles across the picture, from which on nothing of an arm is left.
func (n Net) cutoff(channel int) float64 {
	return n.Gate * n.Width / (wavelengths[channel] * n.Focal)
}

// Transfer is how much of a contrast along one of the net's axes is left in each channel: a + (1−a)·(1 − ν/cutoff).
func (n Net) Transfer(cycles float64) [3]float64 {
	var out [3]float64
	a := n.open()
	for i := range out {
		out[i] = a + (1-a)*max(0, 1-cycles/n.cutoff(i))
	}
	return out
}

// armReach is how far an arm is drawn at most, in samples of the coarse rows on which it is, and armSamples how many of those lie in the
// distance of the first zero: an arm has no finer detail along itself than a quarter of that.
const armReach, armSamples = 31, 5

// through is what light becomes behind the net.
func (n Net) through(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	once, err := n.arm(ctx, src, n.Turn)
	if err != nil {
		return nil, err
	}
	defer once.Release()
	return n.arm(ctx, once, n.Turn+90)
}

// arm spreads light along one direction, in degrees from the horizontal.
func (n Net) arm(ctx context.Context, src *frame.Frame, turn float64) (*frame.Frame, error) {
	dy, dx := math.Sincos(turn * math.Pi / 180)
	if math.Abs(dx) >= math.Abs(dy)-1e-9 {
		return n.across(ctx, src, dy/dx, math.Abs(dx), src.W)
	}
	on, err := transposed(ctx, src)
	if err != nil {
		return nil, err
	}
	defer on.Release()
	drawn, err := n.across(ctx, on, dx/dy, math.Abs(dy), src.W)
	if err != nil {
		return nil, err
	}
	defer drawn.Release()
	return transposed(ctx, drawn)
}

// across draws an arm that falls by slope (at most 1 either way) from a sample to the next: rows are shifted so that it lies along
// them. A step across is 1/cos of one along the arm; the picture is width wide where it stands upright.
func (n Net) across(ctx context.Context, src *frame.Frame, slope, cos float64, width int) (*frame.Frame, error) {
	if math.Abs(slope) < 1e-9 {
		slope = 0
	}
	var fir [3]*armRow
	for p := range fir {
		fir[p] = newArmRow(float64(width)/n.cutoff(p)*cos, src.W)
	}
	a := float32(n.open())
	out := frame.Get(src.W, src.H, 3)
	if slope == 0 {
		return out, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
			buf := make([]float32, src.W, src.W+frame.RightPad)
			for p := range 3 {
				draw := fir[p].draws()
				for y := y0; y < y1; y++ {
					copy(buf, src.Row(p, y))
					draw(buf)
					vec.Mix(out.Row(p, y), src.Row(p, y), buf, a, 1-a)
				}
			}
		})
	}
	down, up := newOblique(slope, src.W), newOblique(-slope, src.W)
	fall := int(math.Ceil(math.Abs(slope)*float64(src.W))) + 1
	above := 0 // rows that the shifted picture has above
	if slope > 0 {
		above = fall
	}
	shifted := frame.Get(src.W, src.H+fall, 3)
	defer shifted.Release()
	err := frame.Bands(ctx, shifted.H, band(src.W), func(y0, y1 int) {
		for p := range 3 {
			draw := fir[p].draws()
			for y := y0; y < y1; y++ {
				row := shifted.Row(p, y)
				down.read(row, src, p, y-above)
				draw(row)
			}
		}
	})
	if err != nil {
		return nil, err
	}
	return out, frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
		buf := make([]float32, src.W, src.W+frame.RightPad)
		for p := range 3 {
			for y := y0; y < y1; y++ {
				up.read(buf, shifted, p, y+above)
				vec.Mix(out.Row(p, y), src.Row(p, y), buf, a, 1-a)
			}
		}
	})
}

// oblique is a line that falls by a slope from sample to sample, as pieces that lie between the same two rows.
type oblique struct {
	pieces []piece
	part   []float32 // of every sample, how far the line lies from the upper row to the lower
}

type piece struct{ from, to, down int }

func newOblique(slope float64, width int) *oblique {
	o := &oblique{part: make([]float32, width)}
	for x := range width {
		at := slope * float64(x)
		down := int(math.Floor(at))
		o.part[x] = float32(at - float64(down))
		if n := len(o.pieces); n > 0 && o.pieces[n-1].down == down {
			o.pieces[n-1].to = x + 1
		} else {
			o.pieces = append(o.pieces, piece{x, x + 1, down})
		}
	}
	return o
}

// read sets row to what lies on the line that begins in row y, between rows linearly.
func (o *oblique) read(row []float32, src *frame.Frame, p, y int) {
	for _, s := range o.pieces {
		a := src.Row(p, min(max(y+s.down, 0), src.H-1))[s.from:s.to]
		b := src.Row(p, min(max(y+s.down+1, 0), src.H-1))[s.from:s.to]
		d, t := row[s.from:s.to], o.part[s.from:s.to]
		for x := range d {
			d[x] = a[x] + (b[x]-a[x])*t[x]
		}
	}
}

// armRow draws an arm along a row: on coarse samples, each the mean of block, with an odd response, and back between them
// linearly. What lies further off than that response reaches is drawn on samples armTail times as coarse.
type armRow struct {
	block, coarse int
	*armResponse
}

// armTail is how many coarse samples make one of the tail's.
const armTail = 8

type armResponse struct{ near, tail *vec.Symmetric }

// newArmRow is for an envelope whose first zero lies so many samples off, in rows of width.
func newArmRow(zero float64, width int) *armRow {
	block := max(1, int(zero/armSamples))
	r, _ := armResponses.Get(fmt.Sprintf("%.5g", zero), func() (*armResponse, error) { return newArmResponse(zero, block), nil })
	return &armRow{block, (width + block - 1) / block, r}
}

var armResponses = cache.Results[*armResponse]{Size: 64}

func newArmResponse(zero float64, block int) *armResponse {
	// the response whose transfer is the triangle, less what averaging and bringing back take of it
	z := zero / float64(block)
	const steps = 4000
	var transfer [steps]float64
	for k := range transfer {
		v := (float64(k) + 0.5) / steps / 2
		box := 1.0
		if block > 1 {
			box = math.Sin(math.Pi*v) / (float64(block) * math.Sin(math.Pi*v/float64(block)))
		}
		transfer[k] = max(0, 1-v*z) / (box * box * box) / steps
	}
	reach := armReach * armTail
	near, tail := make([]float64, armReach+1), make([]float64, armReach+1)
	for j := range reach + 1 {
		s := 0.0
		for k, t := range transfer {
			s += t * math.Cos(math.Pi*float64(j)*(float64(k)+0.5)/steps)
		}
		in := 0.0 // how much of it is near
		if j <= armReach {
			in = 1 - smooth((float64(j)-armReach/2)/(armReach/2))
			near[j] += s * in
		}
		// shared between the two coarser samples beside it
		at := float64(j) / armTail
		i := int(at)
		f := at - float64(i)
		rest := s * (1 - in)
		if i <= armReach {
			tail[i] += rest * (1 - f)
		}
		if i+1 <= armReach {
			tail[i+1] += rest * f
		}
	}
	tail[0] *= 2 // both sides fall on it
	sum := func(h []float64) float64 {
		s := h[0]
		for _, v := range h[1:] {
			s += 2 * v
		}
		return s
	}
	all := sum(near) + sum(tail)
	kernel := func(h []float64) *vec.Symmetric {
		out := make([]float32, len(h))
		for i, v := range h {
			out[i] = float32(v / all)
		}
		return vec.NewSymmetric(out)
	}
	return &armResponse{kernel(near), kernel(tail)}
}

// armLine is a row with room for what goes on beyond its ends.
type armLine struct{ line, drawn []float32 }

func newArmLine(n int) armLine {
	return armLine{make([]float32, n+2*armReach+frame.RightPad), make([]float32, n+2+frame.RightPad)}
}

// mean fills the line with the means of blocks of a row.
func (a armLine) mean(row []float32, block, n int) []float32 {
	mid := a.line[armReach : armReach+n]
	for i := range mid {
		part := row[i*block : min((i+1)*block, len(row))]
		var s float32
		for _, v := range part {
			s += v
		}
		mid[i] = s / float32(len(part))
	}
	for i := range armReach {
		a.line[i], a.line[armReach+n+i] = mid[0], mid[n-1]
	}
	return mid
}

// convolve returns the convolved line with a sample more on either side.
func (a armLine) convolve(k *vec.Symmetric, n int) []float32 {
	vec.Taps(a.drawn[1:1+n:len(a.drawn)], a.line[:n+2*armReach], k)
	a.drawn[0], a.drawn[1+n] = a.drawn[1], a.drawn[n]
	return a.drawn[:n+2]
}

// draws returns what puts the arm in place of a row. It owns its scratch.
func (a *armRow) draws() func(row []float32) {
	m := (a.coarse + armTail - 1) / armTail
	fine, far := newArmLine(a.coarse), newArmLine(m)
	mix, mixFar := mixes(a.block), mixes(armTail)
	return func(row []float32) {
		mid := fine.mean(row, a.block, a.coarse)
		far.mean(mid, armTail, m)
		near := fine.convolve(a.near, a.coarse)
		grow(near[1:1+a.coarse], far.convolve(a.tail, m), armTail, mixFar)
		near[0], near[1+a.coarse] = near[1], near[a.coarse]
		if a.block == 1 {
			copy(row, near[1:])
			return
		}
		clear(row)
		grow(row, near, a.block, mix)
	}
}

// transposed is the picture with rows and columns exchanged.
func transposed(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	dst := frame.Get(src.H, src.W, 3)
	const tile = 32
	return dst, frame.Bands(ctx, dst.H, tile, func(y0, y1 int) {
		var rows [tile][]float32
		for p := range 3 {
			for x0 := 0; x0 < dst.W; x0 += tile {
				n := min(tile, dst.W-x0)
				for i := range n {
					rows[i] = src.Row(p, x0+i)
				}
				for y := y0; y < y1; y++ {
					d := dst.Row(p, y)[x0 : x0+n]
					for i := range d {
						d[i] = rows[i][y]
					}
				}
			}
		}
	})
}
