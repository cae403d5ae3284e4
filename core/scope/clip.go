package scope

import "velours/core/frame"

// Bounds are the values of each channel at and beyond which nothing more is told apart.
type Bounds struct{ Low, High [3]float64 }

// CodeBounds are the ends of display code values, to a quarter of a 10-bit step.
func CodeBounds() Bounds {
	const q = 0.25 / 1023
	return Bounds{[3]float64{q, q, q}, [3]float64{1 - q, 1 - q, 1 - q}}
}

// Clipped is the share of pixels, in each channel, at either end.
type Clipped struct {
	Low  [3]float64 `json:"low"`
	High [3]float64 `json:"high"`
}

// MarkClipped paints over a picture, dimmed to grey, where measured is at its ends: the channels that
// are, in their own colours, striped one way where they are low and the other where they are high. Both
// pictures have one size; the result holds code values.
func MarkClipped(picture, measured *frame.Frame, weights [3]float64, b Bounds) (*frame.Frame, Clipped) {
	out := frame.New(picture.W, picture.H, 3)
	var n Clipped
	low, high := asFloat32(b.Low), asFloat32(b.High)
	for y := range out.H {
		r, g, bl := picture.Row(0, y), picture.Row(1, y), picture.Row(2, y)
		m := [3][]float32{measured.Row(0, y), measured.Row(1, y), measured.Row(2, y)}
		for x := range r {
			grey := 0.1 + 0.55*float32(weights[0]*float64(r[x])+weights[1]*float64(g[x])+weights[2]*float64(bl[x]))
			c := [3]float32{grey, grey, grey}
			var dark, light [3]bool
			for i := range 3 {
				if dark[i] = m[i][x] <= low[i]; dark[i] {
					n.Low[i]++
				}
				if light[i] = m[i][x] >= high[i]; light[i] {
					n.High[i]++
				}
			}
			if dark != [3]bool{} && (x+y)%8 < 4 {
				c = marked(dark, 0.6)
			}
			if light != [3]bool{} && (x-y)&7 < 4 {
				c = marked(light, 1)
			}
			for i := range 3 {
				out.Row(i, y)[x] = c[i]
			}
		}
	}
	all := float64(out.W * out.H)
	for i := range 3 {
		n.Low[i] /= all
		n.High[i] /= all
	}
	return out, n
}

// marked is the colour that stands for a set of channels.
func marked(set [3]bool, level float32) [3]float32 {
	var c [3]float32
	for i, on := range set {
		if on {
			c[i] = level
		} else {
			c[i] = 0.12 * level
		}
	}
	return c
}

func asFloat32(v [3]float64) [3]float32 {
	return [3]float32{float32(v[0]), float32(v[1]), float32(v[2])}
}
