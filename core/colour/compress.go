package colour

import "math"

// The reference gamut compression published with ACES 1.3: how
// far a channel may lie from the largest, per channel, and from where on it is drawn in.
var (
	compressLimit     = [3]float64{1.147, 1.264, 1.312}
	compressThreshold = [3]float64{0.815, 0.803, 0.880}
	compressScale     [3]float64
)

const compressPower = 1.2

func init() {
	for i, l := range compressLimit {
		t := compressThreshold[i]
		compressScale[i] = (l - t) / math.Pow(math.Pow((1-t)/(l-t), -compressPower)-1, 1/compressPower)
	}
}

// NearCompressed is the share of the largest channel that the smallest must fall below for the
// compression to do anything.
const NearCompressed = 1 - 0.803

// Compress brings ACEScg colours that a camera placed outside the gamut back into it; colours well
// inside do not move, and the largest channel never does.
func Compress(c [3]float64) [3]float64 { return compress(c, false) }

// Decompress undoes Compress.
func Decompress(c [3]float64) [3]float64 { return compress(c, true) }

func compress(c [3]float64, inverse bool) [3]float64 {
	most := max(c[0], c[1], c[2])
	size := math.Abs(most)
	if size == 0 {
		return c
	}
	for i, v := range c {
		d := (most - v) / size
		t, s := compressThreshold[i], compressScale[i]
		if d < t {
			continue
		}
		p := math.Pow((d-t)/s, compressPower)
		if !inverse {
			d = t + (d-t)/math.Pow(1+p, 1/compressPower)
		} else if p < 1 {
			d = t + s*math.Pow(p/(1-p), 1/compressPower)
		} // further out there is nothing that could have come from
		c[i] = most - d*size
	}
	return c
}
