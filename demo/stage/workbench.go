package stage

import (
	"math"
)

// Workbench: window light over paint pots, heads on their sticks, and a length of cloth.
func Workbench(t float64) (*Scene, Camera) {
	s := &Scene{Ambient: V{.05, .048, .045}}
	s.Add(Block{}, At(0, -.03, 0).Sized(1.2, .03, .55), &Material{Gloss: .018, Rough: .6, Albedo: func(p, _ V) V {
		q := V{p.X * 1.2, 0, p.Z * .55}
		plank := math.Floor(q.Z / .14)
		g := Fractal(V{q.X * 4, plank * 3, q.Z * 70}, 4)
		stain := Step(.15, .45, Fractal(q.Scale(5), 3))
		c := V{.215, .135, .078}.Scale((.85 + .3*Rand(int(plank), 9, 2)) * (1 + .4*g))
		drip := Step(.42, .5, Noise(q.Scale(34)))
		c = c.Mix(V{.09, .11, .17}, .55*drip*Step(.1, .4, Noise(q.Scale(6)))).Mix(V{.30, .28, .24}, .5*Step(.46, .52, Noise(q.Scale(41).Add(V{7, 0, 3}))))
		return c.Scale(1 - .35*stain)
	}})
	s.Add(Block{}, At(0, .8, -.85).Sized(3, 1.4, .03), &Material{Albedo: func(p, _ V) V {
		q := p.Mul(V{3, 1.4, .03})
		return V{.235, .225, .20}.Scale(.92 + .22*Fractal(q.Scale(4), 5) - .16*Step(.3, .5, Noise(q.Scale(3))))
	}})
	// the window in the wall, its bars, and the light it gives
	day := V{5.4, 6.0, 6.6}
	s.Add(Block{}, At(-.62, .60, -.83).Sized(.24, .34, .02), &Material{Emit: func(p V, c float64) V {
		tree := Step(.0, .3, Fractal(V{p.X * 2.2, p.Y*3 + 2, 1}, 4)+.05-.35*p.Y)
		return day.Mix(V{1.05, 1.2, .85}, .85*tree)
	}})
	bar := &Material{Albedo: Solid(.30, .29, .26)}
	for _, x := range [3]float64{-.87, -.62, -.37} {
		s.Add(Block{}, At(x, .60, -.80).Sized(.014, .36, .03), bar)
	}
	for _, y := range [4]float64{.25, .48, .72, .95} {
		s.Add(Block{}, At(-.62, y, -.80).Sized(.26, .012, .03), bar)
	}
	s.Add(Block{}, At(-.62, .235, -.76).Sized(.29, .014, .07), bar)
	s.Panes = append(s.Panes,
		Pane{Corner: V{-1.35, .35, -.35}, U: V{0, .95, 0}, W: V{.25, 0, 1.1}, Radiance: day.Scale(2.6)},
		Pane{Corner: V{-.86, .26, -.80}, U: V{.48, 0, 0}, W: V{0, .68, 0}, Radiance: day.Scale(1.7)},
		Pane{Corner: V{1.6, 1.5, .6}, U: V{0, .4, .3}, W: V{-.3, .1, .3}, Radiance: V{9.5, 6.6, 4.2}})
	for i := range s.Panes {
		fix(&s.Panes[i], V{0, .15, .1})
	}
	shelf := &Material{Albedo: wood(V{.12, .075, .045}, 40)}
	s.Add(Block{}, At(.42, .46, -.74).Sized(.42, .012, .09), shelf)
	for i := range 7 {
		f := float64(i)
		h := .05 + .035*Rand(i, 1, 5)
		c := []V{{.24, .06, .04}, {.05, .10, .16}, {.30, .24, .12}, {.07, .12, .06}, {.20, .19, .18}, {.26, .15, .03}, {.09, .05, .10}}[i]
		s.Add(Drum{Top: .92}, At(.10+.105*f, .472+h, -.74).Sized(.036, h, .036), &Material{Albedo: cloth(c, 300), Gloss: .045, Rough: .2})
		s.Add(Drum{Top: 1}, At(.10+.105*f, .478+2*h, -.74).Sized(.029, .01, .029), &Material{Albedo: Solid(.22, .15, .09)})
	}
	// paint pots, each with a skin of colour
	pots := []struct{ x, z, r float64 }{{-.40, .18, .044}, {-.29, .27, .040}, {-.20, .15, .038}, {-.34, .05, .042}, {-.47, .30, .036}, {-.13, .29, .034}}
	paints := []V{{.36, .030, .028}, {.46, .31, .030}, {.035, .085, .27}, {.05, .17, .085}, {.56, .53, .47}, {.20, .05, .19}}
	tin := &Material{Albedo: func(p, _ V) V { return V{.20, .20, .20}.Scale(.8 + .4*Fractal(p.Scale(3), 3)) }, Gloss: .5, Rough: .34}
	for i, p := range pots {
		h := .030 + .008*Rand(i, 2, 8)
		s.Add(Drum{Top: 1.04}, At(p.x, h, p.z).Sized(p.r, h, p.r), tin)
		s.Add(Drum{Top: 1}, At(p.x, 2*h+.0012, p.z).Sized(p.r*.94, .0016, p.r*.94), &Material{Albedo: Solid(paints[i].X, paints[i].Y, paints[i].Z), Gloss: .05, Rough: .22, Bump: func(q V) float64 { return .006 * Fractal(q.Scale(3), 2) }})
		for k := range 3 {
			a := 2.4*float64(k) + float64(i)
			s.Add(Ball{}, At(p.x+p.r*cos(a), 1.4*h, p.z+p.r*sin(a)).Sized(.006, h*.6*Rand(i, k, 4)+.006, .006), &Material{Albedo: Solid(paints[i].X, paints[i].Y, paints[i].Z), Gloss: .05, Rough: .2})
		}
	}
	// a jar of brushes
	s.Add(Drum{Top: 1}, At(.50, .055, .02).Sized(.05, .055, .05), &Material{Albedo: Solid(.10, .13, .15), Gloss: .06, Rough: .08})
	for i := range 8 {
		a := float64(i) * .8
		foot := V{.50 + .02*cos(a), .05, .02 + .02*sin(a)}
		tip := V{.50 + .085*cos(a), .27 + .05*Rand(i, 3, 3), .02 + .07*sin(a)}
		limb(s, &Material{Albedo: Solid(.25, .10+.1*Rand(i, 4, 4), .04), Gloss: .045, Rough: .25}, foot, tip, .004, .0035)
		limb(s, &Material{Albedo: Solid(.3, .3, .3), Gloss: .6, Rough: .25}, tip, foot.Mix(tip, 1.08), .0048, .005)
		c := paints[i%6]
		limb(s, &Material{Albedo: cloth(c.Scale(.8), 2000)}, foot.Mix(tip, 1.09), foot.Mix(tip, 1.19), .007, .003)
	}
	// heads: two bare wood, four painted
	stick := &Material{Albedo: wood(V{.20, .13, .08}, 90)}
	raw := &Material{Albedo: wood(V{.40, .285, .185}, 26), Gloss: .025, Rough: .5}
	type bust struct {
		x, z, h, r, turn float64
		skin             int
		hair, iris       V
	}
	busts := []bust{
		{.03, .10, .245, .082, -.42 + .55*t, 0, V{.07, .028, .012}, V{.12, .17, .20}},
		{.24, .02, .225, .070, -.5, 2, V{.012, .010, .009}, V{.06, .035, .018}},
		{.37, -.19, .265, .070, -.25, 3, V{.010, .009, .009}, V{.05, .03, .02}},
		{-.14, -.16, .25, .070, .18, 1, V{.10, .055, .02}, V{.08, .10, .05}},
		{.62, -.25, .21, .068, -.6, -1, V{}, V{}},
		{-.38, -.22, .19, .066, .5, -1, V{}, V{}},
	}
	for i, b := range busts {
		m := raw
		if b.skin >= 0 {
			m = &Material{Albedo: painted(skins[b.skin], .85), Gloss: .035, Rough: .38}
		}
		s.Add(Drum{Top: 1}, At(b.x, .008, b.z).Sized(.05, .008, .05), stick)
		s.Add(Drum{Top: 1}, At(b.x, b.h/2-.03, b.z).Sized(.009, b.h/2-.03, .009), stick)
		head(s, At(b.x, b.h, b.z).Turned(.04*float64(i%3-1), b.turn, 0).Sized(b.r, b.r, b.r), m, b.hair, b.iris)
	}
	// cloth thrown over the front of the bench
	s.Add(&Field{Lo: V{-.30, -.01, -.18}, Hi: V{.34, .085, .20}, Slack: .42, Steps: 90, Distance: func(p V) float64 {
		a := p.X + .35*p.Z
		h := .016 + .014*sin(a*31+2.2*sin(p.Z*9)) + .010*sin(p.Z*40+3*sin(p.X*7)) + .016*sin(p.X*13-1)*sin(p.Z*11)
		h *= Step(-.02, .10, .27-math.Abs(p.X)) * Step(-.01, .07, .17-math.Abs(p.Z))
		edge := max(math.Abs(p.X)-.27-.02*sin(p.Z*14), math.Abs(p.Z)-.165-.014*sin(p.X*17))
		return max(math.Abs(p.Y-h)-.0022, edge)
	}}, At(.32, .004, .26).Turned(0, .22, 0), &Material{Sheen: .3, Leaf: .1, Albedo: func(p, _ V) V {
		w := .86 + .16*sin(p.X*2600)*sin(p.Z*2600)
		c := V{.045, .105, .20}
		u := math.Mod(math.Abs(p.X+.35*p.Z+4), .11)
		if u < .022 {
			c = V{.40, .25, .055}
		} else if u > .045 && u < .052 {
			c = V{.42, .40, .34}
		}
		return c.Scale(w * (1 + .12*Fractal(p.Scale(40), 3)))
	}})
	// scissors' glint, a pencil, a wooden hand that swings from the shelf
	limb(s, &Material{Albedo: Solid(.3, .3, .3), Gloss: .75, Rough: .13}, V{-.06, .006, .36}, V{.06, .010, .40}, .004, .0015)
	limb(s, &Material{Albedo: Solid(.3, .3, .3), Gloss: .75, Rough: .13}, V{-.06, .006, .375}, V{.065, .008, .372}, .004, .0015)
	limb(s, &Material{Albedo: Solid(.42, .25, .03), Gloss: .04, Rough: .3}, V{-.30, .005, .40}, V{-.18, .005, .37}, .0042, .0042)
	sw := .28 * sin(2*math.Pi*t*1.0)
	palm := V{.16 + .22*sin(sw), .46 - .20*cos(sw), -.62}
	thread(s, V{.16, .46, -.66}, palm)
	s.Add(Ball{}, At(palm.X, palm.Y-.02, palm.Z).Turned(0, 0, sw).Sized(.018, .026, .011), raw)
	for f := range 4 {
		x := .011 * (float64(f) - 1.5)
		limb(s, raw, palm.Add(V{x, -.035, 0}), palm.Add(V{x * 1.7, -.082 + .004*math.Abs(float64(f)-1.5), .006}), .0052, .0042)
	}
	s.Build()
	return s, Camera{At: V{-.10 + .07*t, .50, 1.52}, To: V{.01 + .015*t, .205, -.05}, Focal: .036, Aperture: .0075, Focus: 1.46}
}
