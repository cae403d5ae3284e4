package stage

import (
	"math"
)

var sunward = V{.58, .60, .46}.Unit()

func daylight(d V) V {
	h := max(0, d.Y)
	c := V{.92, 1.02, 1.12}.Mix(V{.20, .36, .72}, math.Pow(h, .52))
	cloud := Step(.02, .42, Fractal(V{d.X / (h + .22) * 1.1, 3, d.Z / (h + .22) * 1.1}, 5)+.06)
	c = c.Mix(V{1.75, 1.72, 1.66}.Mix(V{.75, .78, .84}, .5), cloud*Step(.02, .2, h)*.75)
	s := max(0, d.Unit().Dot(sunward))
	return c.Add(V{1, .9, .7}.Scale(1.6 * math.Pow(s, 40)))
}

// Courtyard: a booth under trees, in sun, with glints.
func Courtyard(t float64) (*Scene, Camera) {
	s := &Scene{Ambient: V{.10, .11, .12}, Sky: daylight, Sun: sunward, SunSize: .012, SunLit: V{5.4, 4.9, 4.1}}
	s.Add(Block{}, At(0, -.1, 0).Sized(14, .1, 14), &Material{Gloss: .03, Rough: .45, Albedo: func(p, _ V) V {
		q := V{p.X * 14, 0, p.Z * 14}
		u, v := q.X/.26, q.Z/.19
		row := math.Floor(v)
		u += .5 * math.Mod(math.Abs(row), 2)
		col := math.Floor(u)
		e := max(math.Abs(u-col-.5), math.Abs(v-row-.5)) + .04*Noise(q.Scale(16))
		tone := .72 + .5*Rand(int(col), int(row), 6)
		c := V{.22, .195, .165}.Scale(tone * (1 + .35*Fractal(q.Scale(11), 4)))
		return c.Mix(V{.05, .052, .03}, Step(.40, .48, e))
	}})
	plaster := &Material{Albedo: func(p, _ V) V {
		q := p.Mul(V{6, 1.3, .1})
		c := V{.44, .365, .275}.Scale(.9 + .3*Fractal(q.Scale(1.7), 5))
		return c.Mix(V{.20, .13, .09}, .7*Step(.25, .42, Fractal(q.Scale(.9).Add(V{3, 1, 0}), 4)))
	}}
	s.Add(Block{}, At(0, 1.3, -3.6).Sized(6, 1.3, .1), plaster)
	s.Add(Block{}, At(0, 2.64, -3.6).Sized(6.1, .05, .18), &Material{Albedo: cloth(V{.24, .10, .06}, 30)})
	shutter := &Material{Albedo: func(p, _ V) V {
		return V{.05, .115, .11}.Scale(.7 + .5*math.Abs(sin(p.Y*22)))
	}, Gloss: .03, Rough: .4}
	for _, x := range [2]float64{-2.35, 2.7} {
		s.Add(Block{}, At(x, 1.5, -3.49).Sized(.34, .48, .03), &Material{Albedo: Solid(.015, .017, .02), Gloss: .06, Rough: .1})
		s.Add(Block{}, At(x-.52, 1.5, -3.46).Sized(.17, .5, .025), shutter)
		s.Add(Block{}, At(x+.52, 1.5, -3.46).Sized(.17, .5, .025), shutter)
		s.Add(Block{}, At(x, .98, -3.4).Sized(.46, .03, .1), plaster)
	}
	booth(s, t)
	tree(s, V{-2.15, 0, -.9}, 2.75, 1.25, 2600, t, 1)
	tree(s, V{2.55, 0, -1.7}, 3.0, 1.15, 2300, t, 2)
	// a branch that hangs into the frame, close to the lens
	leaves(s, V{1.55, 2.42, 2.3}, V{.62, .22, .35}, 240, .055, t, 3)
	props(s, t)
	s.Build()
	return s, Camera{At: V{.14 - .12*t, 1.22, 5.9}, To: V{.02 - .03*t, 1.30, 0}, Focal: .0285, Aperture: .007, Focus: 5.6}
}

