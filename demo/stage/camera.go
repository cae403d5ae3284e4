package stage

import (
	"math"
	"runtime"
	"sync"
	"sync/atomic"
)

// Camera is a thin lens: focal length and aperture radius in metres, a 24.9 mm wide gate.
type Camera struct {
	At, To   V
	Focal    float64
	Aperture float64
	Focus    float64
}

// Quality says how much work a picture gets.
type Quality struct {
	Views  int // samples of the surface a pixel, in a square
	Lights int // how many of them are lit
	Smooth int // passes of the light smoother
	Rims   int // samples where bodies meet, each with its own body's light; 0 leaves rims as they are
}

// Picture is interleaved scene-linear RGB, row by row from the top.
type Picture struct {
	W, H int
	Pix  []float32
}

// Render makes one frame. Light is gathered apart from reflectance, smoothed along
// surfaces, and multiplied back, so that texture stays sharp and shade stays clean.
func (s *Scene) Render(c Camera, w, h int, q Quality) *Picture {
	g := newGather(w, h)
	e := c.sight(w, h)
	eachRow(h, func(y int) {
		for x := range w {
			s.pixel(g, e, x, y, q)
		}
	})
	if q.Rims > 0 {
		s.rims(g, e, q.Rims)
	}
	return g.finish(q.Smooth)
}

// eachRow calls f for every row, on all cores.
func eachRow(h int, f func(y int)) {
	var next atomic.Int64
	var wg sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for y := int(next.Add(1)) - 1; y < h; y = int(next.Add(1)) - 1 {
				f(y)
			}
		})
	}
	wg.Wait()
}

// sight is a camera with its axes worked out for a raster.
type sight struct {
	Camera
	fwd, right, up V
	half           float64
	w, h           int
}

func (c Camera) sight(w, h int) *sight {
	fwd := c.To.Sub(c.At).Unit()
	right := fwd.Cross(V{0, 1, 0}).Unit()
	return &sight{c, fwd, right, right.Cross(fwd), 0.0249 / 2 / c.Focal, w, h}
}

// ray is the k-th look at a pixel, through its own point of the pixel and of the lens.
func (e *sight) ray(x, y, k int, d *dice) Ray {
	jx, jy := halton(k+1, 2), halton(k+1, 3)
	sx := (2*(float64(x)+jx)/float64(e.w) - 1) * e.half
	sy := (1 - 2*(float64(y)+jy)/float64(e.h)) * e.half * float64(e.h) / float64(e.w)
	dir := e.fwd.Add(e.right.Scale(sx)).Add(e.up.Scale(sy))
	a, rr := 2*math.Pi*d.roll(), math.Sqrt(d.roll())*e.Aperture
	sn, cs := math.Sincos(a)
	lens := e.right.Scale(rr * cs).Add(e.up.Scale(rr * sn))
	return Ray{e.At.Add(lens), dir.Scale(e.Focus).Sub(lens).Unit()}
}

// pixel takes two looks at a pixel; where they disagree it takes the rest. One pixel
// in four is lit, glossy metal always: the smoother carries light to the others.
func (s *Scene) pixel(g *gather, e *sight, x, y int, q Quality) {
	i := y*g.w + x
	sparse := q.Smooth > 0 && (x|y)&1 == 1
	var emit, irr, lit, spec V
	var depth float64
	lights, views := 0, 0
	first := surface{}
	limit, glowing := q.Views, 0
	for k := 0; k < limit; k++ {
		d := &dice{x: x, y: y, sample: k}
		r := e.ray(x, y, k, d)
		views++
		h, ok := s.trace(r, 1e-3, 1e6, false)
		f := surface{id: -1}
		if !ok {
			emit = emit.Add(s.sky(r.D))
			depth += 1e3
		} else {
			f = s.surface(r, h)
			depth += h.t
			if shine := f.mat.Emit; shine != nil {
				emit = emit.Add(shine(h.local, f.n.Dot(f.view)))
				glowing++
			}
		}
		if ok && f.mat.Emit == nil {
			g.albedo[i] = g.albedo[i].Add(f.albedo)
			g.normal[i] = g.normal[i].Add(f.n)
			metal := f.mat.Gloss > .3 && f.mat.Rough < .25
			g.metal[i] = g.metal[i] || metal
			if lights < q.Lights && (!sparse || metal) {
				lights++
				di, sp := s.direct(&f, d, 2)
				irr = irr.Add(f.albedo.Mul(di.Add(s.indirect(&f, d))))
				lit = lit.Add(f.albedo)
				if f.mat.Gloss > 0 {
					sp = sp.Add(s.mirror(&f, d))
					if f.mat.Tint != (V{}) {
						sp = sp.Mul(f.mat.Tint)
					}
					spec = spec.Add(sp)
				}
			}
		}
		if glowing > 0 && glowing <= k {
			limit = 4 * q.Views // the rim of a lamp: a hundred to one across a pixel
		}
		if k == 0 {
			first = f
			g.id[i] = f.id
		} else if f.id != first.id {
			g.id[i] = mixed
		} else if k == 1 && f.id == first.id && f.n.Dot(first.n) > .97 && (f.id < 0 || f.mat.Emit == nil) && f.albedo.Sub(first.albedo).Len() < .06*(f.albedo.Len()+.05) {
			break
		}
	}
	k := 1 / float64(views)
	g.albedo[i] = g.albedo[i].Scale(k)
	g.emit[i] = emit.Scale(k)
	g.normal[i] = g.normal[i].Unit()
	g.depth[i] = depth * k
	if lights > 0 {
		g.light[i] = V{irr.X / (lit.X + 1e-6), irr.Y / (lit.Y + 1e-6), irr.Z / (lit.Z + 1e-6)}
		g.spec[i] = spec.Scale(1 / float64(lights))
		g.lit[i] = true
	}
}

func halton(i, base int) float64 {
	f, r := 1.0, 0.0
	for ; i > 0; i /= base {
		f /= float64(base)
		r += f * float64(i%base)
	}
	return r
}
