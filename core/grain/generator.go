package grain

import (
	"math"

	"velours/core/vec"
)

// Setting describes the grain of a negative at one raster.
type Setting struct {
	// Pitch is the size of a pixel on the film, µm.
	Pitch float64
	// Cloud is the standard deviation of a dye cloud, µm, for each layer.
	Cloud [3]float64
	// S is σ·√area at density 1, µm, for each layer.
	S [3]float64
	// Link mixes the layers towards one field: 0 independent, 1 the same grain in all three.
	Link float64
	// Seed chooses the roll of film.
	Seed uint64
	// Top is the highest density the law is tabulated for.
	Top float64
}

// Generator adds grain to rows of density. It holds tables alone and may be shared.
type Generator struct {
	set   Setting
	taps  [3][]float32
	law   [3]*vec.Short
	reach int
}

// New prepares a generator.
func New(s Setting) *Generator {
	g := &Generator{set: s}
	for i := range 3 {
		g.taps[i] = taps(s.Pitch, s.Cloud[i])
		g.reach = max(g.reach, len(g.taps[i])-1)
		law := Law(s.Cloud[i])
		k := s.S[i]
		g.law[i] = vec.NewShort(0, s.Top, true, func(d float64) float64 { return k * law(d) })
	}
	return g
}

// Strip is the working memory for one strip of columns; it is not safe for concurrent use.
type Strip struct {
	g      *Generator
	frame  int
	x0, w  int
	next   int
	field  [3][]float32 // ring of horizontally filtered rows, per layer
	pitch  int
	line   []float32
	out    [3][]float32
	amount []float32
}

// Strip starts a strip of w columns from x0 on a frame, whose first row will be y0.
func (g *Generator) Strip(frame, x0, w, y0 int) *Strip {
	s := &Strip{g: g, frame: frame, x0: x0, w: w, pitch: (w + 31) &^ 15}
	s.line = make([]float32, w+2*g.reach+64)
	s.amount = make([]float32, w+32)
	for i := range 3 {
		s.field[i] = make([]float32, (2*g.reach+1)*s.pitch+64)
		s.out[i] = make([]float32, w+32)
	}
	s.next = y0 - g.reach
	return s
}

func (s *Strip) row(layer, y int) []float32 {
	n := 2*s.g.reach + 1
	o := ((y%n + n) % n) * s.pitch
	return s.field[layer][o : o+s.w : o+s.w+16]
}

// Add adds grain to the densities of row y in place; rows must come in order. The slices follow
// the padding rules of package vec.
func (s *Strip) Add(y int, d [3][]float32) {
	g := s.g
	for ; s.next <= y+g.reach; s.next++ {
		for i := range 3 {
			h := g.taps[i]
			r := len(h) - 1
			line := s.line[: s.w+2*r : s.w+2*r+16]
			fill(line, Key(g.set.Seed, i, s.frame), s.x0-r, s.next)
			vec.Taps(s.row(i, s.next), line, h)
		}
	}
	for i := range 3 {
		h := g.taps[i]
		out := s.out[i][:s.w]
		first := 1
		if len(h) > 1 {
			vec.Weigh(out, s.row(i, y), s.row(i, y-1), s.row(i, y+1), out, &[4]float32{h[0], h[1], h[1], 0})
			first = 2
		} else {
			vec.Scale(out, s.row(i, y), h[0])
		}
		for k := first; k < len(h); k++ {
			vec.Weigh(out, out, s.row(i, y-k), s.row(i, y+k), out, &[4]float32{1, h[k], h[k], 0})
		}
	}
	// the green record carries the common field
	own, common := float32(math.Sqrt(1-g.set.Link*g.set.Link)), float32(g.set.Link)
	if common != 0 {
		vec.Mix(s.out[0][:s.w], s.out[0][:s.w], s.out[1][:s.w], own, common)
		vec.Mix(s.out[2][:s.w], s.out[2][:s.w], s.out[1][:s.w], own, common)
	}
	for i := range 3 {
		a := s.amount[:s.w]
		vec.ApplyShort(a, d[i], g.law[i])
		vec.MulAdd(d[i], a, s.out[i][:s.w], 1)
	}
}
