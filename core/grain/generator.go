package grain

import (
	"math"

	"velours/core/vec"
)

func sqrt(x float64) float64 { return math.Sqrt(x) }

// Generator adds grain to rows of density. It holds tables alone and may be shared.
type Generator struct {
	set   Setting
	taps  [3]*vec.Symmetric // across
	down  [3]*vec.Symmetric
	law   [3]*vec.Short
	reach int
	// own and common are how much of a layer's noise is its own and how much is the green layer's, which all share.
	own, common float32
	// single layers share all of their noise, early ones are mixed before their clouds, which differ, make grain of them.
	single, early bool
}

// New prepares a generator.
func New(s Setting) *Generator {
	g := &Generator{set: s, own: float32(math.Sqrt(1-s.Link*s.Link) * (1 - s.Dull)), common: float32(s.Link)}
	g.single, g.early = g.own == 0 && g.common == 1, !s.alike()
	across, down := s.pitches()
	for i := range 3 {
		g.taps[i] = vec.NewSymmetric(taps(across, s.Cloud[i], s.Crisp))
		g.down[i] = g.taps[i]
		if down != across {
			g.down[i] = vec.NewSymmetric(taps(down, s.Cloud[i], s.Crisp))
		}
		g.reach = max(g.reach, g.taps[i].Reach(), g.down[i].Reach())
		law := Law(s.Cloud[i])
		k := s.S[i]
		of := func(d float64) float64 { return k * law(d) }
		if s.Gain != nil {
			of = func(d float64) float64 { return k * law(d) * s.Gain[i].At(s.Top, d) }
		}
		if s.Instead != nil {
			of = func(d float64) float64 { return s.Instead[i].At(s.Top, d) }
		}
		g.law[i] = vec.NewShort(0, s.Top, true, of)
	}
	return g
}

// green is the layer whose noise the others share.
const green = 1

// Columns is the working memory for a run of columns; it is not safe for concurrent use.
type Columns struct {
	g     *Generator
	x0, w int
	next  int
	field [3][]float32 // ring of horizontally filtered rows, per layer
	pitch int
	line  [3][]float32 // the row of noise just made, reach samples more on either side
	then  [3][]float32 // that of the field that it flows into
	out   [3][]float32
	list  [][]float32 // rows about one

	keys, later [3]uint64
	now, turn   float32 // how much of line and of then
}

// Columns starts w columns from x0 on a frame, whose first row will be y0.
func (g *Generator) Columns(frame, x0, w, y0 int) *Columns {
	s := &Columns{g: g, x0: x0, w: w, pitch: (w + 31) &^ 15, next: y0 - g.reach, list: make([][]float32, 2*g.reach+1)}
	a, b, now, turn := g.set.Motion.fields(frame)
	s.now, s.turn = now, turn
	row := func() []float32 { return make([]float32, w+2*g.reach, w+2*g.reach+64) }
	for i := range 3 {
		s.keys[i], s.later[i] = Key(g.set.Seed, i, a), Key(g.set.Seed, i, b)
		s.out[i] = make([]float32, w+32)
		if !g.single || i == green {
			s.line[i] = row()
			if turn != 0 {
				s.then[i] = row()
			}
		}
		if !g.single || i == green || g.early {
			s.field[i] = make([]float32, (2*g.reach+1)*s.pitch+64)
		}
	}
	return s
}

func (s *Columns) row(layer, y int) []float32 {
	n := 2*s.g.reach + 1
	o := ((y%n + n) % n) * s.pitch
	return s.field[layer][o : o+s.w : o+s.w+16]
}

// noise makes the noise of row y, of the layers that have some of their own.
func (s *Columns) noise(y int) {
	make := func(dst [3][]float32, keys *[3]uint64) {
		if s.g.single {
			fillRow(dst[green], keys[0], keys[green], s.x0-s.g.reach, y)
		} else {
			fill(dst, keys, s.x0-s.g.reach, y)
		}
	}
	make(s.line, &s.keys)
	if s.turn != 0 {
		make(s.then, &s.later)
		for i, line := range s.line {
			if line != nil {
				vec.Mix(line, line, s.then[i], s.now, s.turn)
			}
		}
	}
	if s.g.early && !s.g.single {
		for _, i := range []int{0, 2} {
			vec.Mix(s.line[i], s.line[i], s.line[green], s.g.own, s.g.common)
		}
	}
}

// made is the row of grain that a layer gets, filtered both ways but for a factor.
func (s *Columns) made(layer, y int) []float32 {
	h, row := s.g.down[layer], s.row(layer, y)
	if h.Reach() == 0 {
		return row
	}
	list := s.list[:2*h.Reach()+1]
	list[0] = row
	for k := 1; k <= h.Reach(); k++ {
		list[2*k-1], list[2*k] = s.row(layer, y-k), s.row(layer, y+k)
	}
	out := s.out[layer][:s.w]
	clear(s.out[layer])
	vec.Columns(out, list, h, 1)
	return out
}

// Add adds grain to the densities of row y in place; rows must come in order. The slices follow
// the padding rules of package vec.
func (s *Columns) Add(y int, d [3][]float32) {
	g := s.g
	for ; s.next <= y+g.reach; s.next++ {
		s.noise(s.next)
		for i := range 3 {
			if s.field[i] == nil {
				continue
			}
			line := s.line[i]
			if line == nil {
				line = s.line[green]
			}
			h := g.taps[i]
			r := h.Reach()
			vec.Taps(s.row(i, s.next), line[g.reach-r:s.w+g.reach+r], h)
		}
	}
	common := s.made(green, y)
	for i := range 3 {
		switch {
		case i == green:
			vec.Modulate(d[i], common, common, g.first(i), 0, g.law[i])
		case s.field[i] == nil:
			vec.Modulate(d[i], common, common, g.first(green), 0, g.law[i])
		case g.early:
			n := s.made(i, y)
			vec.Modulate(d[i], n, n, g.first(i), 0, g.law[i])
		default:
			vec.Modulate(d[i], s.made(i, y), common, g.own*g.first(i), g.common*g.first(green), g.law[i])
		}
	}
}

// first is what is left to weigh the rows of a layer by: one tap, when it is the only one.
func (g *Generator) first(layer int) float32 {
	if h := g.down[layer]; h.Reach() == 0 {
		return h.At(0)
	}
	return 1
}
