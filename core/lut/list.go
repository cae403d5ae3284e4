package lut

import "math"

// Node is one step of a transform.
type Node interface {
	// Apply transforms one colour, in double precision: the reference for Rows.
	Apply(rgb [3]float64) [3]float64
}

// List is a transform: its nodes in turn.
type List struct {
	Title string
	// Notes describe the transform, a line each.
	Notes []string
	// Input and Output say what goes in and comes out, in words.
	Input, Output string
	Nodes         []Node
}

// Apply transforms one colour.
func (l *List) Apply(rgb [3]float64) [3]float64 {
	for _, n := range l.Nodes {
		rgb = n.Apply(rgb)
	}
	return rgb
}

// rower is a node with a faster way over rows.
type rower interface{ rows(r, g, b []float32) }

// Rows transforms rows of equal length in place; they follow the padding rules of package vec.
// A List may be used by many at once.
func (l *List) Rows(r, g, b []float32) {
	for _, n := range l.Nodes {
		if f, ok := n.(rower); ok {
			f.rows(r, g, b)
			continue
		}
		for i := range r {
			c := n.Apply([3]float64{float64(r[i]), float64(g[i]), float64(b[i])})
			r[i], g[i], b[i] = float32(c[0]), float32(c[1]), float32(c[2])
		}
	}
}

// Matrix multiplies and adds: rows of three factors and an offset.
type Matrix [12]float64

// Apply implements Node.
func (m *Matrix) Apply(c [3]float64) [3]float64 {
	var out [3]float64
	for i := range out {
		out[i] = m[4*i]*c[0] + m[4*i+1]*c[1] + m[4*i+2]*c[2] + m[4*i+3]
	}
	return out
}

// Range maps MinIn…MaxIn to MinOut…MaxOut in a straight line. A bound that is not given is NaN; one
// alone only clamps.
// With Clamp, what lies outside is brought to the bound.
type Range struct {
	MinIn, MaxIn, MinOut, MaxOut float64
	Clamp                        bool
}

// Apply implements Node (S-2014-006, Range).
func (r *Range) Apply(c [3]float64) [3]float64 {
	k, o := 1.0, 0.0
	if !math.IsNaN(r.MinIn) && !math.IsNaN(r.MaxIn) {
		k = (r.MaxOut - r.MinOut) / (r.MaxIn - r.MinIn)
		o = r.MinOut - k*r.MinIn
	}
	for i, v := range c {
		v = k*v + o
		if r.Clamp {
			if !math.IsNaN(r.MinIn) {
				v = math.Max(v, r.MinOut)
			}
			if !math.IsNaN(r.MaxIn) {
				v = math.Min(v, r.MaxOut)
			}
		}
		c[i] = v
	}
	return c
}
