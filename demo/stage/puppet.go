package stage

import (
	"math"
)

// Skin albedos in ACEScg, from light to deep.
var skins = [4]V{{0.50, 0.36, 0.27}, {0.38, 0.255, 0.175}, {0.24, 0.155, 0.105}, {0.105, 0.068, 0.05}}

func face(p V) float64 {
	if far := p.Sub(V{0, -.15, .05}).Len() - 1.45; far > .3 {
		return far
	}
	d := Egg(p, V{0, .17, -.02}, V{.80, .90, .86})
	d = Blend(d, Egg(p, V{0, -.46, .16}, V{.54, .54, .58}), .42)
	m := V{math.Abs(p.X), p.Y, p.Z}
	d = Blend(d, Egg(m, V{.36, -.30, .52}, V{.25, .22, .24}), .26)
	d = Blend(d, Egg(m, V{.30, .33, .66}, V{.28, .07, .16}), .20)
	d = Blend(d, Rod(p, V{0, .12, .80}, V{0, -.20, 1.02}, .085, .15), .13)
	d = Blend(d, Egg(m, V{.10, -.22, .92}, V{.085, .07, .10}), .08)
	d = Blend(d, Egg(p, V{0, -.50, .70}, V{.24, .055, .10}), .08)
	d = Blend(d, Egg(p, V{0, -.60, .685}, V{.19, .06, .10}), .07)
	d = Blend(d, Egg(p, V{0, -.86, .50}, V{.20, .16, .17}), .20)
	d = Blend(d, Egg(m, V{.80, -.02, -.06}, V{.10, .22, .16}), .10)
	d = Blend(d, Rod(p, V{0, -.6, 0}, V{0, -1.35, -.05}, .34, .30), .18)
	return d
}

func spot(p, c V, r float64) float64 {
	q := p.Sub(c)
	return math.Exp(-q.Dot(q) / (r * r))
}

// painted is a face in oils: blush, lips, brows and lids over a skin colour.
func painted(skin V, rouge float64) func(V, V) V {
	return func(p, _ V) V {
		m := V{math.Abs(p.X), p.Y, p.Z}
		c := skin.Scale(1 + 0.10*Fractal(p.Scale(9), 3) + 0.05*Noise(p.Scale(60)))
		blush := skin.Mul(V{1.12, .62, .60})
		c = c.Mix(blush, rouge*min(1, 1.1*spot(m, V{.42, -.28, .66}, .24)+.7*spot(p, V{0, -.2, 1.12}, .16)+.4*spot(m, V{.86, 0, 0}, .2)))
		if p.Z > .3 {
			lips := Step(1, .7, math.Hypot(p.X/.22, (p.Y+.565-1.1*p.X*p.X)/.075))
			c = c.Mix(V{.30, .055, .05}.Mix(skin.Mul(V{.8, .35, .33}), .35), lips*.9)
			c = c.Mix(skin.Scale(.3), Step(.014, .004, math.Abs(p.Y+.56-1.3*p.X*p.X))*Step(.22, .16, m.X)*.8)
			brow := math.Abs(m.Y - (.45 - 1.5*(m.X-.30)*(m.X-.30)))
			c = c.Mix(V{.035, .022, .016}, Step(.055, .028, brow+.05*math.Abs(m.X-.3))*Step(.56, .5, m.X)*Step(.08, .13, m.X)*.92)
			lid := math.Hypot((m.X-.30)/.19, (m.Y-.09)/.15)
			c = c.Mix(skin.Mul(V{.62, .44, .46}), Step(1.25, .85, lid)*.6)
		}
		return c
	}
}

func wood(tone V, grain float64) func(V, V) V {
	return func(p, _ V) V {
		r := math.Hypot(p.X+.3*Noise(p.Scale(1.4)), p.Z+.25*Noise(p.Scale(1.1)))
		ring := .5 + .5*sin(r*grain+2*Fractal(p.Mul(V{3, .7, 3}), 2))
		return tone.Scale(.74 + .30*ring + .10*Noise(p.Mul(V{40, 4, 40})))
	}
}

