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
	rx, ry := float64(w)/2, float64(h)/2
	r := math.Sqrt((rx*rx + ry*ry) / 2)
	rx, ry = rx*math.Pow(r/rx, v.Round), ry*math.Pow(r/ry, v.Round)
	d := math.Hypot(dx/rx, dy/ry) / math.Sqrt2
	return v.Stops * smooth((d-v.Size)/v.Feather+0.5)
}

// Row sets gain to what pixels x0 and on of row y get, as factors.
func (v *Vignette) Row(gain []float32, y, x0, w, h int) {
	for i := range gain {
		gain[i] = float32(math.Exp2(v.Stop(float64(x0+i)+0.5, float64(y)+0.5, w, h)))
	}
}
