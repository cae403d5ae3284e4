package vec

import (
	"encoding/binary"
	"unsafe"
)

// Samples of a file and whole codes of one: unsigned little-endian numbers of one or two bytes.

// FromBytes sets dst = k·src + o for samples of one byte, as many as dst has.
func FromBytes(dst []float32, src []byte, k, o float32) {
	n := len(dst) &^ 15
	if n > 0 {
		active.fromBytes(&dst[0], &src[:n][0], n, k, o)
	}
	if n < len(dst) { // the last vector from a copy: nothing is read beyond src
		var rest [16]byte
		copy(rest[:], src[n:len(dst)])
		active.fromBytes(&dst[n : n+16][0], &rest[0], 16, k, o)
	}
}

// FromWords is FromBytes for samples of two bytes.
func FromWords(dst []float32, src []byte, k, o float32) {
	n := len(dst) &^ 15
	if n > 0 {
		active.fromWords(&dst[0], &src[:2*n][0], n, k, o)
	}
	if n < len(dst) {
		var rest [32]byte
		copy(rest[:], src[2*n:2*len(dst)])
		active.fromWords(&dst[n : n+16][0], &rest[0], 16, k, o)
	}
}

// Shares sets dst to samples of two bytes, the lower first, as shares of top: quotients to the last bit.
func Shares(dst []float32, src []byte, top float32) {
	n := len(dst) &^ 15
	if n > 0 {
		active.shares(&dst[0], &src[:2*n][0], n, top)
	}
	if n < len(dst) {
		var rest [32]byte
		copy(rest[:], src[2*n:2*len(dst)])
		active.shares(&dst[n : n+16][0], &rest[0], 16, top)
	}
}

// Numbers sets dst to the whole numbers of which src are shares of top, and tells whether all of them are, to the bit, of 0 to top. It takes
// whole vectors: len(dst) is a multiple of 16.
func Numbers(dst []int32, src []float32, top float32) bool {
	n := len(dst) &^ 15
	if n == 0 {
		return true
	}
	return active.numbers(&dst[0], &src[:n][0], n, top)
}

// Places sets at to the whole part of top·src, held to 0…top − 1, and part to what is left of it. It takes whole vectors: len(at) is a
// multiple of 16.
func Places(at []int32, part, src []float32, top float32) {
	n := len(at) &^ 15
	if n == 0 {
		return
	}
	active.places(&at[0], &part[:n][0], &src[:n][0], n, top)
}

// WordsOf sets dst to the words of one channel, the p-th of n up to 4 that alternate in src; the lower byte comes first in dst, and in
// src unless they are big. It takes as many as dst has room for.
func WordsOf(dst, src []byte, n, p int, big bool) {
	count := len(dst) / 2
	whole := count &^ 7
	if whole > 0 {
		// where the bytes of eight words lie in as many vectors as there are channels; 128 is elsewhere
		var from [4][16]int8
		for i := range 16 {
			at := (i/2*n+p)*2 + i%2
			if big {
				at ^= 1
			}
			for k := range from {
				from[k][i] = -128
			}
			from[at/16][i] = int8(at % 16)
		}
		_ = src[:2*n*whole]
		active.wordsOf(&dst[0], &src[0], whole, n, &from)
	}
	for x := whole; x < count; x++ {
		a, b := src[2*(x*n+p)], src[2*(x*n+p)+1]
		if big {
			a, b = b, a
		}
		dst[2*x], dst[2*x+1] = a, b
	}
}

// Cell is the edge of a mask of thresholds, and Ranks how many of them there are.
const (
	Cell  = 64
	Ranks = Cell * Cell
)

// Thresholds are what is added to a row of codes before they are cut to whole numbers: First + Unit·((rank + turn) mod Ranks). Ranks is a row
// of a mask, one for each column of a cell; Turns has a turn for each cell of the row, eight times over, so that it is loaded as a vector.
type Thresholds struct {
	Ranks       *[Cell]int32
	Turns       [][8]int32
	First, Unit float32
}

// ToWords sets dst to whole codes of two bytes: src held to lo…hi, the threshold added, cut to whole numbers. What is no number is lo.
// dst takes 2·len(src) bytes and is not written beyond.
func ToWords(dst []byte, src []float32, t *Thresholds, lo, hi float32) {
	n := len(src) &^ 15
	_ = t.Turns[:(len(src)+Cell-1)/Cell]
	if n > 0 {
		active.toWords(&dst[:2*n][0], &src[0], n, t, 0, lo, hi)
	}
	if n < len(src) {
		var rest [32]byte
		active.toWords(&rest[0], &src[n : n+16][0], 16, t, n, lo, hi)
		copy(dst[2*n:2*len(src)], rest[:])
	}
}