func eye(iris V) *Material {
	return &Material{Gloss: .05, Rough: .16, Albedo: func(p, _ V) V {
		r := math.Hypot(p.X, p.Y)
		c := V{.62, .60, .56}
		if p.Z > 0 {
			c = c.Mix(iris.Scale(.7+.5*r), Step(.56, .50, r))
			c = c.Mix(Grey(.012), Step(.26, .22, r))
			c = c.Mix(Grey(.02), Step(.05, .02, math.Abs(r-.56))*.7)
		}
		return c.Mix(Grey(.03), Step(.42, .52, p.Y))
	}}
}

// head adds a marionette's head: at places its centre, one local unit is the skull's radius.
func head(s *Scene, at Frame, skin *Material, hair V, iris V) {
	s.Add(&Field{Lo: V{-1.05, -1.5, -1.05}, Hi: V{1.05, 1.2, 1.3}, Distance: face, Slack: .8, Steps: 56}, at, skin)
	if iris != (V{}) {
		for _, x := range [2]float64{-1, 1} {
			s.Add(Ball{}, at.In(At(.30*x, .09, .645).Turned(0, .12*x, 0).Sized(.165, .165, .165)), eye(iris))
		}
	}
	if hair != (V{}) {
		m := &Material{Gloss: .04, Rough: .38, Albedo: func(p, _ V) V {
			return hair.Scale(.7 + .5*math.Abs(Noise(V{p.X * 26, p.Y * 3, p.Z * 26})))
		}}
		s.Add(&Field{Lo: V{-1, -.6, -1.1}, Hi: V{1, 1.3, 1}, Slack: .6, Steps: 48, Distance: func(p V) float64 {
			d := Egg(p, V{0, .24, -.08}, V{.88, .95, .93}) - .03*sin(p.X*17+2*sin(p.Y*4))
			return max(d, .82*(p.Z-.28)-.62*(p.Y-.26)-.05*sin(p.X*9))
		}}, at, m)
	}
}

func limb(s *Scene, m *Material, a, b V, ra, rb float64) {
	s.Add(Drum{Top: rb / ra}, Along(a, b).Sized(ra, 1, ra), m)
	s.Add(Ball{}, At(a.X, a.Y, a.Z).Sized(ra, ra, ra), m)
	s.Add(Ball{}, At(b.X, b.Y, b.Z).Sized(rb, rb, rb), m)
}

func thread(s *Scene, a, b V) {
	s.Add(Drum{Top: 1}, Along(a, b).Sized(.0011, 1, .0011), &Material{Albedo: Solid(.30, .27, .22), Gloss: .05, Rough: .4})
}

func cloth(c V, weave float64) func(V, V) V {
	return func(p, _ V) V {
		w := sin(p.X*weave) * sin(p.Y*weave+p.Z*weave)
		return c.Scale(.88 + .14*w + .12*Fractal(p.Scale(weave/40), 3))
	}
}

