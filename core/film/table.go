package film

import (
	"context"
	"fmt"
	"math"

	"velours/core/cache"
	"velours/core/curve"
	"velours/core/frame"
	"velours/core/vec"
)

// Table is a Positive as the row kernels run it: a shaper for each layer's density and a table
// over the shaped cube.
//
// The shapers send the grey scale to the diagonal of the cube, spaced half by lightness and
// half by density. On the diagonal the table is then all but a straight line, so greys come
// out as exactly neutral as the print makes them however coarse the grid.
type Table struct {
	Shapers [3]*vec.Short
	Cube    *vec.Table3
}

// TableSize is the number of nodes along an edge: 33 keeps the cube inside a core's second-level cache.
const TableSize = 33

// DraftTableSize is an eighth of the work, for pictures that follow a drag.
const DraftTableSize = 17

// NewTable computes the table on every core. It stops with the context's error when ctx is done.
func NewTable(ctx context.Context, t *Positive, size int) (*Table, error) {
	out := &Table{Cube: vec.NewTable3(size)}
	nodes := shape(t, out, size)
	var exposure [][3]float64
	if t.Print != nil {
		var err error
		if exposure, err = nodeExposures(ctx, t.Print, nodes, size); err != nil {
			return nil, err
		}
	}
	err := frame.Bands(ctx, size, 1, func(k, _ int) {
		for j := range size {
			for i := range size {
				var u [3]float64
				if exposure != nil {
					u = exposure[(k*size+j)*size+i]
				}
				c := t.code([3]float64{nodes[0][i], nodes[1][j], nodes[2][k]}, u)
				out.Cube.Set(i, j, k, float32(c[0]), float32(c[1]), float32(c[2]))
			}
		}
	})
	return out, err
}

// lightness is the display code of a neutral's densities under the timed lights. The user's own
// lights, range and strength stay out of it, so that the nodes, and all that was integrated there,
// stay where they are while those move.
func (t *Positive) lightness(g [3]float64) float64 {
	if t.Print == nil {
		return t.unprinted(g)[1]
	}
	return math.Pow(t.Print.Light(g, [3]float64{})[1]/t.Print.White[1], 1/2.4)
}

// The densities that a table spans beyond the grey scale, for grain at either end and for
// colours that drive one layer alone.
const below, above = 0.12, 0.30

// shape builds the shapers and returns the density of every node along each axis.
func shape(t *Positive, out *Table, size int) [3][]float64 {
	n := t.Negative
	const lo, hi, count = -3.0, 3.0, 240
	var d [3][]float64
	var p []float64
	at, sign := func(i int) float64 { return lo + (hi-lo)*float64(i)/count }, 1.0
	if n.positive { // from bright to dark, so that density rises, and lightness falls
		at, sign = func(i int) float64 { return hi - (hi-lo)*float64(i)/count }, -1
	}
	first, last := n.Grey(at(0)), n.Grey(at(count))
	base := (first[0] + first[1] + first[2]) / 3
	span := (last[0]+last[1]+last[2])/3 - base
	for i := range count + 1 {
		g := n.Grey(at(i))
		for j := range d {
			d[j] = append(d[j], g[j])
		}
		p = append(p, 0.5*sign*t.lightness(g)+0.5*((g[0]+g[1]+g[2])/3-base)/span)
	}
	// beyond the ends the place goes on at the slope of density alone
	slope := 0.5 / span
	place := func(j int, v float64) float64 {
		s := d[j]
		switch {
		case v <= s[0]:
			return p[0] + (v-s[0])*slope
		case v >= s[count]:
			return p[count] + (v-s[count])*slope
		}
		a := curve.Below(s, v)
		return p[a] + (p[a+1]-p[a])*(v-s[a])/(s[a+1]-s[a])
	}
	p0, p1 := p[0]-below*slope, p[count]+above*slope
	var nodes [3][]float64
	for j := range 3 {
		from, to := d[j][0]-below, d[j][count]+above
		c := vec.NewShort(from, to, false, func(v float64) float64 { return (place(j, v) - p0) / (p1 - p0) })
		out.Shapers[j] = c
		nodes[j] = make([]float64, size)
		for i := range size {
			want := float32(i) / float32(size-1)
			a, b := from, to
			for range 50 {
				if m := (a + b) / 2; c.At(float32(m)) < want {
					a = m
				} else {
					b = m
				}
			}
			nodes[j][i] = (a + b) / 2
		}
	}
	return nodes
}

// nodeExposures integrates the negative's spectrum at every node. It does not depend on lights,
// display or strength, so the last few results are kept: a printer light then moves at once.
func nodeExposures(ctx context.Context, p *Print, nodes [3][]float64, size int) ([][3]float64, error) {
	key := fmt.Sprintf("%s|%s|%v|%v|%d|%v", p.neg.Stock.Key(), p.Medium.Key(), p.dupe, p.neg.Process, size, nodes)
	return nodeShelf.GetStored("exposures at nodes", key, writeNodes, readNodes(size), func() ([][3]float64, error) {
		out := make([][3]float64, size*size*size)
		err := frame.Bands(ctx, size, 1, func(k, _ int) {
			for j := range size {
				for i := range size {
					out[(k*size+j)*size+i] = p.exposure([3]float64{nodes[0][i], nodes[1][j], nodes[2][k]})
				}
			}
		})
		return out, err
	})
}

var nodeShelf = cache.Results[[][3]float64]{Size: 6}
