package vec

import (
	"math"
	"unsafe"
)

var plain = &table{
	name: "plain", matrix: plainMatrix, log2: plainLog2, exp2: plainExp2, decode: plainDecode,
	curve: plainCurve, short: plainShort, mix: plainMix, modulate: plainModulate, taps: plainTaps,
	tetra: plainTetra, average: plainAverage, halve: plainHalve, double: plainDouble, columns: plainColumns, noise: plainNoise, noiseRow: plainNoiseRow, bound: plainBound, cubic: plainCubic, oneSided: plainOneSided,
	cosine: plainCosine, cosineBack: plainCosineBack, sumEight: plainSumEight, weighEight: plainWeighEight, addSquares: plainAddSquares, addExcess: plainAddExcess, addProduct: plainAddProduct, strong: plainStrong, wiener: plainWiener,
	fromBytes: plainFromBytes, fromWords: plainFromWords, toWords: plainToWords, sum: plainSum, every2: plainEvery2, between: plainBetween,
	raise: plainRaise, affine: plainAffine, cube: plainCube, cubeRoot: plainCubeRoot, product: plainProduct, bendTone: plainBendTone, logistic: plainLogistic, fitGamut: plainFitGamut, eighthRoot: plainEighthRoot, gather: plainGather, grow: plainGrow, spans: plainSpans, toScreen: plainToScreen, turn: plainTurn, changed: plainChanged, where: plainWhere, straight: plainStraight, addBelow: plainAddBelow, clamp: plainClamp,
	turnColours: plainTurnColours, saturate: plainSaturate, fade: plainFade, guard: plainGuard, chroma: plainChroma, distance: plainDistance, within: plainWithin, slideDown: plainSlideDown, slideAcross: plainSlideAcross, slope: plainSlope, line: plainLine, limit: plainLimit, mixBy: plainMixBy, highest: plainHighest, shares: plainShares, wordsOf: plainWordsOf, numbers: plainNumbers, places: plainPlaces,
}

func rows(n int, p *float32) []float32 { return unsafe.Slice(p, n) }

func doubles(n int, p *float64) []float64 { return unsafe.Slice(p, n) }

func bytesOf(n int, p *byte) []byte { return unsafe.Slice(p, n) }

func plainMatrix(pr, pg, pb *float32, n int, m *[12]float32) {
	r, g, b := rows(n, pr), rows(n, pg), rows(n, pb)
	for i := range r {
		x, y, z := r[i], g[i], b[i]
		r[i] = m[0]*x + m[1]*y + m[2]*z + m[3]
		g[i] = m[4]*x + m[5]*y + m[6]*z + m[7]
		b[i] = m[8]*x + m[9]*y + m[10]*z + m[11]
	}
}

// log2 by range reduction to [√½, √2) and the series 2/ln2·(s + s³/3 + s⁵/5 + …), s = (m−1)/(m+1).
func log2(x float32) float32 {
	bits := int32(math.Float32bits(x))
	e := (bits - 0x3f3504f3) >> 23
	m := math.Float32frombits(uint32(bits - e<<23))
	s := (m - 1) / (m + 1)
	q := s * s
	return float32(e) + s*(l1+q*(l3+q*(l5+q*l7)))
}

const (
	l1 = 2 * math.Log2E
	l3 = l1 / 3
	l5 = l1 / 5
	l7 = l1 / 7
	// Taylor coefficients of 2^f about 0: ln2^k/k!
	e1 = math.Ln2
	e2 = e1 * math.Ln2 / 2
	e3 = e2 * math.Ln2 / 3
	e4 = e3 * math.Ln2 / 4
	e5 = e4 * math.Ln2 / 5
	e6 = e5 * math.Ln2 / 6
	// adding and taking away 1.5·2²³ rounds to the nearest integer
	round = 12582912
)

func exp2(x float32) float32 {
	x = min(max(x, -126), 127)
	k := (x + round) - round
	f := x - k
	y := 1 + f*(e1+f*(e2+f*(e3+f*(e4+f*(e5+f*e6)))))
	return math.Float32frombits(math.Float32bits(y) + uint32(int32(k)<<23))
}

func plainLog2(pd, ps *float32, n int, floor float32) {
	d, s := rows(n, pd), rows(n, ps)
	for i, x := range s {
		d[i] = log2(max(x, floor))
	}
}

func plainExp2(pd, ps *float32, n int) {
	d, s := rows(n, pd), rows(n, ps)
	for i, x := range s {
		d[i] = exp2(x)
	}
}

func plainDecode(pd, ps *float32, n int, p *Log) {
	d, s := rows(n, pd), rows(n, ps)
	for i, x := range s {
		if x < p.Cut {
			d[i] = p.A*x + p.B
		} else {
			d[i] = p.C*exp2(p.D*x+p.E) + p.F
		}
	}
}

func plainCurve(pd, ps *float32, n int, c *Curve) {
	d, s := rows(n, pd), rows(n, ps)
	for i, x := range s {
		d[i] = c.At(x)
	}
}

func plainShort(pd, ps *float32, n int, c *Short) {
	d, s := rows(n, pd), rows(n, ps)
	for i, x := range s {
		d[i] = c.At(x)
	}
}

func plainMix(pd, pa, pb *float32, n int, ka, kb float32) {
	d, a, b := rows(n, pd), rows(n, pa), rows(n, pb)
	for i := range d {
		d[i] = ka*a[i] + kb*b[i]
	}
}

func plainModulate(pd, pa, pb *float32, n int, ka, kb float32, c *Short) {
	d, a, b := rows(n, pd), rows(n, pa), rows(n, pb)
	for i, x := range d {
		at := x
		if x != x {
			at = c.Lo
		}
		d[i] = x + c.within(min(max(at, c.Lo), c.Hi))*(ka*a[i]+kb*b[i])
	}
}

func plainAverage(pd, pa, pb *float32, n int, k *[4]float32, pc, pe *float32) {
	d, a, b, c, e := rows(n, pd), rows(n, pa), rows(n, pb), rows(n, pc), rows(n, pe)
	for i := range d {
		d[i] = k[0]*a[i] + k[1]*b[i] + k[2]*c[i] + k[3]*e[i]
	}
}

func plainTetra(pr, pg, pb *float32, n int, t *Table3) {
	r, g, b := rows(n, pr), rows(n, pg), rows(n, pb)
	for i := range r {
		r[i], g[i], b[i] = t.At(r[i], g[i], b[i])
	}
}

func plainBound(p *float32, n int, limit float32) {
	row := rows(n, p)
	for i, v := range row {
		switch {
		case v != v:
			row[i] = 0
		case v > limit:
			row[i] = limit
		case v < -limit:
			row[i] = -limit
		}
	}
}

func plainOneSided(pa, pb, pfa, pfb *float32, n int, ka, kb float32, c *Short) {
	a, b, fa, fb := rows(n, pa), rows(n, pb), rows(n, pfa), rows(n, pfb)
	for i := range a {
		d := fb[i] - fa[i]
		switch {
		case d > 0:
			a[i] += ka * c.within(min(max(d, c.Lo), c.Hi))
		case d < 0:
			b[i] += kb * c.within(min(max(-d, c.Lo), c.Hi))
		}
	}
}
