package measure

import (
	"cmp"
	"context"
	"errors"
	"math"
	"slices"
	"sync"
	"sync/atomic"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/solve"
)

// Reference is a picture that films are held against.
type Reference struct {
	// Light is a shot's as it comes to its film, in ACEScg; Lab the reference's colours in CIELAB, against the white of its display.
	Light, Lab [][3]float64
	// Same tells that both are of one scene, place by place. Otherwise they are two pictures of which only scale and colours as a
	// whole can be compared.
	Same bool
	// Screen is what the shot is shown on.
	Screen film.Screen

	glow   func(*film.Stock) (*frame.Frame, error)
	at     []int // of each colour, its pixel
	lights map[*film.Stock][][3]float64
	// features are those of Lab, of another scene.
	features []feature
}

// glows makes the light of stocks ready.
func (r *Reference) glows(ctx context.Context, stocks []*film.Stock) error {
	if r.glow == nil {
		return nil
	}
	r.lights = map[*film.Stock][][3]float64{}
	var mu sync.Mutex
	var failed error
	err := frame.Bands(ctx, len(stocks), 1, func(a, b int) {
		for _, s := range stocks[a:b] {
			f, err := r.glow(s)
			mu.Lock()
			if err != nil {
				failed = err
			} else {
				list := make([][3]float64, len(r.at))
				for i, at := range r.at {
					list[i] = f.At(at%f.W, at/f.W)
				}
				r.lights[s] = list
			}
			mu.Unlock()
		}
	})
	return errors.Join(err, failed)
}

// light is that of the samples as it exposes a stock.
func (r *Reference) light(s *film.Stock) [][3]float64 {
	if l, ok := r.lights[s]; ok {
		return l
	}
	return r.Light
}

// SameScene makes a reference of a picture of the very scene that light, ACEScg as it comes to the film, is of: lab are its colours,
// row by row, no number where there is none. glow, if not nil, is the same light with what returns from a stock's base. Places into which brighter ones
// around them glow much are left out.
func SameScene(light *frame.Frame, lab [][3]float64, screen film.Screen, glow func(*film.Stock) (*frame.Frame, error)) *Reference {
	const reach = 0.04 // of the width, to each side
	n := max(1, int(reach*float64(light.W)))
	type placed struct {
		at   int
		risk float64
	}
	all := make([]placed, 0, light.W*light.H)
	for y := range light.H {
		for x := range light.W {
			if math.IsNaN(lab[y*light.W+x][0]) {
				continue
			}
			around, count := 0.0, 0.0
			for j := max(y-n, 0); j <= min(y+n, light.H-1); j++ {
				for _, v := range light.Row(1, j)[max(x-n, 0):min(x+n+1, light.W)] {
					around, count = around+float64(v), count+1
				}
			}
			all = append(all, placed{y*light.W + x, around / count / math.Max(float64(light.Row(1, y)[x]), 1e-5)})
		}
	}
	slices.SortStableFunc(all, func(a, b placed) int { return cmp.Compare(a.risk, b.risk) })
	kept := len(all) / 3
	for kept < len(all) && all[kept].risk < glowsInto {
		kept++
	}
	all = all[:kept]
	slices.SortFunc(all, func(a, b placed) int { return cmp.Compare(a.at, b.at) })
	r := &Reference{Same: true, Screen: screen, glow: glow}
	for _, p := range all {
		r.at = append(r.at, p.at)
		r.Light, r.Lab = append(r.Light, light.At(p.at%light.W, p.at/light.W)), append(r.Lab, lab[p.at])
	}
	return r
}

// glowsInto is how many times as bright the surroundings of a place are into which they glow too much.
const glowsInto = 2.5

// OtherScene makes a reference of a picture of anything: lab are its colours, in any order.
func OtherScene(light *frame.Frame, lab [][3]float64, screen film.Screen) *Reference {
	r := &Reference{Lab: lab, Screen: screen, features: featuresOf(lab)}
	for y := range light.H {
		for x := range light.W {
			r.Light = append(r.Light, light.At(x, y))
		}
	}
	return r
}

// Likeness is how near a film comes to a reference.
type Likeness struct {
	Stock  *film.Stock
	Medium *film.Medium
	// Exposure is how many stops of light are added before the film, Lights are printer points: those that bring it nearest.
	Exposure float64
	Lights   [3]float64
	// Apart is how far it stays from the reference: the mean ΔE2000 of the same scene; of another scene, the mean difference of
	// its features, in like units.
	Apart float64
	// Near tells that a person would call it like.
	Near bool
	// Differs is what is left, the largest first.
	Differs []Difference
}

// Within these a film is near: of the same scene a mean ΔE2000, of another scene features. A film's own fit stays under a third of it.
const nearSame, nearOther = 2.5, 3.0

