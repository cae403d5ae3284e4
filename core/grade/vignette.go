package grade

import "math"

// Vignette lets light fall off towards the edge, as lenses do: by Stops in the far. Size is where it is half
// way there, a share of the way to the corner, Feather how far it takes. Round, 0…1, goes from the
// picture's shape to a circle. Angle, in degrees, turns it; its centre is in shares of width and height.
type Vignette struct {
	Stops, Size, Feather, Round, Angle float64
	X, Y                               float64
}

// Stop is the exposure that the place x, y gets in a picture of w×h, in stops.
func (v *Vignette) Stop(x, y float64, w, h int) float64 {
	sin, cos := math.Sincos(v.Angle * math.Pi / 180)
	dx, dy := x-v.X*float64(w), y-v.Y*float64(h)
	dx, dy = dx*cos+dy*sin, dy*cos-dx*sin
	rx, ry := v.radii(w, h)
	d := math.Hypot(dx/rx, dy/ry)
	return v.Stops * smooth((d-v.Size)/v.Feather+0.5)
}

// radii are the half axes, in pixels, of the vignette that goes through the corners.
func (v *Vignette) radii(w, h int) (rx, ry float64) {
	rx, ry = float64(w)/math.Sqrt2, float64(h)/math.Sqrt2
	r := math.Sqrt((rx*rx + ry*ry) / 2)
	return rx * math.Pow(r/rx, v.Round), ry * math.Pow(r/ry, v.Round)
}

// Rows returns what sets gain to what pixels x0 and on of row y get, as factors, in a picture of w×h. What
// it returns may be used by many at once.
func (v *Vignette) Rows(w, h int) func(gain []float32, y, x0 int) {
	// by the square of the distance, which is quick to have: out to where the widest ends
	const steps = 4096
	const top = 7.0
	var table [steps + 2]float32
	for i := range table {
		d := math.Sqrt(float64(i) * top / steps)
		table[i] = float32(math.Exp2(v.Stops * smooth((d-v.Size)/v.Feather+0.5)))
	}
	sin, cos := math.Sincos(v.Angle * math.Pi / 180)
	rx, ry := v.radii(w, h)
	// per pixel, across and down, in the vignette's own axes
	ax, ay := cos/rx, -sin/ry
	bx, by := sin/rx, cos/ry
	return func(gain []float32, y, x0 int) {
		dx, dy := float64(x0)+0.5-v.X*float64(w), float64(y)+0.5-v.Y*float64(h)
		p, q := dx*ax+dy*bx, dx*ay+dy*by
		for i := range gain {
			u := float32((p*p + q*q) * (steps / top))
			k := min(int(u), steps)
			gain[i] = table[k] + (table[k+1]-table[k])*(u-float32(k))
			if k == steps {
				gain[i] = table[steps]
			}
			p += ax
			q += ay
		}
	}
}