func booth(s *Scene, t float64) {
	stripes := func(k float64) *Material {
		return &Material{Leaf: .12, Sheen: .2, Albedo: func(p, _ V) V {
			c := V{.60, .56, .47}
			if math.Mod(p.X*k+p.Z*k+40, 1) < .5 {
				c = V{.36, .040, .036}
			}
			return c.Scale(.9 + .12*sin(p.X*900)*sin(p.Y*900) + .14*Fractal(p.Scale(5), 3))
		}}
	}
	blue := &Material{Albedo: cloth(V{.035, .075, .19}, 60), Gloss: .04, Rough: .35}
	gold := &Material{Albedo: Solid(.22, .14, .04), Gloss: .65, Tint: V{1, .75, .36}, Rough: .26}
	s.Add(&Field{Lo: V{-.72, 0, -.5}, Hi: V{.72, 1.02, .5}, Slack: .5, Steps: 80, Distance: func(p V) float64 {
		w := .014*sin(p.X*42+sin(p.Y*3)) + .014*sin(p.Z*42)
		return max(max(math.Abs(p.X)-.66, math.Abs(p.Z)-.44)+w*Step(1, .2, p.Y), math.Abs(p.Y-.51)-.5)
	}}, At(0, 0, 0), stripes(5))
	s.Add(Block{}, At(0, 1.04, .02).Sized(.72, .03, .5), blue)
	for _, x := range [2]float64{-1, 1} {
		s.Add(Block{}, At(.62*x, 1.5, .40).Sized(.085, .46, .04), blue)
		s.Add(Ball{}, At(.62*x, 1.5, .455).Sized(.04, .07, .02), gold)
		s.Add(&Field{Lo: V{-.2, -.44, -.06}, Hi: V{.2, .44, .06}, Slack: .5, Steps: 60, Distance: func(p V) float64 {
			e := .16*x*x - .12*math.Pow(math.Abs(p.Y+.1), 1.1)
			return max(math.Abs(p.Z-.02*sin(p.X*70))-.012, math.Abs(p.X)-e)
		}}, At(.44*x, 1.5, .30), &Material{Sheen: .8, Albedo: cloth(V{.26, .025, .05}, 500)})
	}
	s.Add(Block{}, At(0, 1.5, -.42).Sized(.66, .46, .02), &Material{Albedo: func(p, _ V) V {
		return V{.05, .10, .16}.Mix(V{.30, .26, .20}, Step(-.2, -.9, p.Y+.2*sin(p.X*5))).Scale(.8 + .3*Fractal(p.Scale(6), 3))
	}})
	for _, x := range [2]float64{-1, 1} {
		s.Add(Block{}, At(.66*x, 1.5, 0).Sized(.015, .46, .42), stripes(5))
	}
	s.Add(Block{}, At(0, 1.99, .02).Sized(.74, .055, .5), blue)
	for i := range 11 {
		x := -.70 + .14*float64(i)
		s.Add(Ball{}, At(x, 1.93, .52).Sized(.07, .075, .02), []*Material{stripes(0.01), {Albedo: cloth(V{.40, .26, .04}, 300)}}[i%2])
	}
	s.Add(Drum{Top: .03}, At(0, 2.28, 0).Sized(.86, .26, .62), stripes(3.2))
	s.Add(Ball{}, At(0, 2.58, 0).Sized(.05, .05, .05), gold)
	limb(s, &Material{Albedo: Solid(.2, .15, .1)}, V{0, 2.55, 0}, V{0, 3.0, 0}, .008, .006)
	s.Add(&Field{Lo: V{0, -.13, -.09}, Hi: V{.44, .13, .09}, Slack: .5, Steps: 60, Distance: func(p V) float64 {
		w := .055 * p.X / .4 * sin(p.X*15-2*math.Pi*t*3)
		return max(max(math.Abs(p.Z-w)-.004, math.Abs(p.Y)-.11*(1-p.X/.42)), -p.X)
	}}, At(.005, 2.88, 0), &Material{Leaf: .5, Albedo: cloth(V{.42, .27, .04}, 400)})
	// two small players in the opening
	for i, x := range [2]float64{-.2, .24} {
		f := float64(i)
		bob := .035 * sin(2*math.Pi*(t*2.2+.4*f))
		m := &Material{Albedo: painted(skins[1+2*i], .9), Gloss: .03, Rough: .4}
		hair := []V{{.26, .12, .02}, {.012, .01, .01}}[i]
		head(s, At(x, 1.47+bob, .18).Turned(.05, (.5-f)*1.1+.3*sin(2*math.Pi*t*1.3+f), .1*sin(2*math.Pi*t*2+f)).Sized(.105, .105, .105), m, hair, V{.06, .08, .05})
		coat := []V{{.05, .16, .08}, {.30, .16, .03}}[i]
		s.Add(Drum{Top: .42}, At(x, 1.21+bob, .17).Sized(.15, .15, .10), &Material{Albedo: cloth(coat, 300), Sheen: .5})
		s.Add(Drum{Top: .8}, At(x, 1.365+bob, .18).Sized(.085, .012, .075), &Material{Albedo: Solid(.6, .58, .53), Leaf: .2})
		arm := V{x + .2*(1-2*f), 1.44 + 2*bob, .26}
		limb(s, &Material{Albedo: cloth(coat, 300)}, V{x + .08*(1-2*f), 1.30 + bob, .2}, arm, .034, .03)
		s.Add(Ball{}, At(arm.X, arm.Y+.03, arm.Z).Sized(.03, .04, .025), m)
	}
}