// A search has rounds: by how many colours pairs of stock and medium are fitted in so many steps, and how many of them go on, beside
// every stock's nearest; in the last, the nearest alone. glowing is the round before which what returns from the base is looked at.
var rounds = []struct{ samples, steps, pairs int }{{24, 3, 80}, {64, 3, 16}, {220, 6, 6}, {220, 30, 0}}

const glowing = 2

// mostExposure and mostLights bound what a fit may add, in stops and points.
const mostExposure, mostLights = 4.0, 25.0

// Near finds, for every stock, the medium, exposure and lights by which a shot comes nearest to a reference; the nearest stock is
// first. A medium that projects the camera film is tried with what is meant for it. progress, if not nil, hears shares of the work.
func Near(ctx context.Context, ref *Reference, progress func(done float64)) ([]Likeness, error) {
	if len(ref.Light) == 0 || len(ref.Lab) == 0 || ref.Same && len(ref.Light) != len(ref.Lab) {
		return nil, errors.New("there is nothing to compare")
	}
	pairs := pairsOf()
	// the work that there is, in colours computed: every pair takes some to be made ready, and so many pairs are in a round as go on
	const ready = 100
	all := len(pairs)
	work, in := float64(ready*all), all
	for i, r := range rounds {
		work += float64(in * r.samples * r.steps)
		in = r.pairs
		if i == 0 {
			in += len(film.Stocks()) / 2
		} else if i+1 < len(rounds) && rounds[i+1].pairs > 0 {
			in += len(film.Stocks())
		}
	}
	var done atomic.Int64
	var last *Reference
	fit := func(pairs []*pair, steps int) error {
		return frame.Bands(ctx, len(pairs), 1, func(a, b int) {
			for _, p := range pairs[a:b] {
				worth := int64(len(last.Light) * steps)
				if p.path == nil {
					worth += ready
				}
				p.fit(last, steps)
				if n := float64(done.Add(worth)); progress != nil {
					progress(math.Min(n/work, 1))
				}
			}
		})
	}
	for i, r := range rounds {
		if i == glowing {
			var stocks []*film.Stock
			for _, p := range pairs[:rounds[i-1].pairs] {
				if !slices.Contains(stocks, p.like.Stock) {
					stocks = append(stocks, p.like.Stock)
				}
			}
			if err := ref.glows(ctx, stocks); err != nil {
				return nil, err
			}
		}
		last = ref.sampled(r.samples)
		if err := fit(pairs[:all], r.steps); err != nil {
			return nil, err
		}
		nearest(pairs)
		if r.pairs == 0 {
			break
		}
		var on []*pair
		seen := map[*film.Stock]bool{}
		for i, p := range pairs {
			if i < r.pairs || !seen[p.like.Stock] {
				on = append(on, p)
			}
			seen[p.like.Stock] = true
		}
		pairs, all = on, len(on)
		if rounds[i+1].pairs == 0 {
			all = r.pairs
		}
	}
	seen := map[*film.Stock]bool{}
	var out []Likeness
	for _, p := range pairs {
		if s := p.like.Stock; !seen[s] {
			seen[s] = true
			p.like.Differs = differences(p.colours(last, p.now()), last)
			out = append(out, p.like)
		}
	}
	return out, nil
}

// nearest sorts pairs, the nearest first.
func nearest(pairs []*pair) {
	slices.SortStableFunc(pairs, func(a, b *pair) int { return cmp.Compare(a.like.Apart, b.like.Apart) })
}

// pair is a stock on a medium, under fit.
type pair struct {
	like Likeness
	path *film.Positive
	// printed are what the print is exposed by in the last samples, by exposure: lights change nothing of it.
	printed [2]struct {
		of       *Reference
		exposure float64
		d, u     [][3]float64
	}
}

func pairsOf() []*pair {
	var out []*pair
	for _, s := range film.Stocks() {
		for _, m := range film.Media() {
			if !m.Direct || s.Reversal {
				out = append(out, &pair{like: Likeness{Stock: s, Medium: m}})
			}
		}
	}
	return out
}

// now are the parameters of a fit: stops of exposure, and points of the three lights.
func (p *pair) now() []float64 {
	l := &p.like
	return []float64{l.Exposure, l.Lights[0], l.Lights[1], l.Lights[2]}
}

