package grain

import "fmt"

// Setting describes the grain of a negative at one raster.
type Setting struct {
	// Pitch is the size of a pixel on the film across, µm; down, it is Squeeze times as large in a squeezed picture (0 and 1 are for others).
	Pitch   float64
	Squeeze int
	// Stretch is how many times longer across than down clouds lie, their area as it is: 1 (and 0) for round ones, up to 2.
	Stretch float64
	// Cloud is the standard deviation of a dye cloud, µm, for each layer.
	Cloud [3]float64
	// S is σ·√area at density 1, µm, for each layer.
	S [3]float64
	// Gain, if set, are factors of the deviation over density, for each layer.
	Gain *[3]Gains
	// Instead, if set, are what deviations are in place of those of the clouds' law, for each layer: σ·√area, µm, over what they are added to, from
	// 0 to Top.
	Instead *[3]Gains
	// Link mixes the layers towards one field: 0 independent, 1 the same grain in all three.
	Link float64
	// Dull is the share of what the layers do not share that is taken away: 0 none, 1 all; below 0 it is more than their own.
	Dull float64
	// Crisp is how the grain was scanned: −1 soft, so that pixels flow together, 0 by the pixels alone, 1 hard, so that they stand apart. Areas of
	// many pixels deviate as ever.
	Crisp float64
	// Motion says how grain goes on from frame to frame.
	Motion Motion
	// Seed chooses the roll of film.
	Seed uint64
	// Top is the highest density the law is tabulated for.
	Top float64
}

// Key tells settings apart: equal keys, equal grain.
func (s Setting) Key() string {
	gain := ""
	if s.Gain != nil {
		gain = fmt.Sprint(*s.Gain)
	}
	if s.Instead != nil {
		gain += fmt.Sprint(" instead ", *s.Instead)
	}
	s.Gain, s.Instead = nil, nil
	return fmt.Sprint(s, gain)
}

// pitches are the size of a pixel against the clouds, across and down.
func (s Setting) pitches() (across, down float64) {
	across, down = s.Pitch, s.Pitch*float64(max(s.Squeeze, 1))
	if s.Stretch > 1 {
		across, down = across/sqrt(s.Stretch), down*sqrt(s.Stretch)
	}
	return across, down
}

// alike tells that all layers have clouds of one size.
func (s Setting) alike() bool { return s.Cloud[0] == s.Cloud[1] && s.Cloud[1] == s.Cloud[2] }

// gainSteps are the steps over density at which factors are given.
const gainSteps = 64

// Gains are factors over density, evenly in its root from 0 to a setting's Top; between them they run straight.
type Gains [gainSteps + 1]float64

// NewGains samples factors over density up to top.
func NewGains(top float64, of func(density float64) float64) Gains {
	var g Gains
	for i := range g {
		u := float64(i) / gainSteps
		g[i] = of(top * u * u)
	}
	return g
}

// At is the factor at a density, of gains up to top.
func (g *Gains) At(top, density float64) float64 {
	u := sqrt(min(max(density/top, 0), 1)) * gainSteps
	i := min(int(u), gainSteps-1)
	t := u - float64(i)
	return (1-t)*g[i] + t*g[i+1]
}
