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
	if math.Mod(n.Turn, 90) == 0 { // the second arm lies along rows: it is drawn as they are written
		return n.down(ctx, src, 0, 1, src.W, true)
	}
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
	if math.Abs(dy) >= math.Abs(dx) {
		return n.down(ctx, src, dx/dy, math.Abs(dy), src.W, false)
	}
	on, err := transposed(ctx, src)
	if err != nil {
		return nil, err
	}
	defer on.Release()
	drawn, err := n.down(ctx, on, dy/dx, math.Abs(dx), src.W, false)
	if err != nil {
		return nil, err
	}
	defer drawn.Release()
	return transposed(ctx, drawn)
}

// down draws an arm that goes sideways by slope (at most 1 either way) from a row to the next: rows are shifted so that it lies
// along columns, the mean of every block of them is one coarse row, and the arm is drawn down those. A step down is cos of one
// along the arm; the picture is width wide where it stands upright. cross draws the arm along rows too.
func (n Net) down(ctx context.Context, src *frame.Frame, slope, cos float64, width int, cross bool) (*frame.Frame, error) {
	a := float32(n.open())
	out := frame.Get(src.W, src.H, 3)
	for p := range 3 {
		arm := newArm(float64(width)/n.cutoff(p)*cos, src.H)
		side := int(math.Ceil(math.Abs(slope)*float64(src.H))) + 1
		left := 0 // columns that the shifted picture has to the left
		if slope > 0 {
			left = side
		}
		if slope == 0 {
			side = 0
		}
		w := src.W + side
		coarse := frame.Get(w, arm.rows, 1)
		if err := frame.Bands(ctx, arm.rows, 4, func(r0, r1 int) {
			shift := newShift(w, src.W)
			for r := r0; r < r1; r++ {
				d := coarse.Row(0, r)
				clear(d)
				y1 := min((r+1)*arm.block, src.H)
				k := 1 / float32(y1-r*arm.block)
				for y := r * arm.block; y < y1; y++ {
					vec.Mix(d, d, shift.read(src.Row(p, y), slope*float64(y)-float64(left)), 1, k)
				}
			}
		}); err != nil {
			return nil, err
		}
		drawn, err := arm.draw(ctx, coarse)
		coarse.Release()
		if err != nil {
			return nil, err
		}
		if err := frame.Bands(ctx, src.H, band(src.W), func(y0, y1 int) {
			shift := newShift(src.W, w)
			line := make([]float32, w, w+frame.RightPad)
			var along *armRow
			if cross {
				along = newArm(float64(width)/n.cutoff(p), src.W).along()
			}
			for y := y0; y < y1; y++ {
				i, t := arm.between(y)
				vec.Mix(line, drawn.Row(0, max(i, 0)), drawn.Row(0, min(i+1, arm.rows-1)), 1-t, t)
				vec.Mix(out.Row(p, y), src.Row(p, y), shift.read(line, float64(left)-slope*float64(y)), a, 1-a)
				if cross {
					along.draw(out.Row(p, y), a)
				}
			}
		}); err != nil {
			return nil, err
		}
		drawn.Release()
	}
	return out, nil
}

// shift reads rows that are shifted sideways, between samples linearly; beyond its ends a row goes on as it ends.
type shift struct {
	width        int
	buf, shifted []float32
	pad          int
}

// newShift reads width samples of rows of from.
func newShift(width, from int) *shift {
	pad := max(width, from) + 2
	return &shift{width: width, pad: pad, buf: make([]float32, from+2*pad+frame.RightPad), shifted: make([]float32, width, width+frame.RightPad)}
}

// read returns the row from the place x on; it is good until the next is read.
func (s *shift) read(row []float32, x float64) []float32 {
	if x == 0 && s.width == len(row) {
		return row
	}
	n := len(row)
	i := int(math.Floor(x))
	t := float32(x - float64(i))
	i = min(max(i, -s.pad+1), n-1)
	// only what is read need be there
	for k := min(i, 0) - 1; k < 0; k++ {
		s.buf[s.pad+k] = row[0]
	}
	copy(s.buf[s.pad:], row)
	for k := n; k < max(i+s.width+2, n+1); k++ {
		s.buf[s.pad+k] = row[n-1]
	}
	from := s.buf[s.pad+i:]
	vec.Mix(s.shifted, from[:s.width:len(from)], from[1:s.width+1:len(from)], 1-t, t)
	return s.shifted
}

// arm is drawn down coarse rows, each the mean of block; what lies further off than its response reaches is drawn on rows
// armTail times as coarse.
type arm struct {
	block, rows int
	*armResponse
}

// armTail is how many coarse rows make one of the tail's.
const armTail = 8

// armResponse is the odd response near, and far off.
type armResponse struct{ near, tail *vec.Symmetric }

