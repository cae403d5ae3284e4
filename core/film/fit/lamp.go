package fit

import (
	"errors"
	"math"
	"slices"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/grade"
	"velours/core/scatter"
)

// Glowing is the light around a lamp at a distance from its middle, in mm on the film, of each layer, mid grey at 0.18.
type Glowing struct {
	Radius   float64    `json:"radius"`
	Measured [3]float64 `json:"measured"`
	Fitted   [3]float64 `json:"fitted"`
}

// Ring is what the light that returns from a film's base comes to.
type Ring struct {
	// Radius is that from which on light is reflected totally, in mm; Seen that it stands out.
	Radius float64 `json:"radius"`
	Seen   bool    `json:"seen"`
	// Share is how much of a mirror's the layers get back, if the lamp's brightness is known; otherwise against the strongest.
	Share [3]float64 `json:"share"`
	// Hue is the colour of the halo, in degrees of Oklab.
	Hue     float64   `json:"hue"`
	Known   bool      `json:"known"`
	Profile []Glowing `json:"profile"`
}

// ErrNoLamp is why no lamp was found.
var ErrNoLamp = errors.New("no lamp on black was found in it: a small bright light in the middle of a dark picture, 2 mm of dark around it on the film")

// Halo reads what a film's base returns around a small lamp on black: light is the exposure of its layers, perMM how many pixels a
// millimetre has, index the refractive index of the base, and stops how bright the lamp is from mid grey, no number if that is not known.
func Halo(light *frame.Frame, perMM, index, stops float64) (*Ring, float64, error) {
	profile, lamp, err := around(light, perMM)
	if err != nil {
		return nil, 0, err
	}
	// what one mirror returns around a disc as large as the lamp, by thickness; gains and what is everywhere are straight
	var floor [3]float64
	for p := range 3 {
		var far []float64
		for _, g := range profile[len(profile)*5/6:] {
			far = append(far, g.Measured[p])
		}
		slices.Sort(far)
		floor[p] = far[len(far)/2]
	}
	used := func(r float64) bool { return r > lamp+0.03 && r < haloReach }
	weigh := func(g *Glowing, p int) float64 { return 1 / (0.05*g.Measured[p] + 0.2*floor[p] + 1e-5) }
	gainsOf := func(k []float64) (gain, pedestal [3]float64, miss float64) {
		for p := range 3 {
			var ww, wk, wkk, wv, wkv float64
			for i := range profile {
				g := &profile[i]
				if !used(g.Radius) {
					continue
				}
				w := weigh(g, p)
				w *= w
				v := g.Measured[p]
				ww, wk, wkk, wv, wkv = ww+w, wk+w*k[i], wkk+w*k[i]*k[i], wv+w*v, wkv+w*k[i]*v
			}
			det := ww*wkk - wk*wk
			gain[p], pedestal[p] = (wkv*ww-wv*wk)/det, (wv*wkk-wkv*wk)/det
			for i := range profile {
				g := &profile[i]
				if used(g.Radius) {
					d := (g.Measured[p] - gain[p]*k[i] - pedestal[p]) * weigh(g, p)
					miss += d * d
				}
			}
		}
		return gain, pedestal, miss
	}
	best, thick := math.Inf(1), 0.0
	for t := 0.06; t <= 0.32; t *= 1.008 {
		if miss := shapeMiss(profile, mirrored(profile, t, index, lamp), lamp+0.03); miss < best {
			best, thick = miss, t
		}
	}
	k := mirrored(profile, thick, index, lamp)
	gain, pedestal, _ := gainsOf(k)
	for i := range profile {
		for p := range 3 {
			profile[i].Fitted[p] = max(gain[p]*k[i]+pedestal[p], 0)
		}
	}
	base := scatter.Removed(thick, index)
	r := &Ring{Radius: base.Ring(), Profile: profile}
	strongest := max(gain[0], gain[1], gain[2])
	if strongest <= 0 {
		return nil, 0, ErrNoLamp
	}
	// the ring stands out where light just outside it is brighter than it would be without
	inside, outside := meanAt(profile, 0.72*r.Radius, 0.92*r.Radius), meanAt(profile, r.Radius, 1.25*r.Radius)
	r.Seen = outside[0] > 1.15*inside[0]
	r.Known = !math.IsNaN(stops)
	for p := range gain {
		gain[p] = max(gain[p], 0)
		r.Share[p] = gain[p] / strongest
		if r.Known {
			r.Share[p] = gain[p] / (0.18 * math.Exp2(stops))
		}
	}
	r.Hue = HueOf(gain)
	return r, thick, nil
}