// ToScreen sets dst to pixels of four bytes, red, green, blue, 255: r, g, b from 0 to 1, rounded; what is no number is 0. dst takes 4·len(r) bytes
// and is not written beyond.
func ToScreen(dst []byte, r, g, b []float32) {
	n := len(r) &^ 7
	if n > 0 {
		active.toScreen(&dst[:4*n][0], &r[0], &g[:n][0], &b[:n][0], n)
	}
	if n < len(r) { // the last vector by way of a copy
		var rest [32]byte
		active.toScreen(&rest[0], &r[n : n+8][0], &g[n : n+8][0], &b[n : n+8][0], 8)
		copy(dst[4*n:4*len(r)], rest[:])
	}
}

// Sum sets dst = k₀·a + k₁·b + k₂·c + k₃.
func Sum(dst, a, b, c []float32, k *[4]float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a, b, c = dst[:n], a[:n], b[:n], c[:n]
	active.sum(&dst[0], &a[0], &b[0], &c[0], n, k)
}

// Every2 sets dst[x] = (s[2x−1] + 2·s[2x] + s[2x+1])/4, where src[1+x] is sample x: one sample stands before the row. src must hold
// 2·len(dst)+34 samples.
func Every2(dst, src []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:2*n+2]
	active.every2(&dst[0], &src[0], n)
}

// Between sets dst[2x] = s[x], dst[2x+1] = (s[x] + s[x+1])/2. src must hold len(dst)/2+17 samples.
func Between(dst, src []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n/2+1]
	active.between(&dst[0], &src[0], n)
}

func plainFromBytes(pd *float32, ps *byte, n int, k, o float32) {
	d, s := rows(n, pd), bytesOf(n, ps)
	for i, v := range s {
		d[i] = float32(v)*k + o
	}
}

func plainFromWords(pd *float32, ps *byte, n int, k, o float32) {
	d, s := rows(n, pd), bytesOf(2*n, ps)
	for i := range d {
		d[i] = float32(binary.LittleEndian.Uint16(s[2*i:]))*k + o
	}
}

func plainToWords(pd *byte, ps *float32, n int, t *Thresholds, from int, lo, hi float32) {
	d, s := bytesOf(2*n, pd), rows(n, ps)
	for i, v := range s {
		if !(v > lo) {
			v = lo
		}
		x := from + i
		r := (t.Ranks[x%Cell] + t.Turns[x/Cell][0]) % Ranks
		binary.LittleEndian.PutUint16(d[2*i:], uint16(min(v, hi)+(float32(r)*t.Unit+t.First)))
	}
}

func plainSum(pd, pa, pb, pc *float32, n int, k *[4]float32) {
	d, a, b, c := rows(n, pd), rows(n, pa), rows(n, pb), rows(n, pc)
	for i := range d {
		d[i] = k[0]*a[i] + k[1]*b[i] + k[2]*c[i] + k[3]
	}
}

func plainEvery2(pd, ps *float32, n int) {
	d, s := rows(n, pd), rows(2*n+2, ps)
	for x := range d {
		d[x] = 0.25*(s[2*x]+s[2*x+2]) + 0.5*s[2*x+1]
	}
}

func plainBetween(pd, ps *float32, n int) {
	d, s := rows(n, pd), rows(n/2+1, ps)
	for x := 0; x < n; x += 2 {
		d[x], d[x+1] = s[x/2], 0.5*(s[x/2]+s[x/2+1])
	}
}

func plainToScreen(pd *byte, pr, pg, pb *float32, n int) {
	d, r, g, b := bytesOf(4*n, pd), rows(n, pr), rows(n, pg), rows(n, pb)
	code := func(v float32) byte {
		if !(v > 0) {
			return 0
		}
		return byte(min(v, 1)*255 + 0.5)
	}
	for x := range r {
		d[4*x], d[4*x+1], d[4*x+2], d[4*x+3] = code(r[x]), code(g[x]), code(b[x]), 255
	}
}

func plainShares(pd *float32, ps *byte, n int, top float32) {
	d, s := rows(n, pd), bytesOf(2*n, ps)
	for i := range d {
		d[i] = float32(uint16(s[2*i])|uint16(s[2*i+1])<<8) / top
	}
}

func plainWordsOf(pd, ps *byte, count, n int, from *[4][16]int8) {
	d, s := bytesOf(2*count, pd), bytesOf(2*n*count, ps)
	for x := 0; x < len(d); x += 16 {
		for i := range 16 {
			for k := range n {
				if at := from[k][i]; at >= 0 {
					d[x+i] = s[x*n+16*k+int(at)]
				}
			}
		}
	}
}

func plainNumbers(pd *int32, ps *float32, n int, top float32) bool {
	all := true
	for i, v := range rows(n, ps) {
		k := int32(v*top + 0.5)
		unsafe.Slice(pd, n)[i] = k
		all = all && k >= 0 && float32(k) <= top && float32(k)/top == v
	}
	return all
}

func plainPlaces(pa *int32, pp, ps *float32, n int, top float32) {
	at, part := unsafe.Slice(pa, n), rows(n, pp)
	for i, v := range rows(n, ps) {
		v *= top
		k := int32(min(max(v, 0), top-1))
		if v != v {
			k = 0
		}
		at[i], part[i] = k, v-float32(k)
	}
}
