// Package spread ranks the places of a square by the void-and-cluster method (R. Ulichney, Proc. SPIE 1913, 1993).
package spread

import (
	"math"
	"math/rand/v2"
)

// Edge is the side of the square.
const Edge = 64

const (
	edge = Edge
	all  = edge * edge
	// How crowded a place is: by a Gaussian (Ulichney, section 3), and a little by how many share a window of 16×16 with it, so that
	// such windows are even too.
	sigma, windows = 1.5, 0.5
	window         = 16
	extent         = window - 1
)

// Rank ranks the places from 0 to 4095, row by row: however many of the first are taken, they lie as evenly as they can, across the edges too.
// It is some tenths of a second of work.
func Rank() *[edge][edge]uint16 {
	m := &[edge][edge]uint16{}
	// a tenth of the places, taken at random and then moved from where they crowd to where there is room
	start := newPattern()
	r := rand.New(rand.NewPCG(1993, edge))
	for start.count < all/10 {
		if i := r.IntN(all); !start.on[i] {
			start.turn(i)
		}
	}
	for {
		crowded := start.tightest()
		start.turn(crowded)
		free := start.emptiest()
		start.turn(free)
		if free == crowded {
			break
		}
	}
	// downwards from there, then upwards: places off gain or lose by the same measure
	down := *start
	for down.count > 0 {
		i := down.tightest()
		down.turn(i)
		m[i/edge][i%edge] = uint16(down.count)
	}
	for start.count < all {
		i := start.emptiest()
		m[i/edge][i%edge] = uint16(start.count)
		start.turn(i)
	}
	return m
}

// pattern is which places of a cell are taken, and how crowded each place is.
type pattern struct {
	on     [all]bool
	near   [all]float64
	count  int
	weight [2*extent + 1][2*extent + 1]float64
	// most and least are, a row each, the place where it is most crowded among those taken, and least among the others; −1 for none
	most, least [edge]int
}

func newPattern() *pattern {
	p := &pattern{}
	share := func(d int) float64 { return 1 - math.Abs(float64(d))/window }
	for i := range p.weight {
		for j := range p.weight[i] {
			x, y := j-extent, i-extent
			p.weight[i][j] = math.Exp(-float64(x*x+y*y)/(2*sigma*sigma)) + windows*share(x)*share(y)
		}
	}
	for y := range edge {
		p.search(y)
	}
	return p
}

// turn takes a place or gives it up.
func (p *pattern) turn(i int) {
	sign := 1.0
	if p.on[i] {
		sign = -1
	}
	p.on[i] = !p.on[i]
	p.count += int(sign)
	x, y := i%edge, i/edge
	for dy, weights := range &p.weight {
		j := (y + dy - extent + edge) % edge
		row := p.near[j*edge : (j+1)*edge]
		for dx, w := range &weights {
			row[(x+dx-extent+edge)%edge] += sign * w
		}
		p.search(j)
	}
}

func (p *pattern) search(y int) {
	most, least := -1, -1
	for i := y * edge; i < (y+1)*edge; i++ {
		if p.on[i] {
			if most < 0 || p.near[i] > p.near[most] {
				most = i
			}
		} else if least < 0 || p.near[i] < p.near[least] {
			least = i
		}
	}
	p.most[y], p.least[y] = most, least
}

// tightest is the place taken where it is most crowded.
func (p *pattern) tightest() int {
	best := -1
	for _, i := range p.most {
		if i >= 0 && (best < 0 || p.near[i] > p.near[best]) {
			best = i
		}
	}
	return best
}

// emptiest is the place not taken where it is least crowded.
func (p *pattern) emptiest() int {
	best := -1
	for _, i := range p.least {
		if i >= 0 && (best < 0 || p.near[i] < p.near[best]) {
			best = i
		}
	}
	return best
}
