package grain

import (
	"math"

	"velours/core/vec"
)

// Setting describes the grain of a negative at one raster.
type Setting struct {
	// Pitch is the size of a pixel on the film across, µm; down, it is Squeeze times as large in a squeezed picture (0 and 1 are for others).
	Pitch   float64
	Squeeze int
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
	taps  [3]*vec.Symmetric // across
	down  [3]*vec.Symmetric
	law   [3]*vec.Short
	reach int
}

// New prepares a generator.
func New(s Setting) *Generator {
	g := &Generator{set: s}
	for i := range 3 {
		g.taps[i] = vec.NewSymmetric(taps(s.Pitch, s.Cloud[i]))
		g.down[i] = g.taps[i]
		if s.Squeeze > 1 {
			g.down[i] = vec.NewSymmetric(taps(s.Pitch*float64(s.Squeeze), s.Cloud[i]))
		}
		g.reach = max(g.reach, g.taps[i].Reach(), g.down[i].Reach())
		law := Law(s.Cloud[i])
		k := s.S[i]
		g.law[i] = vec.NewShort(0, s.Top, true, func(d float64) float64 { return k * law(d) })
	}
	return g
}

// Columns is the working memory for a run of columns; it is not safe for concurrent use.
type Columns struct {
	g     *Generator
	frame int
	x0, w int
	next  int
	field [3][]float32 // ring of horizontally filtered rows, per layer
	pitch int
	line  [3][]float32 // the row of noise just made, reach samples more on either side
	keys  [3]uint64
	out   [3][]float32
}

// Columns starts w columns from x0 on a frame, whose first row will be y0.
func (g *Generator) Columns(frame, x0, w, y0 int) *Columns {
	s := &Columns{g: g, frame: frame, x0: x0, w: w, pitch: (w + 31) &^ 15}
	for i := range 3 {
		s.line[i] = make([]float32, w+2*g.reach, w+2*g.reach+64)
		s.keys[i] = Key(g.set.Seed, i, frame)
		s.field[i] = make([]float32, (2*g.reach+1)*s.pitch+64)
		s.out[i] = make([]float32, w+32)
	}
	s.next = y0 - g.reach
	return s
}

func (s *Columns) row(layer, y int) []float32 {
	n := 2*s.g.reach + 1
	o := ((y%n + n) % n) * s.pitch
	return s.field[layer][o : o+s.w : o+s.w+16]
}

// Add adds grain to the densities of row y in place; rows must come in order. The slices follow
// the padding rules of package vec.
func (s *Columns) Add(y int, d [3][]float32) {
	g := s.g
	for ; s.next <= y+g.reach; s.next++ {
		fill(s.line, &s.keys, s.x0-g.reach, s.next)
		for i := range 3 {
			h := g.taps[i]
			r := h.Reach()
			vec.Taps(s.row(i, s.next), s.line[i][g.reach-r:s.w+g.reach+r], h)
		}
	}
	var n [3][]float32
	for i := range 3 {
		h := g.down[i]
		n[i] = s.row(i, y)
		for k := 1; k <= h.Reach(); k++ {
			out, weight := s.out[i][:s.w], float32(1)
			if k == 1 {
				weight = h.At(0)
			}
			vec.Sides(out, n[i], s.row(i, y-k), s.row(i, y+k), weight, h.At(k))
			n[i] = out
		}
	}
	// the green record carries the common field
	own, common := float32(math.Sqrt(1-g.set.Link*g.set.Link)), float32(g.set.Link)
	vec.Modulate(d[0], n[0], n[1], own*g.first(0), common*g.first(1), g.law[0])
	vec.Modulate(d[1], n[1], n[1], g.first(1), 0, g.law[1])
	vec.Modulate(d[2], n[2], n[1], own*g.first(2), common*g.first(1), g.law[2])
}

// first is what is left to weigh the rows of a layer by: one tap, when it is the only one.
func (g *Generator) first(layer int) float32 {
	if h := g.down[layer]; h.Reach() == 0 {
		return h.At(0)
	}
	return 1
}
