package standin

import (
	"context"
	"encoding/binary"
	"math"
	"math/rand/v2"
	"sync"

	"velours/core/colour"
	"velours/core/frame"
)

// Faults are what is wrong with real pictures and scans.
type Faults struct {
	// Turn is by how many degrees the film's pictures are turned, Aslant by which share one side of them is larger than the other.
	Turn, Aslant float64
	// Noise is that of the digital camera and of the scanner, as a share of light; Uneven by how much the light on the film is
	// uneven, Moved how much of the scene moved, as shares.
	Noise, Uneven, Moved float64
	// Seed is that of everything that is random.
	Seed uint64
	// Bordered draws borders between the patches of the chart.
	Bordered bool
}

// Usual are the faults of the set that is written: as bad as the measurement has to bear.
var Usual = Faults{Turn: 7, Aslant: 0.04, Noise: 0.02, Uneven: 0.15, Moved: 0.02, Seed: 1}

// photo is what lies before both cameras: light at a place, in units of half the picture's width from the middle.
type photo func(x, y float64) thing

// wide and high are the size of the pictures of chart and scene in pixels; their width on the film is FilmWidth mm.
const (
	wide, high = 960, 640
	// FilmWidth is how wide the pictures of chart and scene are on the film, in mm.
	FilmWidth = 36.0
)

// digital is what the digital camera has, ACEScct codes.
func (f Faults) digital(p photo) *frame.Frame {
	code, err := colour.FindEncoding("acescct")
	if err != nil {
		panic("standin: " + err.Error()) // it ships
	}
	out := frame.New(wide, high, 3)
	f.rows(high, 1, func(y int, r *rand.Rand) {
		for x := range wide {
			c := twice(p, x, y).digital
			for k := range c {
				out.Row(k, y)[x] = float32(code.Encode(c[k] * (1 + f.Noise*r.NormFloat64())))
			}
		}
	})
	return out
}

// rows does something for each row of a picture, several at once, each with chance of its own.
func (f Faults) rows(h int, of uint64, do func(y int, r *rand.Rand)) {
	// drawing cannot fail, and is not worth being cancelled in the middle of a picture
	_ = frame.Bands(context.Background(), h, 16, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			do(y, rand.New(rand.NewChaCha8(seedOf(f.Seed, of, uint64(y)))))
		}
	})
}

// twice is the mean light of a pixel, of two by two places in it.
func twice(p photo, x, y int) (sum thing) {
	for j := range 2 {
		for i := range 2 {
			t := p(place(float64(x)+0.25+0.5*float64(i), float64(y)+0.25+0.5*float64(j)))
			for k := range 3 {
				sum.digital[k] += t.digital[k] / 4
				sum.film[k] += t.film[k] / 4
			}
		}
	}
	return sum
}

func place(x, y float64) (float64, float64) {
	return (x - wide/2) / (wide / 2), (y - high/2) / (wide / 2)
}

// seen is the photo as the film's camera has it: from a little elsewhere.
func (f Faults) seen(p photo) photo {
	sin, cos := math.Sincos(f.Turn * math.Pi / 180)
	return func(x, y float64) thing {
		w := 1 + f.Aslant*x - 0.3*f.Aslant*y
		u, v := 1.06*(cos*x+sin*y)/w-0.03, 1.06*(-sin*x+cos*y)/w+0.02
		return p(u, v)
	}
}

// scan is what a scanner has of the film's picture of something, exposed by so many stops more: light that came through, channel by
// channel. width is that of the picture on the film in mm.
func (f Faults) scan(p photo, w, h int, width, stops float64, dust int) *frame.Frame {
	of := uint64(1000+100*stops) + uint64(w)
	pixel := width / float64(w)
	// the grain of a pixel: that of a round opening of 48 µm is smaller by the root of the areas
	coarser := math.Sqrt(math.Pi * 0.024 * 0.024 / (pixel * pixel))
	out := frame.New(w, h, 3)
	half := float64(w) / 2
	f.rows(h, of, func(y int, r *rand.Rand) {
		for x := range w {
			u, v := (float64(x)+0.5-half)/half, (float64(y)+0.5-float64(h)/2)/half
			uneven := 1 - f.Uneven*(0.35*(u*u+v*v)+0.3*(u+1)/2) // the light on the film
			lamp := 1 - 0.02*(u*u+v*v)                          // that of the scanner
			e := p(u, v).film
			for k := range e {
				e[k] *= uneven * math.Exp2(stops)
			}
			d := develop(e)
			for k, g := range (Truth{}).Grain(d) {
				d[k] = math.Max(d[k]+coarser*g*r.NormFloat64(), 0)
			}
			for k, c := range scanned(d) {
				out.Row(k, y)[x] = float32(cast[k] * lamp * math.Pow(10, -c) * (1 + f.Noise*r.NormFloat64()))
			}
		}
	})
	r := rand.New(rand.NewPCG(f.Seed, of))
	for range dust {
		cx, cy, size := r.IntN(w), r.IntN(h), 1+r.IntN(3)
		for y := max(cy-size, 0); y < min(cy+size, h); y++ {
			for x := max(cx-size, 0); x < min(cx+size, w); x++ {
				for k := range 3 {
					out.Row(k, y)[x] *= 0.4
				}
			}
		}
	}
	return out
}

