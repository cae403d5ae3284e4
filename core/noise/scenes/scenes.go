// Package scenes makes clips of known noise, by which measuring and taking out noise are tried: pictures of the demo reel in display code values, panned, a
// thing moving before them, and noise that is white or of soft spots (scatter-and-grain, part D).
package scenes

import (
	"bytes"
	"embed"
	"fmt"
	"image/png"
	"math"
	"math/rand/v2"

	"velours/core/frame"
)

//go:embed *.png
var pictures embed.FS

// Photo is a picture to be read between its samples: three planes of W × H.
type Photo struct {
	W, H int
	V    [3][]float64
}

// NewPhoto is a black picture.
func NewPhoto(w, h int) *Photo {
	p := &Photo{W: w, H: h}
	for c := range p.V {
		p.V[c] = make([]float64, w*h)
	}
	return p
}

// Load reads one of the pictures there are, courtyard or workbench, of 640 × 360 pixels.
func Load(name string) (*Photo, error) {
	data, err := pictures.ReadFile(name + ".png")
	if err != nil {
		return nil, fmt.Errorf("there is no picture %q: %w", name, err)
	}
	im, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("the picture %s: %w", name, err)
	}
	p := NewPhoto(im.Bounds().Dx(), im.Bounds().Dy())
	for y := range p.H {
		for x := range p.W {
			r, g, b, _ := im.At(x, y).RGBA()
			for c, v := range [3]uint32{r, g, b} {
				p.V[c][y*p.W+x] = float64(v) / 65535
			}
		}
	}
	return p, nil
}

// Read reads a plane between samples, by cubics (Catmull and Rom); beyond its edges it goes on as it ends.
func (p *Photo) Read(c int, x, y float64) float64 {
	ix, iy := int(math.Floor(x)), int(math.Floor(y))
	wx, wy := cubic(x-float64(ix)), cubic(y-float64(iy))
	sum := 0.0
	for j := range 4 {
		for i := range 4 {
			sum += wy[j] * wx[i] * p.V[c][min(max(iy+j-1, 0), p.H-1)*p.W+min(max(ix+i-1, 0), p.W-1)]
		}
	}
	return sum
}

func cubic(t float64) [4]float64 {
	return [4]float64{((-0.5*t+1)*t - 0.5) * t, (1.5*t-2.5)*t*t + 1, ((-1.5*t+2)*t + 0.5) * t, (0.5*t - 0.5) * t * t}
}

// Scene is a clip of 384 × 300 pixels, its noise of one deviation in all channels and independent between them.
type Scene struct {
	// Pan is how far the camera moves from frame to frame, Thing how far a thing before it does, nil for none: pixels across and down.
	Pan   [2]float64
	Thing *[2]float64
	// Sigma is the noise's deviation in code values, Spot the Gaussian, in pixels, that it is seen through: 0 for white noise.
	Sigma, Spot float64
	Frames      int
}

// Width and Height are the size of scenes.
const Width, Height = 384, 300

// Make gives the frames with noise, and the middle one without: of a picture, and of what moves before it.
func (s Scene) Make(photo, front *Photo) (noisy []*frame.Frame, clean *frame.Frame) {
	r := rand.New(rand.NewPCG(5, uint64(1000*s.Sigma)))
	for n := range s.Frames {
		f := frame.New(Width, Height, 3)
		t := float64(n - s.Frames/2)
		for y := range Height {
			for x := range Width {
				px, py := float64(x)+128-s.Pan[0]*t, float64(y)+30-s.Pan[1]*t
				from := photo
				if s.Thing != nil { // 17.6 % of the frame
					qx, qy := float64(x)-s.Thing[0]*t, float64(y)-s.Thing[1]*t
					if qx > 110 && qx < 110+145 && qy > 80 && qy < 80+140 {
						from, px, py = front, qx+120, qy+100
					}
				}
				for c := range 3 {
					f.Row(c, y)[x] = float32(from.Read(c, px, py))
				}
			}
		}
		if n == s.Frames/2 {
			clean = f.Clone()
		}
		for c := range 3 {
			noise := Spotted(r, Width, Height, s.Spot)
			for y := range Height {
				row := f.Row(c, y)
				for x := range row {
					row[x] += float32(s.Sigma * noise[y*Width+x])
				}
			}
		}
		noisy = append(noisy, f)
	}
	return noisy, clean
}

// Spotted is white noise through a Gaussian of so many pixels, of deviation 1; its edges join.
func Spotted(r *rand.Rand, w, h int, sigma float64) []float64 {
	v := make([]float64, w*h)
	for i := range v {
		v[i] = r.NormFloat64()
	}
	if sigma == 0 {
		return v
	}
	n := int(math.Ceil(4 * sigma))
	taps, square := make([]float64, 2*n+1), 0.0
	for i := range taps {
		taps[i] = math.Exp(-float64((i-n)*(i-n)) / (2 * sigma * sigma))
		square += taps[i] * taps[i]
	}
	for i := range taps {
		taps[i] /= math.Sqrt(square)
	}
	a, b := make([]float64, w*h), make([]float64, w*h)
	for y := range h {
		for x := range w {
			for k, t := range taps {
				a[y*w+x] += t * v[y*w+(x+k-n+w)%w]
			}
		}
	}
	for y := range h {
		for k, t := range taps {
			from := (y + k - n + h) % h
			for x := range w {
				b[y*w+x] += t * a[from*w+x]
			}
		}
	}
	return b
}

// PSNR is the ratio of the whole range to what two frames differ by, in decibels.
func PSNR(a, b *frame.Frame) float64 {
	sum := 0.0
	for c := range 3 {
		for y := range a.H {
			p, q := a.Row(c, y), b.Row(c, y)
			for x := range p {
				d := float64(p[x] - q[x])
				sum += d * d
			}
		}
	}
	return -10 * math.Log10(sum/float64(3*a.W*a.H))
}