// newArm is for an envelope whose first zero lies so many samples off, in columns of height.
func newArm(zero float64, height int) *arm {
	block := max(1, int(zero/armSamples))
	r, _ := armResponses.Get(fmt.Sprintf("%.5g", zero), func() (*armResponse, error) { return newArmResponse(zero, block), nil })
	return &arm{block, (height + block - 1) / block, r}
}

// between is the coarse row before a row of the picture, and how far it lies from that to the next.
func (a *arm) between(y int) (i int, t float32) {
	v := (float64(y)+0.5)/float64(a.block) - 0.5
	i = int(math.Floor(v))
	if i < 0 {
		return 0, 0
	}
	return i, float32(v - float64(i))
}

// draw draws the arm down coarse rows.
func (a *arm) draw(ctx context.Context, coarse *frame.Frame) (*frame.Frame, error) {
	m := (a.rows + armTail - 1) / armTail
	far := frame.Get(coarse.W, m, 1)
	defer far.Release()
	for r := range m { // few
		d := far.Row(0, r)
		clear(d)
		end := min((r+1)*armTail, a.rows)
		k := 1 / float32(end-r*armTail)
		for y := r * armTail; y < end; y++ {
			vec.Mix(d, d, coarse.Row(0, y), 1, k)
		}
	}
	tail := frame.New(coarse.W, m, 1)
	defer tail.Release()
	if err := columns(ctx, tail, far, a.tail); err != nil {
		return nil, err
	}
	out := frame.Get(coarse.W, a.rows, 1)
	if err := frame.Bands(ctx, a.rows, 8, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			v := (float64(y)+0.5)/armTail - 0.5
			i := int(math.Floor(v))
			t := float32(v - float64(i))
			vec.Mix(out.Row(0, y), tail.Row(0, max(i, 0)), tail.Row(0, min(i+1, m-1)), 1-t, t)
		}
	}); err != nil {
		return nil, err
	}
	return out, columns(ctx, out, coarse, a.near)
}

// armRow draws an arm along a row, in place.
type armRow struct {
	*arm
	coarse, far        []float32 // with as many samples beside them as the response reaches
	tail, drawn, edges []float32
	blocks, tails      *vec.Blocks
}

func (a *arm) along() *armRow {
	m := (a.rows + armTail - 1) / armTail
	row := func(n int) []float32 { return make([]float32, n, n+frame.RightPad) }
	return &armRow{
		arm: a, coarse: row(a.rows + 2*armReach), far: row(m + 2*armReach), tail: row(m), drawn: row(a.rows + 2),
		blocks: vec.NewBlocks(a.block), tails: vec.NewBlocks(armTail), edges: row(m + 2),
	}
}

// draw is open times the row, and the arm of the rest.
func (r *armRow) draw(row []float32, open float32) {
	means(within(r.coarse), row, r.block)
	means(within(r.far), within(r.coarse), armTail)
	repeatEnds(r.coarse)
	repeatEnds(r.far)
	drawn := r.drawn[1 : 1+r.rows : cap(r.drawn)]
	vec.Taps(r.tail, r.far, r.armResponse.tail)
	vec.Taps(drawn, r.coarse, r.near)
	m := copy(r.edges[1:], r.tail)
	r.edges[0], r.edges[m+1] = r.edges[1], r.edges[m]
	r.tails.Grow(drawn, r.edges)
	vec.Mix(drawn, drawn, drawn, 1-open, 0)
	r.drawn[0], r.drawn[r.rows+1] = drawn[0], drawn[r.rows-1]
	vec.Mix(row, row, row, open, 0)
	r.blocks.Grow(row, r.drawn)
}

// within is a row without the samples beside it.
func within(row []float32) []float32 { return row[armReach : len(row)-armReach] }

// repeatEnds fills the samples beside a row.
func repeatEnds(row []float32) {
	end := len(row) - armReach
	for i := range armReach {
		row[i], row[end+i] = row[armReach], row[end-1]
	}
}

// means fills dst with the means of blocks of src; the last may be shorter.
func means(dst, src []float32, block int) {
	k := 1 / float32(block)
	for i := range dst {
		part := src[i*block : min((i+1)*block, len(src))]
		var s float32
		for _, v := range part {
			s += v
		}
		if len(part) < block {
			k = 1 / float32(len(part))
		}
		dst[i] = s * k
	}
}

// columns adds the convolution of columns to dst, rows beyond the ends being as the last.
func columns(ctx context.Context, dst, src *frame.Frame, k *vec.Symmetric) error {
	r := k.Reach()
	return frame.Bands(ctx, src.H, 8, func(y0, y1 int) {
		rows := make([][]float32, 2*r+1)
		row := func(y int) []float32 { return src.Row(0, min(max(y, 0), src.H-1)) }
		for y := y0; y < y1; y++ {
			rows[0] = row(y)
			for i := 1; i <= r; i++ {
				rows[2*i-1], rows[2*i] = row(y-i), row(y+i)
			}
			vec.Columns(dst.Row(0, y), rows, k, 1)
		}
	})
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