// seedOf is a seed of three numbers.
func seedOf(of ...uint64) (seed [32]byte) {
	for i, v := range of {
		binary.LittleEndian.PutUint64(seed[8*i:], v)
	}
	return seed
}

// cast is the scanner's own.
var cast = [3]float64{1, 0.96, 0.9}

// scanned is what the scanner's bands read, by a table over the three dyes: pictures have many pixels.
func scanned(d [3]float64) (out [3]float64) {
	const n, most = readingsSide, mostRead
	readings := readings()
	var at [3]int
	var t [3]float64
	for k := range d {
		u := math.Min(d[k], most) * (n - 1) / most
		at[k] = min(int(u), n-2)
		t[k] = u - float64(at[k])
	}
	for corner := range 8 {
		weight, i := 1.0, 0
		for k, stride := range [3]int{1, n, n * n} {
			if corner>>k&1 == 1 {
				weight *= t[k]
				i += stride * (at[k] + 1)
			} else {
				weight *= 1 - t[k]
				i += stride * at[k]
			}
		}
		for c := range out {
			out[c] += weight * readings[i][c]
		}
	}
	return out
}

const readingsSide, mostRead = 21, 3.4

var readings = sync.OnceValue(func() [][3]float64 {
	const n, most = readingsSide, mostRead
	out := make([][3]float64, n*n*n)
	for i := range out {
		out[i] = read([3]float64{float64(i%n) * most / (n - 1), float64(i/n%n) * most / (n - 1), float64(i/n/n) * most / (n - 1)}, &scanner)
	}
	return out
})

// cloth is what lies around the chart.
var cloth = func() thing { c := even(0.07); return thingOf(&c) }()

// chartPhoto is the chart on dark cloth.
func (f Faults) chartPhoto() photo {
	things := chart()
	const across, down = 1.5, 1.0
	return func(x, y float64) thing {
		c, r := (x/across+0.5)*chartColumns, (y/down+0.5)*chartRows
		if c < 0 || r < 0 || c >= chartColumns || r >= chartRows {
			return cloth
		}
		if f.Bordered {
			if i, k := math.Mod(c, 1), math.Mod(r, 1); i < 0.06 || i > 0.94 || k < 0.06 || k > 0.94 {
				return cloth
			}
		}
		return things[int(r)*chartColumns+int(c)]
	}
}

// blob is a thing of the scene: an ellipse or a box, lit from one side.
type blob struct {
	x, y, w, h, turn, lit, by float64
	sin, cos, reach           float64
	box                       bool
	of                        thing
	moves                     bool
}

// scenePhoto is a still life of many things before a wall; later tells that what moves has moved.
func (f Faults) scenePhoto(later bool) photo {
	r := rand.New(rand.NewPCG(f.Seed, 9))
	between := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	things := chart()
	var all []blob
	for i := range 110 {
		size := between(0.05, 0.2)
		if i < 20 {
			size = between(0.2, 0.45)
		}
		all = append(all, blob{
			x: between(-1.3, 1.3), y: between(-0.95, 0.95), w: size, h: size * between(0.5, 1.2), turn: between(0, math.Pi), lit: between(0.3, 1.5), by: between(-0.5, 0.5),
			box: r.IntN(2) == 0, of: things[r.IntN(len(things))],
		})
	}
	// what moves, on top: so many small things that they cover a share of the picture
	area := 0.0
	for area < f.Moved*2*2*high/wide {
		b := blob{x: between(-0.8, 0.8), y: between(-0.5, 0.5), w: 0.05, h: 0.05, lit: between(0.5, 1.3), of: things[r.IntN(len(things))], moves: true}
		all = append(all, b)
		area += 2 * math.Pi * b.w * b.h // where it was, and where it is
	}
	for i := range all {
		b := &all[i]
		b.sin, b.cos = math.Sincos(b.turn)
		b.reach = 2*b.w*b.w + 2*b.h*b.h
	}
	wall := things[10]
	return func(x, y float64) thing {
		out, shade := wall, 0.5+0.2*x-0.15*y
		for i := len(all) - 1; i >= 0; i-- { // the last lies on top
			b := &all[i]
			bx, by := b.x, b.y
			if b.moves && later {
				bx += 0.13
				by += 0.05
			}
			dx, dy := x-bx, y-by
			if dx*dx+dy*dy > b.reach {
				continue
			}
			u, v := (b.cos*dx+b.sin*dy)/b.w, (-b.sin*dx+b.cos*dy)/b.h
			in := u*u+v*v < 1
			if b.box {
				in = math.Abs(u) < 0.8 && math.Abs(v) < 0.8
			}
			if in {
				out, shade = b.of, b.lit*(1+b.by*u)
				break
			}
		}
		for k := range 3 {
			out.digital[k] *= shade
			out.film[k] *= shade
		}
		return out
	}
}

