package stage

import "math"

// Slate draws the chart: scene-linear patches, exact by construction. From the top: a continuous
// grey ramp from −8 to +6 stops; a wedge of 21 steps, half a stop apart, from −6 to +4; thirty
// reflectances in two rows, four skins first; point lights from +2 to +8 stops on black; a
// slanted edge; gratings of 2 to 16 pixels a line pair.
func Slate() *Picture {
	const w, h = 1920, 1080
	p := &Picture{W: w, H: h, Pix: make([]float32, 3*w*h)}
	put := func(x, y int, c V) {
		i := 3 * (y*w + x)
		p.Pix[i], p.Pix[i+1], p.Pix[i+2] = float32(c.X), float32(c.Y), float32(c.Z)
	}
	for y := range h {
		for x := range w {
			put(x, y, Grey(0.09))
		}
	}
	fill := func(x0, y0, x1, y1 int, f func(x, y int) V) {
		for y := y0; y < y1; y++ {
			for x := x0; x < x1; x++ {
				put(x, y, f(x, y))
			}
		}
	}
	const left, right = 60, 1860
	fill(left, 50, right, 150, func(x, _ int) V {
		return Grey(0.18 * math.Exp2(-8+14*float64(x-left)/(right-left-1)))
	})
	for i := range 21 {
		a, b := left+(right-left)*i/21, left+(right-left)*(i+1)/21
		v := Grey(0.18 * math.Exp2(-6+0.5*float64(i)))
		fill(a, 170, b, 310, func(int, int) V { return v })
	}
	for i, c := range reflectances {
		a, b := left+120*(i%15), 350+150*(i/15)
		fill(a, b, a+112, b+140, func(int, int) V { return c })
	}
	// point lights: discs of 1 to 6 pixels radius, four of each brightness
	fill(left, 670, 960, 1030, func(int, int) V { return Grey(0.0015) })
	for i := range 7 {
		for k, r := range [4]float64{1, 2, 4, 6} {
			cx, cy := 130+128*float64(i), 720+86*float64(k)
			v := V{1, 0.97, 0.92}.Scale(0.18 * math.Exp2(float64(2+i)))
			fill(int(cx)-9, int(cy)-9, int(cx)+10, int(cy)+10, func(x, y int) V {
				d := math.Hypot(float64(x)-cx, float64(y)-cy)
				return Grey(0.0015).Mix(v, min(max(r+0.5-d, 0), 1))
			})
		}
	}
	// a slanted edge, five degrees off the vertical, 4:1
	fill(990, 670, 1390, 1030, func(x, y int) V {
		d := (float64(x)-1190)*math.Cos(5*math.Pi/180) - (float64(y)-850)*sin(5*math.Pi/180)
		return Grey(0.09).Mix(Grey(0.36), min(max(d+0.5, 0), 1))
	})
	for i, pitch := range [6]int{2, 3, 4, 6, 8, 16} {
		y0 := 670 + 60*i
		fill(1420, y0, right, y0+52, func(x, _ int) V {
			return Grey(0.18 * (1 + 0.8*cos(2*math.Pi*(float64(x)+0.5)/float64(pitch))))
		})
	}
	return p
}

// reflectances of the chart in ACEScg: skins, foliage and sky, cloths and paints, and greys.
var reflectances = [30]V{
	{0.52, 0.39, 0.30}, {0.37, 0.255, 0.18}, {0.23, 0.15, 0.105}, {0.105, 0.070, 0.052}, {0.17, 0.19, 0.32},
	{0.105, 0.13, 0.062}, {0.26, 0.25, 0.43}, {0.36, 0.50, 0.42}, {0.40, 0.22, 0.065}, {0.115, 0.115, 0.36},
	{0.36, 0.105, 0.125}, {0.085, 0.055, 0.135}, {0.36, 0.43, 0.10}, {0.52, 0.36, 0.075}, {0.055, 0.058, 0.26},
	{0.13, 0.245, 0.085}, {0.29, 0.060, 0.055}, {0.60, 0.53, 0.095}, {0.36, 0.115, 0.27}, {0.105, 0.22, 0.33},
	{0.22, 0.03, 0.03}, {0.04, 0.12, 0.05}, {0.03, 0.04, 0.14}, {0.30, 0.28, 0.24}, {0.89, 0.89, 0.89},
	{0.59, 0.59, 0.59}, {0.36, 0.36, 0.36}, {0.18, 0.18, 0.18}, {0.09, 0.09, 0.09}, {0.031, 0.031, 0.031},
}