func tree(s *Scene, foot V, height, spread float64, n int, t float64, seed int) {
	bark := &Material{Albedo: func(p, _ V) V {
		return V{.12, .088, .062}.Scale(.6 + .8*math.Abs(Fractal(V{p.X * 6, p.Y * 1.2, p.Z * 6}, 4)))
	}}
	crown := foot.Add(V{0, height, 0})
	limb(s, bark, foot, foot.Add(V{.05, height * .45, 0}), .15, .10)
	limb(s, bark, foot.Add(V{.05, height * .45, 0}), crown, .10, .04)
	blobs := 9
	for i := range blobs {
		a := 2 * math.Pi * (float64(i)*.382 + Rand(i, seed, 1)*.2)
		r := spread * (.25 + .6*Rand(i, seed, 2))
		c := crown.Add(V{r * cos(a), spread * (.75*Rand(i, seed, 3) - .35), r * sin(a) * .8})
		limb(s, bark, foot.Add(V{.05, height * (.45 + .4*Rand(i, seed, 5)), 0}), c, .035, .012)
		leaves(s, c, V{.52, .36, .48}.Scale(spread), n/blobs, .075, t, seed*100+i)
	}
}

func leaves(s *Scene, c, r V, n int, size, t float64, seed int) {
	var kinds [5]*Material
	for i := range kinds {
		k := .75 + .14*float64(i)
		g := V{.085 * k, .155 * k, .028}
		if i == 4 {
			g = V{.22, .19, .035}
		}
		kinds[i] = &Material{Leaf: .75, Gloss: .035, Rough: .32, Albedo: Solid(g.X, g.Y, g.Z)}
	}
	for i := range n {
		u, v, w := Rand(i, seed, 10), Rand(i, seed, 11), Rand(i, seed, 12)
		z, a := 2*u-1, 2*math.Pi*v
		q := math.Sqrt(1 - z*z)
		k := math.Cbrt(.25 + .75*w)
		p := c.Add(V{r.X * k * q * cos(a), r.Y * k * z, r.Z * k * q * sin(a)})
		wind := .12 * sin(2*math.Pi*(t*1.7+Rand(i, seed, 13))) * (.5 + Rand(i, seed, 14))
		p = p.Add(V{.03 * sin(2*math.Pi*t*.9+p.X*2), .01 * wind, 0})
		l := size * (.7 + .6*Rand(i, seed, 15))
		f := At(p.X, p.Y, p.Z).Turned(2*math.Pi*Rand(i, seed, 16)+wind, 2*math.Pi*Rand(i, seed, 17), .5*Rand(i, seed, 18)+wind).Sized(l, l*.06, l*.52)
		s.Add(Ball{}, f, kinds[int(5*Rand(i, seed, 19))%5])
	}
}

func props(s *Scene, t float64) {
	tin := &Material{Albedo: Solid(.28, .28, .29), Gloss: .72, Rough: .20, Bump: func(p V) float64 { return .0015 * Noise(p.Scale(14)) }}
	s.Add(Drum{Top: 1.25}, At(-1.12, .17, 1.05).Sized(.14, .17, .14), tin)
	s.Add(Drum{Top: 1}, At(-1.12, .335, 1.05).Sized(.165, .004, .165), &Material{Albedo: Solid(.02, .03, .03), Gloss: .03, Rough: .05, Bump: func(p V) float64 {
		return .006 * sin(math.Hypot(p.X, p.Z)*30-2*math.Pi*t*3)
	}})
	brass := &Material{Albedo: Solid(.22, .14, .05), Gloss: .8, Tint: V{1, .75, .38}, Rough: .13}
	for i := range 5 {
		s.Add(Ball{}, At(-.48+.24*float64(i), 1.86-.02*cos(float64(i)-2), .56).Sized(.026, .026, .026), brass)
	}
	bench := &Material{Albedo: wood(V{.19, .12, .07}, 12), Gloss: .03, Rough: .4}
	s.Add(Block{}, At(1.45, .30, .95).Turned(0, -.35, 0).Sized(.48, .025, .14), bench)
	for _, x := range [2]float64{-.36, .36} {
		s.Add(Block{}, At(1.45+x, .14, .95-.35*-x).Sized(.03, .14, .11), bench)
	}
	s.Add(Drum{Top: .9}, At(1.28, .40, .98).Sized(.075, .075, .075), &Material{Albedo: cloth(V{.40, .17, .08}, 30)})
	leaves(s, V{1.28, .56, .98}, V{.13, .11, .13}, 70, .035, t, 77)
	for i := range 9 {
		a := float64(i) * 2.4
		s.Add(Ball{}, At(1.28+.10*cos(a), .60+.05*Rand(i, 1, 31), .98+.10*sin(a)).Sized(.022, .018, .022), &Material{Leaf: .3, Albedo: Solid(.48, .05, .09)})
	}
	s.Add(Ball{}, At(1.72, .40, .86).Sized(.075, .075, .075), &Material{Albedo: func(p, _ V) V {
		if math.Mod(math.Atan2(p.X, p.Z)/math.Pi*3+6, 1) < .5 {
			return V{.46, .30, .03}
		}
		return V{.04, .11, .22}
	}, Gloss: .05, Rough: .14})
}
