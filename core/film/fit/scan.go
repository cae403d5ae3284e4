package fit

import (
	"context"
	"math"
	"slices"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
)

// Scan is a picture of film: the light that came through.
type Scan struct {
	Name  string
	Light *frame.Frame
	// PerMM is how many pixels a millimetre of film has.
	PerMM float64
	// Stops is how bright a lamp is from mid grey, no number if nobody knows.
	Stops float64
	// Dark tells that no light came to its border.
	Dark bool
}

// reading is how densities of layers are read, nearly straight: what a density of 1 in each reads in each channel, above base.
func reading(n *film.Negative) (m colour.Matrix) {
	clear := n.Read([3]float64{})
	for k := range 3 {
		var d [3]float64
		d[k] = 1
		for i, v := range n.Read(d) {
			m[3*i+k] = v - clear[i]
		}
	}
	return m
}

// above are the densities that a scan reads above base, pixel by pixel.
func (w *whole) above(s *Scan) *frame.Frame {
	n := film.Develop(w.stock, film.Process{Strength: 1})
	clear := n.Read([3]float64{})
	out := frame.New(s.Light.W, s.Light.H, 3)
	for p := range 3 {
		for y := range out.H {
			row := out.Row(p, y)
			for x, v := range s.Light.Row(p, y) {
				if !(v > 1e-5) { // what is no number too
					v = 1e-5
				}
				row[x] = float32(-math.Log10(float64(v)))
			}
		}
		base := clear[p]
		switch {
		case s.Dark: // what no light came to is what such film reads
			base = border(out, p) - (n.Read(n.Grey(-3.6))[p] - clear[p])
		case w.cast != nil:
			base += w.cast[p]
		default: // what is clearest is the base
			base = quantile(out, p, 0.02)
		}
		for y := range out.H {
			row := out.Row(p, y)
			for x := range row {
				row[x] -= float32(base)
			}
		}
	}
	return out
}

func quantile(f *frame.Frame, p int, share float64) float64 {
	var v []float64
	for y := 0; y < f.H; y += 2 {
		for x := 0; x < f.W; x += 2 {
			v = append(v, float64(f.Row(p, y)[x]))
		}
	}
	slices.Sort(v)
	return v[int(share*float64(len(v)-1))]
}

// border is the middle of what lies in the outer twentieth of a picture.
func border(f *frame.Frame, p int) float64 {
	wide := max(f.W/20, 1)
	var v []float64
	for y := range f.H {
		for x, d := range f.Row(p, y) {
			if x < wide || y < wide || x >= f.W-wide || y >= f.H-wide {
				v = append(v, float64(d))
			}
		}
	}
	slices.Sort(v)
	return v[len(v)/2]
}

// edgeMost is how many pixels of an edge are read each way, lampRoom how much around a lamp, in mm: a scan of a whole frame is large.
const edgeMost, lampRoom = 2000, 3.5

// middle is the middle of a scan, where it is larger than so many pixels.
func (s *Scan) middle(most int) *Scan {
	w, h := min(s.Light.W, most), min(s.Light.H, most)
	return s.part((s.Light.W-w)/2, (s.Light.H-h)/2, w, h)
}

// aroundLamp is what lies around what differs most from the rest of a scan.
func (s *Scan) aroundLamp() *Scan {
	const block = 8
	w, h := s.Light.W/block, s.Light.H/block
	room := int(lampRoom * s.PerMM)
	if w < 4 || h < 4 || 2*room >= min(s.Light.W, s.Light.H) {
		return s
	}
	logs := make([]float64, w*h)
	for y := range h * block {
		for x, v := range s.Light.Row(1, y)[:w*block] {
			logs[y/block*w+x/block] += math.Log(max(float64(v), 1e-5))
		}
	}
	sorted := slices.Clone(logs)
	slices.Sort(sorted)
	usual, at, most := sorted[len(sorted)/2], 0, 0.0
	for i, v := range logs {
		if d := math.Abs(v - usual); d > most {
			at, most = i, d
		}
	}
	clip := func(v, to int) int { return max(0, min(v, to)) }
	x, y := clip(at%w*block-room, s.Light.W-2*room), clip(at/w*block-room, s.Light.H-2*room)
	return s.part(x, y, 2*room, 2*room)
}

func (s *Scan) part(x, y, w, h int) *Scan {
	if w == s.Light.W && h == s.Light.H {
		return s
	}
	p := *s
	p.Light = s.Light.Crop(x, y, w, h)
	return &p
}

// exposure is the light of a scan's layers, mid grey at 0.18: densities back through curves and interlayer effect.
func (w *whole) exposure(s *Scan) *frame.Frame {
	d := w.above(s)
	n := film.Develop(w.stock, film.Process{Strength: 1})
	m := reading(n)
	toLayers := m.Inverse()
	var back [3]func(float64) float64
	for i := range back {
		back[i] = inverseOf(func(x float64) float64 { return n.Curve(i, x) })
	}
	// a row cannot fail, and the fit asks in between whether it is to end
	_ = frame.Bands(context.Background(), d.H, 16, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			rows := [3][]float32{d.Row(0, y), d.Row(1, y), d.Row(2, y)}
			for x := range d.W {
				var felt [3]float64
				for i, v := range toLayers.Apply([3]float64{float64(rows[0][x]), float64(rows[1][x]), float64(rows[2][x])}) {
					felt[i] = back[i](v)
				}
				e := felt
				for range 4 {
					by := n.Interlayer([3]float64{n.Developing(e[0]), n.Developing(e[1]), n.Developing(e[2])})
					for i := range e {
						e[i] = felt[i] - by[i]
					}
				}
				for i := range e {
					rows[i][x] = float32(0.18 * math.Pow(10, e[i]))
				}
			}
		}
	})
	return d
}

// inverseOf tabulates the inverse of a curve over log exposure.
func inverseOf(f func(float64) float64) func(float64) float64 {
	const lo, hi, n = -3.6, 3.6, 900
	x, y := make([]float64, n+1), make([]float64, n+1)
	for i := range y {
		x[i] = lo + (hi-lo)*float64(i)/n
		y[i] = f(x[i])
	}
	if y[n] < y[0] {
		slices.Reverse(x)
		slices.Reverse(y)
	}
	return func(v float64) float64 {
		k, _ := slices.BinarySearch(y, v)
		switch {
		case k <= 0:
			return x[0]
		case k > n:
			return x[n]
		case y[k] == y[k-1]:
			return x[k]
		}
		return x[k-1] + (x[k]-x[k-1])*(v-y[k-1])/(y[k]-y[k-1])
	}
}
