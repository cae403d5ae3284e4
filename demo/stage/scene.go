package stage

import (
	"math"
	"sort"
)

// Material says what a surface does with light.
type Material struct {
	// Albedo is the diffuse reflectance at a local point with a world normal.
	Albedo func(local, normal V) V
	// Gloss is the reflectance at normal incidence, Rough the GGX roughness.
	Gloss, Rough float64
	// Tint colours the mirror lobe of metals; zero means white.
	Tint V
	// Sheen brightens grazing angles, as velvet does.
	Sheen float64
	// Leaf lets light through to the far side, 0 to 1.
	Leaf float64
	// Emit is the radiance sent out at a local point, seen under cosine c.
	Emit func(local V, c float64) V
	// Bump displaces the normal by the gradient of this height (metres, local space).
	Bump func(local V) float64
}

// Solid colours a whole surface.
func Solid(r, g, b float64) func(V, V) V { return func(V, V) V { return V{r, g, b} } }

// Body is a placed shape with its material.
type Body struct {
	shape  Shape
	at     Frame
	inv    Frame
	mat    *Material
	lo, hi V
	id     int
}

// Lamp is a sphere that sends out Radiance; it should be added as a Body too when it is to be seen.
type Lamp struct {
	At       V
	Radius   float64
	Radiance V
}

// Pane is a rectangle that sends light to its front: corner, two edges.
type Pane struct {
	Corner, U, W V
	Radiance     V
}

// Scene is everything the camera can see.
type Scene struct {
	bodies  []*Body
	tree    []node
	Lamps   []Lamp
	Panes   []Pane
	Sun     V // direction towards the sun; zero length for none
	SunSize float64
	SunLit  V // irradiance on a surface facing the sun
	Sky     func(d V) V
	Ambient V // what light the second bounce still finds
}

// Add places a shape.
func (s *Scene) Add(sh Shape, at Frame, m *Material) {
	b := &Body{shape: sh, at: at, inv: at.inverse(), mat: m, id: len(s.bodies) + 1}
	lo, hi := sh.box()
	b.lo, b.hi = Grey(math.Inf(1)), Grey(math.Inf(-1))
	for i := range 8 {
		c := V{pick(i&1 != 0, lo.X, hi.X), pick(i&2 != 0, lo.Y, hi.Y), pick(i&4 != 0, lo.Z, hi.Z)}
		p := at.Point(c)
		b.lo, b.hi = lower(b.lo, p), upper(b.hi, p)
	}
	s.bodies = append(s.bodies, b)
}

func pick(c bool, a, b float64) float64 {
	if c {
		return b
	}
	return a
}
func lower(a, b V) V { return V{min(a.X, b.X), min(a.Y, b.Y), min(a.Z, b.Z)} }
func upper(a, b V) V { return V{max(a.X, b.X), max(a.Y, b.Y), max(a.Z, b.Z)} }

type node struct {
	lo, hi      V
	left, right int // children, or the range [left, right) of bodies when leaf
	leaf        bool
}

// Build sorts the bodies into a hierarchy by median split along the longest axis.
func (s *Scene) Build() {
	s.tree = s.tree[:0]
	s.split(0, len(s.bodies))
}

func (s *Scene) split(a, b int) int {
	lo, hi := Grey(math.Inf(1)), Grey(math.Inf(-1))
	for _, x := range s.bodies[a:b] {
		lo, hi = lower(lo, x.lo), upper(hi, x.hi)
	}
	i := len(s.tree)
	s.tree = append(s.tree, node{lo: lo, hi: hi, left: a, right: b, leaf: true})
	if b-a <= 2 {
		return i
	}
	e := hi.Sub(lo)
	key := func(x *Body) float64 { return x.lo.Z + x.hi.Z }
	if e.X >= e.Y && e.X >= e.Z {
		key = func(x *Body) float64 { return x.lo.X + x.hi.X }
	} else if e.Y >= e.Z {
		key = func(x *Body) float64 { return x.lo.Y + x.hi.Y }
	}
	part := s.bodies[a:b]
	sort.SliceStable(part, func(i, j int) bool { return key(part[i]) < key(part[j]) })
	m := (a + b) / 2
	l := s.split(a, m)
	r := s.split(m, b)
	s.tree[i].left, s.tree[i].right, s.tree[i].leaf = l, r, false
	return i
}

type hit struct {
	t     float64
	body  *Body
	local V
	grad  V
}

func (s *Scene) trace(r Ray, tmin, tmax float64, any bool) (hit, bool) {
	best := hit{t: tmax}
	inv := V{1 / r.D.X, 1 / r.D.Y, 1 / r.D.Z}
	var stack [48]int
	n := 1
	for n > 0 {
		n--
		nd := &s.tree[stack[n]]
		if _, _, ok := slab(nd.lo, nd.hi, r.O, inv, tmin, best.t); !ok {
			continue
		}
		if !nd.leaf {
			stack[n], stack[n+1] = nd.left, nd.right
			n += 2
			continue
		}
		for _, b := range s.bodies[nd.left:nd.right] {
			if any && b.mat.Emit != nil {
				continue
			}
			o, d := b.inv.Point(r.O), b.inv.dir(r.D)
			if t, g, ok := b.shape.hit(o, d, tmin, best.t); ok {
				best.t, best.body, best.grad = t, b, g
				if any {
					return best, true
				}
				best.local = o.Add(d.Scale(t))
			}
		}
	}
	return best, best.body != nil
}
