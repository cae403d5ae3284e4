package fit

import (
	"math"

	"velours/core/colour"
	"velours/core/film"
)

// The parameters of a model: for each layer its curve (gamma, speed, toe, dmax, shoulder); off the diagonal of taking
// and of separation, two a row; the share of unwanted absorption of each dye; the base; off the diagonal of the one-sided
// effect; by how much the main bell of each dye is moved (nm) and widened (a share); the log exposure of mid grey in a wedge; and for each pair, ofPair: by how much its exposure is off, how its light falls across, down and outwards (decades), and the
// density by which the scanner's white is off in each channel.
const (
	ofCurve    = 15
	ofTaking   = ofCurve + 6
	ofEffect   = ofTaking + 6
	ofDyes     = ofEffect + 3
	ofBase     = ofDyes + 3
	ofOneSided = ofBase + 6
	ofStock    = ofOneSided + 6 + 1
	ofPair     = 7
)

// offDiagonal are the places of a 3×3 matrix off its diagonal.
var offDiagonal = [6][2]int{{0, 1}, {0, 2}, {1, 0}, {1, 2}, {2, 0}, {2, 1}}

func (m *model) start() []float64 {
	p := make([]float64, 0, ofStock+ofPair*len(m.pairs))
	for _, l := range m.from.Layers {
		p = append(p, l.Gamma, l.Speed, l.Toe, l.DMax, l.Shoulder)
	}
	for _, at := range offDiagonal {
		p = append(p, m.taking[3*at[0]+at[1]])
	}
	for _, at := range offDiagonal {
		p = append(p, m.from.Separation[at[0]][at[1]])
	}
	p = append(p, 1, 1, 1)
	// the base: what is least
	least := [3]float64{math.Inf(1), math.Inf(1), math.Inf(1)}
	for _, pair := range m.pairs {
		for _, d := range pair.Read {
			for i, v := range d {
				least[i] = min(least[i], v)
			}
		}
	}
	p = append(p, least[0], least[1], least[2])
	for _, at := range offDiagonal {
		p = append(p, m.from.OneSided[at[0]][at[1]])
	}
	p = append(p, 0, 0, 0, 0, 0, 0, m.grey)
	return append(p, make([]float64, ofPair*len(m.pairs))...)
}

// limits are between what the parameters lie; one that does not change has both alike.
func (m *model) limits() [][2]float64 {
	var l [][2]float64
	some := func(n int, lo, hi float64) {
		for range n {
			l = append(l, [2]float64{lo, hi})
		}
	}
	for range 3 {
		l = append(l, curveLimits...)
	}
	some(6, -0.6, 0.8)
	some(6, -0.8, 0)
	some(3, 0, 3)
	some(3, -1, 3)
	some(6, -1.2, 1.2)
	// a densitometer reads dyes elsewhere than a scanner does: the two together tell their shape
	shapes := m.wedge != nil && m.status != scanner
	most := func(yes bool, v float64) float64 {
		if yes {
			return v
		}
		return 0
	}
	some(3, -most(shapes, 20), most(shapes, 20))
	some(3, -most(shapes, 0.4), most(shapes, 0.4))
	some(1, m.grey-most(m.wedge != nil, 1), m.grey+most(m.wedge != nil, 1))
	for k, pair := range m.pairs {
		some(1, -most(k > 0, 0.25), most(k > 0, 0.25)) // mid grey is where the first has it
		some(3, -most(pair.Places != nil, 0.2), most(pair.Places != nil, 0.2))
		known := k > 0 || m.wedge != nil // and without a wedge the base is what it reads
		some(3, -most(known, 0.5), most(known, 0.5))
	}
	return l
}

// scales are how far a parameter may well be from where it starts.
func (m *model) scales() []float64 {
	var s []float64
	some := func(n int, v ...float64) {
		for range n {
			s = append(s, v...)
		}
	}
	some(3, 0.3, 0.5, 3, 0.5, 3)
	some(12, 0.15)
	some(3, 0.5)
	some(3, 1)
	some(6, 0.3)
	some(3, 6)
	some(3, 0.12)
	some(1, m.greyWithin)
	for k := range m.pairs {
		some(1, 0.04) // a shutter is right within an eighth of a stop
		some(3, 0.05)
		white := 0.1
		if k > 0 { // one scanner
			white = 0.02
		}
		some(3, white)
	}
	return s
}

// set writes parameters into the card.
func (m *model) set(p []float64) {
	s := m.stock
	for i := range s.Layers {
		l := &s.Layers[i]
		c := p[5*i:]
		l.Gamma, l.Speed, l.Toe, l.DMax, l.Shoulder = c[0], c[1], c[2], c[3], c[4]
		main := m.from.Layers[i].Dye[0]
		l.Dye[0].Peak, l.Dye[0].Width = main.Peak+p[ofOneSided+i], main.Width*(1+p[ofOneSided+3+i])
		for k := 1; k < len(l.Dye); k++ {
			l.Dye[k].Height = m.from.Layers[i].Dye[k].Height * p[ofEffect+i]
		}
	}
	t := colour.Identity
	for k, at := range offDiagonal {
		t[3*at[0]+at[1]] = p[ofCurve+k]
		s.Separation[at[0]][at[1]] = p[ofTaking+k]
		s.OneSided[at[0]][at[1]] = p[ofBase+k]
	}
	for i := range 3 {
		t[4*i] = 1 - (t[3*i] + t[3*i+1] + t[3*i+2] - t[4*i])
		s.Separation[i][i] = 0
		s.Separation[i][i] = -(s.Separation[i][0] + s.Separation[i][1] + s.Separation[i][2])
	}
	s.Taking = &t
	setBaseOnce(s, [3]float64{p[ofDyes], p[ofDyes+1], p[ofDyes+2]})
}

// setBaseOnce gives a card a base that reads about as wanted, without the mask; the fit closes the rest.
func setBaseOnce(s *film.Stock, want [3]float64) {
	s.Base = []film.Lobe{{Peak: 690, Width: 70, Height: want[0]}, {Peak: 550, Width: 38, Height: want[1]}, {Peak: 445, Width: 52, Height: want[2]}}
}
