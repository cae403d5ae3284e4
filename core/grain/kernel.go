package grain

import "math"

// A48 is the area of the measuring aperture of granularity, a disc of 48 µm, in µm².
const A48 = 1809.5573684677208

// Selwyn turns a granularity (1000·σ of density through the 48 µm disc) into S = σ·√area in µm,
// for clouds of standard deviation cloud. The aperture is not quite large against a cloud, so
// the definition is corrected by η = 1 − (2/√π)·cloud/24 µm.
func Selwyn(granularity, cloud float64) float64 {
	eta := 1 - 2/math.Sqrt(math.Pi)*cloud/24
	return granularity / 1000 * math.Sqrt(A48/eta)
}

// Autocovariance is the covariance, along one axis, of pixels k apart for unit S: Gaussian
// clouds of standard deviation cloud through box pixels of the given pitch, both in µm.
func Autocovariance(pitch, cloud float64, k int) float64 {
	v := math.Sqrt2 * cloud
	p := func(x float64) float64 {
		phi := math.Exp(-x*x/(2*v*v)) / math.Sqrt(2*math.Pi)
		return x*0.5*math.Erfc(-x/v/math.Sqrt2) + v*phi
	}
	x := float64(k) * pitch
	return (p(x+pitch) - 2*p(x) + p(x-pitch)) / (pitch * pitch)
}

// Deviation is the standard deviation of density over blocks of k×k pixels, in closed form.
func Deviation(s, pitch, cloud float64, k int) float64 {
	return s * Autocovariance(pitch*float64(k), cloud, 0)
}

// taps is half of the symmetric filter, centre first, whose response to white noise of unit
// variance has the autocovariance of the pixel: the inverse transform of its spectrum's square
// root, cut where it falls below 5e-3 of the centre and rescaled to sum 1/√pitch so that large
// areas obey Selwyn's law exactly. A scan makes it softer (crisp below 0) or harder first, in proportion to pixels.
func taps(pitch, cloud, crisp float64) []float32 {
	const n = 256
	r := make([]float64, n/2)
	for k := range r {
		r[k] = Autocovariance(pitch, cloud, k)
	}
	spec := make([]float64, n)
	for f := range spec {
		s := r[0]
		for k := 1; k < n/2; k++ {
			s += 2 * r[k] * math.Cos(2*math.Pi*float64(f*k)/n)
		}
		spec[f] = math.Sqrt(max(s, 0))
		if crisp != 0 {
			spec[f] *= scanned(min(float64(f), float64(n-f))/n, crisp)
		}
	}
	var h []float64
	for k := range maxTaps {
		s := 0.0
		for f := range spec {
			s += spec[f] * math.Cos(2*math.Pi*float64(f*k)/n)
		}
		s /= n
		if k > 0 && math.Abs(s) < 5e-3*h[0] {
			break
		}
		h = append(h, s)
	}
	sum := h[0]
	for _, v := range h[1:] {
		sum += 2 * v
	}
	out := make([]float32, len(h))
	for i, v := range h {
		out[i] = float32(v / sum / math.Sqrt(pitch))
	}
	return out
}

// What a scan at its softest and at its hardest does: a spot of softSpot pixels, and sharpening by hardGain against a surround of hardReach pixels.
const softSpot, hardGain, hardReach = 0.8, 1.0, 0.8

// scanned is the transfer of a scan at a frequency in cycles a pixel.
func scanned(f, crisp float64) float64 {
	bell := func(sigma float64) float64 { return math.Exp(-2 * math.Pi * math.Pi * sigma * sigma * f * f) }
	if crisp < 0 {
		return bell(-crisp * softSpot)
	}
	return 1 + crisp*hardGain*(1-bell(hardReach))
}

// maxTaps bounds the half-width of the filter; rows of a picture carry that much padding.
const maxTaps = 30
