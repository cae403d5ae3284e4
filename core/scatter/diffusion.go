package scatter

import "math"

// Family is a kind of diffusion filter: a cloud of scatterers, of depth Depth at grade 1 in each channel, and for a net its
// threads.
type Family struct {
	Depth float64
	Lobes []Gaussian
	Net   bool
}

// The families, with the design's figures for them (part B2). Fog is a large veil; mist a tight halo; net a cross with a halo;
// veil softens the core a little and lays a broad haze; silk is the cloud that has different depths in red and blue when it
// is warm.
var (
	Mist = Family{Depth: 0.22, Lobes: []Gaussian{{.004, .55}, {.012, .30}, {.035, .15}}}
	Fog  = Family{Depth: 0.45, Lobes: []Gaussian{{.006, .20}, {.025, .25}, {.09, .25}, {.28, .30}}}
	Mesh = Family{Depth: 0.16, Lobes: []Gaussian{{.003, .50}, {.012, .50}}, Net: true}
	Veil = Family{Depth: 0.30, Lobes: []Gaussian{{.0015, .15}, {.02, .25}, {.35, .60}}}
	Silk = Family{Depth: 0.24, Lobes: []Gaussian{{.005, .45}, {.016, .35}, {.05, .20}}}
)

// warmDepths are what a fully warm filter's depth is multiplied by in red, green and blue.
var warmDepths = [3]float64{1.25, 1, 0.70}

// Filter is the family's cloud at a grade (1/8 to 2), so warm (0 to 1), with a share mix of the light through it.
func (f Family) Filter(grade, warmth, mix float64) Filter {
	out := Filter{Lobes: f.Lobes, Mix: mix}
	for i, w := range warmDepths {
		out.Depth[i] = f.Depth * grade * (1 + warmth*(w-1))
	}
	return out
}

// Threads is the family's net at a grade, its threads turned by so many degrees; nil for the others. focal and gate, in
// millimetres, are the lens's and the width of the picture behind it.
func (f Family) Threads(grade, turn, focal, gate float64) *Net {
	if !f.Net {
		return nil
	}
	return &Net{Grade: grade, Turn: math.Mod(turn, 90), Pitch: 1, Width: 0.1, Focal: focal, Gate: gate}
}
