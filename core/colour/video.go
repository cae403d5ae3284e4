package colour

import "math"

// odd extends a curve to negative values by symmetry.
func odd(f func(float64) float64, x float64) float64 {
	if x < 0 {
		return -f(-x)
	}
	return f(x)
}

// HLG: ITU-R BT.2100-2, table 5; light from 0 to 1.
var (
	hlgA = 0.17883277
	hlgB = 1 - 4*hlgA
	hlgC = 0.5 - hlgA*math.Log(4*hlgA)
)

func encodeHLG(x float64) float64 {
	return odd(func(x float64) float64 {
		if x <= 1.0/12 {
			return math.Sqrt(3 * x)
		}
		return hlgA*math.Log(12*x-hlgB) + hlgC
	}, x)
}

func decodeHLG(v float64) float64 {
	return odd(func(v float64) float64 {
		if v <= 0.5 {
			return v * v / 3
		}
		return (math.Exp((v-hlgC)/hlgA) + hlgB) / 12
	}, v)
}

// PQ: SMPTE ST 2084, section 5; light as a fraction of 10 000 cd/m².
const (
	pqM1 = 2610.0 / 16384
	pqM2 = 2523.0 / 4096 * 128
	pqC1 = 3424.0 / 4096
	pqC2 = 2413.0 / 4096 * 32
	pqC3 = 2392.0 / 4096 * 32
)

func encodePQ(x float64) float64 {
	p := math.Pow(max(x, 0), pqM1)
	return math.Pow((pqC1+pqC2*p)/(1+pqC3*p), pqM2)
}

func decodePQ(v float64) float64 {
	p := math.Pow(max(v, 0), 1/pqM2)
	return math.Pow(max(p-pqC1, 0)/(pqC2-pqC3*p), 1/pqM1)
}

// BT.709 camera curve: ITU-R BT.709-6, item 1.2. Its rounded constants leave a gap between
// codes 0.081 and 0.08125 that no light encodes to.
func encodeBT709(x float64) float64 {
	return odd(func(x float64) float64 {
		if x <= 0.018 {
			return 4.5 * x
		}
		return 1.099*math.Pow(x, 0.45) - 0.099
	}, x)
}

func decodeBT709(v float64) float64 {
	return odd(func(v float64) float64 {
		if v <= 0.081 {
			return v / 4.5
		}
		return math.Pow((v+0.099)/1.099, 1/0.45)
	}, v)
}

// BT.2020 camera curve with the constants for 12 bits: ITU-R BT.2020-2, table 4.
const btAlpha, btBeta = 1.09929682680944, 0.018053968510807

func encodeBT2020(x float64) float64 {
	return odd(func(x float64) float64 {
		if x < btBeta {
			return 4.5 * x
		}
		return btAlpha*math.Pow(x, 0.45) - (btAlpha - 1)
	}, x)
}

func decodeBT2020(v float64) float64 {
	return odd(func(v float64) float64 {
		if v < 4.5*btBeta {
			return v / 4.5
		}
		return math.Pow((v+btAlpha-1)/btAlpha, 1/0.45)
	}, v)
}

// sRGB: IEC 61966-2-1, section 5.2.
func encodeSRGB(x float64) float64 {
	return odd(func(x float64) float64 {
		if x <= 0.0031308 {
			return 12.92 * x
		}
		return 1.055*math.Pow(x, 1/2.4) - 0.055
	}, x)
}

func decodeSRGB(v float64) float64 {
	return odd(func(v float64) float64 {
		if v <= 0.04045 {
			return v / 12.92
		}
		return math.Pow((v+0.055)/1.055, 2.4)
	}, v)
}

// P3-D65: a pure power of 2.6 (SMPTE RP 431-2).
func encodeP3(x float64) float64 {
	return odd(func(x float64) float64 { return math.Pow(x, 1/2.6) }, x)
}

func decodeP3(v float64) float64 { return odd(func(v float64) float64 { return math.Pow(v, 2.6) }, v) }