// neutralThing is a grey of some exposure on the film.
func neutralThing(e float64) thing {
	return thing{[3]float64{e, e, e}, [3]float64{e, e, e}}
}

// Of the edge, the even patches and the lamp: sizes in pixels, and widths on the film in mm.
const (
	edgeW, edgeH, EdgeWidth    = 420, 1600, 420 * 0.004
	grainW, grainH, GrainWidth = 840, 640, 840 * 0.008
	lampW, LampWidth           = 480, 480 * 0.012
)

// edge is a slanted edge, black to white by three stops, as the film draws it.
func (f Faults) edge() *frame.Frame {
	slope := math.Tan(5 * math.Pi / 180)
	k := 2 * math.Pi * halfTransfer // of the exponential by which a point is drawn, per mm
	cos := 1 / math.Sqrt(1+slope*slope)
	straight := f
	straight.Uneven /= 4 // a small part of the picture
	return straight.scan(func(x, y float64) thing {
		sum := 0.0
		const n = 4 // a pixel is an opening
		for i := range n {
			mm := (x*edgeW/2 + (float64(i)+0.5)/n - 0.5 - slope*y*edgeW/2) * 0.004 * cos
			if mm < 0 {
				sum += 0.5 * math.Exp(k*mm) / n
			} else {
				sum += (1 - 0.5*math.Exp(-k*mm)) / n
			}
		}
		return neutralThing(0.07 + 0.49*sum)
	}, edgeW, edgeH, EdgeWidth, 0, 6)
}

// patches are even greys from clear to dense, side by side.
var patches = []float64{-2.2, -1, -0.4, 0.2, 0.9}

// PatchExposures are the log exposures of the even patches, mid grey at 0.
func (Truth) PatchExposures() []float64 { return patches }

// PatchGrain is the deviation of what a scanner reads of each of them, channel by channel, through an opening of 48 µm: the layers' own,
// each by chance.
func (t Truth) PatchGrain() (out [][3]float64) {
	const h = 1e-3
	for _, x := range patches {
		d := neutral(x)
		own := t.Grain(d)
		at := read(d, &scanner)
		var sum [3]float64
		for k := range d {
			q := d
			q[k] += h
			for i, v := range read(q, &scanner) {
				sum[i] += math.Pow((v-at[i])/h*own[k], 2)
			}
		}
		for i := range sum {
			sum[i] = math.Sqrt(sum[i])
		}
		out = append(out, sum)
	}
	return out
}

func (f Faults) grain() *frame.Frame {
	straight := f
	straight.Uneven /= 4
	straight.Noise /= 4 // a scanner that is made for it
	return straight.scan(func(x, _ float64) thing {
		i := min(int((x+1)/2*float64(len(patches))), len(patches)-1)
		return neutralThing(0.18 * math.Pow(10, patches[i]))
	}, grainW, grainH, GrainWidth, 0, 30)
}

// LampStops is how bright the lamp is, from mid grey.
const LampStops = 8.5

// lampRadius is its own on the film, in mm.
const lampRadius = 0.06

func (f Faults) lamp() *frame.Frame {
	const step = 0.004
	const n = 1000
	kernel := glow(step, n+100)
	// the lamp's disc, drawn by the kernel, by distance from its middle
	drawn := make([]float64, n)
	const points = 400
	for i := range drawn {
		r := (float64(i) + 0.5) * step
		for k := range points { // evenly over the disc
			a, q := 2*math.Pi*float64(k)*0.618034, lampRadius*math.Sqrt((float64(k)+0.5)/points)
			d := math.Hypot(r-q*math.Cos(a), q*math.Sin(a))
			drawn[i] += kernel[min(int(d/step), len(kernel)-1)] * math.Pi * lampRadius * lampRadius / points
		}
	}
	bright := 0.18 * math.Exp2(LampStops)
	straight := f
	straight.Uneven, straight.Noise = 0, f.Noise/4
	return straight.scan(func(x, y float64) thing {
		r := math.Hypot(x, y) * LampWidth / 2
		var t thing
		for k := range 3 {
			t.film[k] = 0.0004 + bright*returned[k]*drawn[min(int(r/step), n-1)]
			if r < lampRadius {
				t.film[k] += bright
			}
		}
		return t
	}, lampW, lampW, LampWidth, 0, 10)
}
