package stage

import (
	"math"
)

// Footlights: a marionette before a velvet curtain, lit from below by a row of bare bulbs.
func Footlights(t float64) (*Scene, Camera) {
	s := &Scene{Ambient: V{.0035, .003, .0032}}
	floor := &Material{Gloss: .04, Rough: .32, Albedo: func(p, _ V) V {
		q := V{p.X * 2.2, p.Y, p.Z * 2.2}
		plank := math.Floor(q.X / .16)
		edge := math.Abs(q.X/.16 - plank - .5)
		tone := .8 + .35*Rand(int(plank), 3, 1)
		g := Fractal(V{q.X * 55, plank, q.Z * 3}, 4)
		return V{.155, .088, .05}.Scale(tone * (1 + .45*g) * (1 - .75*Step(.485, .497, edge)))
	}}
	s.Add(Block{}, At(0, -.05, 0).Sized(2.2, .05, 2.2), floor)
	velvet := &Material{Sheen: 1.1, Albedo: func(p, _ V) V {
		n := 1 + .22*Fractal(V{p.X * 30, p.Y * 9, p.Z * 30}, 3) + .16*Noise(p.Scale(420))
		c := V{.155, .012, .020}
		if p.Y < .085 {
			c = V{.26, .15, .045}.Scale(.7 + .5*math.Abs(sin(p.X*480)))
		}
		return c.Scale(n)
	}}
	hang := func(x, y float64) float64 {
		u := x*17 + .9*sin(x*3.1) + .28*sin(y*2.3+x*1.3)
		return (.085*sin(u) + .022*sin(2*u+.8+y) + .012*sin(x*61+2*sin(y*3))) * (.75 + .25*Step(1.6, .1, y))
	}
	lo, hi := V{-1.3, 0, -.16}, V{1.3, 1.7, .16}
	folds := Sheet(lo, hi, 1600, 200, hang)
	s.Add(&Field{Lo: lo, Hi: hi, Slack: .42, Steps: 110,
		Distance: func(p V) float64 { return p.Z - hang(p.X, p.Y) },
		Rough:    func(p V) float64 { return p.Z - folds(p.X, p.Y) },
	}, At(0, .012, -.55), velvet)
	// wings: two gathered drapes that frame the stage
	for _, x := range [2]float64{-1, 1} {
		s.Add(&Field{Lo: V{-.30, 0, -.12}, Hi: V{.30, 2, .12}, Slack: .45, Steps: 80, Distance: func(p V) float64 {
			a := p.X * x
			edge := .10 + .16*math.Pow(math.Abs(p.Y-.42), 1.2)
			fold := .035*sin(a*46+1.4*sin(p.Y*2)) + .012*sin(a*118)
			return max(math.Abs(p.Z-fold)-.03, -a-edge+.1)
		}}, At(.80*x, .01, .02), velvet)
	}
	pose := sin(2 * math.Pi * t * 1.1)
	sway := .03 * sin(2*math.Pi*t*.8)
	body := At(-.13+sway, .004+.006*math.Abs(sin(2*math.Pi*t*2)), .06).Turned(0, .20+.10*pose, .5*sway)
	player(s, body, .10+.07*sin(2*math.Pi*t*1.4), .16+.22*pose, .35+.6*pose, V{.022, .082, .088}, V{.30, .15, .03})
	// a gilded moon on a wire
	moon := At(.40, .70+.01*pose, -.2).Turned(0, .35*sin(2*math.Pi*t*.5)-.3, .22)
	s.Add(&Field{Lo: V{-.16, -.16, -.02}, Hi: V{.16, .16, .02}, Slack: .8, Steps: 60, Distance: func(p V) float64 {
		a := math.Hypot(p.X, p.Y) - .145
		b := math.Hypot(p.X-.065, p.Y-.012) - .115
		d := max(a, -b)
		return max(d, math.Abs(p.Z)-.009)
	}}, moon, &Material{Gloss: .62, Rough: .34, Tint: V{1, .76, .38}, Albedo: func(p, _ V) V {
		return V{.20, .135, .05}.Scale(1 + .4*Fractal(p.Scale(60), 3))
	}, Bump: func(p V) float64 { return .0012 * Fractal(p.Scale(90), 2) }})
	thread(s, moon.Point(V{.02, .14, 0}), moon.Point(V{.02, 1.6, 0}))
	for i := range 6 {
		a := float64(i)
		x, y := -.72+.26*a+.05*sin(a*4), .80+.14*sin(a*2.3)
		if i == 2 {
			continue
		}
		s.Add(Drum{Top: 1}, At(x, y, -.34).Turned(math.Pi/2, 0, 0).Sized(.017, .002, .017), &Material{Albedo: Solid(.3, .3, .32), Gloss: .7, Rough: .2})
		thread(s, V{x, y, -.34}, V{x, 2.1, -.34})
	}
	// painted steps
	step := &Material{Gloss: .03, Rough: .4, Albedo: func(p, _ V) V {
		c := V{.16, .14, .10}
		if math.Mod(math.Abs(p.X*3+10), 1) < .5 {
			c = V{.05, .07, .14}
		}
		return c.Scale(1 + .3*Fractal(p.Scale(8), 4))
	}}
	s.Add(Block{}, At(.44, .05, -.16).Turned(0, -.2, 0).Sized(.19, .05, .12), step)
	s.Add(Block{}, At(.48, .14, -.20).Turned(0, -.2, 0).Sized(.12, .04, .08), step)
	// the batten and its bulbs
	batten := &Material{Albedo: wood(V{.12, .075, .045}, 60), Gloss: .03, Rough: .35}
	s.Add(Block{}, At(0, .02, .68).Sized(1.4, .022, .045), batten)
	s.Add(Block{}, At(0, .035, .735).Sized(1.4, .036, .008), batten)
	brass := &Material{Albedo: Solid(.10, .06, .02), Gloss: .7, Tint: V{1, .75, .4}, Rough: .3}
	light := V{1.22, .93, .60}
	for i := range 9 {
		x := -.76 + .19*float64(i)
		k := 66 * (1 + .05*sin(float64(i)*2.1))
		if i == 6 {
			k *= .22 + .05*sin(2*math.Pi*t*3) // one bulb is failing
		}
		at := V{x, .098, .68}
		s.Add(Drum{Top: .8}, At(x, .055, .68).Sized(.017, .016, .017), brass)
		s.Add(Ball{}, At(at.X, at.Y, at.Z).Sized(.026, .031, .026), &Material{Emit: func(p V, c float64) V {
			return light.Scale(k * (.30 + 1.35*math.Pow(max(0, c), 5)))
		}})
		s.Lamps = append(s.Lamps, Lamp{At: at, Radius: .027, Radiance: light.Scale(k)})
	}
	// a cool spot from high on the left
	s.Panes = append(s.Panes, Pane{Corner: V{-1.45, 1.35, .55}, U: V{.3, 0, .2}, W: V{.12, .3, -.1}, Radiance: V{24, 27, 33}},
		Pane{Corner: V{1.5, 1.2, -.1}, U: V{0, .3, .1}, W: V{-.1, .05, .3}, Radiance: V{7, 3.9, 1.6}})
	for i := range s.Panes {
		fix(&s.Panes[i], V{-.1, .45, -.2})
	}
	s.Build()
	return s, Camera{At: V{.06 - .07*t, .42, 3.05}, To: V{.03 - .03*t, .365, 0}, Focal: .046, Aperture: .010, Focus: 2.98}
}

// fix turns a pane so that its front faces a point.
func fix(p *Pane, at V) {
	if p.U.Cross(p.W).Dot(at.Sub(p.Corner)) < 0 {
		p.U, p.W = p.W, p.U
	}
}