// player adds a whole marionette standing at the origin of at, 0.62 m tall. Pose angles are radians.
func player(s *Scene, at Frame, nod, turn, raise float64, coat, trim V) {
	skin := &Material{Albedo: painted(skins[0].Mix(skins[1], .35), 1), Gloss: .035, Rough: .42}
	velvet := &Material{Albedo: cloth(coat, 900), Sheen: .9}
	satin := &Material{Albedo: cloth(trim, 1500), Gloss: .04, Rough: .45, Sheen: .4}
	lace := &Material{Albedo: cloth(V{.62, .60, .55}, 1100), Leaf: .25}
	dark := &Material{Albedo: Solid(.022, .02, .022), Gloss: .05, Rough: .25}
	p := at.Point
	s.Add(&Field{Lo: V{-.13, -.02, -.12}, Hi: V{.13, .21, .12}, Slack: .7, Steps: 48, Distance: func(q V) float64 {
		r := math.Hypot(q.X, q.Z*1.25)
		a := math.Atan2(q.Z, q.X)
		flare := .052 + .055*math.Pow(max(0, 1-q.Y/.2), 1.4) + .006*sin(a*9)*max(0, 1-q.Y/.15)
		return max(r-flare, math.Abs(q.Y-.095)-.1)
	}}, at.In(At(0, .23, 0)), velvet)
	for i := range 4 {
		s.Add(Ball{}, at.In(At(0, .27+.04*float64(i), .068-.004*float64(i)).Sized(.008, .008, .006)), &Material{Albedo: Solid(.2, .13, .04), Gloss: .75, Tint: V{1, .72, .34}, Rough: .24})
	}
	// ruff: a pleated disc
	s.Add(&Field{Lo: V{-.1, -.02, -.1}, Hi: V{.1, .02, .1}, Slack: .5, Steps: 48, Distance: func(q V) float64 {
		r := math.Hypot(q.X, q.Z)
		a := math.Atan2(q.Z, q.X)
		y := q.Y - .010*sin(a*19)*Step(.02, .09, r)
		return max(math.Abs(y)-.0035, r-.088)
	}}, at.In(At(0, .425, 0).Turned(.10, 0, 0)), lace)
	h := at.In(At(0, .515, .008).Turned(nod, turn, .04)).Sized(.078, .078, .078)
	head(s, h, skin, V{.055, .03, .018}, V{.10, .16, .15})
	// a soft cap with a bell
	s.Add(&Field{Lo: V{-1.1, .2, -1.2}, Hi: V{1.7, 1.8, 1.1}, Slack: .7, Steps: 48, Distance: func(q V) float64 {
		d := Egg(q, V{0, .62, -.12}, V{.90, .55, .90})
		d = Blend(d, Rod(q, V{.2, 1.0, -.1}, V{.95, 1.15, -.2}, .42, .2), .3)
		d = Blend(d, Rod(q, V{.95, 1.15, -.2}, V{1.3, .75, -.2}, .2, .09), .2)
		return max(d, .42-q.Y+.25*q.Z)
	}}, h, satin)
	s.Add(Ball{}, h.In(At(1.36, .62, -.2).Sized(.13, .13, .13)), &Material{Albedo: Solid(.25, .16, .05), Gloss: .8, Tint: V{1, .74, .36}, Rough: .16})
	for _, x := range [2]float64{-1, 1} {
		shoulder := V{.062 * x, .405, 0}
		up := 0.25 + .15*x*raise
		if x > 0 {
			up = 1.25 + .55*raise
		}
		elbow := shoulder.Add(V{.098 * x * sin(up), -.098 * cos(up), .02})
		fore := up + .7
		if x < 0 {
			fore = up + .25
		}
		hand := elbow.Add(V{.09 * x * sin(fore), -.09 * cos(fore), .035})
		limb(s, velvet, p(shoulder), p(elbow), .030, .026)
		limb(s, velvet, p(elbow), p(elbow.Mix(hand, .8)), .026, .034)
		s.Add(Drum{Top: 1.1}, Along(p(elbow.Mix(hand, .78)), p(elbow.Mix(hand, .92))).Sized(.036, 1, .036), lace)
		s.Add(Ball{}, at.In(At(hand.X, hand.Y, hand.Z).Sized(.021, .028, .017)), skin)
		for f := range 4 {
			a := fore + .25*float64(f-1) - .1
			tip := hand.Add(V{.045 * x * sin(a), -.045 * cos(a), .008})
			limb(s, skin, p(hand), p(tip), .0065, .005)
		}
		top := V{hand.X*.9 + .02*x, 2.1, -.02}
		thread(s, p(hand), p(top))
		knee, foot := V{.045 * x, .15, .012 + .012*raise*x}, V{.052 * x, .025, 0}
		limb(s, satin, p(V{.038 * x, .25, 0}), p(knee), .031, .025)
		limb(s, lace, p(knee), p(foot), .019, .015)
		s.Add(Ball{}, at.In(At(foot.X, .018, .024).Sized(.023, .02, .045)), dark)
		thread(s, p(V{.02 * x, .58, .02}), p(V{.12 * x, 2.1, 0}))
	}
}