// shapeMiss is how far the shape of a profile is from that of k, beyond a radius: in logarithms, the slope free, because the foot of a
// curve is never known well, and something over everything, because there always is.
func shapeMiss(profile []Glowing, k []float64, from float64) float64 {
	most := slices.Max(k)
	total := 0.0
	for p := range 2 { // blue returns next to nothing
		best := math.Inf(1)
		for over := 0.003; over < 0.5; over *= 1.5 {
			var n, sx, sy, sxx, sxy, syy float64
			for i := range profile {
				g := &profile[i]
				if g.Radius < from || g.Radius > haloReach {
					continue
				}
				x, y := math.Log(k[i]/most+over), math.Log(max(g.Measured[p], 1e-6))
				n, sx, sy, sxx, sxy, syy = n+1, sx+x, sy+y, sxx+x*x, sxy+x*y, syy+y*y
			}
			slope := (sxy - sx*sy/n) / max(sxx-sx*sx/n, 1e-9)
			slope = min(max(slope, 0.7), 1.4)
			miss := syy - sy*sy/n - 2*slope*(sxy-sx*sy/n) + slope*slope*(sxx-sx*sx/n)
			best = min(best, miss)
		}
		total += best
	}
	return total
}

// haloReach is how far from a lamp its halo is read, in mm.
const haloReach = 0.8

// HueOf is the colour of light that exposes three layers by shares, in degrees of Oklab, as bright as mid grey.
func HueOf(share [3]float64) float64 {
	k := 3 * 0.18 / (share[0] + share[1] + share[2])
	_, a, b := grade.Lab([3]float64{k * share[0], k * share[1], k * share[2]})
	return math.Mod(math.Atan2(b, a)*180/math.Pi+360, 360)
}

// mirrored is, at the radii of a profile, what a bare base of a thickness returns of a disc of light of 1, by one bounce.
func mirrored(profile []Glowing, thickness, index, lamp float64) []float64 {
	base := scatter.Removed(thickness, index)
	// returned, by distance: the disc is many points
	const points = 60
	out := make([]float64, len(profile))
	area := math.Pi * lamp * lamp
	for i, g := range profile {
		for k := range points {
			a, q := 2*math.Pi*0.618034*float64(k), lamp*math.Sqrt((float64(k)+0.5)/points)
			d := math.Hypot(g.Radius-q*math.Cos(a), q*math.Sin(a))
			out[i] += base.Return(d) * area / points
		}
	}
	return out
}

func meanAt(profile []Glowing, from, to float64) (m [3]float64) {
	n := 0.0
	for _, g := range profile {
		if g.Radius >= from && g.Radius <= to {
			n++
			for p := range 3 {
				m[p] += g.Measured[p]
			}
		}
	}
	for p := range m {
		m[p] /= max(n, 1)
	}
	return m
}

// around is the light around the lamp by distance, ring by ring of a pixel, without what dust spoils; and the lamp's own radius in mm.
func around(light *frame.Frame, perMM float64) (profile []Glowing, lamp float64, err error) {
	// what is as bright as the lamp, to a few stops: its core has run out of the curve, where noise is large
	var all []float32
	for y := range light.H {
		all = append(all, light.Row(1, y)...)
	}
	slices.Sort(all)
	most := all[len(all)-min(20, len(all))]
	var n, sx, sy float64
	for y := range light.H {
		for x, v := range light.Row(1, y) {
			if v > most/16 {
				n, sx, sy = n+1, sx+float64(x), sy+float64(y)
			}
		}
	}
	if n == 0 || n > 0.02*float64(light.W*light.H) {
		return nil, 0, ErrNoLamp
	}
	cx, cy := sx/n, sy/n
	room := min(cx, cy, float64(light.W)-cx, float64(light.H)-cy)
	lamp = math.Sqrt(n/math.Pi) / perMM
	if room/perMM < 1 || most < 1 {
		return nil, 0, ErrNoLamp
	}
	rings := make([][3][]float64, int(room))
	for y := range light.H {
		for x := range light.W {
			if k := int(math.Hypot(float64(x)-cx, float64(y)-cy)); k < len(rings) {
				for p := range 3 {
					rings[k][p] = append(rings[k][p], float64(light.Row(p, y)[x]))
				}
			}
		}
	}
	for k := range rings {
		g := Glowing{Radius: (float64(k) + 0.5) / perMM}
		for p := range 3 {
			v := rings[k][p]
			slices.Sort(v)
			// the mean of the middle: dust and scratches lie outside
			g.Measured[p] = mean(v[len(v)/10 : max(len(v)-len(v)/10, len(v)/10+1)])
		}
		profile = append(profile, g)
	}
	return profile, lamp, nil
}

// fitHalo gives a card what was measured of its base.
func fitHalo(s *film.Stock, r *Ring, thick float64) {
	s.Thickness, s.Undercoat, s.Leak = round(thick), 0, 0
	s.Bare = r.Seen
	share := r.Share
	if !r.Known { // as strong as the other card's strongest
		was := 0.0
		for _, l := range s.Layers {
			was = max(was, l.Held*l.Back)
		}
		for p := range share {
			share[p] *= was
		}
	}
	for p := range s.Layers {
		l := &s.Layers[p]
		held := max(l.Held, share[p], 0.01)
		l.Held, l.Back = round(min(held, 1)), round(min(share[p]/held, 1))
	}
}
