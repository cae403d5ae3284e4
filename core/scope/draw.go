package scope

import "math"

// Image is a drawing: red, green, blue and opacity, 8 bits each, not premultiplied, for laying over a
// dark ground.
type Image struct {
	W, H int
	RGBA []byte
}

// The colours of the channels' traces; together they make white. They are light enough to be told apart
// on black, and by their place in a parade.
var channelInk = [3][3]float64{{1, 0.28, 0.22}, {0.24, 0.88, 0.34}, {0.3, 0.5, 1}}

// bright turns the share of what could be in a cell into brightness: a single pixel is seen, and a flat
// field does not blind.
func bright(share, gain float64) float64 {
	if share == 0 { // most cells are empty
		return 0
	}
	return 1 - math.Exp(-gain*math.Sqrt(share))
}

// waveGain and squareGain set how bright traces are.
const waveGain, squareGain = 6, 60

func (im *Image) put(x, y int, c [3]float64) {
	m := min(max(c[0], c[1], c[2]), 1)
	if m <= 0 {
		return
	}
	p := im.RGBA[4*(y*im.W+x):]
	for i, v := range c {
		p[i] = byte(min(v/m, 1)*255 + 0.5)
	}
	p[3] = byte(m*255 + 0.5)
}

func newImage(w, h int) *Image { return &Image{w, h, make([]byte, 4*w*h)} }

// DrawLuma draws the weighted sum of a waveform in white.
func DrawLuma(t *Trace) *Image {
	im := newImage(t.W, t.H)
	for y := range t.H {
		for x := range t.W {
			b := bright(float64(t.At(3, x, y))/t.Share[x], waveGain)
			im.put(x, y, [3]float64{b, b, b})
		}
	}
	return im
}

// DrawRGB lays the three channels of a waveform over each other.
func DrawRGB(t *Trace) *Image {
	im := newImage(t.W, t.H)
	for y := range t.H {
		for x := range t.W {
			var c [3]float64
			for i, ink := range channelInk {
				b := bright(float64(t.At(i, x, y))/t.Share[x], waveGain)
				for k := range c {
					c[k] += b * ink[k]
				}
			}
			im.put(x, y, c)
		}
	}
	return im
}

// Gap is the share of a parade's width between two of its channels.
const Gap = 0.012

// DrawParade sets the three channels of a waveform side by side.
func DrawParade(t *Trace) *Image {
	gap := max(1, int(Gap*3*float64(t.W)))
	im := newImage(3*t.W+2*gap, t.H)
	for i, ink := range channelInk {
		for y := range t.H {
			for x := range t.W {
				b := bright(float64(t.At(i, x, y))/t.Share[x], waveGain)
				im.put(i*(t.W+gap)+x, y, [3]float64{b * ink[0], b * ink[1], b * ink[2]})
			}
		}
	}
	return im
}

// DrawVector draws a vectorscope's trace, each cell in its own hue.
func DrawVector(t *Trace) *Image {
	return drawSquare(t, func(x, y int) [3]float64 {
		mid := float64(t.W-1) / 2
		cb, cr := (float64(x)-mid)/mid, (mid-float64(y))/mid
		return hueInk(cb*1.8556, cr*1.5748)
	})
}

// hueInk is a light colour in the direction of a blue and a red difference, grey in the middle (BT.709).
func hueInk(db, dr float64) [3]float64 {
	k := 0.55 / max(math.Hypot(db, dr), 0.25)
	r, b := dr*k, db*k
	g := -(0.2126*r + 0.0722*b) / 0.7152
	c := [3]float64{0.75 + r, 0.75 + g, 0.75 + b}
	m := max(c[0], c[1], c[2])
	for i := range c {
		c[i] = max(c[i], 0) / m
	}
	return c
}

// DrawChroma draws a chromaticity plot's trace.
func DrawChroma(t *Trace) *Image {
	return drawSquare(t, func(int, int) [3]float64 { return [3]float64{0.92, 0.92, 0.92} })
}

func drawSquare(t *Trace, ink func(x, y int) [3]float64) *Image {
	im := newImage(t.W, t.H)
	for y := range t.H {
		for x := range t.W {
			n := t.At(0, x, y)
			if n == 0 {
				continue
			}
			b := bright(float64(n)/t.Share[0], squareGain)
			c := ink(x, y)
			im.put(x, y, [3]float64{b * c[0], b * c[1], b * c[2]})
		}
	}
	return im
}
