// Package register finds where one picture of a scene lies in another: shifted, turned, scaled, and seen a little from aside.
package register

import (
	"math"

	"velours/core/solve"
)

// Point is a place in a picture.
type Point struct{ X, Y float64 }

// Homography takes places of one flat thing as it is seen to those as it is seen from elsewhere: the rows of a 3×3 matrix, the last
// of which divides.
type Homography [9]float64

// At is where a place comes to.
func (h *Homography) At(p Point) Point {
	w := h[6]*p.X + h[7]*p.Y + h[8]
	return Point{(h[0]*p.X + h[1]*p.Y + h[2]) / w, (h[3]*p.X + h[4]*p.Y + h[5]) / w}
}

// Through is the homography that takes four or more places to others, by least squares.
func Through(from, to []Point) Homography {
	a, b := make([][]float64, 8), make([]float64, 8)
	for i := range a {
		a[i] = make([]float64, 8)
	}
	add := func(row [8]float64, v float64) {
		for i := range 8 {
			for k := range 8 {
				a[i][k] += row[i] * row[k]
			}
			b[i] += row[i] * v
		}
	}
	for i, p := range from {
		q := to[i]
		add([8]float64{p.X, p.Y, 1, 0, 0, 0, -p.X * q.X, -p.Y * q.X}, q.X)
		add([8]float64{0, 0, 0, p.X, p.Y, 1, -p.X * q.Y, -p.Y * q.Y}, q.Y)
	}
	x := solve.Linear(a, b, 0)
	return Homography{x[0], x[1], x[2], x[3], x[4], x[5], x[6], x[7], 1}
}

// Times is the homography that does h after g.
func (h *Homography) Times(g *Homography) Homography {
	var out Homography
	for i := range 3 {
		for k := range 3 {
			for m := range 3 {
				out[3*i+k] += h[3*i+m] * g[3*m+k]
			}
		}
	}
	return out
}

// Angle is how far the picture's middle is turned, in degrees, clockwise where y goes down.
func (h *Homography) Angle() float64 {
	a, b := h.At(Point{0, 0}), h.At(Point{0.01, 0})
	return math.Atan2(b.Y-a.Y, b.X-a.X) * 180 / math.Pi
}