// colours are those of the shot by the pair, CIELAB.
func (p *pair) colours(ref *Reference, x []float64) [][3]float64 {
	if p.path == nil {
		n := film.Develop(p.like.Stock, film.Process{Strength: 1})
		p.path = film.NewPositive(n, film.NewPrint(p.like.Medium, n), [3]float64{}, 1, ref.Screen)
	}
	at := &p.printed[0]
	if at.of != ref || at.exposure != x[0] {
		if at = &p.printed[1]; at.of != ref || at.exposure != x[0] {
			p.printed[1] = p.printed[0] // the older of the two is forgotten
			at = &p.printed[0]
			at.of, at.exposure, at.d, at.u = ref, x[0], make([][3]float64, len(ref.Light)), make([][3]float64, len(ref.Light))
			k := math.Exp2(x[0])
			for i, c := range ref.light(p.like.Stock) {
				at.d[i] = p.path.Negative.Develop([3]float64{k * c[0], k * c[1], k * c[2]})
				at.u[i] = p.path.Print.Exposure(at.d[i])
			}
		}
	}
	p.path.Lights = [3]float64{x[1], x[2], x[3]}
	d := ref.Screen.Display
	toXYZ, white := d.Gamut.ToXYZ(), d.Gamut.White.XYZ()
	out := make([][3]float64, len(ref.Light))
	for i := range out {
		out[i] = colour.Lab(toXYZ.Apply(d.Light(p.path.Printed(at.d[i], at.u[i]))), white)
	}
	return out
}

// fit brings a pair near a reference, from where it is, in so many steps.
func (p *pair) fit(ref *Reference, steps int) {
	limits := [][2]float64{{-mostExposure, mostExposure}, {-mostLights, mostLights}, {-mostLights, mostLights}, {-mostLights, mostLights}}
	want := ref.features
	x := solve.Least(p.now(), limits, steps, func(x []float64) []float64 {
		r := ref.misses(p.colours(ref, x), want)
		// exposure and all lights together do nearly the same: what is not needed stays at 0
		const pull = 0.02
		return append(r, pull*4*x[0], pull*x[1], pull*x[2], pull*x[3])
	})
	l := &p.like
	l.Exposure, l.Lights = x[0], [3]float64{x[1], x[2], x[3]}
	l.Apart = ref.apart(p.colours(ref, x), want)
	l.Near = l.Apart < nearOther
	if ref.Same {
		l.Near = l.Apart < nearSame
	}
}

// misses are how far colours are from the reference, as numbers whose squares are to be least.
func (r *Reference) misses(got [][3]float64, want []feature) []float64 {
	if !r.Same {
		return missed(featuresOf(got), want)
	}
	out := make([]float64, 0, 3*len(got)+4)
	for i, g := range got {
		w := r.Lab[i]
		chroma := 1 + 0.045*math.Hypot(w[1], w[2]) // as CIE94 weighs it
		miss := [3]float64{g[0] - w[0], (g[1] - w[1]) / chroma, (g[2] - w[2]) / chroma}
		// what moved, or is hidden, counts little
		const sure = 12
		size := math.Sqrt(miss[0]*miss[0] + miss[1]*miss[1] + miss[2]*miss[2])
		k := 1 / math.Sqrt(1+size/sure)
		out = append(out, k*miss[0], k*miss[1], k*miss[2])
	}
	return out
}

func (r *Reference) apart(got [][3]float64, want []feature) float64 {
	sum := 0.0
	if !r.Same {
		miss := missed(featuresOf(got), want)
		for _, m := range miss {
			sum += math.Abs(m) / float64(len(miss))
		}
		return sum
	}
	for i, g := range got {
		sum += colour.DeltaE2000(g, r.Lab[i]) / float64(len(got))
	}
	return sum
}

// sampled is the reference by about n of its colours, as different as there are.
func (r *Reference) sampled(n int) *Reference {
	out := &Reference{Same: r.Same, Screen: r.Screen, lights: map[*film.Stock][][3]float64{}}
	if !r.Same { // features are of the whole; the shot is thinned
		out.Lab, out.features = r.Lab, r.features
		for i := 0; i < len(r.Light); i += max(1, len(r.Light)/(2*n)) {
			out.Light = append(out.Light, r.Light[i])
		}
		return out
	}
	bins := map[[2]int][]int{}
	for i, c := range r.Lab {
		b := [2]int{int(c[0] / 12), -1}
		if math.Hypot(c[1], c[2]) > 8 {
			b[1] = int(math.Mod(hue(c)+360, 360) / 30)
		}
		bins[b] = append(bins[b], i)
	}
	keys := make([][2]int, 0, len(bins))
	for k := range bins {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, func(a, b [2]int) int { return cmp.Or(cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1])) })
	// as many of each as there are, but rare ones are not lost and common ones do not drown them
	total := 0.0
	for _, k := range keys {
		total += math.Sqrt(float64(len(bins[k])))
	}
	for _, k := range keys {
		list := bins[k]
		count := min(len(list), max(1, int(math.Round(float64(n)*math.Sqrt(float64(len(list)))/total))))
		for j := range count {
			i := list[(2*j+1)*len(list)/(2*count)]
			out.Light, out.Lab = append(out.Light, r.Light[i]), append(out.Lab, r.Lab[i])
			for stock, l := range r.lights {
				out.lights[stock] = append(out.lights[stock], l[i])
			}
		}
	}
	return out
}
